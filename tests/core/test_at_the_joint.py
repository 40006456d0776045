"""What stops a hand at the joint: waits, times that run out, tolerances, dates; and what mending costs."""

from datetime import timedelta
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_progress import PLAN, Log, state
from tests.joints import joint, joint_dict
from tinknot.core.formulas.cooling import cool_min
from tinknot.core.joint.file import JointFile
from tinknot.core.layers.contract import Mend
from tinknot.core.model import parse
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.folding import fold
from tinknot.core.work.made import made
from tinknot.core.work.mending import Place, consequence, mends_of
from tinknot.core.work.verdict import judge

SLACK = joint_dict()
SLACK["ends"]["A"]["slack_mm"], SLACK["ends"]["B"]["slack_mm"] = 300, 60
SLACKED = plan_joint(parse(JointFile, SLACK))


def why(log: Log) -> str:
    flags = fold(log.plan, log.events).flags
    return flags[-1].why if flags else ""


def test_heat_waits_for_the_solvent():
    log = Log(PLAN).through("surface.core-sleeve-4")
    log.add("done", "seal.core-sleeve-4", minutes=0.25)
    assert why(log) == "solvent flashing off: 45 s to wait"
    log.add("done", "seal.core-sleeve-4", minutes=0.75)
    assert len(fold(PLAN, log.events).flags) == 1
    assert state(fold(PLAN, log.events), "seal.core-sleeve-4").state == "done"


def test_cooling_ends_by_time_or_by_a_reading():
    log = Log(PLAN).through("inspect.outer-sleeve")
    seal = next(e for e in log.events if e.step == "seal.outer-sleeve")
    timer = next(t for t in fold(PLAN, log.events).timers if t.id == "cool")
    assert (
        timer.ready_at
        == (seal.moment + timedelta(minutes=PLAN.step("cool.outer-sleeve").timers[0].least_min)).isoformat()
    )
    early = Log(PLAN)
    early.events, early.at = log.events[:-1], log.events[-2].moment
    early.add("done", "inspect.outer-sleeve", minutes=1)
    hot = Log(PLAN)
    hot.events, hot.at = list(early.events), early.at
    assert "cooling: " in why(hot.add("done", "cool.outer-sleeve", minutes=1))
    assert "over the most of 40" in why(
        hot.add("done", "cool.outer-sleeve", values={"temperature": 55.0}, minutes=1)
    )
    early.add("done", "cool.outer-sleeve", values={"temperature": 38.0}, minutes=1)
    assert state(fold(PLAN, early.events), "cool.outer-sleeve").state == "done"


def test_a_sheath_that_lay_open_too_long_is_a_fault():
    log = Log(PLAN).through("wipe.sheath.B")
    log.add("done", "seal.outer-sleeve", minutes=61)
    found = fold(PLAN, log.events)
    assert found.state == "stopped"
    assert "min too late, 60 min are allowed" in found.faults[0].seen
    assert found.faults[0].layer == "outer-sleeve"
    late = found.faults[0].id
    shut = fold(PLAN, log.add("remedy", about=late, choice="again").events)
    assert shut.faults  # it is shrunk: nobody wipes under it any more
    assert "“Shrink the outer sleeve” is done since" in shut.flags[0].why
    mended = fold(PLAN, log.add("remedy", about=late, choice="mended").events)
    assert not mended.faults
    assert mended.mended[0].words == "It was done in time and only confirmed late: that is noted"
    assert state(mended, "seal.outer-sleeve").state == "done"


@pytest.mark.parametrize(
    ("value", "text", "words"),
    [
        (44.0, "", ""),
        (43.9, "", "do it again, plan again with it, or say why it may stay"),
        (43.9, "nothing depends on it", ""),
    ],
)
def test_tolerance_asks_for_a_reason(value: float, text: str, words: str):
    log = Log(PLAN).through("cut.sheath.B")
    log.add("done", "cut.core.A.1", values={"distance": value}, text=text)
    assert (words in why(log)) if words else why(log) == ""
    found = state(fold(PLAN, log.events), "cut.core.A.1")
    assert found.values == {"distance": value}
    assert found.reason == (text if value < 44 and text else "")


