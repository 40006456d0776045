"""A cable's make-up in one line."""

import re
from dataclasses import replace
from math import hypot

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tinknot.core.errors import InputError
from tinknot.core.joint.makeline import make_up
from tinknot.core.joint.makeup import MakeUp, Unit, insulated, joined
from tinknot.core.joint.picture import picture

FOIL = ("foil", "drain")


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("12 × 1 mm²", MakeUp.alike(12, 1, 1.0)),
        ("12x1", MakeUp.alike(12, 1, 1.0)),
        ("61 * 0,5 mm2", MakeUp.alike(61, 1, 0.5)),
        ("2 × 0.75, braid over all", MakeUp.alike(2, 1, 0.75, (), overall=("braid",))),
        (
            "8 × 2 × 0.75, each pair foil and drain, braid over all",
            MakeUp.alike(8, 2, 0.75, FOIL, overall=("braid",)),
        ),
        ("4 x 4 x AWG 24, foil, drain wire".replace(", drain", " with drain") + " over all", None),
        ("12 × AWG 18, braid and foil overall", None),
        ("1 × 0.5, each braid", MakeUp.alike(1, 1, 0.5, ("braid",))),
        (
            "2 × 2 × 0,34 each foil and drain + 3 x 1 mm², braid over all",
            MakeUp((*[Unit(2, 0.34, FOIL)] * 2, *[Unit(1, 1.0)] * 3), ("braid",)),
        ),
        (
            "1 × 1 and 2 × 3 × 0.5 plus 1 × 2 × 0.5, each pair braid",
            MakeUp((Unit(1, 1.0), Unit(3, 0.5), Unit(3, 0.5), Unit(2, 0.5, ("braid",)))),
        ),
        (
            "2 × 2 × 0.5 + 2 × 1, each foil and drain",
            MakeUp((*[Unit(2, 0.5, FOIL)] * 2, *[Unit(1, 1.0)] * 2)),
        ),
    ],
)
def test_lines_as_they_are_written(text: str, found: MakeUp | None):
    read = make_up(text)
    if found is not None:
        assert read == found
    said = tuple(replace(u, area_mm2=float(f"{u.area_mm2:g}")) for u in read.members)
    assert make_up(read.written) == replace(read, members=said)


def test_sizes_by_gauge():
    """AWG 18 is 0.823 mm² (ASTM B258)."""
    assert make_up("12 × AWG 18").members[0].area_mm2 == pytest.approx(0.823, abs=1e-4)
    assert make_up("1 × AWG 6").members[0].area_mm2 == pytest.approx(13.3, abs=0.01)


def test_cores_have_their_names():
    assert make_up("3 × 1").unit(2) == ("3",)
    assert make_up("3 × 2 × 1").unit(2) == ("3a", "3b")
    assert make_up("3 × 4 × 1").cores == 12


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "cannot be read"),
        ("twelve cores", "cannot be read"),
        ("12 × 1 mm², foil somewhere", "cannot be read"),
        ("62 × 1", "from 1 to 61"),
        ("31 × 2 × 1", "from 1 to 30"),
        ("5 × 5 × 1", "pairs, triples and quads"),
        ("12 × 25", "from 0.05 to 16"),
        ("4 × 2 × 1, drain over all", "drain wire without its foil"),
        ("4 × 2 × 1, each triple foil and drain", "has no triple that could have foil and drain of its own"),
        ("40 × 1 + 2 × 2 × 1 + 22 × 0.5", "has 62 cores: from 1 to 61"),
        ("20 × 4 × 1 + 61 × 0.5", "has 141 cores in all its units: 120 at most"),
        ("2 × 2 × 0.5 + 0 × 1", "has 0 cores"),
        ("2 × 2 × 0.5 + 2 × 25", "from 0.05 to 16"),
        ("2 × 2 × 0.5 + 2 × 1, unit 5 spare", "has no unit 5"),
        ("4 × 1, core 5 is blue", "has no core 5"),
        ("4 × 2 × 1, core 3c is blue", "has no core 3c"),
        ("4 × 2 × 1, pair 5 spare", "has no pair 5"),
        ("2 × 1, core 1 spare, core 2 spare", "all of it is spare"),
        ("4 × 1, core 2 is 3", "two cores called 3"),
        ("4 × 1, core 2 is " + "a" * 25, "24 letters at most"),
    ],
)
def test_what_cannot_be_is_said_with_how_to_write_it(text: str, words: str):
    with pytest.raises(InputError, match=re.escape(words)) as fault:
        make_up(text)
    assert fault.value.errors[0].path == "/make_up"


