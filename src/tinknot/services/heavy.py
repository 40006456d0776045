"""Questions that may take much work: few at once, of one person fewer, each bounded, so that the rest of the
site stays quick meanwhile."""

from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from threading import Condition

from tinknot.core import effort
from tinknot.core.errors import TinKnotError

MOST_WORK = 2_000_000  # units of a request (see core/effort): 10 to 20 s of a processor
MOST_RUNNING = 2  # at once; the other threads of the server are for everybody else
MOST_OF_ONE = 2  # of one person, running and waiting
MOST_WAITING = 2  # of all: whoever waits holds a thread
WAIT_S = 20.0


class TooMany(TinKnotError):
    """Enough is being worked out already."""

    title = "Enough at once"


_turns = Condition()
_running = 0
_of: Counter[str] = Counter()


@contextmanager
def turn(who: str) -> Iterator[None]:
    """Wait for a turn and work with a bound. Raises TooMany where this person has enough under way, or the
    line is too long."""
    global _running
    with _turns:
        if _of[who] >= MOST_OF_ONE:
            raise TooMany("Two of your questions are being worked out already; wait for one of them.")
        if sum(_of.values()) >= MOST_RUNNING + MOST_WAITING:
            raise TooMany("Others are having plans worked out just now; try again in a moment.")
        _of[who] += 1
        try:
            if not _turns.wait_for(lambda: _running < MOST_RUNNING, WAIT_S):
                raise TooMany("Others are having plans worked out just now; try again in a moment.")
            _running += 1
        except BaseException:
            _left(who)
            raise
    try:
        with effort.at_most(MOST_WORK):
            yield
    finally:
        with _turns:
            _running -= 1
            _left(who)
            _turns.notify()


def _left(who: str) -> None:
    _of[who] -= 1
    if not _of[who]:
        del _of[who]
