"""The tight string round circles that lie where they lie."""

from collections.abc import Sequence
from itertools import pairwise
from math import atan2, cos, hypot, pi, sin

import numpy as np

Placed = tuple[float, float, float]  # x, y, diameter; mm
_LOOKS = 1440  # directions looked in, to find which circles the string touches, in their order


def hull_girth_mm(circles: Sequence[Placed]) -> float:
    """Girth in mm of the tight string round circles (x, y, diameter in mm, diameters > 0, at least one).

    Source: plane geometry. A string's girth is the integral of how far the outline reaches in each direction;
    from one touched circle to the next it changes over where both reach as far.

    >>> round(hull_girth_mm([(0, 0, 3), (3, 0, 3)]), 3)  # 2 × 3 between the centres, and once round
    15.425
    """
    turn = np.linspace(0.0, 2 * pi, _LOOKS, endpoint=False)
    x, y, d = (np.array(column, dtype=float)[:, None] for column in zip(*circles, strict=True))
    touched = np.argmax(x * np.cos(turn) + y * np.sin(turn) + d / 2, axis=0)
    runs = [i for i in range(_LOOKS) if touched[i] != touched[i - 1]]
    if not runs:
        return pi * circles[int(touched[0])][2]
    owners = [circles[int(touched[i])] for i in runs]
    starts = [_change(owners[k - 1], owners[k], float(turn[i]) - pi / _LOOKS) for k, i in enumerate(runs)]
    bounds = [*starts, starts[0] + 2 * pi]
    return sum(_reach(c, a, b) for c, (a, b) in zip(owners, pairwise(bounds), strict=True))


def side_by_side_mm(cables: Sequence[tuple[float, float, float]]) -> tuple[float, float]:
    """Flat cables side by side, each (middle, width, thickness; mm, t ≤ w), as one flat thing: its width, and
    the thickness that gives it the girth of the tight string round all of them.

    Source: plane geometry; cables of one thickness keep it.

    >>> side_by_side_mm([(6, 12, 6), (-6, 12, 6)])
    (24.0, 6.0)
    """
    width = max(y + w / 2 for y, w, _ in cables) - min(y - w / 2 for y, w, _ in cables)
    circles = [(y + side * (w - t) / 2, 0.0, t) for y, w, t in cables for side in (-1, 1)]
    thickness = (hull_girth_mm(circles) - 2 * width) / (pi - 2)
    return width, min(max(round(thickness, 9), min(t for *_, t in cables)), max(t for *_, t in cables))


def _change(one: Placed, two: Placed, near: float) -> float:
    """The direction near `near` in which both circles reach as far, radians."""
    dx, dy, dr = two[0] - one[0], two[1] - one[1], (one[2] - two[2]) / 2
    across = max(-1.0, min(1.0, dr / hypot(dx, dy))) if dx or dy else 0.0
    middle, off = atan2(dy, dx), float(np.arccos(across))
    found = ((middle + s * off - near + pi) % (2 * pi) - pi for s in (-1, 1))
    return near + min(found, key=abs)


def _reach(c: Placed, a: float, b: float) -> float:
    """How far a circle reaches, summed over the directions from a to b."""
    x, y, d = c
    return x * (sin(b) - sin(a)) - y * (cos(b) - cos(a)) + d / 2 * (b - a)
