"""Adhesives of moulded parts: paste in bands, and hot-melt tape wound on."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi

from tinknot.core.formulas.resin import ML_PER_MM3
from tinknot.core.tolerance import whole_up


@dataclass(frozen=True)
class Band:
    """A band of paste `wide_mm` round `od_mm`, `count` of them alike."""

    od_mm: float
    wide_mm: float
    count: int = 1


def bands_ml(bands: Sequence[Band], thickness_mm: float) -> float:
    """Paste of bands `thickness_mm` thick, ml: Σ π·(d + t)·t·b on the mean diameter of each.

    >>> round(bands_ml([Band(20, 25, 2)], 0.5), 4)
    1.6101
    """
    return sum(pi * (b.od_mm + thickness_mm) * thickness_mm * b.wide_mm * b.count for b in bands) * ML_PER_MM3


@dataclass(frozen=True)
class TapeRing:
    """Tape to cut, in whole mm, and the diameter over it, mm."""

    length_mm: int
    od_after_mm: float


def hot_melt_tape(od_mm: float, thickness_mm: float, turns: int, overlap_mm: float) -> TapeRing:
    """Tape wound `turns` times on itself round `od_mm`: turn k lies on the mean diameter d + (2k + 1)·t.

    >>> hot_melt_tape(20, 0.5, 2, 5)
    TapeRing(length_mm=137, od_after_mm=22.0)
    """
    laid = sum(pi * (od_mm + (2 * k + 1) * thickness_mm) for k in range(turns))
    return TapeRing(whole_up(laid + overlap_mm), od_mm + 2 * turns * thickness_mm)
