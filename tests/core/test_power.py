"""Power joints: lengths, earth, tape, resin, fire, cold, taps; figures derived by hand beside each."""

from datetime import date
from itertools import pairwise
from math import asin, pi, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_progress import Log
from tests.power import ARMOURED, BUILDS, PLAIN, RESIN, SHELL, STOCK, TAPS, end, file, power
from tinknot.core.errors import InputError
from tinknot.core.families.straight.lead import strap_k
from tinknot.core.joint.profile import Profile, beside
from tinknot.core.planning.solve import look_at, plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.folding import fold
from tinknot.core.work.made import made
from tinknot.core.work.mending import Place, consequence

CAST = "armoured to plain, cast, wet"


def planned(given: dict):
    return plan_joint(file(given))


def part(plan, layer: str):
    return next(p for p in plan.parts if p.layer == layer)


def offer(plan, layer: str, part_id: str) -> str:
    pick = next(p for p in plan.picks if p.layer == layer)
    return next(o.reason for o in pick.offers if o.id == part_id)


def bent(name: str, **changes) -> dict:
    """A build with top-level changes; `build` is merged."""
    given = {**BUILDS[name], **changes}
    given["build"] = {**BUILDS[name].get("build", {}), **changes.get("build", {})}
    return given


def stocked(given: dict, **changes) -> dict:
    return {**given, "stock": {**given["stock"], **changes}}


# -- armour and earth ---------------------------------------------------------------------------------------


def test_cut_backs_run_from_the_sheath_cut_through_armour_and_bedding():
    """Rule book: armour 40 and bedding 60 from the sheath cut, cores on top of that; sheath = longest core
    + 5."""
    plan = planned(BUILDS["armoured both, sleeved"])
    for side in "AB":
        at = {c.layer: c for c in plan.cuts if c.end == side}
        assert at["armour"].distance_mm == 40
        assert at["bedding"].distance_mm == 60
        assert at["armour"].datum == at["core 1"].datum == "sheath-cut"
        assert at["sheath"].distance_mm == pytest.approx(
            max(c.distance_mm for c in at.values() if c.layer.startswith("core")) + 5
        )
        assert at["core 1"].distance_mm - at["insulation 1"].distance_mm == pytest.approx(21 + 1 + 1)
    sums = {round(c.cut_a_mm + c.cut_b_mm, 6) for c in plan.cores}
    assert sums == {round(plan.gap_mm, 6)}
    order = [s.id for s in plan.steps]
    assert (
        order.index("cut.sheath.A")
        < order.index("cut.armour.A")
        < order.index("cut.bedding.A")
        < order.index("cut.core.A.1")
    )
    assert order.index("park.inner-sleeve") < order.index("fold.A")


def test_outer_sleeve_passes_the_folded_armour_strap_and_clamp():
    """Sheath 35 + 2 × 1.25 folded + two layers of half-lapped mesh + strap 1.5 or 1 + 2 × 0.6 of spring + two
    layers of mastic, 1.6 thick before it is stretched to 1.5 times its length; without mesh in stock the
    strap alone, and that is said."""
    mastic = 2 * 2 * 1.6 / sqrt(1.5)
    thick = end(3, 16, 8.2, 35.0, bedding=30.0)
    plan = planned(power(thick, thick, duties=["buried"]))
    strap = {"s6": 1.0, "s16": 1.5}[part(plan, "earth-bond").part_id]
    assert part(plan, "outer-sleeve").pass_od_mm == pytest.approx(
        35 + 2.5 + 2 * 2 * 0.6 + strap + 1.2 + mastic
    )
    assert "wrap.mesh" in {s.id for s in plan.steps}
    assert "mesh" in {m.what for m in plan.materials}
    bare = planned(stocked(power(thick, thick, duties=["buried"]), meshes=[]))
    assert part(bare, "outer-sleeve").pass_od_mm == pytest.approx(35 + 2.5 + strap + 1.2 + mastic)
    assert any("its screen stays open" in w for w in bare.warnings)
    assert plan.joint_length_mm == pytest.approx(plan.gap_mm + 2 * (40 + max(40, 1.5 * 35)))


def test_the_springs_get_mastic_once_the_path_is_measured_or_none_where_nothing_passes_it():
    """35 + 2.5 + 1 + 1.2 = 39.7 without mesh passes 46 with 5 %; with 5.2 of mastic it does not."""
    thick = end(3, 16, 8.2, 35.0, bedding=30.0)
    given = stocked(power(thick, thick, duties=["buried"]), meshes=[])
    plan = planned(given)
    assert plan.step("wrap.spring-A").needs == ["test.bond.earth"]
    assert {"wrap.spring-A", "wrap.spring-B"} <= set(plan.step("wipe.sheath.A").needs)
    assert {p.part_id for p in plan.parts if p.layer.startswith("spring-")} == {"mastic"}
    narrow = [s | ({"expanded_id_mm": 44.5} if s["id"] == "o52" else {}) for s in given["stock"]["sleeves"]]
    bare = planned(stocked(given, sleeves=[s for s in narrow if s["id"] != "wrap"]))
    assert bare.verdict == "planned"
    assert "wrap.spring-A" not in {s.id for s in bare.steps}
    assert any("only taped over, without mastic" in w for w in bare.warnings)
    none = planned(stocked(given, tapes=[]))
    assert any("neither mastic nor self-amalgamating tape is in stock" in w for w in none.warnings)


