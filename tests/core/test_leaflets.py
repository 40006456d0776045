"""Leaflets as people find them in their boxes: each can be typed, adds up, and is planned (domain 21)."""

from copy import deepcopy
from typing import Any

import pytest

from tests.joints import waits
from tests.trace import SHEETS, read, row, trace
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
    assert any("a torque is a window" in d.message for d in doubts(read(one_sided), RULES))


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
    """No step at B needs one at A, none at A needs one at B, but that insulation is read when the other end
    is square and dry; only the last proofs need both."""
    plan = planned(SHEETS[name])
    by_id = {s.id: s for s in plan.steps}
    for s in plan.steps:
        if s.end and s.station != "prove":
            others = {n for n in waits(plan, s.id) if by_id[n].end not in ("", s.end)}
            square = {
                n for o in "AB" if o != s.end for n in (f"cut.square.{o}", *waits(plan, f"cut.square.{o}"))
            }
            assert others <= square, (s.id, others - square)
            if s.kind == "test" and s.id.endswith("insulation"):
                assert others
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
    sheet = leaflet(
        "trace-end-m2",
        trim={"kind": "braid-fold"},
        cut_inner_jacket={"layer": "braid", "length": {"mm": 2}},
        core={"kind": "cut", "layer": "core", "length": {"mm": 12}},
    )
    rows = sheet["leaflet"]["layers"]
    rows.insert(row(rows, "sealant"), rows.pop())
    plan = planned(sheet)
    assert plan.step("cut.core.A").title == "Cut all the braid holds on A shorter"
    assert plan.step("cut.core.A").gates[0].target == 12
    first, last = order_of(plan, "braid.A", "cut.core.A")
    assert first < last
    (end,) = plan.trace.prepared
    near = {x.kind: x.from_mm for x in end.layers}
    assert (near["braid"], near["bus"], near["inner-jacket"]) == (2, 12, 12)


# --- what heat trace needs besides (domain 28, heat trace as it is done) ----------------------------------


def steps(plan: Plan) -> list[str]:
    return [s.id for s in plan.steps]


@pytest.mark.parametrize("name", SHEETS)
@pytest.mark.parametrize("ambient_c", [-15, 6, 38])
def test_no_sheet_that_ships_breaks_a_law_on_a_cold_a_mild_and_a_hot_day(name: str, ambient_c: float):
    assert planned(SHEETS[name], ambient_c=ambient_c).breaks == []


def test_the_braid_of_a_splice_is_joined_and_read_over_the_seal_of_the_wires():
    plan = planned(SHEETS["trace-splice-s5"])
    joins = ("join.bus-1", "test.before.continuity", "seal.inner-tube", "join.braid", "test.braid.through")
    places = order_of(plan, *joins)
    assert places == sorted(places)
    assert {g.id for g in plan.step("test.before.continuity").gates} == {"core-bus-1", "core-bus-2"}
    assert "test.braid.through" in waits(plan, "seal.outer-tube")


@pytest.mark.parametrize("name", ["trace-splice-s5", "trace-tee-t6"])
def test_a_join_is_never_read_through_the_heating_element(name: str):
    """Once it is closed, from the far ends the element between the wires would be read."""
    plan = planned(SHEETS[name])
    assert [s.id for s in plan.steps if s.id.endswith("continuity")] == ["test.before.continuity"]
    assert "voltage at the far end" in plan.step("protection").text


def test_where_a_tube_a_cap_and_tape_come_stands_in_the_step():
    splice, end = planned(SHEETS["trace-splice-s5"]), planned(SHEETS["trace-end-p1"])
    inner = splice.step("seal.inner-tube").text
    assert inner.startswith("Its edge 25 mm behind the inner jacket's cut on both sides.")
    assert "Its edge 30 mm behind the outer jacket's cut." in end.step("seal.outer-tube").text
    assert "It begins 10 mm behind the outer jacket's cut." in end.step("wrap.forward").text
    cap = planned(SHEETS["trace-end-m2"]).step("seal.cap").text
    assert "Its mouth comes 40 mm behind the outer jacket's cut." in cap
    assert "Degrease the inner jacket" in splice.step("surface.inner-tube").text


def test_the_matrix_is_marked_by_its_cut_and_taken_off_once_to_that_mark():
    plan = planned(SHEETS["trace-box-b2"])
    assert plan.step("cut.matrix.A").title == "Mark the matrix on A, score it round"
    assert "95 mm from the cable's end" in plan.step("strip.A").text


def test_a_zone_cable_s_wires_are_bared_as_far_as_the_leaflet_or_the_rule_book_says():
    plan = planned(SHEETS["trace-zone-z8"])
    assert "10 mm from the end of each wire" in plan.step("bare.A").text
    assert "bare.A" in waits(plan, "land.A")
    assert plan.step("bare.B") is None  # a dead end keeps it on
    assert not any(s.startswith("bare.") for s in steps(planned(SHEETS["trace-box-b2"])))
    typed = deepcopy(SHEETS["trace-zone-z8"])
    bared = {"id": "bared", "kind": "cut", "layer": "bus-insulation", "length": {"mm": 14}}
    rows = typed["leaflet"]["layers"]
    rows.insert(row(rows, "land"), bared | {"at": "A"})
    assert "14 mm from the end of each wire" in planned(typed).step("bare.A").text
    other = deepcopy(SHEETS["trace-box-b2"])
    other["leaflet"]["layers"].append(bared)
    assert any("no insulation on its bus wires" in d.message for d in doubts(read(other), RULES))


