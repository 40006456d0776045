"""Cores told apart by one person in one walk there and back: how to tie them at both ends, so that what
continuity shows there fits one assignment only."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from tinknot.core.errors import InputError


@dataclass(frozen=True)
class Ties:
    """Cores tied together at the first end, by their numbers from 1 (0 is the known conductor), and at the
    far end, each wire by the place in `first` of the group it was found in."""

    first: tuple[tuple[int, ...], ...]
    second: tuple[tuple[int, ...], ...]


# For these no plan tells every wire by the sizes of its two groups alone; tied like this their graph still
# has no symmetry (tests/core/test_ringing.py goes through every one there could be).
_BY_SHAPE = {
    5: ((1, 2, 2), ((0, 1), (1, 2), (2,))),
    9: ((1, 2, 3, 3), ((0, 2, 3), (1, 2, 3), (1, 2), (3,))),
}


def ties(cores: int, common: bool = False) -> Ties:
    """How to tie `cores` wires. With `common` a conductor is known already, such as a screen.

    Three wires and more need nothing known: each wire is told by how many hang together at either end. Raises
    InputError at `/cores` for one or two without a known conductor: nothing tells their ends apart.

    >>> ties(3)
    Ties(first=((1,), (2, 3)), second=((1,), (0, 1)))
    """
    if cores < 3:
        if not common:
            raise InputError.at(
                "/cores",
                "must be 3 or more where no conductor is known: with one or two, tying tells nothing. Use the"
                " screen or another conductor that is known, or a second person",
            )
        return Ties(((0, 1), (2,))[:cores], ((0,), (1,))[:cores])
    if cores in _BY_SHAPE:
        sizes, second = _BY_SHAPE[cores]
        return Ties(tuple(_numbered(sizes)), second)
    for rows in _counts(cores):
        for columns in _counts(cores):
            if (cells := _table(rows, columns)) is not None:
                return _tied(cells)
    raise AssertionError(f"no way to tie {cores} cores")  # there is one for every number from 3 on


def _numbered(sizes: Sequence[int]) -> Iterator[tuple[int, ...]]:
    start = 1
    for size in sizes:
        yield tuple(range(start, start + size))
        start += size


def _counts(cores: int) -> Iterator[list[int]]:
    """How many wires may lie in groups of size 1, 2, 3 …: of size a a multiple of a; those nearest to the
    even staircase 1, 2, 3 … first."""
    for most in range(1, 2 * cores):
        least = most * (most + 1) // 2
        if least > cores:
            return
        extra = cores - least
        if extra >= least + most:
            continue
        for twice in range(most + 1):
            single = extra - twice
            if single < 0:
                break
            counts = [a * 2 if a == twice else a for a in range(1, most + 1)]
            counts[0] += single
            yield counts


def _table(rows: Sequence[int], columns: Sequence[int]) -> list[list[int]] | None:
    """For every row the columns that its wires lie in, no column twice, so that each column has its count;
    None where there is no such table (Gale and Ryser: the fullest rows first, each in the columns with most
    room)."""
    room = list(columns)
    found: list[list[int]] = [[] for _ in rows]
    for row in sorted(range(len(rows)), key=lambda r: -rows[r]):
        widest = sorted(range(len(room)), key=lambda c: -room[c])[: rows[row]]
        if len(widest) < rows[row] or any(room[c] == 0 for c in widest):
            return None
        for c in widest:
            room[c] -= 1
        found[row] = sorted(widest)
    return found if not any(room) else None


def _tied(cells: Sequence[Sequence[int]]) -> Ties:
    """Groups of a wires out of row a, and of b wires out of column b: no two wires share both sizes."""
    first: list[int] = []
    by_column: dict[int, list[int]] = {}
    for row, columns in enumerate(cells):
        size = row + 1
        for at in range(0, len(columns), size):
            for column in columns[at : at + size]:
                by_column.setdefault(column, []).append(len(first))
            first.append(size)
    second = [
        tuple(groups[at : at + column + 1])
        for column, groups in sorted(by_column.items())
        for at in range(0, len(groups), column + 1)
    ]
    return Ties(tuple(_numbered(first)), tuple(second))
