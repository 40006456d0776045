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
