"""The joint's longitudinal section and its cross-sections, in mm: what every drawing is made from."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, pairwise
from math import cos, pi, sin

from tinknot.core.bundle import bundle, bundle_near
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.bond import EarthBond
from tinknot.core.layers.connectors import Connector, Crimp, ShearBolt
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.sleeves import CoreSleeve, CoverSleeve
from tinknot.core.layers.tapes import TapeWrap
from tinknot.core.model import Result
from tinknot.core.recipes.solution import Solution

Point = tuple[float, float]


class Body(Result):
    """A part of the drawing: its upper and lower edge, [x, y] in mm, y up; `depth_mm` toward the eye."""

    id: str
    kind: str
    layer: str = ""
    end: str = ""
    core: str = ""
    colour: str = ""
    depth_mm: float = 0.0
    top: list[Point]
    bottom: list[Point]


class Circle(Result):
    """A circle of a cross-section, outermost first; `inside_mm` is its bore when it has one, `width_mm` how
    much of the circumference it takes when it does not go all round."""

    kind: str
    layer: str = ""
    core: str = ""
    colour: str = ""
    x_mm: float = 0.0
    y_mm: float = 0.0
    od_mm: float
    inside_mm: float | None = None
    width_mm: float | None = None


class CrossSection(Result):
    """What a cut across the joint shows anywhere between two places."""

    from_mm: float
    to_mm: float
    outside_mm: float
    circles: list[Circle]


class Dimension(Result):
    """A length or diameter to write on the drawing; `whole` is what the drawing must show."""

    kind: str
    from_mm: float
    to_mm: float
    value_mm: float
    layer: str = ""
    label: str = ""


class Section(Result):
    """The whole drawing. x = 0 is the joint's centre, A on the negative side."""

    from_mm: float
    to_mm: float
    bodies: list[Body]
    crossings: list[CrossSection]
    dimensions: list[Dimension]


@dataclass(frozen=True)
class _Place:
    """Where the cores lie between two stations."""

    x1: float
    x2: float
    centres: tuple[Point, ...]


@lru_cache(maxsize=1024)
def arrangement(ods: tuple[float, ...]) -> tuple[Point, ...]:
    """Centres of the bundle, turned so that from the side every core is seen as high apart as it goes."""
    centres = bundle(ods).centres_mm
    if len(centres) == 1:
        return ((0.0, 0.0),)

    def turned(angle: float) -> tuple[Point, ...]:
        c, s = cos(angle), sin(angle)
        return tuple((x * c - y * s, x * s + y * c) for x, y in centres)

    def apart(points: tuple[Point, ...]) -> float:
        return min(abs(p[1] - q[1]) for p, q in combinations(points, 2))

    return max((turned(k * pi / 120) for k in range(120)), key=lambda p: round(apart(p), 6))


@lru_cache(maxsize=4096)
def _packed(ods: tuple[float, ...], reference: tuple[Point, ...]) -> tuple[Point, ...]:
    return bundle_near(ods, reference)


def _places(tracks: Sequence[Profile]) -> list[_Place]:
    xs = sorted({x for t in tracks for x in t.edges()})
    ods = {(x1, x2): tuple(t.at((x1 + x2) / 2).greatest_mm for t in tracks) for x1, x2 in pairwise(xs)}
    reference = arrangement(max(ods.values(), key=lambda o: (sum(d * d for d in o), o)))
    return [_Place(x1, x2, _packed(o, reference)) for (x1, x2), o in ods.items()]


def _path(
    places: list[_Place], core: int, plain: set[tuple[float, float]]
) -> list[tuple[float, float, float]]:
    """(x, y, depth) of a core's axis: level where a part sits on it, sloping along plain core."""
    points: list[tuple[float, float, float]] = []
    for p in places:
        depth, y = p.centres[core]
        if (p.x1, p.x2) in plain and p.x2 - p.x1 > 3:
            continue
        points += [(p.x1, y, depth), (p.x2, y, depth)]
    first, last = places[0], places[-1]
    if not points or points[0][0] > first.x1:
        points.insert(0, (first.x1, first.centres[core][1], first.centres[core][0]))
    if points[-1][0] < last.x2:
        points.append((last.x2, last.centres[core][1], last.centres[core][0]))
    return points


def _height(path: list[tuple[float, float, float]], x: float) -> float:
    for (x1, y1, _), (x2, y2, _) in pairwise(path):
        if x1 <= x <= x2 and x2 > x1:
            return y1 + (y2 - y1) * (x - x1) / (x2 - x1)
    return path[0][1] if x < path[0][0] else path[-1][1]


