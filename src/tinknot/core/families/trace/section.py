"""The drawings of a heat-trace connection: its section seen on the flat, and each end laid open."""

from itertools import pairwise

from tinknot.core.families.trace.stack import TraceSolution
from tinknot.core.families.trace.tubes import Axis
from tinknot.core.joint.drawing import Body, Circle, CrossSection, Dimension, Section
from tinknot.core.joint.flatend import LaidOpen, laid_open
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet, Serves
from tinknot.core.joint.leaflet import Construction, Leaflet
from tinknot.core.joint.tracefile import FlatLayerIn, TraceCableIn
from tinknot.core.layers.trace.closing import Moulded, Taped, TraceTube
from tinknot.core.plan import PreparedCut, PreparedEnd, PreparedLayer

BEYOND_MM = 60.0
SHOWN_MM = 60.0  # of whole cable behind the outer jacket's cut
_KIND = {TraceTube: "trace-tube", Moulded: "moulded", Taped: "trace-tape"}


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
            o.jacket_mm,
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
    if leaflet is None or not leaflet.cuts or sheet.recipe not in TRACE_ENDS:
        return []
    construction: Construction = (sheet.serves.constructions or ["self-regulating"])[0]
    cable = sample_cable(sheet.serves, construction)
    opened = [(e, laid_open(leaflet, construction, e)) for e in TRACE_ENDS[sheet.recipe]]
    return [prepared_end(leaflet, e, o, cable) for e, o in opened]


def _band(kind: str, number: int, span: tuple[float, float], width: float, y: float, **more: object) -> Body:
    x1, x2 = span
    return Body.model_validate(
        {
            "id": f"{kind}-{number}",
            "kind": kind,
            "depth_mm": number / 100,
            "top": [(x1, y + width / 2), (x2, y + width / 2)],
            "bottom": [(x1, y - width / 2), (x2, y - width / 2)],
        }
        | more
    )


def flat_section(s: TraceSolution, cable: TraceCableIn) -> Section:
    """Seen on the flat, to scale: x along the cable, width up; a tee's two legs lie over each other."""
    covers = [
        x for x in s.layers if isinstance(x, (TraceTube, Moulded, Taped)) and x.span_mm[1] > x.span_mm[0]
    ]
    low = min([s.axes["A"].x(s.opened["A"].jacket_mm), *(x.span_mm[0] for x in covers)]) - BEYOND_MM
    ends = [a.x(s.opened[e].jacket_mm) for e, a in s.axes.items() if a.side > 0]
    high = max([s.axes["A"].at_mm, *ends, *(x.span_mm[1] for x in covers)]) + BEYOND_MM
    bodies: list[Body] = []
    for end, axis in s.axes.items():
        bodies += _cable(end, axis, s.opened[end], cable, low if axis.side < 0 else high, _leg(s, end, cable))
    outside = s.inner
    for n, x in enumerate(covers, 1):
        under = [(p.x_mm, p.greatest_mm / 2) for p in outside.between(*x.span_mm).stations]
        outside = x.apply(outside)
        top = [(p.x_mm, p.greatest_mm / 2) for p in outside.between(*x.span_mm).stations]
        bodies.append(
            Body(
                id=f"cover-{x.id}",
                kind=_KIND[type(x)],
                layer=x.id,
                end=getattr(x, "end", ""),
                depth_mm=10 + n,
                top=top,
                bottom=under,
            )
        )
    longest = max(
        (x for x in covers if isinstance(x, TraceTube)),
        key=lambda x: x.span_mm[1] - x.span_mm[0],
        default=None,
    )
    dimensions = (
        [
            Dimension(
                kind="covered",
                from_mm=longest.span_mm[0],
                to_mm=longest.span_mm[1],
                value_mm=longest.span_mm[1] - longest.span_mm[0],
                layer=longest.id,
                label=longest.title,
            )
        ]
        if longest
        else []
    )
    if len(s.axes) > 1 and not any(isinstance(x, TraceTube) and x.leaf.at == "joint" for x in covers):
        dimensions.append(
            Dimension(kind="whole", from_mm=low + BEYOND_MM, to_mm=high - BEYOND_MM, value_mm=0.0)
        )  # both ends are shown
    dimensions += [
        Dimension(
            kind="cut",
            from_mm=min(a.x(0), a.x(s.opened[e].jacket_mm)),
            to_mm=max(a.x(0), a.x(s.opened[e].jacket_mm)),
            value_mm=s.opened[e].jacket_mm,
            label=f"outer jacket off, {e}",
        )
        for e, a in s.axes.items()
    ]
    return Section(
        from_mm=low,
        to_mm=high,
        bodies=bodies,
        crossings=_crossings(s, cable, covers, low, high),
        dimensions=dimensions,
    )


def _leg(s: TraceSolution, end: str, cable: TraceCableIn) -> float:
    """How far off the middle an end lies: the two legs of a tee beside each other."""
    return (
        0.0
        if "C" not in s.axes or end == "A"
        else (1 if end == "B" else -1) * cable.outer_jacket.width_mm / 2
    )


def _cable(end: str, axis: Axis, o: LaidOpen, cable: TraceCableIn, far_x: float, off: float) -> list[Body]:
    far = (far_x - axis.at_mm) * axis.side
    found = []
    for n, (kind, f, near, width, _, y) in enumerate(_shapes(o, cable, far)):
        if f > near:
            found.append(_band(kind, n, axis.span(f, near), width, y + off, end=end, id=f"{kind}-{end}-{n}"))
    return found


def _crossings(
    s: TraceSolution, cable: TraceCableIn, covers: list[TraceTube | Moulded | Taped], low: float, high: float
) -> list[CrossSection]:
    """What a cut shows between two places at which something changes."""
    edges = {low, high}
    for e, axis in s.axes.items():
        edges |= {axis.x(b) for _, f, near, *_ in _shapes(s.opened[e], cable, 1e4) for b in (f, near)}
    edges |= {x for c in covers for x in c.span_mm}
    found = []
    for x1, x2 in pairwise(sorted(x for x in edges if low <= x <= high)):
        if x2 - x1 < 1e-6:
            continue
        x, circles = (x1 + x2) / 2, []
        outside = s.inner
        rings = []
        for c in covers:
            under, outside = outside, c.apply(outside)
            if c.span_mm[0] <= x <= c.span_mm[1]:
                at, inside = outside.at(x), under.at(x)
                rings.append(
                    Circle(
                        kind=_KIND[type(c)],
                        layer=c.id,
                        od_mm=at.greatest_mm,
                        thickness_mm=at.least_mm,
                        inside_mm=inside.greatest_mm,
                    )
                )
        circles += rings[::-1]
        for e, axis in s.axes.items():
            back, off = (x - axis.at_mm) * axis.side, _leg(s, e, cable)
            circles += [
                Circle(kind=kind, od_mm=w, thickness_mm=t if kind != "bus" else None, x_mm=y + off)
                for kind, f, near, w, t, y in _shapes(s.opened[e], cable, 1e4)
                if near <= back <= f
            ]
        wide = max((c.od_mm + 2 * abs(c.x_mm) for c in circles), default=cable.outer_jacket.width_mm)
        found.append(CrossSection(from_mm=x1, to_mm=x2, outside_mm=wide, circles=circles))
    return found
