"""The outside of a moulded part: as it was supplied, and shrunk on."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from tinknot.core.formulas.sleeve import Tube
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.moulded.seat import Mouth, Point, Seat
from tinknot.core.parts.boot import StockBoot

SLICES = 6  # of a body that narrows, as its outside is worked out
GUN_MM = 4.0  # how far off a part the way of the gun is drawn
Line = list[tuple[float, float]]  # (s along its line, outside radius), mm


@dataclass(frozen=True)
class Shape:
    """A part in its seat."""

    part: StockBoot
    seat: Seat

    def tube(self, m: Mouth) -> Tube:
        """A mouth as a sleeve."""
        return self.part.tube(m.opening)

    @property
    def first(self) -> Mouth:
        """The mouth that is shrunk first."""
        return self.seat.mouths[0]

    def covers(self, under: Profile) -> Profile:
        """The outside with the part on: its first mouth, its body from one bore to the other, and its first
        leg's mouth."""
        legs = self.seat.mouths[1:2]
        found = under
        for m in (self.first, *legs):
            found = found.covered(*m.span_mm, self.tube(m).od_mm)
        return self._with_body(found, legs[0].span_mm[0] if legs else self.seat.length_mm)

    def _with_body(self, found: Profile, end: float) -> Profile:
        """With what lies between the first mouth and `end`."""
        for a, b, bore in self._body(self.first.span_mm[1], end):
            found = found.covered(a, b, Tube(bore + 1, bore, self.part.recovered_wall_mm).od_mm)
        return found

    def _body(self, start: float, end: float) -> Iterator[tuple[float, float, float]]:
        """Slices of its body (from, to, bore when free), mm."""
        if end - start < 1e-6:
            return
        first = self.part.openings[0].recovered_id_mm
        last = min((o.recovered_id_mm for o in self.part.openings[1:]), default=first)
        edges = [start + (end - start) * n / SLICES for n in range(SLICES + 1)]
        for n, (a, b) in enumerate(pairwise(edges)):
            yield a, b, first + (last - first) * (n + 0.5) / SLICES

    def outline(self, m: Mouth, whole: bool) -> Line:
        """Its line to a mouth, shrunk on; `whole`: from its first mouth on."""
        over, first = m.under.covered(*m.span_mm, self.tube(m).od_mm), self.first.span_mm
        alone = m.opening == self.first.opening
        if whole and not alone:
            over = over.covered(*first, self.tube(self.first).od_mm)
        over = self._with_body(over, self.seat.length_mm if alone else m.span_mm[0])
        end = self.seat.length_mm if alone and whole else m.span_mm[1]
        start = first[0] if whole else first[1]
        return [(s.x_mm, s.greatest_mm / 2) for s in over.between(start, min(end, over.end_mm)).stations]

    def supplied(self, m: Mouth, whole: bool) -> Line:
        """The same as it was supplied."""
        a, b = self.first.span_mm
        trunk = [(a, self._expanded(0)), (b, self._expanded(0))] if whole else [(b, self._expanded(0))]
        if m.opening == self.first.opening:
            return [*trunk, (self.seat.length_mm, self._expanded(0))]
        return [*trunk, *((s, self._expanded(m.opening)) for s in m.span_mm)]

    def _expanded(self, opening: int) -> float:
        bore = self.part.openings[opening].expanded_id_mm
        return bore / 2 + self.part.tube(opening).wall_mm(bore)

    def route(self, m: Mouth, *places: float) -> tuple[Point, ...]:
        """A way the gun goes along the line of a mouth, a little outside of the part as it was supplied."""
        r = max(y for _, y in self.supplied(m, True)) + GUN_MM
        a, b = min(places), max(places)
        along = m.course.edges([(a, r), (b, r)])["top"]
        return tuple(along if places[0] <= places[-1] else reversed(along))

    def lines(self) -> Iterator[tuple[int, Mouth, Line, Line]]:
        """What it is drawn from: one line from end to end, of several legs the trunk and each leg; each with
        its number, as supplied and shrunk on."""
        legs = self.seat.mouths[1:]
        if len(legs) < 2:
            m = legs[0] if legs else self.first
            yield 0, m, self.supplied(m, True), self.outline(m, True)
            return
        trunk = self.first
        far = trunk.span_mm[1]
        cut = [
            [p for p in line if p[0] <= far]
            for line in (self.supplied(trunk, True), self.outline(trunk, True))
        ]
        yield 0, trunk, cut[0], cut[1]
        for n, m in enumerate(legs, 1):
            yield n, m, self.supplied(m, False), self.outline(m, False)
