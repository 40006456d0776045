"""Kinds of part: what they say of themselves is of the figures that they have."""

import re

import pytest

from tinknot.core.errors import InputError
from tinknot.core.model import parse
from tinknot.core.parts.kind import METRES, PIECES, ROLLS
from tinknot.core.parts.stock import KINDS, LIST_OF, StockIn
from tinknot.core.rule import GROUPS
from tinknot.core.rulebook import DEFAULTS

LOTS = {"id", "lots", "on_hand", "on_hand_mm"}  # asked apart: the id, and what lies on the shelf


@pytest.mark.parametrize("kind", KINDS)
def test_every_figure_of_a_kind_can_be_filled_in_and_no_other(kind: str):
    model = KINDS[kind]
    assert {f.key for f in model.part.figures} == set(model.model_fields) - LOTS


@pytest.mark.parametrize("kind", KINDS)
def test_lists_show_and_are_ordered_by_figures_that_the_kind_has(kind: str):
    part = KINDS[kind].part
    known = {f.key for f in part.figures}
    assert set(re.findall(r"{(\w+)}", " ".join((part.size, *part.facts)))) <= known
    assert not part.order or part.order in known
    assert part.count.on_hand in KINDS[kind].model_fields
    assert part.count.unit in part.count.lists


@pytest.mark.parametrize("kind", KINDS)
def test_choices_are_those_the_model_takes_and_the_first_is_its_own(kind: str):
    model = KINDS[kind]
    for f in model.part.figures:
        if f.form == "choice":
            field = model.model_fields[f.key]
            assert set(f.options) == set(field.annotation.__args__)
            assert field.is_required() or field.default == f.options[0]


def test_a_column_that_several_kinds_write_means_the_same_in_each():
    seen: dict[str, tuple] = {}
    for model in KINDS.values():
        for f in model.part.figures:
            means = (f.key, f.form, f.names)
            assert seen.setdefault(f.heading, means) == means, f.heading


def test_every_list_of_a_joint_file_is_of_a_kind():
    assert list(LIST_OF.values()) == list(StockIn.model_fields)
    assert len(KINDS) == len(StockIn.model_fields)


def test_quantities_are_said_in_the_unit_people_count_in():
    assert [c.said(1500) for c in (METRES, ROLLS, PIECES)] == ["1.5 m", "1500 rolls", "1500 pieces"]
    assert [c.whole for c in (METRES, ROLLS, PIECES)] == [False, False, True]


SLEEVE = {"id": "S", "expanded_id_mm": 28, "recovered_id_mm": 9, "recovered_wall_mm": 2}
BARREL = {"id": "B", "od_mm": 5, "length_mm": 20, "insertion_mm": 9}
CONTRADICTING_AREAS = {"area_least_mm2": 9, "area_most_mm2": 4}
CONTRADICTING_TORQUES = {"torque_least_nm": 9, "torque_most_nm": 4}
CLAMP = {"id": "C", "od_least_mm": 10, "od_most_mm": 20, "thickness_mm": 1}


@pytest.mark.parametrize(
    ("stock", "path"),
    [
        ({"sleeves": [SLEEVE, SLEEVE]}, "/stock/sleeves/1/id"),
        ({"sleeves": [SLEEVE | {"recovered_id_mm": 30}]}, "/stock/sleeves/0/expanded_id_mm"),
        ({"connectors": [BARREL | {"insertion_mm": 11}]}, "/stock/connectors/0/insertion_mm"),
        (
            {"connectors": [BARREL | {"area_least_mm2": 9, "area_most_mm2": 4}]},
            "/stock/connectors/0/area_most_mm2",
        ),
        (
            {"connectors": [BARREL | {"torque_least_nm": 9, "torque_most_nm": 4}]},
            "/stock/connectors/0/torque_most_nm",
        ),
        ({"clamps": [CLAMP | {"od_most_mm": 5}]}, "/stock/clamps/0/od_most_mm"),
    ],
)
def test_a_stock_that_contradicts_itself_is_told_at_the_figure(stock: dict, path: str):
    parse(StockIn, {"sleeves": [SLEEVE], "connectors": [BARREL], "clamps": [CLAMP]}).check()
    with pytest.raises(InputError) as told:
        parse(StockIn, stock).check()
    assert told.value.errors[0].path == path


def test_every_rule_stands_in_a_group_and_every_group_has_rules():
    assert {r.group for r in DEFAULTS.values()} == set(GROUPS)
    names = [first for names in GROUPS.values() for first in names]
    assert len(names) == len(set(names))
    assert set(names) == {key.split(".")[0] for key in DEFAULTS}
