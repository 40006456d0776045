"""What lists show of joints, with their kept summaries: some statements, however many joints there are."""

from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

from tinknot.store.database import db

WHERE_OF = "CASE WHEN json_valid(joint.draft) THEN json_extract(joint.draft, '$.card.where') END"
_STATE = "CASE WHEN state = 'curing' AND through <= ? THEN 'to prove' ELSE state END"
_OF = "FROM summary JOIN joint ON joint.id = summary.joint_id"
_WITH = "FROM joint LEFT JOIN summary ON summary.joint_id = joint.id"


class Kept(NamedTuple):
    """A summary as it is kept."""

    joint: int
    minutes: float
    through: str | None
    remakes: int | None
    unreadable: bool
    body: str


class Open(NamedTuple):
    """A joint that is not released; `state` as it is at the moment asked for."""

    joint: int
    ref: str
    line: int | None
    at_m: float | None
    state: str
    minutes: float | None
    unreadable: bool


def keep(found: Iterable[Kept]) -> None:
    """Keep summaries. Inside a transaction."""
    for row in found:
        db.execute_sql("INSERT OR REPLACE INTO summary VALUES (?, ?, ?, ?, ?, ?)", row)


def mark() -> int:
    """The same as long as nothing that the board shows was changed."""
    ((value,),) = db.execute_sql("SELECT value FROM mark")
    return int(value)


def missing(most: int) -> list[int]:
    """Joints without a summary, by id, at most so many."""
    ((joints, kept),) = db.execute_sql("SELECT (SELECT COUNT(*) FROM joint), (SELECT COUNT(*) FROM summary)")
    if joints == kept:
        return []
    sql = f"SELECT joint.id {_WITH} WHERE summary.joint_id IS NULL ORDER BY joint.id LIMIT ?"
    return [joint for (joint,) in db.execute_sql(sql, (most,))]


def counted() -> dict[str, int]:
    """How many joints are in each state, as it was when an event last changed it."""
    return dict(db.execute_sql("SELECT state, COUNT(*) FROM joint GROUP BY state").fetchall())


def unreadable() -> list[tuple[int, str]]:
    """Joints that cannot be read: id and state as it is stored, the oldest first."""
    sql = (
        "SELECT joint_id, state FROM summary INDEXED BY summary_unreadable CROSS JOIN joint ON joint.id ="
        " joint_id WHERE unreadable ORDER BY joint_id"
    )
    return list(db.execute_sql(sql).fetchall())


def opened(states: Sequence[str], moment: str) -> list[Open]:
    """Joints whose stored state is one of `states`, in no order, as they are at a moment (ISO 8601)."""
    marks = ", ".join("?" * len(states))
    sql = (
        f"SELECT joint.id, ref, line_id, at_m, {_STATE}, minutes, COALESCE(unreadable, 0) {_WITH}"
        f" WHERE state IN ({marks})"
    )
    return [Open(*row) for row in db.execute_sql(sql, (moment, *states))]


def farthest() -> float:
    """How far along a line a joint lies at most, m."""
    sql = "SELECT MAX((SELECT MAX(at_m) FROM joint WHERE line_id = line.id)) FROM line"
    ((far,),) = db.execute_sql(sql)
    return far or 0.0


def cells(width_m: float) -> list[tuple[int, float, int, int, int]]:
    """Joints along the lines in stretches of `width_m`: (line, the first's place in m, how many, the first
    and the last by id)."""
    sql = (
        "SELECT line_id, MIN(at_m), COUNT(*), MIN(id), MAX(id) FROM joint WHERE line_id IS NOT NULL AND at_m"
        " IS NOT NULL GROUP BY line_id, CAST(at_m / ? AS INTEGER) ORDER BY line_id, MIN(at_m)"
    )
    return list(db.execute_sql(sql, (width_m,)).fetchall())


def loose(most: int) -> tuple[list[int], int]:
    """Joints that lie on no line or nowhere along it: the ids of the newest, and how many there are."""
    nowhere = (
        "(SELECT id FROM joint WHERE line_id IS NULL UNION ALL"
        " SELECT joint.id FROM line CROSS JOIN joint ON line_id = line.id WHERE at_m IS NULL)"
    )
    found = db.execute_sql(f"SELECT id FROM {nowhere} ORDER BY id DESC LIMIT ?", (most,))
    ((many,),) = db.execute_sql(f"SELECT COUNT(*) FROM {nowhere}")
    return [joint for (joint,) in found], many


def limited(most: int) -> list[int]:
    """Joints in use with a limit, by id, those made last first."""
    sql = "SELECT id FROM joint WHERE state = ? ORDER BY id DESC LIMIT ?"
    return [joint for (joint,) in db.execute_sql(sql, ("released with a limit", most))]


def late(most: int) -> tuple[list[int], int]:
    """Joints of which something was told after their release, by id, those made last first, and how many."""
    sql = "SELECT id FROM joint WHERE late != '' ORDER BY id DESC"
    found = [joint for (joint,) in db.execute_sql(sql)]
    return found[:most], len(found)


def tightest(most: int) -> list[int]:
    """Joints with loops, by id, those whose loop allows the fewest remakes first."""
    sql = f"SELECT joint_id {_OF} WHERE remakes IS NOT NULL ORDER BY remakes, ref LIMIT ?"
    return [joint for (joint,) in db.execute_sql(sql, (most,))]


def rows(joints: Iterable[int]) -> list[tuple[Any, ...]]:
    """(id, ref, title, where, state as stored, limits, what came late, summary as JSON or None) of joints by
    their ids."""
    named = tuple(joints)
    marks = ", ".join("?" * len(named))
    fields = f"joint.id, ref, title, {WHERE_OF}, state, limits, late, body"
    sql = f"SELECT {fields} {_WITH} WHERE joint.id IN ({marks})"
    return list(db.execute_sql(sql, named).fetchall())
