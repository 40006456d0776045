"""Screened cables joined: places and lengths, donor braid, what holds it, and what is asked before."""

import re
from copy import deepcopy
from itertools import accumulate, pairwise
from math import asin, cos, pi, sin, sqrt
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import cases
from tests.core.test_calculators import calc
from tests.screened import END_PIECES, EXAMPLE, HIGH_RATIO, LOW_RATIO, OWN_SLEEVES, SCREENS, screened
from tinknot.core.errors import InputError
from tinknot.core.families.screened.braiding import drawn_mm
from tinknot.core.families.screened.layout import laid, untwisted
from tinknot.core.families.screened.recipe import ScreenedRecipe
from tinknot.core.families.screened.twisted import Twist
from tinknot.core.joint.makeline import make_up
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.ringing import RingOut
from tinknot.core.layers.screened.screens import DonorBraid
from tinknot.core.layers.screened.splice import Splice
from tinknot.core.parts.donor import StockDonor
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import look_at, plan_joint
from tinknot.core.rulebook import RuleBook

RULES = RuleBook.of()
SPLICE = EXAMPLE["stock"]["splices"][0]
DONOR = EXAMPLE["stock"]["donors"][0]
SLEEVE = EXAMPLE["stock"]["solder_sleeves"][-1]


def splice_of(joint: Any) -> Splice:
    """What joins its cores."""
    return ScreenedRecipe(joint, RULES, None).splice_of[0]


def planned(stock: dict[str, Any] | None = None, **changes: Any) -> Plan:
    """The example with changes; `stock`: lists of it that are others."""
    given = deepcopy(EXAMPLE["stock"]) | (stock or {})
    return plan_joint(screened(**changes, stock=given))


def reasons(plan: Plan, layer: str) -> dict[str, str]:
    """Why each candidate of a choice or a pick does not serve."""
    for c in plan.choices:
        if c.layer == layer:
            return {k.part_id: k.reason for k in c.candidates}
    return {o.id: "" if o.serves else o.reason for p in plan.picks if p.layer == layer for o in p.offers}


def test_a_units_splices_stand_half_a_step_apart():
    """Barrel 10 and 5 between, or half of 36: 18 mm. One place: 15 clear + 36 + 18 + 15 = 84 mm."""
    plan = planned()
    assert plan.gap_mm == 84
    assert {c.core: (c.cut_a_mm, c.cut_b_mm) for c in plan.cores}["1a"] == (33, 51)
    assert {round(c.cut_a_mm + c.cut_b_mm, 6) for c in plan.cores} == {84}
    full = planned(apart="full")
    assert full.gap_mm == 15 + 36 + 41 + 15


def test_the_donor_is_cut_by_its_own_shortening():
    """Strand a turn stays: s² = (π(D+2d))² + lay². Over another diameter its lay, so its length, follows;
    along the bulge that is added up in small steps."""
    recipe = ScreenedRecipe(screened(), RULES, None)  # type: ignore[arg-type]  # the example's family
    found = recipe.solve()
    donor = next(x for x in found.layers if isinstance(x, DonorBraid))
    assert found.inner is not None
    strand, made = DONOR["strand_mm"], pi * (DONOR["under_mm"] + 2 * DONOR["strand_mm"])
    s = sqrt(made**2 + DONOR["lay_mm"] ** 2)
    half, fold = 42.0, 12.4  # 1 × sheath
    assert donor.span_mm == (-half - fold, half + fold)
    n, total, greatest = 20_000, 0.0, 0.0
    step = 2 * (half + fold) / n
    for i in range(n):
        x = -half - fold + (i + 0.5) * step
        d = found.inner.at(x).greatest_mm + (2 * 0.1 if abs(x) < half else 0.0)  # foil over the units
        greatest = max(greatest, d)
        total += step * DONOR["lay_mm"] / sqrt(s**2 - (pi * (d + 2 * strand)) ** 2)
    assert donor.cut_mm == pytest.approx(total + 30, abs=1.0)
    angle = asin(pi * (greatest + 2 * strand) / s)
    one_way = DONOR["carriers"] * DONOR["ends"] * strand / (2 * s * sin(angle) * cos(angle))
    covered = 100 * (2 * one_way - one_way**2)
    assert donor.coverage.startswith(f"{covered:.0f} % over ")
    assert f"{greatest:.1f}" in donor.coverage


def test_a_donor_that_covers_too_little_is_mended_by_a_second_layer():
    thin = {"donors": [DONOR | {"ends": 6}]}
    plan = planned(thin)
    assert plan.verdict == "nothing-fits"
    assert "85 % are asked for" in reasons(plan, "donor")["DB-12"]
    remedy = next(r for r in plan.remedies if r.id == "second-layer")
    again = planned(thin, second=True)
    assert again.verdict == "planned"
    assert remedy.change["asked"]["second"] is True
    one = next(m.quantity for m in planned().materials if m.part_id == "DB-12")
    assert next(m.quantity for m in again.materials if m.part_id == "DB-12") == pytest.approx(
        2 * one, rel=0.02
    )


def test_a_donor_that_jams_is_refused_with_how_far_it_goes():
    assert re.match(r"jams: it goes over [\d.]+ mm at most", reasons(planned(), "donor")["DB-6"])


