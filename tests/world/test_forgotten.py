"""A part that was forgotten: what is offered mends it in the world as it is, and leads on, or is refused."""

from pathlib import Path

import pytest

from tests.conftest import FULL
from tests.core.test_progress import Log
from tests.world.plans import EXAMPLES, planned, told
from tinknot.core.acts import Attest, Join, ThreadOn
from tinknot.core.families.file import file_of
from tinknot.core.planning.solve import plan_joint
from tinknot.core.work.folding import fold
from tinknot.core.work.mending import Place, consequence

THREADED = [n for n in EXAMPLES if any(s.kind == "park" for s in planned(n)[0])]
SOME = THREADED if FULL else THREADED[::4]


def plan_of(name: str):
    return plan_joint(file_of(Path(EXAMPLES[name]).read_text()))


@pytest.mark.parametrize("name", SOME)
def test_threaded_late_but_before_joining_nothing_is_broken_that_was_sound(name: str):
    """Each part left off until all others are on: what is offered then can be done by hands."""
    steps, found = planned(name)
    sound = {b[:3] for b in told(steps, found)}
    counted = next(
        (
            n
            for n, s in enumerate(steps)
            if any(isinstance(a, Attest) and a.what == "counted" for a in s.acts)
        ),
        None,
    )
    first = next((n for n, s in enumerate(steps) if any(isinstance(a, Join) for a in s.acts)), len(steps))
    for n, s in enumerate(steps):
        if counted is None or not any(isinstance(a, ThreadOn) for a in s.acts) or n > min(counted, first):
            continue
        late = [*steps[:n], *steps[n + 1 : counted], s, *steps[counted:]]
        assert {b[:3] for b in told(late, found)} <= sound, s.id


@pytest.mark.parametrize("name", SOME)
def test_every_part_that_is_threaded_can_be_said_to_be_forgotten(name: str):
    plan = plan_of(name)
    parks = {s.layer for s in plan.steps if s.kind == "park"}
    told_of = {f.layer: f for f in plan.faults if f.forgotten}
    assert parks <= told_of.keys()
    joins = {s.id for s in plan.steps if s.kind == "join"}
    before = {s.id for s in plan.steps if s.station in ("card", "measure", "cut", "park")}
    for layer in parks:
        step = next(s for s in plan.steps if s.kind == "park" and s.layer == layer)
        place, fault = Place(told_of[layer].id, step.id, layer), told_of[layer]
        (thread,) = [m for m in fault.mends if m.kind == "again"]
        early = consequence(plan, place, thread, before, lost_mm={})
        assert early.why_not == ""
        assert step.id in early.reopens or step.id not in before
        assert early.again == []  # it was never used
        late = consequence(plan, place, thread, {s.id for s in plan.steps}, lost_mm={})
        assert bool(late.why_not) == bool(joins)
        others = [m for m in fault.mends if m.kind != "again"]
        assert others, "after joining something must be left to do"
        for m in others:
            refused = consequence(plan, place, m, {s.id for s in plan.steps}, lost_mm={}).why_not
            assert ("still threads it on" in refused) == m.planned


def test_a_core_sleeve_forgotten_is_its_own_fault_and_leads_on():
    plan = plan_of("four-core-buried")
    park = next(s for s in plan.steps if s.id.startswith("park.core-sleeve"))
    log = Log(plan).through("parked").add("fault", park.id, choice="not-threaded")
    stopped = fold(plan, log.events)
    assert [(f.layer, f.step) for f in stopped.faults] == [(park.layer, park.id)]
    after = fold(plan, log.add("remedy", choice="again", about=stopped.faults[0].id).events)
    assert after.faults == []
    state = {s.id: s.state for s in after.steps}
    assert (state[park.id], state["parked"]) == ("open", "locked")


def test_a_spoilt_splice_is_its_own_fault():
    plan = plan_of("screened-pairs")
    (fault,) = [f for f in plan.faults if f.id == "splice-spoilt" and f.layer == "unit-1"]
    assert [m.kind for m in fault.mends] == ["new-part", "mended", "remake"]
    place = Place(fault.id, "join.1", "unit-1")
    cost = consequence(plan, place, fault.mends[0], {"join.1"}, lost_mm={})
    assert cost.why_not == ""
    assert {a.part_id for a in cost.again} == {"WS-05"}
