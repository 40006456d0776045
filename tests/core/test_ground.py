"""A lead on a screen: windows at their edges, what is never soldered, and what is refused."""

from math import acos, pi, sqrt
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.ground import BOOTED, EXAMPLE, LEGGED, ground
from tinknot.core.errors import InputError
from tinknot.core.families.ground.file import GroundFile
from tinknot.core.families.ground.place import Place
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import look_at, plan_joint
from tinknot.core.rulebook import RuleBook

SLEEVE: dict[str, Any] = EXAMPLE["stock"]["solder_sleeves"][0]


def planned(**changes: Any) -> Plan:
    return plan_joint(ground(**changes))


def with_sleeve(given: dict[str, Any], **more: Any) -> Plan:
    """Planned with one solder sleeve in stock, the example's with changes."""
    return planned(method="solder", stock={"solder_sleeves": [SLEEVE | given]}, **more)


def why(plan: Plan) -> str:
    (choice,) = plan.choices
    return choice.candidates[0].reason


def string(d: float, e: float) -> float:
    """The tight string round two circles that touch, as a diameter: two tangents √(d·e) long and two arcs
    (plane geometry)."""
    half = acos((d - e) / (d + e))
    return (2 * sqrt(d * e) + d * (pi - half) + e * half) / pi


def test_a_lead_is_soldered_on_and_its_window_worked_out():
    """Rear exit: the sleeve passes sheath and lead together and grips what lies under the screen."""
    plan = planned()
    assert [p.part_id for p in plan.parts] == ["SS-9"]
    (choice,) = plan.choices
    assert choice.pass_od_mm == pytest.approx(string(6.1, 1.9), abs=1e-3)
    assert choice.seal_od_mm == 3.9
    assert plan.joint_length_mm == 40
    order = [s.id for s in plan.steps]
    for first, then in (
        ("screen-dead", "cut.sheath.A"),
        ("cut.scrap", "cut.sheath.A"),
        ("park.solder-sleeve", "before-closing"),
        ("test.before.insulation", "lay.lead"),
        ("place.solder-sleeve", "seal.solder-sleeve"),
        ("cool.solder-sleeve", "test.after.screen"),
    ):
        assert order.index(first) < order.index(then)
    assert [s.hold for s in plan.steps if s.hold] == [
        "isolated",
        "measured",
        "parked",
        "before-closing",
        "sealed-and-proved",
        "released",
    ]


def test_the_reading_of_the_lead_is_its_own_and_a_contact():
    """0.75 mm² flexible copper has 26 Ω/km (IEC 60228, class 5): 1.1 × 150 mm of it and 1 mΩ."""
    gate = planned().step("test.after.screen").gates[0]
    assert gate.most == round(1.1 * 26.0 * 150 + 1000)


@pytest.mark.parametrize(("by", "fits"), [(0.1, True), (-0.1, False)])
def test_too_tight_for_sheath_and_lead_together(by: float, fits: bool):
    edge = max(string(6.1, 1.9) * 1.05, string(6.1, 1.9) + 0.5)
    plan = with_sleeve({"expanded_id_mm": edge + by})
    assert (plan.verdict == "planned") == fits
    assert fits or "short to pass" in why(plan)


@pytest.mark.parametrize(("by", "fits"), [(-0.1, True), (0.1, False)])
@pytest.mark.parametrize("exit_", ["front", "rear"])
def test_too_wide_for_one_mouth(by: float, fits: bool, exit_: str):
    """The thinner mouth: what lies under the screen, with the lead where it leaves there."""
    thin = 3.9 if exit_ == "rear" else min(string(3.9, 1.9), 6.1)
    plan = with_sleeve({"recovered_id_mm": thin * 0.9 + by}, exit=exit_)
    assert (plan.verdict == "planned") == fits
    assert fits or "too wide to grip" in why(plan)


