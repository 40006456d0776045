"""The register's search: full text by the index, newest first, page by page."""

from typing import Any

from tinknot.store.database import db
from tinknot.store.summaries import WHERE_OF

ROW = (
    f"joint.id, joint.ref, joint.title, {WHERE_OF}, joint.line_id, line.name, joint.at_m, joint.state,"
    " joint.updated, joint.limits, joint.late,"
    " CASE WHEN joint.state = 'curing' THEN (SELECT body FROM summary WHERE joint_id = joint.id) END"
)


def newest(match: str, state: str | None, before: int | None, most: int) -> list[tuple[Any, ...]]:
    """(id, ref, title, where, line's id and name, place along it in m, state, updated, limits, late, summary
    as JSON of what cures) of at most `most` joints, newest first, older than `before`: those that `match`
    (FTS5) finds, all where it is empty, in `state` where one is named."""
    given: list[Any] = []
    if match:
        source = "joint_search JOIN joint ON joint.id = joint_search.rowid"
        key, where = "joint_search.rowid", ["joint_search MATCH ?"]
        given.append(match)
    else:
        source, key, where = "joint", "joint.id", []
    if state is not None:
        where.append("joint.state = ?")
        given.append(state)
    if before is not None:
        where.append(f"{key} < ?")
        given.append(before)
    condition = f" WHERE {' AND '.join(where)}" if where else ""
    sql = (
        f"SELECT {ROW} FROM {source} LEFT JOIN line ON line.id = joint.line_id{condition} ORDER BY {key} DESC"
        " LIMIT ?"
    )
    return list(db.execute_sql(sql, (*given, most)).fetchall())
