"""Heat-trace connections: flat profile, windows by girth, steps, cable arithmetic; what must be caught."""

import json
from itertools import pairwise
from math import pi
from typing import Any

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from tests.core.test_progress import Log
from tests.joints import waits
from tests.trace import HEAT, SHEETS, ZONE, row, sheet_with, trace
from tinknot.core.errors import InputError
from tinknot.core.families.trace.arithmetic import remakes_now
from tinknot.core.families.trace.circuit import bend_radius_mm, circuit_check, zone_cut
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.leaflet import BendStep, CircuitLimit
from tinknot.core.joint.profile import Profile
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.folding import fold
from tinknot.core.work.mending import MendOut, Place, consequence
from tinknot.core.work.verdict import judge


def planned(made_by: str | dict[str, Any] = "trace-end-p1", **changes: Any) -> Plan:
    return plan_joint(trace(made_by, **changes))


def girth_od(w: float, t: float) -> float:
    return (2 * (w - t) + pi * t) / pi


# --- the flat profile ---------------------------------------------------------------------------------------


@given(st.floats(1, 40), st.floats(0.1, 1), st.floats(0.1, 5))
def test_a_wall_on_a_flat_cable_keeps_it_flat_and_its_girth_grows_by_the_wall(
    w: float, ratio: float, wall: float
):
    t = w * ratio
    flat = Profile.of_stretches([(0, 10, w, t)], flat=True)
    over = flat.covered(0, 10, lambda d: d + 2 * wall).at(5)
    assert over.flat
    assert over.greatest_mm - over.least_mm == pytest.approx(w - t)
    assert over.girth_od_mm == pytest.approx(girth_od(w, t) + 2 * wall)
    assert flat.passed() == pytest.approx(girth_od(w, t))  # limp: by the girth
    assert flat.passed(stiff=True) == w  # stiff: by the width


def test_a_limp_tube_passes_by_the_girth_and_a_stiff_one_by_the_width():
    outer = next(c for c in planned().choices if c.layer == "outer-tube")
    on_jacket = girth_od(12.4, 5.8)
    assert outer.pass_od_mm >= on_jacket
    assert outer.seal_od_mm == pytest.approx(on_jacket)
    assert outer.needed_expanded_mm == pytest.approx(Margins().needed_expanded_mm(outer.pass_od_mm))
    stiff = sheet_with("trace-end-p1", parts__1__stiff=True)
    wide = next(c for c in planned(stiff).choices if c.layer == "outer-tube")
    assert wide.pass_od_mm > outer.pass_od_mm
    assert wide.pass_od_mm >= 12.4


def test_the_drawing_is_to_scale_and_every_cut_stands_where_it_is_made():
    plan = planned("trace-splice-s5")
    jacket = {b.end: b for b in plan.section.bodies if b.kind == "outer-jacket"}
    assert max(p[1] for p in jacket["A"].top) * 2 == pytest.approx(12.4)
    axes = 9.0  # half of the 18 mm by which the ends pass each other
    assert max(p[0] for p in jacket["A"].top) == pytest.approx(axes - 80)
    assert min(p[0] for p in jacket["B"].top) == pytest.approx(80 - axes)
    middle = next(c for c in plan.section.crossings if c.from_mm <= 0 <= c.to_mm)
    buses = [c for c in middle.circles if c.kind == "bus"]
    assert len(buses) >= 2
    assert all(c.thickness_mm for c in middle.circles if c.kind == "trace-tube")
    a = next(p for p in plan.trace.prepared if p.end == "A")
    assert {c.layer: c.at_mm for c in a.cuts} == {
        "outer-jacket": 80,
        "inner-jacket": 45,
        "matrix": 30,
        "bus-2": 18,
    }


