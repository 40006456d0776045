"""The joint's longitudinal section and its cross-sections, in mm: what every drawing is made from."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, pairwise
from math import cos, pi, sin

from tinknot.core.bundle import bundle, bundle_near
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.crimp import Crimp
from tinknot.core.layers.sleeves import CoreSleeve, OuterSleeve
from tinknot.core.model import Result

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
    """A circle of a cross-section, outermost first; `inside_mm` is its bore when it has one."""

    kind: str
    layer: str = ""
    core: str = ""
    colour: str = ""
    x_mm: float = 0.0
    y_mm: float = 0.0
    od_mm: float
    inside_mm: float | None = None


class CrossSection(Result):
    """What a cut across the joint shows anywhere between two places."""

    from_mm: float
    to_mm: float
    outside_mm: float
    circles: list[Circle]


class Dimension(Result):
    """A length or diameter to write on the drawing."""

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


def _core_bodies(
    i: int, ends: tuple[CableEnd, CableEnd], crimp: Crimp, sleeve: CoreSleeve | None, track: Profile,
    path: list[tuple[float, float, float]], gap: float,
) -> list[Body]:  # fmt: skip
    name, colour = crimp.core, ends[0].cores[i].colour or ""
    depth = path[len(path) // 2][2]
    bare = crimp.half_mm + crimp.rules.number("cut.strip_extra_mm")
    c = crimp.centre_mm
    bodies: list[Body] = []

    def add(kind: str, x1: float, x2: float, od: float, **more: str) -> None:
        top, bottom = _band(path, x1, x2, od)
        bodies.append(
            Body(id=f"{kind}-{name}-{len(bodies)}", kind=kind, core=name, depth_mm=round(depth, 3),
                 top=_round(top), bottom=_round(bottom), **more)
        )  # fmt: skip

    for end, x1, x2 in ((ends[0], -gap / 2, c - bare), (ends[1], c + bare, gap / 2)):
        add("insulation", x1, x2, end.cores[i].insulation.greatest_mm, end=end.name, colour=colour)
    add("connector", c - crimp.half_mm, c + crimp.half_mm, crimp.connector.od_mm, layer=crimp.id)
    for side, end in ((-1, ends[0]), (1, ends[1])):
        add(
            "conductor",
            min(c, c + side * bare),
            max(c, c + side * bare),
            end.cores[i].conductor.greatest_mm,
            end=end.name,
            layer=crimp.id,
        )
        pitch = crimp.connector.insertion_mm / (crimp.connector.presses + 1)
        for press in range(crimp.connector.presses):
            at = c + side * (crimp.half_mm - crimp.connector.growth_mm - pitch * (press + 1))
            width = min(5.0, pitch * 0.6)
            add(
                "press",
                at - width / 2,
                at + width / 2,
                crimp.connector.od_mm * 0.8,
                end=end.name,
                layer=crimp.id,
            )
    if sleeve is not None:
        top, bottom = _follow(path, track.between(*sleeve.span_mm))
        bodies.append(
            Body(id=sleeve.id, kind="core-sleeve", core=name, layer=sleeve.id, depth_mm=round(depth, 3),
                 top=_round(top), bottom=_round(bottom))
        )  # fmt: skip
    return bodies


def _core_circles(x: float, i: int, centre: Point, ends: tuple[CableEnd, CableEnd], crimp: Crimp,
                  sleeve: CoreSleeve | None, track: Profile) -> list[Circle]:  # fmt: skip
    name, offset = crimp.core, x - crimp.centre_mm
    core = ends[0].cores[i] if offset < 0 else ends[1].cores[i]
    at = {"core": name, "x_mm": round(centre[0], 3), "y_mm": round(centre[1], 3)}
    circles: list[Circle] = []
    bare = crimp.half_mm + crimp.rules.number("cut.strip_extra_mm")
    if sleeve is not None and sleeve.span_mm[0] <= x <= sleeve.span_mm[1]:
        under = crimp.connector.od_mm if abs(offset) < crimp.half_mm else (
            core.conductor.greatest_mm if abs(offset) < bare else core.insulation.greatest_mm)  # fmt: skip
        circles.append(
            Circle(
                kind="core-sleeve",
                layer=sleeve.id,
                od_mm=track.at(x).greatest_mm,
                inside_mm=max(under, sleeve.tube.recovered_id_mm),
                **at,
            )
        )
    if abs(offset) < crimp.half_mm:
        circles.append(Circle(kind="connector", layer=crimp.id, od_mm=crimp.connector.od_mm, **at))
    elif abs(offset) >= bare:
        circles.append(
            Circle(kind="insulation", colour=core.colour or "", od_mm=core.insulation.greatest_mm, **at)
        )
    circles.append(Circle(kind="conductor", od_mm=core.conductor.greatest_mm, **at))
    return circles


def section(
    ends: tuple[CableEnd, CableEnd], layers: Sequence[Layer], tracks: Sequence[Profile], inner: Profile, gap: float,
) -> Section:  # fmt: skip
    """The drawing of a stack: `tracks` the finished cores, `inner` what the outer sleeve covers."""
    crimps = [x for x in layers if isinstance(x, Crimp)]
    sleeves = {x.core: x for x in layers if isinstance(x, CoreSleeve)}
    outer = next((x for x in layers if isinstance(x, OuterSleeve)), None)
    places = _places(tracks)
    low, high = inner.start_mm, inner.end_mm
    insulation = [{(p.x1, p.x2) for p in places if _plain(p, i, ends, t)} for i, t in enumerate(tracks)]
    plain = set.intersection(*insulation)
    bodies: list[Body] = []
    for end, x1, x2 in ((ends[0], low, -gap / 2), (ends[1], gap / 2, high)):
        r = end.sheath.greatest_mm / 2
        bodies.append(Body(id=f"sheath-{end.name}", kind="sheath", end=end.name, depth_mm=-99,
                           top=[(x1, r), (x2, r)], bottom=[(x1, -r), (x2, -r)]))  # fmt: skip
    for i, crimp in enumerate(crimps):
        bodies += _core_bodies(
            i, ends, crimp, sleeves.get(crimp.core), tracks[i], _path(places, i, plain), gap
        )
    crossings = [_tail(ends[0], low, -gap / 2, outer, inner)]
    for p in places:
        x = (p.x1 + p.x2) / 2
        circles: list[Circle] = []
        if outer is not None:
            circles.append(_over(outer, inner.at(x).greatest_mm))
        for i, crimp in enumerate(crimps):
            circles += _core_circles(x, i, p.centres[i], ends, crimp, sleeves.get(crimp.core), tracks[i])
        crossings.append(
            CrossSection(
                from_mm=p.x1,
                to_mm=p.x2,
                outside_mm=circles[0].od_mm if outer else inner.at(x).greatest_mm,
                circles=circles,
            )
        )
    crossings.append(_tail(ends[1], gap / 2, high, outer, inner))
    dimensions = [
        Dimension(kind="gap", from_mm=-gap / 2, to_mm=gap / 2, value_mm=gap, label="between the sheath cuts")
    ]
    if outer is not None:
        profile = outer.apply(inner).between(*outer.span_mm)
        seat = inner.between(*outer.span_mm)
        bodies.append(Body(id=outer.id, kind="outer-sleeve", layer=outer.id, depth_mm=99,
                           top=_round(_bridged([(s.x_mm, s.greatest_mm / 2) for s in profile.stations])),
                           bottom=_round(_bridged([(s.x_mm, max(s.greatest_mm, outer.tube.recovered_id_mm) / 2) for s in seat.stations]))))  # fmt: skip
        a, b = outer.span_mm
        dimensions += [
            Dimension(kind="covered", from_mm=a, to_mm=b, value_mm=b - a, layer=outer.id, label="covered"),
            Dimension(kind="overlap", from_mm=a, to_mm=-gap / 2, value_mm=outer.overlap_mm[0], layer=outer.id, label="on the sheath"),
            Dimension(kind="overlap", from_mm=gap / 2, to_mm=b, value_mm=outer.overlap_mm[1], layer=outer.id, label="on the sheath"),
        ]  # fmt: skip
        crossings = _split_tails(crossings, outer)
    return Section(from_mm=low, to_mm=high, bodies=bodies, crossings=crossings, dimensions=dimensions)


def _plain(p: _Place, i: int, ends: tuple[CableEnd, CableEnd], track: Profile) -> bool:
    od = track.at((p.x1 + p.x2) / 2).greatest_mm
    return od in (ends[0].cores[i].insulation.greatest_mm, ends[1].cores[i].insulation.greatest_mm)


def _over(outer: OuterSleeve, od: float) -> Circle:
    return Circle(
        kind="outer-sleeve",
        layer=outer.id,
        od_mm=outer.tube.od_mm(od),
        inside_mm=max(od, outer.tube.recovered_id_mm),
    )


def _tail(end: CableEnd, x1: float, x2: float, outer: OuterSleeve | None, inner: Profile) -> CrossSection:
    ods = tuple(c.insulation.greatest_mm for c in end.cores)
    circles = [Circle(kind="sheath", od_mm=end.sheath.greatest_mm)]
    for core, (x, y) in zip(end.cores, arrangement(ods), strict=True):
        at = {"core": core.name, "x_mm": round(x, 3), "y_mm": round(y, 3)}
        circles.append(
            Circle(kind="insulation", colour=core.colour or "", od_mm=core.insulation.greatest_mm, **at)
        )
        circles.append(Circle(kind="conductor", od_mm=core.conductor.greatest_mm, **at))
    return CrossSection(from_mm=x1, to_mm=x2, outside_mm=end.sheath.greatest_mm, circles=circles)


def _split_tails(crossings: list[CrossSection], outer: OuterSleeve) -> list[CrossSection]:
    """The tails under the outer sleeve show it; beyond it they do not."""
    first, *middle, last = crossings
    a, b = outer.span_mm

    def under(c: CrossSection, x1: float, x2: float) -> CrossSection:
        over = _over(outer, c.outside_mm)
        return CrossSection(from_mm=x1, to_mm=x2, outside_mm=over.od_mm, circles=[over, *c.circles])

    return [
        first.model_copy(update={"to_mm": a}), under(first, a, first.to_mm), *middle,
        under(last, last.from_mm, b), last.model_copy(update={"from_mm": b}),
    ]  # fmt: skip
