"""Leaflets that users type: the rows are the order of the work, nothing they leave unsaid is missing, and no
law is broken by them on a cold, a mild or a hot day."""

from copy import deepcopy
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.joints import waits
from tests.leaflets import LEAFLETS
from tests.trace import HEAT, read, row, trace
from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.leafletplay import sheet_breaks
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets import doubts
from tinknot.core.sheets.templates import templates

RULES = RuleBook.of()
KINDS = [(name, c) for name, x in LEAFLETS.items() for c in x["serves"]["constructions"]]


def planned(sheet: dict[str, Any], construction: str = "", **changes: Any) -> Plan:
    cable = {} if construction in ("", "zone") else {"cable": HEAT | {"construction": construction}}
    return plan_joint(trace(sheet, **cable, **changes), RULES)


@pytest.mark.parametrize(("name", "construction"), KINDS)
@pytest.mark.parametrize("ambient_c", [-15, 6, 38])
def test_each_kind_of_work_is_planned_by_its_leaflet_and_breaks_no_law(
    name: str, construction: str, ambient_c: float
):
    assert [d.message for d in doubts(read(LEAFLETS[name]), RULES)] == []
    plan = planned(LEAFLETS[name], construction, ambient_c=ambient_c)
    assert (plan.verdict, plan.warnings[:0]) == ("planned", []), plan.warnings
    assert plan.breaks == []


def rows_at(plan: Plan, end: str, both: bool) -> list[tuple[int, list[str]]]:
    """Of each row at an end, its steps in the order of the rows; what is threaded on early is looked for
    where it goes to its place."""
    found: dict[int, list[str]] = {}
    for s in plan.steps:
        early = s.kind == "park" and any(o.row == s.row and o.kind == "seal" for o in plan.steps)
        if s.row and not early and (s.end in (end, "") or both):
            found.setdefault(s.row, []).append(s.id)
    return sorted(found.items())


@pytest.mark.parametrize("name", LEAFLETS)
def test_the_order_of_the_rows_is_the_order_of_the_work(name: str):
    """At each end every row waits for the row before it, and every row is done."""
    plan = planned(LEAFLETS[name])
    assert {s.row for s in plan.steps} == {0, *range(1, len(LEAFLETS[name]["leaflet"]["layers"]) + 1)}
    for end in {"trace-power-end": "AB"}.get(LEAFLETS[name]["recipe"], "A"):
        rows = rows_at(plan, end, both=False)
        for (_, before), (n, steps) in pairwise(rows):
            behind = {s for x in steps for s in waits(plan, x)} | {*steps}
            assert {*before} & behind, (n, steps, before)


@given(data=st.data())
def test_no_row_is_ever_moved_silently(data: st.DataObject):
    """Wherever a row is put: it is worked there, or the sheet says with both rows what is wrong."""
    sheet = deepcopy(LEAFLETS[data.draw(st.sampled_from(["own-power-boot", "own-end-pinched"]))])
    rows = sheet["leaflet"]["layers"]
    moved = rows.pop(data.draw(st.integers(0, len(rows) - 1)))
    rows.insert(data.draw(st.integers(0, len(rows))), moved)
    told = [d.message for d in doubts(read(sheet), RULES)]
    if told:
        assert all("layer" in m or "measured from" in m or "too short" in m for m in told), told
        return
    plan = planned(sheet)
    if plan.verdict != "planned" or plan.breaks:
        return
    worked = rows_at(plan, "A", both=True)
    for (_, before), (n, steps) in pairwise(worked):
        behind = {s for x in steps for s in waits(plan, x)} | {*steps}
        assert {*before} & behind or rows[n - 1]["kind"] == "receive", (n, steps, before)


def moved_to(name: str, row_id: str, before: str) -> dict[str, Any]:
    sheet = deepcopy(LEAFLETS[name])
    rows = sheet["leaflet"]["layers"]
    taken = rows.pop(row(rows, row_id))
    rows.insert(row(rows, before), taken)
    return sheet


@pytest.mark.parametrize(
    ("name", "row_id", "before", "words"),
    [
        (
            "own-end-pinched",
            "r3",
            "r2",
            "the braid is still in the way: that is layer 3. Put this one after layer 3",
        ),
        (
            "own-end-pinched",
            "r4",
            "r1",
            "the outer jacket is still on: that is layer 2. Put this one after layer 4",
        ),
        ("own-power-boot", "r7", "r6", "the cable is not through it yet: that is layer 7"),
        ("own-power-boot", "r20", "r17", "nothing inside is reached once it is closed"),
        ("own-power-boot", "r15", "r12", "the bus wires are not bare yet"),
        ("own-power-boot", "r1", "r3", "the kit is laid out before anything is done; put it before layer 1"),
        ("own-power-boot", "r21", "r3", "the label is fixed when all is proved; put it after layer 21"),
    ],
)
def test_an_order_that_cannot_be_done_is_told_with_both_rows(name: str, row_id: str, before: str, words: str):
    found = [d.message for d in doubts(read(moved_to(name, row_id, before)), RULES)]
    assert any(m.startswith(words) for m in found), found


