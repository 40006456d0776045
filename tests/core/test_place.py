"""Groups of cores along a joint: against an exhaustive search of another kind, and what must always hold."""

from dataclasses import replace
from itertools import product
from math import ceil, inf

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import cases
from tinknot.core.choosing.place import Group, Placing, place, stagger
from tinknot.core.errors import InputError

PAIR = Group(members=2, connector_mm=30, covered_mm=60, supplied_mm=66, strip_mm=16, keep_away_mm=10)
lengths = st.sampled_from([0.0, 10.0, 37.5, 60.0, 90.0, 140.0])


@st.composite
def a_group(draw) -> Group:
    return Group(
        members=draw(st.integers(1, 4)),
        connector_mm=draw(st.sampled_from([20.0, 38.0, 75.0])),
        covered_mm=draw(st.sampled_from([30.0, 60.0, 95.0])),
        supplied_mm=draw(lengths),
        strip_mm=draw(st.sampled_from([8.0, 19.0])),
        keep_away_mm=draw(st.sampled_from([10.0, 30.0])),
        sides=draw(st.sampled_from(["ab", "ab", "a", "b"])),
    )


def least(groups: list[Group], steps: int, clear: float, between: float) -> tuple[int, float]:
    """The fewest cores at the fullest place and the least gap then: every dealing with every choice of
    sides, each solved as what it is, two inequalities for a shift."""
    best = (10**9, inf)
    for dealing in product(range(steps), repeat=len(groups)):
        if len(set(dealing)) < steps:
            continue
        at = [[g for g, p in zip(groups, dealing, strict=True) if p == q] for q in range(steps)]
        long = [max(max(g.connector_mm, g.covered_mm) for g in here) for here in at]
        x = [clear + sum(long[:q]) + q * between + long[q] / 2 for q in range(steps)]
        room = sum(long) + (steps - 1) * between + 2 * clear
        full = max(sum(g.members for g in here) for here in at)
        for sides in product("ab", repeat=len(groups)):
            if any(s not in g.sides for s, g in zip(sides, groups, strict=True)):
                continue
            need = [g.strip_mm + g.supplied_mm + g.keep_away_mm + g.butt_gap_mm / 2 for g in groups]
            own = list(zip(sides, need, (x[p] for p in dealing), strict=True))
            shift = max([0.0, *(n - y for s, n, y in own if s == "a")])
            gap = max([room + shift, *(n + y + shift for s, n, y in own if s == "b")])
            best = min(best, (full, round(gap, 9)))
    return best


def fullest(groups: list[Group], found: Placing) -> int:
    places = {p.position for p in found.places}
    return max(
        sum(g.members for g, p in zip(groups, found.places, strict=True) if p.position == q) for q in places
    )


@cases(60)
@given(st.lists(a_group(), min_size=1, max_size=5), st.integers(1, 4), st.sampled_from([0.0, 5.0]))
def test_few_groups_stand_as_an_exhaustive_search_has_them(groups, steps, between):
    steps = min(steps, len(groups))
    found = place(groups, steps=steps, clear_core_mm=15, between_mm=between)
    assert (fullest(groups, found), found.gap_mm) == least(groups, steps, 15, between)


@cases(80)
@given(st.lists(a_group(), min_size=1, max_size=12), st.integers(1, 5))
def test_nothing_touches_and_every_sleeve_finds_its_tail(groups, steps):
    steps = min(steps, len(groups))
    found = place(groups, steps=steps, clear_core_mm=15, between_mm=5)
    assert {p.position for p in found.places} == set(range(steps))
    own = list(zip(groups, found.places, strict=True))
    for g, p in own:
        half = g.takes_mm / 2
        assert p.centre_mm - half >= 15 - 1e-6
        assert p.centre_mm + half <= found.gap_mm - 15 + 1e-6
        assert p.cut_a_mm + p.cut_b_mm == pytest.approx(found.gap_mm - g.butt_gap_mm)
        needed = g.reach_mm - g.butt_gap_mm / 2
        tails = {"a": p.cut_a_mm, "b": p.cut_b_mm}
        assert max(tails[s] for s in g.sides) >= needed - 1e-6
        for other, q in own:
            if p.position < q.position:
                room = q.centre_mm - p.centre_mm - half - other.takes_mm / 2
                assert room >= 5 - 1e-6
    assert place(groups, steps=steps, clear_core_mm=15, between_mm=5) == found  # the same again


@cases(60)
@given(st.integers(1, 9), st.integers(1, 9), st.sampled_from([40.0, 90.0]), st.sampled_from([30.0, 160.0]))
def test_equal_groups_of_one_are_staggered_cores(cores, steps, covered, side):
    steps = min(steps, cores)
    rules = {"clear_core_mm": 15, "between_mm": 5}
    one = Group(connector_mm=38, covered_mm=covered, strip_mm=side, butt_gap_mm=3)
    found = place([one] * cores, steps=steps, **rules)
    as_cores = stagger(cores, 38, covered, **rules, butt_gap_mm=3, steps=steps, side_needed_mm=side)
    assert found.gap_mm == as_cores.gap_mm
    assert [(p.centre_mm, p.cut_a_mm, p.cut_b_mm) for p in found.places] == [
        (c.centre_mm, c.cut_a_mm, c.cut_b_mm) for c in as_cores.cores
    ]
    assert [p.position for p in found.places] == [n % steps for n in range(cores)]


def test_a_pair_stays_together_and_like_lengths_share_a_place():
    """Four pairs in two places, two of them longer: 15 + 95 + 5 + 60 + 15 would do for room, but a sleeve of
    66 with strip and keep-away needs 92 on one side, which they have."""
    long = replace(PAIR, covered_mm=95)
    found = place([PAIR, long, PAIR, long], steps=2, clear_core_mm=15, between_mm=5)
    first, second = ({n for n, p in enumerate(found.places) if p.position == q} for q in (0, 1))
    assert {frozenset(first), frozenset(second)} == {frozenset({0, 2}), frozenset({1, 3})}
    assert found.gap_mm == 190.0
    assert fullest([PAIR, long, PAIR, long], found) == 4


@pytest.mark.parametrize("many", [8, 20, 40])
def test_many_groups_are_dealt_evenly(many):
    groups = [replace(PAIR, covered_mm=40.0 + 7 * (n % 5), members=1 + n % 3) for n in range(many)]
    found = place(groups, steps=4, clear_core_mm=15, between_mm=5)
    even = ceil(sum(g.members for g in groups) / 4)
    assert fullest(groups, found) <= even + 2
    assert found.gap_mm <= 4 * 68 + 3 * 5 + 2 * 15 + 92  # no worse than the longest everywhere, shifted once


@pytest.mark.parametrize(
    ("groups", "steps", "path", "words"),
    [
        ([PAIR], 2, "/steps", "from 1 to the number of groups, 1"),
        ([PAIR], 0, "/steps", "from 1 to the number of groups, 1"),
        ([PAIR, replace(PAIR, sides="")], 1, "/groups/1/sides", "a side to park on"),
        ([replace(PAIR, butt_gap_mm=500, supplied_mm=0)], 1, "/butt_gap_mm", "no length left"),
    ],
)
def test_what_cannot_be_placed_names_the_field(groups, steps, path, words):
    with pytest.raises(InputError) as fault:
        place(groups, steps=steps, clear_core_mm=0, between_mm=5)
    assert fault.value.errors[0].path == path
    assert words in fault.value.errors[0].message