@pytest.mark.parametrize(
    ("change", "strip", "words"),
    [
        ({"solder_mm": 10.1}, "end", "over core insulation"),
        ({"solder_mm": 10.1}, "window", "beside the screen"),
        ({"solder_at_mm": 9.9}, "end", "sealing ring of its wide mouth would lie on bare screen"),
        ({"solder_at_mm": 30.1}, "end", "sealing ring of its other mouth would lie on bare screen"),
        ({"melts_c": 150.1}, "end", "what lies under the screen bears 150 °C"),
        ({"lead_mm2": 1.0}, "end", "has a lead in it"),
    ],
)
def test_rings_lie_where_they_belong(change: dict[str, Any], strip: str, words: str):
    """10 mm of bare screen, sealing rings of 5 mm, a sleeve of 40 mm: its solder stands from 10 to 30 mm."""
    assert words in why(with_sleeve(change, strip=strip))


@pytest.mark.parametrize(
    "change", [{"solder_mm": 9.9}, {"solder_at_mm": 10.1}, {"solder_at_mm": 29.9}, {"melts_c": 149.9}]
)
def test_and_inside_their_edges_they_do(change: dict[str, Any]):
    assert with_sleeve(change).verdict == "planned"


def test_foil_is_never_soldered():
    plan = planned(screen="foil")
    assert {p.part_id for p in plan.parts} == {"CF-8", "LT-12"}
    assert any("never soldered" in w for w in plan.warnings)
    assert planned(screen="foil", method="solder").verdict == "nothing-fits"
    faults = {f.id for f in plan.faults}
    assert {"foil-pinhole", "foil-torn", "drain-cut"} <= faults


def test_nickel_needs_its_flux():
    plan = planned(plating="nickel", bears_c=200)
    assert [p.part_id for p in plan.parts] == ["SS-9H"]
    assert "nickel" in next(c.reason for c in plan.choices[0].candidates if c.part_id == "SS-9")


def test_a_second_earth_and_a_lighter_one_are_refused_in_words():
    far = planned(earthed="far")
    assert far.verdict == "nothing-fits"
    assert "second earth" in far.warnings[0]
    assert [r.id for r in far.remedies] == ["ask-owner"]
    thin = planned(lead_area_mm2=0.4)
    assert "lighter than the 0.5 mm²" in thin.warnings[0]
    with pytest.raises(InputError, match="who decided"):
        planned(earthed="both")
    both = planned(earthed="both", owner="Y. Dahl")
    assert any("Y. Dahl" in w for w in both.warnings)
    assert "Bridge it" in both.step("screen-dead").text


def test_an_end_that_is_not_free_gets_a_spring():
    plan = planned(landed=True)
    assert plan.park is None
    assert {p.part_id for p in plan.parts} == {"CF-8", "TS-19"}
    assert planned(landed=True, method="ring").verdict == "nothing-fits"


def test_a_lead_in_its_sleeve_leaves_where_it_was_made_to():
    own = SLEEVE | {"lead_mm2": 0.75, "exit": "front"}
    in_it = {"lead": "in-sleeve", "lead_od_mm": None, "method": "solder"}
    assert planned(stock={"solder_sleeves": [own]}, exit="front", **in_it).verdict == "planned"
    assert "leaves to the front" in why(planned(stock={"solder_sleeves": [own]}, exit="rear", **in_it))
    thin = own | {"lead_mm2": 0.5}
    assert "are asked for" in why(planned(stock={"solder_sleeves": [thin]}, exit="front", **in_it))
    assert "cut.lead" not in {
        s.id for s in planned(stock={"solder_sleeves": [own]}, exit="front", **in_it).steps
    }


def test_no_room_to_slide_it_back():
    plan = planned(method="solder", clear_mm=45)
    assert plan.verdict == "nothing-fits"
    assert "free-tail" in {r.id for r in plan.remedies}
    assert planned(method="solder", clear_mm=50).verdict == "planned"


