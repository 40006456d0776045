"""What the metal of a cable end has, over its length."""

from math import pi

from tinknot.core.formulas.conductor import resistance_uohm
from tinknot.core.formulas.earth import METAL_OHM_MM2_KM
from tinknot.core.joint.cable import CableEnd, LeadSheath

WIRES = pi / 4  # of a layer, what round wires side by side fill of it


def lead_mm2(lead: LeadSheath) -> float:
    """Metal of a sheath of lead, mm² across."""
    return pi * (lead.inner.greatest_mm + lead.wall_mm) * lead.wall_mm


def mohm_per_m(end: CableEnd) -> dict[str, float]:
    """mΩ of a metre of each copper core, of a sheath of lead, and of the armour: by its section, or as
    round wires side by side where nobody gave that."""
    found = {
        c.name: resistance_uohm(c.area_mm2, 1000, c.flexibility) / 1000
        for c in end.cores
        if c.metal == "copper"
    }
    if a := end.armour:
        laid = WIRES * pi * (a.bedding.greatest_mm + a.thickness_mm) * a.thickness_mm
        found["armour"] = METAL_OHM_MM2_KM[a.metal] / (a.area_mm2 or laid)
    if end.lead:
        found["lead-sheath"] = METAL_OHM_MM2_KM["lead"] / lead_mm2(end.lead)
    return found
