"""Unlike flat cables: each end has the layers, cuts, windows and drawing of its own cable."""

from math import pi
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from tests.trace import HEAT, ZONE, row, sheet_with, trace
from tinknot.core.errors import InputError
from tinknot.core.formulas.hull import hull_girth_mm, side_by_side_mm
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint

SLIM: dict[str, Any] = {
    "construction": "power-limiting",
    "outer_jacket": {"width_mm": 10.6, "thickness_mm": 5.1},
    "braid_mm": 0.4,
    "inner_jacket": {"width_mm": 8.6, "thickness_mm": 3.4},
    "core": {"width_mm": 7.2, "thickness_mm": 2.2},
    "bus_area_mm2": 1.0,
    "bus_od_mm": 1.3,
}


def planned(sheet: str | dict[str, Any], at: dict[str, Any], **changes: Any) -> Plan:
    """A connection with another cable at some of its ends."""
    ends = {e: {"free_mm": 700, "loop_mm": 600} | ({"cable": at[e]} if e in at else {}) for e in "ABC"}
    return plan_joint(trace(sheet, ends=ends, **changes))


def widest(plan: Plan, end: str) -> float:
    jacket = next(b for b in plan.section.bodies if b.kind == "outer-jacket" and b.end == end)
    return max(p[1] for p in jacket.top) - min(p[1] for p in jacket.bottom)


# --- the string round what lies side by side ----------------------------------------------------------------


@given(
    st.lists(st.tuples(st.floats(-30, 30), st.floats(-30, 30), st.floats(0.5, 12)), min_size=1, max_size=14)
)
def test_the_tight_string_is_the_hull_of_the_circles(circles: list[tuple[float, float, float]]):
    turn = np.linspace(0, 2 * pi, 1500)
    edge = [np.c_[x + d / 2 * np.cos(turn), y + d / 2 * np.sin(turn)] for x, y, d in circles]
    around = ConvexHull(np.concatenate(edge)).area  # in the plane its measure of length
    assert hull_girth_mm(circles) == pytest.approx(around, rel=2e-5)


@given(st.floats(5, 20), st.floats(0.2, 1), st.floats(5, 20), st.floats(0.2, 1))
def test_two_flat_cables_side_by_side_are_between_their_thicknesses(
    w1: float, r1: float, w2: float, r2: float
):
    width, thickness = side_by_side_mm([(w2 / 2, w1, w1 * r1), (-w1 / 2, w2, w2 * r2)])
    assert width == pytest.approx(w1 + w2)
    low, high = sorted((w1 * r1, w2 * r2))
    assert low - 1e-9 <= thickness <= high + 1e-9


# --- a splice of two ----------------------------------------------------------------------------------------


def test_a_splice_of_unlike_cables_grips_the_slim_one_and_passes_the_wide_one():
    alike, unlike = planned("trace-splice-s5", {}), planned("trace-splice-s5", {"B": SLIM})
    one, other = (next(c for c in p.choices if c.layer == "outer-tube") for p in (alike, unlike))
    assert unlike.verdict == "planned"
    assert other.pass_od_mm == pytest.approx(one.pass_od_mm)
    assert other.seal_od_mm == pytest.approx((2 * (10.6 - 5.1) + pi * 5.1) / pi)
    assert other.seal_od_mm < one.seal_od_mm
    assert widest(unlike, "A") == pytest.approx(12.4)
    assert widest(unlike, "B") == pytest.approx(10.6)
    ends = {e.end: e for e in unlike.trace.prepared}
    assert max(x.width_mm for x in ends["B"].layers) == pytest.approx(10.6)
    assert any("Unlike cables" in w for w in unlike.warnings)
    assert not any("Unlike cables" in w for w in alike.warnings)


def test_a_wire_taken_as_joined_is_as_thick_as_the_thinner_one():
    assert {c.area_mm2 for c in planned("trace-splice-s5", {"B": SLIM}).cores} == {1.0}


def test_the_least_allowed_test_voltage_of_both_counts():
    plan = planned("trace-splice-s5", {"B": SLIM | {"test_most_v": 500}}, cable=HEAT | {"test_most_v": 2500})
    assert plan.trace.test_v == 500


def test_a_cable_the_kit_does_not_serve_is_named_by_its_end():
    with pytest.raises(InputError) as fault:
        planned("trace-splice-s5", {"B": SLIM | {"bus_area_mm2": 2.5}})
    assert "cable of B" in str(fault.value)
    with pytest.raises(InputError) as fault:
        planned("trace-splice-s5", {"B": SLIM | {"inner_jacket": {"width_mm": 12, "thickness_mm": 3.4}}})
    assert fault.value.errors[0].path == "/ends/B/cable/inner_jacket/width_mm"