def test_strap_follows_the_adiabatic_equation_and_the_armour():
    """S ≥ I·√t/k = 1500·√0.4/115 = 8.2 mm²; k from 70 to 160 °C is 115 in IEC 60364-5-54, table A.54.4."""
    assert round(strap_k(70, 160)) == 115
    plan = planned(BUILDS[CAST])
    assert part(plan, "earth-bond").part_id == "s16"
    assert (
        offer(plan, "earth-bond", "s6")
        == f"6 mm² is {1500 * sqrt(0.4) / strap_k(70, 160) - 6:.1f} mm² too thin"
    )
    armour = {**ARMOURED["armour"], "area_mm2": 130}
    heavy = power({**ARMOURED, "armour": armour}, ARMOURED, duties=["buried"])
    need = next(p.need for p in planned(heavy).picks if p.layer == "earth-bond")
    assert need.startswith(f"at least {130 * 17.241 / 138 / 1.1:.1f} mm²")
    assert "resistance of the armour on A" in need


def test_a_clearing_time_the_equation_does_not_cover_is_an_error_at_its_field():
    with pytest.raises(InputError) as fault:
        planned(bent(CAST, build={"earth": {"fault_current_a": 900, "clearing_time_s": 0.02}}))
    assert fault.value.errors[0].path == "/build/earth/clearing_time_s"


def test_armour_thicker_than_its_sheath_is_questioned():
    with pytest.raises(InputError) as fault:
        planned(power(end(3, 16, 8.2, 22.0, bedding=20.0), PLAIN))
    assert fault.value.errors[0].path == "/ends/A/armour/bedding_od_mm"


# -- cores --------------------------------------------------------------------------------------------------


def test_core_tape_is_half_again_as_thick_as_the_insulation():
    """Wall (6.6 − 4.2)/2 = 1.2; 1.5 × 1.2 = 1.8 a side; a half-lapped pass at stretch 2 builds 2·0.76/√2 =
    1.075."""
    plan = planned(BUILDS["no heat allowed"])
    tape = part(plan, "core-tape-1")
    passes = 2
    assert passes * 2 * 0.76 / sqrt(2) >= 1.8 > (passes - 1) * 2 * 0.76 / sqrt(2)
    assert tape.od_after_mm == pytest.approx(9.5 + passes * 2 * 2 * 0.76 / sqrt(2))
    assert not any(s.id.startswith("park.") for s in plan.steps)


def test_mica_lies_under_the_sleeve_and_makes_it_pass_more():
    """Two half-lapped passes of 0.14 mm add 2 · 2 · 0.14/0.5 = 1.12 to the connector."""
    plan = planned(BUILDS["five, mica on every core"])
    assert part(plan, "core-sleeve-1").pass_od_mm == pytest.approx(7 + 1.12)
    order = [s.id for s in plan.steps]
    assert order.index("connectors") < order.index("wrap.mica-1") < order.index("seal.core-sleeve-1")


def test_aluminium_takes_no_copper_barrel():
    plan = planned(BUILDS["aluminium to copper"])
    assert part(plan, "bolted-1").part_id == "sb95"
    step = plan.step("join.1")
    assert "brush" in step.text
    assert "shear" not in step.title
    only_copper = [{**c, "metals": ["copper"]} for c in STOCK["connectors"]]
    none = plan_joint(file(stocked(BUILDS["aluminium to copper"], connectors=only_copper)))
    assert none.verdict == "nothing-fits"
    (order,) = [r for r in none.remedies if r.id == "order-connector"]
    assert "Nothing in stock joins core 1, 70 to 50 mm²" in order.why
    assert "bimetal, for aluminium and copper" in order.why
    assert any("Round the sector" in s.text for s in plan.steps if s.id == "strip.A.1")


def test_a_lap_splice_overlaps_by_its_length():
    """Lap: cut_a + cut_b = gap + 16, both conductors lie side by side over the 16 mm."""
    plan = planned(BUILDS["moving, soldered"])
    assert {round(c.cut_a_mm + c.cut_b_mm - plan.gap_mm, 6) for c in plan.cores} == {16}
    assert plan.step("join.1").hot
    assert plan.step("test.after.flex").text.startswith("Mandrel 80 mm")  # 6 × 12 = 72, in tens


def test_flex_is_refused_under_the_cables_own_radius():
    plan = planned(bent("moving, soldered", build={"bend_radius_mm": 55}))
    assert plan.step("test.after.flex") is None
    assert any("bends to 40 mm, the cable's least bend radius is 55" in w for w in plan.warnings)


def test_core_map_joins_other_names_with_markers():
    b = end(3, 10, 6.6, 18.4)
    for core, (name, joins, colour) in zip(
        b["cores"], (("L", "1", "red"), ("N", "2", "blue"), ("E", "3", "green-yellow")), strict=True
    ):
        core.update(name=name, joins=joins, colour=colour)
    plan = planned(power(PLAIN, b, duties=["damp"]))
    assert plan.step("join.1").title == "Crimp core 1 to L"
    assert {s.layer for s in plan.steps if s.layer.startswith("marker")} == {
        "marker-1",
        "marker-2",
        "marker-3",
    }
    assert [e.layer for e in plan.park.b if e.layer.startswith("marker")]
    b["cores"][1]["joins"] = "1"
    with pytest.raises(InputError, match="one to one"):
        planned(power(PLAIN, b))


def test_green_yellow_meets_green_yellow_only():
    b = end(3, 10, 6.6, 18.4)
    b["cores"][1]["joins"], b["cores"][2]["joins"] = "3", "2"
    with pytest.raises(InputError, match="never a live conductor"):
        planned(power(PLAIN, b))


# -- covers -------------------------------------------------------------------------------------------------