@pytest.mark.parametrize(("by", "fits"), [(0.1, True), (-0.1, False)])
def test_a_solder_sleeve_passes_fold_and_donor_together(by: float, fits: bool):
    """Sheath 12.4, the braid's two strands twice, the donor's two strands twice."""
    thick = 12.4 + 2 * 2 * 0.15 + 2 * 2 * 0.2
    edge = max(thick * 1.05, thick + 0.5)
    plan = planned({"solder_sleeves": [SLEEVE | {"expanded_id_mm": edge + by}]}, fixed="solder")
    assert (plan.verdict == "planned") == fits
    assert fits or "short to pass" in reasons(plan, "solder-A")["SS-20"]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"solder_mm": 12.5}, "its ring of solder is 12.5 mm wide"),
        ({"solder_at_mm": 7 + 8 / 2 - 0.1}, "sealing ring of its wide mouth would lie on the fold"),
        ({"melts_c": 141}, "bears 140 °C"),
    ],
)
def test_its_rings_lie_where_they_belong(change: dict[str, Any], words: str):
    plan = planned({"solder_sleeves": [SLEEVE | change]}, fixed="solder")
    assert words in reasons(plan, "solder-A")["SS-20"]
    assert "fixed-spring" in {r.id for r in plan.remedies}  # the cold way


def test_no_heat_means_springs_and_a_sleeve_that_needs_none():
    plan = planned(cold_only=True)
    assert plan.verdict == "nothing-fits"  # the splices need heat
    assert "is not cold-applied" in reasons(plan, "splices")["WS-05"]


def test_cores_of_both_sides_are_joined_by_one_splice():
    plan = planned(make_up_b="4 × 2 × 0.75", insulation_od_b_mm=2.2)
    assert next(p.part_id for p in plan.parts if p.title == "sealed splice") == "WS-05"
    assert next(p.quantity for p in plan.parts if p.title == "sealed splice") == 8
    wide = planned(make_up_b="4 × 2 × 1")
    assert "a core has 1 mm²" in reasons(wide, "splices")["WS-05"]


def test_what_is_left_over_is_capped_and_said():
    plan = planned(make_up_b="6 × 2 × 0.5")
    assert any("Spare on B, capped and kept: 5a, 5b, 6a, 6b" in w for w in plan.warnings)
    assert next(m.quantity for m in plan.materials if m.what == "cap for a spare core") == 4


def test_turns_to_wind_in_are_a_figure_and_a_deviation_can_be_written():
    """84 mm untwisted, a splice of 36 mm and two lays of 12 mm may stay: (84 − 36 − 24) / 12 = 2 turns."""
    step = planned(lay_mm=12).step("twist.1")
    assert (step.gates[0].target, step.gates[0].accept) == (2.0, True)
    assert "2 turns" in step.text
    assert "60 mm may stay untwisted" in step.text
    assert planned(lay_mm=None).step("twist.1").gates == []
    long = planned(lay_mm=200).step("twist.1")
    assert long.gates[0].target == 0
    assert "0 turns" not in long.text
    assert "split-pair" in {f.id for f in planned().faults}


def test_a_drain_wire_is_joined_and_foil_made_good_before_the_braid():
    order = [s.id for s in planned().steps]
    for first, then in (
        ("test.before.insulation", "bond.drains"),
        ("bond.drains", "wrap.foil"),
        ("inspect.foil", "fit.donor"),
        ("inspect.donor", "place.solder-A"),
        ("cool.solder-A", "seal.outer-sleeve"),
        ("park.outer-sleeve", "fold.B"),
    ):
        assert order.index(first) < order.index(then)
    plain = {s.id for s in planned(make_up="4 × 2 × 0.5", screen_od_mm=None).steps}
    assert not plain & {"bond.drains", "wrap.foil", "fit.donor", "test.after.screen"}


def test_what_papers_forbid_needs_a_name():
    with pytest.raises(InputError, match="consents by name"):
        planned(forbids=True)
    assert any("Y. Dahl consented" in w for w in planned(forbids=True, owner="Y. Dahl").warnings)


@pytest.mark.parametrize(
    ("changes", "path"),
    [
        ({"make_up": "some wires"}, "/make_up"),
        ({"make_up_b": "8 × 0.5"}, "/make_up_b"),
        ({"screen_od_mm": None}, "/screen_od_mm"),
        ({"inside_od_mm": 10.4}, "/inside_od_mm"),
        ({"insulation_od_mm": 9.7}, "/insulation_od_mm"),
        ({"positions": 5}, "/positions"),
    ],
)
def test_readings_that_cannot_be_are_named(changes: dict[str, Any], path: str):
    with pytest.raises(InputError) as fault:
        planned(**changes)
    assert [e.path for e in fault.value.errors] == [path]


def test_every_way_to_lay_it_is_shown():
    found = {w.id: w for w in look_at(screened(), RULES, None).ways}
    assert {"places-2", "places-4", "apart-full", "fixed-spring", "second-layer"} <= set(found)
    lengths = [found[f"places-{k}"].joint_length_mm or 0 for k in (2, 3, 4)]
    assert lengths == sorted(lengths)


def test_twelve_pairs_take_at_most_sixty_touches():
    """Steps of one batch are confirmed together."""
    plan = planned(
        {"splices": [SPLICE | {"on_hand": 100}]},
        make_up="12 × 2 × 0.5, each pair foil and drain",
        screen_od_mm=None,
        strand_mm=None,
        inside_od_mm=14.5,
        sheath_od_mm=17,
    )
    assert plan.verdict == "planned", reasons(plan, "outer-sleeve")
    assert len({s.batch or s.id for s in plan.steps}) <= 60


