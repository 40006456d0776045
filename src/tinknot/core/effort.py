"""How much work a question may cost. Searches count what they do, not the clock, so that the same question
takes the same count on every machine (what was worked out before, and is still at hand, costs nothing);
whoever asks for somebody else bounds it."""

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from tinknot.core.errors import TooMuchWork

GRACE = 300_000  # to tell what was found until the bound was reached


class _Meter:
    def __init__(self, units: int) -> None:
        self.left, self.reached = units, False


_meter: ContextVar[_Meter | None] = ContextVar("effort", default=None)


def spend(units: int = 1) -> None:
    """Count work of about `units` sleeves judged (some 5 µs each). Raises TooMuchWork when the bound is
    reached; without a bound nothing is counted."""
    meter = _meter.get()
    if meter is None:
        return
    meter.left -= units
    if meter.left < 0:
        raise TooMuchWork(
            "This asks for more work than one request may take: too many parts, cores or ways at once."
            " Take parts out"
            " of the stock that cannot serve it, or choose some by hand."
        )


def stop_here() -> None:
    """The bound was reached in a search whose results so far are good: what is left to do is to tell them."""
    meter = _meter.get()
    if meter is not None:
        meter.left, meter.reached = GRACE, True


def was_reached() -> bool:
    """Whether a search was stopped by the bound, so that there may be more than was found."""
    meter = _meter.get()
    return meter is not None and meter.reached


@contextmanager
def at_most(units: int) -> Iterator[None]:
    """What is worked out inside may cost no more than `units`."""
    token = _meter.set(_Meter(units))
    try:
        yield
    finally:
        _meter.reset(token)
