"""What a cut across the joint shows, from place to place."""

from collections.abc import Iterator, Sequence
from itertools import pairwise

from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.families.straight.laying import Place, arrangement
from tinknot.core.families.straight.stages import Insulation, Stage, over_core
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.drawing import Circle, CrossSection, Point
from tinknot.core.layers.bond import EarthBond
from tinknot.core.layers.connectors import Connector
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.sleeves import CoreSleeve, CoverSleeve


def _cover_circles(stages: Sequence[Stage], x: float) -> Iterator[Circle]:
    """Covers at x, outermost first."""
    for stage in reversed(stages):
        a, b = stage.span
        if not a <= x <= b:
            continue
        layer, od = stage.layer, stage.over.at(x).greatest_mm
        at = {"layer": layer.id, "inside_mm": stage.inside(x)}
        if isinstance(layer, EarthBond):
            if layer.mesh:
                yield Circle(kind="mesh", od_mm=od, **at)
            yield Circle(kind="strap", od_mm=od, width_mm=layer.strap.width_mm, **at)
        elif isinstance(layer, ResinShell):
            yield Circle(kind="shell", od_mm=od, **at)
            yield Circle(kind="resin", layer=layer.id, od_mm=stage.inside(x))
        elif isinstance(layer, CoverSleeve):
            yield Circle(kind="end-piece" if layer.id.startswith("end-") else layer.id, od_mm=od, **at)
        else:
            yield Circle(kind="mastic" if layer.tape.kind == "mastic" else "build-up", od_mm=od, **at)


def _end_circles(s: CableSolution, end: CableEnd, x: float) -> Iterator[Circle]:
    """The cable at x beyond the crutch, outermost first."""
    assert s.layout is not None
    on_sheath = abs(x) > s.layout.gap_mm / 2
    if end.armour and on_sheath:
        fold = next((y.folds[end.name] for y in s.layers if isinstance(y, EarthBond)), None)
        if fold and fold[0] <= x <= fold[1]:
            yield Circle(kind="armour", od_mm=end.folded_mm, inside_mm=end.sheath.greatest_mm)
    if on_sheath:
        yield Circle(kind="sheath", od_mm=end.sheath.greatest_mm)
        if end.armour:
            yield Circle(kind="armour", od_mm=end.bed.greatest_mm + 2 * end.armour.thickness_mm)
    if end.armour:
        yield Circle(kind="bedding", od_mm=end.bed.greatest_mm)
    ods = tuple(c.insulation.greatest_mm for c in end.cores)
    for core, (cx, cy) in zip(end.cores, arrangement(ods), strict=True):
        at = {"core": core.name, "x_mm": round(cx, 3), "y_mm": round(cy, 3)}
        yield Circle(kind="insulation", colour=core.colour or "", od_mm=core.insulation.greatest_mm, **at)
        yield Circle(kind="conductor", od_mm=core.conductor.greatest_mm, **at)


def _core_circles(
    x: float, i: int, centre: Point, s: CableSolution, joint: Connector, over: Sequence[Insulation]
) -> Iterator[Circle]:
    core = s.ends[0 if x < joint.centre_mm else 1].cores[i]
    offset, bare = abs(x - joint.centre_mm), joint.half_mm + joint.rules.number("cut.strip_extra_mm")
    at = {"core": joint.core, "x_mm": round(centre[0], 3), "y_mm": round(centre[1], 3)}
    metal = (
        joint.connector.od_mm
        if offset < joint.half_mm
        else core.conductor.greatest_mm
        if offset < bare
        else core.insulation.greatest_mm
    )
    outside = s.tracks[i].at(x).greatest_mm
    for y in reversed(over):
        if y.span_mm[0] <= x <= y.span_mm[1]:
            if isinstance(y, CoreSleeve):
                yield Circle(
                    kind="core-sleeve",
                    layer=y.id,
                    od_mm=outside,
                    inside_mm=max(metal, y.tube.recovered_id_mm),
                    **at,
                )
            else:
                kind = "mica" if y.tape.kind == "mica" else "core-tape"
                yield Circle(kind=kind, layer=y.id, od_mm=outside, inside_mm=metal, **at)
    if offset < joint.half_mm:
        yield Circle(kind="connector", layer=joint.id, od_mm=joint.connector.od_mm, **at)
    elif offset >= bare:
        yield Circle(kind="insulation", colour=core.colour or "", od_mm=core.insulation.greatest_mm, **at)
    yield Circle(kind="conductor", od_mm=core.conductor.greatest_mm, **at)


def crossings_of(
    s: CableSolution,
    stages: Sequence[Stage],
    joints: Sequence[Connector],
    places: Sequence[Place],
    reach: tuple[float, float],
) -> list[CrossSection]:
    """Every cut that differs, from A to B within `reach`."""
    inner = s.inner
    assert inner is not None
    edges = {
        *reach,
        *inner.edges(),
        *(x for p in places for x in (p.x1, p.x2)),
        *(x for g in stages for x in g.over.edges()),
    }
    xs = sorted(x for x in edges if reach[0] <= x <= reach[1])
    found = []
    for x1, x2 in pairwise(xs):
        if x2 - x1 < 1e-6:
            continue
        x = (x1 + x2) / 2
        circles = list(_cover_circles(stages, x))
        place = next((p for p in places if p.x1 <= x <= p.x2), None)
        if place is None:
            circles += _end_circles(s, s.ends[0 if x < 0 else 1], x)
        else:
            for i, joint in enumerate(joints):
                circles += _core_circles(x, i, place.centres[i], s, joint, over_core(s.layers, joint.core))
        outside = stages[-1].over.at(x).greatest_mm if stages else inner.at(x).greatest_mm
        found.append(CrossSection(from_mm=x1, to_mm=x2, outside_mm=outside, circles=circles))
    return found
