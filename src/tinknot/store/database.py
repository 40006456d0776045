"""Opening the database: WAL, foreign keys, durable commits, migrations; a newer file is refused."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from peewee import SqliteDatabase
from playhouse.migrations import Runner

from tinknot.core.errors import TinKnotError

MIGRATIONS = Path(__file__).parent / "migrations"

db = SqliteDatabase(None)  # bound to a file by open_database; models name it


class NewerDatabase(TinKnotError):
    """The file was written by a newer version of the application."""


def open_database(path: Path | str) -> None:
    """Bind to `path`, create or upgrade it. Raises NewerDatabase when a newer version wrote it."""
    if not db.is_closed():
        db.close()
    db.init(
        str(path),
        pragmas={
            "journal_mode": "wal",
            "synchronous": 2,
            "foreign_keys": 1,
            "busy_timeout": 5000,
            "cache_size": -16000,
        },
    )
    db.connect()
    runner = Runner(db, str(MIGRATIONS))
    known = {m.name for m in runner.migrations()}
    ahead = sorted(set(runner.applied()) - known)
    if ahead:
        db.close()
        raise NewerDatabase(
            f"This database was written by a newer Tin Knot ({ahead[-1]}). Upgrade the application; nothing was changed."
        )
    runner.up()


@contextmanager
def connected() -> Iterator[None]:
    """This thread's connection, opened once and kept."""
    db.connect(reuse_if_open=True)
    yield


@contextmanager
def writing() -> Iterator[None]:
    """One writer at a time; all of it or nothing."""
    db.connect(reuse_if_open=True)
    with db.atomic("IMMEDIATE"):
        yield


def vacuum_into(target: Path) -> None:
    """A consistent snapshot of the running database in a new file."""
    db.connect(reuse_if_open=True)
    db.execute_sql("VACUUM INTO ?", (str(target),))
