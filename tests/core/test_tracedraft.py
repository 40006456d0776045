"""A heat-trace draft: anything may be missing, doubts are said and leave what was typed."""

from typing import Any

import pytest

from tests.trace import HEAT, SHEETS, ZONE, read
from tinknot.core.errors import InputError
from tinknot.core.families.draft import Draft, joint_file, missing_of
from tinknot.core.joint.tracedraft import questions
from tinknot.core.joint.tracefile import TraceFile
from tinknot.core.model import parse

CARD = {"where": "Pipe", "rated_voltage_v": 230, "ambient_c": 4, "cable_length_m": 40}


def draft(**trace: Any) -> Draft:
    return parse(Draft, {"family": "heat-trace", "card": CARD, "trace": {"cable": HEAT} | trace})


def test_a_draft_becomes_the_file_it_stands_for():
    found = joint_file(
        draft(ends={"A": {"loop_mm": 300}}, circuit={"run_m": 12}),
        {},
        "T-1",
        "Pipe",
        sheet=read(SHEETS["trace-end-p1"]),
    )
    assert isinstance(found, TraceFile)
    assert (found.ref, found.cable_length_m, found.ambient_c, found.rated_voltage_v) == ("T-1", 40, 4, 230)
    assert (found.ends.A.loop_mm, found.ends.B, found.circuit.run_m) == (300, None, 12)
    assert found.sheet is not None
    assert found.sheet.id == "trace-end-p1"


def test_an_empty_draft_says_what_is_missing_at_each_layer():
    lacking = missing_of(parse(Draft, {"family": "heat-trace"}))
    assert {e.path for e in lacking["card"]} == {"/card/rated_voltage_v", "/card/where"}
    assert {e.path for e in lacking["measure"]} >= {
        f"/trace/cable/{layer}/{side}"
        for layer in ("outer_jacket", "inner_jacket", "core")
        for side in ("width_mm", "thickness_mm")
    }
    words = {e.path: e.message for e in lacking["measure"]}
    assert words["/trace/cable/core/width_mm"] == "this layer's width is not measured yet"
    assert words["/trace/cable/bus_area_mm2"] == "the bus wires' size is not known yet"


def test_a_zone_cable_asks_how_far_apart_its_points_lie():
    given = {k: v for k, v in ZONE.items() if k != "node_mm"}
    lacking = missing_of(draft(cable=given))["measure"]
    assert [e.path for e in lacking] == ["/trace/cable/node_mm"]


@pytest.mark.parametrize(
    ("trace", "path", "suggestion"),
    [
        ({"circuit": {"spiral_extra": 1.1}}, "/trace/circuit/spiral_extra", 0.1),
        ({"circuit": {"spiral_extra": 3}}, "/trace/circuit/spiral_extra", None),
        (
            {"cable": HEAT | {"core": {"width_mm": 86, "thickness_mm": 2.6}}},
            "/trace/cable/core/width_mm",
            8.6,
        ),
        (
            {"cable": HEAT | {"inner_jacket": {"width_mm": 10.2, "thickness_mm": 6}}},
            "/trace/cable/inner_jacket/thickness_mm",
            None,
        ),
        (
            {"cable": HEAT | {"outer_jacket": {"width_mm": 5.8, "thickness_mm": 12.4}}},
            "/trace/cable/outer_jacket/thickness_mm",
            None,
        ),
    ],
)
def test_doubts_name_the_field_and_what_would_remove_them(
    trace: dict[str, Any], path: str, suggestion: float | None
):
    given = draft(**trace)
    found = {q.path: q for q in questions(given.dump()["trace"])}
    assert path in found
    assert found[path].suggestion_mm == suggestion


def test_nothing_is_doubted_of_a_sound_cable_or_an_empty_one():
    assert questions(draft().dump()["trace"]) == []
    assert questions({}) == []


def test_a_spiral_of_more_than_the_run_is_kept_in_the_draft_and_refused_in_the_file():
    given = draft(circuit={"spiral_extra": 1.1})
    assert given.dump()["trace"]["circuit"]["spiral_extra"] == 1.1
    with pytest.raises(InputError) as fault:
        joint_file(given, {})
    assert fault.value.errors[0].path == "/trace/circuit/spiral_extra"


def test_what_is_typed_of_another_family_stays():
    both = parse(Draft, {"family": "straight-lv", "card": CARD, "trace": {"cable": HEAT}})
    assert both.dump()["trace"]["cable"]["outer_jacket"]["width_mm"] == 12.4
    assert "trace" not in parse(Draft, {"family": "straight-lv", "card": CARD}).dump()
