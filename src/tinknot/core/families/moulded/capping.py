"""The cap for a core: a moulded part of one mouth that is lined."""

from collections.abc import Sequence
from datetime import date

from tinknot.core.choosing.choose import edge_words
from tinknot.core.families.choice import Pick, pick_of
from tinknot.core.figures import MOST, mm
from tinknot.core.formulas.sleeve import Margins, fit
from tinknot.core.parts.boot import StockBoot


def cap_for(
    layer: str, title: str, parts: Sequence[StockBoot], od_mm: float, margins: Margins, today: date | None
) -> tuple[Pick, StockBoot | None]:
    """The narrowest cap that goes over a core of `od_mm` and closes on it, with why others do not serve."""
    caps = [p for p in parts if len(p.openings) == 1]

    def fault(p: StockBoot) -> str:
        if p.free(today) == 0:
            return "none on hand in date"
        if not p.lined:
            return "has no adhesive lining"
        judged = fit(p.tube(0), od_mm, od_mm, margins)
        return "" if judged.verdict == "fits" else f"is {edge_words(judged)}"

    need = f"over a core of {mm(od_mm):.1f} mm, lined"
    return pick_of(
        layer,
        title,
        need,
        f"Order a lined cap for {mm(od_mm):.1f} mm.",
        parts=caps,
        fault=fault,
        worth=lambda p: (p.openings[0].expanded_id_mm, p.id),
        said=lambda p: f"goes over up to {mm(p.openings[0].expanded_id_mm, MOST):g} mm",
    )
