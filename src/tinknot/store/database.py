"""Opening the database: WAL, foreign keys, durable commits, migrations; a newer file is refused untouched."""

import errno
import os
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, closing, contextmanager
from pathlib import Path

from peewee import SqliteDatabase
from playhouse.migrations import Runner

from tinknot.store.faults import NewerDatabase, told

MIGRATIONS = Path(__file__).parent / "migrations"
PRAGMAS = {
    "journal_mode": "wal",
    "synchronous": 2,
    "foreign_keys": 1,
    "busy_timeout": 5000,
    "cache_size": -16000,
    "secure_delete": 1,  # a key or a password that is taken out leaves no bytes behind
}

db = SqliteDatabase(None)  # bound to a file by open_database; models name it


def open_database(path: Path | str, before_upgrade: Callable[[set[str]], None] | None = None) -> None:
    """Bind to `path`, create or upgrade it; only its owner may read it. `before_upgrade` is given the
    migrations that had run on one that was there, before those it lacks do. Raises NewerDatabase when a newer
    version wrote it, without touching a byte of it, and StoreFault where the folder cannot be used."""
    path = Path(path)
    if not db.is_closed():
        db.close()
    with told():
        if not os.access(path.parent, os.W_OK):
            raise PermissionError(errno.EACCES, "read-only", str(path.parent))
        before: set[str] = set()
        if path.exists():
            before = refuse_newer(path)
        else:
            os.close(os.open(path, os.O_CREAT | os.O_WRONLY, 0o600))
        for file in (path, path.with_name(path.name + "-wal"), path.with_name(path.name + "-shm")):
            if file.exists() and file.stat().st_mode & 0o077:
                file.chmod(0o600)
        db.init(str(path), pragmas=PRAGMAS)
        db.connect()
        if before and before_upgrade:
            before_upgrade(before)
        upgrade(db)


def upgrade(database: SqliteDatabase) -> None:
    """Run the migrations a database still lacks."""
    Runner(database, str(MIGRATIONS)).up()


def known_migrations() -> set[str]:
    """The names of all migrations this version has."""
    return {p.stem for p in MIGRATIONS.glob("[0-9]*.py")}


def refuse_newer(path: Path) -> set[str]:
    """The migrations that ran on `path`; raises NewerDatabase for one that this version does not know. It is
    read without a write: SQLite keeps off the file, its log is read but not folded in, and what reading laid
    beside it goes."""
    beside = [path.with_name(path.name + suffix) for suffix in ("-wal", "-shm")]
    made_by_reading = [file for file in beside if not file.exists()]
    with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as reading:
        try:
            ran = {name for (name,) in reading.execute("SELECT name FROM schema_migration")}
        except sqlite3.OperationalError as error:
            if "no such table" not in str(error):
                raise
            ran = set()
    ahead = sorted(ran - known_migrations())
    if ahead:
        for file in made_by_reading:
            file.unlink(missing_ok=True)
        raise NewerDatabase(
            f"This database was written by a newer Tin Knot ({ahead[-1]}). Upgrade the application; nothing"
            " was changed."
        )
    return ran


@contextmanager
def _transaction(lock: str) -> Iterator[None]:
    with told():
        db.connect(reuse_if_open=True)
        with db.atomic(lock):
            yield


def writing() -> AbstractContextManager[None]:
    """One writer at a time; all of it or nothing. Inside another it is part of that one."""
    return _transaction("IMMEDIATE")


def reading() -> AbstractContextManager[None]:
    """All that is read inside is of one moment, whatever is written beside. Inside another transaction it is
    part of that one; nothing is written inside."""
    return _transaction("DEFERRED")


def fold_log() -> None:
    """Fold the log into the file now, so that what was taken out is gone from both."""
    db.execute_sql("PRAGMA wal_checkpoint(TRUNCATE)")


def close() -> None:
    """This thread's connection is closed; the last one folds the log into the file."""
    if not db.is_closed():
        db.close()
