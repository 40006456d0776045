"""Tape wound over a cable."""

from dataclasses import dataclass
from math import hypot, pi, sqrt


@dataclass(frozen=True)
class Wrap:
    """Turns of one pass, relaxed tape used in all passes in mm, diameter after them in mm."""

    turns_per_pass: float
    tape_length_mm: float
    od_after_mm: float


def wrap(
    substrate_od_mm: float,
    wrapped_length_mm: float,
    width_mm: float,
    thickness_mm: float,
    *,
    overlap_pct: float = 50.0,
    stretch: float = 1.0,
    passes: int = 1,
) -> Wrap:
    """Tape of `width_mm` × `thickness_mm` (relaxed) wound with an overlap, stretched `stretch` times.

    Width and thickness under stretch are b/√s and t/√s (the volume is kept); pitch p = b/√s·(1 − o);
    turns = length/p; a turn is √((π·d)² + p²) long on the mean diameter d of its pass, and a pass
    adds 2·t/√s/(1 − o) to the diameter. Relaxed tape = laid length/s.

    >>> w = wrap(20, 100, 19, 0.5)
    >>> round(w.turns_per_pass, 3), w.od_after_mm
    (10.526, 22.0)
    """
    keep = 1 - overlap_pct / 100
    pitch = width_mm / sqrt(stretch) * keep
    grows = 2 * thickness_mm / sqrt(stretch) / keep
    turns = wrapped_length_mm / pitch
    laid, od = 0.0, substrate_od_mm
    for _ in range(passes):
        laid += turns * hypot(pi * (od + grows / 2), pitch)
        od += grows
    return Wrap(turns, laid / stretch, od)
