"""Earth paths: the section that carries a fault until it is cleared, and what a sound path reads."""

from math import sqrt

from tinknot.core.errors import InputError
from tinknot.core.tolerance import at_least, at_most

METAL_OHM_MM2_KM = {
    "copper": 17.241,
    "aluminium": 28.264,
    "steel": 138.0,
    "lead": 214.0,
}  # Ω·mm²/km at 20 °C, IEC 60364-5-54 table A.54.1; lead: IEC 60287-1-1 table 1
ABOVE, CONTACT_MOHM = 1.1, 1.0  # of what a sound path has: share over its metal, and each contact in mΩ
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


def sound_path_mohm(mohm_per_m: float, length_mm: float, contacts: int) -> float:
    """The most that a sound path reads, mΩ: 1.1 × the metal it stands for, over `length_mm`, and 1 mΩ for
    each of its contacts, the leads nulled.

    >>> round(sound_path_mohm(5.0, 400, 6), 3)
    8.2
    """
    return ABOVE * mohm_per_m * length_mm / 1000 + CONTACT_MOHM * contacts
