"""Times that cannot be true are kept and flagged, and open nothing. An id stands for one event of one
person."""

from datetime import timedelta

import pytest

from tests.clock import CLOCK
from tests.web.test_joint import event, readings


def send(api, body, status: int = 201):
    return api("POST", "/joints/J-1/events", body, status)


def steps_of(api):
    return api("GET", "/joints/J-1/work")["plan"]["steps"]


def test_a_whole_build_dated_five_years_back_does_not_count(planned):
    """No wait is skipped by dating what it follows into the past."""
    taken = []
    for step in steps_of(planned):
        at = (CLOCK.moment - timedelta(days=5 * 365)).isoformat()
        if step["kind"] != "sign":
            taken.append(send(planned, event(step["id"], values=readings(step)) | {"client_time": at}))
    assert [t["event"]["step"] for t in taken if t["counts"]] == []
    assert "before its plan was made" in taken[0]["why"]
    work = planned("GET", "/joints/J-1/work")
    assert len(work["events"]) == len(taken)  # kept
    assert len(work["progress"]["flags"]) == len(taken)  # and flagged
    assert work["progress"]["done"] == 0


def test_dated_before_a_step_it_needs(planned):
    first, second = steps_of(planned)[:2]
    assert first["id"] in second["needs"]
    CLOCK.on(hours=5)
    assert send(planned, event(first["id"], values=readings(first)))["counts"]
    early = (CLOCK.moment - timedelta(hours=1)).isoformat()
    found = send(planned, event(second["id"], values=readings(second)) | {"client_time": early})
    assert not found["counts"]
    assert f"before {first['title']} was done" in found["why"]
    assert send(planned, event(second["id"], values=readings(second)))["counts"]


@pytest.mark.parametrize("sent", [False, True])
def test_dated_after_the_servers_clock(planned, sent: bool):
    ahead = CLOCK.moment + timedelta(hours=30)
    body = event("isolated", minutes=0) | {"client_time": ahead.isoformat()}
    if sent:  # the device's clock is right, so this has not happened yet
        body["sent_time"] = CLOCK.moment.isoformat()
    found = send(planned, body)
    assert not found["counts"]
    assert "after the server's clock" in found["why"]
    assert found["event"]["at"] <= found["event"]["server_time"]


def test_a_temperature_cannot_be_noted_into_the_past(planned):
    """Readings that a cure is counted by are looked at as well."""
    found = send(planned, event("isolated", "reading") | {"client_time": "2021-01-01T00:00:00Z"})
    assert not found["counts"]


def test_a_fault_is_a_fault_whenever_it_says_it_was(planned):
    found = send(
        planned, event("isolated", "fault", text="a live core") | {"client_time": "2021-01-01T00:00:00Z"}
    )
    assert found["progress"]["state"] == "stopped"
    assert found["progress"]["flags"]


def test_clocks_that_differ_a_little_are_no_matter(planned):
    first, second = steps_of(planned)[:2]
    send(planned, event(first["id"], values=readings(first)))
    near = (CLOCK.moment - timedelta(seconds=50)).isoformat()
    assert send(planned, event(second["id"], values=readings(second)) | {"client_time": near})["counts"]


@pytest.mark.parametrize(
    "moment",
    [
        "0001-01-01T00:00:00+14:00",
        "0001-01-01T00:00:00Z",
        "9999-12-31T23:59:59-14:00",
        "9999-12-31T23:59:59Z",
        "0001-01-01T00:00:00",
    ],
)
@pytest.mark.parametrize("field", ["client_time", "sent_time"])
def test_the_ends_of_the_calendar(planned, moment: str, field: str):
    found = send(planned, event("isolated", minutes=0) | {field: moment})
    if field == "client_time":
        assert not found["counts"]
    assert planned("GET", "/joints/J-1/work")["progress"]["total"] > 0


# --- ids ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "change",
    [
        {"text": "other"},
        {"step": "prove-dead"},
        {"kind": "note"},
        {"device": "x"},
        {"client_time": "2026-02-03T08:30:00Z"},
    ],
    ids=lambda c: next(iter(c)),
)
def test_an_id_used_again_for_something_else_is_a_conflict(planned, change: dict):
    same = event("isolated", values={}, text="first")
    first = send(planned, same)
    assert send(planned, same)["event"] == first["event"]
    change = {"step": steps_of(planned)[1]["id"]} if "step" in change else change
    assert "used before" in send(planned, same | change, 409)["detail"]
    assert len(planned("GET", "/joints/J-1/work")["events"]) == 1


def test_an_id_used_again_by_another_person_is_a_conflict(planned, sign_in):
    same = event("isolated")
    send(planned, same)
    assert "another person" in sign_in("eskil")("POST", "/joints/J-1/events", same, 409)["detail"]


def test_an_event_sent_again_later_is_still_the_same(planned):
    same = event("isolated") | {"sent_time": CLOCK.moment.isoformat()}
    first = send(planned, same)
    CLOCK.on(hours=2)
    assert send(planned, same | {"sent_time": CLOCK.moment.isoformat()})["event"] == first["event"]
