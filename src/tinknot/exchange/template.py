"""The cut template of one end, 1:1, with a bar of 100 mm to check the print: PDF and SVG."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from xml.etree import ElementTree

from fpdf import XPos, YPos

from tinknot.core.plan.plan import Plan
from tinknot.core.plan.trace import PreparedEnd
from tinknot.exchange.paper import Paper

ROW_MM = 11.0
SHEATH_MM = 25.0  # of sheath drawn before its cut
BAR_MM = 100.0
PAGE_MM = 250.0  # of template on one A4 page across; longer ones go on overleaf
TOP_MM = 34.0
NOTE = "Print at 100 %, no fitting to the page. Measure the bar: 100 mm. Lay the first cut on its line."


@dataclass(frozen=True)
class Mark:
    """A line across the template: mm from the sheath cut, and what is cut there."""

    at_mm: float
    words: str


@dataclass(frozen=True)
class Row:
    """One core: where its insulation ends and where it is cut, mm from the sheath cut."""

    core: str
    bare_mm: float
    cut_mm: float


def marks_of(plan: Plan, end: str) -> list[Mark]:
    """Cuts through the whole cable, from the sheath cut on."""
    found = [Mark(0.0, "sheath cut")]
    found += [
        Mark(c.distance_mm, c.layer)
        for c in plan.cuts
        if c.end == end and c.datum == "sheath-cut" and not c.core
    ]
    return found


def rows_of(plan: Plan, end: str) -> list[Row]:
    """The cores of an end; empty where none is cut."""
    at = {(c.core, c.layer.split(" ")[0]): c.distance_mm for c in plan.cuts if c.end == end and c.core}
    cores = dict.fromkeys(core for core, _ in at)
    return [Row(c, at.get((c, "insulation"), at[c, "core"]), at[c, "core"]) for c in cores]


Shape = tuple[str, float, float, float, float, str]


def _shapes(plan: Plan, end: str) -> Iterator[Shape]:
    """(kind, x, y, width, height, words) in mm; x from the sheath cut, or from a flat cable's jacket cut."""
    flat = next((p for p in plan.trace.prepared if p.end == end), None) if plan.trace else None
    yield from _flat(flat) if flat else _round(plan, end)


def _flat(p: PreparedEnd) -> Iterator[Shape]:
    """A flat end as it lies on the paper, width and all."""
    jacket = next(x.from_mm for x in p.layers if x.kind == "outer-jacket")
    middle = max(x.width_mm for x in p.layers) / 2 + 2
    for x in p.layers:
        far = min(x.to_mm, jacket + SHEATH_MM)
        words = {"outer-jacket": "outer jacket", "inner-jacket": "inner"}.get(x.kind, "")
        kind = {"outer-jacket": "sheath", "inner-jacket": "bedding", "bus": "bare"}.get(x.kind, "core")
        yield kind, jacket - far, middle - x.y_mm - x.width_mm / 2, far - x.from_mm, x.width_mm, words
    deep = middle * 2 + 6
    for n, c in enumerate(sorted(p.cuts, key=lambda c: -c.at_mm)):
        said = c.layer.replace("-", " ")
        yield "mark", jacket - c.at_mm, -4 - 4 * (n % 2), 0, deep + 4 * (n % 2), f"{said} {c.length_mm:g}"
    yield "mark", jacket, -4 - 4 * (len(p.cuts) % 2), 0, deep + 4 * (len(p.cuts) % 2), "square end"


def _round(plan: Plan, end: str) -> Iterator[Shape]:
    rows, marks = rows_of(plan, end), marks_of(plan, end)
    root = max(m.at_mm for m in marks if m.words in ("sheath cut", "bedding"))
    yield "sheath", -SHEATH_MM, 0, SHEATH_MM, ROW_MM * len(rows), "sheath"
    if root:
        yield "bedding", 0, ROW_MM * 0.3, root, ROW_MM * (len(rows) - 0.6), ""
    for n, row in enumerate(rows):
        y = ROW_MM * n + 2
        yield "core", root, y, row.bare_mm - root, ROW_MM - 4, f"core {row.core}"
        yield "bare", row.bare_mm, y + 2, row.cut_mm - row.bare_mm, ROW_MM - 8, ""
        yield "at", row.bare_mm, y, 0, ROW_MM - 4, f"{row.bare_mm:.1f}"
        yield "at", row.cut_mm, y, 0, ROW_MM - 4, f"{row.cut_mm:.1f}"
    for mark in marks:
        yield (
            "mark",
            mark.at_mm,
            -4,
            0,
            ROW_MM * len(rows) + 8,
            f"{mark.words} {mark.at_mm:.1f}".removesuffix(" 0.0"),
        )


_FILL = {"sheath": "#c9ced1", "bedding": "#e3e0d8", "core": "#eef1f2", "bare": "#e4bd95"}


