"""What readings of continuity contradict; the same vectors run in the browser."""

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import cases
from tests.core.test_vectors import EMPTY
from tests.screened import EXAMPLE, screened
from tinknot.core.plan.steps import GateOut, StepOut
from tinknot.core.planning.solve import plan_joint
from tinknot.core.work.ringing import rung_wrong

VECTORS = json.loads((Path(__file__).parents[1] / "vectors" / "ringing.json").read_text())
PLAN = plan_joint(screened())
MAP = PLAN.step("map.cores")


def step(gates: list[dict[str, Any]], pairs: list[list[int]] = []) -> StepOut:  # noqa: B006 never changed
    figures = {"label": "", "unit": "", "tolerance": 0.0, "least": None, "most": None, "required": False}
    given = [GateOut(**(figures | g)) for g in gates]
    empty = EMPTY | {"kind": "identify", "hold": None, "second_person": False, "focus_mm": None}
    return StepOut(**empty, id="map", needs=[], gates=given, pairs=[tuple(p) for p in pairs])


@pytest.mark.parametrize("case", VECTORS["terminals"], ids=lambda c: c["what"])
def test_cores_at_another_terminal(case):
    assert rung_wrong(step(VECTORS["gates"]), case["reads"]) == case["says"]


@pytest.mark.parametrize("case", VECTORS["walk"]["cases"], ids=lambda c: c["what"])
def test_numbers_of_a_walk(case):
    walk = VECTORS["walk"]
    assert rung_wrong(step(walk["gates"], walk["pairs"]), case["reads"]) == case["says"]


def test_a_joint_of_pairs_is_rung_through_before_it_is_tested():
    assert [g.group for g in MAP.gates] == ["1", "1", "2", "2", "3", "3", "4", "4"]
    assert [g.target for g in MAP.gates] == list(range(1, 9))
    assert PLAN.step("test.before.continuity").needs == ["map.cores"]
    first, second = MAP.gates[1].id, MAP.gates[2].id
    assert rung_wrong(MAP, {first: 3, second: 2})[0].startswith("Unit 1 is split (core 1b")


@cases(60)
@given(st.permutations(range(8)))
def test_every_wrong_order_is_named_and_the_right_one_is_not(order):
    """Each core that rings elsewhere stands in a sentence; nothing is said of a core at its own."""
    said = " ".join(rung_wrong(MAP, {g.id: order[n] + 1.0 for n, g in enumerate(MAP.gates)}))
    for n, g in enumerate(MAP.gates):
        assert (f"{g.name} is joined to" in said) == (order[n] != n)
    assert bool(said) == (list(order) != list(range(8)))


@pytest.mark.parametrize("cores", [3, 4, 5, 9, 12, 24])
def test_a_walk_as_it_is_tied_has_no_contradiction_and_one_misread_core_has(cores: int):
    """Each core reads the size of its group at the far end: the plan's own pairs."""
    given = {k: v for k, v in EXAMPLE.items() if not k.startswith("screen_od")}
    plan = plan_joint(screened(**(given | {"make_up": f"{cores} × 0.5", "marks": "walk", "stock": _stock()})))
    back = plan.step("identify.back")
    left = list(back.pairs)
    reads = {}
    for g in back.gates:
        pair = next(p for p in left if p[0] == int(g.group))
        left.remove(pair)
        reads[g.id] = float(pair[1])
    assert rung_wrong(back, reads) == []
    assert rung_wrong(back, reads | {back.gates[0].id: 90.0}) != []


def _stock() -> dict[str, Any]:
    return EXAMPLE["stock"]
