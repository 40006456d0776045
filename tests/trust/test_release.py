"""A release is one transaction: what is signed is what was built, and nothing changes it afterwards."""

import copy
import json
import threading

import pytest

from tests.joints import joint_dict
from tests.web.test_joint import event
from tinknot.services import folds, joints, planning, records
from tinknot.store.models import EventRow, Joint, PlanRevision


def version(api) -> str:
    return f'"{api("GET", "/joints/J-1")["version"]}"'


def test_a_reading_changed_just_before_is_not_signed_over(ready, sign_in):
    ends = copy.deepcopy(joint_dict()["ends"])
    ends["A"]["sheath_od_mm"] = 61.7
    ready("PATCH", "/joints/J-1", {"ends": ends}, If_Match=version(ready))
    refused = sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 403)
    assert "End A, sheath OD: planned with 15.4 mm, now 61.7 mm" in refused["detail"]
    assert ready("GET", "/joints/J-1/work")["departures"] == [
        "End A, sheath OD: planned with 15.4 mm, now 61.7 mm"
    ]
    ready("PATCH", "/joints/J-1", {"ends": joint_dict()["ends"]}, If_Match=version(ready))
    sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)


def test_what_is_no_reading_may_change_before_a_release(ready, sign_in):
    """The permit's number and the title are not what the joint was built to."""
    card = ready("GET", "/joints/J-1")["draft"]["card"] | {"permit": "P-9"}
    ready("PATCH", "/joints/J-1", {"card": card, "title": "Feeder, pit 4"}, If_Match=version(ready))
    sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)


def test_a_release_of_an_older_plan_is_refused(ready, sign_in):
    ready("POST", "/joints/J-1/plans", status=201, If_Match=version(ready))
    refused = sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 403)
    assert "planned again" in refused["detail"]


def test_the_version_rises_so_that_what_was_on_its_way_is_refused(ready, sign_in):
    before = version(ready)
    sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)
    assert version(ready) != before
    for known in (before, version(ready)):
        ready("PATCH", "/joints/J-1", {"title": "x"}, 403, If_Match=known)
        ready("PATCH", "/joints/J-1", {"at_m": 5}, 403, If_Match=known)
        ready("POST", "/joints/J-1/plans", status=403, If_Match=known)
    ready("POST", "/joints/J-1/events", event("", "note", text="dry in spring"), 201)
    assert ready("GET", "/joints/J-1/verdict")["signed"]


@pytest.mark.parametrize("other", ["plan", "edit", "line", "event"])
def test_whatever_comes_at_the_same_moment_leaves_a_record_that_verifies(
    ready, sign_in, app, monkeypatch, other: str
):
    """The other request has looked at the joint before the release and writes after it."""
    eskil, line = sign_in("eskil"), ready("POST", "/lines", {"name": "Feeder", "length_m": 900}, 201)["id"]
    known, reached, go = version(ready), threading.Event(), threading.Event()
    place, slow = {
        "plan": (planning, "file_of"),
        "edit": (joints, "draft_of"),
        "line": (joints, "draft_of"),
        "event": (folds, "plan_of_revision"),
    }[other]  # looked at before anything is written
    real = getattr(place, slow)

    def held(*given, **more):
        if threading.current_thread().name == "late":
            reached.set()
            go.wait(10)
        return real(*given, **more)

    monkeypatch.setattr(place, slow, held)
    answers: list[int] = []

    def late() -> None:
        client = app.test_client()
        csrf = client.post("/api/v1/session", json={"username": "runa", "password": "a-long-password"}).json[
            "csrf"
        ]
        headers = {"X-CSRF-Token": csrf, "If-Match": known}
        match other:
            case "plan":
                answer = client.post("/api/v1/joints/J-1/plans", headers=headers)
            case "event":
                answer = client.post(
                    "/api/v1/joints/J-1/events", json=event("join.1", "undone", minutes=0), headers=headers
                )
            case _:
                body = {"line_id": line} if other == "line" else {"title": "other"}
                answer = client.patch("/api/v1/joints/J-1", json=body, headers=headers)
        answers.append(answer.status_code)

    thread = threading.Thread(target=late, name="late")
    thread.start()
    reached.wait(5)
    eskil("POST", "/joints/J-1/events", event("released"), 201)
    go.set()
    thread.join(20)
    assert answers[0] in (
        (201,) if other == "event" else (403, 409)
    )  # what was done is kept, behind the release
    assert ready("GET", "/joints/J-1")["state"] == "released"
    found = ready("GET", "/joints/J-1/verdict")
    assert found["signed"], found["words"]


# --- what the signature covers ------------------------------------------------------------------------------


def test_a_reader_gets_a_copy_of_what_stood_round_the_joint(released):
    kept = json.loads(released("GET", "/joints/J-1/record.json"))
    assert kept["scheme"] == 2
    assert kept["copy"]["state"] == "released"
    assert kept["copy"]["rules"]["grip.pct"] == 10
    assert kept["copy"].keys() >= {"line", "line_id", "at_m", "made_from"}
    assert "first scheme" not in records.verdict("J-1").words


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("at_m", 999.0, "at m"),
        ("state", "released with a limit", "state"),
        ("state", "building", "state"),
        ("draft", '{"card": {"where": "Pit 5"}}', "changed after the release"),
        ("title", "Other", "changed after the release"),
        ("sealed", '{"state": "released"}', "changed after the release"),
        ("signature", None, "the signature is missing"),
    ],
)
def test_a_row_changed_in_the_database_is_found(released, field: str, value, words: str):
    Joint.update({field: value}).where(Joint.ref == "J-1").execute()
    found = released("GET", "/joints/J-1/verdict")
    assert not found["intact"]
    assert words in found["words"]


def test_what_a_plan_was_made_from_is_covered_too(released):
    row = PlanRevision.get()
    row.file = row.file.replace("15.4", "15.5")
    row.save()
    assert "Changed after the release: made from" in released("GET", "/joints/J-1/verdict")["words"]


# --- before the release -------------------------------------------------------------------------------------


def rechained(rows: list[EventRow], change: dict) -> None:
    """The chain made whole again over changed events, as somebody does who can write to the database."""
    from tinknot.core.plan.plan import canonical
    from tinknot.core.work.events import GENESIS, chained

    previous = GENESIS
    for number, row in enumerate(rows, 1):
        body = {k: v for k, v in json.loads(row.body).items() if k not in ("number", "previous")} | change
        made = chained(body, number, previous)
        row.number, row.body, row.hash = (
            number,
            canonical(made.model_dump(exclude={"hash"}, exclude_unset=True)),
            made.hash,
        )
        row.save()
        previous = made.hash


@pytest.mark.parametrize("what", ["last removed", "all removed", "re-chained", "one left out", "rolled back"])
def test_events_of_an_unreleased_joint_cannot_be_changed_unseen(ready, what: str):
    assert ready("GET", "/joints/J-1/verdict")["intact"]
    rows = list(EventRow.select().order_by(EventRow.number))
    if what == "last removed":
        rows[-1].delete_instance()
    elif what == "all removed":
        EventRow.delete().execute()
    elif what == "re-chained":
        rechained(rows, {"actor": "Somebody Else"})
    elif what == "one left out":
        rows[3].delete_instance()
        rechained(rows[:3] + rows[4:], {})
    else:
        EventRow.delete().where(EventRow.number > 5).execute()
    found = ready("GET", "/joints/J-1/verdict")
    assert not found["intact"], what
    ready("POST", "/joints/J-1/events", event("", "note", text="work goes on"), 201)
    assert not ready("GET", "/joints/J-1/verdict")["intact"], "a new event must not cover it up"
