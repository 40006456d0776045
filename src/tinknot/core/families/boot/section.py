"""The drawing of a moulded part: what it goes on, what makes it tight, the part as supplied and shrunk on."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from tinknot.core.drawing.loop import covers, draw, widest
from tinknot.core.drawing.model import Body, Circle, Dimension, Section
from tinknot.core.families.boot.solution import BootSolution
from tinknot.core.families.moulded.looks import LOOKS
from tinknot.core.families.moulded.place import BEYOND_MM
from tinknot.core.layers.moulded.seat import Mouth, Seat


@dataclass(frozen=True)
class Beneath:
    """What the part goes on, along the line of one of its mouths, from `from_mm` on; `far`: the end its last
    stretch is of."""

    mouth: Mouth
    kinds: tuple[tuple[float, str], ...]
    from_mm: float
    to_mm: float
    far: str = "A"

    def bodies(self) -> Iterator[Body]:
        """Fitting, cable, legs."""
        edges = [x for x, _ in self.kinds]
        for n, (start, kind) in enumerate(self.kinds):
            a = max(start, self.from_mm)
            b = min(edges[n + 1] if n + 1 < len(edges) else self.to_mm, self.to_mm)
            if b - a < 1e-6:
                continue
            line = [(s.x_mm, s.greatest_mm / 2) for s in self.mouth.under.between(a, b).stations]
            yield Body(
                id=f"{self.mouth.opening}-{n}-{kind}",
                kind=kind,
                end="" if kind != "sheath" else self.far if n else "A",
                depth_mm=-90 + n + self.mouth.opening / 10,
                **self.mouth.course.edges(line),
            )

    def rings(self, x: float) -> Iterator[Circle]:
        """Round, where its line lies along the joint's axis."""
        c = self.mouth.course
        if not self.from_mm <= x <= self.to_mm or (c.turns_off and x > c.corner_mm):
            return
        kind = next(k for start, k in reversed(self.kinds) if start <= x)
        yield Circle(kind=kind, od_mm=self.mouth.under.at(x).greatest_mm, y_mm=c.height(x) if c.y_mm else 0.0)

    def edges(self) -> Iterable[float]:
        """Where it changes."""
        return [x for x in self.mouth.under.edges() if self.from_mm <= x <= self.to_mm]


def section(s: BootSolution, job: str) -> Section | None:
    """To scale, mm: x = 0 where the first mouth begins."""
    seat = s.seated
    if seat is None or s.outside is None:
        return None
    first, legs = seat.mouths[0], seat.mouths[1:]
    reach = (first.under.start_mm, _furthest(seat))
    inside = list(_beneath(job, seat, reach))
    over = covers(s.layers, first.under, 100.0)
    ends, label = seat.length_mm, "part"
    if seat.angle_deg:  # what goes on beyond its corner is not seen along the joint
        ends, label = (
            seat.corner_mm + legs[0].under.between(*legs[0].span_mm).greatest() / 2,
            "part, along its line",
        )
    dimensions = [
        Dimension(kind="covered", from_mm=0.0, to_mm=ends, value_mm=seat.length_mm, label=label),
        *(
            Dimension(kind="seal", from_mm=a, to_mm=b, value_mm=b - a, label=f"adhesive, {m.name}")
            for m in ([first, *legs] if seat.angle_deg == 0 and len(legs) < 2 else [first])
            for a, b in [m.band_mm]
            if b - a > 1e-6 and not m.fitting
        ),
    ]
    return draw(inside, over, reach, dimensions, outside=widest(first.under.greatest()), looks=LOOKS)


def _furthest(seat: Seat) -> float:
    """How far right the drawing goes, mm."""
    far = ([(m.under.end_mm - 1, 1.0), (m.under.end_mm, 1.0)] for m in seat.mouths)
    lines = (m.course.edges(f)["top"] for m, f in zip(seat.mouths, far, strict=True))
    ends = [x for line in lines for x, _ in line]
    return max([seat.corner_mm + BEYOND_MM, seat.mouths[0].span_mm[1] + BEYOND_MM, *ends])


def _beneath(job: str, seat: Seat, reach: tuple[float, float]) -> Iterator[Beneath]:
    first, legs = seat.mouths[0], seat.mouths[1:]
    if job == "fitting":
        cable = legs[0]
        sheath = cable.under.stations[-2].x_mm
        kinds = ((reach[0], "fitting"), (_rear(cable), "bedding"), (sheath, "sheath"))
        yield Beneath(cable, kinds, reach[0], cable.under.end_mm)
    elif job == "breakout":
        yield Beneath(first, ((reach[0], "sheath"),), reach[0], first.span_mm[1])
        for m in legs:
            yield Beneath(m, ((m.course.corner_mm, "leg"),), m.course.corner_mm, m.under.end_mm)
    elif job == "straight":
        x = [s.x_mm for s in first.under.stations]
        kinds = ((reach[0], "sheath"), (x[1], "bedding"), (x[-2], "sheath"))
        step = kinds if len(x) > 4 else ((reach[0], "sheath"),)
        yield Beneath(first, step, reach[0], first.under.end_mm, far="B")
    else:
        yield Beneath(first, ((reach[0], "sheath"),), reach[0], first.under.end_mm)


def _rear(cable: Mouth) -> float:
    """Where the fitting ends, mm."""
    return cable.under.stations[-4].x_mm
