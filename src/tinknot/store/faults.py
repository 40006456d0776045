"""What goes wrong with the disk and the database, in words for the person who gets it."""

import errno
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager

from peewee import DatabaseError

from tinknot.core.errors import TinKnotError


class StoreFault(TinKnotError):
    """The data folder cannot be used as it is; nothing was written, or nothing but whole things."""

    title = "The data folder cannot be used"


class DiskFull(StoreFault):
    """No room to write."""

    title = "The disk is full"


class ReadOnly(StoreFault):
    """The folder or its database cannot be written to."""

    title = "The data folder is read-only"


class Busy(StoreFault):
    """Somebody else was writing for too long."""

    title = "Somebody else is writing"


class Damaged(StoreFault):
    """The file is no database, or is broken."""

    title = "The database is damaged"


class NewerDatabase(StoreFault):
    """The file was written by a newer version of the application."""

    title = "This database is of a newer version"


_FULL = DiskFull(
    "The disk of the data folder is full. Nothing of this was kept; free some space and do it again."
)
_READ_ONLY = ReadOnly(
    "The data folder cannot be written to. Nothing of this was kept; an admin must make it writable."
)
_BY_CODE = {
    sqlite3.SQLITE_FULL: _FULL,
    sqlite3.SQLITE_READONLY: _READ_ONLY,
    sqlite3.SQLITE_CANTOPEN: StoreFault(
        "The database file cannot be opened; look whether the data folder is there and may be written to."
    ),
    sqlite3.SQLITE_PERM: _READ_ONLY,
    sqlite3.SQLITE_BUSY: Busy(
        "Somebody else has been writing for several seconds. Nothing of this was kept; do it again."
    ),
    sqlite3.SQLITE_LOCKED: Busy("Somebody else is writing. Nothing of this was kept; do it again."),
    sqlite3.SQLITE_IOERR: StoreFault(
        "The disk of the data folder does not answer as it should. Nothing of this was kept; look at the"
        " disk."
    ),
    sqlite3.SQLITE_CORRUPT: Damaged(
        "The database file is damaged. Stop the application and restore a backup."
    ),
    sqlite3.SQLITE_NOTADB: Damaged("This file is no database."),
}
_BY_ERRNO = {
    errno.ENOSPC: _FULL,
    errno.EDQUOT: _FULL,
    errno.EROFS: _READ_ONLY,
    errno.EACCES: _READ_ONLY,
    errno.EPERM: _READ_ONLY,
}


def fault_of(error: BaseException | None) -> StoreFault | None:
    """What an error of SQLite or of the file system means, None for any other error. peewee raises its own
    while SQLite's, which has the code, is handled, and one of its own again where a rollback fails after a
    full disk."""
    while isinstance(error, (DatabaseError, sqlite3.Error)):
        code = (getattr(error, "sqlite_errorcode", None) or 0) & 0xFF
        if code in _BY_CODE:
            return _BY_CODE[code]
        error = error.__cause__ or error.__context__
    return _BY_ERRNO.get(error.errno or 0) if isinstance(error, OSError) else None


@contextmanager
def told() -> Iterator[None]:
    """Errors of SQLite and of the file system come out as StoreFault where they have a meaning for people."""
    try:
        yield
    except (DatabaseError, sqlite3.Error, OSError) as error:
        fault = fault_of(error)
        if fault is None:
            raise
        raise type(fault)(*fault.args) from error
