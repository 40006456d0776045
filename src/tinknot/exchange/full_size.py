"""The drawing of a joint at full size, with a bar of 100 mm to check the print: PDF on as many sheets as it
takes, and SVG."""

from collections.abc import Iterator
from itertools import pairwise
from xml.etree import ElementTree

from fpdf import XPos, YPos

from tinknot.core.drawing.model import Section
from tinknot.exchange.drawing import draw_bodies, heights_of, outlines, paint_of
from tinknot.exchange.paper import Paper

BAR_MM = 100.0
BEYOND_MM = 20.0  # drawn beyond what is measured
SHEET_MM = (250.0, 130.0)  # of the drawing on one sheet of A4 across
NOTE_MM = 145.0  # the note above it takes
LEFT_MM, TOP_MM = 20.0, 34.0
NOTE = "Print at 100 %, no fitting to the page. Measure the bar: 100 mm. Lay the first line on its mark."


def _box(section: Section) -> tuple[float, float, float, float]:
    """What is drawn: from x, to x, from y, to y, mm."""
    far = [x for d in section.dimensions for x in (d.from_mm, d.to_mm)] or [section.from_mm, section.to_mm]
    turned = [p[0] for b in section.bodies if b.layer for p in (*b.top, *b.bottom)]
    low, high = heights_of(section)
    left = max(section.from_mm, min([*far, *turned]) - BEYOND_MM)
    right = min(max([section.to_mm, *turned]), max([*far, *turned]) + BEYOND_MM)
    return left, right, low - 2, high + 2


def _marks(section: Section) -> Iterator[tuple[float, str]]:
    """Places along the joint that a length is measured to, and what it is; each place once."""
    said: dict[float, str] = {}
    for d in section.dimensions:
        if d.kind != "whole":
            said.setdefault(round(d.from_mm, 2), "")
            said[round(d.to_mm, 2)] = f"{d.value_mm:.0f} {d.label}"
    yield from sorted(said.items())


def full_size_pdf(ref: str, number: int, section: Section) -> bytes:
    """A4 across, 1:1, sheet by sheet from left to right and from the top down."""
    pdf = Paper(f"{ref} rev. {number}, full size", orientation="landscape", format="A4")
    pdf.set_auto_page_break(False)
    left, right, low, high = _box(section)
    wide, tall = SHEET_MM
    rows = _cuts(0.0, high - low, tall)
    columns = _cuts(left, right, wide)
    sheets = [(x, y) for y in pairwise(rows) for x in pairwise(columns)]
    for n, ((a, b), (up, down)) in enumerate(sheets, 1):
        pdf.add_page()
        pdf.set_font("Barlow", "B", 14)
        of = f", sheet {n} of {len(sheets)}" if len(sheets) > 1 else ""
        title = f"{ref} rev. {number}: drawing 1:1{of}"
        pdf.cell(0, 7, title, new_x=XPos.LMARGIN, new_y=YPos.NEXT)
        pdf.set_font("Barlow", size=9)
        pdf.cell(0, 5, NOTE)
        _sheet(pdf, section, (a, b), (high - up, high - down))
    return bytes(pdf.output())


def _cuts(start: float, end: float, step: float) -> list[float]:
    """Where one sheet ends and the next begins."""
    found = [start]
    while found[-1] < end - 1e-6:
        found.append(min(end, found[-1] + step))
    return found


def _sheet(pdf: Paper, section: Section, x: tuple[float, float], y: tuple[float, float]) -> None:
    """One sheet: what lies between x (mm along) and y (mm up, the upper edge first)."""
    (a, b), (top, bottom) = x, y

    def at(point: tuple[float, float]) -> tuple[float, float]:
        return LEFT_MM + point[0] - a, TOP_MM + top - point[1]

    with pdf.rect_clip(LEFT_MM, TOP_MM, b - a, top - bottom):
        pdf.set_line_width(0.15)
        draw_bodies(pdf, section, at)
    under = TOP_MM + top - bottom
    pdf.set_font("Barlow", size=8)
    for n, (place, words) in enumerate(_marks(section)):
        if a - 1e-6 <= place <= b + 1e-6:
            px = at((place, 0.0))[0]
            pdf.line(px, TOP_MM, px, under + 3 + 4 * (n % 3))
            pdf.set_xy(px - 30, under + 3 + 4 * (n % 3))
            pdf.cell(60, 4, words, align="C")
    bar = under + 26
    pdf.line(LEFT_MM, bar, LEFT_MM + BAR_MM, bar)
    for px in (LEFT_MM, LEFT_MM + BAR_MM):
        pdf.line(px, bar - 3, px, bar + 3)
    pdf.set_xy(LEFT_MM, bar - 5)
    pdf.cell(BAR_MM, 4, "100 mm", align="C")


def full_size_svg(ref: str, number: int, section: Section) -> str:
    """One drawing in millimetres."""
    left, right, low, high = _box(section)
    width, height = max(right - left, NOTE_MM) + 10, high - low + 54
    svg = ElementTree.Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg",
            "width": f"{width:.1f}mm",
            "height": f"{height:.1f}mm",
            "viewBox": f"0 0 {width:.1f} {height:.1f}",
            "font-family": "sans-serif",
        },
    )

    def at(point: tuple[float, float]) -> tuple[float, float]:
        return 5 + point[0] - left, 16 + high - point[1]

    def put(what: str, words: str = "", **attributes: str) -> None:
        named = {k.replace("_", "-"): v for k, v in attributes.items()}
        ElementTree.SubElement(svg, what, named).text = words or None

    put("text", f"{ref} rev. {number}: drawing 1:1", x="5", y="6", font_size="5")
    put("text", NOTE, x="5", y="12", font_size="3.2")
    for body in sorted(section.bodies, key=lambda body: body.depth_mm):
        look = section.looks[body.kind]
        for outline in outlines(body, look):
            points = " ".join(f"{px:.3f},{py:.3f}" for px, py in map(at, outline))
            fill = "#{:02x}{:02x}{:02x}".format(*paint_of(body, look))
            put(
                "polygon",
                points=points,
                fill=fill,
                fill_opacity=f"{look.see_through:g}",
                stroke="#1e2428",
                stroke_width="0.15",
            )
    under = 16 + high - low
    for n, (place, words) in enumerate(_marks(section)):
        px, py = at((place, 0.0))[0], under + 3 + 4 * (n % 3)
        put("path", d=f"M{px:.2f} 16V{py:.2f}", stroke="#000", stroke_width="0.15")
        put("text", words, x=f"{px:.2f}", y=f"{py + 3:.2f}", font_size="2.8", text_anchor="middle")
    bar = f"M5 {height - 6:.2f}h{BAR_MM:g}m0 -3v6M5 {height - 9:.2f}v6"
    put("path", d=bar, stroke="#000", stroke_width="0.25", fill="none")
    put("text", "100 mm", x="55", y=f"{height - 8:.2f}", font_size="3.2", text_anchor="middle")
    return ElementTree.tostring(svg, encoding="unicode")