def _tall(shapes: Sequence[Shape]) -> float:
    """Height of what is drawn, mm."""
    return max((y + h for kind, _, y, _, h, _ in shapes if kind in _FILL), default=0.0)


def template_svg(ref: str, number: int, plan: Plan, end: str) -> str:
    """One drawing in millimetres."""
    shapes = list(_shapes(plan, end))
    width = SHEATH_MM + max((x + w for _, x, _, w, _, _ in shapes), default=0.0) + 30
    height = _tall(shapes) + TOP_MM + 26
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

    def text(x: float, y: float, words: str, size: float = 3.2, anchor: str = "start") -> None:
        node = ElementTree.SubElement(
            svg, "text", {"x": f"{x:.2f}", "y": f"{y:.2f}", "font-size": str(size), "text-anchor": anchor}
        )
        node.text = words

    def line(x1: float, y1: float, x2: float, y2: float) -> None:
        ElementTree.SubElement(
            svg,
            "path",
            {"d": f"M{x1:.2f} {y1:.2f}L{x2:.2f} {y2:.2f}", "stroke": "#000", "stroke-width": "0.25"},
        )

    text(5, 7, f"{ref} rev. {number}, end {end}: cut template 1:1", 5)
    text(5, 13, NOTE)
    left = SHEATH_MM + 5
    for kind, x, y, w, h, words in shapes:
        px, py = left + x, TOP_MM + y
        if kind in _FILL:
            ElementTree.SubElement(
                svg,
                "rect",
                {
                    "x": f"{px:.2f}",
                    "y": f"{py:.2f}",
                    "width": f"{max(w, 0):.2f}",
                    "height": f"{h:.2f}",
                    "fill": _FILL[kind],
                    "stroke": "#000",
                    "stroke-width": "0.2",
                },
            )
            text(px + 1.5, py + h / 2 + 1.2, words)
        else:
            line(px, py, px, py + h)
            text(
                px + (0.8 if kind == "at" else 0),
                py + (h / 2 + 1.2 if kind == "at" else -1),
                words,
                2.8,
                anchor="start" if kind == "at" else "middle",
            )
    y = height - 10
    line(left, y, left + BAR_MM, y)
    for x in (left, left + BAR_MM):
        line(x, y - 3, x, y + 3)
    text(left + BAR_MM / 2, y - 1.5, "100 mm", 3.2, anchor="middle")
    return ElementTree.tostring(svg, encoding="unicode")


def template_pdf(ref: str, number: int, plan: Plan, end: str) -> bytes:
    """A4 across, at full size; what is longer than a page goes on overleaf from a marked line."""
    pdf = Paper(f"{ref} rev. {number}, end {end}", orientation="landscape", format="A4")
    pdf.set_auto_page_break(False)
    shapes = list(_shapes(plan, end))
    far = max((x + w for _, x, _, w, _, _ in shapes), default=0.0) + 12
    start = -SHEATH_MM
    while start < far:
        _page(pdf, ref, number, end, shapes=shapes, start=start, tall=_tall(shapes))
        start += PAGE_MM
    return bytes(pdf.output())


def _page(
    pdf: Paper,
    ref: str,
    number: int,
    end: str,
    shapes: list[Shape],
    start: float,
    tall: float,
) -> None:
    pdf.add_page()
    pdf.set_font("Barlow", "B", 14)
    pdf.cell(0, 7, f"{ref} rev. {number}, end {end}: cut template 1:1", new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    pdf.set_font("Barlow", size=9)
    pdf.cell(0, 5, NOTE + ("" if start < 0 else f" Goes on from {start:.0f} mm."))
    left = 15.0
    pdf.set_line_width(0.2)
    for kind, x, y, w, h, words in shapes:
        a, b = max(x, start), min(x + w, start + PAGE_MM)
        if b < a - 1e-9 or x > start + PAGE_MM or x + w < start:
            continue
        px, py = left + a - start, TOP_MM + y
        if kind in _FILL:
            pdf.set_fill_color(*bytes.fromhex(_FILL[kind][1:]))
            pdf.rect(px, py, b - a, h, style="DF")
            if words and a == x:
                pdf.set_xy(px + 1, py + h / 2 - 2)
                pdf.cell(30, 4, words)
        else:
            pdf.line(px, py, px, py + h)
            pdf.set_xy(px - 15 if kind == "mark" else px + 0.5, py - 4 if kind == "mark" else py + h / 2 - 2)
            pdf.cell(30, 4, words, align="C" if kind == "mark" else "L")
    y = TOP_MM + tall + 22
    pdf.line(left, y, left + BAR_MM, y)
    for x in (left, left + BAR_MM):
        pdf.line(x, y - 3, x, y + 3)
    pdf.set_xy(left, y - 5)
    pdf.cell(BAR_MM, 4, "100 mm", align="C")
