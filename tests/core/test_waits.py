"""Waits: every one can end, and what cools or cures side by side is not added up (domain 27, law 9)."""

import json
from pathlib import Path

import pytest

from tests.power import BUILDS, file
from tinknot.core.families.file import file_of
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook


def cools(plan) -> list[float]:
    return [g.most for s in plan.steps if s.id.startswith("cool.") for g in s.gates]


@pytest.mark.parametrize(("air_c", "touch_c"), [(20, 40), (35, 40), (36, 41), (43, 48)])
def test_in_hot_air_what_may_be_touched_is_the_air_and_5_k(air_c: float, touch_c: float):
    plan = plan_joint(file(BUILDS["armoured both, sleeved"] | {"ambient_c": air_c}))
    assert set(cools(plan)) == {touch_c}
    assert [b for b in plan.breaks if b.law == 9] == []
    waits = [t.least_min for s in plan.steps if s.id.startswith("cool.") for t in s.timers]
    assert all(0 < w < 12 * 60 for w in waits)


def test_a_rule_of_the_site_that_is_higher_stays():
    rules = RuleBook.of({"cool.touch_c": 50})
    assert set(cools(plan_joint(file(BUILDS["armoured both, sleeved"] | {"ambient_c": 43}), rules))) == {50}


def test_what_cools_and_cures_side_by_side_counts_once():
    """A core's tube on A cools while the sealant of B cures, for far longer."""
    plan = plan_joint(file_of(Path("examples/heat-trace-zone.json").read_text()))
    waits = {
        s.id: max((t.least_min or 0 for t in s.timers), default=0) for s in plan.steps if s.kind == "wait"
    }
    assert {"cool.core-tube-A", "cure.sealant-B"} <= waits.keys()
    assert plan.minutes.waiting == max(waits.values())


def test_what_is_shrunk_one_over_the_other_is_waited_for_in_turn():
    plan = plan_joint(file(BUILDS["armoured both, sleeved"]))
    each = {s.layer: max(t.least_min for t in s.timers) for s in plan.steps if s.id.startswith("cool.")}
    assert len(each) >= 3
    assert plan.minutes.waiting == pytest.approx(sum(each.values()))


def test_examples_wait_no_longer_than_all_their_waits_together():
    for path in sorted(Path("examples").glob("*.json")):
        joint = file_of(json.dumps(json.loads(path.read_text())))
        plan = plan_joint(joint)
        if plan.verdict == "planned":
            assert 0 <= plan.minutes.waiting < 1e7, path.stem