def test_a_pinched_tube_is_drawn_past_the_end_of_the_cable():
    plan = planned()
    tube = next(b for b in plan.section.bodies if b.layer == "outer-tube")
    # 130 long, 6 % shorter when shrunk, 30 onto the jacket that ends 50 before the end
    assert (min(p[0] for p in tube.top), max(p[0] for p in tube.top)) == (-80, pytest.approx(122.2 - 80))
    assert plan.joint_length_mm == pytest.approx(122.2)
    assert planned("trace-end-m2").joint_length_mm == 55  # the cap
    assert planned("trace-set-e4").joint_length_mm == pytest.approx(122.2)  # the longer end, not both


def test_bus_wires_of_a_splice_come_to_one_length_the_long_one_to_the_short():
    plan = planned("trace-splice-s5")
    one, two = plan.cores
    assert one.cut_a_mm + one.cut_b_mm == two.cut_a_mm + two.cut_b_mm
    assert one.cut_a_mm > two.cut_a_mm
    assert one.cut_b_mm < two.cut_b_mm
    assert plan.joint_length_mm == pytest.approx(2 * (80 + 40) - 18)


@pytest.mark.parametrize("name", SHEETS)
def test_in_every_cut_across_the_outer_lies_round_the_inner(name: str):
    plan = planned(name)
    section = plan.section
    assert section.crossings[0].from_mm == section.from_mm
    assert section.crossings[-1].to_mm == section.to_mm
    for before, after in pairwise(section.crossings):
        assert before.to_mm == pytest.approx(after.from_mm)
    for crossing in section.crossings:
        flats = [c for c in crossing.circles if c.thickness_mm is not None and c.kind != "bus"]
        for outer, inner in pairwise(c for c in flats if abs(c.x_mm) < 1e-9):
            assert inner.od_mm <= outer.od_mm + 1e-9, (name, crossing.from_mm)
            assert inner.thickness_mm <= outer.thickness_mm + 1e-9, (name, crossing.from_mm)
        assert all(c.od_mm <= crossing.outside_mm + 1e-9 for c in crossing.circles)
    for body in section.bodies:
        assert [p[0] for p in body.top] == sorted(p[0] for p in body.top)
        assert [p[0] for p in body.top] == [p[0] for p in body.bottom]
        assert all(t[1] >= b[1] - 1e-9 for t, b in zip(body.top, body.bottom, strict=True))


@given(st.floats(10.6, 13.9), st.floats(5.1, 6.4), st.floats(0.2, 0.5), st.floats(0.5, 1.0))
def test_any_cable_the_sheet_serves_is_planned_or_told_which_tube_fails(
    w: float, t: float, braid: float, wall: float
):
    inner = {"width_mm": w - 2 * (braid + wall), "thickness_mm": t - 2 * (braid + wall)}
    core = {"width_mm": inner["width_mm"] - 1.2, "thickness_mm": inner["thickness_mm"] - 1.2}
    cable = HEAT | {
        "outer_jacket": {"width_mm": w, "thickness_mm": t},
        "braid_mm": braid,
        "inner_jacket": inner,
        "core": core,
        "bus_od_mm": core["thickness_mm"] * 0.5,
    }
    plan = planned("trace-splice-s5", cable=cable)
    margins = Margins()
    for c in plan.choices:
        if c.layer == "outer-tube":
            assert c.seal_od_mm == pytest.approx(girth_od(w, t))
        for tube in c.candidates:
            passes = tube.expanded_id_mm >= margins.needed_expanded_mm(c.pass_od_mm) * (1 - 1e-9)
            grips = tube.recovered_id_mm <= margins.allowed_recovered_mm(c.seal_od_mm) * (1 + 1e-9)
            assert (c.picked is not None) == (passes and grips)
            assert (c.picked is None) == bool(tube.reason)
    assert (plan.verdict == "planned") == all(c.picked for c in plan.choices)


