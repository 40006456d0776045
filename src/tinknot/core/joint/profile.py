"""The outside of what is there, along the axis: the one thing every layer reads and writes."""

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import cache, cached_property
from itertools import accumulate, pairwise
from typing import NamedTuple

from tinknot.core.effort import spend
from tinknot.core.formulas.flat import flat_girth_mm, girth_to_diameter_mm
from tinknot.core.formulas.hull import side_by_side_mm
from tinknot.core.formulas.sleeve import Points


class Station(NamedTuple):
    """The outside at one place, mm: greatest and least diameter, or width and thickness where it is flat."""

    x_mm: float
    greatest_mm: float
    least_mm: float
    flat: bool = False

    @property
    def girth_od_mm(self) -> float:
        """The circle of the same girth."""
        return girth_to_diameter_mm(flat_girth_mm(self.greatest_mm, self.least_mm))

    def passed_mm(self, stiff: bool = False) -> float:
        """What a part must pass here: the greatest; a limp sleeve passes a flat cable by its girth."""
        return self.girth_od_mm if self.flat and not stiff else self.greatest_mm

    @property
    def gripped_mm(self) -> float:
        """What a part must grip here: the least; by the girth on a flat cable."""
        return self.girth_od_mm if self.flat else self.least_mm

    def grown(self, outside: Callable[[float], float]) -> "Station":
        """With a layer on it that makes `outside(diameter)` of each diameter; flat things stay flat."""
        if not self.flat:
            return Station(self.x_mm, outside(self.greatest_mm), outside(self.least_mm))
        more = outside(self.girth_od_mm) - self.girth_od_mm
        return Station(self.x_mm, self.greatest_mm + more, self.least_mm + more, True)


@dataclass(frozen=True)
class Profile:
    """Stations rising in x, linear between; two stations at one x are a step."""

    stations: tuple[Station, ...]

    @classmethod
    def of_stretches(
        cls, stretches: Iterable[tuple[float, float, float, float]], flat: bool = False
    ) -> "Profile":
        """From (from x, to x, greatest, least) one after the other, each of one diameter or flat shape."""
        spend()
        points: list[Station] = []
        for x1, x2, greatest, least in stretches:
            if x2 - x1 > 1e-9:
                points += [Station(x1, greatest, least, flat), Station(x2, greatest, least, flat)]
        return cls(tuple(points))

    @property
    def start_mm(self) -> float:
        """Where it begins."""
        return self.stations[0].x_mm

    @property
    def end_mm(self) -> float:
        """Where it ends."""
        return self.stations[-1].x_mm

    def edges(self) -> list[float]:
        """Every x at which something changes."""
        return sorted({s.x_mm for s in self.stations})

    @cached_property
    def _xs(self) -> list[float]:
        return [s.x_mm for s in self.stations]

    def between(self, x1: float, x2: float) -> "Profile":
        """The part from x1 to x2."""
        inside = self.stations[bisect_right(self._xs, x1) : bisect_left(self._xs, x2)]
        return Profile((self.at(x1, "right"), *inside, self.at(x2, "left")))

    def at(self, x: float, side: str = "right") -> Station:
        """The station at x; at a step, what lies to its right or to its left."""
        after = bisect_right(self._xs, x) if side == "right" else bisect_left(self._xs, x)
        if not 0 < after < len(self.stations):
            s = self.stations[0] if x <= self.start_mm else self.stations[-1]
            return Station(x, s.greatest_mm, s.least_mm, s.flat)
        p, q = self.stations[after - 1], self.stations[after]
        if p.greatest_mm == q.greatest_mm and p.least_mm == q.least_mm:
            return Station(x, p.greatest_mm, p.least_mm, p.flat and q.flat)
        t = (x - p.x_mm) / (q.x_mm - p.x_mm)
        return Station(
            x,
            p.greatest_mm + t * (q.greatest_mm - p.greatest_mm),
            p.least_mm + t * (q.least_mm - p.least_mm),
            p.flat and q.flat,
        )

    def greatest(self) -> float:
        """The greatest diameter or width anywhere."""
        return max(s.greatest_mm for s in self.stations)

    def passed(self, stiff: bool = False) -> float:
        """The most a part must pass anywhere."""
        return max(s.passed_mm(stiff) for s in self.stations)

    def least(self) -> float:
        """The least diameter anywhere."""
        return min(s.least_mm for s in self.stations)

    def covered(self, x1: float, x2: float, outside: Callable[[float], float]) -> "Profile":
        """The profile with a layer over x1 to x2 that makes `outside(diameter)` of each diameter."""
        spend(5 + len(self.stations))
        outside = cache(outside)  # most stations share their diameters
        over = [s.grown(outside) for s in self.between(x1, x2).stations]
        before = self.between(self.start_mm, x1).stations if x1 > self.start_mm else ()
        after = self.between(x2, self.end_mm).stations if x2 < self.end_mm else ()
        return Profile((*before, *over, *after))

    def moved(self, by_mm: float) -> "Profile":
        """The same further along the axis."""
        return Profile(tuple(s._replace(x_mm=s.x_mm + by_mm) for s in self.stations))

    def points(self, which: str = "greatest") -> Points:
        """[x, od] pairs, by the greatest or the least diameter."""
        return tuple((s.x_mm, s.greatest_mm if which == "greatest" else s.gripped_mm) for s in self.stations)


def beside(tracks: Sequence[Profile]) -> Profile:
    """Tracks side by side as one flat thing: a stiff sleeve passes it by its width, a limp one by the girth
    of the tight string round it."""
    stretches = []
    for x1, x2, here in _stretch_by_stretch(tracks):
        widths = [s.greatest_mm for s in here]
        ends = accumulate(widths)
        laid = [(end - w / 2, w, w) for end, w in zip(ends, widths, strict=True)]
        stretches.append((x1, x2, *side_by_side_mm(laid)))
    return Profile.of_stretches(stretches, flat=True)


def merged(tracks: Sequence[Profile], round_of: Callable[[tuple[float, ...]], float]) -> Profile:
    """Tracks side by side as one bundle: at each station the circle round all of them."""
    return Profile.of_stretches(
        (x1, x2, round_of(tuple(s.greatest_mm for s in here)), round_of(tuple(s.least_mm for s in here)))
        for x1, x2, here in _stretch_by_stretch(tracks)
    )


def _stretch_by_stretch(tracks: Sequence[Profile]) -> Iterator[tuple[float, float, list[Station]]]:
    """From where to where nothing changes, and the middle station of each track there."""
    xs = sorted({x for t in tracks for x in t.edges()})
    for x1, x2 in pairwise(xs):
        yield x1, x2, [t.at((x1 + x2) / 2) for t in tracks]
