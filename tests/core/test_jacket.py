"""Jacket repair: what a graded damage needs, and what is no repair any more."""

import json
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jacket import EXAMPLE, REPAIRS, repair
from tinknot.core.errors import InputError
from tinknot.core.families.asks import asked_now, body_of, doubts_of
from tinknot.core.families.file import file_of
from tinknot.core.families.jacket import ASKS, JACKET
from tinknot.core.planning.solve import look_at, plan_joint
from tinknot.core.rulebook import RuleBook

RULES = RuleBook.of()


def test_a_cut_is_filled_and_sleeved():
    """Overlap of 40 mm each side (rule book; 1.5 × 24.6 is less): 65 + 80 = 145 covered. The hole of 1.8
    mm takes one pass of mastic: 2 × 1.6 / √1.5 / 0.5 = 5.2 mm on the diameter. The sleeve must pass what
    that makes."""
    plan = plan_joint(repair())
    assert plan.verdict == "planned"
    assert plan.joint_length_mm == 145
    assert [p.part_id for p in plan.parts] == ["W-60", "TM-38"]
    (choice,) = plan.choices
    assert choice.pass_od_mm == pytest.approx(24.6 - 3.6 + 2 * 1.6 / 1.5**0.5 / 0.5, abs=1e-6)
    assert choice.seal_od_mm == 24.1  # the lesser reading is gripped
    assert choice.covered_mm == 145
    assert plan.parts[0].cut_length_mm >= 145 / 0.95
    assert plan.closure == "wrap-around"
    order = [s.id for s in plan.steps]
    assert (
        order.index("inspect.damage") < order.index("test.before.insulation") < order.index("before-closing")
    )
    assert order.index("before-closing") < order.index("wrap.fill") < order.index("seal.repair-sleeve")
    assert [s.hold for s in plan.steps if s.hold] == [
        "isolated",
        "measured",
        "before-closing",
        "sealed-and-proved",
        "released",
    ]


def test_a_scratch_needs_no_filling():
    plan = plan_joint(repair(grade="scratch", jacket_mm=None))
    assert [p.layer for p in plan.parts] == ["repair-sleeve"]
    assert plan.choices[0].pass_od_mm == 24.6


def test_a_core_seen_is_sent_to_a_joint():
    plan = plan_joint(repair(grade="core"))
    assert (plan.verdict, plan.steps) == ("nothing-fits", [])
    assert "core or screen" in plan.warnings[0]
    (remedy,) = plan.remedies
    assert remedy.change == {"family": "straight-lv"}


def test_without_a_sleeve_that_fits_it_is_taped_and_says_why():
    """Two passes at least: one gap then never reaches through. Each adds 2 × 0.76 / √2 / 0.5 = 2.15 mm."""
    plan = plan_joint(repair(sheath_od_mm=70, sheath_od_across_mm=None))
    assert plan.closure == "tape"
    assert any("No wrap-around sleeve" in w for w in plan.warnings)
    assert plan.greatest_diameter_mm == pytest.approx(
        max(70, 70 - 3.6 + 2 * 1.6 / 1.5**0.5 / 0.5) + 2 * 2 * 0.76 / 2**0.5 / 0.5, abs=1e-6
    )


@pytest.mark.parametrize("duty", ["buried", "immersed", "oil", "moving"])
def test_tape_alone_is_refused_where_it_does_not_hold(duty: str):
    plan = plan_joint(repair(duties=[duty], method="tape"))
    assert plan.verdict == "nothing-fits"
    assert f"where it is {duty}" in plan.warnings[0]
    assert "closed-by-tape" not in [r.id for r in plan.remedies]


def test_no_room_beside_it_is_said_with_its_mend():
    plan = plan_joint(repair(clear_mm=25))
    assert plan.verdict == "nothing-fits"
    assert "25 mm lie clear" in plan.warnings[0]
    assert "clear-cable" in [r.id for r in plan.remedies]


