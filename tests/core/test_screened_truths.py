"""What a screened joint's windows, readings and drawing are judged by: what lies there, on each side."""

from math import asin, degrees, hypot, pi

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_screened import DONOR, SLEEVE, planned, reasons
from tests.screened import SCREENS, screened
from tinknot.core.figures import unmarked
from tinknot.core.formulas.braid import Braid
from tinknot.core.planning.solve import plan_joint

THICK = DONOR | {"id": "DB-T", "strand_mm": 0.3, "carriers": 48, "under_mm": 40, "on_hand": 0}


def window(plan, layer: str) -> tuple[float, float]:
    choice = next(c for c in plan.choices if c.layer == layer)
    return choice.pass_od_mm, choice.seal_od_mm


def test_a_donor_that_nobody_takes_refuses_no_solder_sleeve():
    """Sheath 12.4 with braid and the donor taken, twice 0.15 mm on every side; not the thickest in stock."""
    alone = window(planned(), "solder-A")
    both = window(planned({"donors": [DONOR, THICK]}), "solder-A")
    assert both == alone
    thick = 2 * 2 * DONOR["strand_mm"]
    assert alone[0] == pytest.approx(12.4 + 2 * braid_mm() + thick)


def braid_mm() -> float:
    """How thick the example's braid is."""
    joint = screened()
    return 2 * joint.strand_mm if joint.strand_mm else (joint.screen_od_mm - joint.inside_od_mm) / 2


def test_a_second_layer_of_donor_makes_the_solder_sleeve_pass_more():
    one, two = (window(planned(second=twice), "solder-A")[0] for twice in (False, True))
    assert two == pytest.approx(one + 2 * 2 * DONOR["strand_mm"])


def test_its_inner_mouth_closes_on_what_lies_in_front_of_the_sheath():
    """Cores, foil and donor there are thinner than the sheath: the mouth must close on them."""
    _, seal = window(planned(), "solder-A")
    assert seal < 12.4
    wide = SLEEVE | {"id": "wide", "expanded_id_mm": 20.0, "recovered_id_mm": seal + 0.1}
    assert "to grip" in reasons(planned({"solder_sleeves": [wide]}, fixed="solder"), "solder-A")["wide"]


@given(st.floats(3, 20), st.floats(3, 20))
def test_a_braid_covers_nowhere_less_than_where_it_covers_least(one: float, two: float):
    """Gaps are widest at 45°: looked for in small steps, nothing is found below."""
    braid = Braid(24, 7, 0.15, under_mm=7, lay_mm=40)
    low, high = sorted((one, two))
    if not braid.reaches(high):
        return
    at, least = braid.thinnest(low, high)
    start = max(low, braid.least_under_mm)
    found = [braid.over(start + (high - start) * i / 200).coverage_pct for i in range(201)]
    assert least <= min(found) + 1e-6
    assert braid.over(at).coverage_pct == pytest.approx(least)


def test_the_thinnest_place_of_a_braid_may_lie_between_both():
    braid = Braid(24, 7, 0.15, under_mm=7, lay_mm=40)
    at, _ = braid.thinnest(9, 13)
    strand = hypot(pi * 7.3, 40)
    assert degrees(asin(pi * (at + 0.3) / strand)) == pytest.approx(45, abs=0.01)


def test_unlike_ends_are_drawn_each_with_its_own_cores():
    plan = planned(insulation_od_b_mm=1.5)
    assert plan.section is not None
    at = {-1: set(), 1: set()}
    for cut in plan.section.crossings:
        x = (cut.from_mm + cut.to_mm) / 2
        bare = [c.od_mm for c in cut.circles if c.kind == "core"]
        if abs(x) < plan.gap_mm / 2 and not any(c.kind == "splice" for c in cut.circles):
            at[-1 if x < 0 else 1] |= set(bare)
    assert at == {-1: {1.9}, 1: {1.5}}


@pytest.mark.parametrize("name", sorted(SCREENS))
def test_no_core_stands_outside_of_what_lies_round_all(name: str):
    """In every cut of every kind of screened joint: within the sleeve round them, and not in each other."""
    plan = plan_joint(screened(**SCREENS[name]))
    seen = 0
    for cut in plan.section.crossings if plan.section else ():
        round_all = [c for c in cut.circles if c.kind in ("foil", "donor", "outer-sleeve") and not c.core]
        cores = [c for c in cut.circles if c.kind == "core"]
        if not round_all or not cores:
            continue
        seen += 1
        reach = max(2 * hypot(c.x_mm, c.y_mm) + c.od_mm for c in cores)
        assert reach <= 1.01 * min(c.od_mm for c in round_all)
        for n, p in enumerate(cores):
            for q in cores[n + 1 :]:
                apart = hypot(p.x_mm - q.x_mm, p.y_mm - q.y_mm)
                assert apart >= (p.od_mm + q.od_mm) / 2 * 0.98
    assert seen or plan.verdict != "planned"


def test_foil_alone_is_read_by_its_drain_wires():
    plan = planned(make_up="4 × 2 × 0.5, foil and drain over all", screen_od_mm=None)
    step = plan.step("test.after.screen")
    assert step.gates[0].label == "drain wire to drain wire"
    assert "Take its bridge off" in step.text
    assert planned(make_up="4 × 2 × 0.5", screen_od_mm=None).step("test.after.screen") is None


def test_solder_is_looked_for_along_a_lead_only_where_there_is_one():
    assert planned().step("inspect.solder-A").gates == []


def test_what_to_order_is_a_solder_sleeve_and_how_hot_it_may_get():
    none = planned({"solder_sleeves": [], "clamps": [], "rings": []})
    assert none.verdict == "nothing-fits"
    (order,) = [r for r in none.remedies if r.id == "order-solder-A"]
    assert "a solder sleeve without a lead that opens past" in unmarked(order.why)
    assert "melts at" in order.why
    hot = planned(fixed="solder", bears_c=90)
    (order,) = [r for r in hot.remedies if r.id == "order-solder-A"]
    assert "melts at 90 °C or less" in unmarked(order.why)


def test_cores_that_go_on_crosswise_are_told():
    plan = planned(
        make_up="2 × 2 × 0.5 + 2 × 0.5, core 3 is red, core 4 is blue",
        make_up_b="2 × 2 × 0.5 + 2 × 0.5, core 3 is blue, core 4 is red",
        screen_od_mm=None,
    )
    joined = {s.title for s in plan.steps if s.id.startswith("join.")}
    assert not any("to" in t.split() for t in joined)
    assert not any(w.startswith("Crosswise") for w in plan.warnings)