def test_fire_barrier_reaches_past_the_sealed_sleeve_and_goes_on_last():
    plan = planned(BUILDS["five, two steps, fire barrier"])
    assert plan.joint_length_mm == pytest.approx(plan.gap_mm + 2 * (40 + 50))
    order = [s.id for s in plan.steps]
    assert order.index("cool.outer-sleeve") < order.index("seal.barrier")
    assert not plan.step("seal.barrier").hot
    assert {p.part_id for p in plan.parts if p.layer in ("outer-sleeve", "core-sleeve-1")} <= {
        "o35",
        "o52",
        "c10",
        "c14",
    }


def test_fire_duty_rejects_what_gives_off_halogen():
    plan = planned(BUILDS["five, two steps, fire barrier"])
    outer = next(c for c in plan.choices if c.layer == "outer-sleeve")
    assert (
        next(c.reason for c in outer.candidates if c.part_id == "e20")
        == "is not flame-retardant, not zero-halogen"
    )


def test_an_end_that_stays_open_gets_a_piece_over_it_and_the_rest_stays_done():
    """The piece lies 25 mm on the outer sleeve and 40 mm further on the sheath."""
    given = power(PLAIN, PLAIN, duties=["damp"])
    plan = planned(given)
    log = Log(plan).through("inspect.outer-sleeve").add("fault", "inspect.outer-sleeve", choice="no-bead")
    ways = next(f.mends for f in plan.faults if f.id == "no-bead")
    assert [m.kind for m in ways] == ["again", "mended", "remake"]
    log.add("remedy", choice="mended", about=log.events[-1].id)
    before = fold(plan, log.events)
    again = plan_joint(file({**given, "build": {"end_wraps": ["B"]}}), made=made(plan, before))
    assert again.verdict == "planned"
    assert again.joint_length_mm == pytest.approx(plan.joint_length_mm + 40)
    after = {s.id: s.state for s in fold(again, log.events).steps}
    assert after["seal.outer-sleeve"] == after["join.3"] == "done"
    assert {k for k in after if k.endswith("end-wrap-B") or "end-wrap-B." in k} == {
        "surface.end-wrap-B.B",
        "seal.end-wrap-B",
        "inspect.end-wrap-B",
        "cool.end-wrap-B",
    }
    assert after["test.after.continuity"] == "locked"
    piece = part(again, "end-wrap-B")
    assert piece.part_id == "wrap"
    assert not any(e.layer == "end-wrap-B" for _, e in again.park.parts())


def test_two_ends_in_glands_leave_a_wrap_around():
    landed = {"landed": True}
    plan = planned(power(PLAIN | landed, PLAIN | landed, duties=["damp"]))
    assert plan.verdict == "nothing-fits"
    assert "nothing closed can be threaded on" in next(
        c.reason for c in plan.choices[-1].candidates if c.part_id == "o35"
    )
    ways = {r.id: r for r in plan.remedies}
    assert ways["closure-wrap-around"].parts
    again = planned(
        power(PLAIN | landed, PLAIN | landed, duties=["damp"], **ways["closure-wrap-around"].change)
    )
    assert again.verdict == "planned"
    assert not any(e.track == "sheath" for _, e in again.park.parts())


def test_one_landed_end_parks_everything_on_the_other():
    plan = planned(power(PLAIN | {"landed": True}, PLAIN, duties=["damp"]))
    assert [e.layer for e in plan.park.b if e.track == "sheath"] == ["outer-sleeve"]


def test_thin_side_is_stepped_or_built_up_when_nothing_grips_it():
    """11.6 × 0.9 = 10.44 is under every outer sleeve that passes: 11, 15."""
    thick, thin = end(3, 16, 8.2, 26.0), end(3, 10, 6.6, 11.6)
    plan = planned(power(thick, thin, duties=["damp"]))
    assert plan.verdict == "nothing-fits"
    ways = {r.id: r for r in plan.remedies}
    assert {"end-piece", "build-up", "closure-resin"} & ways.keys()
    built = planned(power(thick, thin, duties=["damp"], **ways["build-up"].change))
    assert built.verdict == "planned"
    wrap = part(built, "build-up")
    outer = part(built, "outer-sleeve")
    assert outer.recovered_id_mm <= 0.9 * wrap.od_after_mm
    for way in ways.values():
        if way.parts:
            assert way.minutes
            assert way.cores
            assert planned(power(thick, thin, duties=["damp"], **way.change)).verdict == "planned", way.id


def test_staggers_stand_side_by_side_with_one_recommended():
    found = look_at(file(BUILDS["five, two steps, fire barrier"]), RuleBook.of()).staggers
    assert [r.steps for r in found] == [1, 2, 3, 4, 5]
    assert sum(r.recommended for r in found) == 1
    fitting = [r for r in found if r.fits]
    assert all(a.gap_mm < b.gap_mm for a, b in pairwise(found))
    assert fitting[0].cores_diameter_mm > fitting[1].cores_diameter_mm
    assert all(r.why for r in found)


def test_one_joint_or_two():
    """300 + 300 of slack; 560 removed and 10 for square cuts are met, 700 are 110 short."""
    enough = planned(power(PLAIN, PLAIN, build={"removed_mm": 560})).insert
    assert (enough.joints, enough.short_mm) == (1, 0)
    short = planned(power(PLAIN, PLAIN, build={"removed_mm": 700}))
    assert (short.insert.joints, short.insert.short_mm) == (2, 110)
    assert short.insert.insert_mm == pytest.approx(short.joint_length_mm + 300)
    assert len(short.insert.checked) == 2
    assert all("fits" in c for c in short.insert.checked)


# -- resin --------------------------------------------------------------------------------------------------


def single(**changes) -> dict:
    """One 16 mm² core, 6.6 over insulation, sheath 20: a shell whose volume is added up by hand."""
    one = end(1, 16, 8.0, 20.0)
    return power(one, one, build={"closure": "resin", **changes.pop("build", {})}, **changes)


