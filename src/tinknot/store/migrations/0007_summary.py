"""What lists show of a joint is kept beside it. A summary goes whenever anything that it was made from
changes, whoever changes it, and is made again by whoever asks next. What a list of thousands is counted and
ordered by stands in columns of its own, before the long text. The mark is another one after every change
of what the board shows, so that who asks again knows whether it is still the same; it is drawn, not counted,
or a data folder put back from a copy would come to the same count by other changes."""

GOES = "DELETE FROM summary WHERE joint_id ="
WHEN = (
    ("draft_changed", "UPDATE OF draft ON joint", "NEW.id"),
    ("planned", "INSERT ON planrevision", "NEW.joint_id"),
    ("plan_changed", "UPDATE ON planrevision", "NEW.joint_id"),
    ("plan_gone", "DELETE ON planrevision", "OLD.joint_id"),
    ("event_taken", "INSERT ON eventrow", "NEW.joint_id"),
    ("event_changed", "UPDATE ON eventrow", "NEW.joint_id"),
    ("event_gone", "DELETE ON eventrow", "OLD.joint_id"),
)
CHANGES = [(t, does) for t in ("joint", "summary", "line", "zone") for does in ("INSERT", "UPDATE", "DELETE")]


def up(migrator, db):
    db.execute_sql(
        "CREATE TABLE summary (joint_id INTEGER NOT NULL PRIMARY KEY REFERENCES joint (id), minutes REAL NOT"
        " NULL, through TEXT, remakes INTEGER, unreadable INTEGER NOT NULL, body TEXT NOT NULL)"
    )
    db.execute_sql("CREATE INDEX summary_remakes ON summary (remakes) WHERE remakes IS NOT NULL")
    db.execute_sql("CREATE INDEX summary_unreadable ON summary (joint_id) WHERE unreadable")
    db.execute_sql("CREATE INDEX joint_place ON joint (line_id, at_m)")
    db.execute_sql("CREATE INDEX joint_open ON joint (state, line_id, at_m, ref)")
    db.execute_sql("CREATE TABLE mark (value INTEGER NOT NULL)")
    db.execute_sql("INSERT INTO mark VALUES (random())")
    for table, does in CHANGES:
        made = f"CREATE TRIGGER mark_{table}_{does} AFTER {does} ON {table}"
        db.execute_sql(f"{made} BEGIN UPDATE mark SET value = random(); END")
    for name, when, joint in WHEN:
        db.execute_sql(f"CREATE TRIGGER summary_{name} AFTER {when} BEGIN {GOES} {joint}; END")


def down(migrator, db):
    for name, _, _ in WHEN:
        db.execute_sql(f"DROP TRIGGER summary_{name}")
    for table, does in CHANGES:
        db.execute_sql(f"DROP TRIGGER mark_{table}_{does}")
    db.execute_sql("DROP TABLE mark")
    db.execute_sql("DROP INDEX joint_open")
    db.execute_sql("DROP INDEX joint_place")
    db.execute_sql("DROP TABLE summary")
