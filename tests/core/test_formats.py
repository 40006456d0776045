"""Formats of what is stored: each upgrade takes a document one format on, and anything else is told in
words."""

import json

import pytest

from tinknot.core.errors import Unreadable
from tinknot.core.files.format import Format
from tinknot.core.files.numbers import DRAFT, EVENT, MADE, PLAN, SHEET
from tinknot.core.plan.plan import Plan


def test_each_upgrade_takes_a_document_one_format_on():
    kind = Format("thing", (lambda b: b | {"two": 1}, lambda b: b | {"three": b["two"] + 1}))
    assert kind.number == 3
    assert kind.upgraded({}) == {"two": 1, "three": 2, "format": 3}
    assert kind.upgraded({"format": 2, "two": 5}) == {"two": 5, "three": 6, "format": 3}
    assert kind.upgraded({"format": 3.0, "x": 1}) == {"x": 1, "format": 3}


@pytest.mark.parametrize(
    "body", [{"format": 4}, {"format": 0}, {"format": True}, {"format": "2"}, {"format": 2}, [], None, 7]
)
def test_what_is_no_document_of_its_kind_is_told(body):
    kind = Format("thing", (lambda b: b, lambda b: {"three": b["two"]}))
    with pytest.raises(Unreadable, match="thing"):
        kind.upgraded(body)


@pytest.mark.parametrize("text", ["", "{", "[]", "null", "1", '{"verdict": 3}', "[" * 100_000, '"\\ud800"'])
def test_any_text_is_answered_in_words(text: str):
    with pytest.raises(Unreadable, match="This plan"):
        PLAN.read(Plan, text)


def test_upgrades_do_not_change_what_they_are_given():
    """What was stored is signed as it stands."""
    for kind, body in (
        (PLAN, {"trace": {"construction": "zone"}}),
        (SHEET, {"leaflet": {"layers": [{"id": "x", "hold": True}]}}),
        (MADE, {"outer_side": "a", "gap_mm": 3}),
        (DRAFT, {"card": {}}),
        (EVENT, {"kind": "note"}),
    ):
        before = json.dumps(body)
        upgraded = kind.upgraded(body)
        assert json.dumps(body) == before
        assert upgraded["format"] == kind.number
    assert MADE.upgraded({"outer_side": "a"})["sides"] == {"outer-sleeve": "a"}
    assert MADE.upgraded({"outer_side": None})["sides"] is None
    assert SHEET.upgraded({"leaflet": {"layers": [{"hold": 1, "id": "x"}, 3]}})["leaflet"]["layers"] == [
        {"id": "x"},
        3,
    ]


def test_cuts_of_a_sheet_become_rows_where_they_were_planned():
    """The grommet went on first, a cut with the row that frees its layer; the sheet says what was done."""
    rows = [
        {"id": "fold", "kind": "braid-fold", "at": "A"},
        {"id": "trim", "kind": "braid-trim", "at": "B"},
        {"id": "strip", "kind": "strip-core"},
        {"id": "g", "kind": "grommet", "at": "A"},
        {"id": "land", "kind": "terminals", "at": "A"},
    ]
    cuts = [
        {"layer": "outer-jacket", "length": {"mm": 50}},
        {"layer": "inner-jacket", "length": {"mm": 25}, "end": "A", "caution": "flex"},
        {"layer": "braid", "length": {"mm": 5}, "datum": "outer-jacket-cut"},
        {"layer": "matrix", "length": {"mm": 20}, "tolerance_mm": 1},
        {"layer": "overlay", "length": {"mm": 15}},
        {"layer": "bus-insulation", "length": {"mm": 9}, "constructions": ["zone"]},
        {"layer": "bus-1", "length": {"mm": 8}, "end": "B"},
    ]
    found = SHEET.upgraded({"format": 3, "leaflet": {"cuts": cuts, "layers": rows}})["leaflet"]
    assert "cuts" not in found
    assert "where they were planned" in found["note"]
    assert "the grommet stands first" in found["note"]
    said = [(x["kind"], x.get("layer"), x.get("at"), x.get("length", {}).get("mm")) for x in found["layers"]]
    assert said == [
        ("grommet", None, "A", None),
        ("cut", "outer-jacket", "A", 50),
        ("braid-fold", None, "A", None),
        ("cut", "braid", "A", 5),
        ("cut", "inner-jacket", "A", 25),
        ("cut", "outer-jacket", "B", 50),
        ("braid-trim", None, "B", None),
        ("cut", "braid", "B", 5),
        ("strip-core", None, None, 20),
        ("cut", "bus-1", "B", 8),
        ("strip-core", None, None, 15),
        ("cut", "bus-1", "B", 8),
        ("cut", "bus-insulation", "A", 9),
        ("terminals", None, "A", None),
    ]
    assert len({x["id"] for x in found["layers"]}) == len(found["layers"])
    by = {x["id"]: x for x in found["layers"]}
    assert by["cut-inner-jacket-a"]["caution"] == "flex"
    assert by["strip"]["constructions"] == ["self-regulating", "power-limiting"]
    assert by["cut-bus-insulation-a"]["constructions"] == ["zone"]
    assert SHEET.upgraded({"format": 3, "leaflet": {"layers": []}})["leaflet"] == {"layers": []}
    (left,) = SHEET.upgraded({"leaflet": {"cuts": cuts[:1], "layers": []}})["leaflet"]["layers"]
    assert (left["kind"], left["layer"]) == ("cut", "outer-jacket")  # nothing typed is lost
