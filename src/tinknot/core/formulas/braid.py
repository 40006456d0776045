"""A braided screen: its angle and coverage as it lies, and what becomes of it over another diameter."""

from dataclasses import dataclass
from math import asin, cos, degrees, hypot, pi, sin, sqrt

from tinknot.core.tolerance import at_least, at_most


@dataclass(frozen=True)
class Lay:
    """How a braid lies: its angle to the axis in degrees, the share of the surface it covers in %, and the
    axial length of one turn of a carrier in mm."""

    angle_deg: float
    coverage_pct: float
    lay_mm: float


@dataclass(frozen=True)
class Braid:
    """A braid of `carriers` (half of them each way round) with `ends` strands of `strand_mm`, made over
    `under_mm` with a lay of `lay_mm`; lengths in mm.

    >>> braid = Braid(24, 7, 0.15, 7, 40)
    >>> round(braid.as_made.coverage_pct, 1), round(braid.over(10).coverage_pct, 1)
    (86.6, 79.4)
    >>> round(braid.length_factor(10), 3), round(braid.most_under_mm, 2)
    (0.821, 13.77)
    """

    carriers: int
    ends: int
    strand_mm: float
    under_mm: float
    lay_mm: float

    @property
    def thickness_mm(self) -> float:
        """Two strands cross everywhere."""
        return 2 * self.strand_mm

    @property
    def strand_per_turn_mm(self) -> float:
        """Strand of one turn: it stays when the braid is pushed over another diameter."""
        return hypot(self._round(self.under_mm), self.lay_mm)

    @property
    def as_made(self) -> Lay:
        """Over the diameter it was made on."""
        return self._lay(self.under_mm, self.lay_mm)

    def over(self, under_mm: float) -> Lay:
        """Over another diameter. Raises ValueError outside `least_under_mm` to `most_under_mm`."""
        if not self.reaches(under_mm):
            raise ValueError(under_mm)
        rest = self.strand_per_turn_mm**2 - self._round(under_mm) ** 2
        return self._lay(under_mm, sqrt(max(0.0, rest)))

    def thinnest(self, least_mm: float, greatest_mm: float) -> tuple[float, float]:
        """Where it covers least of all it lies on between two diameters, mm: that diameter, and what it
        covers there, %. Its gaps are widest at 45°; what is thinner than it closes on, it lies on as on the
        least it closes on. Raises ValueError where it does not reach the greatest.

        >>> braid = Braid(24, 7, 0.15, 7, 40)
        >>> [round(x, 1) for x in braid.thinnest(7, 10)], round(braid.thinnest(9, 13)[0], 1)
        ([10, 79.4], 10.1)
        """
        widest = self._under(sqrt(0.5))
        found = {max(d, self.least_under_mm) for d in (least_mm, greatest_mm)}
        if min(found) < widest < max(found):
            found.add(widest)
        coverage, at = min((self.over(d).coverage_pct, d) for d in found)
        return at, coverage

    def length_factor(self, under_mm: float) -> float:
        """Its axial length over another diameter, as a share of what it had."""
        return self.over(under_mm).lay_mm / self.lay_mm

    def reaches(self, under_mm: float) -> bool:
        """Whether it can be pushed over a diameter without jamming."""
        if self.jam is None:
            return False
        return at_least(under_mm, self.least_under_mm) and at_most(under_mm, self.most_under_mm)

    @property
    def jam(self) -> float | None:
        """The angle (rad) at which its carriers close up when it is made longer; 90° minus that when it is
        widened. None for one that is closed up at every angle: F·sin 2α stays, and is 1 there (F = 1)."""
        angle = asin(self._round(self.under_mm) / self.strand_per_turn_mm)
        closed = self._one_way(angle) * sin(2 * angle)
        return asin(min(1.0, closed)) / 2 if at_most(closed, 1.0) else None

    @property
    def least_under_mm(self) -> float:
        """The least diameter it closes on before it jams, mm."""
        return self._under(sin(self.jam or 0.0))

    @property
    def most_under_mm(self) -> float:
        """The greatest diameter it goes over before it jams, mm."""
        return self._under(cos(self.jam or 0.0))

    def _under(self, sine: float) -> float:
        return self.strand_per_turn_mm * sine / pi - self.thickness_mm

    def _round(self, under_mm: float) -> float:
        """Once round at its mean diameter Dm = D + 2d, mm."""
        return pi * (under_mm + self.thickness_mm)

    def _one_way(self, angle: float) -> float:
        """What the carriers of one direction cover, F = C·N·d / (2π·Dm·cos α) with π·Dm = s·sin α."""
        wide = self.strand_per_turn_mm * sin(angle)
        return self.carriers * self.ends * self.strand_mm / (2 * wide * cos(angle))

    def _lay(self, under_mm: float, lay_mm: float) -> Lay:
        angle = asin(min(1.0, self._round(under_mm) / self.strand_per_turn_mm))
        one_way = self._one_way(angle) if lay_mm > 0 else 1.0
        coverage = 100.0 if at_least(one_way, 1.0) else 100 * (2 * one_way - one_way**2)
        return Lay(degrees(angle), coverage, lay_mm)