def test_resin_fills_the_shell_less_what_lies_in_it():
    plan = planned(single())
    r = plan.resin
    ends = 2 * (30 * 26**2 + 35 * 34**2)
    assert r.shell == [(30, 26), (35, 34), (300, 70), (35, 34), (30, 26)]
    assert r.shell_ml == pytest.approx(pi / 4 * (ends + 300 * 70**2) / 1000)
    sleeve = part(plan, "core-sleeve-1")
    half_gap, half_s = plan.gap_mm / 2, (46 + 2 * (1 + 1 + 10)) / 2
    sheath = 2 * (215 - half_gap) * 20**2
    bare = (plan.gap_mm - 2 * half_s) * 8.0**2
    low = pi / 4 * (sheath + bare + 2 * half_s * 8.0**2) / 1000
    high = pi / 4 * (sheath + bare + 2 * half_s * sleeve.od_after_mm**2) / 1000
    spacers = next(m.quantity for m in plan.materials if m.what == "spacer")
    assert low < r.displaced_ml - 3 * spacers < high
    assert r.net_ml == pytest.approx(r.shell_ml - r.displaced_ml)
    assert r.required_ml == pytest.approx(1.08 * r.net_ml)
    assert sum(p.count for p in r.packs) * 420 - r.required_ml == pytest.approx(r.left_over_ml)


def test_a_shell_settled_on_is_taken_though_another_needs_less_resin():
    large = {**SHELL, "id": "large", "body_length_mm": 360}
    both = stocked(single(), shells=[SHELL, large])
    assert part(planned(both), "shell").part_id == "shell-m"
    assert part(planned({**both, "choice": {"shell": "large"}}), "shell").part_id == "large"


def test_shells_are_rejected_with_the_figure():
    plan = planned(BUILDS[CAST])
    assert "mm wider than the sheath" in offer(plan, "shell", "shell-s")
    narrow = {**SHELL, "id": "narrow", "body_inside_mm": 40}
    small = {**SHELL, "id": "small", "body_inside_mm": 25, "stages": []}
    short = {**SHELL, "id": "short", "body_length_mm": 120}
    plan = planned(stocked(BUILDS[CAST], shells=[narrow, small, short]))
    assert plan.verdict == "nothing-fits"
    assert offer(plan, "shell", "small") == "does not clear the sheath on A: 1.5 mm short"
    assert "the connectors are too fat for it: " in offer(plan, "shell", "narrow")
    assert "mm too short on A" in offer(plan, "shell", "short")


@given(st.floats(2, 40))
def test_warmer_packs_gel_sooner_and_the_place_decides_the_cure(warm):
    cool, hot = (planned(single(build={"resin_c": c})).resin for c in (2, warm))
    if hot and cool:
        assert hot.pot_life_min <= cool.pot_life_min * (1 + 1e-9)
        assert hot.full_min == pytest.approx(cool.full_min)
        assert hot.handle_min == pytest.approx(hot.full_min / 2)


def test_cold_changes_the_clock_and_says_what_to_warm():
    """20 °C: 300 min by the sheet. 5 °C: 1440. 3 °C, colder than the sheet: the longer of both laws."""
    at = {c: planned(single(ambient_c=c)).resin for c in (20, 5, 3)}
    assert at[20].full_min == pytest.approx(300)
    assert at[5].full_min == pytest.approx(1440)
    assert at[3].full_min >= 1440 * 2 ** (2 / 10) * (1 - 1e-9)
    assert at[20].pour_window_min < at[5].pour_window_min < at[3].pour_window_min
    warm = planned(single(ambient_c=3, build={"resin_c": 20}))
    assert "Warm the packs to 20 °C before mixing; it is 3 °C there." in warm.warnings
    assert any(w.startswith("Cold: shelter") for w in warm.warnings)
    cooling = max(t.least_min for s in warm.steps for t in s.timers if t.id == "cool")
    assert warm.minutes.waiting == pytest.approx(at[3].full_min + cooling)


def test_below_its_least_temperature_resin_is_refused_with_the_remedy():
    plan = planned(single(ambient_c=1))
    assert plan.verdict == "nothing-fits"
    assert offer(plan, "resin", "cast").startswith(
        "at 1 °C it is 1 °C under its least: warm the pack to 2 °C"
    )
    assert "Warm the pack to at least 2 °C and shelter the joint." in {r.why for r in plan.remedies}
    only_pack = planned(single(ambient_c=1, build={"resin_c": 20}))
    assert (
        offer(only_pack, "resin", "cast")
        == "it never cures there: under 2 °C nothing counts; warm and shelter the joint"
    )
    sheltered = [{"at_h": 0, "temperature_c": 15}, {"at_h": 24, "temperature_c": 12}]
    assert planned(single(ambient_c=1, build={"resin_c": 20, "forecast": sheltered})).verdict == "planned"


def test_a_pour_that_cannot_be_finished_is_refused_with_alternatives():
    """At 40 °C the pot life is under 25/4 = 6.3 min; alone the second of three packs is in after 2 × 3 min of
    mixing and twice 420/400 of pouring."""
    plan = planned(single(ambient_c=20, build={"resin_c": 40}))
    assert plan.verdict == "nothing-fits"
    told = offer(plan, "resin", "cast")
    assert "pack 2 of 3 is in 8 min after pack 1 was opened" in told
    assert "cooler packs, packs of another size, or a second person" in told
    assert "resin-20" in {r.id for r in plan.remedies if r.parts}
    assert "order-shell" not in {r.id for r in plan.remedies}  # the shell fits, only its resin does not
    slow = {**RESIN, "mix_minutes": 60}
    assert "a cooler pack" in offer(planned(stocked(single(ambient_c=20), resins=[slow])), "resin", "cast")


