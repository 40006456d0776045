"""Outlines seen from the side: paths, bands along them, steps that lean."""

from collections.abc import Sequence
from itertools import pairwise

from tinknot.core.drawing.model import Point

Path = Sequence[tuple[float, float, float]]  # (x, y, depth), x rising, mm


def height(path: Path, x: float) -> float:
    """The y of a path at x, mm; beyond its ends as at them, 0 without one."""
    if not path:
        return 0.0
    for (x1, y1, _), (x2, y2, _) in pairwise(path):
        if x1 <= x <= x2 and x2 > x1:
            return y1 + (y2 - y1) * (x - x1) / (x2 - x1)
    return path[0][1] if x < path[0][0] else path[-1][1]


def band(path: Path, x1: float, x2: float, od: float) -> tuple[list[Point], list[Point]]:
    """Upper and lower edge of a band `od` mm wide along a path from x1 to x2."""
    xs = sorted({x1, x2, *(x for x, _, _ in path if x1 < x < x2)})
    return [(x, height(path, x) + od / 2) for x in xs], [(x, height(path, x) - od / 2) for x in xs]


def rounded(points: Sequence[Point]) -> list[Point]:
    """Points in whole µm."""
    return [(round(x, 3), round(y, 3)) for x, y in points]


def bridged(points: Sequence[Point]) -> list[Point]:
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
