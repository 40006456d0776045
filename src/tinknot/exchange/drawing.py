"""The section on paper: the same geometry the screen draws, to scale, in millimetres."""

from collections.abc import Callable

from fpdf import FPDF

from tinknot.core.drawing.model import Appearance, Body, Material, Point, Section

PAINTS: dict[Material, tuple[int, int, int]] = {
    "sheath": (74, 82, 88),
    "bedding": (141, 133, 119),
    "core": (150, 150, 150),
    "strand": (190, 125, 70),
    "grey-strand": (174, 183, 188),
    "copper": (190, 125, 70),
    "metal": (176, 184, 190),
    "dark-metal": (120, 130, 138),
    "armour": (150, 158, 164),
    "braid": (176, 184, 190),
    "sleeve": (38, 86, 122),
    "barrier": (150, 84, 60),
    "tape": (60, 66, 74),
    "mica": (196, 178, 120),
    "shell": (200, 190, 160),
    "resin": (196, 150, 80),
    "matrix": (45, 50, 54),
    "overlay": (207, 199, 180),
}
CORES = {
    "brown": (122, 74, 48),
    "black": (38, 38, 40),
    "grey": (140, 146, 150),
    "blue": (52, 110, 170),
    "green-yellow": (110, 160, 60),
    "red": (170, 50, 45),
    "white": (225, 225, 220),
    "yellow": (220, 190, 60),
    "orange": (192, 105, 43),
    "green": (63, 125, 70),
    "pink": (208, 143, 160),
    "violet": (109, 76, 134),
    "turquoise": (70, 150, 150),
}


MOST_TALL = 0.5  # of its width a drawing may be tall


def paint_of(body: Body, look: Appearance) -> tuple[int, int, int]:
    """What a body is filled with: red, green, blue."""
    own = CORES.get(body.colour) or CORES.get(body.colour.split("-")[0])  # of two colours the first
    return own or PAINTS[look.material]


def heights_of(section: Section) -> tuple[float, float]:
    """How far down and up a drawing goes, mm: as far on both sides, but for what turns off to one."""
    up = max(v for b in section.bodies for _, v in (*b.top, *b.bottom))
    down = min(v for b in section.bodies for _, v in (*b.top, *b.bottom))
    thick = max((c.outside_mm / 2 for c in section.crossings), default=up)
    return (min(down, -thick), up) if up > 1.5 * thick else (-max(up, -down), max(up, -down))


def draw_bodies(pdf: FPDF, section: Section, at: Callable[[Point], Point]) -> None:
    """Every body, the nearest last; `at`: where a point of the drawing lies on the page, mm."""
    for body in sorted(section.bodies, key=lambda b: b.depth_mm):
        look = section.looks[body.kind]
        pdf.set_fill_color(*paint_of(body, look))
        pdf.set_draw_color(30, 36, 40)
        with pdf.local_context(fill_opacity=look.see_through):
            for outline in outlines(body, look):
                pdf.polygon([at(p) for p in outline], style="DF")


def draw_section(pdf: FPDF, section: Section, x: float, y: float, width: float) -> float:
    """Draw at (x, y) in a box `width` mm wide; returns the height used, mm. The scale is written under it."""
    low = min((d.from_mm for d in section.dimensions), default=section.from_mm) - 15
    high = max((d.to_mm for d in section.dimensions), default=section.to_mm) + 15
    down, up = heights_of(section)
    scale = min(width / (high - low), MOST_TALL * width / (up - down))
    middle = y + up * scale + 1

    def at(point: tuple[float, float]) -> tuple[float, float]:
        return (x + (min(max(point[0], low), high) - low) * scale, middle - point[1] * scale)

    pdf.set_line_width(0.1)
    draw_bodies(pdf, section, at)
    bottom = middle - down * scale
    pdf.set_draw_color(60, 70, 76)
    pdf.set_font("Barlow", size=7)
    for n, d in enumerate(d for d in section.dimensions if d.kind not in ("overlap", "whole")):
        row = bottom + 5 + 6 * n
        (x1, _), (x2, _) = at((d.from_mm, 0)), at((d.to_mm, 0))
        pdf.line(x1, row, x2, row)
        pdf.line(x1, row - 1, x1, row + 1)
        pdf.line(x2, row - 1, x2, row + 1)
        pdf.set_xy(x1, row - 3.8)
        pdf.cell(x2 - x1, 3, f"{d.value_mm:.0f} {d.label}", align="C")
    pdf.set_font("Barlow", "B", 9)
    for name, left, align in (("A", x, "L"), ("B", x + width - 20, "R")):
        pdf.set_xy(left, bottom + 1)
        pdf.cell(20, 4, name, align=align)
    pdf.set_fill_color(255)
    return (up - down) * scale + 19


def outlines(body: Body, look: Appearance) -> list[list[tuple[float, float]]]:
    """A body's outline; a sleeve over everything is cut open, so it is two walls."""
    if look.form != "hollow":
        return [[*body.top, *reversed(body.bottom)]]
    under = [(px, -py) for px, py in body.bottom]
    return [[*body.top, *reversed(body.bottom)], [*((px, -py) for px, py in body.top), *reversed(under)]]
