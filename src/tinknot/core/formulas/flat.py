"""Flat cables and girths."""

from math import pi


def flat_girth_mm(width_mm: float, thickness_mm: float) -> float:
    """Girth in mm of a flat cable with rounded edges: 2(w − t) + π·t, t ≤ w. Source: plane geometry."""
    return 2 * (width_mm - thickness_mm) + pi * thickness_mm


def girth_to_diameter_mm(girth_mm: float) -> float:
    """Diameter in mm of the circle with this girth (a tape laid round the cable)."""
    return girth_mm / pi
