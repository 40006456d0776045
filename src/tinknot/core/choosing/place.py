"""Where connectors stand: staggered core lengths and the least gap between the sheath cuts."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations, product

from tinknot.core.errors import InputError
from tinknot.core.tolerance import at_least

MOST_TRIED = 7  # groups of which every dealing is looked at
MOST_SWAPS = 400  # dealings looked at where there are more


@dataclass(frozen=True, kw_only=True)
class Group:
    """Cores joined side by side at one place, all alike; lengths in mm. `connector_mm`: the connector made;
    `covered_mm`: what their sleeves cover; `supplied_mm`: how long a sleeve is while it is parked;
    `strip_mm`: bare conductor; `keep_away_mm`: from the heat of joining to a parked sleeve; `sides`: where
    the sleeves may wait, `a`, `b` or both."""

    members: int = 1
    connector_mm: float
    covered_mm: float
    supplied_mm: float = 0.0
    strip_mm: float = 0.0
    keep_away_mm: float = 0.0
    butt_gap_mm: float = 0.0
    sides: str = "ab"

    @property
    def takes_mm(self) -> float:
        """The stretch it takes along the joint."""
        return max(self.covered_mm, self.connector_mm)

    @property
    def reach_mm(self) -> float:
        """How far its connector lies at least from the sheath cut its sleeves wait at."""
        return self.strip_mm + self.supplied_mm + self.keep_away_mm + self.butt_gap_mm / 2


@dataclass(frozen=True)
class Place:
    """Where a group stands: its place from A (0 is the first), its connectors' centre from the A sheath cut,
    the length of its cores on A and B, mm."""

    position: int
    centre_mm: float
    cut_a_mm: float
    cut_b_mm: float


@dataclass(frozen=True)
class Placing:
    """The gap between the sheath cuts in mm, and where each group stands, in the order they were given."""

    gap_mm: float
    places: tuple[Place, ...]


Dealing = tuple[int, ...]  # each group's place
# most cores at one place, gap, shift toward B, how far from dealing in turn
Worth = tuple[int, float, float, Dealing]


def place(groups: Sequence[Group], *, steps: int, clear_core_mm: float, between_mm: float) -> Placing:
    """Groups dealt to `steps` places along the joint, `between_mm` apart with clear core outside, all in mm.

    The fewest cores side by side at the fullest place come first, then the least gap, then what lies nearest
    to A, then dealing in turn. Each place is as long as its longest group; the longer side of every group
    (of those it may park on) reaches far enough for strip, parked sleeve and keep-away. Up to seven groups
    every dealing is looked at; of more, a good one is bettered by swaps. Raises InputError when there are
    more places than groups, a group may park nowhere, or a cut would be negative.
    Source: domain 6 and 23 (groups stay together); equal groups are `stagger`.

    >>> pair = Group(members=2, connector_mm=30, covered_mm=60)
    >>> place([pair, pair], steps=2, clear_core_mm=15, between_mm=5).gap_mm
    155.0
    """
    if not 1 <= steps <= len(groups):
        raise InputError.at("/steps", f"must be from 1 to the number of groups, {len(groups)}")
    for n, g in enumerate(groups):
        if not set(g.sides) & {"a", "b"}:
            raise InputError.at(f"/groups/{n}/sides", "must name a side to park on, a or b")
    table = _Table(groups, steps, clear_core_mm, between_mm)
    (_, gap, shift, _), best = min((table.worth(dealing), dealing) for dealing in table.tried())
    centres = table.centres(best)
    found = []
    for g, position in zip(groups, best, strict=True):
        x = centres[position] + shift
        cut_a, cut_b = _cuts(gap, x, g.butt_gap_mm)
        if cut_a < 0 or cut_b < 0:
            raise InputError.at("/butt_gap_mm", "is so wide that a core would have no length left")
        found.append(Place(position, float(x), cut_a, cut_b))
    return Placing(float(gap), tuple(found))


class _Table:
    """The dealings of groups to places, and what each is worth."""

    def __init__(self, groups: Sequence[Group], steps: int, clear: float, between: float) -> None:
        self.groups, self.steps, self.clear, self.between = groups, steps, clear, between
        self.in_turn: Dealing = tuple(n % steps for n in range(len(groups)))

    def tried(self) -> Iterator[Dealing]:
        """The dealings to choose from."""
        if len(set(self.groups)) == 1:
            yield self.in_turn
        elif len(self.groups) <= MOST_TRIED:
            everywhere = range(self.steps)
            for dealing in product(everywhere, repeat=len(self.groups)):
                if len(set(dealing)) == self.steps:
                    yield dealing
        else:
            yield self._bettered(self._by_length())

    def _by_length(self) -> Dealing:
        """Groups of like lengths share a place, the places about equally full."""
        order = sorted(range(len(self.groups)), key=lambda n: (-self.groups[n].takes_mm, n))
        full = sum(g.members for g in self.groups) / self.steps
        found, position, held = [0] * len(order), 0, 0
        for left, n in zip(range(len(order), 0, -1), order, strict=True):
            must_move = left <= self.steps - 1 - position
            if held and position < self.steps - 1 and (must_move or held + self.groups[n].members / 2 > full):
                position, held = position + 1, 0
            found[n] = position
            held += self.groups[n].members
        return tuple(found)

    def _bettered(self, dealing: Dealing) -> Dealing:
        """Two groups change places, or one moves, as long as it helps."""
        best, worth, left = dealing, self.worth(dealing), MOST_SWAPS
        found = True
        while found:
            found = False
            for other in self._near(best):
                left -= 1
                if left < 0:
                    return best
                if (w := self.worth(other)) < worth:
                    best, worth, found = other, w, True
                    break
        return best

    def _near(self, dealing: Dealing) -> Iterator[Dealing]:
        for i, j in combinations(range(len(dealing)), 2):
            if dealing[i] != dealing[j] and self.groups[i] != self.groups[j]:
                swapped = list(dealing)
                swapped[i], swapped[j] = swapped[j], swapped[i]
                yield tuple(swapped)
        for i, p in enumerate(dealing):
            if dealing.count(p) > 1:
                yield from ((*dealing[:i], q, *dealing[i + 1 :]) for q in range(self.steps) if q != p)

    def _lengths(self, dealing: Dealing) -> list[float]:
        found = [0.0] * self.steps
        for g, p in zip(self.groups, dealing, strict=True):
            found[p] = max(found[p], g.takes_mm)
        return found

    def centres(self, dealing: Dealing) -> list[float]:
        """The middle of each place from the A sheath cut, mm, before anything is shifted."""
        lengths, found, start = self._lengths(dealing), [], self.clear
        for length in lengths:
            found.append(start + length / 2)
            start += length + self.between
        return found

    def worth(self, dealing: Dealing) -> Worth:
        """What comes first is less."""
        side_by_side = [0] * self.steps
        for g, p in zip(self.groups, dealing, strict=True):
            side_by_side[p] += g.members
        lengths, centres = self._lengths(dealing), self.centres(dealing)
        room = sum(lengths) + (self.steps - 1) * self.between + 2 * self.clear
        bases = {(centres[p], g.reach_mm, g.sides) for g, p in zip(self.groups, dealing, strict=True)}
        shifts = {0.0, *(reach - x for x, reach, _ in bases if reach > x)}
        gap, shift = min((round(_gap(room, bases, d), 9), d) for d in shifts)
        apart = tuple((p - q) % self.steps for p, q in zip(dealing, self.in_turn, strict=True))
        return max(side_by_side), gap, shift, apart


def _gap(room: float, bases: set[tuple[float, float, str]], shift: float) -> float:
    """The least gap with every place moved `shift` toward B; infinite where a group has no side."""
    least = room + shift
    for x, reach, sides in bases:
        if "a" in sides and at_least(x + shift, reach):
            continue
        if "b" not in sides:
            return float("inf")
        least = max(least, reach + x + shift)
    return least


@dataclass(frozen=True)
class CoreCut:
    """One core (numbered from 1): its connector's centre from the A sheath cut, its length on A and B, in
    mm."""

    core: int
    centre_mm: float
    cut_a_mm: float
    cut_b_mm: float


@dataclass(frozen=True)
class Stagger:
    """The gap between the sheath cuts in mm, and every core's lengths; cut_a + cut_b is the same for all."""

    gap_mm: float
    cores: tuple[CoreCut, ...]