SCREENS = st.sampled_from([(), ("foil", "drain"), ("braid",), ("foil", "drain", "braid")])


@given(st.integers(1, 30), st.integers(1, 4), st.sampled_from([0.25, 0.5, 1.0, 1.5]), SCREENS, SCREENS)
def test_every_make_up_is_read_back_as_it_is_said(
    units: int, per: int, area: float, each: tuple[str, ...], overall: tuple[str, ...]
):
    """Single cores are written by their count alone."""
    given_up = MakeUp.alike(units, per, area, each, overall=overall)
    found = make_up(given_up.written)
    assert found == given_up
    assert sum(len(found.unit(n)) for n in range(units)) == found.cores


UNITS = st.builds(Unit, st.integers(1, 4), st.sampled_from([0.34, 0.5, 1.5]), SCREENS)


@given(st.lists(UNITS, min_size=1, max_size=20), SCREENS)
def test_units_of_any_kinds_are_read_back_as_they_are_said(members: list[Unit], overall: tuple[str, ...]):
    given_up = MakeUp(tuple(members), overall)
    assert make_up(given_up.written) == given_up
    assert [len(given_up.unit(n)) for n in range(len(members))] == [u.cores for u in members]
    assert len({x for n in range(len(members)) for x in given_up.unit(n)}) == given_up.cores


def test_units_are_numbered_through_whatever_they_are():
    found = make_up("2 × 2 × 0.5 + 2 × 1, core 2b is red, core 4 spare")
    assert [found.unit(n) for n in range(4)] == [("1a", "1b"), ("2a", "red"), ("3",), ("4",)]
    assert found.said == "2 pairs of 0.5 mm²; 2 cores of 1 mm², core 2b is red, core 4 spare"
    named = make_up("1 × 2 × 0.5 + 2 × 1, by colour").named(("white", "brown", "green", "yellow"))
    assert [named.unit(n) for n in range(3)] == [("white", "brown"), ("green",), ("yellow",)]


def test_what_screens_the_only_unit_screens_all():
    assert make_up("1 × 2 × 0.5, each pair foil and drain, braid over all").settled == MakeUp(
        (Unit(2, 0.5),), ("foil", "drain", "braid")
    )
    assert make_up("2 × 2 × 0.5, each braid").settled.members[0].screens == ("braid",)


def test_pairs_go_to_pairs_and_a_section_to_its_own():
    found = joined(make_up("2 × 2 × 0.5 + 2 × 1 + 1 × 1.5"), make_up("1 × 1.5 + 3 × 2 × 0.5 + 2 × 0.75"))
    assert [found.a.unit(n) for n in range(5)] == [("1a", "1b"), ("2a", "2b"), ("3",), ("4",), ("5",)]
    assert [found.b.unit(n) for n in range(5)] == [("2a", "2b"), ("3a", "3b"), ("5",), ("6",), ("1",)]
    assert found.spare == ((), ("4a", "4b"))


def test_cores_between_the_thickest_and_the_thinnest_are_estimated():
    """With the conductor's diameter, the root of its section: 0.25, 1 and 2.25 mm² are 1 : 2 : 3."""
    cable = make_up("1 × 0.25 + 1 × 1 + 1 × 2.25")
    assert insulated(cable, 3, 1.5) == pytest.approx((1.5, 2.25, 3))
    assert insulated(cable, 3, None) == (3, 3, 3)
    assert insulated(make_up("2 × 1"), 3, 2) == (3, 3)


def test_single_cores_may_be_otherwise():
    found = make_up("4 × 2 × 0.5, foil and drain over all, core 3b is red-blue, pair 2 spare")
    assert found.unit(2) == ("3a", "red-blue")
    assert found.spare == (2,)
    assert make_up(found.written) == found
    assert make_up(found.calling("3b", "").sparing(2, False).written) == make_up(
        "4 × 2 × 0.5, foil and drain over all"
    )


