"""Kit sheets that shipped as checked are examples now. Those that this site works by become sheets of its
own, as they stood, so that work goes on as it was begun; nobody's name is on them."""

import json
from pathlib import Path

SHIPPED = Path(__file__).parents[2] / "services" / "sheets"
AUTHORS = json.dumps(["an earlier version of Tin Knot"])


def up(migrator, db):
    named = set()
    for table, column in (("joint", "draft"), ("part", "data")):
        found = f"SELECT json_extract({column}, '$.sheet') FROM {table} WHERE json_valid({column})"
        named |= {s for (s,) in db.execute_sql(found).fetchall()}
    own = {s for (s,) in db.execute_sql("SELECT sheet_id FROM kit_sheet WHERE revision = 1").fetchall()}
    for path in sorted(SHIPPED.glob("*.json")):
        sheet = json.loads(path.read_text(encoding="utf-8"))
        if sheet["id"] not in named - own:
            continue
        author = json.loads(AUTHORS)[0]
        body = sheet | {"revision": 1, "state": "checked", "author": author}
        db.execute_sql(
            "INSERT INTO kit_sheet (sheet_id, revision, state, body, authors, author_ids, version, updated)"
            " VALUES (?, 1, 'checked', ?, ?, '[]', 1, '')",
            (sheet["id"], json.dumps(body, ensure_ascii=False), AUTHORS),
        )


def down(migrator, db):
    db.execute_sql("DELETE FROM kit_sheet WHERE authors = ?", (AUTHORS,))
