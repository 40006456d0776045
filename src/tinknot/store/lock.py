"""One server, or one restore, at a time on a data folder."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from filelock import FileLock, Timeout

from tinknot.store.faults import StoreFault, told

NAME = "lock"


class InUse(StoreFault):
    """Another process holds the folder."""

    title = "The data folder is in use"


@contextmanager
def holding(folder: Path) -> Iterator[None]:
    """Hold `folder` until it is left or the process ends, however it ends. Raises InUse while another
    does."""
    with told():
        lock = FileLock(folder / NAME, timeout=0, mode=0o600)
        try:
            lock.acquire()
        except Timeout:
            raise InUse(
                f"Another Tin Knot is running on {folder}. Stop it first, or name another folder with --data."
            ) from None
    try:
        yield
    finally:
        lock.release()
