"""The foil that screens are made good with: from a roll, or taken from equal cable."""

from datetime import date

from tinknot.core.families.choice import Pick, pick_of
from tinknot.core.figures import LEAST, MOST, mm
from tinknot.core.formulas.tape import wrap
from tinknot.core.parts.foil import StockFoil
from tinknot.core.tolerance import at_least, whole_up

LAYER, TITLE = "foil", "foil of the screens"


def needed_mm(foil: StockFoil, ods_mm: tuple[float, ...], missing_mm: float, harvest_mm: float) -> int:
    """How much of a roll it takes to wrap `missing_mm` of everything in `ods_mm`: off a reel as it is wound;
    of equal cable one length, which has the foil of all its units, and `harvest_mm` more."""
    if foil.harvested:
        return whole_up(missing_mm + harvest_mm)
    each = (
        wrap(od, missing_mm, foil.width_mm, foil.thickness_mm, overlap_pct=foil.overlap_pct) for od in ods_mm
    )
    return whole_up(sum(w.tape_length_mm for w in each))


def foil_for(
    foils: list[StockFoil],
    ods_mm: tuple[float, ...],
    missing_mm: float,
    harvest_mm: float,
    today: date | None,
) -> tuple[Pick, StockFoil | None]:
    """The foil to take: off a reel before from equal cable, the least of it, with why others do not serve."""
    need = {f.id: needed_mm(f, ods_mm, missing_mm, harvest_mm) for f in foils}

    def fault(f: StockFoil) -> str:
        have = f.free(today)
        if have == 0:
            return "none on hand in date"
        if have is not None and not at_least(have * f.roll_mm, need[f.id]):
            return f"{mm(have * f.roll_mm, MOST):.0f} mm on hand, {mm(need[f.id], LEAST)} mm needed"
        return ""

    def said(f: StockFoil) -> str:
        return (
            f"{mm(need[f.id])} mm of equal cable for its foil"
            if f.harvested
            else f"{mm(need[f.id])} mm of it"
        )

    what = f"{len(ods_mm)} wrap{'s' if len(ods_mm) > 1 else ''} of {mm(missing_mm):.0f} mm, half-lapped"
    cable = whole_up(missing_mm + harvest_mm)
    advice = f"Order foil of the same kind, or take it from {mm(cable, LEAST)} mm of equal cable."
    return pick_of(
        LAYER,
        TITLE,
        what,
        advice,
        parts=foils,
        fault=fault,
        worth=lambda f: (f.harvested, need[f.id], f.id),
        said=said,
    )
