"""The joints as lists show them, each with its kept summary, by one statement however many there are."""

from collections.abc import Iterable
from typing import Any

from tinknot.store.database import db

WHERE_OF = "CASE WHEN json_valid(joint.draft) THEN json_extract(joint.draft, '$.card.where') END"


def joints() -> list[tuple[Any, ...]]:
    """(id, ref, title, where, line's id and name, place along it in m, state, updated, limits, summary as
    JSON or None) of every joint, oldest first."""
    sql = (
        f"SELECT joint.id, joint.ref, joint.title, {WHERE_OF}, joint.line_id, line.name, joint.at_m,"
        " joint.state, joint.updated, joint.limits, summary.body FROM joint"
        " LEFT JOIN line ON line.id = joint.line_id LEFT JOIN summary ON summary.joint_id = joint.id"
        " ORDER BY joint.id"
    )
    return list(db.execute_sql(sql).fetchall())


def keep(found: Iterable[tuple[int, str]]) -> None:
    """Keep summaries (joint's id, JSON). Inside a transaction."""
    for joint_id, body in found:
        db.execute_sql("INSERT OR REPLACE INTO summary (joint_id, body) VALUES (?, ?)", (joint_id, body))
