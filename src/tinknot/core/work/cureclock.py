"""The cure clock: readings of a joint's temperature folded to when it may be handled and energised."""

from collections.abc import Sequence
from datetime import datetime, timedelta

from tinknot.core.formulas.curing import CureClock, LogEntry
from tinknot.core.formulas.timelaw import TimeLaw, TimePoint
from tinknot.core.model import Result
from tinknot.core.plan.steps import CureLaw

Readings = Sequence[tuple[datetime, float]]


class Warmth(Result):
    """A temperature noted, °C, and when."""

    at: str
    temperature_c: float


class CureState(Result):
    """A cure that runs. `fraction` is the degree of cure at the last reading, `at`; from there on it rises
    evenly to full at `full_at` when the last temperature holds; null where it never gets there."""

    step: str
    since: str
    at: str
    fraction: float
    temperature_c: float
    handle: float
    handle_at: str | None
    full_at: str | None
    readings: list[Warmth]

    def share_at(self, moment: str) -> float:
        """The degree of cure at a moment (ISO 8601), the last temperature held on, 0 to 1."""
        if self.full_at is None or self.fraction >= 1:
            return min(1.0, self.fraction)
        begun, full, now = (datetime.fromisoformat(t) for t in (self.at, self.full_at, moment))
        share = (now - begun).total_seconds() / max(1.0, (full - begun).total_seconds())
        return min(1.0, self.fraction + (1 - self.fraction) * max(0.0, share))


def clock_of(cure: CureLaw) -> CureClock:
    """The resin's law."""
    return CureClock(TimeLaw(tuple(TimePoint(t, m) for t, m in cure.points)), cure.least_c)


def cure_state(step: str, cure: CureLaw, poured: datetime, readings: Readings, ambient_c: float) -> CureState:
    """The clock from the pour on, min.

    Until the first reading it was as cold as that reading or as the place was planned with, whichever is
    colder; between readings the temperature is linear, after the last it holds.
    """
    later = sorted((at, t) for at, t in readings if at > poured)
    first = min([ambient_c, *(t for _, t in later[:1])])
    log = [LogEntry(0.0, first)]
    for at, t in later:
        minutes = (at - poured).total_seconds() / 60
        if minutes > log[-1].at_min:
            log.append(LogEntry(minutes, t))
    clock = clock_of(cure)
    full, handle = clock.degree(log, cure.full), clock.degree(log, cure.handle)

    def moment(minutes: float | None) -> str | None:
        if minutes is None or minutes > 1e6:
            return None
        return (poured + timedelta(minutes=minutes)).isoformat(timespec="seconds")

    return CureState(
        step=step,
        since=poured.isoformat(),
        at=(poured + timedelta(minutes=log[-1].at_min)).isoformat(timespec="seconds"),
        fraction=full.fraction,
        temperature_c=log[-1].temperature_c,
        handle=cure.handle,
        handle_at=moment(handle.full_at_min),
        full_at=moment(full.full_at_min),
        readings=[Warmth(at=at.isoformat(timespec="seconds"), temperature_c=t) for at, t in later],
    )


def not_cured(state: CureState, at: datetime) -> str:
    """Why it may not be tested or energised at `at`; empty when it may."""
    if state.full_at and at >= datetime.fromisoformat(state.full_at) - timedelta(seconds=1):
        return ""
    if state.full_at is None:
        return (
            f"It does not cure at {state.temperature_c:g} °C: warm and shelter it, and note its temperature"
        )
    left = (datetime.fromisoformat(state.full_at) - at).total_seconds() / 60
    words = f"{left / 60:.1f} h" if left >= 90 else f"{left:.0f} min"
    return (
        f"Not cured yet: {words} more at {state.temperature_c:g} °C. Test and energise only when it is full"
    )