@cases(40)
@given(
    units=st.integers(1, 12),
    per=st.integers(1, 4),
    places=st.integers(1, 6),
    apart=st.sampled_from(["half", "full"]),
)
def test_metal_never_lies_beside_metal_in_a_unit(units: int, per: int, places: int, apart: str):
    splice = splice_of(screened())
    cable = make_up(f"{units} × {per} × 0.5" if per > 1 else f"{units} × 0.5")
    layout = laid(
        cable, min(places, units), apart, [splice] * units, cores_mm=[(1.9, 1.9)] * units, rules=RULES
    )
    for cores in layout.centres_mm.values():
        at = sorted(cores.values())
        least = splice.length_mm if apart == "full" else splice.metal_mm
        assert all(q - p >= least for p, q in pairwise(at))
    a, b = layout.cut_mm("A"), layout.cut_mm("B")
    for unit, cores in a.items():
        for core, mm in cores.items():
            assert mm + b[unit][core] == pytest.approx(layout.gap_mm)
            assert (
                min(mm, b[unit][core]) >= RULES.number("stagger.clear_core_mm") + splice.length_mm / 2 - 1e-6
            )
    widest = max(layout.bundle_mm((p + q) / 2) for p, q in pairwise(layout.edges))
    assert layout.greatest_mm == widest


@given(st.lists(st.tuples(st.floats(1, 80), st.floats(8, 17)), min_size=1, max_size=6))
def test_braid_over_one_diameter_is_the_calculators_and_else_between(stretches: list[tuple[float, float]]):
    """`donor` with the factor of the thinnest and of the thickest holds what is added up along the way."""
    braid = StockDonor.model_validate(DONOR).braid
    edges = [0.0, *accumulate(length for length, _ in stretches)]
    under = Profile.of_stretches(
        (a, b, d, d) for (a, b), (_, d) in zip(pairwise(edges), stretches, strict=True)
    )
    found, ends = drawn_mm(braid, under), []
    for d in (min(d for _, d in stretches), max(d for _, d in stretches)):
        given = {k: DONOR[k] for k in ("carriers", "strand_mm", "under_mm", "lay_mm")}
        factor = calc("braid", **given, ends_per_carrier=DONOR["ends"], over_mm=d)["length_factor"]
        if factor is None:  # thinner than it closes on
            factor = braid.length_factor(braid.least_under_mm)
        ends.append(edges[-1] / factor)
    assert min(ends) - 1e-6 <= found <= max(ends) + 1e-6


def test_the_drawing_shows_every_core_with_its_splice():
    drawn = planned().section
    assert drawn is not None
    kinds = [b.kind for b in drawn.bodies]
    assert (kinds.count("core"), kinds.count("splice"), kinds.count("fold")) == (8, 8, 2)
    assert {"donor", "foil", "solder", "seal-ring", "outer-sleeve"} <= set(kinds)
    middle = next(c for c in drawn.crossings if c.from_mm <= 0.5 <= c.to_mm)
    cores = [c for c in middle.circles if c.kind == "core"]
    assert len(cores) == 8
    for n, p in enumerate(cores):
        for q in cores[n + 1 :]:
            assert (p.x_mm - q.x_mm) ** 2 + (p.y_mm - q.y_mm) ** 2 >= (1.9 - 0.01) ** 2


def test_thin_cores_may_read_what_they_are():
    """0.5 mm² of class 2 has 36 Ω/km (IEC 60228): 1.1 × 200 m of it, and what leads and splices may add."""
    gate = planned(cable_length_m=200).step("test.before.continuity").gates[0]
    assert gate.most == pytest.approx(1.1 * 36.0 * 0.2 + 0.5, abs=0.01)
    assert any("as for 100 m" in w for w in planned().warnings)


@pytest.mark.parametrize("cores", range(1, 121))
def test_every_wire_gets_two_numbers_of_its_own(cores: int):
    """How many hang together here and there tells every wire; of five and nine with the screen tied along."""
    layer = RingOut("r", "cores", RULES, cores, units=("1",), by="walk", screened=True)
    pairs = layer.pairs()
    assert len(pairs) == len(set(pairs)) == layer.wires
    assert bool(layer.helped) == (cores < 3 or cores in (5, 9))
    assert len(layer.steps()[-1].gates) == cores


def test_cores_are_told_apart_before_they_are_joined():
    plan = planned(make_up="12 × 0.5", screen_od_mm=None, strand_mm=None, marks="walk")
    order = [s.id for s in plan.steps]
    assert order.index("strip.B.12") < order.index("identify.here") < order.index("identify.far")
    assert order.index("identify.back") < order.index("join.1")
    assert "4 + 5; 6 + 7 + 8" in plan.step("identify.here").text
    two = planned(marks="two").step("identify.two")
    assert [g.label for g in two.gates][:2] == ["core 1 is terminal", "core 2 is terminal"]
    assert not any(s.id.startswith("identify.") for s in planned().steps)


def members(names: str = "wh,br,gn,ye", **unit: Any) -> dict[str, Any]:
    """An end by its members: two pairs in foil under a braid."""
    cores = [{"name": n, "insulation_od_mm": 1.9, "area_mm2": 0.5} for n in names.split(",")]
    units = [
        {"name": str(i + 1), "kind": "pair", "screen": "foil-drain", "cores": cores[2 * i : 2 * i + 2]} | unit
        for i in range(2)
    ]
    return {"sheath_od_mm": 12.4, "free_mm": 700, "members": {"units": units, "screen": "braid"}}


