"""How long a resin takes at a temperature, from its data points: gel, pot life, cure."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import exp, inf, log

from tinknot.core.errors import InputError

KELVIN = 273.15
DOUBLING_C = 10.0  # time doubles for each 10 °C colder where there is no second point
APART_C = 1e-6  # closer data points are one: their kelvins would not differ
_MOST_LN = 690.0  # exp() of more is no time anybody waits for


@dataclass(frozen=True)
class TimePoint:
    """One line of a data sheet: at `temperature_c` (°C) it takes `minutes` (min)."""

    temperature_c: float
    minutes: float


def _exp(ln_minutes: float) -> float:
    return inf if ln_minutes > _MOST_LN else exp(ln_minutes)


@dataclass(frozen=True)
class TimeLaw:
    """Time as a function of temperature; points sorted by temperature, at least one.

    Between neighbouring points ln t is linear in 1/T (kelvin), Arrhenius' law. Beyond them and
    with one point the cautious law holds: see `cure_min` and `pot_life_min`.
    Source: Arrhenius; the doubling per 10 °C is the rule of thumb of van 't Hoff.
    """

    points: tuple[TimePoint, ...]

    @classmethod
    def of(cls, points: Sequence[TimePoint]) -> "TimeLaw":
        """From points in any order. Raises InputError for two at one temperature, or a hotter one
        that is slower."""
        order = sorted(range(len(points)), key=lambda i: points[i].temperature_c)
        for i, j in pairwise(order):
            if points[j].temperature_c - points[i].temperature_c < APART_C:
                raise InputError.at(f"/points/{j}/temperature_c", "stands twice; give each temperature once")
            if points[j].minutes > points[i].minutes * (1 + 1e-9):
                raise InputError.at(
                    f"/points/{j}/minutes",
                    f"is more than at {points[i].temperature_c:g} °C; hotter must not be slower",
                )
        return cls(tuple(points[i] for i in order))

    def _line(self, a: TimePoint, b: TimePoint, temperature_c: float) -> float:
        """Arrhenius through two points, also beyond them."""
        x, y = 1 / (a.temperature_c + KELVIN), 1 / (b.temperature_c + KELVIN)
        t = (1 / (temperature_c + KELVIN) - x) / (y - x)
        return _exp(log(a.minutes) + t * (log(b.minutes) - log(a.minutes)))

    def _doubled(self, point: TimePoint, temperature_c: float) -> float:
        return point.minutes * _exp(log(2) * (point.temperature_c - temperature_c) / DOUBLING_C)

    def _between(self, temperature_c: float) -> float:
        for a, b in pairwise(self.points):
            if temperature_c <= b.temperature_c:
                return self._line(a, b, temperature_c)
        return self.points[-1].minutes

    def cure_min(self, temperature_c: float) -> float:
        """Minutes to full cure at a steady temperature in °C, never told too short.

        Colder than the coldest point: the longer of the continued line and the doubling per 10 °C;
        hotter than the hottest: the time at the hottest. May be infinite.

        >>> TimeLaw((TimePoint(20, 120),)).cure_min(0)
        480.0
        """
        coldest = self.points[0]
        if temperature_c >= coldest.temperature_c:
            return self._between(temperature_c)
        slow = self._doubled(coldest, temperature_c)
        return (
            max(slow, self._line(self.points[0], self.points[1], temperature_c))
            if len(self.points) > 1
            else slow
        )

    def pot_life_min(self, temperature_c: float) -> float:
        """Minutes of pot life at the temperature of the mixed resin in °C, never told too long.

        Beyond the points, on either side, the shorter of the continued line and the doubling
        (halving) per 10 °C from the nearest point; with one point the doubling alone.

        >>> TimeLaw((TimePoint(20, 30),)).pot_life_min(30)
        15.0
        """
        first, last = self.points[0], self.points[-1]
        if first.temperature_c <= temperature_c <= last.temperature_c:
            return self._between(temperature_c)
        cold = temperature_c < first.temperature_c
        doubled = self._doubled(first if cold else last, temperature_c)
        if len(self.points) == 1:
            return doubled
        a, b = self.points[:2] if cold else self.points[-2:]
        return min(doubled, self._line(a, b, temperature_c))

    def kinks_c(self) -> tuple[float, ...]:
        """Temperatures at which `cure_min` is not smooth: the data points."""
        return tuple(p.temperature_c for p in self.points)


ROOM_C = 20.0


def kept_days(at_room_days: float, stored_c: float) -> float:
    """How many days something lasts that is stored at `stored_c` °C and lasts `at_room_days` at 20 °C, never
    told too long: twice as long for every 10 °C colder.

    >>> kept_days(30, 5) > 2.8 * 30
    True
    """
    law = TimeLaw((TimePoint(ROOM_C, at_room_days * 1440),))
    return law.pot_life_min(stored_c) / 1440


@dataclass(frozen=True)
class PourWindow:
    """Pot life and what is left of it after mixing, min; `refused` when mixing takes all of it."""

    pot_life_min: float
    pour_window_min: float
    refused: bool


def pour_window(law: TimeLaw, temperature_c: float, mix_min: float) -> PourWindow:
    """What is left to pour after `mix_min` minutes of mixing at the resin's temperature in °C."""
    life = law.pot_life_min(temperature_c)
    left = max(0.0, life - mix_min)
    return PourWindow(life, left, left <= life * 1e-9)