def test_a_strip_may_not_stay_outside_its_tolerance():
    log = Log(PLAN).through("cut.core.A.4")
    log.add("done", "strip.A.1", values={"strip": 23.0}, text="it looks good")
    assert why(log).endswith("do it again")


def test_a_core_cut_too_short_moves_the_sheath_cut_back():
    log = Log(PLAN).through("cut.core.A.4").add("undone", "cut.core.A.2")
    log.add("reading", "cut.core.A.2", values={"distance": 40.0})
    facts = made(PLAN, fold(PLAN, log.events))
    assert facts.setback_mm == {"A": 6.0}
    new = plan_joint(joint(), made=facts)
    assert new.gap_mm == PLAN.gap_mm
    sheath = {c.end: c.distance_mm for c in new.cuts if c.layer == "sheath"}
    was = {c.end: c.distance_mm for c in PLAN.cuts if c.layer == "sheath"}
    assert sheath == {"A": was["A"] + 6, "B": was["B"]}
    again = fold(new, log.events)
    assert state(again, "cut.sheath.A").state == "again"
    assert state(again, "cut.sheath.B").state == "done"
    assert state(again, "cut.core.A.2").values == {}  # read for the plan before
    assert made(new, again, facts).setback_mm == {"A": 6.0}


def test_tools_lots_and_permit_must_be_in_date():
    log = Log(PLAN).through("parked")
    log.add("done", "join.1", tools={"crimp-tool": "CT-1"}, facts={"due:crimp-tool": "2026-02-01"})
    assert why(log) == "CT-1 was due for calibration on 2026-02-01; take another"
    log.add("done", "join.1", tools={"crimp-tool": "CT-2"}, facts={"due:crimp-tool": "2026-12-01"})
    assert state(fold(PLAN, log.events), "join.1").state == "done"
    hot = Log(PLAN).through("surface.core-sleeve-4")
    hot.add("done", "seal.core-sleeve-1", facts={"permit-until": hot.at.isoformat()})
    assert "permit has run out" in why(hot)
    gun = {"heat-gun": "G-1"}
    flame = Log(PLAN).through("surface.core-sleeve-4")
    flame.add("done", "seal.core-sleeve-1", tools=gun, facts={"source:heat-gun": "flame"})
    assert "a flame needs its own permit" in why(flame)
    allowed = {"source:heat-gun": "flame", "permit-until": "2030-01-01T00:00:00+00:00"}
    flame.add("done", "seal.core-sleeve-1", tools=gun, facts=allowed)
    done = state(fold(PLAN, flame.events), "seal.core-sleeve-1")
    assert (done.state, done.tools) == ("done", ["G-1 (flame)"])
    hazardous = plan_joint(parse(JointFile, joint_dict(duties=["hazardous"], build={"closure": "sleeve"})))
    near = Log(hazardous).through("surface.core-sleeve-4") if hazardous.step("seal.core-sleeve-1") else None
    if near:
        near.add("done", "seal.core-sleeve-1", tools=gun, facts=allowed)
        flags = fold(hazardous, near.events).flags
        assert "never a flame in a hazardous area" in flags[-1].why
    lot = Log(PLAN).through("cut.core.B.4")
    lot.events = [e for e in lot.events if not e.step.startswith("park")]
    lot.add("done", "park.outer-sleeve", lot="L1", facts={"lot-use-by": "2025-12-31"})
    assert why(lot) == "lot L1 was good until 2025-12-31; take another"


