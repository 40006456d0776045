"""Full-text search over the register: reference, title, place and reason; kept by triggers."""


def up(migrator, db):
    db.execute_sql(
        "CREATE VIRTUAL TABLE joint_search USING fts5(ref, title, place, why, tokenize='unicode61"
        " remove_diacritics 2')"
    )
    values = (
        "{0}.id, {0}.ref, {0}.title, json_extract({0}.draft, '$.card.where'), json_extract({0}.draft,"
        " '$.card.why')"
    )
    insert = "INSERT INTO joint_search(rowid, ref, title, place, why) VALUES ({});"
    delete = "DELETE FROM joint_search WHERE rowid = old.id;"
    db.execute_sql(
        f"CREATE TRIGGER joint_search_i AFTER INSERT ON joint BEGIN {insert.format(values.format('new'))} END"
    )
    db.execute_sql(f"CREATE TRIGGER joint_search_d AFTER DELETE ON joint BEGIN {delete} END")
    db.execute_sql(
        f"CREATE TRIGGER joint_search_u AFTER UPDATE ON joint BEGIN {delete}"
        f" {insert.format(values.format('new'))} END"
    )
    db.execute_sql(
        f"INSERT INTO joint_search(rowid, ref, title, place, why) SELECT {values.format('joint')} FROM joint"
    )


def down(migrator, db):
    for name in ("i", "d", "u"):
        db.execute_sql(f"DROP TRIGGER joint_search_{name}")
    db.execute_sql("DROP TABLE joint_search")
