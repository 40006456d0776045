"""How the cores of a unit lie in the drawing: straight beside their splices, twisted outside."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from math import ceil, cos, pi, sin

from tinknot.core.drawing.model import Point
from tinknot.core.families.screened.layout import Layout, untwisted

PARTS_OF_LAY = 8  # points along one turn; a part of two of them lies before or behind as a whole


@dataclass(frozen=True)
class Stretch:
    """A part of a core as it is drawn: its line, [x, y] in mm, and how near it lies to the eye."""

    line: list[Point]
    depth_mm: float


@dataclass(frozen=True)
class Twist:
    """Lay of every unit, mm, and how many of them may stay untwisted beside the splices."""

    lay_mm: float
    lays_left: float

    def parts(self, layout: Layout, unit: str, places: Sequence[Point], n: int) -> Iterator[Stretch]:
        """Core `n` of a unit whose cores lie at `places` (depth, y) beside its splices: there straight,
        outside round the unit's middle, once in a lay."""
        half = layout.gap_mm / 2
        start, end = untwisted(layout, unit, self.lay_mm, self.lays_left)
        depth, y = places[n]
        yield Stretch([(start, y), (end, y)], depth)
        mid = [sum(p[i] for p in places) / len(places) for i in (0, 1)]

        def at(x: float, foot: float) -> Point:
            turn = 2 * pi * (x - foot) / self.lay_mm
            off, up = depth - mid[0], y - mid[1]
            return mid[0] + off * cos(turn) - up * sin(turn), mid[1] + off * sin(turn) + up * cos(turn)

        for a, b, foot in ((-half, start, start), (end, half, end)):
            parts = ceil((b - a) / (self.lay_mm / PARTS_OF_LAY) - 1e-9)
            xs = [a + (b - a) * i / parts for i in range(parts + 1)] if parts else []
            for x1, x2 in pairwise(xs):
                (d1, y1), (d2, y2) = at(x1, foot), at(x2, foot)
                yield Stretch([(x1, y1), (x2, y2)], (d1 + d2) / 2)