def capped(**part: Any) -> dict[str, Any]:
    """An end closed by a cap that shrinks."""
    sheet = leaflet("trace-end-m2", sealant=None)
    cap = next(p for p in sheet["leaflet"]["parts"] if p["what"] == "cap")
    cap |= {"opens": {"mm": 18}, "closes": {"mm": 6}, "wall_mm": 1.2, "lined": True} | part
    return sheet


@pytest.mark.parametrize(
    ("part", "words"),
    [
        ({"closes": {"mm": 11}}, "closes to 11 mm, and grips this jacket from"),
        ({"opens": {"mm": 10}, "closes": {"mm": 4}}, "opens to 10 mm, and what stands in it asks for"),
    ],
)
def test_a_cap_that_cannot_grip_or_pass_is_refused(part: dict[str, Any], words: str):
    """The jacket of 12.4 × 5.8 mm has the girth of 10.0 mm."""
    assert planned(capped()).verdict == "planned"
    plan = plan_joint(trace(capped(**part)), RULES)
    assert plan.verdict == "nothing-fits"
    assert any(words in w for w in plan.warnings), plan.warnings


def test_a_cap_that_is_pushed_on_takes_the_pinched_tube_in_it_or_is_refused():
    sheet = deepcopy(SHEETS["trace-end-p1"])
    rows = sheet["leaflet"]["layers"]
    rows[-1] = {"id": "cap", "kind": "cap", "part": "E", "reach": {"mm": 5}, "datum": "inner-jacket-cut"}
    parts = [p for p in sheet["leaflet"]["parts"] if p["id"] != "T4"]
    cap = {"id": "E", "what": "cap", "name": "pushed cap", "length": {"mm": 60}, "width_most_mm": 12.5}
    sheet["leaflet"]["parts"] = [*parts, cap]
    sheet["serves"]["width_most_mm"] = 12.5
    assert planned(sheet).verdict == "planned"
    parts[0]["wall_mm"] = 2.0  # of the tube on the inner jacket of 10.2 mm: 14.2 mm wide
    plan = plan_joint(trace(sheet), RULES)
    assert plan.verdict == "nothing-fits"
    assert any("takes a width up to 12.5 mm, and what stands in it has" in w for w in plan.warnings)


def test_sealant_cures_by_its_data_at_the_temperature_of_the_day():
    sheet = deepcopy(SHEETS["trace-end-m2"])
    part = next(p for p in sheet["leaflet"]["parts"] if p["what"] == "sealant")
    part |= {"at_c": 20, "also_c": 5, "also_skin_min": 60, "also_cure_min": 600, "least_c": 0}
    assert planned(sheet, ambient_c=5).step("cure.sealant").timers[0].least_min == pytest.approx(600)
    assert planned(sheet, ambient_c=20).step("seal.cap").timers[0].most_min == pytest.approx(20)
    cold = plan_joint(trace(sheet, ambient_c=-4), RULES)
    assert cold.verdict == "nothing-fits"
    assert any("is laid from 0 °C on, and it is -4 °C" in w for w in cold.warnings)
    part["also_cure_min"] = 100  # colder and faster
    assert any("the warmer one faster" in d.message for d in doubts(read(sheet), RULES))


def test_three_joins_need_three_crimps():
    sheet = deepcopy(SHEETS["trace-splice-s5"])
    sheet["leaflet"]["parts"][0]["count"] = 2
    (doubt,) = doubts(read(sheet), RULES)
    assert doubt.message == "the layers use 3 of X, the list has 2"
    twice = leaflet("trace-splice-s5", crimp={"joins": []})
    assert any("the braid: 2 rows join it" in d.message for d in doubts(read(twice), RULES))


def test_a_sheet_of_an_earlier_form_joins_its_braid_over_the_inner_tube_and_says_so():
    old = deepcopy(SHEETS["trace-splice-s5"])
    old.pop("format")
    rows = old["leaflet"]["layers"]
    rows[row(rows, "crimp")].pop("joins")
    rows[row(rows, "braid-over")] = {
        "id": "braid-over",
        "kind": "step",
        "title": "Lay the pigtails over the inner tube",
    }
    old["leaflet"]["parts"][0].pop("count")
    now = read(old).leaflet
    assert now is not None
    assert [x.id for x in now.layers][-4:-1] == ["inner-tube", "crimp-braid", "braid-over"]
    assert now.parts[0].count == 3
    plan = planned(old)
    assert plan.breaks == []
    assert any("Written in an earlier form" in w for w in plan.warnings)
    assert now.note not in planned(SHEETS["trace-splice-s5"]).warnings


@pytest.mark.parametrize(
    ("circuit", "words"),
    [
        ({"circuit_m": 40, "breaker_a": 16, "start_c": -60}, "the sheet says nothing of a start at -60 °C"),
        ({"breaker_a": 16, "start_c": 0}, "nobody entered how long all of it is that heats"),
        ({"circuit_m": 40, "start_c": 0}, "nobody entered its breaker"),
        ({"circuit_m": 40, "breaker_a": 16}, "started at the coldest? It is judged at today's 6 °C"),
    ],
)
def test_what_is_not_known_of_a_circuit_is_asked(circuit: dict[str, Any], words: str):
    plan = planned(SHEETS["trace-end-p1"], circuit=circuit)
    assert any(words in w for w in plan.warnings), plan.warnings
    assert plan.trace.questions
    whole = {"circuit_m": 40, "breaker_a": 16, "start_c": 0}
    assert planned(SHEETS["trace-end-p1"], circuit=whole).trace.questions == []
