"""The outside of a moulded part: as it was supplied, and shrunk on."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from tinknot.core.formulas.sleeve import Tube
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.moulded.seat import Mouth, Point, Seat
from tinknot.core.parts.boot import StockBoot

SLICES = 6  # of a body that narrows, as its outside is worked out
PARTS = 0.6  # of its body, from the first mouth, after which its legs are drawn apart
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
        return self._with_body(found, legs[0].span_mm[0] if legs else self.seat.end_mm)

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
        """Its line to a mouth, shrunk on; `whole`: from its first mouth on, else from where its legs part."""
        over = m.under.covered(*m.span_mm, self.tube(m).od_mm)
        first, body = self.first.span_mm, self.part.body_mm
        if m.opening == self.first.opening:
            mouth = _radii(over, *first)
            return [*mouth, (self.seat.end_mm, mouth[-1][1])] if whole and body else mouth
        leg = _radii(over, *m.span_mm)
        if not whole:
            return [(first[1] + PARTS * body, leg[0][1]), *leg]
        mouth = _radii(m.under.covered(*first, self.tube(self.first).od_mm), *first)
        return [*mouth, *self._between(m, mouth[-1], leg[0]), *leg]

    def _between(
        self, m: Mouth, start: tuple[float, float], end: tuple[float, float]
    ) -> Iterator[tuple[float, float]]:
        """What its body goes over between two mouths, where that stands out beyond the line from one to the
        other."""
        (a, r1), (b, r2) = start, end
        for st in m.under.between(a, b).stations:
            r = st.greatest_mm / 2 + self.part.recovered_wall_mm / 2
            if a < st.x_mm < b and r > r1 + (r2 - r1) * (st.x_mm - a) / (b - a):
                yield st.x_mm, r

    def supplied(self, m: Mouth, whole: bool) -> Line:
        """The same as it was supplied."""
        a, b = self.first.span_mm
        trunk = [(a, self._expanded(0)), (b, self._expanded(0))]
        if m.opening == self.first.opening:
            return [*trunk, (self.seat.end_mm, self._expanded(0))] if whole else trunk
        leg = [(s, self._expanded(m.opening)) for s in m.span_mm]
        return [*trunk, *leg] if whole else [(b + PARTS * self.part.body_mm, leg[0][1]), *leg]

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
        parts = self.first.span_mm[1] + PARTS * self.part.body_mm
        trunk = []
        for line, of in (
            (self.supplied(self.first, False), self.supplied),
            (self.outline(self.first, False), self.outline),
        ):
            hull = max(abs(m.course.height(parts)) + of(m, False)[0][1] for m in legs)
            trunk.append([*line, (parts, hull)])
        yield 0, self.first, trunk[0], trunk[1]
        for n, m in enumerate(legs, 1):
            yield n, m, self.supplied(m, False), self.outline(m, False)


def _radii(over: Profile, a: float, b: float) -> Line:
    return [(s.x_mm, s.greatest_mm / 2) for s in over.between(a, b).stations]
