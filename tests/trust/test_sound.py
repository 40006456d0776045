"""Released means sound, through the server: what stands against a release, whose events they are, what came
late, what was altered, and what a released joint looks like ever after."""

import io
import json
from datetime import UTC, datetime, timedelta

import pytest
from pypdf import PdfReader

from tests.clock import CLOCK
from tests.web.conftest import PASSWORD
from tests.web.test_joint import confirmed, event, filled, pace, work_to
from tinknot.core.plan.plan import canonical
from tinknot.core.work.events import chained
from tinknot.services import records, verifying
from tinknot.store import heads
from tinknot.store.models import EventRow, Joint, PlanRevision


def send(api, body, status: int = 201):
    return api("POST", "/joints/J-1/events", body, status)


def verdict(api) -> dict:
    return api("GET", "/joints/J-1/verdict")


# --- the whole state space of a joint's end, through the server
# ----------------------------------------------

ENDS = {
    "good": (),
    "open fault": ("fault",),
    "a reading that fails": ("fails",),
    "outside, kept": ("kept",),
    "departure": ("departs",),
    "fault and departure": ("fault", "departs"),
    "altered": ("altered",),
    "tool past its date, accepted": ("tool",),
    "not yet": ("label left out",),
}
SIGNERS = {"viewer": "vera", "jointer who built": "runa", "verifier": "eskil", "admin": "ylva"}


@pytest.fixture(params=ENDS, ids=lambda e: e)
def ended(request, planned, sign_in) -> tuple[str, tuple[str, ...]]:
    """J-1 built to its end, with what is told of it."""
    what = ENDS[request.param]
    if "tool" in what:
        past = (CLOCK() - timedelta(days=3)).date().isoformat()
        tool = {"name": "IT-9", "kind": "insulation-tester", "due": past}
        sign_in("eskil")("POST", "/tools", tool, 201)
    for step in planned("GET", "/joints/J-1/work")["plan"]["steps"]:
        if step["id"] == "released" or (step["id"] == "label" and "label left out" in what):
            break
        body, who = confirmed(step), planned
        if "kept" in what and step["id"] == "cut.sheath.A":
            body |= {"values": {"distance": body["values"]["distance"] + 9}, "text": "nothing near it"}
        if "tool" in what and "insulation-tester" in step["tools"]:
            body |= {"tools": {"insulation-tester": "IT-9"}, "text": "compared today"}
            who = sign_in("ylva")
        taken = send(who, body)
        assert taken["counts"], taken["why"]
    if "fault" in what:
        send(planned, event("label", "fault", text="a gap at end A"))
    if "fails" in what:
        send(planned, event("test.after.insulation", "reading", values={"core-1": 0.02}))
    if "departs" in what:
        ends = json.loads(json.dumps(planned("GET", "/joints/J-1")["draft"]["ends"]))
        ends["A"]["sheath_od_mm"] = 20.5
        at = f'"{planned("GET", "/joints/J-1")["version"]}"'
        planned("PATCH", "/joints/J-1", {"ends": ends}, If_Match=at)
    if "altered" in what:
        row = EventRow.select().order_by(EventRow.number.desc()).first()
        row.delete_instance()
    return request.param, what


def test_no_release_is_taken_that_should_be_refused_and_none_refused_that_should_be_taken(
    ended, planned, sign_in
):
    name, what = ended
    sound = not set(what) & {"fault", "fails", "departs", "altered", "label left out"}
    shown = planned("GET", "/joints/J-1/work")
    assert (shown["against"] == []) is sound, shown["against"]
    for role, username in SIGNERS.items():
        built = role == "jointer who built" or (role == "admin" and "tool" in what)
        may = role in ("verifier", "admin") and not built
        limit = "no pull, no flex" if "kept" in what else ""
        answer = _tried(sign_in(username), limit)
        taken = answer.status_code == 201 and answer.json["counts"]
        assert taken is (sound and may), (name, role, answer.text[:300])
        assert (Joint.get().state.startswith("released")) is taken
        if taken:
            break
    told = json.dumps(planned("GET", "/joints/J-1/work")["judgement"], ensure_ascii=False)
    assert ("a gap at end A" in told) is ("fault" in what)
    assert ("IT-9 was due" in told) is ("tool" in what)


def _tried(api, limit: str):
    body = {"by": api.mark} | event("released", text=limit, minutes=0)
    return api.client.post("/api/v1/joints/J-1/events", json=body, headers={"X-CSRF-Token": api.csrf})


