"""Cable length to order, and what is left of a loop after remakes."""

from collections.abc import Sequence
from dataclasses import dataclass

from tinknot.core.tolerance import whole_down, whole_up


@dataclass(frozen=True)
class Slack:
    """Whole remakes a loop still allows, and what is left of it after them, mm."""

    remakes_left: int
    left_after_mm: float


def slack(loop_mm: float, least_loop_mm: float, per_remake_mm: float) -> Slack:
    """How often `per_remake_mm` can be taken from a loop that must keep `least_loop_mm`, all mm.

    >>> slack(500, 100, 150)
    Slack(remakes_left=2, left_after_mm=200)
    """
    n = max(0, whole_down((loop_mm - least_loop_mm) / per_remake_mm))
    return Slack(n, loop_mm - n * per_remake_mm)


def trace_length_m(
    run_m: float, spiral_extra: float, end_lengths_mm: Sequence[float], allowances_mm: Sequence[float]
) -> float:
    """Heat-trace cable in m: run·(1 + extra) + every end's lengths + allowances for valves, flanges,
    supports.

    >>> trace_length_m(20, 0.1, [300, 200, 100], [450, 450])
    23.5
    """
    return run_m * (1 + spiral_extra) + (sum(end_lengths_mm) + sum(allowances_mm)) / 1000


def fixings(run_m: float, spacing_mm: float) -> int:
    """Fixings along a run in m, `spacing_mm` apart: the spaces rounded up, and one more.

    >>> fixings(32.7, 300)
    110
    """
    return whole_up(run_m * 1000 / spacing_mm) + 1
