"""A leaflet is played while it is typed: what its order gets wrong stands at its row, and a better place."""

from copy import deepcopy

from tests.trace import SHEETS, read
from tinknot.core.planning.leafletplay import sample_trace, sheet_breaks
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
        assert told(given).keys() <= {f"/leaflet/layers/{n}" for n in range(len(given["leaflet"]["layers"]))}


def test_a_row_that_cannot_be_done_where_it_stands_says_where_it_could():
    """The sealant of this box is looked at, and wiped over, before the boot is on."""
    found = told(SHEETS["trace-box-b2"])
    assert any(words.endswith("Put it after layer 5.") for words in found["/leaflet/layers/3"])


def without_layers(name: str, *layers: int) -> dict:
    given = deepcopy(SHEETS[name])
    given["leaflet"]["layers"] = [x for n, x in enumerate(given["leaflet"]["layers"]) if n not in layers]
    return given


def test_what_takes_the_same_thing_off_twice_is_told_at_its_row():
    (path, words), *_ = told(SHEETS["trace-splice-s5"]).items()
    assert any("off already" in w for w in words)
    mended = told(without_layers("trace-splice-s5", int(path.rsplit("/", 1)[1])))
    assert not any("off already" in w for found in mended.values() for w in found)


def test_a_sheet_whose_joint_cannot_be_planned_says_nothing():
    sheet = read(SHEETS["trace-splice-s5"])
    narrow = sheet.serves.model_copy(update={"width_most_mm": 3.0, "width_least_mm": None})
    assert sheet_breaks(sheet.model_copy(update={"serves": narrow}), RULES) == []