def by_members(a: dict[str, Any], b: dict[str, Any]) -> Plan:
    lines = ("make_up", "insulation_od_mm", "inside_od_mm", "screen_od_mm", "sheath_od_mm", "free_a_mm")
    gone = dict.fromkeys((*lines, "free_b_mm", "lay_mm", "strand_mm", "bears_c", "earthed"))
    return plan_joint(screened(**gone, ends={"A": a, "B": b}))


def test_a_file_may_list_the_members_of_both_ends():
    """Colours that differ are named and get marker sleeves; what nobody measured is estimated."""
    plan = by_members(members(), members("1,2,3,4"))
    assert {c.core for c in plan.cores} == {"wh", "br", "gn", "ye"}
    assert plan.step("join.1").title == "Splice core wh to 1"
    assert plan.step("last.2").title == "Splice core ye to 4"
    assert any(
        "2 pairs of 0.5 mm², each pair with foil and drain, braid over all" in w for w in plan.warnings
    )
    assert {m.part_id: m.quantity for m in plan.materials}["MK-2"] == 4
    assert plan.step("park.marker-1").text == "As on side B: 1 on core wh, 2 on core br."
    alike = by_members(members(), members())
    assert alike.step("join.1").title == "Splice core wh"


@pytest.mark.parametrize(
    ("end", "path"),
    [
        (members(kind="triple"), "/ends/A/members/units/0/cores"),
        (members("a,b,a,c"), "/ends/A/members/units/1/cores/0/name"),
        (members(jacket_od_mm=-1), "/ends/A/members/units/0/jacket_od_mm"),
    ],
)
def test_members_that_cannot_be_are_named(end: dict[str, Any], path: str):
    with pytest.raises(InputError) as fault:
        by_members(end, members())
    assert path in [e.path for e in fault.value.errors]


TWO_SECTIONS = "2 × 2 × 0.5 + 2 × 0.75"
BARE = {"screen_od_mm": None, "strand_mm": None}
MIXED = "2 × 2 × 0.5 each foil and drain + 3 × 1.5, braid over all"


def test_units_of_different_kinds_and_sections_lie_in_one_cable():
    """Each section has a splice of its own; drains and foil only where there are some."""
    plan = planned(make_up=MIXED, insulation_od_mm=2.6, insulation_least_mm=1.9)
    assert plan.verdict == "planned"
    assert {c.core: c.area_mm2 for c in plan.cores} == {
        "1a": 0.5,
        "1b": 0.5,
        "2a": 0.5,
        "2b": 0.5,
        "3": 1.5,
        "4": 1.5,
        "5": 1.5,
    }
    used = {p.part_id: p.quantity for p in plan.parts}
    assert (used["WS-05"], used["WS-15"]) == (4, 3)
    assert plan.step("strip.A.2").text.startswith("6 mm bare")
    assert plan.step("strip.A.3").text.startswith("7 mm bare")
    assert plan.step("bond.drains").text.startswith("2 to join")
    assert "the 2 units alone" in plan.step("wrap.foil").text
    ids = {s.id for s in plan.steps}
    assert {"twist.1", "twist.2"} <= ids
    assert "twist.3" not in ids
    ohms = {g.id: g.most for g in plan.step("test.after.continuity").gates}
    assert ohms["core-1a"] > ohms["core-3"]
    assert plan.section is not None
    thick = {b.core: b.top[0][1] - b.bottom[0][1] for b in plan.section.bodies if b.kind == "core"}
    assert (thick["1a"], thick["3"]) == (pytest.approx(1.9), pytest.approx(2.6))


def test_splices_for_two_sections_come_from_one_stock():
    """Four cores of 0.5 and two of 0.75: the last two find four of five taken."""
    few = {"splices": [SPLICE | {"on_hand": 5}]}
    plan = planned(few, make_up=TWO_SECTIONS, insulation_least_mm=1.9, **BARE)
    assert plan.verdict == "nothing-fits"
    assert reasons(plan, "splices-0.5")["WS-05"] == ""
    assert reasons(plan, "splices-0.75")["WS-05"] == "5 on hand, 6 needed"
    own_sleeves = own("barrel", make_up=TWO_SECTIONS, insulation_least_mm=1.9, **BARE)
    assert own_sleeves.verdict == "planned"
    assert {m.part_id: m.quantity for m in own_sleeves.materials}["BR-1"] == 6


def test_a_file_may_list_members_of_different_kinds():
    """Each with the insulation that is its own."""
    side = members()
    core = {"name": "bu", "insulation_od_mm": 2.6, "area_mm2": 1.5}
    side["members"]["units"].append({"name": "3", "cores": [core]})
    plan = by_members(side, deepcopy(side))
    assert plan.verdict == "planned"
    assert [c.core for c in plan.cores] == ["wh", "br", "gn", "ye", "bu"]
    assert plan.section is not None
    thick = {b.core: b.top[0][1] - b.bottom[0][1] for b in plan.section.bodies if b.kind == "core"}
    assert (thick["wh"], thick["bu"]) == (pytest.approx(1.9), pytest.approx(2.6))


def test_a_unit_with_a_braid_of_its_own_is_a_joint_of_its_own():
    plan = planned(make_up="1 × 2 × 0.5 each braid + 2 × 0.5")
    assert plan.verdict != "planned"
    assert any("Pair 1 has a braid of its own" in w for w in plan.warnings)
    alone = planned(make_up="1 × 2 × 0.5, each pair foil and drain and braid")
    assert alone.verdict == "planned"
    assert "fold.A" in {s.id for s in alone.steps}


