"""Whole copies of a database through SQLite's own backup, so that what lies in a log beside it counts, and
what is wrong with one."""

import json
import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

from peewee import SqliteDatabase

from tinknot.core.errors import TinKnotError
from tinknot.core.work.events import broken_link
from tinknot.store.database import PRAGMAS, refuse_newer, upgrade
from tinknot.store.faults import Busy, fault_of, told
from tinknot.store.models import TABLES


def copy_to(source: Path, target: Path) -> None:
    """A consistent copy of `source`, in use or not, as a new file for its owner only."""
    with told():
        os.close(os.open(target, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))
        with (
            closing(sqlite3.connect(f"{source.absolute().as_uri()}?mode=ro", uri=True)) as reading,
            closing(sqlite3.connect(target)) as writing,
        ):
            reading.backup(writing)
        with target.open("rb") as file:
            os.fsync(file.fileno())


def fold_log(path: Path) -> None:
    """Fold a database's log into its file, so that the file alone is the whole. Raises Busy while another
    program has it open."""
    with told(), closing(sqlite3.connect(path, timeout=5)) as connection:
        busy, _, _ = connection.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchone()
    if busy:
        raise Busy("Another program has the database open. Close it and do it again; nothing was changed.")


def upgraded_fault(path: Path) -> str:
    """Bring a copy to this version's tables; why it cannot be, in words, empty when it can. It is looked
    at as a database, by its version, and by its tables and columns."""
    try:
        with closing(sqlite3.connect(path)) as connection:
            (word,) = connection.execute("PRAGMA integrity_check").fetchone()
            names = {n for (n,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        if word != "ok":
            return f"its content is damaged: {word}"
        if "schema_migration" not in names or "joint" not in names:
            return "it is a database, but none of Tin Knot"
        refuse_newer(path)
        database = SqliteDatabase(str(path), pragmas=PRAGMAS | {"journal_mode": "delete"})
        with closing(database):
            upgrade(database)
            return "; ".join(_missing(database))
    except TinKnotError as fault:
        return str(fault)
    except Exception as error:  # noqa: BLE001 - a foreign file may break a migration in any way; it is told and refused
        return str(fault_of(error) or error)


def _missing(database: SqliteDatabase) -> Iterator[str]:
    for model in TABLES:
        table = model._meta.table_name
        there = {c.name for c in database.get_columns(table)} if database.table_exists(table) else set()
        wanted = {f.column_name for f in model._meta.sorted_fields}
        if wanted - there:
            yield f"table {table} lacks {', '.join(sorted(wanted - there))}"


def chain_faults(path: Path) -> Iterator[str]:
    """Joints whose events do not make one chain, in words."""
    with closing(sqlite3.connect(path)) as connection:
        for joint_id, ref in connection.execute("SELECT id, ref FROM joint ORDER BY id").fetchall():
            rows = connection.execute(
                "SELECT body, hash FROM eventrow WHERE joint_id = ? ORDER BY number", (joint_id,)
            )
            try:
                broken = broken_link((json.loads(body), digest) for body, digest in rows)
            except (ValueError, AttributeError, RecursionError):
                broken = 0
            if broken is not None:
                yield f"the events of {ref} are not whole" + (f", from event {broken} on" if broken else "")


def photos_named(path: Path) -> set[str]:
    """The digests of all pictures that events name."""
    sql = "SELECT DISTINCT json_extract(body, '$.photo') FROM eventrow WHERE json_valid(body)"
    with closing(sqlite3.connect(path)) as connection:
        return {digest for (digest,) in connection.execute(sql) if digest}


def setting_of(path: Path, key: str) -> str | None:
    """A value of the site in a database that is not open."""
    with closing(sqlite3.connect(path)) as connection:
        found = connection.execute("SELECT value FROM setting WHERE key = ?", (key,)).fetchone()
    return json.loads(found[0]) if found else None
