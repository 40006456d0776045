"""What the core and the server tell somebody who stands at the joint."""

import json
import re
from io import BytesIO
from pathlib import Path
from typing import Any

import pytest
from pypdf import PdfReader

from tests.core.test_progress import PLAN, Log, state
from tests.joints import joint, joint_dict
from tests.trace import trace
from tests.web.test_joint import event, filled, work_to
from tinknot.core.figures import plain
from tinknot.core.joint.file import JointFile
from tinknot.core.model import parse
from tinknot.core.planning.solve import look_at, plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.folding import building, fold
from tinknot.core.work.mending import Place, consequence, mends_of
from tinknot.core.work.verdict import judge, trends_of

RULES = RuleBook.of()


def printed(pdf: bytes) -> str:
    return " ".join(page.extract_text() for page in PdfReader(BytesIO(pdf)).pages).replace("\n", " ")


# --- faults -------------------------------------------------------------------------------------------------


def reported(log: Log, actor: int, step: str = "join.1") -> str:
    log.add("fault", step, text="a nick", actor_id=actor, format=3)
    return log.events[-1].id


def test_a_fault_is_taken_back_by_whoever_reported_it_and_both_are_kept():
    log = Log(PLAN).through("join.1")
    fault = reported(log, 7)
    assert fold(PLAN, log.events).state == "stopped"
    refused = fold(PLAN, log.add("undone", about=fault, actor_id=8, format=3).events)
    assert refused.state == "stopped"
    assert "who reported it" in refused.flags[-1].why
    found = fold(PLAN, log.add("undone", about=fault, actor_id=7, format=3, text="wrong core").events)
    assert found.state == "building"
    assert [(m.seen, m.words) for m in found.mended] == [
        ("a nick", "Taken back by whoever reported it: wrong core")
    ]
    assert state(found, "join.1").state == "done", "nothing is asked for again"
    again = fold(PLAN, log.add("undone", about=fault, actor_id=7, format=3).events)
    assert "not open any more" in again.flags[-1].why


def test_a_time_that_ran_out_is_taken_back_by_nobody():
    log = Log(PLAN).through("wipe.sheath.B")
    log.add("done", "seal.outer-sleeve", minutes=3000)
    (late,) = fold(PLAN, log.events).faults
    assert late.reporter == ""
    assert "found by the clock" in fold(PLAN, log.add("undone", about=late.id).events).flags[-1].why


def test_a_cut_out_lists_all_that_is_used_again():
    """Of a kit everything that was fitted is gone with the cut-out, whatever the way it went on."""
    plan = plan_joint(trace("trace-box-f3"))
    everything = {s.id for s in plan.steps if s.kind != "sign"}
    place = Place("", "", "")
    way = next(m for m in mends_of(plan, place) if m.kind == "remake")
    again = {(a.layer, a.part_id) for a in consequence(plan, place, way, everything, lost_mm={}).again}
    assert again == {(p.layer, p.part_id) for p in plan.parts}


@pytest.mark.parametrize(
    ("file", "layers"),
    [
        (joint(build={"fire": "mica"}, duties=["fire"]), ["mica-1"]),
        (trace("trace-end-p1"), ["tape"]),
    ],
    ids=["mica", "flat tape"],
)
def test_what_is_wound_is_built_when_it_is_wound(file: Any, layers: list[str]):
    plan = plan_joint(file)
    by_layer = building(plan)
    for layer in [x for x in by_layer if x.startswith(tuple(layers))]:
        steps = by_layer[layer]
        log = Log(plan).through(steps[-1])
        assert layer in fold(plan, log.events).layers_done
        log.events = log.events[:-1]
        assert layer not in fold(plan, log.events).layers_done


def test_an_earth_bond_is_built_when_it_is_clamped():
    example = json.loads(Path("examples", "armoured-cast-wet.json").read_text())
    plan = plan_joint(parse(JointFile, json.dumps(example)))
    log = Log(plan).through(building(plan)["earth-bond"][-1])
    assert "earth-bond" in fold(plan, log.events).layers_done


# --- figures ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("value", "words"),
    [(26536.0, "26536"), (2.65e6, "2650000"), (1e-5, "0.00001"), (0.1 + 0.2, "0.3"), (12.0, "12")],
)
def test_figures_are_never_powers_of_ten(value: float, words: str):
    assert plain(value) == words