@pytest.mark.parametrize("least", [None, 2.6])
def test_the_thinnest_core_is_measured_where_they_differ(least: float | None):
    with pytest.raises(InputError) as fault:
        planned(make_up=MIXED, insulation_od_mm=1.9, insulation_least_mm=least)
    assert [e.path for e in fault.value.errors] == ["/insulation_least_mm"]


THICKER = "4 × 2 × 0.75, each pair foil and drain, braid over all"


# --- other ways to join a core ------------------------------------------------------------------------------


def own(splice: str, **more: Any) -> Plan:
    """Planned with barrels and core sleeves in stock, joined so."""
    return plan_joint(screened(splice=splice, stock=OWN_SLEEVES, **more))


@pytest.mark.parametrize(
    ("splice", "word"), [("barrel", "BR-1"), ("lap", "side by side"), ("hook", "Hook both")]
)
def test_a_core_is_joined_by_barrel_lap_or_hook_with_a_sleeve_of_its_own(splice: str, word: str):
    plan = own(splice)
    assert plan.verdict == "planned"
    assert word in plan.step("join.1").text
    parked = [p for tail in plan.park.by_end for p in tail.parts if p.layer.startswith("unit-")]
    assert {p.part_id for p in parked} == {"CS-4"}
    order = [s.id for s in plan.steps]
    assert (
        order.index("park.unit-1")
        < order.index("parked")
        < order.index("join.1")
        < order.index("seal.unit-1")
    )
    used = {m.what: m.quantity for m in plan.materials}
    (cut,) = {p.cut_length_mm for p in plan.parts if p.part_id == "CS-4"}
    assert used["CS-4"] == 8 * cut == sum(p.taken for p in plan.parts if p.part_id == "CS-4")
    assert used.get("BR-1", 0) == (8 if splice == "barrel" else 0)


def test_each_sleeve_has_room_on_the_long_side_of_its_core():
    """Sleeve, bare conductor and what the tool needs lie between sheath cut and metal."""
    for splice, away in (("barrel", 10.0), ("lap", 30.0)):
        plan = own(splice)
        strip = splice_of(screened(splice=splice, stock=OWN_SLEEVES)).strip_mm
        (cut,) = {p.cut_length_mm for p in plan.parts if p.part_id == "CS-4"}
        waits = {p.layer: t.end for t in plan.park.by_end for p in t.parts if p.layer.startswith("unit-")}
        for core in plan.cores:
            end = waits[f"unit-{core.core[0]}"]
            assert core.by_end[end] >= cut + strip + away - 1.1, (splice, core)  # metal is half its strip in


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"splice": "barrel", "half_strands": True}, "in a soldered lap only"),
        (
            {"splice": "lap", "half_strands": True, "make_up": THICKER},
            "up to 0.5 mm²; here a core has 0.75 mm²",
        ),
        ({"splice": "lap", "cold_only": True}, "Nothing is soldered where no heat is allowed"),
        ({"splice": "hook", "duties": ["hazardous"]}, "Nothing is soldered where no heat is allowed"),
    ],
)
def test_half_strands_and_solder_only_where_they_are_allowed(changes, words: str):
    plan = own(changes.pop("splice"), **changes)
    assert plan.verdict == "nothing-fits"
    assert any(words in w for w in plan.warnings)


def test_half_strands_are_told_as_a_deviation():
    plan = own("lap", half_strands=True)
    assert plan.verdict == "planned"
    assert any("a deviation, kept in the record" in w for w in plan.warnings)
    assert "half of the strands of each cut off" in plan.step("join.1").text
    assert not any("deviation" in w for w in own("lap").warnings)


def test_a_barrel_that_is_not_there_or_does_not_take_the_core_is_said():
    few = OWN_SLEEVES | {"connectors": [OWN_SLEEVES["connectors"][0] | {"on_hand": 7}]}
    plan = plan_joint(screened(splice="barrel", stock=few))
    assert plan.verdict == "nothing-fits"
    assert plan.picks[0].offers[0].reason == "7 on hand, 8 needed"
    thin = OWN_SLEEVES | {"connectors": [OWN_SLEEVES["connectors"][0] | {"area_most_mm2": 0.4}]}
    assert (
        plan_joint(screened(splice="barrel", stock=thin)).picks[0].offers[0].reason == "does not take 0.5 mm²"
    )


def test_every_other_way_to_join_is_offered_with_its_length():
    offered = {w.id: w for w in look_at(screened(stock=OWN_SLEEVES), RULES).ways}
    assert {"splice-barrel", "splice-lap", "splice-hook"} <= offered.keys()
    assert offered["splice-hook"].joint_length_mm == own("hook").joint_length_mm


FOIL = EXAMPLE["stock"]["foils"][0]


def quantity(plan: Plan, part: str) -> float:
    return next(m.quantity for m in plan.materials if part in (m.part_id, m.what))


def test_foil_is_wound_on_every_unit_alone():
    """Missing from the first splice's edge to the last one's and 15 mm beyond both, at most the gap of 84 mm:
    54 + 30. Half-lapped, 15 mm wide: a turn every 7.5 mm, √((π·d)² + 7.5²) long on the foil's own middle;
    two passes of it lie over each other, so its mean is a foil's thickness out."""
    d = quantity(planned(), "FO-15")
    recipe = ScreenedRecipe(screened(), RULES, None)  # type: ignore[arg-type]  # the example's family
    unit = next(iter(recipe.layouts.values())).unit_mm("1")
    one = 84 / 7.5 * sqrt((pi * (unit + 2 * 0.05)) ** 2 + 7.5**2)
    assert d == pytest.approx(4 * one, abs=1)


