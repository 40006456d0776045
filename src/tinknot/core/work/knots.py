"""Where joints stand along their lines when not every one of them can be shown: those that lie near each
other are one knot, named by what waits for hands first."""

from bisect import bisect_right
from collections.abc import Iterable, Sequence
from typing import NamedTuple

NEAR = 0.09  # of the longest line: nearer than this, two names would lie on each other
CELLS = 4  # a stretch that short is counted as one
NAMED = 2  # joints a knot names


class Cell(NamedTuple):
    """A short stretch of a line: how many joints lie in it, from where on, the first and the last made."""

    line: int
    at_m: float
    many: int
    first: int
    last: int


class Waiting(NamedTuple):
    """A joint that waits for hands; `rank`: which is named first where there are several."""

    joint: int
    line: int
    at_m: float
    rank: int


class Knot(NamedTuple):
    """Joints that are shown as one: `named` by their ids, and how many there are in all."""

    line: int
    at_m: float
    named: tuple[int, ...]
    many: int


def folded(cells: Iterable[Cell], waiting: Iterable[Waiting], near_m: float) -> list[Knot]:
    """The knots of all lines, along each line. `cells` in the order of lines and places; `waiting` those of
    their joints that wait for hands. Knots begin at least `near_m` apart."""
    groups: dict[int, list[list[Cell]]] = {}
    for cell in cells:
        line = groups.setdefault(cell.line, [])
        if line and cell.at_m - line[-1][0].at_m < near_m:
            line[-1].append(cell)
        else:
            line.append([cell])
    starts = {line: [g[0].at_m for g in found] for line, found in groups.items()}
    here: dict[tuple[int, int], list[Waiting]] = {}
    for w in waiting:
        here.setdefault((w.line, bisect_right(starts.get(w.line, ()), w.at_m) - 1), []).append(w)
    return [
        Knot(line, group[0].at_m, _named(group, here.get((line, i), [])), sum(c.many for c in group))
        for line, found in groups.items()
        for i, group in enumerate(found)
    ]


def _named(group: Sequence[Cell], waiting: Sequence[Waiting]) -> tuple[int, ...]:
    """What waits first; where that is not enough, what was made last."""
    first = [w.joint for w in sorted(waiting, key=lambda w: (w.rank, w.at_m, w.joint))]
    rest = sorted({x for c in group for x in (c.first, c.last)}, reverse=True)
    return tuple(dict.fromkeys((*first, *rest)))[:NAMED]
