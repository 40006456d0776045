"""Where a layer lies as it is drawn: what it makes its bodies and rings from."""

from dataclasses import dataclass, field

from tinknot.core.drawing.model import Body, Circle, Point
from tinknot.core.drawing.outline import Path, band, bridged, height, rounded
from tinknot.core.joint.profile import Profile


@dataclass(frozen=True)
class Axis:
    """What a part is drawn along: the joint's own axis, or a core where it goes. `path`: the core seen from
    the side; `centres`: (from x, to x, centre of a cut between them), mm."""

    path: Path = ()
    centres: tuple[tuple[float, float, Point], ...] = ()

    @classmethod
    def level(cls, y: float) -> "Axis":
        """Along the joint, y mm above its middle."""
        return cls(((0.0, y, 0.0),), ((float("-inf"), float("inf"), (0.0, y)),))

    def at(self, x: float) -> dict[str, float] | None:
        """The centre of a circle at x, as fields of one; None where the core does not go there."""
        if not self.centres:
            return {}
        return next(
            ({"x_mm": c[0], "y_mm": c[1]} for x1, x2, c in self.centres if x1 <= x <= x2),
            None,
        )


@dataclass(frozen=True)
class Lies:
    """Where a layer lies that is drawn: from edge to edge, mm on the joint's axis; on one `core`, or over the
    whole joint."""

    span_mm: tuple[float, float]
    core: str = ""


@dataclass(frozen=True)
class Stage:
    """`under` and `over`: the outside without a layer and with it; `span_mm`: from edge to edge of it;
    `depth_mm`: how near the eye it is drawn; `axis`: what it lies along."""

    under: Profile
    over: Profile
    span_mm: tuple[float, float]
    depth_mm: float
    axis: Axis = field(default_factory=Axis)

    def wall(self, bore: Profile | None = None, least_bore_mm: float = 0.0) -> dict[str, list[Point]]:
        """The upper wall cut open, as edges of a body: from its outside to what it lies on, at least
        `least_bore_mm` wide inside; a stiff part has its own `bore`."""
        over = [(s.x_mm, s.greatest_mm / 2) for s in self.over.between(*self.span_mm).stations]
        seat = bore or self.under.between(*self.span_mm)
        inside = [(s.x_mm, max(s.greatest_mm, least_bore_mm) / 2) for s in seat.stations]
        if bore is None:
            over, inside = bridged(over), bridged(inside)
        return {"top": rounded(over), "bottom": rounded(inside)}

    def round_core(self) -> dict[str, list[Point]]:
        """The whole outside along the core, as edges of a body."""
        stations = self.over.between(*self.span_mm).stations
        radii = bridged([(s.x_mm, s.greatest_mm / 2) for s in stations])
        path = self.axis.path
        return {
            "top": rounded([(x, height(path, x) + r) for x, r in radii]),
            "bottom": rounded([(x, height(path, x) - r) for x, r in radii]),
        }

    def band(self, x1: float, x2: float, od: float) -> dict[str, list[Point]]:
        """A stretch of one diameter along the axis, as edges of a body."""
        top, bottom = band(self.axis.path, x1, x2, od)
        return {"top": rounded(top), "bottom": rounded(bottom)}

    def ring(self, kind: str, layer: str, x: float, core: str = "", least_bore_mm: float = 0.0) -> Circle:
        """A wall all round at x, from its outside to its bore, which is at least `least_bore_mm` wide."""
        return Circle(
            kind=kind,
            layer=layer,
            core=core,
            od_mm=self.over.at(x).greatest_mm,
            inside_mm=self.seat_mm(x, least_bore_mm),
            **(self.axis.at(x) or {}),
        )

    def seat_mm(self, x: float, least_bore_mm: float = 0.0) -> float:
        """The bore at x of what lies on it and is at least so wide inside."""
        return max(self.under.at(x).greatest_mm, least_bore_mm)

    def edges(self) -> set[float]:
        """Every x at which the layer changes something."""
        return {*self.span_mm, *set(self.over.edges()).difference(self.under.edges())}


def level(kind: str, span: tuple[float, float], od: float, **more: object) -> Body:
    """A stretch of one diameter on the joint's axis."""
    x1, x2 = span
    edges = {"top": [(x1, od / 2), (x2, od / 2)], "bottom": [(x1, -od / 2), (x2, -od / 2)]}
    return Body.model_validate({"kind": kind} | edges | more)
