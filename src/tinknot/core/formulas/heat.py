"""The heat gun's dial from its own calibration."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from tinknot.core.errors import InputError
from tinknot.core.tolerance import at_least, at_most


@dataclass(frozen=True)
class DialPoint:
    """A calibration point: at `dial` the gun blows `temperature_c` (°C)."""

    dial: float
    temperature_c: float


@dataclass(frozen=True)
class GunSetting:
    """The dial for a temperature; None with a reason where the calibration does not reach."""

    dial: float | None
    reason: str


def gun_setting(calibration: Sequence[DialPoint], target_c: float) -> GunSetting:
    """The dial for `target_c` (°C), linear between neighbouring calibration points, never beyond them.

    Raises InputError when a dial stands twice or the temperature does not rise with the dial.

    >>> gun_setting([DialPoint(1, 100), DialPoint(5, 300)], 150).dial
    2.0
    """
    order = sorted(range(len(calibration)), key=lambda i: calibration[i].dial)
    points = [calibration[i] for i in order]
    for (a, b), j in zip(pairwise(points), order[1:], strict=True):
        if b.dial <= a.dial:
            raise InputError.at(f"/calibration/{j}/dial", "stands twice; give each dial setting once")
        if b.temperature_c <= a.temperature_c:
            raise InputError.at(f"/calibration/{j}/temperature_c", "must rise with the dial")
    low, high = points[0], points[-1]
    if not at_least(target_c, low.temperature_c):
        return GunSetting(
            None, f"{target_c:g} °C is below the lowest calibration point, {low.temperature_c:g} °C"
        )
    if not at_most(target_c, high.temperature_c):
        return GunSetting(
            None, f"{target_c:g} °C is above the highest calibration point, {high.temperature_c:g} °C"
        )
    for a, b in pairwise(points):
        if at_most(target_c, b.temperature_c):
            share = (target_c - a.temperature_c) / (b.temperature_c - a.temperature_c)
            return GunSetting(a.dial + min(1.0, max(0.0, share)) * (b.dial - a.dial), "")
    return GunSetting(low.dial, "")
