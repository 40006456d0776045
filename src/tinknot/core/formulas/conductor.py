"""Conductor sizes: IEC 60228 classes, AWG (ASTM B258) and kcmil."""

from dataclasses import dataclass
from math import log, pi, sqrt
from typing import Literal

from tinknot.core.errors import InputError

MM2_PER_KCMIL = pi / 4 * 25.4**2 / 1000  # 1000 circular mils, a mil is 1/1000 inch

METRIC_SIZES_MM2 = (
    0.5,
    0.75,
    1,
    1.5,
    2.5,
    4,
    6,
    10,
    16,
    25,
    35,
    50,
    70,
    95,
    120,
    150,
    185,
    240,
    300,
    400,
    500,
    630,
    800,
    1000,
)  # IEC 60228, table 1 and following

# Greatest diameter of circular copper conductors in mm, IEC 60228 Annex C.
GREATEST_MM: dict[int, dict[float, float]] = {
    2: {
        1.5: 1.7,
        2.5: 2.2,
        4: 2.7,
        6: 3.3,
        10: 4.2,
        16: 5.3,
        25: 6.6,
        35: 7.9,
        50: 9.1,
        70: 11.0,
        95: 12.9,
        120: 14.5,
    },
    5: {
        0.5: 1.1,
        0.75: 1.3,
        1: 1.5,
        1.5: 1.8,
        2.5: 2.4,
        4: 3.0,
        6: 3.9,
        10: 5.1,
        16: 6.3,
        25: 7.8,
        35: 9.2,
        50: 11.0,
        70: 13.1,
        95: 15.1,
        120: 17.0,
    },
}
# Greatest resistance of plain copper at 20 °C in Ω/km, IEC 60228 tables 2 and 3.
RESISTANCE_OHM_KM: dict[int, dict[float, float]] = {
    2: {
        0.5: 36.0,
        0.75: 24.5,
        1: 18.1,
        1.5: 12.1,
        2.5: 7.41,
        4: 4.61,
        6: 3.08,
        10: 1.83,
        16: 1.15,
        25: 0.727,
        35: 0.524,
        50: 0.387,
        70: 0.268,
        95: 0.193,
        120: 0.153,
    },
    5: {
        0.5: 39.0,
        0.75: 26.0,
        1: 19.5,
        1.5: 13.3,
        2.5: 7.98,
        4: 4.95,
        6: 3.30,
        10: 1.91,
        16: 1.21,
        25: 0.780,
        35: 0.554,
        50: 0.386,
        70: 0.272,
        95: 0.206,
        120: 0.161,
    },
}
RESISTIVITY_OHM_MM2_KM = 17.241  # annealed copper, IEC 60028
COPPER_PER_K = 0.00393  # temperature coefficient at 20 °C, IEC 60228 annex A
FILL = {2: 0.65, 5: 0.48}  # share of the circle that is metal, for estimates of the greatest
LEAST_FILL = 0.90


@dataclass(frozen=True)
class Conductor:
    """`area_mm2`, greatest and least diameter in mm, and where the greatest comes from."""

    area_mm2: float
    greatest_mm: float
    least_mm: float
    source: Literal["table", "formula", "estimate"]


def awg_diameter_mm(number: int) -> float:
    """Diameter in mm of a solid AWG wire; 0 is 1/0, −3 is 4/0. Source: ASTM B258.

    >>> round(awg_diameter_mm(12), 3), round(awg_diameter_mm(-3), 2)
    (2.053, 11.68)
    """
    return 0.127 * float(92 ** ((36 - number) / 39))


def awg_number(text: str) -> int:
    """`12` → 12, `2/0` → −1. Raises InputError at `/awg` outside 4/0 to 40."""
    head, slash, tail = text.strip().partition("/")
    if slash and tail == "0" and head in {"1", "2", "3", "4"}:
        return 1 - int(head)
    if not slash and head.isdecimal() and int(head) <= 40:
        return int(head)
    raise InputError.at("/awg", "must be a size from 4/0 to 40, such as 12 or 2/0")


def circle_mm2(diameter_mm: float) -> float:
    """Area in mm² of a circle."""
    return pi * diameter_mm**2 / 4


def circle_mm(area_mm2: float, fill: float = 1.0) -> float:
    """Diameter in mm of the circle of which `area_mm2` fills the share `fill`."""
    return sqrt(4 * area_mm2 / (pi * fill))


def conductor(area_mm2: float, flexibility: int = 2) -> Conductor:
    """Diameters of a circular copper conductor of class 1 (solid), 2 (stranded) or 5 (flexible).

    A calliper reading always wins over this. Source: IEC 60228 Annex C, else the fill estimate.

    >>> conductor(6).greatest_mm, conductor(6, 5).greatest_mm, conductor(8).source
    (3.3, 3.9, 'estimate')
    """
    if flexibility == 1:
        d = circle_mm(area_mm2)
        return Conductor(area_mm2, d, d, "formula")
    table = next((d for a, d in GREATEST_MM[flexibility].items() if abs(area_mm2 / a - 1) < 1e-9), None)
    least = circle_mm(area_mm2, LEAST_FILL)
    if table is not None:
        return Conductor(area_mm2, table, min(least, table), "table")
    return Conductor(area_mm2, circle_mm(area_mm2, FILL[flexibility]), least, "estimate")


def nearest_metric_mm2(area_mm2: float) -> float:
    """The IEC 60228 size nearest in ratio.

    >>> nearest_metric_mm2(3.31), nearest_metric_mm2(5.26)
    (4, 6)
    """
    return min(METRIC_SIZES_MM2, key=lambda size: abs(log(area_mm2 / size)))


def resistance_uohm(area_mm2: float, length_mm: float, class_: int = 2, temperature_c: float = 20.0) -> float:
    """Resistance in µΩ of `length_mm` of copper conductor at a temperature in °C.

    From IEC 60228 where its table has the size, else from the resistivity of annealed copper, which
    is the lower figure and so the stricter limit.

    >>> round(resistance_uohm(70, 100))
    27
    """
    ohm_km = RESISTANCE_OHM_KM.get(class_, {}).get(area_mm2, RESISTIVITY_OHM_MM2_KM / area_mm2)
    return ohm_km * length_mm * (1 + COPPER_PER_K * (temperature_c - 20))
