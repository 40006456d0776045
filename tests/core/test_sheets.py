"""Kit sheets of heat-trace connections: what does not add up is said, and nothing else."""

import json
import re
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.trace import SHEETS, read, sheet_with
from tinknot.core.errors import InputError
from tinknot.core.families.trace.section import preview
from tinknot.core.joint.leaflet import Figure
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets import doubts
from tinknot.core.sheets.figures import agrees

RULES = RuleBook.of()


def said(given: dict[str, Any]) -> list[tuple[str, str]]:
    """What does not add up, each row by its id."""
    ids = [x["id"].replace("-", "_") for x in given.get("leaflet", {}).get("layers", [])]
    row = re.compile(r"(?<=/leaflet/layers/)\d+")
    return [(row.sub(lambda m: ids[int(m[0])], d.path), d.message) for d in doubts(read(given), RULES)]


@pytest.mark.parametrize("name", SHEETS)
def test_the_sheets_that_ship_add_up_and_draw_every_end(name: str):
    sheet = read(SHEETS[name])
    assert doubts(sheet, RULES) == []
    ends = preview(sheet)
    assert ends
    for end in ends:
        jackets = [x for x in end.layers if x.kind == "outer-jacket"]
        assert jackets[0].from_mm == max(c.at_mm for c in end.cuts)
        for outer, inner in zip(end.layers[:4], end.layers[1:4], strict=False):
            assert inner.width_mm < outer.width_mm
            assert inner.from_mm <= outer.from_mm  # never cut past the layer over it


@pytest.mark.parametrize(
    ("mm", "inch", "same"),
    [
        (25.4, '1"', True),
        (25, '1"', True),
        (100, '4"', True),
        (38, '1 1/2"', True),
        (35, "1 3/8", True),
        (13, "0.5", True),
        (90, '3 1/2"', True),
        (10, '1/2"', False),
        (50, '1"', False),
        (160, '6"', False),
        (25, "1 mm", False),
        (30, '1"', False),
    ],
)
def test_mm_and_inch_agree_within_rounding_only(mm: float, inch: str, same: bool):
    assert agrees(Figure(mm=mm, inch=inch)) is same


@given(st.integers(1, 16 * 40))
def test_any_sixteenth_printed_beside_its_whole_millimetres_agrees(sixteenths: int):
    inches = f"{sixteenths // 16} {sixteenths % 16}/16" if sixteenths % 16 else f"{sixteenths // 16}"
    inches = inches.removeprefix("0 ")
    mm = sixteenths * 25.4 / 16
    assert agrees(Figure(mm=round(mm), inch=inches))
    assert agrees(Figure(mm=round(mm, 1), inch=inches))
    assert not agrees(Figure(mm=round(mm) + 4, inch=inches)) or (round(mm) + 4) == round(mm / 25.4 * 25)


def test_an_inch_figure_that_is_no_length_is_said():
    with pytest.raises(InputError):
        _ = Figure(inch="a thumb").inch_mm
    found = said(sheet_with("trace-end-p1", layers__cut_outer_jacket__length={"mm": 50, "inch": "a thumb"}))
    assert found == [
        (
            "/leaflet/layers/cut_outer_jacket/length/inch",
            'is not a length in inches; write it like 1 3/8" or 0.5',
        )
    ]


