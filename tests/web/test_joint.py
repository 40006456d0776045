"""A joint over HTTP: from the card to the signed record."""

import copy
import io
import json
from uuid import uuid4

import pytest
from pypdf import PdfReader

from tests.clock import CLOCK
from tests.joints import CORE_SLEEVE, OUTER_SLEEVES, joint_dict
from tinknot.core.plan.ways import BreakOut
from tinknot.core.planning.solve import plan_joint
from tinknot.services import planning
from tinknot.services.verifying import digest

BARREL = {
    "id": "b6",
    "od_mm": 7.6,
    "length_mm": 38,
    "insertion_mm": 18,
    "growth_mm": 1,
    "area_least_mm2": 4,
    "area_most_mm2": 6,
}
CARD = {"where": "Pit 4", "why": "damage", "duties": ["buried"], "rated_voltage_v": 400, "ambient_c": 12}


@pytest.fixture
def stocked(stages, runa):
    stages.bring("stocked", lambda: _stock(runa))
    return runa


def _stock(runa) -> None:
    for s in (CORE_SLEEVE, *OUTER_SLEEVES):
        figures = {k: v for k, v in s.items() if k != "on_hand_mm"}
        runa(
            "POST",
            "/stock",
            {"kind": "sleeve", "figures": figures, "lot": {"name": f"lot-{s['id']}", "quantity": 6000}},
            201,
        )
    runa(
        "POST", "/stock", {"kind": "connector", "figures": BARREL, "lot": {"name": "k6", "quantity": 12}}, 201
    )


def filled(api, ref: str = "J-1", **change):
    api("POST", "/joints", {"ref": ref, "title": "Feeder"}, 201)
    return api(
        "PATCH", f"/joints/{ref}", {"card": CARD, "ends": joint_dict()["ends"]} | change, If_Match='"1"'
    )


def event(step: str, kind: str = "done", revision: int = 1, minutes: float = 24, **more):
    """An event, each 24 min after the one before, so that waits are over and nothing lies open too long."""
    return {
        "id": str(uuid4()),
        "kind": kind,
        "step": step,
        "revision": revision,
        "client_time": CLOCK.on(minutes=minutes).isoformat(),
    } | more


def readings(step):
    found = {g["id"]: g["least"] * 100 if g["least"] else g["most"] or g["target"] for g in step["gates"]}
    return {k: v for k, v in found.items() if v is not None}


def pace(step) -> float:
    """Minutes from the step before: resin does not wait."""
    hurried = step["kind"] == "mix" or any(t["id"] in ("pot-life", "under") for t in step["timers"])
    return 1 if hurried else 24


def confirmed(step):
    """The step done, with readings that pass."""
    return event(step["id"], minutes=pace(step), values=readings(step))


def work_to(api, last: str, ref: str = "J-1"):
    for step in api("GET", f"/joints/{ref}/work")["plan"]["steps"]:
        taken = api("POST", f"/joints/{ref}/events", confirmed(step), 201)
        assert taken["counts"], taken["why"]
        if step["id"] == last:
            return


def test_draft_says_what_is_missing_and_what_is_doubtful(stocked):
    made = stocked("POST", "/joints", {"title": "Feeder"}, 201)
    assert made["state"] == "draft"
    assert {m["path"] for m in made["missing"]} >= {"/card/where", "/card/rated_voltage_v"}
    ends = copy.deepcopy(joint_dict()["ends"])
    ends["A"]["cores"][0]["insulation_od_mm"] = 53
    found = stocked("PATCH", f"/joints/{made['ref']}", {"ends": ends}, If_Match='"1"')
    assert found["draft"]["ends"]["A"]["cores"][0]["insulation_od_mm"] == 53
    assert found["questions"][0]["suggestion_mm"] == 5.3


def test_two_tabs_do_not_overwrite(stocked):
    filled(stocked)
    assert (
        "changed elsewhere" in stocked("PATCH", "/joints/J-1", {"title": "x"}, 409, If_Match='"1"')["detail"]
    )
    assert stocked("GET", "/joints/J-1")["title"] == "Feeder"
    stocked("POST", "/joints/J-1/plans", status=409, If_Match='"1"')


def test_look_stores_nothing_and_tries_other_ways(stocked):
    filled(stocked)
    look = stocked("POST", "/joints/J-1/look", {})
    assert look["plan"]["verdict"] == "planned"
    assert [w["change"]["stagger_steps"] for w in look["ways"]] == [2, 3, 4]
    assert stocked("POST", "/joints/J-1/look", {"stagger_steps": 2})["plan"]["stagger_steps"] == 2
    stocked("GET", "/joints/J-1/work", status=404)
    stocked("GET", "/joints/J-1/record.json", status=404)


