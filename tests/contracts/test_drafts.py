"""A draft is what a joint file is made of: the same fields by the same names, none of them needed yet."""

from typing import Annotated, Literal

import pytest
from pydantic import Field

from tinknot.core.families import draft
from tinknot.core.families.draft import EDITED, TRIED, Draft
from tinknot.core.joint import file, tracedraft, tracefile
from tinknot.core.joint.drafted import drafted
from tinknot.core.model import Diameter, Name, Strict, Temperature, some_of
from tinknot.services.joints import JointPatch


def names(model: type[Strict]) -> set[str]:
    return {f.alias or n for n, f in model.model_fields.items()}


class Inner(Strict):
    """Something inside."""

    wide_mm: Diameter


class Whole(Strict):
    """Something to be filled in."""

    name: Name
    inner: Inner
    colder_c: Temperature
    share: Annotated[float, Field(gt=0, lt=1)] = 0.5
    kind: Literal["a", "b"] = "a"
    level: Annotated[Literal[1, 2], Field(alias="class")] = 1
    many: Annotated[list[Inner], Field(min_length=1, max_length=2)]
    other: Inner | None = None


DraftInner = drafted(Inner, "DraftInner", "Inside.")
DraftWhole = drafted(Whole, "DraftWhole", "As far as it goes.", {Inner: DraftInner}, needed=["name"])


def test_a_draft_needs_only_what_it_is_called_by():
    assert DraftWhole.__doc__ == "As far as it goes."
    found = DraftWhole(name="x").model_dump(by_alias=True)
    assert found == {
        "name": "x",
        "inner": {"wide_mm": None},
        "colder_c": None,
        "share": None,  # the model's own figure stands in the file, not in the draft
        "kind": "a",
        "class": 1,
        "many": [],
        "other": None,
    }
    with pytest.raises(ValueError, match="name"):
        DraftWhole()
    with pytest.raises(ValueError, match="name"):
        DraftWhole(name="")


def test_a_figure_is_kept_as_it_was_typed_and_a_word_is_not():
    odd = {
        "name": "x",
        "share": 1.1,
        "inner": {"wide_mm": 245000.0},
        "colder_c": -400.0,
        "other": {"wide_mm": 0.0},
    }
    assert DraftWhole(**odd).model_dump(exclude_unset=True) == odd
    for bad in ({"share": -1.0}, {"inner": {"wide_mm": -1.0}}, {"kind": "c"}, {"class": 3}, {"else": 1}):
        with pytest.raises(ValueError, match=next(iter(bad))):
            DraftWhole(name="x", **bad)
    with pytest.raises(ValueError, match="many"):
        DraftWhole(name="x", many=[{}, {}, {}])


@pytest.mark.parametrize(
    ("filled", "whole"), [(draft.DraftEnds, file.EndsIn), (tracedraft.DraftTraceEnds, tracefile.TraceEndsIn)]
)
def test_every_part_of_a_file_has_its_draft(filled: type[Strict], whole: type[Strict]):
    assert names(filled) == names(whole)


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
