"""The degree of cure from a temperature log, and when it is full."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import inf, isinf

from tinknot.core.errors import InputError
from tinknot.core.formulas.timelaw import TimeLaw
from tinknot.core.tolerance import at_least

FULL = 1 - 1e-9


@dataclass(frozen=True)
class LogEntry:
    """A temperature reading: minutes on the log's clock, °C."""

    at_min: float
    temperature_c: float


@dataclass(frozen=True)
class Cure:
    """The degree of cure at the log's end, 0 to 1; when it is full on the log's clock and from the
    log's end, min, the last temperature held on; None where it never gets there."""

    fraction: float
    full_at_min: float | None
    remaining_min: float | None


@dataclass(frozen=True)
class CureClock:
    """A resin's cure: its law and the temperature in °C below which nothing counts."""

    law: TimeLaw
    least_temperature_c: float

    def rate(self, temperature_c: float) -> float:
        """Degree of cure gained in a minute, 1/min; 0 below the least temperature."""
        if not at_least(temperature_c, self.least_temperature_c):
            return 0.0
        minutes = self.law.cure_min(temperature_c)
        return 0.0 if isinf(minutes) else 1 / minutes

    def degree(self, log: Sequence[LogEntry], goal: float = 1.0) -> Cure:
        """α = ∫ dt/t_cure(T(t)) over the log, T linear between readings, nothing below the least
        temperature; `goal` is the degree waited for (1: full). Relative error under 0.1 %.

        Raises InputError when the log is empty or its clock does not rise.
        """
        _check(log)
        done, reached = 0.0, None
        for piece in _pieces(log, (*self.law.kinks_c(), self.least_temperature_c)):
            gained = self._gain(*piece, piece[1].at_min)
            if reached is None and done + gained >= goal * FULL:
                reached = self._crossing(*piece, goal - done)
            done += gained
        last = log[-1]
        if reached is not None:
            return Cure(min(1.0, done), reached, 0.0)
        rate = self.rate(last.temperature_c)
        left = (goal - done) / rate if rate else inf
        return Cure(done, *((None, None) if isinf(left) else (last.at_min + left, left)))

    def _gain(self, a: LogEntry, b: LogEntry, until_min: float) -> float:
        """Cure gained from a to `until_min` on the straight line from a to b, smooth inside."""
        middle = (a.temperature_c + b.temperature_c) / 2
        if not at_least(middle, self.least_temperature_c):
            return 0.0
        slope = (b.temperature_c - a.temperature_c) / (b.at_min - a.at_min)

        def rate(t: float) -> float:
            minutes = self.law.cure_min(a.temperature_c + slope * (t - a.at_min))
            return 0.0 if isinf(minutes) else 1 / minutes

        if slope == 0:
            return rate(a.at_min) * (until_min - a.at_min)
        from scipy.integrate import quad  # SciPy takes a second to load, and only sloped logs need it

        return float(quad(rate, a.at_min, until_min, epsabs=0, epsrel=1e-7, limit=200)[0])

    def _crossing(self, a: LogEntry, b: LogEntry, wanted: float) -> float:
        """The minute at which `wanted` is gained on the way from a to b."""
        short = self._gain(a, b, b.at_min) - wanted
        if short <= 0 or wanted <= 0:
            return a.at_min if wanted <= 0 else b.at_min
        from scipy.optimize import brentq

        return float(brentq(lambda t: self._gain(a, b, t) - wanted, a.at_min, b.at_min, rtol=1e-9))


def _check(log: Sequence[LogEntry]) -> None:
    if not log:
        raise InputError.at("/log", "needs at least one reading")
    for i, (a, b) in enumerate(pairwise(log), 1):
        if b.at_min <= a.at_min:
            raise InputError.at(f"/log/{i}/at_min", "must rise from reading to reading")


def _pieces(log: Sequence[LogEntry], kinks_c: Sequence[float]) -> Iterator[tuple[LogEntry, LogEntry]]:
    """The log cut where its temperature passes one of `kinks_c`."""
    for a, b in pairwise(log):
        rise = b.temperature_c - a.temperature_c
        inside = sorted((k - a.temperature_c) / rise for k in kinks_c if rise) if rise else []
        stops = [0.0, *(t for t in inside if 1e-12 < t < 1 - 1e-12), 1.0]
        at = [LogEntry(a.at_min + t * (b.at_min - a.at_min), a.temperature_c + t * rise) for t in stops]
        yield from ((p, q) for p, q in pairwise(at) if q.at_min > p.at_min)