def _band(
    path: list[tuple[float, float, float]], x1: float, x2: float, od: float
) -> tuple[list[Point], list[Point]]:
    xs = sorted({x1, x2, *(x for x, _, _ in path if x1 < x < x2)})
    return [(x, _height(path, x) + od / 2) for x in xs], [(x, _height(path, x) - od / 2) for x in xs]


def _round(points: Sequence[Point]) -> list[Point]:
    return [(round(x, 3), round(y, 3)) for x, y in points]


def _bridged(points: Sequence[Point]) -> list[Point]:
    """An outline whose steps lean: a sleeve cannot follow a step squarely, it spans it at about 45°.

    The lower side of each step gives way by the step's height, at most half of its own stretch.
    """
    found = list(points)
    for i, (p, q) in enumerate(pairwise(points)):
        rise = abs(q[1]) - abs(p[1])
        if abs(q[0] - p[0]) > 1e-6 or abs(rise) < 1e-6:
            continue
        if rise > 0:  # lower before the step
            before = points[i - 1][0] if i else p[0]
            found[i] = (p[0] - min(rise, (p[0] - before) / 2), p[1])
        else:
            after = points[i + 2][0] if i + 2 < len(points) else q[0]
            found[i + 1] = (q[0] + min(-rise, (after - q[0]) / 2), q[1])
    return found


def _follow(path: list[tuple[float, float, float]], profile: Profile) -> tuple[list[Point], list[Point]]:
    radii = _bridged([(s.x_mm, s.greatest_mm / 2) for s in profile.stations])
    top = [(x, _height(path, x) + r) for x, r in radii]
    bottom = [(x, _height(path, x) - r) for x, r in radii]
    return top, bottom


BEYOND_MM = 60.0  # of cable drawn beyond the last cover
Insulation = CoreSleeve | TapeWrap
Cover = CoverSleeve | TapeWrap | EarthBond | ResinShell


@dataclass(frozen=True)
class _Stage:
    """A cover with the profile under and over it."""

    layer: Cover
    under: Profile
    over: Profile

    @property
    def span(self) -> tuple[float, float]:
        """Where it lies."""
        return self.layer.span_mm

    def inside(self, x: float) -> float:
        """Its bore at x, mm."""
        od = self.under.at(x).greatest_mm
        if isinstance(self.layer, CoverSleeve):
            return max(od, self.layer.tube.recovered_id_mm)
        return self.layer.cut.bore().at(x).greatest_mm if isinstance(self.layer, ResinShell) else od


def _stages(s: Solution) -> list[_Stage]:
    under = s.inner
    assert under is not None
    found = []
    for x in s.layers:
        if isinstance(x, (CoverSleeve, EarthBond, ResinShell)) or (isinstance(x, TapeWrap) and not x.core):
            over = x.apply(under)
            found.append(_Stage(x, under, over))
            under = over
    return found


def _over_core(layers: Sequence[Layer], core: str) -> list[Insulation]:
    return [x for x in layers if isinstance(x, (CoreSleeve, TapeWrap)) and x.core == core]


