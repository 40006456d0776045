"""The register's search: full text by the index, newest first, page by page."""

from typing import Any

from tinknot.store.database import db


def newest(match: str, state: str | None, before: int | None, most: int) -> list[int]:
    """Ids of at most `most` joints, newest first, older than `before`: those that `match` (FTS5) finds, all
    where it is empty, in `state` where one is named."""
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
    sql = f"SELECT {key} FROM {source}{condition} ORDER BY {key} DESC LIMIT ?"
    return [row[0] for row in db.execute_sql(sql, (*given, most)).fetchall()]