def test_nothing_fits_is_not_planned(stocked):
    stocked("POST", "/stock/outer-28/retired", {"retired": True})
    joint = filled(stocked)
    look = stocked("POST", "/joints/J-1/look", {})
    assert look["plan"]["verdict"] == "nothing-fits"
    assert (
        "Nothing fits"
        in stocked("POST", "/joints/J-1/plans", status=403, If_Match=f'"{joint["version"]}"')["detail"]
    )


def test_plan_reserves_build_consumes_undo_returns(stocked):
    filled(stocked)
    plan = stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    assert plan["number"] == 1

    def part(name: str):
        found = next(p for p in stocked("GET", "/stock")["items"] if p["part_id"] == name)
        return found["on_hand"], found["reserved"]

    assert part("core-9.5") == (6000, 4 * 67)
    assert part("b6") == (12, 4)
    work_to(stocked, "park.core-sleeve-1")
    assert part("core-9.5") == (6000 - 67, 3 * 67)
    stocked("POST", "/joints/J-1/events", event("park.core-sleeve-1", "undone"), 201)
    assert part("core-9.5") == (6000, 4 * 67)


def test_joining_does_not_count_before_everything_is_parked(stocked):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work_to(stocked, "park.core-sleeve-3")
    taken = stocked("POST", "/joints/J-1/events", event("join.1"), 201)
    assert taken["counts"] is False
    assert "Everything is threaded on" in taken["why"]
    assert taken["progress"]["flags"][0]["step"] == "join.1"


def test_an_event_sent_twice_is_kept_once(stocked):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    same = event("isolated")
    first, second = (stocked("POST", "/joints/J-1/events", same, 201) for _ in range(2))
    assert first["event"] == second["event"]
    assert len(stocked("GET", "/joints/J-1/work")["events"]) == 1


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"step": "no.such"}, "/step"),
        ({"revision": 9}, "/revision"),
        ({"values": {"x": 1}}, "/values/x"),
        ({"kind": "eaten"}, "/kind"),
        ({"id": "x"}, "/id"),
    ],
)
def test_bad_events_name_the_field(stocked, change, path: str):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    found = stocked("POST", "/joints/J-1/events", event("isolated") | change, 422)
    assert found["errors"][0]["path"] == path


def test_a_reading_changed_after_planning_makes_a_new_revision(stocked):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work_to(stocked, "strip.B.4")
    ends = copy.deepcopy(joint_dict()["ends"])
    for core in ends["A"]["cores"]:
        core["insulation_od_mm"] = 5.5
    stocked("PATCH", "/joints/J-1", {"ends": ends}, If_Match='"3"')
    look = stocked("POST", "/joints/J-1/look", {})
    assert look["differences"] == [] or all("→" in d for d in look["differences"])
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"4"')
    work = stocked("GET", "/joints/J-1/work")
    assert work["number"] == 2
    done = {s["id"] for s in work["progress"]["steps"] if s["state"] == "done"}
    assert {"cut.core.A.1", "cut.sheath.B"} <= done  # what was cut stays a fact
    assert [r["number"] for r in stocked("GET", "/joints/J-1/plans")["items"]] == [1, 2]


def test_released_by_a_second_person_signed_and_verified(stocked, sign_in):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work_to(stocked, "label")
    assert "verifier" in stocked("POST", "/joints/J-1/events", event("released"), 403)["detail"]
    assert (
        sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)["progress"]["state"]
        == "released"
    )
    assert stocked("GET", "/joints/J-1/verdict")["signed"] is True
    assert not stocked("POST", "/joints/J-1/events", event("join.1", "undone"), 201)["counts"]
    stocked("PATCH", "/joints/J-1", {"title": "x"}, 403, If_Match='"3"')
    text = "".join(
        p.extract_text() for p in PdfReader(io.BytesIO(stocked("GET", "/joints/J-1/record.pdf"))).pages
    )
    for words in ("J-1", "lot-core-9.5", "Eskil", "Insulation resistance", "Pit 4"):
        assert words in text
    assert "J-1" in PdfReader(io.BytesIO(stocked("GET", "/joints/J-1/label.pdf"))).pages[0].extract_text()