# --- what must be caught ------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("sheet", "changes", "words"),
    [
        ("trace-zone-z8", {"cable": HEAT}, "it serves zone cable, this is self-regulating"),
        ("trace-end-p1", {"cable": ZONE}, "this is zone"),
        (
            "trace-end-p1",
            {"cable": HEAT | {"outer_jacket": {"width_mm": 15, "thickness_mm": 6}}},
            "takes widths up to 14 mm, here is 15",
        ),
        ("trace-end-p1", {"cable": HEAT | {"bus_area_mm2": 2.5}}, "bus wires up to 1.5 mm²"),
        ("trace-end-p1", {"rated_voltage_v": 400}, "up to 300 V"),
        ("trace-end-p1", {"duties": ["hazardous"]}, "not certified"),
        ("trace-end-p1", {"sheet": None}, "no kit is chosen"),
        ("trace-end-p1", {"sheet": SHEETS["trace-end-p1"] | {"state": "retired"}}, "is retired"),
        (
            "trace-box-f3",
            {"sheet": sheet_with("trace-box-f3", layers__land__torque_least_nm=None)},
            "a torque is a window",
        ),
        ("trace-box-f3", {"rated_voltage_v": 3000}, "V"),
    ],
)
def test_a_kit_that_does_not_serve_is_refused_with_the_reason(
    sheet: str, changes: dict[str, Any], words: str
):
    with pytest.raises(InputError) as fault:
        planned(sheet, **changes)
    assert any(words in e.message for e in fault.value.errors), fault.value.errors


@pytest.mark.parametrize(
    ("cable", "path"),
    [
        ({"inner_jacket": {"width_mm": 12, "thickness_mm": 4}}, "/cable/inner_jacket/width_mm"),
        ({"core": {"width_mm": 8, "thickness_mm": 4.5}}, "/cable/core/thickness_mm"),
        ({"outer_jacket": {"width_mm": 5, "thickness_mm": 12}}, "/cable/outer_jacket/thickness_mm"),
        ({"bus_od_mm": 3}, "/cable/bus_od_mm"),
        ({"construction": "zone"}, "/cable/node_mm"),
    ],
)
def test_layers_must_lie_inside_each_other(cable: dict[str, Any], path: str):
    with pytest.raises(InputError) as fault:
        planned(cable=HEAT | cable)
    assert fault.value.errors[0].path == path


def test_a_loop_under_the_bend_radius_of_the_day_stops_and_a_wider_one_is_the_remedy():
    tight = {"A": {"loop_mm": 600, "loop_radius_mm": 40}}
    assert planned(ends=tight, ambient_c=20).verdict == "planned"
    cold = planned(ends=tight, ambient_c=-5)
    assert cold.verdict == "nothing-fits"
    assert "drawn with 40 mm, at -5 °C the cable bends to 50 mm" in cold.warnings[0]
    wider = next(r for r in cold.remedies if r.id == "wider-loop")
    assert wider.change["trace"]["ends"]["A"]["loop_radius_mm"] == 50
    assert planned(ends={"A": {"loop_mm": 600, "loop_radius_mm": 50}}, ambient_c=-5).verdict == "planned"
    too_cold = planned(ends=tight, ambient_c=-45)
    assert "allows no bending under -40 °C" in too_cold.warnings[0]


def test_a_circuit_too_long_or_too_hungry_for_its_breaker_stops():
    fine = {"circuit_m": 42, "added_m": 1, "breaker_a": 16, "start_c": 0}
    assert planned(circuit=fine).verdict == "planned"
    longer = planned(circuit=fine | {"added_m": 50})
    assert longer.verdict == "nothing-fits"
    assert "longer than the 85 m" in longer.warnings[0]


def test_a_tube_that_does_not_fit_the_cable_says_which_edge_and_one_of_stock_may_stand_in():
    narrow = HEAT | {
        "inner_jacket": {"width_mm": 5, "thickness_mm": 3},
        "core": {"width_mm": 4.4, "thickness_mm": 2.2},
    }
    stock = {
        "sleeves": [
            {
                "id": "s12",
                "expanded_id_mm": 12,
                "recovered_id_mm": 2,
                "recovered_wall_mm": 0.9,
                "lined": True,
                "on_hand_mm": 900,
            }
        ]
    }
    plan = planned(cable=narrow, stock=stock)
    assert plan.verdict == "nothing-fits"
    failed = next(c for c in plan.choices if not c.picked)
    assert "too wide to grip" in failed.candidates[0].reason
    way = next(r for r in plan.remedies if r.id == "stock-s12")
    again = planned(cable=narrow, stock=stock, choice=way.change["trace"]["choice"])
    assert again.verdict == "planned"
    part = next(p for p in again.parts if p.part_id == "s12")
    assert part.cut_length_mm > 0