def test_no_heat_takes_no_hot_sleeve():
    plan = plan_joint(repair(cold_only=True))
    assert plan.closure == "tape"
    assert not any(s.hot for s in plan.steps)


def test_the_other_way_is_offered_complete():
    (way,) = look_at(repair(), RULES).ways
    assert way.id == "closed-by-tape"
    again = plan_joint(file_of(json.dumps(EXAMPLE | way.change["asked"])))
    assert again.joint_length_mm == way.joint_length_mm
    assert again.minutes == way.minutes


def test_a_hole_needs_its_depth():
    with pytest.raises(InputError) as fault:
        plan_joint(repair(jacket_mm=None))
    assert fault.value.errors[0].path == "/jacket_mm"
    with pytest.raises(InputError, match="half the cable"):
        plan_joint(repair(jacket_mm=13))


def test_what_it_warns_of():
    words = " ".join(plan_joint(repair(wet=True, material="polyethylene", ambient_c=-3)).warnings)
    for part in ("Water may have got in", "Polyethylene", "Cold:"):
        assert part in words


@given(
    length=st.floats(1, 400),
    od=st.floats(8, 50),
    wall=st.floats(0.5, 3),
    name=st.sampled_from(sorted(REPAIRS)),
)
def test_every_repair_seals_on_sound_jacket(length: float, od: float, wall: float, name: str):
    """Whatever is damaged: what closes it reaches the rule book's overlap onto sound jacket on both sides,
    the jacket is level under it, and the drawing is as long as the plan says."""
    changes = {k: v for k, v in REPAIRS[name].items() if k != "jacket_mm"}
    plan = plan_joint(
        repair(length_mm=length, sheath_od_mm=od, sheath_od_across_mm=None, jacket_mm=wall, **changes)
    )
    if plan.verdict != "planned":
        assert plan.remedies
        return
    overlap = max(RULES.number("overlap.outer_min_mm"), RULES.number("overlap.outer_per_od") * od)
    assert plan.joint_length_mm == pytest.approx(length + 2 * overlap)
    assert plan.section is not None
    (covered,) = (d for d in plan.section.dimensions if d.kind == "covered")
    assert covered.value_mm == pytest.approx(plan.joint_length_mm)
    assert plan.greatest_diameter_mm >= od
    assert len(plan.profile) >= 2


def test_questions_follow_the_answers():
    assert "jacket_mm" not in {a.id for a in asked_now(ASKS, {"grade": "scratch"})}
    assert {"jacket_mm", "wet"} <= {a.id for a in asked_now(ASKS, {"grade": "cut"})}
    assert "armoured" in {a.id for a in asked_now(ASKS, {"grade": "bedding"})}
    # what was answered before the grade changed is no part of the file any more
    assert body_of(ASKS, {"grade": "scratch", "jacket_mm": 2.0}) == {"grade": "scratch"}


def test_unlikely_answers_are_doubted_not_refused():
    doubts = list(doubts_of(ASKS, {"grade": "cut", "sheath_od_mm": 246.0, "jacket_mm": 1.8}))
    assert [d.path for d in doubts] == ["/asked/sheath_od_mm"]
    assert "246 mm" in doubts[0].message


def test_every_question_fills_a_field_of_the_file():
    fields = set(JACKET.file.model_fields)
    for ask in ASKS:
        assert ask.id in fields
        if ask.kind == "length":
            assert re.search("_mm$", ask.id)
            assert ask.unit == "mm"
        if ask.when:
            assert ask.when.ask in {a.id for a in ASKS}


def test_the_record_says_what_was_entered():
    draft = {"asked": {"grade": "cut", "length_mm": 65.0, "wet": True, "jacket_mm": 1.8}}
    said = {r.what: r.value for r in JACKET.readings(draft)}
    assert said["Damaged length along the cable"] == "65 mm"
    assert said["Water may have got in"] == "yes"
    assert said["How deep it goes"].startswith("cut or holed")
