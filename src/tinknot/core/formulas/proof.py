"""Proving: insulation resistance brought to 20 °C, and the mandrel for a bend."""

from collections.abc import Sequence
from dataclasses import dataclass

from tinknot.core.tolerance import at_least

REFERENCE_C = 20.0
LAW_C = (
    -20.0,
    80.0,
)  # between these insulation halves about evenly; beyond, no figure at 20 °C


@dataclass(frozen=True)
class Insulation:
    """A reading as it would be at 20 °C, in MΩ, and for one km, in MΩ·km; `passes` by the reading as
    taken."""

    at_20c_mohm: float
    mohm_km: float
    passes: bool


def insulation(
    reading_mohm: float, temperature_c: float, length_m: float, limit_mohm: float, halving_c: float = 10.0
) -> Insulation:
    """A reading in MΩ at a cable temperature in °C, over `length_m` metres, against a limit in MΩ.

    Resistance halves for each `halving_c` hotter, so R(20) = R·2^((T − 20)/halving); times the
    length in km it can be compared with the last reading. The reading as taken decides; equal
    passes. Source: IEC 60364-6 for the limit, physics of polymer conduction for the correction.

    >>> round(insulation(50, 30, 200, 1).at_20c_mohm), insulation(50, 30, 200, 1).mohm_km
    (100, 20.0)
    """
    at_20c = reading_mohm * 2 ** ((temperature_c - REFERENCE_C) / halving_c)
    return Insulation(at_20c, at_20c * length_m / 1000, at_least(reading_mohm, limit_mohm))


@dataclass(frozen=True)
class Bend:
    """The least mandrel and the one picked, mm (None where none is thick enough), and the strain of
    the outermost fibre on it, %."""

    least_mandrel_mm: float
    mandrel_mm: float | None
    outer_strain_pct: float


def bend(cable_od_mm: float, multiple: float, mandrels_mm: Sequence[float]) -> Bend:
    """The mandrel for a bend proof of `multiple` × cable OD: the smallest at hand that is not thinner.

    Outer-fibre strain ε = OD/(mandrel + OD), plane sections staying plane. On the mandrel picked,
    else on the least one.

    >>> bend(12, 8, [60, 100, 150])
    Bend(least_mandrel_mm=96, mandrel_mm=100, outer_strain_pct=10.714285714285714)
    """
    least = multiple * cable_od_mm
    picked = min((m for m in mandrels_mm if at_least(m, least)), default=None)
    strain = cable_od_mm / ((least if picked is None else picked) + cable_od_mm) * 100
    return Bend(least, picked, strain)
