"""A draft is what a joint file is made of: the same fields by the same names, none of them needed yet."""

import pytest

from tinknot.core.families import draft
from tinknot.core.families.draft import EDITED, TRIED, Draft
from tinknot.core.joint import file, tracedraft, tracefile
from tinknot.core.model import Strict, some_of
from tinknot.services.joints import JointPatch

PAIRS = [
    (draft.DraftCore, file.CoreIn),
    (draft.DraftArmour, file.ArmourIn),
    (draft.DraftEnd, file.EndIn),
    (draft.DraftEnds, file.EndsIn),
    (tracedraft.DraftFlat, tracefile.FlatLayerIn),
    (tracedraft.DraftTraceCable, tracefile.TraceCableIn),
    (tracedraft.DraftSide, tracefile.TraceSideIn),
    (tracedraft.DraftTraceEnds, tracefile.TraceEndsIn),
    (tracedraft.DraftCircuit, tracefile.CircuitIn),
]


def names(model: type[Strict]) -> set[str]:
    return {f.alias or n for n, f in model.model_fields.items()}


@pytest.mark.parametrize(("filled", "whole"), PAIRS, ids=lambda m: m.__name__)
def test_what_is_in_the_file_can_be_filled_in(filled, whole):
    assert names(filled) == names(whole)
    needed = {n for n, f in filled.model_fields.items() if f.is_required()}
    assert needed <= {"name"}  # a core is entered by its name


def test_a_heat_trace_draft_has_what_its_file_has():
    own = set(tracefile.TraceFile.model_fields) - set(file.JointHead.model_fields)
    assert set(tracedraft.DraftTrace.model_fields) == own


def test_what_is_edited_and_tried_are_fields_of_the_draft():
    assert {*EDITED, "title", "line_id", "at_m"} == set(JointPatch.model_fields)
    assert {*EDITED, "format"} == set(Draft.model_fields)
    assert set(TRIED) <= set(EDITED)


def test_some_of_a_model_needs_nothing_and_refuses_what_it_has_not():
    some = some_of(Draft, "Some", ["stagger_steps"], "Some of it.")
    assert some.__doc__ == "Some of it."
    assert some().model_dump() == {"stagger_steps": None}
    assert some(stagger_steps=3).model_dump() == {"stagger_steps": 3}
    for bad in ({"stagger_steps": 9}, {"build": {}}):
        with pytest.raises(ValueError, match=r"stagger_steps|build"):
            some(**bad)