def test_foil_is_taken_from_equal_cable_where_no_reel_serves():
    """One length of that cable has the foil of all its units, and costs 30 mm more."""
    own = FOIL | {"id": "FO-EQ", "harvested": True, "roll_mm": 200, "on_hand": 1}
    both = planned({"foils": [own, FOIL]})
    assert next(p.picked for p in both.picks if p.layer == "foil") == "FO-15"
    alone = planned({"foils": [own, FOIL | {"on_hand": 0}]})
    assert quantity(alone, "FO-EQ") == 84 + 30
    assert "take it from 114 mm of equal cable" in alone.step("wrap.foil").text
    short = planned({"foils": [own | {"roll_mm": 113}]}, positions=1)
    assert short.verdict == "nothing-fits"
    assert reasons(short, "foil") == {"FO-EQ": "113 mm on hand, 114 mm needed"}
    assert quantity(planned({"foils": []}), "equal cable, for its foil") == 114


def test_braid_taken_from_equal_cable_books_that_cable():
    """Cut length + 30 mm; off a reel comes first."""
    own = DONOR | {"id": "DB-EQ", "harvested": True}
    cut = quantity(planned(), "DB-12")
    plan = planned({"donors": [own]})
    assert quantity(plan, "DB-EQ") == cut + 30
    assert f"Off {cut + 30:g} mm of equal cable" in plan.step("park.donor").text
    both = planned({"donors": [own | {"carriers": 48}, DONOR]})
    assert next(p.picked for p in both.picks if p.layer == "donor") == "DB-12"


def test_markers_are_printed_for_their_core_or_written_by_hand():
    """A printed one serves only the core it names; where none fits one is used that nobody counts."""
    marker = EXAMPLE["stock"]["markers"][0]
    line = {"make_up_b": "4 × 2 × 0.5, each pair foil and drain, braid over all, core 1a is red"}
    red, blue = (marker | {"id": f"M-{c}", "text": c} for c in ("red", "blue"))
    by_hand = planned({"markers": [marker, blue]}, **line)
    assert quantity(by_hand, "MK-2") == 1
    side = by_hand.step("park.marker-1").end
    says = "red" if side == "A" else "1a"
    printed = planned({"markers": [marker, red | {"text": says}, blue]}, **line)
    assert quantity(printed, "M-red") == 1
    assert printed.step("park.marker-1").end == side
    none = planned({"markers": [marker | {"od_most_mm": 1.6}]}, **line)
    assert quantity(none, "marker sleeve") == 1
    assert not any(s.id.startswith("park.marker") for s in planned().steps)


def test_a_unit_that_is_spare_is_joined_to_none():
    plan = planned(make_up="4 × 2 × 0.5, each pair foil and drain, braid over all, pair 2 spare")
    assert {c.core for c in plan.cores} == {"1a", "1b", "3a", "3b", "4a", "4b"}
    assert "Spare on A, capped and kept: 2a, 2b." in plan.warnings
    assert any(s.id == "join.3" for s in plan.steps)
    assert not any(s.id == "join.2" for s in plan.steps)


def test_an_outer_sleeve_that_does_not_close_gets_end_pieces():
    """Its own window is the bulge alone then; the pieces go over its cooled ends and grip the sheath."""
    alone = planned(END_PIECES)
    assert alone.verdict == "nothing-fits"
    remedy = next(r for r in alone.remedies if r.id == "end-pieces-both")
    assert remedy.change["asked"]["end_pieces"] == "both"
    plan = planned(END_PIECES, end_pieces="both")
    assert plan.verdict == "planned"
    assert {p.layer: p.part_id for p in plan.parts}["outer-sleeve"] == "LR-22"
    assert {p.part_id for p in plan.parts if p.layer.startswith("end-piece")} == {"HR-24"}
    order = [s.id for s in plan.steps]
    assert order.index("park.end-piece-B") < order.index("park.outer-sleeve")
    assert order.index("cool.outer-sleeve") < order.index("seal.end-piece-A")
    assert {"cool.end-piece-A", "cool.end-piece-B"} <= set(plan.step("test.after.continuity").needs)
    assert "ends are closed next" in plan.step("inspect.outer-sleeve").look


@pytest.mark.parametrize(("by", "fits"), [(0.1, True), (-0.1, False)])
def test_an_end_piece_goes_over_the_end_of_the_outer_sleeve(by: float, fits: bool):
    """The outer sleeve lies there as narrow as it gets: 12.6 inside and its wall of 1.5 mm twice."""
    over = 12.6 + 2 * 1.5
    piece = HIGH_RATIO | {"expanded_id_mm": max(over * 1.05, over + 0.5) + by}
    sleeves = [LOW_RATIO | {"on_hand_mm": 2000}, piece]
    plan = planned({"sleeves": sleeves}, end_pieces="both", positions=1)
    assert (plan.verdict == "planned") == fits
    assert fits or "short to pass" in reasons(plan, "end-piece-A")["HR-24"]


