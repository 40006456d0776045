"""Paper that every printed thing shares: page, typeface, QR code, tables."""

import io
from collections.abc import Iterable, Sequence
from functools import cache
from pathlib import Path
from typing import Any

import segno
from fontTools.ttLib import TTFont
from fpdf import FPDF, XPos, YPos

FONTS = Path(__file__).parent / "fonts"


REGULAR = FONTS / "barlow-semi-condensed-400.woff2"
STAND_IN = "¤"  # for a sign that the font does not have


@cache
def _drawn() -> frozenset[int]:
    """The signs that the font has."""
    with TTFont(REGULAR) as font:
        return frozenset(font.getBestCmap())


class Paper(FPDF):
    """A page in the shipped typeface, with its name and the usual caution at the foot."""

    def __init__(self, title: str, **page: Any) -> None:
        super().__init__(**page)
        self.said = title
        self.add_font("Barlow", "", REGULAR)
        self.add_font("Barlow", "B", FONTS / "barlow-semi-condensed-600.woff2")

    def normalize_text(self, text: str) -> str:
        """Signs the shipped font does not have, in letters, else as a stand-in; what cannot be seen, as a
        space."""
        seen = "".join(c if c.isprintable() or c == "\n" else " " for c in text)
        written = seen.replace("→", "to").replace("MΩ", "Mohm").replace("Ω", "ohm")
        return super().normalize_text(
            "".join(c if c == "\n" or ord(c) in _drawn() else STAND_IN for c in written)
        )

    def footer(self) -> None:
        """Name, page, caution."""
        self.set_y(-12)
        self.set_font("Barlow", size=8)
        self.cell(
            0,
            5,
            f"{self.said} · page {self.page_no()} of {{nb}} · not a substitute for local codes or a licensed"
            " person",
        )


def qr(text: str, size: int = 6) -> io.BytesIO:
    """A QR code as PNG."""
    out = io.BytesIO()
    segno.make(text, error="m").save(out, kind="png", scale=size, border=2)
    out.seek(0)
    return out


def figure(value: float | None) -> str:
    """A figure as it is written; a question mark for one that nobody entered."""
    return "?" if value is None else f"{value:g}"


def heading(pdf: FPDF, text: str) -> None:
    """A heading, and back to the text's size."""
    pdf.ln(2)
    pdf.set_font("Barlow", "B", 12)
    pdf.cell(0, 7, text, new_x=XPos.LMARGIN, new_y=YPos.NEXT)
    pdf.set_font("Barlow", size=9)


def table(pdf: FPDF, head: Sequence[str], rows: Iterable[Sequence[str]], widths: Sequence[int]) -> None:
    """Rows under a head, ruled between."""
    with pdf.table(
        col_widths=widths, line_height=4.6, borders_layout="HORIZONTAL_LINES", text_align="LEFT"
    ) as rows_out:
        for line in (head, *rows):
            cells = rows_out.row()
            for cell in line:
                cells.cell(cell)
