"""The board of many joints: what can be looked at is shown, the rest is counted."""

import pytest

from tinknot.services import board as boards
from tinknot.store.database import db

MANY = 400


@pytest.fixture
def crowded(runa):
    """A line with so many joints, every fourth open, one stopped in their midst; some joints nowhere."""
    line = runa("POST", "/lines", {"name": "Feeder", "length_m": 1000}, 201)["id"]
    runa("POST", "/joints", {"ref": "K-0", "line_id": line, "at_m": 0, "title": "Lamp"}, 201)
    (row,) = db.execute_sql("SELECT draft, created, created_by FROM joint").fetchall()
    made = (
        "INSERT INTO joint (ref, title, line_id, at_m, state, limits, draft, version, revision, created,"
        " created_by, updated) VALUES (?, '', ?, ?, ?, ?, ?, 1, 0, ?, ?, '')"
    )
    for n in range(1, MANY):
        state = "draft" if n % 4 == 0 else "released with a limit" if n % 4 == 1 else "released"
        at = None if n % 50 == 1 else n * 1000 / MANY
        limits = "no pull" if n % 4 == 1 else ""
        db.execute_sql(made, (f"K-{n}", line, at, "stopped" if n == 200 else state, limits, *row))
    for _ in range(MANY // 100 + 1):
        runa("GET", "/board")  # summaries are made
    return runa


def test_all_are_counted_and_as_many_named_as_can_be_looked_at(crowded):
    found = crowded("GET", "/board")
    counts = {s["state"]: s["count"] for s in found["states"]}
    assert counts == {"stopped": 1, "draft": 99, "released": 200, "released with a limit": 100}
    assert list(counts)[:2] == ["stopped", "draft"]  # what calls for hands stands first
    knots = found["knots"]
    assert sum(len(k["joints"]) + k["more"] for k in knots) == MANY - 8
    assert len(knots) <= 13
    (stopped,) = (k for k in knots if k["joints"][0]["state"] == "stopped")
    assert stopped["joints"][0]["ref"] == "K-200"
    assert len(found["loose"]["items"]) + found["loose"]["more"] == 8
    assert len(found["limited"]["items"]) + found["limited"]["more"] == 100
    assert found["limited"]["items"][0]["ref"] == "K-397"
    assert (len(found["today"]), found["waiting"]) == (boards.MOST_TODAY, 100)


def test_the_rest_of_what_waits_is_told_when_asked_for(crowded, sign_in):
    first = crowded("GET", "/board")["today"]
    whole = crowded("GET", "/today")["items"]
    assert whole[: len(first)] == first
    assert len(whole) == len({t["ref"] for t in whole}) == 100
    assert sign_in(None)("GET", "/today", status=401)["status"] == 401


def test_it_stays_small_and_asks_no_more_statements_however_many_there_are(crowded, statements):
    def asked(path: str) -> int:
        return statements(crowded, path)

    few = asked("/board"), asked("/today")
    db.execute_sql(
        "INSERT INTO joint (ref, title, line_id, at_m, state, limits, draft, version, revision, created,"
        " created_by, updated) SELECT 'M-' || id, title, line_id, at_m, state, limits, draft, 1, 0, created,"
        " created_by, '' FROM joint"
    )
    for _ in range(MANY // 100 + 1):
        crowded("GET", "/board")
    assert (asked("/board"), asked("/today")) == few
    assert len(str(crowded("GET", "/board"))) < 50_000


def test_what_is_told_again_is_never_old(crowded):
    def stands(ref: str) -> str:
        (now,) = {t["state"] for t in crowded("GET", "/today")["items"] if t["ref"] == ref} or {"nowhere"}
        return now

    first = crowded("GET", "/board")
    assert crowded("GET", "/board") == first
    db.execute_sql("UPDATE joint SET state = 'released' WHERE ref = 'K-200'")  # by whatever way
    counts = {s["state"]: s["count"] for s in crowded("GET", "/board")["states"]}
    assert (counts["released"], "stopped" in counts) == (201, False)
    assert stands("K-200") == "nowhere"
    crowded("POST", "/zones", {"name": "Loop", "from_m": 1, "to_m": 9}, 201)
    assert crowded("GET", "/board")["zones"]
    db.execute_sql("UPDATE joint SET title = 'A lamp' WHERE ref = 'K-4'")
    assert "A lamp" in str(crowded("GET", "/board"))