def stagger(
    cores: int,
    connector_length_mm: float,
    core_sleeve_length_mm: float,
    *,
    clear_core_mm: float,
    between_mm: float,
    butt_gap_mm: float,
    steps: int,
    side_needed_mm: float,
) -> Stagger:
    """The least gap for `cores` joined in `steps` positions, all lengths in mm: `place` with equal groups.

    Each position takes S, the larger of sleeve and connector, `between_mm` apart, with clear core
    outside; and every core's longer side must reach `side_needed_mm` (strip + parked sleeve +
    keep-away), so that its sleeve can be parked on it. Among equal gaps the one nearest to A.
    Raises InputError when there are more steps than cores, or a cut would be negative.
    Source: domain 6, stated in the contract's notes on `stagger`.

    >>> s = stagger(1, 38, 90, clear_core_mm=15, between_mm=5, butt_gap_mm=0, steps=1, side_needed_mm=125)
    >>> s.gap_mm, s.cores[0].centre_mm
    (185.0, 60.0)
    """
    if steps > cores:
        raise InputError.at("/steps", f"must be at most the number of cores, {cores}")
    core = Group(
        connector_mm=connector_length_mm,
        covered_mm=core_sleeve_length_mm,
        strip_mm=side_needed_mm,
        butt_gap_mm=butt_gap_mm,
    )
    found = place([core] * cores, steps=steps, clear_core_mm=clear_core_mm, between_mm=between_mm)
    cuts = (CoreCut(n, p.centre_mm, p.cut_a_mm, p.cut_b_mm) for n, p in enumerate(found.places, 1))
    return Stagger(found.gap_mm, tuple(cuts))


def place_cores(gap_mm: float, centres_mm: Sequence[float], butt_gap_mm: float) -> Stagger:
    """The cuts that follow from a gap and centres already settled, for instance by work that is done."""
    cores = (CoreCut(n, x, *_cuts(gap_mm, x, butt_gap_mm)) for n, x in enumerate(centres_mm, 1))
    return Stagger(gap_mm, tuple(cores))


def _cuts(gap_mm: float, centre_mm: float, butt_gap_mm: float) -> tuple[float, float]:
    """A core's lengths on A and B, joined at a centre, mm."""
    return centre_mm - butt_gap_mm / 2, gap_mm - centre_mm - butt_gap_mm / 2
