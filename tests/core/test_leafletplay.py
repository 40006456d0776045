"""A leaflet is played while it is typed: what its order gets wrong stands at its row, and a better place."""

from copy import deepcopy

from tests.trace import SHEETS, read, row, trace
from tinknot.core.planning.leafletplay import sample_trace, sheet_breaks
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook

RULES = RuleBook.of()


def told(given: dict) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for d in sheet_breaks(read(given), RULES):
        found.setdefault(d.path, []).append(d.message)
    return found


def test_every_sheet_that_ships_is_played_on_a_cable_it_serves():
    for given in SHEETS.values():
        sheet = read(given)
        assert sample_trace(sheet).not_served_by(sheet) == []
        assert told(given) == {}, given["id"]


def braid_first() -> dict:
    """A splice whose braid is joined before the inner tube closes over the wires."""
    given = deepcopy(SHEETS["trace-splice-s5"])
    rows = given["leaflet"]["layers"]
    at = {x["id"]: n for n, x in enumerate(rows)}
    rows.insert(at["inner-tube"], rows.pop(at["braid-over"]))
    return given


def test_a_row_that_cannot_be_done_where_it_stands_says_where_it_could():
    """No tube comes under a braid that is joined over its place."""
    given = braid_first()
    here = f"/leaflet/layers/{row(given['leaflet']['layers'], 'inner-tube')}"
    found = told(given)
    (words,) = found[here]
    assert "joined over its place already" in words
    assert found.keys() == {here}


def test_a_plan_by_such_a_leaflet_says_what_it_breaks():
    assert [(b.law, b.step) for b in plan_joint(trace(braid_first())).breaks] == [(1, "seal.inner-tube")]


def test_a_sheet_whose_joint_cannot_be_planned_says_nothing():
    sheet = read(SHEETS["trace-splice-s5"])
    narrow = sheet.serves.model_copy(update={"width_most_mm": 3.0, "width_least_mm": None})
    assert sheet_breaks(sheet.model_copy(update={"serves": narrow}), RULES) == []
