"""Earth straps: the least section that carries a fault until it is cleared."""

from math import sqrt

from tinknot.core.errors import InputError
from tinknot.core.tolerance import at_least, at_most

SHORTEST_S, LONGEST_S = 0.1, 5.0  # validity of the adiabatic equation


def strap_area_mm2(fault_current_a: float, clearing_time_s: float, k: float) -> float:
    """Least area in mm²: S = √(I²·t)/k, I in A, t in s, k in A·√s/mm² by material and temperatures.

    Adiabatic, so from 0.1 s to 5 s; raises InputError outside. Source: IEC 60364-5-54, 543.1.2.

    >>> round(strap_area_mm2(5000, 0.4, 143), 2)
    22.11
    """
    if not at_least(clearing_time_s, SHORTEST_S):
        raise InputError.at(
            "/clearing_time_s",
            f"is under {SHORTEST_S:g} s: there the let-through energy I²t of the device decides; take it from"
            " its data",
        )
    if not at_most(clearing_time_s, LONGEST_S):
        raise InputError.at(
            "/clearing_time_s",
            f"is over {LONGEST_S:g} s: heat then leaves the strap and the adiabatic equation does not hold",
        )
    return fault_current_a * sqrt(clearing_time_s) / k
