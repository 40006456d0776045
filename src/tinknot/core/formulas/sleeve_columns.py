"""Lengths of a whole catalogue of sleeves at once, in columns. Apart from `sleeve`, whose formulas they
repeat for arrays, so that one sleeve is judged without loading NumPy."""

from itertools import pairwise

import numpy as np
import numpy.typing as npt

from tinknot.core.formulas.sleeve import Points
from tinknot.core.tolerance import REL

Floats = npt.NDArray[np.float64]


def supplied_lengths_mm(
    expanded_mm: Floats, recovered_mm: Floats, change_pct: Floats, profile: Points
) -> Floats:
    """`supplied_length_mm` of many sleeves over one profile at once; the profile must pass through all of
    them.

    Stretches of one diameter are taken together; a slope is cut where it crosses a sleeve's R."""
    free = 1 + change_pct / 100

    def factor(od: Floats | float) -> Floats:
        used = np.minimum(1.0, (expanded_mm - od) / (expanded_mm - recovered_mm))
        return np.asarray(1 + change_pct * used / 100)

    level: dict[float, float] = {}
    total = np.zeros_like(expanded_mm)
    for (x1, d1), (x2, d2) in pairwise(profile):
        if d1 == d2:
            level[d1] = level.get(d1, 0.0) + x2 - x1
        elif x2 > x1:
            low, high = min(d1, d2), max(d1, d2)
            under = np.clip(
                (recovered_mm - low) / (high - low), 0.0, 1.0
            )  # share of the slope thinner than R
            a, b = factor(np.maximum(low, np.minimum(high, recovered_mm))), factor(high)
            rise = np.where(a == b, 1.0, b - a)
            mean = np.where(a == b, 1 / a, np.log1p((b - a) / a) / rise)
            total += (x2 - x1) * (under / free + (1 - under) * mean)
    for od, length in level.items():
        total += length / factor(od)
    return total


def cut_lengths_mm(
    expanded_mm: Floats, recovered_mm: Floats, change_pct: Floats, profile: Points, squareness_mm: float
) -> Floats:
    """`cut_length_mm` of many sleeves over one profile at once."""
    needed = supplied_lengths_mm(expanded_mm, recovered_mm, change_pct, profile) + squareness_mm
    return np.asarray(np.ceil(needed - REL * np.abs(needed)))
