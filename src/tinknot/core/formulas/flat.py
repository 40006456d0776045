"""Flat cables and girths."""

from collections.abc import Sequence
from math import pi

from tinknot.core.formulas.hull import hull_girth_mm


def flat_girth_mm(width_mm: float, thickness_mm: float) -> float:
    """Girth in mm of a flat cable with rounded edges: 2(w − t) + π·t, t ≤ w. Source: plane geometry."""
    return 2 * (width_mm - thickness_mm) + pi * thickness_mm


def girth_to_diameter_mm(girth_mm: float) -> float:
    """Diameter in mm of the circle with this girth (a tape laid round the cable)."""
    return girth_mm / pi


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
