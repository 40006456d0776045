"""Ids, titles, words and batches are opaque: called anything else, consistently, the same work comes to
the same."""

import json
from typing import Any

import pytest

from tests.core.test_progress import Log
from tests.jacket import repair
from tests.joints import joint
from tests.power import BUILDS, TAPS, file
from tests.trace import SHEETS, trace
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.folding import fold
from tinknot.core.work.mending import Place, again_from, consequence, mends_of
from tinknot.core.work.states import Progress
from tinknot.core.work.summary import summary_of
from tinknot.core.work.verdict import judge, trends_of

RULES = RuleBook.of()
JOINTS = {
    "four in line": joint(cable_length_m=120),
    "cast": file(BUILDS["armoured to plain, cast, wet"]),
    "tap": file(next(iter(TAPS.values()))),
    "trace": trace(sorted(SHEETS)[0]),
    "jacket": repair(),
}
WORDS = {
    "title",
    "text",
    "caution",
    "look",
    "fails",
    "batch_title",
    "batch_text",
    "action",
    "seen",
    "label",
    "reason",
}


def called(name: str) -> str:
    """Another name, the same each time, that says nothing."""
    return f"q{sum(ord(c) * (i + 7) for i, c in enumerate(name)) % 10**8}" if name else ""


def renamed(plan: Plan) -> Plan:
    """The plan with every step, layer and batch called something else, and every word gone."""
    data = json.loads(plan.model_dump_json())
    steps = {s["id"] for s in data["steps"]}
    layers = (
        {s["layer"] for s in data["steps"]}
        | {p["layer"] for p in data["parts"]}
        | {b["layer"] for b in data["section"]["bodies"]}
    )
    assert len({called(s) for s in steps | layers}) == len(steps | layers)

    def go(value: Any, key: str = "") -> Any:
        if isinstance(value, dict):
            return {k: go(v, k) for k, v in value.items()}
        if isinstance(value, list):
            return [go(v, key) for v in value]
        if key in WORDS:
            return "x"
        if isinstance(value, str) and (key in ("layer", "batch") or (value in steps and key in STEPS)):
            return called(value)
        return value

    return Plan.model_validate(go(data) | {"section": go(data["section"])})


STEPS = ("id", "needs", "after", "since", "step", "shut_by")  # fields that name steps


def worked(plan: Plan, steps: list[str]) -> Progress:
    """Every step named done, with readings that pass."""
    log = Log(plan)
    for step in steps:
        found = plan.step(step)
        assert found is not None, step
        values = {g.id: (g.least or 0) * 100 if g.least else (g.most or g.target or 0) for g in found.gates}
        log.add("done", step, values=values)
    return fold(plan, log.events)


@pytest.fixture(params=JOINTS, ids=str)
def plans(request) -> tuple[Plan, Plan]:
    plan = plan_joint(JOINTS[request.param])
    assert plan.verdict == "planned"
    return plan, renamed(plan)


def states(p: Progress) -> list[tuple[str, bool]]:
    return [(s.state, bool(s.locked_by)) for s in p.steps]


def test_a_whole_journey_is_the_same(plans):
    one, other = plans
    ids = [s.id for s in one.steps]
    for upto in range(0, len(ids) + 1, 5):
        a, b = worked(one, ids[:upto]), worked(other, [called(i) for i in ids[:upto]])
        assert states(a) == states(b)
        assert (a.state, a.done, a.total) == (b.state, b.done, b.total)
        assert [called(i) for i in a.next] == b.next
        assert [called(i) for i in a.layers_done] == b.layers_done
        assert [(called(c.step), c.fraction, c.full_at) for c in a.cures] == [
            (c.step, c.fraction, c.full_at) for c in b.cures
        ]
        left, right = summary_of(one, a, {}), summary_of(other, b, {})
        assert (left.done, left.minutes, left.loops) == (right.done, right.minutes, right.loops)


def test_the_verdict_is_the_same(plans):
    one, other = plans
    ids = [s.id for s in one.steps if s.hold != "released"]
    a, b = worked(one, ids), worked(other, [called(i) for i in ids])
    left, right = judge(one, a, RULES), judge(other, b, RULES)
    assert left.verdict == right.verdict
    assert [(p.value, p.passes, p.at_20c, p.share_of_before) for p in left.proofs] == [
        (p.value, p.passes, p.at_20c, p.share_of_before) for p in right.proofs
    ]
    assert [(called(t.step), t.before_mohm) for t in trends_of(one, a, RULES)] == [
        (t.step, t.before_mohm) for t in trends_of(other, b, RULES)
    ]


def test_every_way_to_mend_costs_the_same(plans):
    one, other = plans
    counted = {s.id for s in one.steps[: len(one.steps) * 2 // 3]}
    again = {called(k): {called(i) for i in v} for k, v in again_from(one).items()}
    assert again == {k: set(v) for k, v in again_from(other).items()}
    for f in one.faults:
        step = next((s for s in one.steps if s.layer == f.layer), None)
        if step is None:
            continue
        here, there = Place(f.id, step.id, f.layer), Place(f.id, called(step.id), called(f.layer))
        for mend, same in zip(mends_of(one, here), mends_of(other, there), strict=True):
            a = consequence(one, here, mend, counted, lost_mm={})
            b = consequence(other, there, same, {called(i) for i in counted}, lost_mm={})
            assert (a.lost_mm, a.minutes, len(a.again)) == (b.lost_mm, b.minutes, len(b.again))
            assert [called(i) for i in a.reopens] == b.reopens
            assert bool(a.why_not) == bool(b.why_not)