def test_packs_of_one_system_are_weighed_together():
    """Fewest packs first: one big and one small instead of three small."""
    big = {**RESIN, "id": "big", "volume_ml": 900, "system": "s"}
    plan = planned(stocked(single(), resins=[{**RESIN, "system": "s"}, big]))
    assert sum(p.count for p in plan.resin.packs) == 2
    past = {**RESIN, "lots": [{"id": "L1", "on_hand": 6, "use_by": "2026-01-31"}]}
    old = plan_joint(file(stocked(single(), resins=[past])), today=date(2026, 11, 25))
    assert offer(old, "resin", "cast") == "none on hand in date"


# -- heat and hazard ----------------------------------------------------------------------------------------


def test_cold_only_has_no_heated_step_or_says_what_is_missing():
    plan = planned(BUILDS["no heat allowed"])
    assert not any(s.hot or "heat-gun" in s.tools for s in plan.steps)
    found = planned(power(PLAIN, PLAIN, build={"cold_only": True}))
    assert (found.verdict, found.closure) == ("planned", "resin")  # no sleeve here is applied cold
    assert not any(s.hot for s in found.steps)
    sleeves = planned(power(PLAIN, PLAIN, build={"cold_only": True, "closure": "sleeve"}))
    assert sleeves.verdict == "nothing-fits"
    assert (
        next(c.reason for c in sleeves.choices[0].candidates if c.part_id == "c14") == "is not cold-applied"
    )
    ways = {r.id: r for r in sleeves.remedies}
    again = planned(power(PLAIN, PLAIN, **ways["closure-resin"].change))
    assert again.verdict == "planned"
    assert not any(s.hot for s in again.steps)
    bare = planned(stocked(power(PLAIN, PLAIN, build={"cold_only": True}), tapes=[], shells=[]))
    assert bare.verdict == "nothing-fits"
    assert not any(r.parts for r in bare.remedies)
    assert any("It must be applied cold." in r.why for r in bare.remedies)


def test_a_cold_applied_sleeve_is_drawn_on_without_heat():
    cold = [{**s, "properties": [*s.get("properties", []), "cold-applied"]} for s in STOCK["sleeves"]]
    plan = planned(stocked(power(PLAIN, PLAIN, duties=["damp"], build={"cold_only": True}), sleeves=cold))
    assert plan.verdict == "planned"
    assert not any(s.hot for s in plan.steps)
    assert plan.steps[-1].id == "released"


def test_hazardous_area_is_gas_tested_before_anything_and_cast_under_a_screen():
    plan = planned(BUILDS["no heat allowed"])
    assert plan.step("measured").needs == ["gas-test"]
    assert plan.step("gas-test").gates[0].most == 1
    assert any(p.part_id == "mesh" for p in plan.parts)
    plain_resin = [{**RESIN, "properties": []}]
    refused = planned(stocked(BUILDS["no heat allowed"], resins=plain_resin))
    assert offer(refused, "resin", "cast") == "is not hydrocarbon-resistant"


def test_heat_in_a_hazardous_area_waits_for_the_gas_test():
    oily = [
        {**s, "properties": [*s.get("properties", []), "hydrocarbon-resistant"]} for s in STOCK["sleeves"]
    ]
    plan = planned(stocked(power(PLAIN, PLAIN, duties=["hazardous"]), sleeves=oily))
    assert plan.verdict == "planned"
    assert all("gas-test" in s.needs for s in plan.steps if s.hot)


# -- taps ---------------------------------------------------------------------------------------------------


def test_tap_by_ranges_with_a_cap_on_each_open_end():
    plan = planned(TAPS["overhead tap"])
    assert {p.part_id for p in plan.parts} == {"ipc", "cap8"}
    assert plan.cores == []
    assert plan.park is None
    assert [c.layer for c in plan.cuts] == ["sheath", "core 1", "core 2", "core 3"]
    assert not any(s.id.startswith("strip") for s in plan.steps)
    thick = power(end(3, 70, 15, 40), end(3, 35, 12, 30), family="tap-lv", duties=["uv"])
    none = planned(thick)
    assert none.verdict == "nothing-fits"
    (order,) = [r for r in none.remedies if r.id == "order-connector"]
    assert "Nothing in stock taps 35 mm² from 70 mm² on core 1" in order.why
    assert "3 piercing connectors for a main of 70 mm² and a tap of 35 mm², for copper" in order.why
    assert offer(none, "connector", "ipc") == "does not take a tap of 35 mm²"


def test_covered_conductors_of_a_tap_keep_their_only_insulation():
    """Law 14: nothing is ringed or stripped; each is cut square."""
    bare = {k: v for k, v in end(3, 16, 8.2, 30).items() if k != "sheath_od_mm"} | {"unsheathed": True}
    main = end(3, 70, 15, 40)
    for n, core in enumerate(bare["cores"]):
        core["colour"] = main["cores"][n]["colour"]
    plan = planned(power(main, bare, family="tap-lv", duties=["uv"]))
    assert plan.cuts == []
    assert "sheath" not in " ".join(f"{s.title} {s.text}" for s in plan.steps if s.end == "B").lower()
    assert [s.id for s in plan.steps if s.kind == "cut"] == [f"cut.core.B.{n}" for n in (1, 2, 3)]
    assert "sheath knife" not in plan.tools
    assert plan.breaks == []
    with pytest.raises(InputError, match="for the covered conductors of a tap"):
        planned(power(bare, bare, duties=["uv"]))


