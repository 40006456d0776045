"""Staggered core lengths and the least gap between the sheath cuts."""

from collections.abc import Sequence
from dataclasses import dataclass

from tinknot.core.errors import InputError
from tinknot.core.tolerance import at_least


@dataclass(frozen=True)
class CoreCut:
    """One core (numbered from 1): its connector's centre from the A sheath cut, its length on A and B, in
    mm."""

    core: int
    centre_mm: float
    cut_a_mm: float
    cut_b_mm: float


@dataclass(frozen=True)
class Stagger:
    """The gap between the sheath cuts in mm, and every core's lengths; cut_a + cut_b is the same for all."""

    gap_mm: float
    cores: tuple[CoreCut, ...]


def stagger(
    cores: int,
    connector_length_mm: float,
    core_sleeve_length_mm: float,
    *,
    clear_core_mm: float,
    between_mm: float,
    butt_gap_mm: float,
    steps: int,
    side_needed_mm: float,
) -> Stagger:
    """The least gap for `cores` joined in `steps` positions, all lengths in mm.

    Each position takes S, the larger of sleeve and connector, `between_mm` apart, with clear core
    outside; and every core's longer side must reach `side_needed_mm` (strip + parked sleeve +
    keep-away), so that its sleeve can be parked on it. Among equal gaps the one nearest to A.
    Raises InputError when there are more steps than cores, or a cut would be negative.
    Source: domain 6, stated in the contract's notes on `stagger`.

    >>> s = stagger(1, 38, 90, clear_core_mm=15, between_mm=5, butt_gap_mm=0, steps=1, side_needed_mm=125)
    >>> s.gap_mm, s.cores[0].centre_mm
    (185.0, 60.0)
    """
    if steps > cores:
        raise InputError.at("/steps", f"must be at most the number of cores, {cores}")
    s = max(core_sleeve_length_mm, connector_length_mm)
    bases = [clear_core_mm + s / 2 + i * (s + between_mm) for i in range(steps)]
    room = steps * s + (steps - 1) * between_mm + 2 * clear_core_mm
    reach = side_needed_mm + butt_gap_mm / 2  # how far a connector lies from the cut its sleeve parks on

    def gap_for(shift: float) -> float:
        on_b = [b + shift for b in bases if not at_least(b + shift, reach)]
        return max([room + shift] + [reach + x for x in on_b])

    shifts = [0.0] + [reach - b for b in bases if reach > b]
    gap, shift = min((round(gap_for(d), 9), d) for d in shifts)
    result = []
    for core in range(cores):
        x = bases[core % steps] + shift
        cut_a, cut_b = x - butt_gap_mm / 2, gap - x - butt_gap_mm / 2
        if cut_a < 0 or cut_b < 0:
            raise InputError.at("/butt_gap_mm", "is so wide that a core would have no length left")
        result.append(CoreCut(core + 1, float(x), cut_a, cut_b))
    return Stagger(float(gap), tuple(result))


def place_cores(gap_mm: float, centres_mm: Sequence[float], butt_gap_mm: float) -> Stagger:
    """The cuts that follow from a gap and centres already settled, for instance by work that is done."""
    cores = (
        CoreCut(i + 1, x, x - butt_gap_mm / 2, gap_mm - x - butt_gap_mm / 2) for i, x in enumerate(centres_mm)
    )
    return Stagger(gap_mm, tuple(cores))
