"""Checkpoints of the event logs, in a file of their own beside the database: how far each log had come,
and the site's signature over it. Whoever puts older rows, or an older database, in place does not have the
newer checkpoint to go with them. Written after each commit, without waiting for the disk: a checkpoint may
lag, never lead."""

from contextlib import suppress
from pathlib import Path

from peewee import OperationalError, SqliteDatabase

NAME = "heads.db"
PRAGMAS = {"journal_mode": "wal", "synchronous": 0, "busy_timeout": 5000}

db = SqliteDatabase(None)
Head = tuple[int, str, str]  # number and hash of the event, signature


def open_heads(folder: Path) -> None:
    """Bind to the file in `folder`, made where it is missing; only its owner may read it."""
    if not db.is_closed():
        db.close()
    path = folder / NAME
    path.touch(mode=0o600)
    db.init(str(path), pragmas=PRAGMAS)
    db.connect()
    db.execute_sql(
        "CREATE TABLE IF NOT EXISTS head (joint_id INTEGER PRIMARY KEY, number INTEGER NOT NULL, hash TEXT"
        " NOT NULL, signature TEXT NOT NULL)"
    )


def close() -> None:
    """Close this thread's connection."""
    if not db.is_closed():
        db.close()


def head(joint_id: int) -> Head | None:
    """The checkpoint of a joint."""
    db.connect(reuse_if_open=True)
    found: Head | None = db.execute_sql(
        "SELECT number, hash, signature FROM head WHERE joint_id = ?", (joint_id,)
    ).fetchone()
    return found


def keep(joint_id: int, number: int, digest: str, signature: str) -> None:
    """Keep a checkpoint; one that is further on stays. Where the disk takes no more, the checkpoint lags."""
    db.connect(reuse_if_open=True)
    with suppress(OperationalError):
        db.execute_sql(
            "INSERT INTO head (joint_id, number, hash, signature) VALUES (?, ?, ?, ?) ON CONFLICT (joint_id)"
            " DO UPDATE SET number = excluded.number, hash = excluded.hash, signature = excluded.signature"
            " WHERE excluded.number > head.number",
            (joint_id, number, digest, signature),
        )
