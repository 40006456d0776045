"""Tapes: self-amalgamating, mastic and mica."""

from typing import Annotated, ClassVar, Literal, get_args

from pydantic import Field

from tinknot.core.model import Percent, PositiveLength
from tinknot.core.parts.kind import ROLLS, PartFigure, PartKind, choice, length, number
from tinknot.core.parts.stocked import Counted

TapeKind = Literal["self-amalgamating", "mastic", "mica"]
Stretch = Annotated[float, Field(ge=1, le=10)]
WOUND: tuple[PartFigure, ...] = (
    length("width_mm", "Width, relaxed"),
    length("thickness_mm", "Thickness, relaxed"),
    length("roll_mm", "Length of a roll"),
    number("stretch", "Stretched to", "× its length", "1 where it is not stretched"),
    number("overlap_pct", "Overlap", "%", "50 is half-lapped"),
    number("price_each", "Price", "a roll"),
)


class StockTape(Counted):
    """A roll of tape: width and thickness relaxed; `stretch` is stretched over relaxed length."""

    part: ClassVar[PartKind] = PartKind(
        name="tape",
        heading="Tapes",
        own=(*WOUND, choice("kind", "Kind", get_args(TapeKind), column="type")),
        size="{width_mm} × {thickness_mm}",
        facts=("{kind}", "{roll_mm} a roll"),
        count=ROLLS,
    )

    kind: TapeKind
    width_mm: PositiveLength
    thickness_mm: PositiveLength
    roll_mm: PositiveLength
    stretch: Stretch = 1.0
    overlap_pct: Percent = 50.0