# --- what was altered is not laundered
# -------------------------------------------------------------------------


def test_an_altered_log_is_neither_released_nor_exported_as_whole(ready, sign_in):
    rows = list(EventRow.select().order_by(EventRow.number))
    rows[-1].delete_instance()
    refused = send(sign_in("eskil"), event("released"), 403)
    assert "not all of them are there any more" in refused["detail"]
    found = verifying.verify(ready.client.get("/api/v1/joints/J-1/record.json").data)
    assert not found.intact
    assert "Altered before it left the site" in found.words
    text = "".join(
        p.extract_text() for p in PdfReader(io.BytesIO(ready("GET", "/joints/J-1/record.pdf"))).pages
    )
    assert "Altered: the site signed" in text
    label = PdfReader(io.BytesIO(ready("GET", "/joints/J-1/label.pdf"))).pages[0].extract_text()
    assert "altered" in label


def spoil_event(row: EventRow, number: int, previous: str) -> str:
    body = {k: v for k, v in json.loads(row.body).items() if k not in ("number", "previous")}
    made = chained(body | {"actor": "Nobody"}, number, previous)
    row.body = canonical(made.model_dump(exclude={"hash"}, exclude_unset=True))
    row.hash = made.hash
    row.save()
    return made.hash


@pytest.mark.parametrize(
    "what", ["rolled back", "re-chained", "appended", "plan loosened", "plan added", "nothing"]
)
def test_taking_the_checkpoints_away_covers_nothing_up(ready, what: str):
    heads.db.execute_sql("DELETE FROM checkpoint")
    rows = list(EventRow.select().order_by(EventRow.number))
    if what == "rolled back":
        EventRow.delete().where(EventRow.number > 5).execute()
    elif what == "re-chained":
        previous = "0" * 64
        for n, row in enumerate(rows, 1):
            previous = spoil_event(row, n, previous)
    elif what == "appended":
        last = rows[-1]
        body = {k: v for k, v in json.loads(last.body).items() if k not in ("number", "previous")}
        made = chained(body | {"id": "x"}, last.number + 1, last.hash)
        kept = canonical(made.model_dump(exclude={"hash"}, exclude_unset=True))
        EventRow.create(joint=1, number=made.number, event_id="x", body=kept, hash=made.hash)
    elif what == "plan loosened":
        row = PlanRevision.get()
        row.plan = row.plan.replace('"least":1.0', '"least":0.0')
        row.save()
    elif what == "plan added":
        row = PlanRevision.get()
        PlanRevision.create(**{**row.__data__, "id": None, "number": 2})
    found = verdict(ready)
    assert not found["intact"], what
    assert "checkpoint of this joint is missing" in found["words"]
    send(ready, event("", "note", text="work goes on"))
    assert not verdict(ready)["intact"], "a new event must not cover it up"


def test_a_checkpoint_that_was_made_to_fit_is_not_signed_over(ready):
    """Whoever can write both files has no key: the next event does not make their checkpoint good."""
    last = EventRow.select().order_by(EventRow.number.desc()).first()
    last.delete_instance()
    before = EventRow.get(EventRow.number == last.number - 1)
    heads.db.execute_sql("UPDATE checkpoint SET number = ?, hash = ?", (before.number, before.hash))
    assert "checkpoint of this joint was altered" in verdict(ready)["words"]
    send(ready, event("", "note", text="work goes on"))
    assert "checkpoint of this joint was altered" in verdict(ready)["words"]


def test_a_plan_that_was_loosened_is_found_by_its_checkpoint(planned):
    row = PlanRevision.get()
    assert '"least":1.0' in row.plan
    row.plan = row.plan.replace('"least":1.0', '"least":0.0')
    row.save()
    assert "a plan was changed" in verdict(planned)["words"]


def test_a_limit_that_lists_show_is_the_one_released(ready, sign_in):
    assert send(sign_in("eskil"), event("released", text="no pull"))["counts"]
    assert verdict(ready)["signed"]
    Joint.update(limits="").execute()
    assert "the limit that lists show" in verdict(ready)["words"]


# --- what came late
# --------------------------------------------------------------------------------------------