def test_no_verdict_and_no_refusal_holds_a_power_of_ten():
    log = Log(PLAN).through("test.before.continuity")
    log.add("done", "test.before.insulation", values={f"core-{n}": 2.65e-5 for n in "1234"})
    words = [*judge(PLAN, fold(PLAN, log.events), RULES).reasons]
    log.add("done", "test.before.continuity", values={"core-1": 2.65e7})
    words += [f.why for f in fold(PLAN, log.events).flags]
    assert words
    assert not re.search(r"\de[+-]\d", " ".join(words))


def test_a_reading_beyond_the_display_is_compared_with_nothing():
    log = Log(PLAN).through("test.after.continuity")
    values = {f"core-{n}": 999.0 for n in "1234"}
    log.add("done", "test.after.insulation", values=values, over=["core-1"])
    found = fold(PLAN, log.events)
    assert state(found, "test.after.insulation").over == ["core-1"]
    first, second, *_ = (p for p in judge(PLAN, found, RULES).proofs if p.step == "test.after.insulation")
    assert (first.over, first.share_of_before, first.passes) == (True, None, True)
    assert second.share_of_before is not None
    again = fold(PLAN, log.add("undone", "test.after.insulation").events)
    assert state(again, "test.after.insulation").over == []


def test_what_insulation_read_before_stands_where_it_is_read_again():
    log = Log(PLAN).through("before-closing")
    found = trends_of(PLAN, fold(PLAN, log.events), RULES)
    assert {t.gate for t in found if t.step == "test.after.insulation"} == {f"core-{n}" for n in "1234"}
    assert all(0 < t.warn_below_mohm < t.before_mohm == 100 for t in found)
    assert trends_of(PLAN, fold(PLAN, Log(PLAN).through("join.1").events), RULES) == []


def test_a_missing_picture_is_said():
    notes = judge(PLAN, fold(PLAN, Log(PLAN).through("label").events), RULES).notes
    assert any(n.startswith("No photograph was taken") and "Look at every connector" in n for n in notes)


# --- what would fit, and why not ----------------------------------------------------------------------------


def thin(wall_mm: float) -> JointFile:
    """The worked example with a core sleeve as thick as the insulation, and an outer sleeve that fits
    easily and has this wall."""
    stock = joint_dict()["stock"]
    stock["sleeves"][0] |= {"expanded_id_mm": 12, "recovered_id_mm": 3, "recovered_wall_mm": 2}
    stock["sleeves"][1:] = [
        {
            "id": "outer",
            "expanded_id_mm": 40,
            "recovered_id_mm": 8,
            "recovered_wall_mm": wall_mm,
            "lined": True,
            "on_hand_mm": 9000,
        }
    ]
    return joint(stock=stock)


def test_a_wall_far_thinner_than_what_it_replaces_has_no_room_to_spare():
    words = {wall: {w.why for w in look_at(thin(wall), RULES).staggers} for wall in (9.0, 0.3)}
    assert "Shortest, and fits with room to spare." in words[9.0]
    assert not any("room to spare" in w for w in words[0.3])
    assert any("far thinner than the layer it replaces" in w for w in words[0.3])


def test_what_to_order_is_nothing_that_is_refused_beside_it():
    stock = joint_dict()["stock"]
    stock["sleeves"][3]["on_hand_mm"] = 60
    plan = plan_joint(joint(stock=stock))
    outer = plan.choices[-1]
    assert (plan.verdict, outer.advice) == (
        "nothing-fits",
        "Order more of outer-28: 60 mm on hand, 225 mm needed.",
    )
    stock["sleeves"][3] |= {"on_hand_mm": 6000, "voltage_v": 230}
    outer = plan_joint(joint(stock=stock)).choices[-1]
    assert outer.advice.endswith("It must be rated 400 V or more.")


