"""The clock of tests that work at joints: it stands still until it is moved."""

from datetime import UTC, datetime, timedelta


class Clock:
    """A clock that a test moves."""

    def __init__(self) -> None:
        self.moment = datetime(2026, 2, 3, 8, tzinfo=UTC)

    def __call__(self) -> datetime:
        return self.moment

    def on(self, **lapse: float) -> datetime:
        """Later by hours, minutes or seconds; returns the new moment."""
        self.moment += timedelta(**lapse)
        return self.moment


CLOCK = Clock()
