"""Signatures carry a scheme and a copy of what stood round the joint; repeated requests are known by the
digest of their body, and what was kept of them before, passwords among it, goes; the register reads round
a damaged draft."""

OLD = "json_extract({0}.draft, '$.card.where'), json_extract({0}.draft, '$.card.why')"
GUARDED = (
    "CASE WHEN json_valid({0}.draft) THEN json_extract({0}.draft, '$.card.where') END,"
    " CASE WHEN json_valid({0}.draft) THEN json_extract({0}.draft, '$.card.why') END"
)


def _triggers(db, read):
    values = "{0}.id, {0}.ref, {0}.title, " + read
    insert = "INSERT INTO joint_search(rowid, ref, title, place, why) VALUES (" + values.format("new") + ");"
    delete = "DELETE FROM joint_search WHERE rowid = old.id;"
    for name in ("i", "u"):
        db.execute_sql(f"DROP TRIGGER joint_search_{name}")
    db.execute_sql(f"CREATE TRIGGER joint_search_i AFTER INSERT ON joint BEGIN {insert} END")
    db.execute_sql(f"CREATE TRIGGER joint_search_u AFTER UPDATE ON joint BEGIN {delete} {insert} END")


def up(migrator, db):
    db.execute_sql("ALTER TABLE joint ADD COLUMN scheme INTEGER")
    db.execute_sql("ALTER TABLE joint ADD COLUMN sealed TEXT")
    db.execute_sql('DROP TABLE "repeat"')
    db.execute_sql(
        'CREATE TABLE "repeat" (key VARCHAR(255) NOT NULL PRIMARY KEY, digest VARCHAR(255) NOT NULL,'
        " created VARCHAR(255) NOT NULL, status INTEGER NOT NULL, body TEXT NOT NULL)"
    )
    db.execute_sql('CREATE INDEX repeat_created ON "repeat" (created)')
    _triggers(db, GUARDED)


def down(migrator, db):
    _triggers(db, OLD)
    db.execute_sql('DROP TABLE "repeat"')
    db.execute_sql(
        'CREATE TABLE "repeat" (key VARCHAR(255) NOT NULL PRIMARY KEY, status INTEGER NOT NULL, body TEXT NOT'
        " NULL)"
    )
    db.execute_sql("ALTER TABLE joint DROP COLUMN scheme")
    db.execute_sql("ALTER TABLE joint DROP COLUMN sealed")
