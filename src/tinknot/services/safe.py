"""Snapshots of the running database."""

import sqlite3
from pathlib import Path

from tinknot.store.database import vacuum_into


def snapshot(target: Path) -> None:
    """A consistent copy of the database in a new file."""
    vacuum_into(target)


def unusable(source: Path) -> str:
    """Why a file cannot be restored; empty when it can."""
    try:
        with sqlite3.connect(f"file:{source}?mode=ro", uri=True) as found:
            (word,) = found.execute("PRAGMA integrity_check").fetchone()
            found.execute("SELECT 1 FROM schema_migration LIMIT 1")
    except sqlite3.DatabaseError as fault:
        return str(fault)
    return "" if word == "ok" else str(word)