@pytest.mark.parametrize(
    ("sheet", "change", "path", "words"),
    [
        (
            "trace-end-p1",
            {"layers__cut_outer_jacket__length": {"mm": 50, "inch": '3"'}},
            "/leaflet/layers/cut_outer_jacket/length",
            "are not the same",
        ),
        (
            "trace-end-p1",
            {"layers__cut_inner_jacket__length": {"mm": 62}},
            "/leaflet/layers/cut_inner_jacket/length",
            "12 mm past the outer-jacket cut",
        ),
        (
            "trace-end-p1",
            {"layers__strip__length": {"mm": 30}},
            "/leaflet/layers/strip/length",
            "5 mm past the inner-jacket cut",
        ),
        (
            "trace-end-p1",
            {
                "layers__cut_inner_jacket__length": {"mm": 60},
                "layers__cut_inner_jacket__datum": "outer-jacket-cut",
            },
            "/leaflet/layers/cut_inner_jacket/length",
            "past the cable's end",
        ),
        (
            "trace-end-p1",
            {"layers__cut_bus_1__length": {"mm": 22}},
            "/leaflet/layers/cut_bus_1/length",
            "nothing of the bus wire",
        ),
        (
            "trace-end-p1",
            {"layers__cut_outer_jacket__length": {}},
            "/leaflet/layers/cut_outer_jacket/length",
            "is missing",
        ),
        (
            "trace-end-p1",
            {"parts__1__length": {"mm": 95}},
            "/leaflet/layers/outer_tube/reach",
            "too short to be pinched",
        ),
        ("trace-end-p1", {"parts__0__opens": {"mm": 4}}, "/leaflet/parts/0/closes", "must be less"),
        (
            "trace-end-p1",
            {"parts__1__opens": {"mm": 11}},
            "/leaflet/parts/1/opens",
            "cannot pass the widest cable",
        ),
        (
            "trace-end-p1",
            {"parts__1__closes": {"mm": 9}},
            "/leaflet/parts/1/closes",
            "cannot grip the smallest cable",
        ),
        (
            "trace-end-p1",
            {"parts__1__stiff": True, "parts__1__opens": {"mm": 13}},
            "/leaflet/parts/1/opens",
            "cannot pass the widest cable",
        ),
        (
            "trace-end-p1",
            {"layers__inner_tube__part": "T9"},
            "/leaflet/layers/inner_tube/part",
            "not in the parts list",
        ),
        (
            "trace-end-p1",
            {"layers__inner_tube__part": "W"},
            "/leaflet/layers/inner_tube/part",
            "is a tape, this layer is a tube",
        ),
        (
            "trace-end-p1",
            {"layers__inner_tube__part": "T4"},
            "/leaflet/parts/1/count",
            "the layers use 2 of T4",
        ),
        ("trace-end-p1", {"layers__outer_tube__reach": {}}, "/leaflet/layers/outer_tube/reach", "is missing"),
        (
            "trace-end-p1",
            {"layers__outer_tube__at": "joint"},
            "/leaflet/layers/outer_tube/at",
            "nothing is joined here",
        ),
        ("trace-end-p1", {"layers__stagger": None}, "/leaflet/layers", "one bus wire is cut shorter"),
        (
            "trace-end-p1",
            {"layers__cut_bus_1": None},
            "/leaflet/layers",
            "both bus wires end at the same place",
        ),
        ("trace-end-p1", {"layers__fold": None}, "/leaflet/layers", "nothing is said of the braid"),
        ("trace-end-p1", {"layers__strip__length": {}}, "/leaflet/layers", "nothing says how far"),
        (
            "trace-end-p1",
            {"layers__cut_bus_1__layer": "bus-insulation"},
            "/leaflet/layers/cut_bus_1/layer",
            "cable has no insulation on its bus wires",
        ),
        (
            "trace-end-p1",
            {"layers__cut_bus_1__layer": "inner-jacket"},
            "/leaflet/layers/cut_bus_1/layer",
            "layer 3 takes the inner jacket off already",
        ),
        (
            "trace-end-p1",
            {"layers__cut_bus_1__layer": None},
            "/leaflet/layers/cut_bus_1/layer",
            "what is cut",
        ),
        ("trace-end-p1", {"serves__constructions": []}, "/serves/constructions", "say which kinds"),
        ("trace-end-p1", {"serves__width_least_mm": 20}, "/serves/width_most_mm", "must not be under"),
        (
            "trace-box-f3",
            {"layers__land__torque_least_nm": None},
            "/leaflet/layers/land/torque_least_nm",
            "a torque is a window",
        ),
        ("trace-box-f3", {"layers__land": None}, "/leaflet/layers", "nothing lands the bus wires"),
        (
            "trace-box-f3",
            {"layers__lid__torque_most_nm": 0.5},
            "/leaflet/layers/lid/torque_most_nm",
            "must not be under the least torque",
        ),
        (
            "trace-box-f3",
            {"parts__0__width_most_mm": 13},
            "/leaflet/parts/0/width_most_mm",
            "takes cables up to 13 mm width",
        ),
        (
            "trace-box-f3",
            {"parts__4__area_most_mm2": 1.2},
            "/leaflet/parts/4/area_most_mm2",
            "does not take the bus wires of 1.5",
        ),
        (
            "trace-splice-s5",
            {"parts__2__length": {"mm": 220}},
            "/leaflet/layers/outer_tube/reach",
            "what it must cover is 222",
        ),
        (
            "trace-splice-s5",
            {"layers__cut_bus_1_b__length": {"mm": 12}},
            "/leaflet/layers",
            "they cannot both meet",
        ),
        ("trace-splice-s5", {"layers__crimp": None}, "/leaflet/layers", "nothing joins the bus wires"),
    ],
)
def test_what_does_not_add_up_is_said_where_it_stands(
    sheet: str, change: dict[str, Any], path: str, words: str
):
    found = said(sheet_with(sheet, **change))
    assert any(p == path and words in m for p, m in found), found


def test_a_part_nobody_uses_and_a_twin_are_said():
    more = json.loads(json.dumps(SHEETS["trace-end-m2"]))
    more["leaflet"]["parts"] += [
        {"id": "Q", "what": "sleeve", "name": "sleeve"},
        {"id": "E", "what": "other"},
    ]
    found = dict(said(more))
    assert "no layer uses it" in found["/leaflet/parts/2"]
    assert "stands twice" in found["/leaflet/parts/3/id"]


def test_an_empty_leaflet_asks_for_everything_and_breaks_nothing():
    bare = {"id": "new", "name": "New", "recipe": "trace-tee"}
    assert said(bare) == [("/leaflet", "is empty: type the parts and the rows of the work")]
    assert preview(read(bare)) == []
    begun = bare | {"leaflet": {"layers": [{"id": "a", "kind": "cut", "layer": "outer-jacket"}]}, "format": 4}
    messages = " ".join(m for _, m in said(begun))
    for words in (
        "is missing",
        "nothing is said of the braid",
        "nothing joins the bus wires",
        "nothing closes the splice",
    ):
        assert words in messages


def test_a_sheet_cannot_reach_the_safety_gates():
    found = said(SHEETS["trace-end-p1"] | {"figures": {"trace.limit_mohm": 1, "holds.second_person": 2}})
    assert {p for p, _ in found} == {"/figures/trace.limit_mohm", "/figures/holds.second_person"}
    assert all("safety gate" in m for _, m in found)


def test_a_cap_that_cannot_reach_the_jacket_does_not_add_up():
    given = json.loads(json.dumps(SHEETS["trace-end-m2"]))
    cap = next(p for p in given["leaflet"]["parts"] if p["what"] == "cap")
    layer = next(n for n, x in enumerate(given["leaflet"]["layers"]) if x["kind"] == "cap")
    assert said(given) == []
    for deep in (40, 12):
        cap["length"] = {"mm": deep}
        ((path, words),) = said(given)
        assert path == "/leaflet/layers/cap/reach"
        assert "cannot reach 40 mm onto the jacket" in words
    del given["leaflet"]["layers"][layer]["reach"]
    assert any("cannot reach the jacket" in words for _, words in said(given))