def test_two_tablets_confirm_the_same_step():
    log = Log(PLAN).through("test.before.continuity")
    log.add("done", "test.before.continuity", "eskil", {"core-1": 0.11}, device="other", minutes=1)
    assert "Confirmed already by runa" in why(log)
    assert "core-1 reads 0.11 here" in why(log)
    found = fold(PLAN, log.add("settled", about=log.events[-1].id).events)
    assert found.flags == []
    assert state(found, "test.before.continuity").actor == "runa"


def test_a_hold_wants_somebody_who_did_not_do_the_work_since_the_last_one():
    rules = RuleBook.of({"holds.second_person": ["before-closing", "released"]})
    plan = plan_joint(joint(), rules)
    log = Log(plan).through("test.before.insulation")
    assert "second person" in why(log.add("done", "before-closing", "runa"))
    assert (
        state(fold(plan, log.add("done", "before-closing", "eskil").events), "before-closing").actor
        == "eskil"
    )


def mend(plan, log, kind: str, step: str, fault: str = ""):
    place = Place(fault, step, plan.step(step).layer)
    way = next(m for m in mends_of(plan, place) if m.kind == kind)
    counted = {s.id for s in fold(plan, log.events).steps if s.state == "done"}
    return consequence(plan, place, way, counted, lost_mm=fold(plan, log.events).lost_mm)


def test_a_remake_costs_cable_parts_and_time():
    log = Log(SLACKED).through("seal.core-sleeve-2")
    cost = mend(SLACKED, log, "remake", "seal.core-sleeve-2", fault="scorch")
    sheath = {c.end: c.distance_mm for c in SLACKED.cuts if c.layer == "sheath"}
    assert cost.lost_mm == {
        e: mm + 10 for e, mm in sheath.items()
    }  # their preparation, and 10 mm beside the joint
    assert cost.slack_left_mm["A"] == pytest.approx(300 - cost.lost_mm["A"])
    assert sorted(a.layer for a in cost.again) == sorted(
        [*(f"crimp-{n}" for n in "1234"), "core-sleeve-1", "core-sleeve-2"]
    )  # what is not shrunk yet slides off and is used again
    assert "60" not in cost.why_not
    assert "the cable no longer reaches" in cost.why_not  # B has 60 mm of slack, its preparation takes more


def test_after_joining_nothing_can_be_threaded_on_any_more():
    early, late = Log(PLAN).through("park.core-sleeve-1"), Log(PLAN).through("join.1")
    assert mend(PLAN, early, "new-part", "park.core-sleeve-1", fault="scorch").why_not == ""
    assert [a.layer for a in mend(PLAN, early, "new-part", "park.core-sleeve-1", fault="scorch").again] == [
        "core-sleeve-1"
    ]
    assert (
        "can no longer be threaded on"
        in mend(PLAN, late, "new-part", "seal.core-sleeve-1", fault="scorch").why_not
    )


def test_mending_reopens_what_it_touches_and_is_remembered():
    log = Log(PLAN).through("seal.core-sleeve-4")
    log.add("fault", "seal.core-sleeve-4", choice="wrinkle")
    assert fold(PLAN, log.events).state == "stopped"
    assert fold(PLAN, log.events).faults[0].seen == "A wrinkle or a cold spot"
    fault = log.events[-1].id
    assert "no way to mend" in why(log.add("remedy", about=fault, choice="end-again"))
    found = fold(PLAN, log.add("remedy", about=fault, choice="again").events)
    assert found.state == "building"
    assert state(found, "seal.core-sleeve-4").state == "open"
    assert state(found, "seal.core-sleeve-3").state == "done"
    assert found.mended[0].words == "Reheat, round and round"
    assert "not open any more" in why(log.add("remedy", about=fault, choice="again"))


def test_a_remade_joint_starts_from_new_ends():
    log = Log(PLAN).through("join.4").add("fault", "join.4", choice="over-crimped")
    found = fold(PLAN, log.add("remedy", about=log.events[-1].id, choice="remake").events)
    assert found.attempt == 1
    assert state(found, "measured").state == "done"
    assert state(found, "cut.sheath.A").state == "open"
    assert {a.layer for a in found.scrapped} == {f"crimp-{n}" for n in "1234"}
    assert found.lost_mm["A"] > 0
    facts = made(PLAN, found, made(PLAN, fold(PLAN, Log(PLAN).through("join.4").events)))
    assert (facts.gap_mm, facts.parts, facts.attempt) == (None, {}, 1)