def test_a_moulded_part_that_does_not_take_the_cable_is_refused_by_its_opening():
    cap = sheet_with("trace-end-m2", parts__0__width_most_mm=13.6)
    assert planned(cap).verdict == "planned"
    wide = sheet_with("trace-end-m2", parts__0__width_most_mm=12, serves__width_most_mm=12)
    with pytest.raises(InputError, match="takes widths up to 12 mm"):
        planned(wide)


def test_no_room_to_park_the_tubes_of_a_splice():
    plan = planned("trace-splice-s5", ends={"A": {"free_mm": 300}, "B": {}})
    assert plan.verdict == "nothing-fits"
    assert "No room to park" in " ".join(plan.warnings)


# --- steps --------------------------------------------------------------------------------------------------


def test_every_end_is_opened_layer_by_layer_and_kept_clear():
    plan = planned("trace-tee-t6")
    for end in "ABC":
        order = [
            f"cut.square.{end}",
            f"cut.outer-jacket.{end}",
            f"braid.{end}",
            f"cut.inner-jacket.{end}",
            f"cut.matrix.{end}",
            f"strip.{end}",
            f"clear.{end}",
        ]
        for before, after in pairwise(order):
            assert before in waits(plan, after)
        assert plan.step(f"clear.{end}").photo
    assert {s.id for s in plan.steps if s.id.startswith("clear.")} <= waits(plan, "connectors")


def test_terminals_ask_for_their_torque_and_the_pinch_is_held():
    box = planned("trace-box-f3")
    gates = box.step("land.A").gates
    assert [(g.target, round(g.tolerance, 6), g.required) for g in gates] == [(1.4, 0.2, True)] * 3
    end = planned()
    assert end.step("pinch.outer-tube").timers[0].most_min is not None
    assert end.step("hold.outer-tube").timers[0].least_min == pytest.approx(25 / 60)


def test_the_test_voltage_follows_what_the_cable_allows():
    assert planned().trace.test_v == 500
    assert planned(cable=HEAT | {"test_most_v": 1000}).trace.test_v == 1000
    assert planned(cable=HEAT | {"test_most_v": 4000}).trace.test_v == 2500
    with pytest.raises(InputError) as fault:
        planned(cable=HEAT | {"test_most_v": 250})
    assert fault.value.errors[0].path == "/cable/test_most_v"
    tests = [s for s in planned().steps if s.id.endswith("insulation")]
    assert [s.id for s in tests] == [
        "test.found.insulation",
        "test.before.insulation",
        "test.after.insulation",
    ]
    assert all(s.gates[0].least == 20 and "Discharge" in s.caution for s in tests)


def test_only_what_closes_behind_a_joined_end_is_parked():
    """The tubes of a dead end go over it at last, whatever was landed at the other end before."""
    both = planned("trace-set-e4")
    assert [e.layer for e in both.park.a] == ["grommet-A"]
    assert both.park.b == []
    splice = planned("trace-splice-s5")
    assert [e.layer for e in splice.park.a] == [
        "outer-tube",
        "inner-tube",
    ]  # threaded first lies furthest away
    assert planned("trace-end-p1").park is None


