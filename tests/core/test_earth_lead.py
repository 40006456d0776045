"""The strap on a protective conductor: where armour or mesh meets a cable without armour (domain 27, laws 2
and 10; domain 28)."""

from math import pi, sqrt

import pytest

from tests.core.test_power import bent, part, planned, stocked
from tests.power import ARMOURED, BUILDS, end, file, power
from tests.world.plans import of_file, told
from tinknot.core.acts import Close

CAST, COLD = "armoured to plain, cast, wet", "no heat allowed"


def orders(plan) -> list[str]:
    return [s.id for s in plan.steps]


@pytest.mark.parametrize("name", [CAST, COLD])
def test_the_strap_is_joined_to_the_protective_conductor_before_anything_closes_over_it(name: str):
    plan = planned(BUILDS[name])
    ids = orders(plan)
    join = plan.step("join.earth-lead")
    assert join.core == "3"  # green-yellow
    assert ids.index("strip.earth-lead") < ids.index("join.earth-lead") < ids.index("seal.lead-tape")
    after = ("wrap.crutch.B", "wrap.mesh", "bond.strap", "close.shell", "pour")
    assert all(ids.index("seal.lead-tape") < ids.index(i) for i in after if i in ids)
    assert {g.label: g.instrument for g in join.gates} == {"strap to protective conductor": "low-ohm-meter"}
    assert "connector for the strap, to the protective conductor" in {m.what for m in plan.materials}
    assert plan.breaks == []


def test_its_limit_follows_from_the_strap_and_its_contacts():
    """s16: 17.241/16 mΩ a metre × 0.6 m × 1.1 + 4 contacts of 1 mΩ = 4.7 mΩ."""
    (gate,) = planned(BUILDS[CAST]).step("join.earth-lead").gates
    assert gate.most == pytest.approx(round(1.1 * 17.241 / 16 * 0.6 + 4, 1) / 1000)


def test_the_ring_lies_clear_of_sheath_and_sleeve_and_is_said_in_mm():
    """22 mm bare: connector of 20 and 1 mm on both sides; as much insulation restored as on a core."""
    plan = planned(BUILDS[CAST])
    text = plan.step("strip.earth-lead").text
    assert "over 22 mm, from 10 mm to 32 mm from the sheath cut" in text
    (core,) = [c for c in plan.cores if c.core == "3"]
    sleeve = part(plan, "core-sleeve-3")
    assert core.cut_b_mm - sleeve.cut_length_mm / 2 > 32 + 10
    lead = next(b for b in plan.section.bodies if b.id == "earth-lead")
    half = plan.gap_mm / 2
    assert [round(half - x, 6) for x, _ in (lead.top[-1], lead.top[0])] == [10, 32]
    pressed = sqrt(4 * 16 / (pi * 0.75))
    height = max(y for _, y in lead.top) - min(y for _, y in lead.bottom)
    assert height == pytest.approx(pressed + 2 * 1.5 + 4.2, abs=1.5)


def test_where_there_is_no_room_beside_the_sleeve_the_cores_are_longer():
    plan = planned(BUILDS[COLD])
    takes = 20 + 2 * 1 + 2 * 10
    (core,) = [c for c in plan.cores if c.core == "3"]
    assert core.cut_b_mm == pytest.approx(core.cut_a_mm + takes + 5 - 15)


def test_a_mesh_on_plain_cables_ends_under_springs_on_their_sheaths():
    plan = planned(BUILDS[COLD])
    assert {p.layer for p in plan.picks} >= {"clamp-A", "clamp-B", "mesh"}
    assert "25 mm on the sheath on A and B" in plan.step("wrap.mesh").text
    assert "armour" not in plan.step("inspect.bond").look.lower()
    none = planned(stocked(BUILDS[COLD], clamps=[]))
    assert none.verdict == "nothing-fits"


@pytest.mark.parametrize("name", [CAST, COLD])
def test_a_cable_without_a_protective_conductor_is_refused_with_the_mend(name: str):
    given = bent(name)
    for side in "AB":
        cores = [{**c, "colour": None} for c in given["ends"][side]["cores"]]
        given["ends"] = {**given["ends"], side: {**given["ends"][side], "cores": cores}}
    plan = planned(given)
    assert plan.verdict == "nothing-fits"
    pick = next(p for p in plan.picks if p.layer == "earth-lead")
    assert pick.picked is None
    assert "green-yellow core" in pick.advice


def test_under_an_inner_sleeve_the_strap_comes_out_through_mastic():
    plan = planned(power(ARMOURED, end(3, 10, 6.6, 18.4), duties=["damp"]))
    ids = orders(plan)
    laid = [
        ids.index(i) for i in ("join.earth-lead", "lay.earth-lead", "wrap.strap-out", "seal.inner-sleeve")
    ]
    assert laid == sorted(laid)
    assert ids.index("seal.inner-sleeve") < ids.index("bond.strap")
    thin = planned(power(ARMOURED, ARMOURED, duties=["buried"]))
    assert "lay.earth-lead" not in orders(thin)


def test_the_strap_joined_last_is_what_the_world_refuses():
    """Law 2: behind the shell nothing reaches the core any more."""
    steps, found = of_file(file(BUILDS[CAST]))
    at = next(n for n, s in enumerate(steps) if s.id == "join.earth-lead")
    shut = next(n for n, s in enumerate(steps) if any(isinstance(a, Close) for a in s.acts))
    late = [*steps[:at], *steps[at + 1 : shut + 1], steps[at], *steps[shut + 1 :]]
    assert told(steps, found) == set()
    assert (2, "join.earth-lead") in {b[:2] for b in told(late, found)}
