"""Cable sheathed with lead: a shell of its own, cut, cleaned bright, sealed at its edge, clamped and read."""

import copy
import json
from datetime import date
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.joints import example
from tinknot.core.errors import InputError
from tinknot.core.families.file import file_of
from tinknot.core.families.lowvoltage.metal import lead_mm2
from tinknot.core.joint.cable import LeadSheath, Round
from tinknot.core.planning.solve import plan_joint

TODAY = date(2026, 11, 26)


def leaden(
    name: str, armoured: str = "", wall: float = 1.2, under: float = 2.0, ends: str = "AB"
) -> dict[str, Any]:
    """An example with a sheath of lead on `ends`, in place of its armour but where it is `armoured`."""
    body = example(name)
    for side, end in body["ends"].items():
        armour = end.get("armour")
        if side not in armoured:
            end.pop("armour", None)
        if side in ends:
            around = armour["bedding_od_mm"] if side in armoured else end["sheath_od_mm"] - 2 * under
            end["lead_sheath"] = {"wall_mm": wall, "inner_od_mm": round(around - 2 * wall, 3)}
    return body


def planned(body: dict[str, Any]):
    """Its plan."""
    return plan_joint(file_of(json.dumps(body)), None, TODAY)


def at(plan, step: str) -> int:
    """Where a step stands in the order of the work."""
    return [s.id for s in plan.steps].index(step)


@pytest.mark.parametrize("end", "AB")
def test_the_lead_is_cut_bright_sealed_clamped_and_read(end: str):
    plan = planned(leaden("armoured-in-line"))
    assert plan.verdict == "planned"
    assert not plan.breaks
    cuts = {c.layer: c for c in plan.cuts if c.end == end}
    assert (cuts["lead sheath"].distance_mm, cuts["inner sheath"].distance_mm) == (40, 100)
    order = ["sheath", "lead-sheath", "inner-sheath"]
    assert [at(plan, f"cut.{x}.{end}") for x in order] == sorted(at(plan, f"cut.{x}.{end}") for x in order)
    step = plan.steps[at(plan, f"cut.lead-sheath.{end}")]
    assert "bright" in step.text
    assert "never through; no knife on lead that is bent or pulled" in step.caution
    assert at(plan, f"wrap.lead-{end}") < at(plan, "seal.inner-sleeve") < at(plan, "bond.strap")
    assert at(plan, "test.bond.earth") < at(plan, f"wrap.spring-{end}-lead") < at(plan, "seal.outer-sleeve")
    assert "From lead to lead" in plan.steps[at(plan, "test.bond.earth")].text
    assert not any("armour" in (s.title + s.text).lower() for s in plan.steps)
    bodies = {b.kind for b in plan.section.bodies if b.end == end}
    assert {"lead-sheath", "inner-sheath"} <= bodies


def test_armour_over_lead_is_two_shells_on_one_strap():
    """Both are folded or bared, clamped, and read, each by itself."""
    plan = planned(leaden("armoured-in-line", armoured="AB"))
    assert plan.verdict == "planned"
    assert not plan.breaks
    assert at(plan, "fold.A") < at(plan, "cut.bedding.A") < at(plan, "cut.lead-sheath.A")
    assert {"clamp-A", "clamp-A-lead", "clamp-B", "clamp-B-lead"} <= {p.layer for p in plan.picks}
    gates = [g.label for g in plan.steps[at(plan, "test.bond.earth")].gates]
    assert gates == ["earth path", "lead to lead"]


@pytest.mark.parametrize(
    ("name", "armoured", "ends"),
    [
        ("armoured-in-line", "A", "B"),
        ("armoured-in-line", "", "A"),
        ("cold-hazardous", "", "AB"),
    ],
)
def test_lead_goes_on_to_whatever_there_is(name: str, armoured: str, ends: str):
    """To armour, to a protective conductor, under resin under a mesh: no law is broken."""
    plan = planned(leaden(name, armoured, ends=ends))
    assert plan.verdict == "planned", [p for p in plan.picks if not p.picked]
    assert not plan.breaks


@settings(max_examples=20, suppress_health_check=list(HealthCheck), deadline=None)
@given(wall=st.floats(0.8, 2.5), under=st.floats(1.0, 3.0))
def test_the_clamp_is_chosen_for_the_lead_not_for_the_sheath(wall: float, under: float):
    body = leaden("armoured-in-line", wall=wall, under=under)
    plan = planned(body)
    need = next(p for p in plan.picks if p.layer == "clamp-A-lead").need
    strap = next(p for p in plan.picks if p.layer == "earth-bond")
    lead = body["ends"]["A"]["sheath_od_mm"] - 2 * under
    thick = next(s for s in body["stock"]["straps"] if s["id"] == strap.picked)["thickness_mm"]
    assert need.endswith(" mm over lead and strap")
    assert float(need.split()[0]) == pytest.approx(lead + thick, abs=0.0501)  # said to a tenth


def test_lead_that_does_not_go_into_its_sheath_is_told():
    body = leaden("armoured-in-line")
    body["ends"]["B"]["lead_sheath"]["inner_od_mm"] = 25
    with pytest.raises(InputError, match="with the lead on it is thicker than the sheath") as told:
        planned(body)
    assert told.value.errors[0].path == "/ends/B/lead_sheath/inner_od_mm"


def test_what_a_sheath_of_lead_has():
    """A tube of 20 mm inside and 1.5 mm wall: π · 21.5 · 1.5 = 101.3 mm²; 214 Ω·mm²/km: 2.11 mΩ a metre."""
    assert round(lead_mm2(LeadSheath(1.5, Round(20, 20))), 1) == 101.3


def test_a_tap_carries_no_metal_on_and_says_so():
    body = example("overhead-tap")
    shut = copy.deepcopy(body)
    shut["ends"]["B"]["lead_sheath"] = {"wall_mm": 1, "inner_od_mm": 5}
    plan = planned(shut)
    assert plan.verdict == "nothing-fits"
    assert [p.title for p in plan.picks] == ["lead sheath on B"]
    assert planned(body).verdict == "planned"