def test_a_fault_seen_before_the_release_and_sent_after_it_stands_on_the_released_joint(ready, sign_in):
    seen = event("label", "fault", text="water in the sleeve")
    CLOCK.on(minutes=30)
    eskil = sign_in("eskil")
    assert send(eskil, event("released"))["progress"]["state"] == "released"
    taken = send(ready, seen | {"sent_time": CLOCK().isoformat()})
    assert not taken["counts"]
    assert taken["why"].startswith("Runa, before the release, sent after it: a fault was seen")
    assert taken["progress"]["state"] == "released"
    (row,) = ready("GET", "/joints")["items"]
    assert "water in the sleeve" in row["late"]
    board = ready("GET", "/board")
    assert "water in the sleeve" in board["late"]["items"][0]["late"]
    found = verdict(ready)
    assert found["signed"]
    assert "1 of them came after the release" in found["words"]
    text = "".join(
        p.extract_text() for p in PdfReader(io.BytesIO(ready("GET", "/joints/J-1/record.pdf"))).pages
    )
    assert "water in the sleeve" in text.replace("\n", " ")
    assert (
        "after the release"
        in PdfReader(io.BytesIO(ready("GET", "/joints/J-1/label.pdf"))).pages[0].extract_text()
    )
    send(eskil, event("label", "settled", about=taken["event"]["id"]))
    assert ready("GET", "/joints")["items"][0]["late"] == ""
    assert ready("GET", "/board")["late"]["items"] == []


# --- whose work it is
# ------------------------------------------------------------------------------------------


def test_whoever_signed_a_hold_by_pin_may_release(planned, sign_in):
    from tests.web.test_at_the_joint import signed

    eskil = sign_in("eskil")
    eskil("PUT", "/session/pin", {"pin": "40719263", "password": PASSWORD})
    for step in planned("GET", "/joints/J-1/work")["plan"]["steps"][:-1]:
        body = confirmed(step)
        if step["hold"]:
            body = signed(step["id"], minutes=pace(step)) | {"values": body["values"]}
        taken = send(planned, body)
        assert taken["counts"], taken["why"]
    assert send(eskil, event("released"))["counts"]


def test_measurements_taken_over_are_work(stocked, sign_in):
    filled(stocked)
    eskil = sign_in("eskil")
    eskil("POST", "/joints", {"ref": "J-2", "title": "Same", "same_as": "J-1"}, 201)
    at = f'"{eskil("GET", "/joints/J-2")["version"]}"'
    stocked("POST", "/joints/J-2/plans", status=201, If_Match=at)
    work_to(stocked, "label", "J-2")
    refused = eskil("POST", "/joints/J-2/events", event("released"), 201)
    assert not refused["counts"]
    assert "second person" in refused["why"]


def test_what_somebody_else_did_is_refused_and_what_says_nothing_is_taken_and_flagged(planned, sign_in):
    eskil = sign_in("eskil")
    stranger = event("isolated") | {"by": planned.mark}
    refused = send(eskil, stranger, 409)
    assert refused["type"] == "tinknot:other-person"
    assert EventRow.select().count() == 0
    assert send(planned, stranger)["counts"]  # under its own sign-in it is taken
    old = send(planned, event("measured") | {"by": ""})  # as an earlier build left it waiting
    assert old["counts"]
    assert "earlier version" in old["why"]
    assert [f["counts"] for f in old["progress"]["flags"]] == [True]


# --- tools and figures
# -----------------------------------------------------------------------------------------


def test_a_site_that_keeps_testers_is_told_which(planned, sign_in):
    tool = {"name": "IT-1", "kind": "insulation-tester", "due": "2027-01-01"}
    sign_in("eskil")("POST", "/tools", tool, 201)
    work_to(planned, "test.before.continuity")
    step = next(
        s for s in planned("GET", "/joints/J-1/work")["plan"]["steps"] if s["id"] == "test.before.insulation"
    )
    assert "nobody said which insulation tester" in send(planned, confirmed(step))["why"]
    assert send(planned, confirmed(step) | {"tools": {"insulation-tester": "IT-1"}})["counts"]


def test_the_record_says_what_was_planned_and_what_was_read(planned):
    for step in planned("GET", "/joints/J-1/work")["plan"]["steps"]:
        body = confirmed(step)
        if step["id"] == "cut.sheath.A":
            body |= {"values": {"distance": 51.5}}
        if step["id"] == "cut.sheath.B":
            body |= {"values": {}}
        send(planned, body)
        if step["id"] == "cut.core.A.1":
            break
    text = "".join(
        p.extract_text() for p in PdfReader(io.BytesIO(planned("GET", "/joints/J-1/record.pdf"))).pages
    ).replace("\n", " ")
    assert "planned 51 mm" in text
    assert "from the cable end 51.5 mm" in text
    assert "not read: from the cable end" in text