def test_earthing_has_its_own_gate_and_needs_no_cap():
    plan = planned(TAPS["earthing a line"])
    assert plan.step("isolated").title == "Tested dead, permit in hand"
    assert {p.part_id for p in plan.parts} == {"earthing"}
    assert not plan.cuts
    assert plan.step("join.1").needs == ["measured"]


def test_a_tap_may_have_fewer_cores_but_none_twice():
    b = end(1, 6, 6.4, 9.0)
    b["cores"][0]["joins"] = "2"
    b["cores"][0]["colour"] = None
    plan = planned(power(end(3, 70, 15, 40), b, family="tap-lv", duties=["uv"]))
    assert [p.layer for p in plan.parts] == ["piercing-2", "end-cap-2"]
    b["cores"][0]["joins"] = "9"
    with pytest.raises(InputError, match="must be a core of the main, A: 1, 2, 3"):
        planned(power(end(3, 70, 15, 40), b, family="tap-lv"))


def test_strap_mesh_crutch_and_spacers_come_off_the_resin():
    """Each displaces what it is: tape in the crutches, between three equal cores and the circle round them,
    and 3 ml a spacer."""
    cast = BUILDS[CAST]
    full = planned(cast).resin
    rules = RuleBook.of({"resin.spacer_ml": 0})
    assert full.displaced_ml - plan_joint(file(cast), rules).resin.displaced_ml == pytest.approx(3 * 3)
    shallow = plan_joint(file(cast), RuleBook.of({"crutch.depth_mm": 5})).resin
    room = 0.0
    for side in cast["ends"].values():
        d = side["cores"][0]["insulation_od_mm"]
        room += pi / 4 * ((d * (1 + 2 / sqrt(3))) ** 2 - 3 * d**2)
    assert full.displaced_ml - shallow.displaced_ml == pytest.approx(room * (20 - 5) / 1000, rel=1e-6)
    untaped = planned(stocked(cast, tapes=[]))
    assert any("crutches are to be filled" in w for w in untaped.warnings)


def test_the_crutch_is_filled_before_anything_closes_over_it():
    for name in (CAST, "armoured both, sleeved", "no heat allowed"):
        plan = planned(BUILDS[name])
        order = [s.id for s in plan.steps]
        over = [s for s in plan.steps if s.id.startswith(("wipe.sheath", "wipe.inner-sleeve"))]
        assert over
        for side in "AB":
            at = order.index(f"wrap.crutch.{side}")
            assert order.index("before-closing") < at
            assert all(at < order.index(s.id) for s in over), name


def test_a_tube_mould_is_sealed_below_filled_upright_topped_up_and_closed():
    plan = planned(stocked(single(), shells=[SHELL | {"form": "tube"}]))
    order = [s.id for s in plan.steps]
    wanted = ["park.shell", "shell.close", "mix.resin", "inspect.resin", "shell.lid", "cure.shell"]
    assert [i for i in order if i in wanted] == wanted
    (bore,) = {s["inside_diameter_mm"] for s in SHELL["stages"][1:2]}
    words = f"Wind tape on A's sheath, {(plan.joint_length_mm - plan.gap_mm) / 2:g} mm from the sheath cut"
    assert f"{words}, up to {bore:g} mm." in plan.step("shell.close").text
    (tape,) = [m for m in plan.materials if m.what.startswith("PVC tape")]
    sheath = single()["ends"]["A"]["sheath_od_mm"]
    assert tape.quantity == pytest.approx(pi / 4 * (bore**2 - sheath**2) / 0.15, abs=50)
    assert "open end" in plan.step("seal.resin").text
    assert "lower port" not in " ".join(s.text for s in plan.steps)


def test_the_ends_of_a_tube_mould_are_cut_to_what_passes_the_joint():
    """Three cores held apart with their sleeves are thicker than the stage that just clears the sheath: the
    next one is left, and its gap, too wide for tape alone, is built up (law 1)."""
    plan = planned(BUILDS["cast in a tube"])
    split = planned(stocked(BUILDS["cast in a tube"], shells=[SHELL | {"form": "split"}]))
    assert "26 mm stage" in split.step("shell.close").text
    assert "34 mm stage" in plan.step("park.shell").text
    assert plan.joint_length_mm == split.joint_length_mm - 2 * 30
    pipe = SHELL | {"form": "tube", "stages": [], "body_length_mm": 400}
    plain = planned(stocked(BUILDS["cast in a tube"], shells=[pipe]))
    assert "ends as they are" in plain.step("park.shell").text
    assert f"up to {SHELL['body_inside_mm']:g} mm" in plain.step("shell.close").text
    assert not plan.breaks


def test_a_single_insulated_wire_is_one_sleeve_and_few_steps():
    """No sheath is cut, nothing lies under the sleeve but the connector, at most 1 mm bare beside it, and
    10 mm of overlap from the insulation on."""
    plan = planned(BUILDS["single wire, soldered"])
    assert [p.layer for p in plan.parts] == ["soldered-1", "outer-sleeve"]
    assert len(plan.steps) <= 21
    assert not any("sheath" in f"{s.title} {s.text} {s.caution}".lower() for s in plan.steps)
    assert {(c.kind, c.datum) for c in plan.cuts} == {("insulation", "cable-end")}
    outer = part(plan, "outer-sleeve")
    bare = plan.gap_mm
    assert plan.joint_length_mm == pytest.approx(bare + 2 * 10)
    assert outer.seal_od_mm == 5.3
    assert plan.cuts[0].distance_mm <= bare
    crimped = planned(power(end(1, 16, 8.2, 8.2), end(1, 16, 8.2, 8.2), duties=["dry"]))
    (a,) = [c for c in crimped.cuts if c.end == "A"]
    barrel = next(c for c in STOCK["connectors"] if c["id"] == "b16")
    assert crimped.gap_mm == pytest.approx(barrel["length_mm"] + 2 * (barrel["growth_mm"] + 1))
    assert a.distance_mm == pytest.approx(barrel["insertion_mm"] + barrel["growth_mm"] + 1)
    assert not any(s.hot and s.kind == "join" for s in crimped.steps)


