"""Tools with their calibration dates; PINs with which a second person signs on somebody else's device; what
the release signature covers beside the events."""


def up(migrator, db):
    db.execute_sql(
        "CREATE TABLE tool (id INTEGER NOT NULL PRIMARY KEY, name VARCHAR(255) NOT NULL, kind VARCHAR(255)"
        " NOT NULL, due VARCHAR(255), data TEXT NOT NULL, retired INTEGER NOT NULL)"
    )
    db.execute_sql("CREATE UNIQUE INDEX tool_name ON tool (name)")
    db.execute_sql("CREATE INDEX tool_kind ON tool (kind)")
    db.execute_sql('ALTER TABLE "user" ADD COLUMN pin_hash VARCHAR(255)')
    db.execute_sql('ALTER TABLE "user" ADD COLUMN pin_misses INTEGER NOT NULL DEFAULT 0')
    db.execute_sql('ALTER TABLE "user" ADD COLUMN pin_locked_until VARCHAR(255)')
    db.execute_sql("ALTER TABLE joint ADD COLUMN signed_content VARCHAR(255)")


def down(migrator, db):
    db.execute_sql("DROP TABLE tool")
    for column in ("pin_hash", "pin_misses", "pin_locked_until"):
        db.execute_sql(f'ALTER TABLE "user" DROP COLUMN {column}')
    db.execute_sql("ALTER TABLE joint DROP COLUMN signed_content")
