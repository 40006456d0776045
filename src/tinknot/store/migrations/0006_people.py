"""Sign-ins are rows, so that signing out ends one; tries are counted in one place; people and tools have a
version; what was written, planned and measured is kept with the person's number; pictures are known by
what was sent; a limit of a release stands in lists."""

import json


def up(migrator, db):
    db.execute_sql(
        "CREATE TABLE sign_in (token VARCHAR(255) NOT NULL PRIMARY KEY, user_id INTEGER NOT NULL, created"
        " VARCHAR(255) NOT NULL)"
    )
    db.execute_sql("CREATE INDEX sign_in_user ON sign_in (user_id)")
    db.execute_sql(
        'CREATE TABLE "try" (key VARCHAR(255) NOT NULL PRIMARY KEY, count INTEGER NOT NULL, until REAL NOT'
        " NULL)"
    )
    for column in ("session_key", "pin_misses", "pin_locked_until"):
        db.execute_sql(f'ALTER TABLE "user" DROP COLUMN {column}')
    db.execute_sql('ALTER TABLE "user" ADD COLUMN version INTEGER NOT NULL DEFAULT 1')
    db.execute_sql("ALTER TABLE tool ADD COLUMN version INTEGER NOT NULL DEFAULT 1")
    db.execute_sql("ALTER TABLE tool ADD COLUMN set_by VARCHAR(255) NOT NULL DEFAULT ''")
    db.execute_sql("ALTER TABLE tool ADD COLUMN set_at VARCHAR(255) NOT NULL DEFAULT ''")
    db.execute_sql("ALTER TABLE kit_sheet ADD COLUMN author_ids TEXT NOT NULL DEFAULT '[]'")
    db.execute_sql(
        "CREATE TABLE worker (joint_id INTEGER NOT NULL, user_id INTEGER NOT NULL, PRIMARY KEY (joint_id,"
        " user_id))"
    )
    db.execute_sql(
        'INSERT OR IGNORE INTO worker SELECT r.joint_id, u.id FROM planrevision r JOIN "user" u ON u.name ='
        " r.actor"
    )
    db.execute_sql(
        "CREATE TABLE picture (sent VARCHAR(255) NOT NULL PRIMARY KEY, kept VARCHAR(255) NOT NULL)"
    )
    db.execute_sql("ALTER TABLE joint ADD COLUMN limits VARCHAR(255) NOT NULL DEFAULT ''")
    db.execute_sql(
        "UPDATE joint SET limits = COALESCE((SELECT json_extract(body, '$.text') FROM eventrow WHERE joint_id"
        " = joint.id AND json_valid(body) AND json_extract(body, '$.step') = 'released' AND"
        " json_extract(body, '$.kind') = 'done' ORDER BY number DESC LIMIT 1), '') WHERE state = 'released"
        " with a limit'"
    )
    numbers = {}
    for number, name in db.execute_sql('SELECT id, name FROM "user"').fetchall():
        numbers.setdefault(name, []).append(number)
    for row, authors in db.execute_sql("SELECT id, authors FROM kit_sheet").fetchall():
        known = sorted(n for name in json.loads(authors) for n in numbers.get(name, []))
        db.execute_sql("UPDATE kit_sheet SET author_ids = ? WHERE id = ?", (json.dumps(known), row))


def down(migrator, db):
    db.execute_sql("ALTER TABLE joint DROP COLUMN limits")
    db.execute_sql("DROP TABLE picture")
    db.execute_sql("DROP TABLE worker")
    db.execute_sql("ALTER TABLE kit_sheet DROP COLUMN author_ids")
    for column in ("version", "set_by", "set_at"):
        db.execute_sql(f"ALTER TABLE tool DROP COLUMN {column}")
    db.execute_sql('ALTER TABLE "user" DROP COLUMN version')
    db.execute_sql("ALTER TABLE \"user\" ADD COLUMN session_key VARCHAR(255) NOT NULL DEFAULT ''")
    db.execute_sql('ALTER TABLE "user" ADD COLUMN pin_misses INTEGER NOT NULL DEFAULT 0')
    db.execute_sql('ALTER TABLE "user" ADD COLUMN pin_locked_until VARCHAR(255)')
    db.execute_sql('DROP TABLE "try"')
    db.execute_sql("DROP TABLE sign_in")