def test_a_wire_may_be_told_by_its_end_or_by_equal_readings():
    told = power(*(end(1, 16, 8.2, 8.2) for _ in "AB"), duties=["dry"])
    for side in told["ends"].values():
        side.pop("sheath_od_mm")
        side["unsheathed"] = True
    assert len(planned(told).steps) == len(
        planned(power(end(1, 16, 8.2, 8.2), end(1, 16, 8.2, 8.2), duties=["dry"])).steps
    )
    sheathed = planned(power(end(1, 16, 8.2, 12.0), end(1, 16, 8.2, 12.0), duties=["dry"]))
    assert sheathed.step("cut.sheath.A")
    several = file(power(end(3, 16, 8.2, 26.0) | {"unsheathed": True}, PLAIN))
    with pytest.raises(InputError) as fault:
        plan_joint(several)
    assert fault.value.errors[0].path == "/ends/A/unsheathed"


def test_a_twin_flat_cable_is_gripped_by_its_girth():
    """6 × 3 mm: 2·(6 − 3) + 3π round, as a circle of 4.91 mm; not 3.0. A stiff sleeve does not follow it."""
    flat = {"sheath_od_mm": 6.0, "sheath_od_across_mm": 3.0, "flat": True}
    twin = end(3, 0.75, 1.9, 6.0) | flat
    twin["cores"] = [c | {"insulation_od_mm": 2.0, "area_mm2": 0.75, "class": 5} for c in twin["cores"][:2]]
    small = {"kind": "crimp", "od_mm": 2.6, "length_mm": 16, "insertion_mm": 7}
    sleeves = [
        {"id": i, "expanded_id_mm": x, "recovered_id_mm": r, "recovered_wall_mm": 0.9, "lined": i != "core"}
        | {"stiff": i == "stiff"}
        for i, x, r in (("core", 4.8, 1.2), ("limp", 12.7, 4.2), ("stiff", 12.7, 4.0))
    ]
    given = stocked(power(twin, twin, duties=["dry"], connector=small), sleeves=sleeves)
    plan = plan_joint(file(given))
    outer = next(c for c in plan.choices if c.layer == "outer-sleeve")
    assert outer.seal_od_mm == pytest.approx((2 * (6 - 3) + pi * 3) / pi)
    assert [c.part_id for c in outer.candidates if c.verdict != "no"][:1] == ["limp"]
    assert "stiff" not in {c.part_id for c in outer.candidates}
    assert plan.verdict == "planned"
    missing = file(stocked(power(twin | {"sheath_od_across_mm": None}, twin), sleeves=sleeves))
    with pytest.raises(InputError) as fault:
        plan_joint(missing)
    assert fault.value.errors[0].path == "/ends/A/sheath_od_across_mm"


def test_a_measured_bore_is_weighed_against_the_conductor():
    """16 mm² class 2 is at most 5.3 mm thick (IEC 60228 annex C); a bore is at most 1.4 times as wide."""
    barrel = next(c for c in STOCK["connectors"] if c["id"] == "b16")
    joint = power(PLAIN | {"cores": end(3, 16, 8.2, 24.0)["cores"]}, end(3, 16, 8.2, 24.0), duties=["damp"])

    def reason(bore: float) -> str:
        plan = plan_joint(file(stocked(joint, connectors=[barrel | {"bore_mm": bore}])))
        (pick,) = [p for p in plan.picks if p.layer == "connector"]
        return pick.offers[0].reason

    assert "5.2 mm does not take a conductor of 5.3" in reason(5.2)
    assert "7.5 mm is too wide" in reason(7.5)
    assert "mm long" in reason(5.6)


def test_without_a_connector_the_plan_says_which_to_order_and_offers_solder():
    joint = power(end(3, 16, 8.2, 24.0), end(3, 16, 8.2, 24.0), duties=["damp"])
    solder = {"id": "lap", "kind": "soldered", "od_mm": 8.0, "length_mm": 20, "insertion_mm": 20}
    plan = plan_joint(file(stocked(joint, connectors=[solder])))
    assert plan.verdict == "nothing-fits"
    assert plan.parts == []
    by_id = {r.id: r for r in plan.remedies}
    assert (
        "3 connectors for 16 mm², a bore of 5.3 to 7.4 mm, for copper, rated 400 V"
        in by_id["order-connector"].why
    )
    assert by_id["soldered"].change == {"connector": {"kind": "soldered"}}
    assert (
        plan_joint(file(stocked(joint, connectors=[solder]) | by_id["soldered"].change)).verdict == "planned"
    )


def test_between_two_glands_each_way_says_why_it_does_or_does_not_serve():
    landed = PLAIN | {"landed": True}
    given = power(landed, landed, duties=["damp"])
    bare = stocked(given, shells=[], sleeves=[s for s in STOCK["sleeves"] if s.get("form") != "wrap-around"])
    plan = plan_joint(file(bare))
    assert plan.verdict == "nothing-fits"
    by_id = {r.id: r for r in plan.remedies}
    assert by_id["unland-A"].parts
    assert by_id["unland-A"].change["ends"]["A"]["landed"] is False
    assert plan_joint(file(bare | by_id["unland-A"].change)).verdict == "planned"
    assert "No shell is in stock" in by_id["not-closure-resin"].why
    assert "outer sleeve" in by_id["not-closure-wrap-around"].why
    assert by_id.keys().isdisjoint({"closure-resin", "closure-wrap-around"})


