"""Resin: what a shell takes, and the packs to open for it."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf, pi
from typing import Any

from tinknot.core.effort import spend
from tinknot.core.errors import InputError
from tinknot.core.tolerance import at_least

ML_PER_MM3 = 1e-3


@dataclass(frozen=True)
class Pack:
    """A pack size in ml; `stock` None: as many as wanted."""

    id: str
    volume_ml: float
    stock: int | None = None


@dataclass(frozen=True)
class Fill:
    """Volumes in ml, and the packs to open as (id, count); `left_over_ml` = packs − required."""

    shell_ml: float
    displaced_ml: float
    net_ml: float
    required_ml: float
    packs: tuple[tuple[str, int], ...]
    left_over_ml: float


def cylinders_ml(pieces: Sequence[tuple[float, float, int]]) -> float:
    """Volume in ml of cylinders (length mm, diameter mm, count)."""
    return sum(pi / 4 * d * d * length * n for length, d, n in pieces) * ML_PER_MM3


def fill(
    shell: Sequence[tuple[float, float]],
    inside: Sequence[tuple[float, float, int]],
    waste_pct: float,
    packs: Sequence[Pack],
) -> Fill:
    """Resin for a stepped shell of (length, inside diameter) with (length, od, count) in it, mm.

    net = shell − inside; required = net·(1 + waste). Fewest packs first, then least left over, then
    the earlier packs of the list. Raises InputError when nothing is left to fill or the packs do
    not reach, with what is missing.
    """
    whole, displaced = cylinders_ml([(n, d, 1) for n, d in shell]), cylinders_ml(inside)
    net = whole - displaced
    if net <= whole * 1e-9:
        raise InputError.at(
            "/inside", f"fills {displaced:.0f} ml, the shell holds {whole:.0f} ml: nothing is left to fill"
        )
    required = net * (1 + waste_pct / 100)
    chosen = order(required, packs)
    total = sum(p.volume_ml * n for p, n in zip(packs, chosen, strict=True))
    return Fill(
        whole,
        displaced,
        net,
        required,
        packs=tuple((p.id, n) for p, n in zip(packs, chosen, strict=True) if n),
        left_over_ml=total - required,
    )


def order(required_ml: float, packs: Sequence[Pack]) -> list[int]:
    """How many of each pack: fewest, then least left over, then the earlier ones. Raises InputError
    with what is missing when stock does not reach."""
    count = _fewest(required_ml, packs)
    sizes = sorted({p.volume_ml for p in packs}, key=[p.volume_ml for p in packs].index)
    limits = [
        min(count, sum(count if p.stock is None else p.stock for p in packs if p.volume_ml == s))
        for s in sizes
    ]
    by_size = dict(zip(sizes, _least_left_over(required_ml, count, sizes, limits), strict=True))
    chosen = []
    for p in packs:
        take = int(min(by_size[p.volume_ml], inf if p.stock is None else p.stock))
        by_size[p.volume_ml] -= take
        chosen.append(take)
    return chosen


def _fewest(required_ml: float, packs: Sequence[Pack]) -> int:
    """The least number of packs that reaches `required_ml`: the largest first."""
    left, count = required_ml, 0
    for p in sorted(packs, key=lambda p: -p.volume_ml):
        fits = -int(-(left * (1 - 1e-9)) // p.volume_ml)
        take = fits if p.stock is None else min(fits, p.stock)
        left, count = left - take * p.volume_ml, count + take
        if left <= required_ml * 1e-9:
            return count
    raise InputError.at("/packs", f"{left:.0f} ml are missing of {required_ml:.0f} ml required")


def _least_left_over(
    required_ml: float, count: int, sizes: Sequence[float], limits: Sequence[int]
) -> list[int]:
    """Exactly `count` packs, the least total that reaches `required_ml`; of equal ones the first in
    the order of `sizes`. A small whole-number program, solved by SciPy's HiGHS."""
    import numpy as np  # loaded here: most calculators of this module need neither
    from scipy.optimize import Bounds, LinearConstraint, milp

    volumes = np.array(sizes) / required_ml * 1000  # the solver's tolerances are absolute
    low, high = np.zeros(len(sizes)), np.array(limits, dtype=float)

    def solve(goal: Any, least: float, most: float) -> list[int]:
        spend(300)
        found = milp(
            goal,
            integrality=np.ones(len(sizes)),
            bounds=Bounds(low, high),
            constraints=[
                LinearConstraint(np.ones((1, len(sizes))), count, count),
                LinearConstraint(volumes[None, :], least, most),
            ],
            options={"mip_rel_gap": 0.0, "time_limit": 10.0},
        )
        if found.x is None:
            raise InputError.at("/packs", "are too many kinds to weigh against each other; leave some out")
        return [round(x) for x in found.x]

    least = 1000 * (1 - 1e-9)
    best = solve(volumes, least, np.inf)
    while not at_least(float(volumes @ best), 1000):  # inside the solver's tolerance, outside ours
        least += 1e-5
        best = solve(volumes, least, np.inf)
    total = float(volumes @ best)
    for i in range(len(sizes) - 1):
        goal = np.zeros(len(sizes))
        goal[i] = -1
        again = solve(goal, least, total * (1 + 1e-12) + 1e-9)
        if at_least(total, float(volumes @ again)):
            best = again
        low[i] = high[i] = best[i]
    return best