def test_cores_by_colour_are_named_in_their_order():
    """Two of a pair follow each other: white and brown, green and yellow (DIN 47100)."""
    colours = ("white", "brown", "green", "yellow")
    found = make_up("2 × 2 × 0.5, by colour, core 2a is turquoise").named(colours)
    assert [found.unit(n) for n in (0, 1)] == [("white", "brown"), ("turquoise", "yellow")]
    with pytest.raises(InputError, match="has 6 cores by colour, the rule book lists 4 colours"):
        make_up("3 × 2 × 0.5, by colour").named(colours)


def test_what_is_spare_on_one_side_leaves_its_partner_spare():
    """Named alike they are joined by name, not by place."""
    found = joined(make_up("6 × 1"), make_up("6 × 1, core 3 spare"))
    assert [found.a.unit(n) for n in range(5)] == [found.b.unit(n) for n in range(5)]
    assert found.a.number(2) == "4"
    assert found.spare == (("3",), ("3",))
    other = joined(make_up("4 × 1, core 1 spare"), make_up("3 × 1, by colour").named(("wh", "br", "gn")))
    assert [(other.a.unit(n), other.b.unit(n)) for n in range(3)] == [
        (("2",), ("wh",)),
        (("3",), ("br",)),
        (("4",), ("gn",)),
    ]


@given(st.lists(UNITS, min_size=1, max_size=12), st.floats(2.5, 4), st.floats(1, 2.4))
def test_cores_of_unlike_units_are_drawn_in_their_sizes(members: list[Unit], thick: float, thin: float):
    found = picture(MakeUp(tuple(members)), thick, (), thinnest_mm=thin)
    assert found.differ == (len({u.area_mm2 for u in members}) > 1)
    for u, unit in zip(found.units, members, strict=True):
        assert u.kind == unit.kind
        assert thin - 1e-9 <= u.core_mm <= thick + 1e-9 or not found.differ
        assert hypot(u.x_mm, u.y_mm) + u.od_mm / 2 <= found.inside_mm / 2 + 1e-6
        assert all(
            hypot(c.x_mm - u.x_mm, c.y_mm - u.y_mm) + u.core_mm / 2 <= u.od_mm / 2 + 1e-6 for c in u.cores
        )
    ods = {u.area_mm2: p.core_mm for u, p in zip(members, found.units, strict=True)}
    assert sorted(ods.values()) == [ods[a] for a in sorted(ods)]


@given(st.integers(1, 30), st.integers(1, 4), st.floats(0.8, 4))
def test_the_picture_packs_every_core_without_one_in_another(units: int, per: int, insulation: float):
    found = picture(MakeUp.alike(units, per, 0.5), insulation, ())
    cores = [c for u in found.units for c in u.cores]
    assert len({c.number for c in cores}) == units * per
    for i, a in enumerate(cores):
        assert (a.x_mm**2 + a.y_mm**2) ** 0.5 + insulation / 2 <= found.inside_mm / 2 + 1e-6
        for b in cores[:i]:
            assert ((a.x_mm - b.x_mm) ** 2 + (a.y_mm - b.y_mm) ** 2) ** 0.5 >= insulation * (1 - 1e-6)


def test_namesakes_are_joined_to_each_other_in_whatever_order_they_stand():
    """By name as far as both have it; what only one side has goes on in order, never under a namesake."""
    a = make_up("4 × 1, core 1 is brown, core 2 is black, core 3 is grey, core 4 is blue")
    b = make_up("4 × 1, core 1 is grey, core 2 is brown, core 3 is red, core 4 is black")
    found = joined(a, b)
    pairs = [(found.a.unit(n), found.b.unit(n)) for n in range(4)]
    assert pairs == [(("brown",),) * 2, (("black",),) * 2, (("grey",),) * 2, (("blue",), ("red",))]
    turned = joined(
        make_up("1 × 2 × 0.5, core 1a is white, core 1b is blue"),
        make_up("1 × 2 × 0.5, core 1a is blue, core 1b is white"),
    )
    assert turned.a.unit(0) == turned.b.unit(0) == ("white", "blue")
