"""The record and the label as PDF, with a QR code to the joint."""

from collections.abc import Iterable
from typing import Any

from fpdf import XPos, YPos

from tinknot.core.dates import Dates, moment
from tinknot.core.families.registry import USUAL, family
from tinknot.core.figures import plain
from tinknot.core.plan.parts import PartOut
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut
from tinknot.core.work.states import Flag, Progress, StepState
from tinknot.core.work.verdict import notes_of
from tinknot.exchange.drawing import draw_section
from tinknot.exchange.paper import Paper, figure, heading, qr, table


def record_pages(record: dict[str, Any], plan: Plan, progress: Progress, link: str, dates: Dates) -> bytes:
    """The whole record on A4: section, readings, parts with lots, steps with times and names, signatures."""
    pdf = Paper(f"Tin Knot record {record['ref']}", format="A4")
    pdf.set_auto_page_break(True, 16)
    pdf.add_page()
    pdf.image(qr(link), x=172, y=10, w=26)
    pdf.set_font("Barlow", "B", 22)
    pdf.cell(0, 10, record["ref"], new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    pdf.set_font("Barlow", size=11)
    card = record["draft"].get("card", {})
    for text in (
        record["title"],
        f"{record['line']} {card.get('where', '')}".strip(),
        f"State: {progress.state}",
    ):
        if text:
            pdf.cell(150, 5.5, text, new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    if record["altered"]:
        pdf.set_font("Barlow", "B", 11)
        pdf.multi_cell(150, 5.5, f"Altered: {record['altered']}.", new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    pdf.set_y(max(pdf.get_y() + 4, 42))
    if plan.section:
        pdf.set_y(pdf.get_y() + draw_section(pdf, plan.section, 10, pdf.get_y(), width=190))
    heading(pdf, "Card")
    duties = ", ".join(card.get("duties", [])) or "dry"
    pdf.multi_cell(
        0,
        4.6,
        f"{card.get('cable', '')}  Rated {figure(card.get('rated_voltage_v'))} V. Lives in: {duties}."
        f" {card.get('why', '')}",
        new_x=XPos.LMARGIN,
        new_y=YPos.NEXT,
    )
    heading(pdf, "Measured (mm)")
    table(pdf, ("End", "What", "Reading", "At 90°"), _measured(record["draft"]), (20, 80, 45, 45))
    heading(pdf, "Parts")
    parts = (
        (
            p.title,
            p.name,
            p.lot or "–",
            _taken(p),
            f"{p.od_after_mm:.2f}",
        )
        for p in plan.parts
    )
    table(pdf, ("Layer", "Part", "Lot", "Planned cut", "Planned outside, mm"), parts, (50, 60, 30, 22, 28))
    heading(pdf, "Work")
    done = {s.id: s for s in progress.steps}
    steps = (
        (
            _with_target(s),
            done[s.id].actor or "–",
            moment(done[s.id].at, dates),
            _values(s, done[s.id]),
        )
        for s in plan.steps
        if done[s.id].state == "done"
    )
    table(pdf, ("Step, as planned", "By", "When (UTC)", "As read, tools"), steps, (70, 30, 32, 58))
    kept = [
        f"{s.title}: outside its tolerance, kept because: {done[s.id].reason}"
        for s in plan.steps
        if done[s.id].reason
    ]
    kept += [
        f"{moment(m.at, dates)} {m.actor}: {m.seen}. {m.words}{_lost(m.lost_mm)}" for m in progress.mended
    ]
    kept += [f"{_flagged(f)}: {f.why}" for f in progress.flags]
    kept += notes_of(plan, progress)
    if kept or progress.limits:
        heading(pdf, "Deviations")
        for line in ([f"Released with a limit: {progress.limits}"] if progress.limits else []) + kept:
            pdf.multi_cell(0, 4.4, line, new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    pictures = [p for ps in progress.photos.values() for p in ps]
    if pictures:
        heading(pdf, "Pictures, by the hash of their content")
        for step_id, digests in progress.photos.items():
            step = plan.step(step_id)
            pdf.multi_cell(
                0,
                4.4,
                f"{step.title if step else step_id}: {', '.join(d[:16] for d in digests)}",
                new_x=XPos.LMARGIN,
                new_y=YPos.NEXT,
            )
    heading(pdf, "Signatures")
    signed = [s for s in plan.steps if s.hold and done[s.id].state == "done"]
    table(
        pdf,
        ("Hold", "Name", "When (UTC)"),
        ((s.hold or "", done[s.id].actor, moment(done[s.id].at, dates)) for s in signed),
        (80, 60, 50),
    )
    pdf.ln(3)
    pdf.set_font("Barlow", size=8)
    lines = (
        f"Head of the event chain: {record['head'] or 'none'}",
        f"Signature (Ed25519): {record['signature'] or 'not released'}",
        COVERS.get(record["scheme"], "") if record["signature"] else "",
    )
    pdf.multi_cell(0, 4, "\n".join(line for line in lines if line), new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    return bytes(pdf.output())


COVERS = {
    1: "It covers what was entered, the plans and the events; not place, state and rules as they stood.",
    2: "It covers what was entered, the plans, the events, and place, line, state and rules as they stood.",
}  # what a signature covers, by its scheme


def _flagged(flag: Flag) -> str:
    """What became of an event that is told apart."""
    if flag.late:
        return "Told after the release"
    return "Counted, to be looked at" if flag.counts else "Kept, not counted"


def _taken(p: PartOut) -> str:
    """How many of a part, and how long each is cut."""
    if p.cut_length_mm is None:
        return f"{p.quantity:.3g}"
    return f"{f'{p.quantity:g} × ' if p.quantity != 1 else ''}{p.cut_length_mm:g} mm"


def _lost(lost_mm: dict[str, float]) -> str:
    return (
        f" (cable lost: {', '.join(f'{mm:g} mm on {end}' for end, mm in lost_mm.items())})"
        if any(lost_mm.values())
        else ""
    )


def _measured(draft: dict[str, Any]) -> Iterable[tuple[str, str, str, str]]:
    for r in family(draft.get("family", USUAL)).readings(draft):
        yield r.where, r.what, r.value, r.across


def _with_target(step: StepOut) -> str:
    """A step's title with the figure it was planned with: what was read of it stands beside it, as read."""
    return step.title + "".join(
        f", planned {plain(g.target)} {g.unit}" for g in step.gates if g.target is not None
    )


def _values(step: StepOut, state: StepState) -> str:
    """A step's readings, and with what it was done; readings of a stand-in and those beyond the display say
    so, and so does a figure that nobody read."""
    read = [
        f"{g.label} {'over ' if g.id in state.over else ''}{plain(state.values[g.id])} {g.unit}"
        + (" (simulated)" if g.id in state.simulated else "")
        for g in step.gates
        if g.id in state.values
    ]
    unread = [
        g.label for g in step.gates if g.id not in state.values and (g.target is not None or g.required)
    ]
    not_read = [f"not read: {', '.join(unread)}"] if unread else []
    return ", ".join([*read, *not_read, *(f"with {t}" for t in state.tools)])


def label_page(name: str, title: str, lines: Iterable[str], link: str) -> bytes:
    """A label of 70 × 30 mm with up to three lines under its title and a QR code of `link`."""
    pdf = Paper("", format=(30, 70), orientation="landscape")
    pdf.footer = lambda: None  # type: ignore[method-assign]  # a label has no page number
    pdf.set_auto_page_break(False)
    pdf.set_margin(2)
    pdf.add_page()
    pdf.image(qr(link), x=1, y=2, w=26)
    pdf.set_xy(28, 3)
    pdf.set_font("Barlow", "B", 18)
    pdf.cell(40, 8, name)
    pdf.set_font("Barlow", size=8)
    for n, text in enumerate((title[:38], *lines)):
        pdf.set_xy(28, 11 + 4 * n)
        pdf.cell(40, 4, text[:44])
    return bytes(pdf.output())
