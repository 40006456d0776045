"""Where parts wait, out of the way, until they are slid into place."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from tinknot.core.errors import InputError
from tinknot.core.tolerance import at_most, short_by

Side = Literal["a", "b", "either"]
MOST_PLACINGS = 200_000


@dataclass(frozen=True)
class ParkItem:
    """A part to thread on: its length in mm, the tail it may wait on, and its turn (1 = seated first)."""

    id: str
    length_mm: float
    on: Side
    order: int


@dataclass(frozen=True)
class Parking:
    """Ids on both tails in threading order (first threaded lies furthest from the joint), lengths in mm."""

    a: tuple[str, ...]
    b: tuple[str, ...]
    used_a_mm: float
    used_b_mm: float
    fits: bool
    over_a_mm: float
    over_b_mm: float


def park(
    items: Sequence[ParkItem], free_a_mm: float, free_b_mm: float, *, between_mm: float, keep_away_mm: float
) -> Parking:
    """The best placing of `items` on two tails with `free_a_mm` and `free_b_mm` to spare.

    Used = lengths + between × (n − 1) + keep-away, for a side that holds anything. Of the placings
    that fit, the most even one, then the smallest list of ids on A; when none fits, the one that
    overruns least. Every different (count, length) on A is followed once, which is exact; raises
    InputError where there would be too many to follow.
    """
    threading = sorted(items, key=lambda item: -item.order)
    total, count = sum(i.length_mm for i in items), len(items)

    def used(length: float, n: int) -> float:
        return length + between_mm * (n - 1) + keep_away_mm if n else 0.0

    # (pieces on A, length on A) → the smallest list of ids on A that gives it
    states: dict[tuple[int, float], tuple[str, ...]] = {(0, 0.0): ()}
    for item in threading:
        longer = {(n + 1, round(x + item.length_mm, 9)): (*ids, item.id) for (n, x), ids in states.items()}
        if item.on == "a":
            states = longer
        elif item.on == "either":
            for key, ids in longer.items():
                states[key] = min(ids, states.get(key, ids))
        if len(states) > MOST_PLACINGS:
            raise InputError.at(
                "/items", "leave too many placings open; say `a` or `b` for some of the parts"
            )

    def placing(entry: tuple[tuple[int, float], tuple[str, ...]]) -> Parking:
        (n, x), on_a = entry
        a, b = used(x, n), used(total - x, count - n)
        over_a, over_b = short_by(free_a_mm, a), short_by(free_b_mm, b)
        chosen = set(on_a)
        on_b = tuple(i.id for i in threading if i.id not in chosen)
        fits = at_most(a, free_a_mm) and at_most(b, free_b_mm)
        return Parking(on_a, on_b, a, b, fits, over_a, over_b)

    def worth(p: Parking) -> tuple[float, float, tuple[str, ...]]:
        return (round(p.over_a_mm + p.over_b_mm, 9), round(abs(p.used_a_mm - p.used_b_mm), 9), p.a)

    return min((placing(entry) for entry in states.items()), key=worth)
