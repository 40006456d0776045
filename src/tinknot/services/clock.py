"""Time comes in here, so that tests can set it."""

from datetime import UTC, date, datetime


def now() -> datetime:
    """The moment, UTC, to the millisecond."""
    return datetime.now(UTC)


def now_text() -> str:
    """The moment as ISO 8601 in UTC."""
    return now().isoformat(timespec="milliseconds")


def today() -> date:
    """The day, UTC."""
    return now().date()