def test_what_closes_over_sealant_goes_on_before_it_skins_and_its_cure_only_holds_up_the_end():
    plan = planned("trace-end-m2")
    (skin,) = plan.step("seal.cap").timers
    colder = 2 ** ((23 - 6) / 10)  # printed for 23 °C; twice as long for every 10 °C colder (van 't Hoff)
    assert (skin.after, skin.most_min) == ("seal.sealant", pytest.approx(20 * colder))
    assert "inspect.sealant" in plan.step("seal.cap").needs
    assert plan.step("surface.cap") is None  # a wipe would take the sealant off again
    cure = plan.step("cure.sealant")
    assert cure.timers[0].least_min == pytest.approx(180 * colder)
    assert [s.id for s in plan.steps if "cure.sealant" in s.needs] == ["test.after.insulation"]


def test_tape_and_moulded_walls_are_part_of_the_profile():
    plan = planned()
    bare = sheet_with("trace-end-p1", layers__forward=None)
    taped = next(c for c in plan.choices if c.layer == "outer-tube")
    untaped = next(c for c in planned(bare).choices if c.layer == "outer-tube")
    assert taped.pass_od_mm == pytest.approx(
        untaped.pass_od_mm + 0.8
    )  # 0.4 on each side, where no sheet says
    assert planned("trace-end-m2").greatest_diameter_mm == pytest.approx(12.4 + 2 * 1.5)


def test_a_box_underneath_opens_its_drip_hole():
    under = planned("trace-box-f3", mounting={"entry": "underside", "mounted": True})
    assert "drip hole" in under.step("park.grommet").text
    assert "45°" in under.step("park.grommet").text
    assert "drip hole open" in under.step("turn.lid").look


def test_some_kits_want_the_cable_mounted_first():
    loose = planned("trace-splice-s5", mounting={"mounted": False})
    assert loose.step("mount").id in loose.step("measured").needs
    assert planned("trace-splice-s5").step("mount") is None


def test_layers_may_be_reordered_and_plain_steps_added_but_no_gate_goes():
    sheet = json.loads(json.dumps(SHEETS["trace-end-p1"]))
    layers = sheet["leaflet"]["layers"]
    layers.insert(
        row(layers, "inner-tube"),
        {"id": "warm", "kind": "step", "title": "Warm the end by hand", "minutes": 2},
    )
    plan = planned(sheet)
    assert plan.step("wait.warm").timers[0].least_min == 2
    assert "wait.warm" in plan.step("surface.inner-tube").needs
    gates = {
        "isolated",
        "receive",
        "test.found.insulation",
        "measured",
        "clear.A",
        "connectors",
        "before-closing",
        "test.after.insulation",
        "protection",
        "sealed-and-proved",
        "released",
    }
    assert gates <= {s.id for s in plan.steps}


def test_a_draft_warns_and_a_companion_is_named():
    draft = SHEETS["trace-tee-t6"] | {"state": "draft"}
    words = " ".join(planned(draft).warnings)
    assert "nobody has checked it" in words
    assert "companion kit" in words


def test_the_kit_is_taken_from_stock_and_an_empty_shelf_is_said():
    stock = {
        "kits": [{"id": "k", "name": "P1 box", "sheet": "trace-end-p1", "lots": [{"id": "L1", "on_hand": 2}]}]
    }
    plan = planned(stock=stock)
    assert [(p.part_id, p.lot) for p in plan.parts] == [("k", "L1")]
    assert plan.step("receive").part_id == "k"
    gone = planned(stock={"kits": [stock["kits"][0] | {"lots": [], "on_hand": 0}]})
    assert any("in stock" in w or "on hand" in w for w in gone.warnings)


# --- arithmetic ---------------------------------------------------------------------------------------------


def test_cable_fixings_and_remakes_worked_by_hand():
    circuit = {
        "run_m": 20,
        "spiral_extra": 0.1,
        "fixing_spacing_mm": 300,
        "connection_mm": 250,
        "allowances": [{"what": "valve", "each_mm": 500, "count": 2}],
    }
    found = planned(circuit=circuit).trace
    assert found.cable_m == pytest.approx(20 * 1.1 + 1.0 + (600 + 250 + 50) / 1000)
    assert found.fixings == 68
    loop = found.loops[0]
    assert (loop.per_remake_mm, loop.least_loop_mm, loop.remakes_left) == (65, 150, 6)  # (600 − 150) / 65
    assert loop.left_after_mm == 600 - 6 * 65
    assert remakes_now(loop, 130) == 4


