"""Law 11: where a part comes stands in its step, in mm from something seen."""

import copy
import json
import re
from functools import cache
from typing import Any

import pytest

from tests.joints import example
from tinknot.core.families.file import file_of
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint

CUT = re.compile(r"cut (\d+) mm")


def planned(given: dict[str, Any]) -> Plan:
    return plan_joint(file_of(json.dumps(given)))


@cache
def plan_of(name: str) -> Plan:
    return planned(example(name))


def cut_mm(plan: Plan, part: str) -> int:
    found = CUT.search(plan.step(f"park.{part}").text)
    assert found
    return int(found[1])


def test_a_core_sleeve_reaches_as_far_past_both_ends_of_its_connector():
    """Connector of 38 mm, 1 mm longer on each side once pressed: 40 mm under the sleeve's middle."""
    plan = plan_of("four-core-buried")
    past = (cut_mm(plan, "core-sleeve-1") - 40) / 2
    assert f"{past:g} mm past each end of it" in plan.step("seal.core-sleeve-1").text


@pytest.mark.parametrize("ends", ["alike", "unlike"])
def test_an_outer_sleeve_lies_its_overlap_behind_each_cut_and_half_of_what_it_is_longer(ends: str):
    """Overlap: the greater of 40 mm and 1.5 × the sheath; a sleeve is cut longer by what it may shorten."""
    given = example("armoured-in-line")
    for end, od in zip("AB", (16.8, 16.8) if ends == "alike" else (34.0, 30.0), strict=True):
        given["ends"][end].pop("armour")
        given["ends"][end]["sheath_od_mm"] = od
    plan = planned(given)
    assert plan.joint_length_mm
    more = (cut_mm(plan, "outer-sleeve") - plan.joint_length_mm) / 2
    text = plan.step("seal.outer-sleeve").text
    if ends == "alike":
        assert f"its ends {40 + more:g} mm behind the sheath cut on both sides" in text
    else:
        a, b = 1.5 * 34 + more, 1.5 * 30 + more
        assert f"its ends {a:g} mm behind the sheath cut on A and {b:g} mm behind it on B" in text


def test_an_inner_sleeve_lies_in_front_of_the_cuts_and_warms_no_sheath():
    text = plan_of("armoured-in-line").step("seal.inner-sleeve").text
    assert "mm in front of the sheath cut on both sides" in text
    assert "sheath on both" not in text


@pytest.mark.parametrize(
    "name", ["four-core-buried", "armoured-in-line", "screened-pairs", "single-wire-soldered"]
)
def test_what_is_threaded_on_waits_at_least_as_far_back_as_the_plan_keeps_it(name: str):
    """The nearest part of a tail stays by what the tail is longer than its parts and what is between."""
    plan = plan_of(name)
    assert plan.park
    for tail in plan.park.by_end:
        whole = [p for p in tail.parts if p.track == "sheath"]
        if not whole:
            continue
        near = tail.used_mm - sum(p.length_mm for p in whole) - 10 * (len(whole) - 1)
        said = [float(re.findall(r"waits (\d+) mm", plan.step(p.step).look)[0]) for p in whole]
        assert min(said) == pytest.approx(near, abs=1)
        assert min(said) >= near - 1e-6
        assert said == sorted(said, reverse=True)  # threaded first, furthest back


def test_how_far_back_is_a_figure_that_a_page_shows_in_its_own_unit():
    told = json.loads(plan_of("four-core-buried").model_dump_json())
    step = next(s for s in told["steps"] if s["id"] == "park.outer-sleeve")
    assert [(f["of"], f["unit"]) for f in step["figures"] if f["of"] == "look"] == [("look", "mm")]


def test_a_lap_says_its_length_and_holds_without_its_solder():
    given = example("single-wire-soldered")
    text = planned(given).step("join.1").text
    assert f"over {given['connector']['length_mm']:g} mm, bound or hooked" in text


def test_mastic_over_a_spring_goes_as_far_as_what_is_there():
    assert "as the mesh lies" in plan_of("cold-hazardous").step("wrap.spring-A").caution
    assert "as the armour lies" in plan_of("armoured-in-line").step("wrap.spring-A").caution
    assert "from the armour on A to the armour on B" in plan_of("armoured-in-line").step("bond.strap").text


def test_a_wipe_after_mastic_keeps_off_it_and_the_crutch_is_wiped_before_it_is_filled():
    plan = plan_of("armoured-in-line")
    assert plan.step("wrap.crutch.A").text.startswith("Wipe the cores")
    order = [s.id for s in plan.steps]
    for wipe in ("surface.inner-sleeve", "wipe.sheath.A", "wipe.sheath.B"):
        assert order.index("wrap.crutch.B") < order.index(wipe)
        assert "Keep off what is laid already" in plan.step(wipe).text


def test_a_length_that_nobody_typed_is_told_and_the_limit_follows_once_it_is():
    """10 mm² of copper, 80 m: 1.83 mΩ a metre at 20 °C, a tenth more, and two contacts of 1 mΩ."""
    given = example("cast-in-tube")
    assert any("length is not on the card" in w for w in planned(given).warnings)
    long = planned(copy.deepcopy(given) | {"cable_length_m": 80})
    assert not any("length is not on the card" in w for w in long.warnings)
    limit = long.step("test.after.continuity").gates[0].most
    assert limit == pytest.approx((1.83 * 80 * 1.1 + 2) / 1000, rel=0.03)


def test_tap_connectors_keep_apart_the_neutral_is_first_and_gloves_are_at_hand():
    plan = plan_of("overhead-tap")
    joins = [s for s in plan.steps if s.id.startswith("join.")]
    assert all("100 mm or more from the next one" in s.text for s in joins)
    assert ["neutral or PEN goes on first" in s.text for s in joins] == [True, False, False]
    assert "insulating gloves and mat" in plan.tools


def test_a_current_in_the_screen_is_looked_for_first():
    plan = plan_of("screened-pairs")
    assert plan.step("screen-dead").text.startswith("Clamp meter round the cable first")
    assert "clamp meter" in plan.tools
    assert "clamp meter" not in plan_of("four-core-buried").tools


def test_a_jacket_is_closed_beyond_its_damage_and_no_dust_falls_in():
    plan = plan_of("jacket-repair")
    assert "mm beyond the damage on both sides" in plan.step("seal.repair-sleeve").text
    assert "cloth over the hole" in plan.step("surface.repair-sleeve.A").caution