@pytest.mark.parametrize(("by", "fits"), [(-0.1, True), (0.1, False)])
def test_one_end_piece_leaves_the_other_end_to_the_outer_sleeve(by: float, fits: bool):
    """It must still close on the sheath of A, by 10 %."""
    sleeves = [LOW_RATIO | {"on_hand_mm": 2000, "recovered_id_mm": 12.4 * 0.9 + by}, HIGH_RATIO]
    plan = planned({"sleeves": sleeves}, end_pieces="B", positions=1)
    outer = next(c for c in plan.choices if c.layer == "outer-sleeve")
    assert outer.seal_od_mm == 12.4
    assert ("too wide to grip" in reasons(plan, "outer-sleeve")["LR-22"]) != fits


def test_pieces_that_go_round_need_not_be_threaded():
    wrap = HIGH_RATIO | {"id": "WR-24", "form": "wrap-around"}
    sleeves = [*END_PIECES["sleeves"], wrap]
    plan = planned({"sleeves": sleeves}, end_pieces="both", pieces_wrap=True)
    assert {p.part_id for p in plan.parts if p.layer.startswith("end-piece")} == {"WR-24"}
    assert not any(s.id.startswith("park.end-piece") for s in plan.steps)


@pytest.mark.parametrize(("at_mm", "fold"), [(7 + 12.4 / 2 + 1, 12.4), (7 + 5, 10.0), (7 + 4, 8.0)])
def test_a_fold_is_no_longer_than_its_solder_sleeve_has_room_for(at_mm: float, fold: float):
    """1 × sheath, from 8 mm on; half of it lies between the ring of solder and the sealing ring."""
    plan = planned({"solder_sleeves": [SLEEVE | {"solder_at_mm": at_mm}]}, fixed="solder")
    assert plan.verdict == "planned"
    cut = next(c for c in plan.cuts if c.layer == "braid" and c.end == "A")
    assert cut.distance_mm == pytest.approx(fold)


@given(
    st.integers(1, 8), st.integers(2, 4), st.integers(1, 4), st.floats(10, 120), st.floats(0, 4), st.data()
)
def test_a_units_cores_turn_round_each_other_once_in_a_lay(
    units: int, per: int, positions: int, lay: float, left: float, data: Any
):
    """Straight over its splices, from there on each stays as far from the unit's middle as it lies; together
    they make the turns that are wound in."""
    cable = make_up(f"{units} × {per} × 0.5")
    splice = splice_of(screened())
    layout = laid(
        cable, min(positions, units), "half", [splice] * units, cores_mm=[(1.9, 1.9)] * units, rules=RULES
    )
    unit = data.draw(st.sampled_from(sorted(layout.centres_mm)))
    centres = layout.centres_mm[unit]
    start, end = untwisted(layout, unit, lay, left)
    assert -layout.gap_mm / 2 <= start + 1e-9
    assert end <= layout.gap_mm / 2 + 1e-9
    assert end - start == pytest.approx(
        min(
            layout.gap_mm,
            splice.length_mm + max(max(centres.values()) - min(centres.values()), left * lay),
        )
    )
    places = [(cos(2 * pi * i / per), sin(2 * pi * i / per)) for i in range(per)]
    for n in range(per):
        parts = list(Twist(lay, left).parts(layout, unit, places, n))
        assert parts[0].line == [(start, places[n][1]), (end, places[n][1])]
        assert all(abs(y) <= 1 + 1e-9 for p in parts for _, y in p.line)
        covered = sum(p.line[-1][0] - p.line[0][0] for p in parts)
        assert covered == pytest.approx(layout.gap_mm)
        ordered = sorted(parts, key=lambda p: p.line[0][0])
        for p, q in pairwise(ordered):
            assert p.line[-1] == pytest.approx(q.line[0])


def test_a_long_gap_shows_the_turns_that_are_wound_in():
    """Four places leave room for turns of a lay of 30 mm; the cores cross as often as they turn."""
    plan = planned(positions=4, lay_mm=30)
    turns = next(g.target for g in plan.step("twist.1").gates)
    assert turns > 1
    a, b = (
        sorted((x, y) for s in plan.section.bodies if s.core == c and s.kind == "core" for x, y in s.top)
        for c in ("1a", "1b")
    )
    crossings = sum(
        (y1 - y2) * (y3 - y4) < 0
        for ((_, y1), (_, y2)), ((_, y3), (_, y4)) in pairwise(zip(a, b, strict=True))
    )
    assert crossings >= 2 * int(turns) - 1


RINGED = SCREENS["screened, crimp rings on the folds"]


@pytest.mark.parametrize(("by", "fits"), [(0.1, True), (-0.1, False)])
def test_a_crimp_ring_is_slid_over_fold_and_donor_and_pressed_there(by: float, fits: bool):
    """Sheath 12.4, strands of the braid and of the donor twice each on both sides."""
    on = 12.4 + 4 * 0.15 + 4 * 0.2
    ring = RINGED["stock"]["rings"][0] | {"inside_mm": max(on * 1.05, on + 0.5) + by, "od_most_mm": 14.0}
    plan = planned({"rings": [ring]}, fixed="ring")
    assert (plan.verdict == "planned") == fits
    if not fits:
        assert "are needed to slide it on" in reasons(plan, "ring-A")["CR-14"]
        return
    order = [s.id for s in plan.steps]
    assert order.index("park.ring-B") < order.index("park.donor") or plan.step("park.donor").end == "A"
    assert order.index("inspect.donor") < order.index("bond.ring-A")
    assert "die hex 14" in plan.step("bond.ring-A").text
    loose = planned({"rings": [ring | {"od_least_mm": on + 0.1, "od_most_mm": on + 0.2}]}, fixed="ring")
    assert "holds from" in reasons(loose, "ring-A")["CR-14"]


