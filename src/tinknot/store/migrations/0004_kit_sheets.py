"""Kit sheets that people write, revision by revision."""


def up(migrator, db):
    db.execute_sql(
        "CREATE TABLE kit_sheet (id INTEGER NOT NULL PRIMARY KEY, sheet_id VARCHAR(255) NOT NULL, revision"
        " INTEGER NOT NULL, state VARCHAR(255) NOT NULL, body TEXT NOT NULL, authors TEXT NOT NULL, version"
        " INTEGER NOT NULL, updated VARCHAR(255) NOT NULL)"
    )
    db.execute_sql("CREATE UNIQUE INDEX kit_sheet_revision ON kit_sheet (sheet_id, revision)")


def down(migrator, db):
    db.execute_sql("DROP TABLE kit_sheet")
