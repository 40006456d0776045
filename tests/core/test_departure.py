"""What was measured or chosen since a joint was planned."""

from copy import deepcopy

import pytest

from tests.joints import joint, joint_dict
from tests.trace import trace
from tinknot.core.joint.departure import departures


def with_change(*path, value):
    given = joint_dict()
    at = given
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return joint(**{k: v for k, v in given.items() if k not in ("stock",)})


def test_the_same_is_no_departure():
    assert departures(joint(), joint()) == []
    assert departures(trace(), trace()) == []


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        (("ends", "A", "sheath_od_mm"), 61.7, "End A, sheath OD: planned with 15.4 mm, now 61.7 mm"),
        (
            ("ends", "B", "cores", 0, "insulation_od_mm"),
            6.0,
            "End B, core 1, insulation OD: planned with 5.3 mm, now 6 mm",
        ),
        (("ends", "A", "cores", 2, "area_mm2"), 10.0, "End A, core 3, area: planned with 6 mm², now 10 mm²"),
        (("ambient_c",), -5.0, "Ambient: planned with 12 °C, now -5 °C"),
        (("stagger_steps",), 2, "Stagger steps: planned with 1, now 2"),
        (("duties",), ["damp"], "Duties, 1: planned with buried, now damp"),
        (("duties",), [], "Duties: planned with something else, now nothing"),
        (("build",), {"closure": "resin"}, "Build, closure: planned with nothing, now resin"),
    ],
)
def test_a_change_is_named_with_both_figures(path, value, words: str):
    assert departures(joint(), with_change(*path, value=value)) == [words]


def test_names_and_what_lies_on_the_shelf_are_no_part_of_it():
    other = joint().model_copy(
        update={"title": "other", "ref": "J-9", "stock": joint().stock.model_copy(update={"sleeves": []})}
    )
    assert departures(joint(), other) == []


def test_a_kit_counts_by_its_id_not_by_its_revision():
    one = trace()
    newer = one.model_copy(update={"sheet": one.sheet.model_copy(update={"revision": 9})})
    other = one.model_copy(update={"sheet": one.sheet.model_copy(update={"id": "other"})})
    assert departures(one, newer) == []
    assert departures(one, other) == [f"Sheet: planned with {one.sheet.id}, now other"]


def test_a_core_more_is_told():
    given = deepcopy(joint_dict())
    found = departures(
        joint(4), joint(3, ends={e: v | {"cores": v["cores"][:3]} for e, v in given["ends"].items()})
    )
    assert found == [f"End {e}, cores: planned with something else, now something else" for e in "AB"]
