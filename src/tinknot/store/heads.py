"""Checkpoints of what is recorded, in a file of their own beside the database: how far each joint's log and
plans had come, and the site's signature over it. Whoever puts older rows, or an older database, in place does
not have the newer checkpoint to go with them. The first of a joint is on the disk before the joint is
answered for; later ones are written after each commit, without waiting for the disk: a checkpoint may lag,
never lead.

The database names its file, so that a database and its checkpoints change places in one step."""

from contextlib import suppress
from pathlib import Path

from peewee import OperationalError, SqliteDatabase

NAME = "heads.db"
PRAGMAS = {"journal_mode": "wal", "synchronous": 1, "busy_timeout": 5000}

db = SqliteDatabase(None)
Head = tuple[
    int, str, int, str, str
]  # number and hash of the event, how many plans and their digest, signature


def open_heads(folder: Path, name: str = NAME) -> None:
    """Bind to the file `name` in `folder`, made where it is missing; only its owner may read it."""
    close()
    path = folder / name
    path.touch(mode=0o600)
    db.init(str(path), pragmas=PRAGMAS)
    db.connect()
    db.execute_sql(
        "CREATE TABLE IF NOT EXISTS checkpoint (joint_id INTEGER PRIMARY KEY, number INTEGER NOT NULL,"
        " hash TEXT"
        " NOT NULL, plans INTEGER NOT NULL, digest TEXT NOT NULL, signature TEXT NOT NULL)"
    )


def close() -> None:
    """Close this thread's connection."""
    if not db.is_closed():
        db.close()


def head(joint_id: int) -> Head | None:
    """The checkpoint of a joint."""
    db.connect(reuse_if_open=True)
    found: Head | None = db.execute_sql(
        "SELECT number, hash, plans, digest, signature FROM checkpoint WHERE joint_id = ?", (joint_id,)
    ).fetchone()
    return found


def earlier_head(joint_id: int) -> tuple[int, str] | None:
    """Number and hash of the checkpoint that a version before plans were covered kept."""
    db.connect(reuse_if_open=True)
    if not db.table_exists("head"):
        return None
    sql = "SELECT number, hash FROM head WHERE joint_id = ?"
    found: tuple[int, str] | None = db.execute_sql(sql, (joint_id,)).fetchone()
    return found


def any_kept() -> bool:
    """Whether there is any checkpoint."""
    db.connect(reuse_if_open=True)
    return db.execute_sql("SELECT 1 FROM checkpoint LIMIT 1").fetchone() is not None


def fold_log() -> None:
    """Fold the log into the file now, so that the file alone is the whole."""
    db.execute_sql("PRAGMA wal_checkpoint(TRUNCATE)")


def keep(joint_id: int, found: Head, durably: bool = False) -> None:
    """Keep a checkpoint; one that is further on stays. Where the disk takes no more, the checkpoint lags;
    `durably`: it is on the disk when this returns."""
    db.connect(reuse_if_open=True)
    if durably:
        db.execute_sql("PRAGMA synchronous = 2")
    with suppress(OperationalError):
        db.execute_sql(
            "INSERT INTO checkpoint (joint_id, number, hash, plans, digest, signature) VALUES (?, ?, ?, ?,"
            " ?, ?) ON"
            " CONFLICT (joint_id) DO UPDATE SET number = excluded.number, hash = excluded.hash, plans ="
            " excluded.plans, digest = excluded.digest, signature = excluded.signature WHERE"
            " excluded.number >="
            " checkpoint.number AND excluded.plans >= checkpoint.plans",
            (joint_id, *found),
        )
    if durably:
        db.execute_sql("PRAGMA synchronous = 1")
