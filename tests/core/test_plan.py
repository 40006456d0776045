"""The whole plan: what fits, what does not, cuts that add up, a graph that can be worked."""

import pytest

from tests.joints import CORE_SLEEVE, OUTER_SLEEVES, joint, joint_dict
from tinknot.core.errors import InputError
from tinknot.core.families.offers import what_to_order
from tinknot.core.figures import unmarked
from tinknot.core.joint.file import JointFile
from tinknot.core.model import parse
from tinknot.core.planning.differences import differences
from tinknot.core.planning.solve import look_at, plan_joint
from tinknot.core.rulebook import RuleBook


def part(plan, layer: str):
    return next(p for p in plan.parts if p.layer == layer)


def test_worked_joint():
    """S = 38 + 2(1 + 1 + 10) = 62; cut 67: 40 mm of barrel at 0.9767, 2 mm free at 0.94, 20 mm at 0.9486,
    + 2. Long side 20 + 67 + 10 = 97, centre 15 + 31 = 46, gap 143; outer 143 + 2 × 40 = 223 covered."""
    plan = plan_joint(joint())
    assert plan.verdict == "planned"
    assert plan.gap_mm == pytest.approx(143)
    assert plan.joint_length_mm == pytest.approx(223)
    assert {(c.cut_a_mm, c.cut_b_mm) for c in plan.cores} == {(46, 97)}
    core, outer = part(plan, "core-sleeve-1"), part(plan, "outer-sleeve")
    assert (core.cut_length_mm, core.part_id) == (67, "core-9.5")
    assert core.od_after_mm == pytest.approx(8.764, abs=0.01)
    assert outer.part_id == "outer-28"
    assert outer.pass_od_mm == pytest.approx(21.159, abs=0.01)
    assert {r.part_id: r.reason for r in outer.rejected}["outer-22"] == "0.22 mm short to pass"
    assert plan.greatest_diameter_mm == pytest.approx(outer.od_after_mm)


@pytest.mark.parametrize("cores", [1, 2, 3, 4, 5])
@pytest.mark.parametrize("steps", [1, 2])
def test_every_plan_can_be_worked(cores: int, steps: int):
    if steps > cores:
        pytest.skip("more steps than cores")
    wide = [
        *OUTER_SLEEVES,
        {
            "id": "outer-40",
            "expanded_id_mm": 40,
            "recovered_id_mm": 10,
            "recovered_wall_mm": 3,
            "lined": True,
        },
    ]
    plan = plan_joint(joint(cores, stagger_steps=steps, stock={"sleeves": [CORE_SLEEVE, *wide]}))
    assert plan.verdict == "planned"
    place = {s.id: i for i, s in enumerate(plan.steps)}
    for s in plan.steps:
        assert all(place[n] < place[s.id] for n in s.needs), s.id
    holds = [s.hold for s in plan.steps if s.hold]
    assert holds == [
        "isolated",
        "measured",
        "parked",
        "connectors",
        "before-closing",
        "sealed-and-proved",
        "released",
    ]
    needs = {s.id: set(s.needs) for s in plan.steps}

    def before(step: str) -> set[str]:
        return needs[step] | {x for n in needs[step] for x in before(n)}

    parked = {e.step for _, e in plan.park.parts()}
    assert len(parked) == cores + 1
    for s in plan.steps:
        if s.kind == "join":
            assert parked <= before(s.id)
        if s.kind == "seal":
            assert any(x.startswith(("surface.", "wipe.")) for x in s.needs)
            assert any(s.id in i.needs and i.kind == "inspect" for i in plan.steps)
    assert len({round(c.cut_a_mm + c.cut_b_mm, 9) for c in plan.cores}) == 1
    xs = [x for x, _ in plan.profile]
    assert xs == sorted(xs)


def test_parked_core_sleeve_has_room_on_its_long_side():
    plan = plan_joint(joint())
    for _, e in plan.park.parts():
        if e.track != "sheath":
            core = next(c for c in plan.cores if c.core == e.track)
            long = core.cut_a_mm if e in plan.park.a else core.cut_b_mm
            assert long >= 20 + e.length_mm + 10 - 1e-9


def test_nothing_fits_says_which_edge_and_what_to_look_for():
    plan = plan_joint(joint(stock={"sleeves": [CORE_SLEEVE, *OUTER_SLEEVES[:2]]}))
    assert plan.verdict == "nothing-fits"
    outer = plan.choices[-1]
    assert outer.picked is None
    reasons = {c.part_id: c.reason for c in outer.candidates}
    assert reasons["outer-22"] == "0.22 mm short to pass"
    assert reasons["outer-30"] == "1.14 mm too wide to grip"
    assert "opens past 22.3 mm and closes under 13.8 mm" in outer.advice
    staggered = next(r for r in plan.remedies if r.change.get("stagger_steps") == 2)
    assert next(p for p in staggered.parts if p.layer == "outer-sleeve").part_id == "outer-22"
    assert staggered.joint_length_mm > 223
    assert any(r.id == "order-outer-sleeve" for r in plan.remedies)
    # a remedy is a complete alternative: applied, it plans to the same figures
    applied = plan_joint(joint(stock={"sleeves": [CORE_SLEEVE, *OUTER_SLEEVES[:2]]}, **staggered.change))
    assert applied.verdict == "planned"
    assert applied.joint_length_mm == staggered.joint_length_mm