def test_a_connector_that_cannot_be_used_says_why_for_every_core():
    barrel = {"od_mm": 7.6, "length_mm": 38, "insertion_mm": 18, "area_least_mm2": 4, "area_most_mm2": 6}
    stock = joint_dict()["stock"] | {
        "connectors": [
            barrel | {"id": "enough", "on_hand": 4},
            barrel | {"id": "few", "od_mm": 7.8, "on_hand": 3},
            barrel | {"id": "thick", "area_least_mm2": 10, "area_most_mm2": 16},
        ]
    }
    given = joint_dict(stock=stock)
    del given["connector"]
    (pick,) = (p for p in plan_joint(parse(JointFile, given)).picks if p.layer == "connector")
    told = {o.id: (o.serves, o.reason) for o in pick.offers}
    assert told["enough"][0]
    assert told["few"] == (False, "4 are needed, 3 are on hand")
    assert told["thick"] == (False, "does not take the conductors")


# --- over HTTP ----------------------------------------------------------------------------------------------


def test_a_voltage_beyond_this_tool_is_refused_on_the_card(stocked):
    stocked("POST", "/joints", {"ref": "J-9"}, 201)
    refused = stocked("PATCH", "/joints/J-9", {"card": {"rated_voltage_v": 5000}}, 422, If_Match='"1"')
    (fault,) = refused["errors"]
    assert fault["path"] == "/card/rated_voltage_v"
    assert "5000 V is above 1000 V" in fault["message"]
    assert (
        stocked("PATCH", "/joints/J-9", {"card": {"rated_voltage_v": 1000}}, If_Match='"1"')["version"] == 2
    )


def test_a_limit_stands_on_the_board_in_the_register_and_on_the_label(stocked, sign_in):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    work_to(stocked, "label")
    before = printed(stocked("GET", "/joints/J-1/label.pdf"))
    assert "not released when printed" in before
    taken = sign_in("eskil")("POST", "/joints/J-1/events", event("released", text="no pull, no flex"), 201)
    assert taken["counts"], taken["why"]
    after = printed(stocked("GET", "/joints/J-1/label.pdf"))
    assert re.search(r"released \d{1,2} [A-Z][a-z]{2} \d{4}", after)
    assert "LIMIT: no pull, no flex" in after
    assert "not released" not in after
    for rows in (stocked("GET", "/board")["limited"]["items"], stocked("GET", "/joints")["items"]):
        (row,) = (r for r in rows if r["ref"] == "J-1")
        assert (row["state"], row["limits"]) == ("released with a limit", "no pull, no flex")


def test_readings_to_compare_stand_beside_the_plan(stocked):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    measured = stocked("GET", "/joints/J-1/work")["measured"]
    assert {(m["end"], m["what"], m["value_mm"]) for m in measured} >= {
        ("A", "sheath", 15.4),
        ("B", "core 4, 6 mm²", 5.3),
    }


def test_confirmed_again_just_the_same_is_told_to_be_in_vain(stocked):
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    steps = stocked("GET", "/joints/J-1/work")["plan"]["steps"]
    at = next(n for n, s in enumerate(steps) if s["id"] == "test.before.continuity")
    work_to(stocked, steps[at - 1]["id"])
    taken = stocked("POST", "/joints/J-1/events", event(steps[at]["id"], values={"core-1": 0.1}), 201)
    (flag,) = (f for f in taken["progress"]["flags"] if f["event"] == taken["event"]["id"])
    assert (flag["lasts"], "no reading" in flag["why"]) == (True, True)


def test_a_simulated_calliper_is_told_in_draft_and_record(stocked):
    filled(stocked)
    stocked("PATCH", "/joints/J-1", {"simulated": ["/ends/A/sheath_od"]}, If_Match='"2"')
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"3"')
    assert stocked("GET", "/joints/J-1")["draft"]["simulated"] == ["/ends/A/sheath_od"]
    assert "sheath (simulated)" in printed(stocked("GET", "/joints/J-1/record.pdf"))


def test_several_torques_of_one_step_must_all_be_there():
    plan = plan_joint(trace("trace-box-b2"))
    step = next(s for s in plan.steps if sum(g.unit == "N·m" for g in s.gates) > 1)
    before = plan.steps[[s.id for s in plan.steps].index(step.id) - 1]
    log = Log(plan).through(before.id)
    one, *rest = step.gates
    log.add("done", step.id, values={one.id: one.target or one.least or 1.0})
    found = fold(plan, log.events)
    assert state(found, step.id).state != "done"
    assert rest[0].label in found.flags[-1].why
    log.add("done", step.id, values={g.id: g.target or g.least or 1.0 for g in step.gates})
    assert state(fold(plan, log.events), step.id).state == "done"
