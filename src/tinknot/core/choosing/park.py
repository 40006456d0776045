"""Where parts wait, out of the way, until they are slid into place."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
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
class Tail:
    """Ids on one tail in threading order, and what they take of what is free there, mm."""

    ids: tuple[str, ...]
    used_mm: float
    free_mm: float

    @property
    def over_mm(self) -> float:
        """What it lacks, mm; 0 when all fits."""
        return short_by(self.free_mm, self.used_mm)


@dataclass(frozen=True)
class Parking:
    """Ids on both tails in threading order (first threaded lies furthest from the joint), lengths in mm;
    `more`: the tails of further ends, such as a tee's third leg."""

    a: tuple[str, ...]
    b: tuple[str, ...]
    used_a_mm: float
    used_b_mm: float
    fits: bool
    over_a_mm: float
    over_b_mm: float
    more: Mapping[str, Tail] = field(default_factory=dict)

    def with_more(self, more: Mapping[str, Tail]) -> "Parking":
        """The same, with the tails of further ends; it fits when those do too."""
        return replace(self, more=more, fits=self.fits and not any(t.over_mm for t in more.values()))

    def used_mm(self) -> dict[str, float]:
        """By end, what each tail takes of what is free there, mm."""
        return {"A": self.used_a_mm, "B": self.used_b_mm} | {e: t.used_mm for e, t in self.more.items()}

    def short(self) -> dict[str, float]:
        """By end, what each tail that is too short lacks, mm."""
        lacks = {"A": self.over_a_mm, "B": self.over_b_mm} | {e: t.over_mm for e, t in self.more.items()}
        return {end: mm for end, mm in lacks.items() if mm}


def used_mm(length_mm: float, count: int, *, between_mm: float, keep_away_mm: float) -> float:
    """What `count` parts of `length_mm` in all take of a tail, mm: with what is between them, and what they
    keep away from the joint; 0 where nothing is threaded."""
    return length_mm + between_mm * (count - 1) + keep_away_mm if count else 0.0


def tail(items: Sequence[ParkItem], free_mm: float, *, between_mm: float, keep_away_mm: float) -> Tail:
    """The tail of an end on which only its own parts wait, mm."""
    threading = sorted(items, key=lambda item: -item.order)
    length = sum(i.length_mm for i in items)
    used = used_mm(length, len(items), between_mm=between_mm, keep_away_mm=keep_away_mm)
    return Tail(tuple(i.id for i in threading), used, free_mm)


def park(
    items: Sequence[ParkItem],
    free_a_mm: float,
    free_b_mm: float,
    *,
    between_mm: float,
    keep_away_mm: float,
    keep_away_b_mm: float | None = None,
) -> Parking:
    """The best placing of `items` on two tails with `free_a_mm` and `free_b_mm` to spare.

    Used = lengths + between × (n − 1) + keep-away, for a side that holds anything; `keep_away_b_mm` where
    it is another one on B. Of the placings
    that fit, the most even one, then the smallest list of ids on A; when none fits, the one that
    overruns least. Every different (count, length) on A is followed once, which is exact; raises
    InputError where there would be too many to follow.
    """
    threading = sorted(items, key=lambda item: -item.order)
    total, count = sum(i.length_mm for i in items), len(items)
    away_b = keep_away_mm if keep_away_b_mm is None else keep_away_b_mm

    def used(length: float, n: int, away: float) -> float:
        return used_mm(length, n, between_mm=between_mm, keep_away_mm=away)

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
        a, b = used(x, n, keep_away_mm), used(total - x, count - n, away_b)
        over_a, over_b = short_by(free_a_mm, a), short_by(free_b_mm, b)
        chosen = set(on_a)
        on_b = tuple(i.id for i in threading if i.id not in chosen)
        fits = at_most(a, free_a_mm) and at_most(b, free_b_mm)
        return Parking(on_a, on_b, a, b, fits=fits, over_a_mm=over_a, over_b_mm=over_b)

    def worth(p: Parking) -> tuple[float, float, tuple[str, ...]]:
        return (round(p.over_a_mm + p.over_b_mm, 9), round(abs(p.used_a_mm - p.used_b_mm), 9), p.a)

    return min((placing(entry) for entry in states.items()), key=worth)
