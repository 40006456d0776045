"""What is offered when something is wrong, played in the world as it is: it can be done by hands, mends, and
leads on; or it is not offered."""

from pathlib import Path

import pytest

from tests.conftest import FULL
from tests.world.plans import EXAMPLES, planned
from tinknot.core.families.file import file_of
from tinknot.core.planning.solve import plan_joint
from tinknot.core.work.mending import Consequence, Place, consequence, mends_of
from tinknot.core.world.play import moments, play

WHOLE = [n for n in EXAMPLES if not n.startswith("heat-trace")]
SOME = WHOLE if FULL else WHOLE[::5]


def offered(plan, step) -> list[Place]:
    """What the page offers at a step: the faults of its layer that are seen there, and own words."""
    here = [
        f
        for f in plan.faults
        if f.layer == step.layer and not f.forgotten and (not f.steps or step.id in f.steps)
    ]
    return [Place(f.id, step.id, step.layer) for f in here] + [Place("", step.id, step.layer)]


def ways(plan, place: Place, done: set[str]) -> list[Consequence]:
    return [consequence(plan, place, m, done, lost_mm={}) for m in mends_of(plan, place)]


@pytest.mark.parametrize("name", SOME)
def test_what_is_offered_at_every_step_can_be_done_and_leads_on(name: str):
    """Each step just done, or found wrong only after the next one. What a mend asks for again is taken back,
    and done again in the world that is left: nothing is broken that was sound, nothing is in its way."""
    plan = plan_joint(file_of(Path(EXAMPLES[name]).read_text()))
    steps, found = planned(name)
    sound = {(b.law, b.step, b.place) for b in play(steps, found)}
    played: set[frozenset[str]] = set()
    said = {s.id for s in plan.steps if s.kind in ("gate", "measure")}  # once more where it stands
    several = {s.id for s in steps if s.kind == "inspect" and len(s.acts) > 1}  # as far as it is seen
    lasting = {s.id for s in plan.steps if s.once}
    for n, step in enumerate(steps):
        for done in ({s.id for s in steps[: n + 1]}, {s.id for s in steps[: n + 2]}):
            for place in offered(plan, step):
                all_ways = ways(plan, place, done)
                left_over = [w for w in all_ways if not w.why_not or "no longer reaches" in w.why_not]
                assert left_over, f"{place}: nothing can be done"
                stays = [m.stays for m in mends_of(plan, place)]
                for way in (w for w, s in zip(all_ways, stays, strict=True) if not s and not w.why_not):
                    if way.kind not in ("again", "new-part"):
                        continue
                    again = {*way.reopens} - said - (lasting if way.kind == "again" else set())
                    if not again or frozenset(again | done) in played:
                        continue
                    played.add(frozenset(again | done))
                    left = [s for s in steps if s.id in done - again]
                    once_more = [s for s in steps if s.id in again]
                    order = [*left, *once_more, *(s for s in steps if s.id not in done)]
                    told = play(order, found, shown=False)
                    broken = {
                        (b.law, b.step, b.place) for b in told if b.step not in several | (done - again)
                    }
                    assert broken <= sound, (place, way.words)


@pytest.mark.parametrize("name", SOME)
def test_nothing_that_lies_under_what_lasts_is_asked_for_again(name: str):
    """Once all is closed, no mend of what lies inside takes a sleeve, a joint or a cut back."""
    plan = plan_joint(file_of(Path(EXAMPLES[name]).read_text()))
    done = {s.id for s in plan.steps}
    lasting = {s.id for s in plan.steps if s.once}
    for step in plan.steps:
        for place in offered(plan, step):
            for way in ways(plan, place, done):
                if way.why_not or way.kind in ("remake", "end-again"):
                    continue
                own = {s.id for s in plan.steps if s.layer == place.layer}
                assert lasting & {*way.reopens} <= own, (place, way.words, way.reopens)


@pytest.mark.parametrize("name", SOME)
def test_a_step_that_was_only_said_is_said_again_by_itself(name: str):
    """Proved dead once more: nothing that was cut or shrunk since is asked for again."""
    plan = plan_joint(file_of(Path(EXAMPLES[name]).read_text()))
    step = next(s for s in plan.steps if s.kind == "gate")
    done = {s.id for s in plan.steps}
    again = next(w for w in ways(plan, Place("", step.id, step.layer), done) if w.kind == "again")
    assert again.why_not == ""
    assert {plan.step(x).kind for x in again.reopens} <= {"gate", "sign"}


def test_an_end_cut_back_loses_what_is_shrunk_on_it():
    """A solder sleeve on a lead: cut back, it is needed once more; only threaded on, it slides off."""
    plan = plan_joint(file_of(Path(EXAMPLES["ground-lead"]).read_text()))
    fault = next(f for f in plan.faults if f.id == "walked")
    look = next(s for s in plan.steps if s.layer == fault.layer and s.kind == "inspect")
    place = Place("walked", look.id, fault.layer)
    order = [s.id for s in plan.steps]
    (way,) = [w for w in ways(plan, place, set(order[: order.index(look.id)])) if w.kind == "end-again"]
    assert [a.layer for a in way.again] == [fault.layer]
    park = next(n for n, x in enumerate(order) if plan.step(x).kind == "park")
    early = set(order[: park + 1])
    (before,) = [w for w in ways(plan, place, early) if w.kind == "end-again"]
    assert before.again == []


def test_moments_are_those_of_the_plan():
    """The play above goes over all the steps of a plan."""
    steps, found = planned("four-core-buried")
    assert [s.id for s, _, _ in moments(steps, found)] == [s.id for s in steps]


def test_what_closes_over_one_core_leaves_the_others_and_the_cable_to_the_hand():
    plan = plan_joint(file_of(Path(EXAMPLES["armoured-in-line"]).read_text()))
    sleeved = {s.id for s in plan.steps if s.id.startswith("seal.core-sleeve")}
    assert not sleeved & set(plan.step("fold.A").shut_by)
    assert plan.step("surface.core-sleeve-1").shut_by == ["seal.core-sleeve-1"]
    assert {*plan.step("connectors").shut_by} == sleeved  # a look at all of them
