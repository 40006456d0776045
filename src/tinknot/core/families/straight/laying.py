"""How the cores lie beside each other along a joint, as seen from the side: places, paths, outlines."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations, pairwise
from math import cos, pi, sin

from tinknot.core.drawing.model import Point
from tinknot.core.formulas.bundle import bundle, bundle_near
from tinknot.core.joint.profile import Profile


@dataclass(frozen=True)
class Place:
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


def places_of(tracks: Sequence[Profile]) -> list[Place]:
    """Where the cores lie between every two places at which one of them changes."""
    xs = sorted({x for t in tracks for x in t.edges()})
    ods = {(x1, x2): tuple(t.at((x1 + x2) / 2).greatest_mm for t in tracks) for x1, x2 in pairwise(xs)}
    reference = arrangement(max(ods.values(), key=lambda o: (sum(d * d for d in o), o)))
    return [Place(x1, x2, _packed(o, reference)) for (x1, x2), o in ods.items()]


def path_of(
    places: list[Place], core: int, plain: set[tuple[float, float]]
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
