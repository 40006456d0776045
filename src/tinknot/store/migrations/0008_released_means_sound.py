"""What came after a release is shown in lists; every change of an account is kept with who made it."""


def up(migrator, db):
    db.execute_sql("ALTER TABLE joint ADD COLUMN late VARCHAR(255) NOT NULL DEFAULT ''")
    db.execute_sql("CREATE INDEX joint_late ON joint (id) WHERE late != ''")
    db.execute_sql(
        "CREATE TABLE account_change (id INTEGER NOT NULL PRIMARY KEY, at VARCHAR(255) NOT NULL, by_id"
        " INTEGER NOT"
        " NULL, by_name VARCHAR(255) NOT NULL, user_id INTEGER NOT NULL, user_name VARCHAR(255) NOT NULL,"
        " what TEXT"
        " NOT NULL)"
    )


def down(migrator, db):
    db.execute_sql("DROP TABLE account_change")
    db.execute_sql("DROP INDEX joint_late")
    db.execute_sql("ALTER TABLE joint DROP COLUMN late")
