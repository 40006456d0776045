"""Time comes in here, so that the demo can live through days that are past."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime


def _machine() -> datetime:
    return datetime.now(UTC)


_source: Callable[[], datetime] = _machine


def now() -> datetime:
    """The moment, UTC, to the millisecond."""
    return _source()


def now_text() -> str:
    """The moment as ISO 8601 in UTC."""
    return now().isoformat(timespec="milliseconds")


@contextmanager
def telling(source: Callable[[], datetime]) -> Iterator[None]:
    """Until it is left, time is what `source` says. For one thread alone: the demo fills a new database
    with it."""
    global _source
    before, _source = _source, source
    try:
        yield
    finally:
        _source = before