@example(1e-97, 50.0, 1.0, 49.0, 0.0)  # a point that lies at the very end is lost by any rounding
@given(st.floats(0, 900), st.floats(50, 900), st.floats(0, 3000), st.floats(0, 400), st.floats(0, 300))
def test_a_zone_cable_is_cut_so_that_a_point_lies_on_the_pipe(
    felt: float, node: float, lead: float, most: float, opened: float
):
    if felt > node:
        with pytest.raises(InputError):
            zone_cut(node * 1.01 + 1, node, lead, most)
        felt = node
    z, plain = (
        zone_cut(felt, node, lead, most, opened_mm=opened),
        zone_cut(felt, node, lead, most, opened_mm=1e9),
    )
    assert z.cut_mm >= plain.cut_mm  # never less than the pipe alone asks for
    assert z.onto_pipe_mm >= -1e-6
    assert plain.cut_mm == 0 or plain.onto_pipe_mm == pytest.approx(most)
    assert plain.early_mm == 0
    if z.early_mm:  # a point before the pipe is kept only where no cut on this point loses it
        assert z.cold_mm < lead
        assert z.cut_mm == plain.cut_mm
        assert z.node_at_mm - node - opened > z.onto_pipe_mm - 1e-6
    else:
        assert z.cold_mm == pytest.approx(z.node_at_mm)
        assert z.node_at_mm - node <= opened + 1e-6
    points = (z.node_at_mm + z.cut_mm - felt) / node
    assert points == pytest.approx(round(points), abs=1e-6)
    if z.cut_mm == 0:  # nothing nearer would have reached the pipe
        assert z.onto_pipe_mm < max(node, most) + 1e-6


def test_the_zone_cut_of_a_plan_counts_the_loop():
    z = planned("trace-zone-z8", circuit={"felt_mm": 300}).trace.zone
    # 450 lead + 600 loop; points at 300, 1200: 1200 lies 150 onto the pipe, just allowed; 150 are laid open,
    # so 150 more are cut off, or the point at 300 would heat the lead
    assert (z.cut_mm, z.node_at_mm, z.onto_pipe_mm, z.early_mm) == (150, 1050, 0, 0)
    far = planned("trace-zone-z8", circuit={"felt_mm": 500}).trace.zone
    assert (far.cut_mm, far.onto_pipe_mm) == (350, 0)
    longer = planned("trace-zone-z8", circuit={"felt_mm": 300}, ends={"A": {"loop_mm": 900}, "B": {}}).trace
    # cut for 2100, 150 onto the pipe: 600 off; 1200 stays, 600 from the end, of 1350 to the pipe
    assert (longer.zone.cut_mm, longer.zone.cold_mm, longer.zone.early_mm) == (600, 600, 750)
    assert "before the pipe heat too" in longer.zone.words
    wrong = planned("trace-zone-z8", circuit={"felt_mm": 1500})
    assert "feel for a nearer one" in wrong.warnings[0]


def test_bend_steps_and_circuit_rows():
    steps = [BendStep(from_c=5, radius_mm=30), BendStep(from_c=-20, radius_mm=50)]
    assert bend_radius_mm([], 0) is None
    assert [bend_radius_mm(steps, t) for t in (40, 5, 4.9, -20)] == [30, 30, 50, 50]
    with pytest.raises(InputError):
        bend_radius_mm(steps, -21)
    rows = [
        CircuitLimit(start_c=-20, breaker_a=16, most_m=60, start_up_a_per_m=0.25),
        CircuitLimit(start_c=0, breaker_a=16, most_m=85, start_up_a_per_m=0.18),
    ]
    assert circuit_check(rows, 60, 16, -20).why_not == ()
    assert "longer than the 60 m" in circuit_check(rows, 61, 16, -1).why_not[0]
    assert "starts with 16.2 A" in circuit_check(rows, 90, 16, 3).why_not[-1]
    assert circuit_check(rows, 10, 10, 0) is None  # no row for so small a breaker
    assert circuit_check(rows, 10, 20, -30) is None  # nor for so cold a start