def test_what_stays_untwisted_and_the_turns_lost_are_said_side_by_side():
    """A splice of 36 mm and two lays of 30 mm, at most the gap."""
    plan = planned(positions=4, lay_mm=30)
    assert any(w == "96 mm of a pair stay untwisted, 3.2 turns lost." for w in plan.warnings)
    found = look_at(screened(lay_mm=30), RULES)
    assert all("turns lost" in w.why for w in found.ways if w.id.startswith("places-"))


@pytest.mark.parametrize("fault", ["foil-pinhole", "foil-torn"])
def test_a_nicked_foil_is_mended_by_its_degree(fault: str):
    (found,) = (f for f in planned().faults if f.id == fault)
    assert found.mends[0].kind == "mended"
    assert set(found.steps) == {"wrap.foil", "inspect.foil"}


def test_drain_wires_and_the_solder_that_has_run_are_drawn():
    """A wire for each pair; solder on both sides of each ring as far as it must be seen, 4 mm."""
    bodies = planned().section.bodies
    assert len([b for b in bodies if b.kind == "drain"]) == 4
    fillets = [b for b in bodies if "-fillet-" in b.id]
    assert len(fillets) == 4
    assert all(b.top[-1][0] - b.top[0][0] == pytest.approx(4) for b in fillets)


CAPPED = SCREENS["screened, spare pairs under caps"]


@pytest.mark.parametrize(
    ("figures", "words"),
    [
        ({"expanded_id_mm": max(1.9 * 1.05, 1.9 + 0.5) + 0.1}, ""),
        ({"expanded_id_mm": max(1.9 * 1.05, 1.9 + 0.5) - 0.1}, "short to pass"),
        ({"recovered_id_mm": 1.9 * 0.9 + 0.1}, "too wide to grip"),
    ],
)
def test_spare_cores_are_capped_with_what_goes_over_and_closes_on_them(figures: dict[str, Any], words: str):
    cap = CAPPED["stock"]["boots"][0]
    plan = planned({"boots": [cap | {"openings": [cap["openings"][0] | figures]}]}, make_up=CAPPED["make_up"])
    assert words in reasons(plan, "caps-A")["CP-4"]
    assert (plan.verdict == "planned") == (not words)
    if not words:
        assert quantity(plan, "CP-4") == 4  # a pair on both sides
        order = [s.id for s in plan.steps]
        assert order.index("connectors") < order.index("seal.caps-A") < order.index("before-closing")


def test_caps_that_nobody_counts_are_put_on_all_the_same():
    plan = planned(make_up=CAPPED["make_up"])
    assert "a lined cap" in plan.step("seal.caps-B").text
    assert quantity(plan, "cap for a spare core") == 4


WIRES = SCREENS["screened, three cores to single wires, a breakout over them"]


def wires(opening: int = 0, **figures: float) -> Plan:
    """The joint to single wires with other figures at a mouth of its breakout."""
    part = WIRES["stock"]["boots"][0]
    mouths = [m | (figures if n == opening else {}) for n, m in enumerate(part["openings"])]
    return plan_joint(
        screened(**WIRES | {"stock": WIRES["stock"] | {"boots": [part | {"openings": mouths}]}})
    )


def test_a_breakout_closes_a_joint_to_single_wires():
    """Its main mouth on the outer sleeve's end, a leg on every wire; threaded before anything is joined."""
    plan = wires()
    assert plan.verdict == "planned"
    titles = [c.title for c in plan.choices if c.layer.startswith("boot")]
    assert titles == ["the main mouth", "wire 1", "wire 2", "wire 3"]
    order = [s.id for s in plan.steps]
    assert order.index("park.boot") < order.index("join.1")
    assert order.index("cool.outer-sleeve") < order.index("orient.boot")  # tried on what it will lie on
    assert order.index("cool.outer-sleeve") < order.index("place.boot")
    assert plan.step("park.boot").end == "B"
    assert "cool.boot" in plan.step("test.after.continuity").needs
    assert not any(s.id == "surface.sheath.B" for s in plan.steps)
    assert "Mark the wires of B together" in plan.step("cut.sheath.B").title
    assert [p.title for p in plan.parts if p.part_id == "BR-3"] == ["breakout"]
    drawn = {b.id: b for b in plan.section.bodies}
    assert "sheath-B" not in drawn
    assert drawn["core-1"].top[-1][0] > drawn["outer-sleeve"].top[-1][0]
    assert drawn["boot-moulded-0"].top[0][0] == pytest.approx(drawn["outer-sleeve"].top[-1][0] - 40)


@pytest.mark.parametrize(("by", "fits"), [(0.1, True), (-0.1, False)])
def test_its_legs_pass_the_wires(by: float, fits: bool):
    plan = wires(2, expanded_id_mm=max(1.9 * 1.05, 1.9 + 0.5) + by)
    assert (plan.verdict == "planned") == fits
    assert fits or "short to pass" in reasons(plan, "boot-2")["BR-3"] + reasons(plan, "boot-3")["BR-3"]


def test_single_wires_ask_for_what_a_breakout_can_close():
    for change, path in (
        ({"make_up": "5 × 0.5"}, "/side_b"),
        ({"make_up": "2 × 2 × 0.5"}, "/side_b"),
        ({"hot_c": None}, "/hot_c"),
    ):
        with pytest.raises(InputError) as fault:
            plan_joint(screened(**WIRES | change))
        assert path in {e.path for e in fault.value.errors}
