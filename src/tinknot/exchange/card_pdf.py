"""The paper fallback: the plan on A6, as it is needed in order at the joint."""

from collections.abc import Iterable
from fractions import Fraction
from typing import Literal

from fpdf import XPos, YPos

from tinknot.core.formulas.length import to_inches
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import DATUMS
from tinknot.exchange.drawing import draw_section
from tinknot.exchange.paper import Paper, heading, qr, table

Unit = Literal["mm", "inch"]


def card_pages(
    ref: str, title: str, where: str, number: int, plan: Plan, link: str, unit: Unit = "mm"
) -> bytes:
    """Cuts as running distances, park list, settings, holds with room to sign; A6, one or two pages. In inch
    every length is told by the nearest sixteenth, with its mm behind it."""
    pdf = Paper(f"{ref} rev. {number}", format=(105, 148))
    pdf.set_margin(7)
    pdf.set_auto_page_break(True, 13)
    pdf.add_page()
    pdf.image(qr(link), x=82, y=5, w=17)
    pdf.set_font("Barlow", "B", 18)
    pdf.cell(70, 8, ref, new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    pdf.set_font("Barlow", size=9)
    for words in (title, where):
        if words:
            pdf.cell(72, 4.2, words[:52], new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    pdf.set_y(max(pdf.get_y() + 2, 24))
    if plan.section:
        pdf.set_y(pdf.get_y() + draw_section(pdf, plan.section, 7, pdf.get_y(), width=91))
    pdf.set_font("Barlow", "B", 9)
    pdf.multi_cell(0, 4.2, plan.safety[1], new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    heading(pdf, "Cuts, mm" if unit == "mm" else "Cuts, inch (mm)")
    table(
        pdf,
        ("End", "What", "At", "From"),
        _cuts(plan, unit),
        (10, 34, 22, 25) if unit == "mm" else (8, 30, 32, 21),
    )
    if plan.park:
        heading(pdf, "Thread on before joining, in this order")
        table(pdf, ("End", "Part", "On", unit), _parked(plan, unit), (10, 38, 26, 17))
    if plan.settings:
        heading(pdf, "Settings")
        table(pdf, ("Tool", "Setting"), ((s.tool, s.setting) for s in plan.settings), (30, 61))
    heading(pdf, "Holds: sign with name and time")
    table(pdf, ("Hold", "Name", "Time"), ((s.title, "", "") for s in plan.steps if s.hold), (45, 26, 20))
    return bytes(pdf.output())


def _cuts(plan: Plan, unit: Unit) -> Iterable[tuple[str, str, str, str]]:
    """One line for cores that are cut alike."""
    groups: dict[tuple[str, str, float, float, str], list[str]] = {}
    for c in plan.cuts:
        kind = c.layer.split(" ")[0] if c.core else c.layer
        groups.setdefault((c.end, kind, c.distance_mm, c.tolerance_mm, c.datum), []).append(c.core)
    for (end, kind, distance, tolerance, datum), cores in groups.items():
        yield (
            end,
            f"{kind} {', '.join(cores)}".strip(),
            f"{distance:.1f} ± {tolerance:g}"
            if unit == "mm"
            else f"{_inches(distance)} ({distance:.1f} ± {tolerance:g})",
            DATUMS.get(datum, datum),
        )


def _parked(plan: Plan, unit: Unit) -> Iterable[tuple[str, str, str, str]]:
    """One line for equal parts on one side, in threading order."""
    names = {p.layer: p.name for p in plan.parts}
    groups: dict[tuple[str, str, float], list[str]] = {}
    for end, e in plan.park.parts() if plan.park else ():
        groups.setdefault((end, names.get(e.layer, e.part_id), e.length_mm), []).append(e.track)
    for (end, name, length), tracks in groups.items():
        yield (
            end,
            name,
            plan.park.skin if plan.park and tracks == ["sheath"] else f"core {', '.join(tracks)}",
            f"{length:g}" if unit == "mm" else f"{_inches(length)} ({length:g})",
        )


def _inches(mm: float) -> str:
    return to_inches(Fraction(str(mm))).inch_text
