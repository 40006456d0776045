"""Cores rung out in one walk: every plan admits one assignment only, by an independent search for
symmetries."""

from collections import Counter
from itertools import permutations, product

import pytest

from tests.core.test_calculators import calc
from tinknot.core.errors import InputError

Plan = tuple[list[list[int]], list[list[int]]]


def asked(cores: int, common: bool = False) -> Plan:
    found = calc("identify", cores=cores, common=common)
    assert found["walks"] == 1
    return found["first"], found["second"]


def is_a_plan(first: list[list[int]], second: list[list[int]], cores: int) -> bool:
    """The first groups share out the cores, and every wire is tied once more at the far end."""
    sizes = Counter(i for group in second for i in group)
    return sorted(c for g in first for c in g if c) == list(range(1, cores + 1)) and all(
        sizes[i] == len([c for c in g if c]) for i, g in enumerate(first)
    )


def told_by_sizes(first: list[list[int]], second: list[list[int]]) -> bool:
    """Whether no two wires hang in groups of the same two sizes."""
    pairs = [(len(first[i]), len(group)) for group in second for i in group]
    return len(set(pairs)) == len(pairs)


def symmetries(first: list[list[int]], second: list[list[int]]) -> int:
    """How many ways of renaming groups of equal size, round by round, leave the wires between them as they
    are; wires that lie side by side in the same two groups count as ways of their own."""
    edges = Counter((i, j) for j, group in enumerate(second) for i in group)

    def renamings(sizes: list[int]):
        alike = {s: [i for i, x in enumerate(sizes) if x == s] for s in set(sizes)}
        for orders in product(*(permutations(v) for v in alike.values())):
            yield {
                a: b
                for v, order in zip(alike.values(), orders, strict=True)
                for a, b in zip(v, order, strict=True)
            }

    count = 0
    for one in renamings([len(g) for g in first]):
        for other in renamings([len(g) for g in second]):
            if Counter((one[i], other[j]) for i, j in edges.elements()) == edges:
                count += 1
    for many in edges.values():
        count *= many  # parallel wires may be changed for each other
    return count


@pytest.mark.parametrize("cores", range(3, 201))
def test_every_number_of_cores_is_told_in_one_walk(cores: int):
    first, second = asked(cores)
    assert is_a_plan(first, second, cores)
    if cores in (5, 9):
        assert symmetries(first, second) == 1
    else:
        assert told_by_sizes(first, second)


@pytest.mark.parametrize("cores", [3, 4, 5, 6, 7, 8, 9, 10])
def test_small_plans_have_no_symmetry_but_the_one_that_changes_nothing(cores: int):
    assert symmetries(*asked(cores)) == 1


def test_the_search_finds_symmetries_where_there_are_some():
    assert symmetries([[1], [2]], [[0], [1]]) == 2  # two loose wires
    assert symmetries([[1, 2]], [[0, 0]]) == 2  # two wires side by side
    assert symmetries([[1], [2, 3], [4, 5]], [[0, 1], [1, 2], [2]]) == 1  # of the contract


def test_what_is_seen_there_gives_back_every_core():
    """Played through: whoever reads sizes and neighbours at both ends names each wire rightly."""
    for cores in (3, 4, 6, 7, 12, 19, 24, 37, 61):
        first, second = asked(cores)
        far = list(range(1, cores + 1))[::-1]  # the order in which the far ends hang out of the sheath
        group_of = {c: i for i, g in enumerate(first) for c in g}
        pools = {i: [c for c in far if group_of[c] == i] for i in range(len(first))}
        tied = [[pools[i].pop() for i in group] for group in second]
        size_first = {c: len(first[group_of[c]]) for c in far}
        size_second = {c: len(t) for t in tied for c in t}
        seen = Counter((size_first[c], size_second[c]) for c in far)
        assert max(seen.values()) == 1


def test_one_or_two_need_a_conductor_that_is_known():
    for cores in (1, 2):
        with pytest.raises(InputError) as fault:
            calc("identify", cores=cores)
        assert fault.value.errors[0].path == "/cores"
        assert "known" in str(fault.value)
    assert asked(1, True) == ([[0, 1]], [[0]])
    assert asked(2, True) == ([[0, 1], [2]], [[0], [1]])
    assert is_a_plan(*asked(12, True), 12)


@pytest.mark.parametrize("cores", [0, 201, 2.5, -3])
def test_refuses_what_is_no_number_of_cores(cores: float):
    with pytest.raises(InputError) as fault:
        calc("identify", cores=cores)
    assert fault.value.errors[0].path == "/cores"
