"""The event log's few statements, written out: they run once for every touch at a joint."""

from tinknot.store.database import db
from tinknot.store.models import Joint

Row = tuple[int, str, str]


def joint(ref: str) -> Joint | None:
    """The joint's row, by its reference."""
    return next(iter(Joint.raw("SELECT * FROM joint WHERE ref = ?", ref)), None)


def head(joint_id: int) -> tuple[int, str] | None:
    """Number and hash of a joint's last event."""
    sql = "SELECT number, hash FROM eventrow WHERE joint_id = ? ORDER BY number DESC LIMIT 1"
    found: tuple[int, str] | None = db.execute_sql(sql, (joint_id,)).fetchone()
    return found


def since(joint_id: int, number: int) -> list[Row]:
    """(number, body, hash) of a joint's events from `number` on, in order."""
    sql = "SELECT number, body, hash FROM eventrow WHERE joint_id = ? AND number >= ? ORDER BY number"
    return list(db.execute_sql(sql, (joint_id, number)).fetchall())


def joint_of(event_id: str) -> int | None:
    """The joint that has accepted the event with this id."""
    found = db.execute_sql("SELECT joint_id FROM eventrow WHERE event_id = ?", (event_id,)).fetchone()
    return int(found[0]) if found else None


def add(joint_id: int, number: int, event_id: str, body: str, digest: str) -> None:
    """Append an event. Called inside a transaction."""
    sql = "INSERT INTO eventrow (joint_id, number, event_id, body, hash) VALUES (?, ?, ?, ?, ?)"
    db.execute_sql(sql, (joint_id, number, event_id, body, digest))


def newest_revision(joint_id: int) -> int | None:
    """Row id of a joint's newest plan."""
    sql = "SELECT id FROM planrevision WHERE joint_id = ? ORDER BY number DESC LIMIT 1"
    found = db.execute_sql(sql, (joint_id,)).fetchone()
    return int(found[0]) if found else None


def revision(joint_id: int, number: int) -> int | None:
    """Row id of a joint's plan `number`."""
    found = db.execute_sql(
        "SELECT id FROM planrevision WHERE joint_id = ? AND number = ?", (joint_id, number)
    ).fetchone()
    return int(found[0]) if found else None


def revision_text(row_id: int) -> str:
    """The plan of a revision, as JSON."""
    found = db.execute_sql("SELECT plan FROM planrevision WHERE id = ?", (row_id,)).fetchone()
    return str(found[0])
