"""What lists show of a joint is kept beside it: no list folds a joint, and nothing stale is ever shown."""

from threading import Thread

import pytest

from tests.web import test_joint
from tests.web.test_joint import event, filled, work_to
from tinknot.core.work.cureclock import CureState
from tinknot.core.work.summary import Summary, Wait
from tinknot.services import building, events, folds, summaries
from tinknot.store.database import close, db
from tinknot.store.faults import DiskFull
from tinknot.store.models import EventRow, Joint, PlanRevision, SummaryRow

stocked = test_joint.stocked


@pytest.fixture
def unfolded(monkeypatch):
    """From here on nobody folds a joint."""

    def never(*_: object) -> None:
        raise AssertionError("a list folded a joint")

    return lambda: [monkeypatch.setattr(folds, n, never) for n in ("progress_of", "plan_of_revision")]


@pytest.fixture
def planned(stocked):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    return stocked


def test_the_board_is_read_off_the_summaries(planned, unfolded):
    work_to(planned, "measured")
    total = planned("GET", "/joints/J-1/work")["progress"]["total"]
    before = planned("GET", "/board")
    unfolded()
    found = planned("GET", "/board")
    assert found == before
    named = found["loose"]["items"][0]
    assert (named["state"], named["share"]) == ("building", pytest.approx(2 / total))
    assert found["today"][0]["next"].startswith("Take the sheath off")
    assert planned("GET", "/joints")["items"][0]["state"] == "building"


def test_every_event_and_plan_writes_it_anew(planned):
    def next_of() -> str:
        return planned("GET", "/board")["today"][0]["next"]

    assert next_of() == "Isolate and prove dead"
    planned("POST", "/joints/J-1/events", event("isolated"), 201)
    assert SummaryRow.select().count() == 1
    assert next_of() == "Check the readings against the cable"
    planned("POST", "/joints/J-1/events", event("isolated", "fault", text="wrong cable"), 201)
    assert next_of() == "wrong cable"


@pytest.mark.parametrize("change", ["draft", "plan", "event", "event gone"])
def test_whatever_changes_underneath_takes_it_away(planned, change: str):
    planned("POST", "/joints/J-1/events", event("isolated"), 201)
    assert SummaryRow.select().count() == 1
    match change:
        case "draft":
            Joint.update(draft='{"cards": 3}').execute()
        case "plan":
            PlanRevision.update(plan="[").execute()
        case "event":
            EventRow.update(body="{").execute()
        case _:
            EventRow.delete().execute()
    assert SummaryRow.select().count() == 0
    folds._kept.clear()  # as after a start
    folds._plan.cache_clear()
    row = planned("GET", "/board")["loose"]["items"][0]
    if change == "event gone":
        assert row["share"] == 0
    else:
        assert row["unreadable"]
    assert SummaryRow.select().count() == 1


def test_a_full_disk_stops_no_list(planned, monkeypatch):
    db.execute_sql("DELETE FROM summary")

    def full(*_: object) -> None:
        raise DiskFull("no room")

    monkeypatch.setattr(summaries.summaries, "keep", full)
    board = planned("GET", "/board")
    assert board["today"][0]["next"] == "Isolate and prove dead"
    assert board["loose"]["items"][0]["unreadable"] == ""


def test_the_number_of_statements_does_not_grow_with_the_joints(planned, statements):
    planned("GET", "/board")
    few = statements(planned, "/board")
    line = planned("POST", "/lines", {"name": "Feeder", "length_m": 2400}, 201)
    for n in range(30):
        planned("POST", "/joints", {"ref": f"K-{n}", "line_id": line["id"], "at_m": n}, 201)
    planned("GET", "/board")
    assert statements(planned, "/board") == few


CURE = CureState(
    step="cure",
    since="2026-11-26T08:00:00+00:00",
    at="2026-11-26T08:00:00+00:00",
    fraction=0.0,
    temperature_c=10,
    handle=0.5,
    handle_at=None,
    full_at="2026-11-26T12:00:00+00:00",
    readings=[],
)


def test_what_cured_is_to_be_proved_by_the_clock_alone():
    s = Summary(cures=[CURE], waits=[Wait(label="cooling", ready_at="2026-11-26T09:00:00+00:00")])
    morning, noon = "2026-11-26T10:00:00+00:00", "2026-11-26T12:00:00+00:00"
    assert s.state_at("curing", morning) == "curing"
    assert s.state_at("curing", noon) == "to prove"
    assert s.state_at("building", noon) == "building"
    assert [w.label for w in s.waits_at(morning)] == ["curing"]
    assert s.waits_at(noon) == []
    assert s.cured_at(morning) == pytest.approx(0.5)
    assert Summary(cures=[CURE.model_copy(update={"full_at": None})]).state_at("curing", noon) == "curing"


def elsewhere(act) -> None:
    """Done by another thread, with a connection of its own, before this one goes on."""

    def alone() -> None:
        act()
        close()

    thread = Thread(target=alone)
    thread.start()
    thread.join()


def test_what_an_event_overtakes_is_not_kept(planned, monkeypatch):
    db.execute_sql("DELETE FROM summary")
    fold, told = summaries._fold, []

    def overtaken(row: Joint) -> Summary:
        found = fold(row)
        if not told:
            told.append(True)
            elsewhere(lambda: planned("POST", "/joints/J-1/events", event("isolated"), 201))
        return found

    monkeypatch.setattr(summaries, "_fold", overtaken)
    planned("GET", "/board")
    assert planned("GET", "/board")["loose"]["items"][0]["share"] > 0


def test_the_log_and_the_progress_of_an_answer_are_of_one_moment(planned, monkeypatch):
    """Or a page would take the event for known and show the step before it once more."""
    read, told = events.events_of, []

    def meanwhile(row: Joint, number: int = 1):
        if number == 1 and not told:  # the log is asked for after the fold
            told.append(True)
            elsewhere(lambda: planned("POST", "/joints/J-1/events", event("isolated"), 201))
        return read(row, number)

    planned("GET", "/joints/J-1/work")
    monkeypatch.setattr(building.events, "events_of", meanwhile)
    found = planned("GET", "/joints/J-1/work")
    done = [s["id"] for s in found["progress"]["steps"] if s["state"] == "done"]
    assert told
    assert [e["step"] for e in found["events"]] == done
    again = planned("GET", "/joints/J-1/work")
    assert [e["step"] for e in again["events"]] == ["isolated"]