def test_any_changed_byte_of_a_record_is_found(stocked, sign_in):
    from tinknot.services import records

    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work_to(stocked, "label")
    sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)
    raw = stocked("GET", "/joints/J-1/record.json")
    data = raw if isinstance(raw, bytes) else json.dumps(raw).encode()
    assert records.verify(data).intact
    for at in range(0, len(data), len(data) // 60):
        changed = bytes([data[at] ^ 1])
        assert not records.verify(data[:at] + changed + data[at + 1 :]).intact, at


def test_a_chain_recomputed_without_the_key_is_found(stocked, sign_in):
    from tinknot.core.plan.plan import canonical
    from tinknot.core.work.events import GENESIS, chained
    from tinknot.services import records

    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work_to(stocked, "label")
    sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)
    body = json.loads(stocked("GET", "/joints/J-1/record.json"))
    previous, forged = GENESIS, []
    for n, e in enumerate(body["events"], 1):
        plain = {k: v for k, v in e.items() if k not in ("hash", "number", "previous")} | {
            "actor": "Somebody Else"
        }
        made = chained(plain, n, previous)
        forged.append(made.model_dump(mode="json"))
        previous = made.hash
    body["events"], body["head"] = forged, previous
    del body["digest"]
    verdict = records.verify(canonical(body | {"digest": digest(body)}).encode())
    assert not verdict.intact
    assert "not signed with the key it names" in verdict.words


def test_a_chain_recomputed_inside_the_database_is_found(stocked, sign_in):
    """Whoever can write to the database but has not the key: every event renamed, the chain made whole
    again."""
    from tinknot.core.plan.plan import canonical
    from tinknot.core.work.events import GENESIS, chained
    from tinknot.store.models import EventRow, Joint

    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work_to(stocked, "label")
    sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)
    assert stocked("GET", "/joints/J-1/verdict")["signed"]
    previous = GENESIS
    for row in EventRow.select().order_by(EventRow.number):
        body = json.loads(row.body) | {"actor": "Somebody Else"}
        made = chained(
            {k: v for k, v in body.items() if k not in ("number", "previous")}, row.number, previous
        )
        row.body, row.hash = canonical(made.model_dump(exclude={"hash"}, exclude_unset=True)), made.hash
        row.save()
        previous = made.hash
    verdict = stocked("GET", "/joints/J-1/verdict")
    assert not verdict["intact"]
    assert "signature of the release" in verdict["words"]
    Joint.update(signed_hash=previous).execute()
    assert not stocked("GET", "/joints/J-1/verdict")["intact"]


def test_what_was_entered_is_sealed_at_the_release_too(stocked, sign_in):
    from tinknot.store.models import Joint

    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work_to(stocked, "label")
    sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)
    row = Joint.get(Joint.ref == "J-1")
    row.draft = row.draft.replace("Pit 4", "Pit 5")
    row.save()
    assert "after the release" in stocked("GET", "/joints/J-1/verdict")["words"]


def test_register_search_and_pages(stocked):
    for i in range(7):
        filled(stocked, f"J-{i}", title=f"Lamp {i}" if i % 2 else "Feeder")
    assert [j["ref"] for j in stocked("GET", "/joints?text=lamp")["items"]] == ["J-5", "J-3", "J-1"]
    assert len(stocked("GET", "/joints?text=pit%204")["items"]) == 7
    assert stocked("GET", "/joints?state=released")["items"] == []
    page = stocked("GET", "/joints?limit=3")
    assert [j["ref"] for j in stocked("GET", f"/joints?limit=3&cursor={page['next']}")["items"]] == [
        "J-3",
        "J-2",
        "J-1",
    ]
    stocked("GET", "/joints?cursor=abc", status=422)
    stocked("GET", "/joints?cursor=" + "9" * 15, status=200)
    stocked("GET", "/joints?cursor=" + "9" * 19, status=422)
    stocked("POST", "/joints", {"line_id": 10**30}, 422)
    stocked("PATCH", f"/tools/{10**30}", {"retired": True}, 404, If_Match='"1"')
    stocked("GET", "/joints?colour=red", status=422)


def test_same_again_and_export_plans_the_same(stocked):
    from tinknot.core.joint.file import JointFile
    from tinknot.core.model import parse
    from tinknot.core.planning.solve import plan_joint

    filled(stocked)
    plan = stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')["plan"]
    exported = parse(JointFile, stocked("GET", "/joints/J-1/file"))
    assert plan_joint(exported).model_dump(mode="json")["parts"] == plan["parts"]
    again = stocked("POST", "/joints", {"same_as": "J-1"}, 201)
    assert again["draft"]["ends"] == stocked("GET", "/joints/J-1")["draft"]["ends"]
    assert again["ref"] == "J-2"
    stocked("POST", "/joints", {"ref": "J-1"}, 409)
    stocked("POST", "/joints", {"same_as": "none"}, 404)