def test_the_rule_that_decided_between_the_two_best_is_said():
    """Two alike but for one thing: wall, room to spare, waste, open reel, date, price."""
    base = {"expanded_id_mm": 40.0, "recovered_id_mm": 12.0, "recovered_wall_mm": 3.0, "lined": True}
    rest = [s for s in STOCK["sleeves"] if s["expanded_id_mm"] < 20 and s.get("form", "tube") == "tube"]
    given = power(end(3, 16, 8.2, 24.0), end(3, 16, 8.2, 24.0), duties=["damp"])

    def words(a: dict, b: dict) -> str:
        two = [base | {"id": "a", "name": "First"} | a, base | {"id": "b", "name": "Second"} | b]
        plan = plan_joint(file(stocked(given, sleeves=[*rest, *two])), None, date(2026, 11, 26))
        return next(c.decided for c in plan.choices if c.layer == "outer-sleeve")

    assert words({"recovered_wall_mm": 7.0}, {"recovered_wall_mm": 0.4}).startswith(
        "Rather than Second: its wall of"
    )
    assert "room to spare" in words({}, {"recovered_id_mm": 21.0})
    assert "of waste, the other" in words({}, {"stock_length_mm": 330.0})
    assert "it costs" in words({"price_per_m": 5}, {"price_per_m": 9})
    assert words({}, {}) == "Second would do as well."


def test_cores_are_shrunk_one_by_one_or_together_as_the_user_or_the_sheet_says():
    joint = power(PLAIN, PLAIN, duties=["damp"])
    usual = planned(joint).step("seal.core-sleeve-1")
    assert usual.batch_text.startswith("One after the other")
    turns = planned(joint | {"build": {"cores_shrunk": "together"}}).step("seal.core-sleeve-1")
    assert turns.batch_text.startswith("All in turns: the middle of each first")
    assert turns.stamp == usual.stamp  # how, not what


# -- what the sections ask for besides -----------------------------------------------------------------------


def test_a_crimp_says_what_it_holds_and_a_strip_that_it_is_tried():
    """IEC 61238-1-1: 60 N a mm² of copper; the thinner conductor, 10 mm², gives way first."""
    plan = planned(power(ARMOURED, PLAIN))
    assert "A good one on scrap holds 600 N." in plan.step("join.1").text
    assert "Try it in its connector" in plan.step("strip.A.1").text


def test_the_sheath_is_tested_where_armour_lies_in_the_ground_on_both_sides():
    both = planned(power(ARMOURED, ARMOURED, duties=["buried"]))
    step = both.step("test.after.sheath")
    (gate,) = step.gates
    assert (gate.least, gate.unit, gate.required, gate.excuse) == (1.0, "MΩ", True, True)
    assert "test.after.sheath" in both.step("sealed-and-proved").needs
    for other in (power(ARMOURED, ARMOURED, duties=["dry"]), power(ARMOURED, PLAIN, duties=["buried"])):
        assert "test.after.sheath" not in {s.id for s in planned(other).steps}


@pytest.mark.parametrize(
    ("duties", "way"),
    [(["buried"], "round the cable"), (["moving"], "along the cable"), (["moving", "buried"], "round")],
)
def test_the_scratches_run_as_the_joint_will_live(duties, way):
    given = single(duties=duties, build={"closure": "sleeve", "bend_radius_mm": 40})
    words = next(s.text for s in planned(given).steps if s.id.startswith("surface.sheath"))
    assert way in words


def test_the_cores_of_a_flat_cable_lie_beside_each_other_and_are_passed_by_the_string_round_them():
    """Two cores of d under sleeves of d each: width 2 d, girth (2 + π)·d, so a limp sleeve passes 1.64 d."""
    track = Profile.of_stretches([(0, 10, 3.0, 3.0), (10, 20, 5.0, 5.0)])
    both = beside([track, track])
    at = both.at(5)
    assert at.flat
    assert (at.greatest_mm, at.passed_mm(stiff=True)) == (6.0, 6.0)
    assert at.passed_mm() == pytest.approx((2 + pi) * 3 / pi)
    unlike = beside([track, Profile.of_stretches([(0, 20, 4.0, 4.0)])]).at(15)
    assert unlike.greatest_mm == 9.0
    # two circles of 5 and 4 touching: the straight parts are 2·√(4.5² − 0.5²), the arcs lean by asin(0.5/4.5)
    lean = asin(0.5 / 4.5)
    girth = 2 * sqrt(4.5**2 - 0.5**2) + 5 * (pi / 2 + lean) + 4 * (pi / 2 - lean)
    assert unlike.passed_mm() == pytest.approx(girth / pi)


def test_what_a_test_can_tell_is_offered_at_that_test_with_its_mends():
    plan = planned(power(ARMOURED, ARMOURED, duties=["buried"]))
    told = {f.id: f for f in plan.faults if f.layer == "procedure"}
    assert told["insulation-low"].steps == ["test.before.insulation", "test.after.insulation"]
    assert told["sheath-low"].steps == ["test.after.sheath"]
    assert "flex-cracked" not in told  # nothing of this joint is bent
    place = Place("insulation-low", "test.after.insulation", "procedure")
    done = {s.id for s in plan.steps if s.station != "sign"}
    dry, _, remake = told["insulation-low"].mends
    again = consequence(plan, place, dry, done, lost_mm={})
    assert again.reopens == ["test.after.insulation", "sealed-and-proved"]
    assert (again.lost_mm, again.again) == ({}, [])
    assert set(consequence(plan, place, remake, done, lost_mm={}).lost_mm) == {"A", "B"}