def _core_bodies(
    i: int, s: Solution, joint: Connector, over: Sequence[Insulation], path: list[tuple[float, float, float]]
) -> Iterator[Body]:
    """Insulation, connector, conductors, and what insulates the core again."""
    name, colour = joint.core, s.ends[0].cores[i].colour or ""
    depth, c = path[len(path) // 2][2], joint.centre_mm
    bare = joint.half_mm + joint.rules.number("cut.strip_extra_mm")
    number = 0

    def band(kind: str, x1: float, x2: float, od: float, **more: str) -> Body:
        nonlocal number
        number += 1
        top, bottom = _band(path, x1, x2, od)
        return Body(
            id=f"{kind}-{name}-{number}",
            kind=kind,
            core=name,
            depth_mm=round(depth, 3),
            top=_round(top),
            bottom=_round(bottom),
            **more,
        )

    for end, x1, x2 in ((s.ends[0], s.crutch_mm[0], c - bare), (s.ends[1], c + bare, s.crutch_mm[1])):
        yield band(
            "insulation",
            x1,
            x2,
            end.cores[i].insulation.greatest_mm,
            end=end.name,
            colour=end.cores[i].colour or colour,
        )
    yield band("connector", c - joint.half_mm, c + joint.half_mm, joint.connector.od_mm, layer=joint.id)
    for side, end in ((-1, s.ends[0]), (1, s.ends[1])):
        yield band(
            "conductor",
            min(c, c + side * bare),
            max(c, c + side * bare),
            end.cores[i].conductor.greatest_mm,
            end=end.name,
            layer=joint.id,
        )
        for at, width in _marks(joint, side):
            yield band(
                "press",
                at - width / 2,
                at + width / 2,
                joint.connector.od_mm * 0.8,
                end=end.name,
                layer=joint.id,
            )
    track = s.tracks[i]
    for x in over:
        top, bottom = _follow(path, track.between(*x.span_mm))
        kind = (
            "core-sleeve" if isinstance(x, CoreSleeve) else "mica" if x.tape.kind == "mica" else "core-tape"
        )
        yield Body(
            id=x.id,
            kind=kind,
            core=name,
            layer=x.id,
            depth_mm=round(depth, 3),
            top=_round(top),
            bottom=_round(bottom),
        )


def _marks(joint: Connector, side: int) -> list[tuple[float, float]]:
    """Presses or bolts on one side, (x, width) in mm."""
    count = (
        joint.connector.presses
        if isinstance(joint, Crimp)
        else joint.connector.bolts
        if isinstance(joint, ShearBolt)
        else 0
    )
    pitch = joint.connector.insertion_mm / (count + 1)
    reach = joint.half_mm - joint.connector.growth_mm
    return [(joint.centre_mm + side * (reach - pitch * (n + 1)), min(5.0, pitch * 0.6)) for n in range(count)]


def _end_bodies(s: Solution, end: CableEnd, side: int, low: float) -> Iterator[Body]:
    """Sheath, folded armour and bedding of one end; `side` −1 is A."""
    assert s.layout is not None
    cut, crutch = s.layout.gap_mm / 2, abs(s.crutch_mm[0] if side < 0 else s.crutch_mm[1])

    def level(kind: str, x1: float, x2: float, od: float, depth: float) -> Body:
        a, b = sorted((side * x1, side * x2))
        return Body(
            id=f"{kind}-{end.name}",
            kind=kind,
            end=end.name,
            depth_mm=depth,
            top=[(a, od / 2), (b, od / 2)],
            bottom=[(a, -od / 2), (b, -od / 2)],
        )

    if end.armour:
        yield level("bedding", crutch, low, end.bed.greatest_mm, -99.5)
        fold = next(x.folds[end.name] for x in s.layers if isinstance(x, EarthBond))
        yield level("armour", abs(fold[0]), abs(fold[1]), end.folded_mm, -98.5)
    yield level("sheath", cut, low, end.sheath.greatest_mm, -99)


def _hollow(stage: _Stage, kind: str, depth: float) -> Body:
    """A cover cut open: upper wall from its outside to its bore; the lower one mirrors it."""
    over = stage.over.between(*stage.span)
    if isinstance(stage.layer, ResinShell):
        bore = stage.layer.cut.bore()
        top = [(p.x_mm, p.greatest_mm / 2) for p in over.stations]
        bottom = [(p.x_mm, p.greatest_mm / 2) for p in bore.stations]
    else:
        free = stage.layer.tube.recovered_id_mm if isinstance(stage.layer, CoverSleeve) else 0.0
        seat = stage.under.between(*stage.span)
        top = _bridged([(p.x_mm, p.greatest_mm / 2) for p in over.stations])
        bottom = _bridged([(p.x_mm, max(p.greatest_mm, free) / 2) for p in seat.stations])
    return Body(
        id=stage.layer.id,
        kind=kind,
        layer=stage.layer.id,
        depth_mm=depth,
        top=_round(top),
        bottom=_round(bottom),
    )


def _cover_bodies(stage: _Stage, depth: float) -> Iterator[Body]:
    x = stage.layer
    if isinstance(x, EarthBond):
        if x.mesh:
            yield _hollow(stage, "mesh", depth)
        seat = stage.under.between(*stage.span)
        under = _bridged([(p.x_mm, p.greatest_mm / 2) for p in seat.stations])
        thick = x.strap.thickness_mm
        yield Body(
            id=f"{x.id}-strap",
            kind="strap",
            layer=x.id,
            depth_mm=depth,
            top=_round([(a, r + thick) for a, r in under]),
            bottom=_round(under),
        )
        for end, (clamp, _) in x.clamps.items():
            middle, half = sum(x.folds[end]) / 2, clamp.width_mm / 2
            r = stage.over.at(middle).greatest_mm / 2
            yield Body(
                id=f"{x.id}-clamp-{end}", kind="clamp", layer=x.id, end=end, depth_mm=depth + 0.1,
                top=[(middle - half, r), (middle + half, r)], bottom=[(middle - half, -r), (middle + half, -r)],
            )  # fmt: skip
    elif isinstance(x, ResinShell):
        bore = x.cut.bore()
        edge = [(p.x_mm, p.greatest_mm / 2) for p in bore.stations]
        yield Body(
            id=f"{x.id}-resin",
            kind="resin",
            layer=x.id,
            depth_mm=depth - 0.1,
            top=_round(edge),
            bottom=_round([(p, -r) for p, r in edge]),
        )
        yield _hollow(stage, "shell", depth)
    elif isinstance(x, CoverSleeve):
        yield _hollow(stage, x.id.split("-piece")[0] + "-piece" if "piece" in x.id else x.id, depth)
    else:
        yield _hollow(stage, "mastic" if x.tape.kind == "mastic" else "build-up", depth)


def _cover_circles(stages: Sequence[_Stage], x: float) -> Iterator[Circle]:
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
            yield Circle(kind="end-piece" if "piece" in layer.id else layer.id, od_mm=od, **at)
        else:
            yield Circle(kind="mastic" if layer.tape.kind == "mastic" else "build-up", od_mm=od, **at)


def _end_circles(s: Solution, end: CableEnd, x: float) -> Iterator[Circle]:
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
    x: float, i: int, centre: Point, s: Solution, joint: Connector, over: Sequence[Insulation]
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


def _crossings(
    s: Solution,
    stages: Sequence[_Stage],
    joints: Sequence[Connector],
    places: Sequence[_Place],
    reach: tuple[float, float],
) -> list[CrossSection]:
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
                circles += _core_circles(x, i, place.centres[i], s, joint, _over_core(s.layers, joint.core))
        outside = stages[-1].over.at(x).greatest_mm if stages else inner.at(x).greatest_mm
        found.append(CrossSection(from_mm=x1, to_mm=x2, outside_mm=outside, circles=circles))
    return found


def _dimensions(s: Solution, stages: Sequence[_Stage]) -> list[Dimension]:
    assert s.layout is not None
    half = s.layout.gap_mm / 2
    found = [
        Dimension(kind="gap", from_mm=-half, to_mm=half, value_mm=2 * half, label="between the sheath cuts")
    ]
    a, b = min(g.span[0] for g in stages), max(g.span[1] for g in stages)
    found.append(Dimension(kind="whole", from_mm=a, to_mm=b, value_mm=b - a))
    outer = next((g for g in stages if g.layer.id in ("outer-sleeve", "shell")), None)
    if outer:
        a, b = outer.span
        what = "covered" if outer.layer.id == "outer-sleeve" else "in the shell"
        over = ((a, -half), (half, b))
        found.append(
            Dimension(kind="covered", from_mm=a, to_mm=b, value_mm=b - a, layer=outer.layer.id, label=what)
        )
        found += [
            Dimension(
                kind="overlap",
                from_mm=p,
                to_mm=q,
                value_mm=q - p,
                layer=outer.layer.id,
                label="on the sheath",
            )
            for p, q in over
        ]
    return found


def section(s: Solution) -> Section:
    """The drawing of a stack: finished cores, what covers them, and both cables."""
    inner = s.inner
    assert inner is not None
    joints = [x for x in s.layers if isinstance(x, Connector)]
    stages = _stages(s)
    places = _places(s.tracks)
    plain = set.intersection(
        *({(p.x1, p.x2) for p in places if _plain(p, i, s.ends, t)} for i, t in enumerate(s.tracks))
    )
    low = min(g.span[0] for g in stages) - BEYOND_MM
    high = max(g.span[1] for g in stages) + BEYOND_MM
    bodies = [
        b
        for end, side, far in ((s.ends[0], -1, -low), (s.ends[1], 1, high))
        for b in _end_bodies(s, end, side, far)
    ]
    for i, joint in enumerate(joints):
        bodies += _core_bodies(i, s, joint, _over_core(s.layers, joint.core), _path(places, i, plain))
    for n, stage in enumerate(stages):
        bodies += _cover_bodies(stage, 99.0 + n)
    return Section(
        from_mm=low,
        to_mm=high,
        bodies=bodies,
        crossings=_crossings(s, stages, joints, places, (low, high)),
        dimensions=_dimensions(s, stages),
    )


def _plain(p: _Place, i: int, ends: tuple[CableEnd, CableEnd], track: Profile) -> bool:
    od = track.at((p.x1 + p.x2) / 2).greatest_mm
    return od in (ends[0].cores[i].insulation.greatest_mm, ends[1].cores[i].insulation.greatest_mm)
