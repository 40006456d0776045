"""Leaflets as people find them in their boxes: each can be typed, adds up, and is planned (domain 21)."""

from copy import deepcopy
from typing import Any

import pytest

from tests.joints import waits
from tests.trace import SHEETS, read, trace
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets import doubts

RULES = RuleBook.of()


def leaflet(made_from: str, **layers: Any) -> dict[str, Any]:
    """A shipped sheet with layers laid over those of the same id; None takes one away."""
    found = deepcopy(SHEETS[made_from])
    own = {x["id"]: x for x in found["leaflet"]["layers"]}
    for name, change in layers.items():
        layer_id = name.replace("_", "-")
        if change is None:
            own.pop(layer_id)
        else:
            own[layer_id] = own.get(layer_id, {"id": layer_id}) | change
    found["leaflet"]["layers"] = list(own.values())
    used = {x.get("part") for x in own.values()}
    gone = {x.get("part") for x in SHEETS[made_from]["leaflet"]["layers"]} - used
    found["leaflet"]["parts"] = [p for p in found["leaflet"]["parts"] if p["id"] not in gone]
    return found


def planned(sheet: dict[str, Any], **changes: Any) -> Plan:
    """The plan by a sheet that adds up."""
    assert [d.message for d in doubts(read(sheet), RULES)] == []
    joint = trace(sheet, **changes)
    plan = plan_joint(joint, RULES)
    assert plan.verdict == "planned", plan.warnings
    return plan


def order_of(plan: Plan, *names: str) -> list[int]:
    order = [s.id for s in plan.steps]
    return [order.index(n) for n in names]


def test_a_lid_closed_by_a_latch_has_no_torque():
    sheet = leaflet(
        "trace-box-b2", lid={"torque_least_nm": None, "torque_most_nm": None, "title": "Latch the lid"}
    )
    lid = planned(sheet).step("lid.lid")
    assert lid.gates == []
    assert "latched all round" in lid.text
    one_sided = leaflet("trace-box-b2", lid={"torque_most_nm": None})
    assert any("without a torque" in d.message for d in doubts(read(one_sided), RULES))


def test_a_splice_is_closed_by_an_enclosure_with_cap_and_latch():
    sheet = leaflet(
        "trace-splice-s5",
        outer_tube=None,
        braid_over={"title": "Lay the joined pigtails flat"},
        shell={
            "kind": "box",
            "part": "H",
            "at": "joint",
            "title": "Close the enclosure, push the latch home",
        },
    )
    sheet["leaflet"]["parts"].append({"id": "H", "what": "box", "name": "enclosure with cap and latch"})
    plan = planned(sheet)
    first, last = order_of(plan, "seal.inner-tube", "lid.shell")
    assert first < last
    assert not any(s.id.startswith("seal.outer") for s in plan.steps)
    sheet["leaflet"]["layers"] = [
        x for x in sheet["leaflet"]["layers"] if x["id"] not in ("shell", "inner-tube")
    ]
    assert any("nothing closes the splice" in d.message for d in doubts(read(sheet), RULES))


def test_a_cap_that_shrinks_is_heated_and_cools_a_pushed_one_is_not():
    pushed = planned(SHEETS["trace-end-m2"])
    assert not pushed.step("seal.cap").hot
    assert "sealant" in pushed.step("inspect.cap").look
    sheet = leaflet("trace-end-m2", sealant=None)
    cap = next(p for p in sheet["leaflet"]["parts"] if p["what"] == "cap")
    cap |= {"opens": {"mm": 18}, "closes": {"mm": 6}, "wall_mm": 1.2, "lined": True}
    plan = planned(sheet)
    assert plan.step("seal.cap").hot
    assert "from its closed end" in plan.step("seal.cap").text
    assert "adhesive" in plan.step("inspect.cap").look
    assert plan.step("cool.cap").timers[0].after == "seal.cap"
    first, last = order_of(plan, "cool.cap", "test.after.insulation")
    assert first < last


