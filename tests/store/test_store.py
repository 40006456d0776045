"""Migrations there and back, the search against a plain filter, and the log's statements."""

import json
import random
import sqlite3
from pathlib import Path

import pytest
from playhouse.migrations import Runner

from tinknot.services import accounts, joints
from tinknot.services.opening import close_site, open_site
from tinknot.store import log, search
from tinknot.store.database import MIGRATIONS, db, open_database
from tinknot.store.models import TABLES


@pytest.fixture
def opened(tmp_path: Path):
    open_site(tmp_path / "s.db")
    yield tmp_path / "s.db"
    close_site()


def columns(path: Path) -> dict[str, set[str]]:
    with sqlite3.connect(path) as found:
        names = [r[0] for r in found.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {n: {c[1] for c in found.execute(f'PRAGMA table_info("{n}")')} for n in names}


def test_migrations_make_what_the_models_name(opened: Path):
    there = columns(opened)
    for model in TABLES:
        wanted = {f.column_name for f in model._meta.sorted_fields}
        assert there[model._meta.table_name] == wanted, model


def test_an_older_database_is_upgraded_and_keeps_what_it_holds(opened: Path):
    runa = accounts.add_person("runa", "Runa", "jointer", "a-long-password")
    joints.create(joints.JointNew(ref="J-1", title="Feeder"), runa)
    runner = Runner(db, str(MIGRATIONS))
    for _ in range(7):  # examples, after a release, summaries, people, trust, kit sheets, tools and PINs
        runner.down()
    assert "kit_sheet" not in columns(opened)
    assert "tool" not in columns(opened)
    assert "pin_hash" not in columns(opened)["user"]
    open_database(opened)
    assert "pin_hash" in columns(opened)["user"]
    assert [p.username for p in accounts.everybody()] == ["runa"]
    assert joints.get("J-1").title == "Feeder"
    assert accounts.sign_in("runa", "a-long-password") is not None


def test_durable_settings(opened: Path):
    def pragma(name: str) -> object:
        return db.execute_sql(f"PRAGMA {name}").fetchone()[0]

    assert (pragma("journal_mode"), pragma("synchronous"), pragma("foreign_keys")) == ("wal", 2, 1)


def test_search_equals_a_plain_filter(opened: Path):
    pick = random.Random(4)
    rows = []
    for i in range(300):
        row = {
            "ref": f"R-{i}",
            "title": pick.choice(("Feeder", "Lamp", "Pümp")) + f" {i % 7}",
            "where": pick.choice(("tunnel", "loop pit")),
            "state": pick.choice(("draft", "released")),
        }
        rows.append(row)
        db.execute_sql(
            "INSERT INTO joint(ref, title, draft, state, version, revision, created, updated, created_by)"
            " VALUES (?, ?, ?, ?, 1, 0, '', '', '')",
            (row["ref"], row["title"], json.dumps({"card": {"where": row["where"]}}), row["state"]),
        )
    for word, state in (
        ("tunnel", None),
        ("lamp", "released"),
        ("pump", None),
        ("", "draft"),
        ("", None),
        ("nowhere", None),
    ):
        wanted = [
            r["ref"]
            for r in reversed(rows)
            if (state is None or r["state"] == state)
            and word in f"{r['title']} {r['where']}".lower().replace("ü", "u")
        ]
        found: list[str] = []
        before = None
        while page := search.newest(f'"{word}"*' if word else "", state, before, 17):
            found += [r[1] for r in page]
            before = page[-1][0]
        assert found == wanted, (word, state)


def test_log_keeps_order_and_refuses_what_stands_twice(opened: Path):
    runa = accounts.add_person("runa", "Runa", "jointer", "a-long-password")
    joints.create(joints.JointNew(ref="J-1"), runa)
    row = joints.row_of("J-1")
    assert log.head(row.id) is None
    for n in (1, 2, 3):
        log.add(row.id, n, f"id-{n}", "{}", digest=f"hash-{n}")
    assert log.head(row.id) == (3, "hash-3")
    assert [n for n, _, _ in log.since(row.id, 2)] == [2, 3]
    assert log.joint_of("id-2") == row.id
    assert log.joint_of("nobody") is None
    for number, event in ((3, "id-9"), (9, "id-3")):
        with pytest.raises(Exception, match="UNIQUE"):
            log.add(row.id, number, event, "{}", digest="x")
    assert log.newest_revision(row.id) is None
    assert log.revision(row.id, 1) is None
