"""The event log's few statements, written out: they run once for every touch at a joint."""

from tinknot.store.database import db
from tinknot.store.models import Joint

Row = tuple[int, str, str]


def joint(ref: str) -> Joint | None:
    """The joint's row, by its reference."""
    return next(iter(Joint.raw("SELECT * FROM joint WHERE ref = ?", ref)), None)


def joints() -> list[tuple[int, str]]:
    """Id and reference of every joint, also of a database that is yet to be upgraded."""
    return list(db.execute_sql("SELECT id, ref FROM joint ORDER BY id").fetchall())


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


Revision = tuple[int, str]  # row id and the moment it was made: no other plan has both, even after a restore


def newest_revision(joint_id: int) -> Revision | None:
    """A joint's newest plan."""
    sql = "SELECT id, created FROM planrevision WHERE joint_id = ? ORDER BY number DESC LIMIT 1"
    found: Revision | None = db.execute_sql(sql, (joint_id,)).fetchone()
    return found


def revision(joint_id: int, number: int) -> Revision | None:
    """A joint's plan `number`."""
    sql = "SELECT id, created FROM planrevision WHERE joint_id = ? AND number = ?"
    found: Revision | None = db.execute_sql(sql, (joint_id, number)).fetchone()
    return found


def revision_text(row_id: int) -> str:
    """The plan of a revision, as JSON."""
    found = db.execute_sql("SELECT plan FROM planrevision WHERE id = ?", (row_id,)).fetchone()
    return str(found[0])


def plans(joint_id: int) -> list[tuple[int, str, str, str, str, str, str]]:
    """(number, file, plan, made, differences, actor, created) of a joint's plans, oldest first."""
    sql = (
        "SELECT number, file, plan, made, differences, actor, created FROM planrevision WHERE joint_id = ?"
        " ORDER BY number"
    )
    return list(db.execute_sql(sql, (joint_id,)).fetchall())


def count_of_plans(joint_id: int) -> int:
    """How many plans a joint has."""
    sql = "SELECT COUNT(*) FROM planrevision WHERE joint_id = ?"
    ((count,),) = db.execute_sql(sql, (joint_id,)).fetchall()
    return int(count)


def hash_at(joint_id: int, number: int) -> str | None:
    """The hash of a joint's event `number`."""
    sql = "SELECT hash FROM eventrow WHERE joint_id = ? AND number = ?"
    found = db.execute_sql(sql, (joint_id, number)).fetchone()
    return str(found[0]) if found else None
