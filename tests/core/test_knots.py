"""Joints along their lines when they are more than can be shown."""

from collections import Counter
from itertools import groupby, pairwise

from hypothesis import given
from hypothesis import strategies as st

from tinknot.core.work.knots import CELLS, NAMED, Cell, Knot, Waiting, folded

NEAR_M = 80.0
places = st.lists(
    st.tuples(st.integers(1, 3), st.floats(0, 1000, allow_nan=False), st.sampled_from((None, 0, 1, 6))),
    max_size=60,
)


def fold(found: list[tuple[int, float, int | None]]) -> list[Knot]:
    """The knots of joints (line, place, rank of what waits), counted in stretches as the database does it."""
    width = NEAR_M / CELLS
    joints = [(line, at, i) for i, (line, at, _) in enumerate(found)]

    def stretch(joint: tuple[int, float, int]) -> tuple[int, int]:
        return joint[0], int(joint[1] / width)

    cells = []
    for (line, _), here in groupby(sorted(joints), key=stretch):
        lying = list(here)
        ids = [i for _, _, i in lying]
        cells.append(Cell(line, lying[0][1], len(lying), min(ids), last=max(ids)))
    waiting = [Waiting(i, line, at, rank) for i, (line, at, rank) in enumerate(found) if rank is not None]
    return folded(cells, waiting, NEAR_M)


@given(places)
def test_every_joint_is_counted_once_on_its_own_line_and_knots_keep_apart(found):
    knots = fold(found)
    counted: Counter[int] = Counter()
    for k in knots:
        counted[k.line] += k.many
        assert 1 <= len(k.named) <= min(NAMED, k.many)
        assert {found[j][0] for j in k.named} == {k.line}
    assert counted == Counter(line for line, _, _ in found)
    for a, b in pairwise(knots):
        assert a.line != b.line or b.at_m - a.at_m >= NEAR_M


@given(places)
def test_what_calls_for_hands_first_is_named_first(found):
    knots = fold(found)
    for k, after in zip(knots, [*knots[1:], None], strict=False):
        end = after.at_m if after and after.line == k.line else float("inf")
        ranks = sorted(r for line, at, r in found if line == k.line and k.at_m <= at < end and r is not None)
        named = [found[j][2] for j in k.named]
        assert [r for r in named if r is not None] == ranks[:NAMED]
        assert named == sorted(named, key=lambda r: (r is None, r))


def test_what_waits_on_a_line_that_was_not_counted_is_left_for_the_next_look():
    assert folded([], [Waiting(1, 5, 10.0, 0)], NEAR_M) == []


def test_where_nothing_waits_the_last_made_is_named():
    assert fold([(1, 10.0, None), (1, 12.0, None), (1, 14.0, None)]) == [Knot(1, 10.0, (2, 0), 3)]