def test_a_hole_drilled_beside_bare_wires_is_told_at_its_row():
    found = {d.path: d.message for d in sheet_breaks(read(moved_to("own-power-boot", "r2", "r13")), RULES)}
    assert found["/leaflet/layers/11"].startswith("Its chips fall on the bare wires of A.")


def test_what_the_leaflet_leaves_unsaid_is_marked_as_added():
    plan = planned(LEAFLETS["own-power-boot"])
    said = {s.id: s.row for s in plan.steps}
    assert (said["receive"], said["do.r2"], said["park.r6"], said["label"]) == (1, 2, 6, 21)
    assert (said["cut.matrix.A"], said["strip.A"]) == (12, 12)
    for added in (
        "cut.square.A",
        "surface.r13",
        "inspect.r14",
        "test.before.insulation",
        "clear.A",
        "turn.r20",
    ):
        assert said[added] == 0
    assert "Count the screws too." in plan.step("receive").text
    assert plan.step("label").text == "On the lid, and on the insulation above it."


def test_what_is_done_to_an_enclosure_is_done_once_for_both_sides():
    plan = planned(LEAFLETS["own-splice-enclosure"])
    assert [s.title for s in plan.steps if s.row in (9, 10)] == ["Look at the gasket", "Close the lid"]
    assert plan.step("turn.r10").title == "Turn the box so that it drains"


def test_a_row_that_turns_the_box_is_not_done_twice():
    plan = planned(LEAFLETS["own-power-riser"])
    assert plan.step("do.r5").row == 5
    assert "Water runs off" in plan.step("do.r5").look
    assert plan.step("turn.r16") is None


def test_box_work_has_its_look_or_its_reading():
    plan = planned(LEAFLETS["own-power-boot"])
    for step in (s for s in plan.steps if s.id.startswith("do.")):
        assert step.look or step.gates, step.id
    (back,) = plan.step("do.r7").gates
    assert (back.label, back.target) == ("pushed back by", 20)
    assert "No tighter than 25 mm radius today." in plan.step("do.r8").text
    cold = planned(LEAFLETS["own-power-boot"], ambient_c=-10)
    assert "No tighter than 40 mm radius today." in cold.step("do.r8").text
    (strap,) = plan.step("do.r4").gates
    assert (strap.unit, strap.target) == ("N·m", 2.5)
    (turns,) = planned(LEAFLETS["own-power-tubes-and-feed-through"]).step("do.r7").gates
    assert (turns.unit, turns.target) == ("turns", 1.5)


def test_terminals_hold_by_screws_with_or_without_a_torque_or_by_springs():
    by_hand = planned(LEAFLETS["own-power-tubes-and-feed-through"]).step("land.A")
    assert "Tighten each firmly, then tug each." in by_hand.text
    assert by_hand.gates == []
    spring = planned(LEAFLETS["own-power-boot"]).step("land.A")
    assert "Push each in to its stop, then tug each." in spring.text
    sheet = deepcopy(LEAFLETS["own-power-boot"])
    sheet["leaflet"]["layers"][15] |= {"torque_least_nm": 1, "torque_most_nm": 2}
    assert any("hold by springs" in d.message for d in doubts(read(sheet), RULES))


def test_twist_on_connectors_join_each_wire_with_its_supply_wire():
    plan = planned(LEAFLETS["own-power-riser"])
    join = plan.step("join.bus-1")
    assert "of A and its supply wire into one connector (twist-on connector)" in join.text
    assert "off and apart at their other end" in plan.step("test.before.insulation").text
    assert "where they are off and apart" in plan.step("test.after.insulation").text
    assert "local rules" in join.caution
    assert "crimp-tool" not in join.tools
    assert "test.braid.A" in waits(plan, "join.braid")  # read while it is off the earth


