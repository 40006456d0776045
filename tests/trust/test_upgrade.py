"""What cannot be read shows as that, alone; what is newer is refused and not touched."""

import hashlib
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from tests.fixtures.databases import lay_out
from tests.web.test_joint import event
from tinknot.services import folds
from tinknot.store.database import NewerDatabase, open_database
from tinknot.store.models import EventRow, Joint, KitSheetRow, PlanRevision
from tinknot.web.app import create_app

SPOILED = {
    "plan of a newer version": (PlanRevision, "plan", '{"format": 99}'),
    "plan that is no plan": (PlanRevision, "plan", '{"verdict": "planned"}'),
    "plan cut off": (PlanRevision, "plan", '{"verdict": "pla'),
    "plan nested without end": (PlanRevision, "plan", "[" * 100_000),
    "draft of a newer version": (Joint, "draft", '{"format": 99}'),
    "draft that is none": (Joint, "draft", '{"cards": 3}'),
    "draft cut off": (Joint, "draft", '{"card": {'),
    "event cut off": (EventRow, "body", '{"kind": "do'),
    "event of a newer version": (EventRow, "body", '{"format": 99, "kind": "melted"}'),
}


@pytest.mark.parametrize("what", SPOILED)
def test_a_joint_that_cannot_be_read_shows_as_that_alone(planned, what: str):
    planned("POST", "/joints", {"ref": "J-2", "title": "The other one"}, 201)
    planned("POST", "/joints/J-1/events", event("isolated"), 201)
    table, field, value = SPOILED[what]
    key = table.ref == "J-1" if table is Joint else table.joint == Joint.get(Joint.ref == "J-1")
    table.update({field: value}).where(key).execute()
    folds._plan.cache_clear()  # as after a restart: plans that were read are kept at hand
    folds._kept.clear()
    board = planned("GET", "/board")
    shown = {j["ref"]: j["unreadable"] for j in board["loose"]["items"]}
    assert [j["ref"] for j in board["unreadable"]["items"]] == ["J-1"]
    assert {s["state"]: s["count"] for s in board["states"]} == {"draft": 1, "cannot be read": 1}
    assert shown["J-2"] == ""
    assert shown["J-1"], what
    assert ("newer" in shown["J-1"]) == ("newer" in what)
    assert [t["ref"] for t in board["today"]] == ["J-2"]
    assert {j["ref"] for j in planned("GET", "/joints?text=J")["items"]} == {"J-1", "J-2"}
    planned("GET", "/joints/J-2")
    for path in (
        "",
        "/work",
        "/plans",
        "/record.json",
        "/record.pdf",
        "/card.pdf",
        "/label.pdf",
        "/verdict",
        "/kits",
        "/earlier",
        "/file",
    ):
        answer = planned.client.get(f"/api/v1/joints/J-1{path}")
        assert answer.status_code < 500, (path, answer.text)
        if answer.status_code == 422 and path != "/kits":
            assert answer.json["type"] == "tinknot:unreadable", (path, answer.text)
    assert planned("GET", "/joints/J-1/work", status=422)["detail"]


def test_a_sheet_that_cannot_be_read_shows_as_that_alone(planned, sign_in):
    sheet = planned("GET", "/sheets/trace-end-p1")["sheet"] | {"id": "own", "state": "draft"}
    planned("PUT", "/sheets/own", sheet, If_Match='"0"')
    KitSheetRow.update(body='{"format": 99}').execute()
    found = planned("GET", "/sheets")
    assert "own" not in {s["id"] for s in found["items"]}
    assert "newer" in found["unreadable"][0]
    assert planned("GET", "/sheets/own", status=422)["type"] == "tinknot:unreadable"


def digest(folder: Path) -> dict[str, str]:
    return {
        p.name: hashlib.sha256(p.read_bytes()).hexdigest() for p in sorted(folder.iterdir()) if p.is_file()
    }


@pytest.mark.parametrize("log", [False, True], ids=["at rest", "with a log beside it"])
def test_a_newer_database_is_refused_without_touching_a_byte(tmp_path: Path, log: bool):
    database = lay_out("ee97242", tmp_path / "data")
    connection = sqlite3.connect(database)
    connection.execute("PRAGMA journal_mode=wal")
    connection.execute("INSERT INTO schema_migration(name, applied) VALUES ('9999_future', '2030-01-01')")
    connection.execute("ALTER TABLE joint ADD COLUMN colour TEXT")
    connection.commit()
    if log:
        assert (tmp_path / "data" / "tinknot.db-wal").stat().st_size
        for file in ("tinknot.db", "tinknot.db-wal"):
            (tmp_path / file).write_bytes((tmp_path / "data" / file).read_bytes())
    connection.close()
    if log:  # as after a power cut
        for file in ("tinknot.db", "tinknot.db-wal"):
            (tmp_path / file).rename(tmp_path / "data" / file)
    before = digest(tmp_path / "data")
    with pytest.raises(NewerDatabase, match="9999_future"):
        open_database(database)
    with pytest.raises(NewerDatabase):
        create_app({"DATABASE": database, "SECRET_KEY": "t"})
    assert digest(tmp_path / "data") == before


def test_an_upgrade_that_breaks_off_can_be_done_again(tmp_path: Path, monkeypatch):
    database = lay_out("cf88620", tmp_path / "data")
    from playhouse.migrations import Runner

    real = Runner._run

    def broken(self, name, *given, **more):
        if name == "0005_trust":
            self.database.execute_sql("ALTER TABLE joint ADD COLUMN half TEXT")
            raise KeyboardInterrupt
        return real(self, name, *given, **more)

    monkeypatch.setattr(Runner, "_run", broken)
    with pytest.raises(KeyboardInterrupt):
        open_database(database)
    monkeypatch.undo()
    with closing(sqlite3.connect(database)) as connection:
        names = {n for (n,) in connection.execute("SELECT name FROM schema_migration")}
    assert "0005_trust" not in names
    open_database(database)
    assert Joint.select().count() == 20
