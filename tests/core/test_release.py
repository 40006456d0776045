"""What may be released: by an explicit list, with nothing open, with every proof read or its absence signed;
and what happens to what comes afterwards."""

import json
from functools import cache
from itertools import product
from pathlib import Path

import pytest

from tests.core.test_progress import PLAN, Log, state
from tests.power import ARMOURED, file, power
from tests.screened import screened
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.folding import fold
from tinknot.core.work.verdict import RELEASABLE, Judgement, against_release, judge
from tinknot.core.work.working import is_work

RULES = RuleBook.of()
NEW = {"format": 4}


@cache
def sheathed() -> Plan:
    """Armour on both sides, in the ground."""
    return plan_joint(file(power(ARMOURED, ARMOURED, duties=["buried"])))


@cache
def with_screen() -> Plan:
    """A screened joint."""
    return plan_joint(screened())


WORKING = json.loads((Path(__file__).parents[1] / "vectors" / "working.json").read_text())


def judgement(verdict: str, faults: list[str]) -> Judgement:
    limits = ["no pull, no flex"] if verdict == "limit" else []
    return Judgement(verdict=verdict, reasons=["reason"], limits=limits, proofs=[], faults=faults)


@pytest.mark.parametrize("verdict", ["release", "limit", "remake", "not-yet", "a word of next year"])
def test_the_whole_space_of_a_joints_end(verdict: str):
    """Verdict × open faults × departures × an altered record × a limit named: released where all five allow
    it, and nowhere else."""
    for faults, departures, altered, limit in product(
        ([], ["a gap (Runa)"]), ([], ["sheath 20.5"]), ("", "event 3"), ("", "no pull, no flex")
    ):
        found = against_release(judgement(verdict, faults), departures, altered, limit)
        good = verdict in RELEASABLE and not faults and not departures and not altered
        assert (found == []) is (good and (verdict == "release" or limit != "")), (faults, departures, found)
        told = " ".join(found)
        assert all(words in told for words in (*faults, *departures, altered))


@pytest.mark.parametrize("case", WORKING, ids=lambda c: c["what"])
def test_what_is_work_is_said_once(case):
    assert is_work(case["kind"], case["about"], case["hold"]) is case["work"]


def test_whoever_only_signed_a_hold_may_release_and_whoever_proved_something_dead_may_not():
    log = Log(PLAN)
    for s in PLAN.steps[:-1]:
        who = "eskil" if s.hold else "runa"
        values = {g.id: (g.least or 0) * 100 if g.least else (g.most or g.target or 0) for g in s.gates}
        log.add("done", s.id, who, values, actor_id=8 if s.hold else 7, **NEW)
    assert fold(PLAN, log.add("done", "released", "eskil", actor_id=8, **NEW).events).state == "released"
    screen = with_screen()
    dead = next(s for s in screen.steps if s.kind == "gate" and not s.hold)
    log = Log(screen).through(screen.steps[screen.steps.index(dead) - 1].id)
    assert "#8" not in fold(screen, log.events).workers
    assert "#8" in fold(screen, log.add("done", dead.id, "eskil", actor_id=8, **NEW).events).workers


# --- nothing open -------------------------------------------------------------------------------------------


def test_an_open_fault_and_a_reading_that_fails_stop_the_release_in_the_fold():
    log = Log(PLAN).through("label").add("fault", "label", text="a gap at end A")
    found = fold(PLAN, log.add("done", "released", "eskil", **NEW).events)
    assert found.state == "stopped"
    assert "a gap at end A" in found.flags[-1].why
    log = Log(PLAN).through("label").add("reading", "test.after.insulation", values={"core-1": 0.1}, **NEW)
    found = fold(PLAN, log.add("done", "released", "eskil", **NEW).events)
    assert found.state != "released"
    assert "0.1 MΩ is under the least" in found.flags[-1].why
    assert judge(PLAN, found, RULES).verdict == "remake"


def test_what_earlier_versions_released_stays_released():
    log = Log(PLAN).through("label").add("fault", "label", text="a gap at end A")
    assert fold(PLAN, log.add("done", "released", "eskil", format=3).events).state == "released"


# --- proofs -------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("plan", "step"), [(sheathed, "test.after.sheath"), (with_screen, "test.after.screen")]
)
def test_a_proof_is_read_or_its_absence_is_signed(plan, step: str):
    plan = plan()
    before = plan.steps[plan.steps.index(plan.step(step)) - 1].id
    log = Log(plan).through(before)
    refused = fold(plan, log.add("done", step, **NEW).events)
    assert "read it, or say why it cannot be read" in refused.flags[-1].why
    signed = fold(plan, log.add("done", step, text="the far end is buried", **NEW).events)
    assert state(signed, step).state == "done"
    assert state(signed, step).excuse == "the far end is buried"
    (note,) = [n for n in judge(plan, signed, RULES).notes if n.startswith("Not read")]
    assert "the far end is buried" in note
    assert "runa" in note


def test_a_plan_of_before_shows_what_it_lacks_and_is_released_with_that_as_its_limit():
    """Its gates stay as they were: the step was confirmed without a figure."""
    screen = with_screen()
    offered = screen.step("test.after.screen")
    gates = [offered.gates[0].model_copy(update={"required": False, "excuse": False})]
    steps = [s.model_copy(update={"gates": gates}) if s is offered else s for s in screen.steps]
    old = screen.model_copy(update={"steps": steps})
    log = Log(old).through("test.after.continuity")
    log.add("done", "test.after.screen").through("label")
    found = judge(old, fold(old, log.events), RULES)
    assert found.verdict == "limit"
    assert found.limits == ["not read: Screen through the joint"]
    assert against_release(found, [], "", "") != []