# --- a released joint stays as it was released
# -------------------------------------------------------------------


def test_a_released_joint_is_drawn_as_it_was_released_whatever_the_rules_say_now(ready, sign_in):
    send(sign_in("eskil"), event("released"))
    before = ready("POST", "/joints/J-1/look", {})["plan"]
    admin = sign_in("ylva")
    change = {"value": 90, "reason": "for the test"}
    admin("PUT", "/rules/overlap.outer_min_mm", change, If_Match='"0"')
    after = ready("POST", "/joints/J-1/look", {})
    assert after["plan"] == before == ready("GET", "/joints/J-1/work")["plan"]
    assert after["ways"] == []
    other = sign_in("runa")("POST", "/joints", {"ref": "J-2", "title": "x", "same_as": "J-1"}, 201)
    fresh = ready("POST", f"/joints/{other['ref']}/look", {})["plan"]
    assert fresh["parts"][-1]["cut_length_mm"] > before["parts"][-1]["cut_length_mm"]


# --- verify
# ----------------------------------------------------------------------------------------------------


def test_verify_answers_for_a_record_of_this_site_and_of_another_and_makes_no_folder(
    released, tmp_path, monkeypatch
):
    from click.testing import CliRunner

    from tinknot.cli import main

    raw = released.client.get("/api/v1/joints/J-1/record.json").data
    (tmp_path / "elsewhere").mkdir()
    monkeypatch.chdir(tmp_path / "elsewhere")
    file = tmp_path / "record.json"
    file.write_bytes(raw)
    found = CliRunner().invoke(main, ["verify", str(file)])
    key = json.loads(raw)["public_key"]
    assert found.exit_code == 3
    assert "Unaltered" in found.output
    assert key in found.output
    assert list((tmp_path / "elsewhere").iterdir()) == []
    assert CliRunner().invoke(main, ["verify", str(file), "--key", key]).exit_code == 0
    assert CliRunner().invoke(main, ["verify", str(file), "--key", "00" * 32]).exit_code == 3
    file.write_bytes(raw.replace(b"Pit 4", b"Pit 5"))
    assert CliRunner().invoke(main, ["verify", str(file)]).exit_code == 1
    assert "this site's key" in records.verify(raw).words


# --- clocks and days
# -------------------------------------------------------------------------------------------


def test_a_clock_that_was_ten_years_ahead_and_is_put_right(stocked, sign_in, app):
    right = CLOCK()
    CLOCK.on(days=3650)
    stocked = sign_in("runa")
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    for _ in range(11):
        app.test_client().post("/api/v1/session", json={"username": "eskil", "password": "wrong"})
    CLOCK.moment = right
    assert not stocked("GET", "/session")["signed_in"]  # a sign-in of the future is none
    runa = sign_in("runa")
    taken = send(runa, event("isolated"))
    assert not taken["counts"]
    assert "Plan again" in taken["why"]
    from tinknot.services import tries

    assert tries.count("door:eskil:127.0.0.1", tries.Limit(10, 300)) <= 300


def test_lots_tools_and_permits_run_out_by_the_sites_day(sign_in, runa):
    from tinknot.services import days

    admin = sign_in("ylva")
    zone = {"zone": "Pacific/Auckland"}
    admin("PUT", "/site/writing", zone, If_Match='"0"')
    CLOCK.moment = datetime(2026, 6, 30, 13, 30, tzinfo=UTC)  # half past one on the first of July there
    assert days.today().isoformat() == "2026-07-01"
    tool = {"name": "IT-1", "kind": "insulation-tester", "due": "2026-06-30"}
    assert not sign_in("eskil")("POST", "/tools", tool, 201)["good"]
    spring, autumn = (
        datetime(2026, 9, 26, 13, 30, tzinfo=UTC),
        datetime(2026, 4, 4, 15, 0, tzinfo=UTC),
    )
    assert days.day_of(spring).isoformat() == "2026-09-27"  # the day of 23 hours
    assert days.day_of(autumn).isoformat() == "2026-04-05"
    twice = days.here(datetime.fromisoformat("2026-04-05T02:30"))  # comes twice: the first is meant
    assert twice == datetime(2026, 4, 4, 13, 30, tzinfo=UTC)