def test_order_limits_are_rounded_to_the_safe_side():
    assert "past 22.3 mm and closes under 13.8 mm" in unmarked(what_to_order(22.217, 13.86, True))


def test_greater_reading_passes_lesser_grips():
    given = joint_dict()
    given["ends"]["A"]["sheath_od_across_mm"] = 14.6
    outer = part(plan_joint(parse(JointFile, given)), "outer-sleeve")
    assert outer.seal_od_mm == 14.6


def test_no_room_to_park():
    given = joint_dict()
    given["ends"]["A"]["free_mm"] = given["ends"]["B"]["free_mm"] = 200
    plan = plan_joint(parse(JointFile, given))
    assert plan.verdict == "nothing-fits"
    assert any("No room to park" in w for w in plan.warnings)
    assert any(r.id == "free-tail" for r in plan.remedies)


def test_connector_chosen_from_stock_by_area():
    stock = joint_dict()["stock"] | {
        "connectors": [
            {
                "id": "b10",
                "od_mm": 9,
                "length_mm": 42,
                "insertion_mm": 20,
                "area_least_mm2": 10,
                "area_most_mm2": 10,
            },
            {
                "id": "b6",
                "od_mm": 7.6,
                "length_mm": 38,
                "insertion_mm": 18,
                "growth_mm": 1,
                "area_least_mm2": 4,
                "area_most_mm2": 6,
                "on_hand": 4,
            },
        ]
    }
    given = joint_dict(stock=stock)
    del given["connector"]
    assert part(plan_joint(parse(JointFile, given)), "crimp-1").part_id == "b6"
    stock["connectors"][1]["on_hand"] = 3
    few = plan_joint(parse(JointFile, given))
    assert few.verdict == "nothing-fits"
    assert few.picks[0].advice.startswith("4 of b6 are needed, 3 are on hand. Order 4 connectors")


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"rated_voltage_v": 3000}, "/rated_voltage_v"),
        ({"stagger_steps": 5}, "/stagger_steps"),
        ({"connector": {"part_id": "nope"}}, "/connector/part_id"),
        ({"connector": {"od_mm": 7}}, "/connector/length_mm"),
        ({"choice": {"outer_sleeve": "nope"}}, "/choice"),
    ],
)
def test_contradictions_name_the_field(change: dict, path: str):
    with pytest.raises(InputError) as fault:
        plan_joint(joint(**change))
    assert fault.value.errors[0].path == path


def test_cores_must_pair_up():
    given = joint_dict()
    given["ends"]["B"]["cores"][0]["name"] = "9"
    with pytest.raises(InputError) as fault:
        plan_joint(parse(JointFile, given))
    assert fault.value.errors[0].path == "/ends/B/cores"


def test_duty_rejects_a_part_that_lacks_the_property():
    plan = plan_joint(joint(duties=["buried", "uv"]))
    outer = plan.choices[-1]
    assert outer.picked is None
    assert "is not uv-resistant" in {c.reason for c in outer.candidates}


def test_differences_in_words():
    given = joint_dict()
    given["connector"]["od_mm"] = 7.9
    words = differences(plan_joint(joint()), plan_joint(parse(JointFile, given)))
    assert any(w.startswith("Greatest diameter") for w in words)
    assert differences(plan_joint(joint()), plan_joint(joint())) == []


def test_ways_are_other_staggers():
    assert [w.change["stagger_steps"] for w in look_at(joint(), RuleBook.of()).ways] == [2, 3, 4]


def test_section_is_to_scale():
    plan = plan_joint(joint())
    section = plan.section
    sheath = next(b for b in section.bodies if b.id == "sheath-A")
    assert sheath.top[0][1] - sheath.bottom[0][1] == pytest.approx(15.4)
    outer = next(b for b in section.bodies if b.kind == "outer-sleeve")
    assert max(y for _, y in outer.top) * 2 == pytest.approx(plan.greatest_diameter_mm, abs=0.01)
    middle = next(c for c in section.crossings if c.from_mm < -26 + 1e-6 and c.to_mm > -26)
    assert [c.kind for c in middle.circles].count("connector") == 4
    edges = [c.from_mm for c in section.crossings] + [section.crossings[-1].to_mm]
    assert edges == sorted(edges)
    for crossing in section.crossings:  # nothing sticks out of what is round it
        for c in crossing.circles:
            assert (c.x_mm**2 + c.y_mm**2) ** 0.5 + c.od_mm / 2 <= crossing.outside_mm / 2 + 0.02


def test_rule_book_refuses_nonsense():
    with pytest.raises(InputError) as fault:
        RuleBook.of({"slide.pct": -3, "no.such": 1, "holds.second_person": "x"})
    assert [e.path for e in fault.value.errors] == ["/slide.pct", "/no.such", "/holds.second_person"]