def test_repeat_of_a_write_with_its_key_is_done_once(runa):
    one = runa("POST", "/joints", {"title": "x"}, 201, Idempotency_Key="k1")
    two = runa("POST", "/joints", {"title": "x"}, 201, Idempotency_Key="k1")
    assert one["ref"] == two["ref"]
    assert len(runa("GET", "/joints")["items"]) == 1


def test_board_lines_zones(stocked):
    line = stocked("POST", "/lines", {"name": "Feeder", "length_m": 2400}, 201)
    stocked("POST", "/lines", {"name": "Feeder", "length_m": 2400}, 409)
    stocked("POST", "/zones", {"name": "Loop", "from_m": 10, "to_m": 90}, 201)
    stocked("POST", "/zones", {"name": "Loop", "from_m": 90, "to_m": 10}, 422)
    stocked("POST", "/joints", {"ref": "J-1", "line_id": line["id"], "at_m": 1240}, 201)
    stocked("POST", "/joints", {"line_id": 99}, 404)
    board = stocked("GET", "/board")
    assert [(k["line_id"], k["at_m"], k["joints"][0]["ref"], k["more"]) for k in board["knots"]] == [
        (line["id"], 1240, "J-1", 0)
    ]
    assert board["far_m"] == 2400
    assert board["states"] == [{"state": "draft", "count": 1}]
    assert board["today"][0]["next"].startswith("Fill in")
    assert stocked("GET", "/lines")["items"][0]["name"] == "Feeder"


def test_rules(sign_in, stocked):
    admin = sign_in("ylva")
    assert (
        admin("PUT", "/rules/grip.pct", {"value": 20, "reason": ""}, 422, If_Match='"0"')["errors"][0]["path"]
        == "/reason"
    )
    assert (
        admin("PUT", "/rules/grip.pct", {"value": 99, "reason": "x"}, 422, If_Match='"0"')["errors"][0][
            "path"
        ]
        == "/value"
    )
    changed = admin("PUT", "/rules/grip.pct", {"value": 42, "reason": "cold pits"}, If_Match='"0"')
    assert next(r for r in changed["items"] if r["key"] == "grip.pct")["own"]
    filled(stocked)
    assert stocked("POST", "/joints/J-1/look", {})["plan"]["verdict"] == "nothing-fits"
    admin("PUT", "/rules/grip.pct", {"value": 44, "reason": "colder pits"}, 409, If_Match='"0"')
    admin("PUT", "/rules/grip.pct", {"value": None}, If_Match='"1"')
    assert stocked("POST", "/joints/J-1/look", {})["plan"]["verdict"] == "planned"
    stocked("PUT", "/rules/grip.pct", {"value": 1, "reason": "x"}, 403, If_Match='"2"')
    assert len(stocked("GET", "/rules")["items"]) > 20


def test_calliper_reads_near_the_truth_and_calculators_listed(runa, instrumented):
    found = runa("POST", "/instruments/calliper", {"about_mm": 15.4, "seed": "A"})
    assert found == runa("POST", "/instruments/calliper", {"about_mm": 15.4, "seed": "A"})
    assert abs(found["first_mm"] - 15.4) < 0.5
    assert "stagger" in [c["name"] for c in runa("GET", "/calc")["items"]]
    assert runa("POST", "/calc/flat", {"width_mm": 11, "thickness_mm": 5})["girth_mm"] > 27


def test_a_plan_that_hands_cannot_follow_is_not_given_out(stocked, monkeypatch):
    """It is told with the step and the mend. Work that has begun is told, and goes on."""
    late = BreakOut(law=9, step="seal.outer-sleeve", place="", words="It is too late.", mend="Work cooler.")
    filled(stocked)
    with monkeypatch.context() as worse:
        worse.setattr(planning, "plan_joint", lambda *a: plan_joint(*a).model_copy(update={"breaks": [late]}))
        refused = stocked("POST", "/joints/J-1/plans", None, 403, If_Match='"2"')["detail"]
        assert "“Shrink the outer sleeve”: It is too late. Work cooler." in refused
        assert stocked("GET", "/joints/J-1")["revision"] == 0  # nothing is half written
    stocked("POST", "/joints/J-1/plans", None, 201, If_Match='"2"')
    stocked("POST", "/joints/J-1/events", event("isolated"), 201)
    monkeypatch.setattr(
        planning, "plan_joint", lambda *a: plan_joint(*a).model_copy(update={"breaks": [late]})
    )
    stocked("POST", "/joints/J-1/plans", None, 201, If_Match='"3"')
