"""What lists show of a joint is kept beside it. A summary goes whenever anything that it was made from
changes, whoever changes it, and is made again by whoever asks next."""

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


def up(migrator, db):
    db.execute_sql(
        "CREATE TABLE summary (joint_id INTEGER NOT NULL PRIMARY KEY REFERENCES joint (id), body TEXT NOT"
        " NULL)"
    )
    for name, when, joint in WHEN:
        db.execute_sql(f"CREATE TRIGGER summary_{name} AFTER {when} BEGIN {GOES} {joint}; END")


def down(migrator, db):
    for name, _, _ in WHEN:
        db.execute_sql(f"DROP TRIGGER summary_{name}")
    db.execute_sql("DROP TABLE summary")