def test_every_way_to_hold_it_is_shown_with_what_it_comes_to():
    seen = look_at(ground(), RuleBook.of(), None)
    assert {w.id for w in seen.ways} >= {"held-by-spring", "held-by-ring"}


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ({"screen_od_mm": 6.1}, "/screen_od_mm"),
        ({"inside_od_mm": 4.7}, "/inside_od_mm"),
        ({"lead_od_mm": None}, "/lead_od_mm"),
        ({"lead": "braid", "lead_width_mm": 1, "lead_thickness_mm": 2}, "/lead_width_mm"),
    ],
)
def test_readings_that_cannot_be_are_named(changes: dict[str, Any], path: str):
    with pytest.raises(InputError) as fault:
        planned(**changes)
    assert [e.path for e in fault.value.errors] == [path]


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ({"solder_at_mm": 6.9}, "/solder_at_mm"),
        ({"scorch_c": 138}, "/scorch_c"),
        ({"recovered_id_mm": 9.2}, "/expanded_id_mm"),
    ],
)
def test_a_solder_sleeve_that_cannot_be_is_refused(changes: dict[str, Any], path: str):
    with pytest.raises(InputError) as fault:
        StockSolderSleeve.model_validate(SLEEVE | changes).check("")
    assert [e.path for e in fault.value.errors] == [path]


@given(st.floats(2, 30), st.floats(0.5, 5), st.floats(1, 4))
def test_cable_and_lead_together_are_more_than_the_cable_and_less_than_both(
    cable: float, lead: float, wide: float
):
    given_file = ground()
    assert isinstance(given_file, GroundFile)
    place = Place(given_file, RuleBook.of())
    both = place.with_lead(cable, lead)
    assert cable < both < cable + lead
    assert both == pytest.approx(string(max(cable, lead), min(cable, lead)), rel=1e-4)
    flat = given_file.model_copy(
        update={"lead": "braid", "lead_width_mm": lead * wide, "lead_thickness_mm": lead}
    )
    assert Place(flat, RuleBook.of()).with_lead(cable, lead) >= both - 1e-6


def test_the_drawing_has_its_rings_in_their_places():
    drawn = planned().section
    assert drawn is not None
    found = {b.id: (min(x for x, _ in b.top), max(x for x, _ in b.top)) for b in drawn.bodies}
    assert found["solder-sleeve"] == (-22, 18)
    rings = sorted(v for b in drawn.bodies if b.kind == "seal-ring" for v in [found[b.id]])
    assert rings == [(-22, -17), (13, 18)]
    assert next(found[b.id] for b in drawn.bodies if b.kind == "solder") == (-2, 2)
    assert {b.kind for b in drawn.bodies} >= {"sheath", "screen", "inside", "lead", "lead-bare"}


def test_a_braid_folded_back_lies_over_the_sheath():
    """Over it 6.3 and the braid, 0.8 mm on the diameter; 8 mm long as the cable is thinner; the sleeve still
    grips what lies in front."""
    plan = planned(fold=True)
    (choice,) = plan.choices
    bare = 1.2 * sqrt(4 * 0.75 / pi)
    assert choice.pass_od_mm == pytest.approx(max(string(6.3 + 0.8, bare), string(6.3, 1.9)), abs=2e-3)
    assert choice.seal_od_mm == 3.9
    braid = next(c for c in plan.cuts if c.layer == "braid")
    sheath = next(c for c in plan.cuts if c.layer == "sheath")
    assert (sheath.distance_mm, braid.distance_mm) == (60, 8)
    assert "fold it back over the sheath" in plan.step("cut.sheath.A").text
    drawn = {b.id: b for b in plan.section.bodies}
    assert drawn["sheath-A"].top[-1][0] == pytest.approx(4)
    assert drawn["screen"].top[0] == pytest.approx((-4, (6.3 + 0.8) / 2))