def test_a_live_end_is_pinched_between_its_bus_wires():
    """The wires go on to the terminals, so that the tube does not end past the cable's end."""
    tube = {"kind": "tube", "part": "T", "reach": {"mm": 20}, "datum": "inner-jacket-cut", "pinched": True}
    sheet = leaflet("trace-box-b2", boot=None, sealant=None)
    layers = sheet["leaflet"]["layers"]
    at = next(i for i, x in enumerate(layers) if x["id"] == "land")
    layers.insert(at, {"id": "core-tube", **tube, "between": True})
    own = {
        "id": "T",
        "what": "tube",
        "name": "core tube",
        "opens": {"mm": 16},
        "closes": {"mm": 4},
        "wall_mm": 1,
    }
    sheet["leaflet"]["parts"].append(own | {"length": {"mm": 60}, "lined": True})
    plan = planned(sheet)
    assert plan.step("pinch.core-tube").title == "Pinch between the bus wires and hold"
    first, last = order_of(plan, "cool.core-tube", "land.A")
    assert first < last
    layers[at]["between"] = False
    assert any("too short to be pinched" in d.message for d in doubts(read(sheet), RULES))


def test_steps_of_a_grommet_that_is_pierced_and_pushed_back_are_worked_in_their_order():
    words = ("Pierce the grommet", "Tighten it", "Push the cable back 20 mm", "Tape the loop down")
    steps = {f"step_{n}": {"kind": "step", "title": title} for n, title in enumerate(words)}
    plan = planned(leaflet("trace-box-b2", **steps))
    titles = [s.title for s in plan.steps]
    places = [titles.index(w) for w in words]
    assert places == sorted(places)


def test_supply_conductors_and_a_knock_out_are_steps_of_a_box():
    sheet = leaflet(
        "trace-box-b2",
        knock={"kind": "step", "title": "Knock the entry out, smooth its edge"},
        supply={"kind": "step", "title": "Land the supply conductors", "text": "1.4 N·m"},
    )
    assert {"Knock the entry out, smooth its edge", "Land the supply conductors"} <= {
        s.title for s in planned(sheet).steps
    }


@pytest.mark.parametrize("name", ["trace-set-e4", "trace-zone-z8"])
def test_one_end_is_made_whatever_the_other_has_come_to(name: str):
    """No step at B needs one at A, none at A needs one at B; only the last proofs need both."""
    plan = planned(SHEETS[name])
    by_id = {s.id: s for s in plan.steps}
    for s in plan.steps:
        if s.end and s.station != "prove":
            others = {by_id[n].end for n in waits(plan, s.id)} - {"", s.end}
            assert others == set(), (s.id, others)
    assert {by_id[n].end for n in waits(plan, "test.after.insulation")} >= {"A", "B"}


def test_the_braid_is_measured_to_the_pipe_before_it_is_landed_and_never_after():
    for name, sheet in SHEETS.items():
        plan = planned(sheet)
        order = [s.id for s in plan.steps]
        landed = [order.index(s.id) for s in plan.steps if s.id.startswith("land.")]
        read_at = [order.index(s.id) for s in plan.steps if any(g.id == "braid-pipe" for g in s.gates)]
        assert read_at, name
        assert not landed or max(read_at) < min(landed), name


def test_the_matrix_comes_off_by_either_school():
    assert "as one strip" in planned(SHEETS["trace-box-b2"]).step("strip.A").text
    wires = planned(leaflet("trace-box-b2", strip={"school": "wires"}))
    assert "Peel both bus wires out along the edges" in wires.step("strip.A").text


def test_a_core_is_cut_shorter_than_its_braid():
    """At an end seal: 12 mm of all that the braid holds come off, the braid goes on and is folded over it."""
    sheet = leaflet("trace-end-m2", trim={"kind": "braid-fold"})
    cuts = [c for c in sheet["leaflet"]["cuts"] if c["layer"] == "outer-jacket"]
    core = {"layer": "core", "length": {"mm": 12}, "datum": "cable-end"}
    sheet["leaflet"]["cuts"] = [*cuts, core, {"layer": "braid", "length": {"mm": 2}, "datum": "cable-end"}]
    plan = planned(sheet)
    assert plan.step("cut.core.A").title == "Cut all the braid holds on A shorter"
    assert plan.step("cut.core.A").gates[0].target == 12
    first, last = order_of(plan, "braid.A", "cut.core.A")
    assert first < last
    (end,) = plan.trace.prepared
    near = {x.kind: x.from_mm for x in end.layers}
    assert (near["braid"], near["bus"], near["inner-jacket"]) == (2, 12, 12)
