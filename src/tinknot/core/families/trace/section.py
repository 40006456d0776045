"""The drawings of a heat-trace connection: its section seen on the flat, and each end laid open."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

from tinknot.core.drawing.loop import covers, draw, widest
from tinknot.core.drawing.model import Body, Circle, Dimension, Section
from tinknot.core.families.trace.stack import TraceSolution
from tinknot.core.families.trace.tubes import Axis
from tinknot.core.joint.flatend import LaidOpen, laid_open
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet, Serves
from tinknot.core.joint.leaflet import Construction, Leaflet
from tinknot.core.joint.tracefile import FlatLayerIn, TraceCableIn
from tinknot.core.layers.trace.tube import TraceTube
from tinknot.core.plan.trace import PreparedCut, PreparedEnd, PreparedLayer

BEYOND_MM = 60.0
SHOWN_MM = 60.0  # of whole cable behind the outer jacket's cut


def _shapes(o: LaidOpen, c: TraceCableIn, far: float) -> list[tuple[str, float, float, float, float, float]]:
    """(kind, far, near, width, thickness, y) of an end, outermost first, mm back from its square end."""
    core = "overlay" if c.construction == "zone" else "matrix"
    grown = 2 * c.braid_mm
    half = c.spacing_mm / 2
    return [
        ("outer-jacket", far, o.jacket_mm, c.outer_jacket.width_mm, c.outer_jacket.thickness_mm, 0.0),
        (
            "braid",
            far,
            o.braid_mm if o.shorter else o.jacket_mm,
            c.inner_jacket.width_mm + grown,
            c.inner_jacket.thickness_mm + grown,
            0.0,
        ),
        ("inner-jacket", far, o.inner_mm, c.inner_jacket.width_mm, c.inner_jacket.thickness_mm, 0.0),
        (core, far, o.core_mm, c.core.width_mm, c.core.thickness_mm, 0.0),
        ("bus", far, o.bus_mm[0], c.bus_od_mm, c.bus_od_mm, half),
        ("bus", far, o.bus_mm[1], c.bus_od_mm, c.bus_od_mm, -half),
    ]


def prepared_end(leaflet: Leaflet, end: str, o: LaidOpen, c: TraceCableIn) -> PreparedEnd:
    """An end laid open, from the side and end-on."""
    far = o.jacket_mm + SHOWN_MM
    layers = [
        PreparedLayer(kind=k, from_mm=near, to_mm=f, width_mm=w, thickness_mm=t, y_mm=y)
        for k, f, near, w, t, y in _shapes(o, c, far)
        if f > near
    ]
    cuts = []
    for cut in leaflet.cuts_for(c.construction, end):
        start, length = o.datum_mm(cut.datum), cut.length.value_mm
        at = length if cut.datum == "cable-end" else start - length
        if cut.layer == "bus-insulation":  # from each wire's own end
            start = max(o.bus_mm)
            at = start + length
        cuts.append(PreparedCut(layer=cut.layer, at_mm=at, from_mm=start, length_mm=length, datum=cut.datum))
    core = "heating wire" if c.construction == "zone" else "matrix"
    return PreparedEnd(
        end=end,
        reach_mm=far,
        layers=layers,
        end_on=[x.model_copy(update={"from_mm": 0.0, "to_mm": 0.0}) for x in layers],
        cuts=cuts,
        keep_clear=[f"braid and {core}", "braid and bus wires", "bus wire and bus wire"],
    )


def sample_cable(serves: Serves, construction: Construction) -> TraceCableIn:
    """A cable in the middle of what a kit serves, to draw its leaflet before any cable is measured."""
    width = _middle(serves.width_least_mm, serves.width_most_mm, 12.0)
    thick = min(width, _middle(serves.thickness_least_mm, serves.thickness_most_mm, width / 2))
    wall, braid = thick * 0.11, thick * 0.06
    inner = FlatLayerIn(width_mm=width - 2 * (wall + braid), thickness_mm=thick - 2 * (wall + braid))
    core = FlatLayerIn(width_mm=inner.width_mm - 2 * wall, thickness_mm=inner.thickness_mm - 2 * wall)
    zone = construction == "zone"
    return TraceCableIn(
        construction=construction,
        outer_jacket=FlatLayerIn(width_mm=width, thickness_mm=thick),
        braid_mm=braid * 0.9,
        inner_jacket=inner,
        core=core,
        bus_area_mm2=_middle(serves.bus_least_mm2, serves.bus_most_mm2, 1.25),
        bus_od_mm=core.thickness_mm * 0.6,
        node_mm=900 if zone else None,
    )


def _middle(low: float | None, high: float | None, otherwise: float) -> float:
    known = [v for v in (low, high) if v is not None]
    return sum(known) / len(known) if known else otherwise


def preview(sheet: KitSheet) -> list[PreparedEnd]:
    """The ends a sheet prepares, drawn on a cable in the middle of what it serves; none while it has no
    cuts."""
    leaflet = sheet.leaflet
    if leaflet is None or not any(x.kind == "cut" for x in leaflet.layers) or sheet.recipe not in TRACE_ENDS:
        return []
    construction: Construction = (sheet.serves.constructions or ["self-regulating"])[0]
    cable = sample_cable(sheet.serves, construction)
    opened = [(e, laid_open(leaflet, construction, e)) for e in TRACE_ENDS[sheet.recipe]]
    return [prepared_end(leaflet, e, o, cable) for e, o in opened]


@dataclass(frozen=True)
class FlatEnd:
    """An end of the cable as it is laid open, drawn `far_mm` back from its square end; `off_mm`: how far off
    the middle it lies, the two legs of a tee beside each other."""

    name: str
    axis: Axis
    opened: LaidOpen
    cable: TraceCableIn
    far_mm: float
    off_mm: float

    def _shapes(self) -> Iterator[tuple[int, str, float, float, float, float, float]]:
        shapes = _shapes(self.opened, self.cable, self.far_mm)
        return ((n, *shape) for n, shape in enumerate(shapes) if shape[1] > shape[2])

    def bodies(self) -> Iterator[Body]:
        """Each layer as far as it goes, seen on the flat."""
        for n, kind, far, near, width, _, y in self._shapes():
            x1, x2 = self.axis.span(far, near)
            middle = y + self.off_mm
            yield Body(
                id=f"{kind}-{self.name}-{n}",
                kind=kind,
                end=self.name,
                depth_mm=n / 100,
                top=[(x1, middle + width / 2), (x2, middle + width / 2)],
                bottom=[(x1, middle - width / 2), (x2, middle - width / 2)],
            )

    def rings(self, x: float) -> Iterator[Circle]:
        """The layers there are at x, flat but for the bus wires."""
        back = (x - self.axis.at_mm) * self.axis.side
        for _, kind, far, near, width, thickness, y in self._shapes():
            if near <= back <= far:
                flat = None if kind == "bus" else thickness
                yield Circle(kind=kind, od_mm=width, thickness_mm=flat, x_mm=y + self.off_mm)

    def edges(self) -> Iterable[float]:
        """Where a layer ends."""
        return [self.axis.x(near) for _, _, _, near, *_ in self._shapes()]


def section(s: TraceSolution, of: Mapping[str, TraceCableIn], off: Mapping[str, float]) -> Section:
    """Seen on the flat, to scale: x along the cable, width up. `of`: the cable of each end; `off`: how
    far off the middle it lies, mm; a tee's two legs beside each other."""
    over = covers(s.layers, s.inner, 11.0)
    spans = [p.stage.span_mm for p in over]
    ends = {e: a.x(s.opened[e].jacket_mm) for e, a in s.axes.items()}
    low = min([ends["A"], *(x for x, _ in spans)]) - BEYOND_MM
    behind = [x for e, x in ends.items() if s.axes[e].side > 0]
    high = max([s.axes["A"].at_mm, *behind, *(x for _, x in spans)]) + BEYOND_MM
    cables = []
    for e, axis in s.axes.items():
        far = ((low if axis.side < 0 else high) - axis.at_mm) * axis.side
        cables.append(FlatEnd(e, axis, s.opened[e], of[e], far_mm=far, off_mm=off[e]))
    dimensions = list(_dimensions(s, low, high))
    wide = max(c.outer_jacket.width_mm for c in of.values())
    return draw(cables, over, (low, high), dimensions, outside=widest(wide))


def _dimensions(s: TraceSolution, low: float, high: float) -> Iterator[Dimension]:
    """What the longest tube covers, the whole where both ends are shown, and how far each jacket is off."""
    tubes = [x for x in s.layers if isinstance(x, TraceTube) and x.lies()]
    longest = max(tubes, key=lambda x: x.span_mm[1] - x.span_mm[0], default=None)
    if longest:
        a, b = longest.span_mm
        yield Dimension(
            kind="covered", from_mm=a, to_mm=b, value_mm=b - a, layer=longest.id, label=longest.title
        )
    if len(s.axes) > 1 and not any(x.leaf.at == "joint" for x in tubes):
        yield Dimension(kind="whole", from_mm=low + BEYOND_MM, to_mm=high - BEYOND_MM, value_mm=0.0)
    for e, axis in s.axes.items():
        off = s.opened[e].jacket_mm
        a, b = axis.span(off, 0.0)
        yield Dimension(kind="cut", from_mm=a, to_mm=b, value_mm=off, label=f"outer jacket off, {e}")