@pytest.mark.parametrize(("at_mm", "fold"), [(5 + 4.2, 8.4), (5 + 4, 8.0), (5 + 3.9, 0)])
def test_a_fold_keeps_clear_of_the_sealing_ring(at_mm: float, fold: float):
    """A thicker cable folds as far as it is thick, but no further than there is room for in the sleeve."""
    thick = {"sheath_od_mm": 8.6, "sheath_od_across_mm": 8.6, "screen_od_mm": 6.4, "inside_od_mm": 5.6}
    plan = with_sleeve({"expanded_id_mm": 14, "solder_at_mm": at_mm}, fold=True, exit="front", **thick)
    if fold:
        assert next(c for c in plan.cuts if c.layer == "braid").distance_mm == pytest.approx(fold)
    else:
        assert "sealing ring of its wide mouth would lie on the fold" in why(plan)


def test_only_braid_at_an_end_is_folded_back():
    with pytest.raises(InputError) as fault:
        planned(fold=True, strip="window")
    assert fault.value.errors[0].path == "/fold"
    short = planned(fold=True, ahead_mm=7)
    assert short.verdict == "nothing-fits"
    assert any("stands 7 mm in front" in w for w in short.warnings)


def legged(opening: int, **figures: float) -> dict[str, Any]:
    """The breakout with other figures at one mouth."""
    mouths = [m | (figures if n == opening else {}) for n, m in enumerate(LEGGED["openings"])]
    return BOOTED["stock"] | {"boots": [LEGGED | {"openings": mouths}]}


def test_a_boot_goes_over_cable_and_lead_each_by_a_mouth_of_its_own():
    """Its main mouth on the sheath behind the spring, the crutch where cable and lead part."""
    plan = planned(**BOOTED)
    assert plan.verdict == "planned"
    assert [c.title for c in plan.choices] == ["the main mouth", "the cable in front", "the lead"]
    main, front, lead = plan.choices
    assert (front.pass_od_mm, lead.pass_od_mm) == (3.9, 1.9)
    bare = 1.2 * sqrt(4 * 0.75 / pi)
    assert main.pass_od_mm == pytest.approx(string(4.7, bare) + 2 * 1.0, abs=2e-3)  # held by the spring
    assert main.seal_od_mm == 6.1
    order = [s.id for s in plan.steps]
    assert order.index("inspect.screen") < order.index("orient.boot") < order.index("before-closing")
    assert order.index("surface.boot.0") < order.index("lay.lead")  # its dust would fall on lead and spring
    assert order.index("inspect.holder") < order.index("wipe.boot.0") < order.index("seal.boot")
    assert plan.step("test.after.screen").needs == ["cool.boot"]
    assert {p.layer: p.part_id for p in plan.parts} == {"boot": "BR-2", "holder": "CF-9"}
    trunk = next(b for b in plan.section.bodies if b.id == "boot-moulded-0")
    assert trunk.top[0][0] == pytest.approx(5 - 50)  # 50 mm of main mouth up to the crutch


@pytest.mark.parametrize(("by", "fits"), [(0.1, True), (-0.1, False)])
def test_the_main_mouth_passes_what_holds_the_lead(by: float, fits: bool):
    thick = planned(**BOOTED).choices[0].pass_od_mm
    edge = max(thick * 1.05, thick + 0.5)
    plan = planned(**BOOTED | {"stock": legged(0, expanded_id_mm=edge + by)})
    assert (plan.verdict == "planned") == fits
    assert fits or "short to pass" in plan.choices[0].candidates[0].reason


def test_a_boot_is_closed_and_asks_for_a_lead_to_the_front():
    closed = planned(**BOOTED | {"landed": True})
    assert "what it goes over is landed" in closed.choices[0].candidates[0].reason
    with pytest.raises(InputError) as fault:
        planned(**BOOTED | {"exit": "rear", "hot_c": None})
    assert {e.path for e in fault.value.errors} == {"/cover", "/hot_c"}
    found = planned(**BOOTED | {"cover": None})
    assert any(r.id == "boot-over" for r in found.remedies)