@pytest.mark.parametrize(
    ("step", "values", "words"),
    [
        ("test.after.insulation", {"temperature": 500.0}, "500 °C cannot be: it lies between -60 and 400"),
        ("test.after.insulation", {"core-1": -3.0}, "-3 MΩ cannot be"),
        ("test.after.insulation", {"core-1": 3e8}, "cannot be"),
        ("cut.sheath.A", {"distance": -4.0}, "-4 mm cannot be"),
    ],
)
def test_what_cannot_be_read_at_all_is_no_reading(step: str, values: dict[str, float], words: str):
    log = Log(PLAN).through(PLAN.steps[PLAN.steps.index(PLAN.step(step)) - 1].id)
    good = {g.id: 1e4 if g.least else g.target or 20.0 for g in PLAN.step(step).gates}
    found = fold(PLAN, log.add("done", step, values=good | values, **NEW).events)
    assert words in found.flags[-1].why
    assert state(found, step).values == {}


def test_beyond_the_range_of_its_law_nothing_is_brought_to_20_c():
    def at(temperature: float) -> float | None:
        log = Log(PLAN).through("test.after.continuity")
        values = {g.id: 1000.0 for g in PLAN.step("test.after.insulation").gates} | {
            "temperature": temperature
        }
        log.add(
            "done", "test.after.insulation", values=values
        )  # taken by an earlier version, whatever it was
        proofs = judge(PLAN, fold(PLAN, log.events), RULES).proofs
        return next(p.at_20c for p in proofs if p.step == "test.after.insulation" and p.gate == "core-1")

    assert at(30.0) == pytest.approx(2000.0)
    assert at(500.0) is None
    assert at(-40.0) is None


# --- tools --------------------------------------------------------------------------------------------------

LATE = {"due:insulation-tester": "2026-01-01", "day": "2026-02-03"}
TESTER = {"insulation-tester": "IT-1"}


def insulation_read(**more):
    log = Log(PLAN).through("test.after.continuity")
    values = {g.id: 1000.0 for g in PLAN.step("test.after.insulation").gates if g.required}
    return fold(PLAN, log.add("done", "test.after.insulation", values=values, **NEW | more).events)


def test_a_reading_with_a_tool_past_its_date_is_none_unless_somebody_who_may_says_why():
    refused = insulation_read(tools=TESTER, facts=LATE)
    assert "IT-1 was due for calibration on 2026-01-01" in refused.flags[-1].why
    assert state(refused, "test.after.insulation").values == {}
    again = insulation_read(tools=TESTER, facts=LATE, text="it looks right")  # a jointer may not
    assert again.flags
    taken = insulation_read(tools=TESTER, facts=LATE, role="verifier", text="compared today")
    assert not taken.flags
    (told,) = [n for n in judge(PLAN, taken, RULES).notes if "IT-1" in n]
    assert "accepted by runa: compared today" in told


def test_a_tool_that_nobody_named_is_asked_for_where_the_site_keeps_some():
    refused = insulation_read(facts={"unnamed:insulation-tester": "yes", "day": "2026-02-03"})
    assert "nobody said which insulation tester" in refused.flags[-1].why
    assert not insulation_read(facts={"day": "2026-02-03"}).flags  # of a site that keeps none


def test_the_day_is_the_sites():
    """Past midnight by the site's clock and not yet by UTC's."""
    due = {"due:insulation-tester": "2026-02-03"}
    assert not insulation_read(tools=TESTER, facts=due | {"day": "2026-02-03"}).flags
    assert insulation_read(tools=TESTER, facts=due | {"day": "2026-02-04"}).flags


# --- after the release --------------------------------------------------------------------------------------


def test_what_comes_after_a_release_is_kept_flagged_and_changes_nothing():
    log = Log(PLAN).through("label").add("done", "released", "eskil", **NEW)
    seen_at = log.at.isoformat()
    log.at = log.at.replace(hour=(log.at.hour + 1) % 24)
    log.add("fault", "label", text="water in the sleeve", at=seen_at, minutes=0, **NEW)
    log.add("reading", "test.after.insulation", values={"core-1": 0.2}, minutes=400, **NEW)
    log.add("undone", "label", **NEW)
    found = fold(PLAN, log.events)
    assert found.state == "released"
    assert found.faults == []
    assert [f.late for f in found.flags] == [True] * 3
    when, seen = (
        "before the release, sent after it",
        "a fault was seen at “Fix the label”: water in the sleeve",
    )
    assert found.late[0] == f"runa, {when}: {seen}"
    assert "after the release: a reading was taken" in found.late[1]
    assert "core 1 to the rest 0.2 MΩ" in found.late[1]
    still = fold(PLAN, log.add("settled", about=log.events[-3].id, **NEW).events)
    assert len(still.late) == 3  # not by a jointer
    settled = log.add("settled", about=log.events[-4].id, actor="eskil", role="verifier", **NEW)
    assert len(fold(PLAN, settled.events).late) == 2