def test_every_fault_has_a_way_to_mend_it():
    for f in PLAN.faults:
        assert f.mends, f.id
        for m in f.mends:
            assert Mend(m.words, m.kind).words
    steps = {s.layer for s in PLAN.steps if s.kind in ("cut", "join", "seal", "inspect")} - {"procedure"}
    assert steps <= {f.layer for f in PLAN.faults}


def judged(log: Log, plan=PLAN, rules: RuleBook | None = None):
    return judge(plan, fold(plan, log.events), rules or RuleBook.of())


def test_verdict_release_limit_remake():
    assert judged(Log(PLAN).through("join.1")).verdict == "not-yet"
    assert judged(Log(PLAN).through("label")).verdict == "release"
    bad = Log(PLAN).through("test.before.continuity")
    bad.add(
        "done",
        "test.before.insulation",
        values={"core-1": 0.4, "core-2": 90.0, "core-3": 90.0, "core-4": 90.0},
    )
    assert judged(bad).verdict == "remake"
    kept = Log(PLAN).through("cut.sheath.B")
    kept.add("done", "surface.sheath.A").add(
        "done", "surface.sheath.B", values={"roughened": 30.0}, text="the clamp begins there"
    )
    found = judged(kept.through("label"))
    assert found.verdict == "limit"
    assert "kept because: the clamp begins there" in found.reasons[0]
    assert found.limits == ["no pull, no flex"]


def test_insulation_that_fell_after_sealing_is_looked_at_again():
    log = Log(PLAN).through("test.after.continuity")
    low = {f"core-{n}": 15.0 for n in "1234"}  # 100 MΩ before closing, at 0 °C
    log.add("done", "test.after.insulation", values=low | {"temperature": 0.0}).add(
        "done", "sealed-and-proved"
    ).add("done", "label")
    found = judged(log)
    assert found.verdict == "limit"
    assert found.limits == ["inspect again within 30 days"]
    assert found.proofs[-1].share_of_before == pytest.approx(0.15)
    warm = Log(PLAN).through("test.after.continuity")
    warm.add(
        "done", "test.after.insulation", values=low | {"temperature": 20.0}
    )  # at 0 °C it would be four times as much
    assert judged(warm).proofs[-1].share_of_before == pytest.approx(0.6)
    length = plan_joint(joint(cable_length_m=250))
    per_km = judged(Log(length).through("test.before.insulation"), length).proofs[-1]
    assert per_km.mohm_km == pytest.approx(per_km.at_20c * 0.25)


@given(st.floats(5, 80), st.floats(0, 500), st.floats(-30, 35))
def test_cooling_takes_longer_when_thicker_or_warmer(outside: float, copper: float, ambient: float):
    def minutes(od: float, at: float) -> float:
        return cool_min(od, min(copper, od * od / 2), from_c=110, to_c=40, ambient_c=at, loss_w_m2k=12)

    assert minutes(outside * 1.1, ambient) > minutes(outside, ambient) > 0
    assert minutes(outside, ambient + 2) > minutes(outside, ambient)
    assert minutes(outside, 40) == float("inf")


def test_holds_never_more_than_seven_and_steps_in_working_order():
    assert len([s for s in PLAN.steps if s.hold]) == 7
    place = {s.id: i for i, s in enumerate(PLAN.steps)}
    assert all(place[n] < place[s.id] for s in PLAN.steps for n in s.needs)
    batches = [s.batch for s in PLAN.steps if s.batch]
    runs = [b for a, b in pairwise(["", *batches]) if a != b]
    assert len(runs) == len(set(runs))  # a batch is never torn apart