def test_sleeves_on_single_wires_are_judged_by_the_wire_and_cool_while_they_are_looked_at():
    name = "own-power-tubes-and-feed-through"
    plan = planned(LEAFLETS[name])
    sleeved = plan.step("seal.r14")
    assert sleeved.hot
    assert "10 mm of each wire stay bare" in sleeved.text
    assert "Cold to the touch" in plan.step("inspect.r14").look
    assert "inspect.r14" in waits(plan, "seal.r15")
    for change, words in (
        ({"opens": {"mm": 1.4}}, "and bus wire 1 asks for"),
        ({"closes": {"mm": 1.39}}, "and grips bus wire 1 from"),
    ):
        sheet = deepcopy(LEAFLETS[name])
        tube = next(p for p in sheet["leaflet"]["parts"] if p["id"] == "V")
        tube |= change
        refused = planned(sheet)
        assert refused.verdict == "nothing-fits"
        assert any(words in w for w in refused.warnings), refused.warnings


def test_pieces_are_counted_by_the_wires_they_go_on():
    sheet = deepcopy(LEAFLETS["own-power-boot"])
    ferrule = next(p for p in sheet["leaflet"]["parts"] if p["id"] == "F")
    ferrule["count"] = 2
    assert any("the layers use 3 of F, the list has 2" in d.message for d in doubts(read(sheet), RULES))


def test_a_braid_drawn_forward_is_looked_at_before_it_is_covered():
    plan = planned(LEAFLETS["own-end-pinched"])
    assert "twist it, trim it" in plan.step("wrap.r8").text
    assert "The tape begins 15 mm behind the outer jacket's cut." in plan.step("wrap.r8").text
    assert "inspect.r8" in waits(plan, "seal.r9")


def test_an_end_is_cut_square_after_what_readies_its_box():
    plan = planned(LEAFLETS["own-power-boot"])
    assert "do.r8" in waits(plan, "cut.square.A")
    assert "Cut the end at 45°" in plan.step("park.r6").text
    late = moved_to("own-power-boot", "r6", "r13")
    late["leaflet"]["layers"] = [x for x in late["leaflet"]["layers"] if x["id"] not in ("r7", "r8")]
    late["leaflet"]["parts"] = [p for p in late["leaflet"]["parts"] if p["id"] != "W"]
    pushed = planned(late)
    assert "45°" not in pushed.step("park.r6").text  # it is open already
    assert "cut.square.A" in waits(pushed, "park.r6")


@pytest.mark.parametrize("template", templates(), ids=lambda t: t.name)
def test_a_template_lacks_nothing_but_figures(template: KitSheet):
    """No row is missing, none stands where it cannot be done; only what is printed is asked."""
    asked = ("is missing", "no cut of", "is not complete", "is empty", "nothing says how far", "same place")
    asked += (
        "too short",
        "nothing of the bus wire",
        "must cover",
        "cannot reach",
    )  # all by figures of nought
    other = [d.message for d in doubts(template, RULES) if not any(w in d.message for w in asked)]
    counted = [m for m in other if "the layers use" not in m]
    assert counted == []


def test_a_part_that_is_not_in_the_box_is_no_part_of_its_packing():
    plan = planned(LEAFLETS["own-power-boot"])
    packing, besides = plan.step("receive").text.split("Not in the box, have it at hand besides: ")
    assert "strap for the pipe" not in packing
    assert besides == "2 × strap for the pipe."
    (strap,) = [m for m in plan.materials if m.what == "strap for the pipe"]
    assert (strap.quantity, strap.unit, strap.in_stock) == (2, "piece", None)


def test_a_range_is_kept_as_printed_and_any_figure_of_it_is_right():
    sheet = deepcopy(LEAFLETS["own-end-pinched"])
    rows = sheet["leaflet"]["layers"]
    rows[0]["length"] = {"mm": 58, "to_mm": 62}
    rows[8]["reach"] = {"mm": 30, "to_mm": 35, "about": True}
    plan = planned(sheet)
    step = plan.step("cut.outer-jacket.A")
    assert step.text.startswith("58 to 62 mm from the cable's end.")
    assert (step.gates[0].target, step.gates[0].tolerance) == (60, 2)
    assert "Its edge about 30 to 35 mm behind" in plan.step("seal.r9").text
    assert plan.breaks == []
    rows[0]["length"] = {"mm": 62, "to_mm": 58}
    assert any("runs backward" in d.message for d in doubts(read(sheet), RULES))


def test_a_nick_in_zone_cable_says_what_it_costs():
    ends = {"A": {"loop_mm": 600}, "B": {"felt_mm": 250}}
    plan = planned(LEAFLETS["own-zone-cable-both-ends"], ends=ends, circuit={"felt_mm": 250})
    for said in (plan.trace.zone.words, plan.trace.node_cuts[0].words):
        assert "costs up to 900 mm of heating cable" in said
