"""Readings nobody should trust."""

from copy import deepcopy

import pytest

from tests.joints import joint_dict
from tinknot.core.figures import unmarked
from tinknot.core.joint.questions import questions


def ends(**change):
    given = deepcopy(joint_dict()["ends"])
    for path, value in change.items():
        given["A"]["cores"][0][path] = value
    return given


def test_good_readings_raise_no_question():
    assert questions(ends()) == []


def test_53_typed_for_5_3():
    (q,) = questions(ends(insulation_od_mm=53))
    assert q.path == "/ends/A/cores/0/insulation_od_mm"
    assert q.suggestion_mm == 5.3


def test_insulation_thinner_than_its_conductor():
    (q,) = questions(ends(insulation_od_mm=2.0))
    assert "thinner than its 6 mm² conductor" in unmarked(q.message)


@pytest.mark.parametrize(
    ("sheath", "words"), [(5.0, "thinner than a core"), (11, "cannot lie in a sheath"), (154, "15.4 mm?")]
)
def test_sheath(sheath: float, words: str):
    given = ends()
    given["A"]["sheath_od_mm"] = sheath
    found = [q for q in questions(given) if q.path == "/ends/A/sheath_od_mm"]
    assert words in unmarked(found[0].message)


def test_oval_reading():
    (q,) = questions(ends(insulation_od_across_mm=7.9))
    assert q.path.endswith("insulation_od_across_mm")


@pytest.mark.parametrize("draft", [{}, {"A": {}}, {"A": {"sheath_od_mm": "x", "cores": [{}]}, "B": None}])
def test_unfinished_drafts_are_no_fault(draft):
    assert questions(draft) == []