# --- the work -----------------------------------------------------------------------------------------------


def test_a_pinch_begun_too_late_is_a_fault_and_one_let_go_early_is_not_taken():
    plan = planned()
    log = Log(plan)
    for s in plan.steps:
        if s.id == "pinch.inner-tube":
            break
        values = {g.id: (g.least or 0) * 100 if g.least else (g.most or g.target or 0) for g in s.gates}
        log.add("done", s.id, "runa", values, minutes=2)
    log.add("done", "pinch.inner-tube", "runa", {}, minutes=3)
    found = fold(plan, log.events)
    assert "too late" in found.faults[0].seen


def test_preparing_an_end_again_costs_its_cuts_and_reopens_them():
    plan = planned(ends={"A": {"loop_mm": 400}})
    log = Log(plan)
    for s in plan.steps:
        values = {g.id: (g.least or 0) * 100 if g.least else (g.most or g.target or 0) for g in s.gates}
        log.add("done", s.id, "runa", values, minutes=2)
        if s.id == "strip.A":
            break
    counted = fold(plan, log.events).counted()
    fault = next(f for f in plan.faults if f.id == "bus-nicked")
    cost = consequence(plan, Place("bus-nicked", "strip.A", fault.layer), fault.mends[0], counted, lost_mm={})
    assert cost.lost_mm == {"A": 50}
    assert cost.slack_left_mm == {"A": 400 - 150 - 50}
    assert "cut.outer-jacket.A" in cost.reopens
    assert "strip.A" in cost.reopens
    short = consequence(
        plan,
        Place("bus-nicked", "strip.A", fault.layer),
        MendOut(words="", kind="end-again"),
        counted,
        lost_mm={"A": 230},
    )
    assert "no longer reaches" in short.why_not


def test_low_insulation_is_a_remake_and_good_readings_a_release():
    plan = planned()
    for reading, verdict in ((15.0, "remake"), (900.0, "release")):
        log = Log(plan)
        for s in plan.steps:
            values = {g.id: reading if g.unit == "MΩ" else (g.most or g.target or 0) for g in s.gates}
            minutes = min([6.0, *(t.most_min for t in s.timers if t.most_min and t.least_min is None)])
            log.add("done", s.id, "eskil" if s.hold == "released" else "runa", values, minutes=minutes)
        found = fold(plan, log.events)
        assert judge(plan, found, RuleBook.of()).verdict == verdict


def test_a_zone_cable_is_cut_from_the_nearest_point_at_every_end():
    """85 mm are laid open at B: a point felt at 250 is brought up to it by cutting 165; one nearer than what
    is laid open would be lost, so the next, 900 further, counts."""
    opened = planned("trace-zone-z8").trace.prepared
    reach = next(p for p in opened if p.end == "B")
    cut = next(c.at_mm for c in reach.cuts if c.layer == "outer-jacket")
    (far,) = planned("trace-zone-z8", ends={"A": {}, "B": {"felt_mm": 250}}).trace.node_cuts
    assert (far.end, far.cut_mm, far.cold_mm) == ("B", pytest.approx(250 - cut), pytest.approx(cut))
    (lost,) = planned("trace-zone-z8", ends={"A": {}, "B": {"felt_mm": cut - 5}}).trace.node_cuts
    assert lost.cut_mm == pytest.approx(900 - 5)
    short = planned("trace-zone-z8", ends={"A": {}, "B": {"felt_mm": 800, "loop_mm": 300}})
    assert any("more than its loop gives" in w for w in short.warnings)
    wrong = planned("trace-zone-z8", ends={"A": {}, "B": {"felt_mm": 1500}})
    assert wrong.verdict == "nothing-fits"
    assert any("feel for a nearer one" in w for w in wrong.warnings)