def test_cuts_of_two_constructions_whose_wires_cannot_meet_are_refused():
    sheet = sheet_with("trace-splice-s5")
    rows = sheet["leaflet"]["layers"]
    first = rows[at := row(rows, "cut-bus-1-b")]
    first["constructions"] = ["self-regulating"]
    other = {"id": "other", "length": {"mm": 2}, "constructions": ["power-limiting"]}
    rows.insert(at, first | other)
    with pytest.raises(InputError) as fault:
        planned(sheet, {"B": SLIM})
    assert fault.value.errors[0].path in ("/ends/B/cable/construction", "/sheet")
    assert "cannot both meet" in str(fault.value)


# --- a tee with unlike legs ---------------------------------------------------------------------------------


def test_the_legs_of_a_tee_lie_beside_each_other_each_with_its_own_cable():
    plan = planned("trace-tee-t6", {"C": SLIM})
    assert plan.verdict == "planned"
    b = next(x for x in plan.section.bodies if x.kind == "outer-jacket" and x.end == "B")
    c = next(x for x in plan.section.bodies if x.kind == "outer-jacket" and x.end == "C")
    assert min(p[1] for p in b.bottom) == pytest.approx(max(p[1] for p in c.top))  # jacket on jacket
    assert max(p[1] for p in b.top) - min(p[1] for p in c.bottom) == pytest.approx(12.4 + 10.6)
    alike = planned("trace-tee-t6", {})

    def seal(p: Plan) -> float:
        return next(x for x in p.choices if x.pass_od_mm == max(y.pass_od_mm for y in p.choices)).pass_od_mm

    assert seal(plan) < seal(alike)


def test_a_wire_of_a_tee_has_a_length_on_each_of_its_ends():
    for core in planned("trace-tee-t6", {"C": SLIM}).cores:
        assert set(core.by_end) == {"A", "B", "C"}
        assert (core.by_end["A"], core.by_end["B"]) == (core.cut_a_mm, core.cut_b_mm)
    (wire, *_) = planned("trace-splice-s5", {}).cores
    assert wire.by_end == {"A": wire.cut_a_mm, "B": wire.cut_b_mm}


def test_a_zone_cable_at_one_end_only_has_its_points_there():
    sheet = sheet_with("trace-splice-s5", serves__constructions=["self-regulating", "zone"])
    sheet["serves"] |= {"width_least_mm": 9, "bus_most_mm2": 2.5}
    ends = {
        "A": {"free_mm": 900, "felt_mm": 100},
        "B": {"free_mm": 700, "felt_mm": 300, "cable": ZONE},
    }
    plan = plan_joint(trace(sheet, ends=ends, cable=HEAT))
    assert [z.end for z in plan.trace.node_cuts] == ["B"]
    z = plan.trace.node_cuts[0]
    assert z.points_mm[0] == 300
    assert z.shown_mm > z.cut_mm + z.cold_mm
    cuts = {(c.end, c.layer) for c in plan.cuts}
    assert ("B", "overlay") in cuts
    assert ("A", "overlay") not in cuts


def test_what_waits_on_a_leg_of_a_tee_is_threaded_on_that_leg_before_it_is_opened():
    sheet = sheet_with("trace-tee-t6")
    part = next(p for p in sheet["leaflet"]["parts"] if p["what"] == "tube")
    own = part | {
        "id": "L",
        "name": "leg tube",
        "opens": {"mm": 24},
        "closes": {"mm": 4.5},
        "length": {"mm": 60},
    }
    sheet["leaflet"]["parts"].append(own)
    leg = {"id": "leg", "kind": "tube", "part": "L", "at": "C", "reach": {"mm": 50}}
    sheet["leaflet"]["layers"].append(leg)
    plan = planned(sheet, {"C": SLIM})
    thread = next(s for s in plan.steps if s.id.startswith("park.leg"))
    assert thread.end == "C"
    assert "side C" in thread.title
    assert set(thread.needs) >= {"cut.square.C", "clean.C"}
    opened = next(s for s in plan.steps if s.id == "braid.C")
    assert thread.id in opened.needs
    assert thread.id not in plan.step("braid.B").needs
    order = [s.id for s in plan.steps]
    assert order.index("cut.square.C") < order.index(thread.id) < order.index("braid.C")
    tails = {tail.end: tail for tail in plan.park.by_end}
    assert list(tails) == ["A", "B", "C"]
    assert [e.step for e in tails["C"].parts] == [thread.id]
    assert thread.id not in {e.step for e in (*plan.park.a, *plan.park.b)}
    assert tails["C"].used_mm > 60  # its own length, and what it keeps away
    ends = {e: {"free_mm": 700, "loop_mm": 600} for e in "AB"}
    ends["C"] = {"free_mm": tails["C"].used_mm - 1, "loop_mm": 600, "cable": SLIM}
    short = plan_joint(trace(sheet, ends=ends))
    assert any("No room to park" in w for w in short.warnings)
    assert short.verdict == "nothing-fits"
