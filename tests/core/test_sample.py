"""Sheets of low-voltage kits tried on a sample cable: their steps find a place, else it is said."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.model import parse
from tinknot.core.planning.sample import AREAS_MM2, sample_joint, sheet_steps
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets import doubts

RULES = RuleBook.of()
SERVES: dict[str, Any] = {
    "area_least_mm2": 4,
    "area_most_mm2": 25,
    "sheath_least_mm": 12,
    "sheath_most_mm": 36,
}


def sheet(**more: Any) -> KitSheet:
    return parse(KitSheet, {"id": "k", "name": "K", "recipe": "straight-lv", "serves": SERVES} | more)


@pytest.mark.parametrize("closure", [None, "sleeve", "wrap-around", "resin"])
@pytest.mark.parametrize("recipe", ["straight-lv", "tap-lv"])
def test_every_way_to_close_has_a_sample_that_fits(recipe: str, closure: str | None):
    of = sheet(recipe=recipe, closure=closure)
    assert plan_joint(sample_joint(of), RULES).verdict == "planned"
    steps, found = sheet_steps(of, RULES)
    assert found == []
    ids = [s.id for s in steps]
    assert len(ids) == len(set(ids))
    assert {"isolated", "sealed-and-proved", "join.1"} <= set(ids)
    assert "join.2" not in ids  # of every core one is enough


@given(st.data())
def test_the_sample_lies_within_what_is_served(data: st.DataObject):
    low, high = sorted(data.draw(st.lists(st.sampled_from(AREAS_MM2), min_size=2, max_size=2)))
    least, most = sorted(data.draw(st.lists(st.integers(1, 5), min_size=2, max_size=2)))
    armoured = data.draw(st.sampled_from([None, True, False]))
    of = sheet(
        serves={"cores_least": least, "cores_most": most, "area_least_mm2": low, "area_most_mm2": high}
        | ({} if armoured is None else {"armoured": armoured})
    )
    joint = sample_joint(of)
    assert joint.not_served_by(of) == []
    joint.check()


def test_a_step_after_one_that_such_a_joint_lacks_is_doubted_at_its_place():
    good = {"id": "a", "title": "Look at the ring", "after": "cut.armour.A", "before": "fold.A"}
    assert sheet_steps(sheet(steps=[good]), RULES)[1] == []
    steps, found = sheet_steps(sheet(steps=[good, good | {"id": "b", "after": "cut.lead.A"}]), RULES)
    assert [(d.path, "no step of this joint" in d.message) for d in found] == [("/steps/1/after", True)]
    assert steps  # those there are can still be chosen from
    circle = good | {"after": "fold.A", "before": "cut.armour.A"}
    assert "runs in a circle" in sheet_steps(sheet(steps=[circle]), RULES)[1][0].message


def test_what_a_sheet_serves_must_be_said_and_run_forward():
    assert {d.path for d in doubts(sheet(serves={}), RULES)} == {
        "/serves/area_most_mm2",
        "/serves/sheath_most_mm",
    }
    backward = doubts(sheet(serves=SERVES | {"area_most_mm2": 2.5, "cores_least": 4, "cores_most": 2}), RULES)
    assert {d.path for d in backward} == {"/serves/area_most_mm2", "/serves/cores_most"}
    twice = [{"id": "a", "title": "One", "after": "isolated"}] * 2
    assert [d.path for d in doubts(sheet(steps=twice), RULES)] == ["/steps/0/id", "/steps/1/id"]
