"""Foil of screens: what a foil that was cut away is made good with."""

from typing import ClassVar, Literal, get_args

from tinknot.core.model import Percent, PositiveLength
from tinknot.core.parts.kind import ROLLS, PartFigure, PartKind, choice, length, number
from tinknot.core.parts.stocked import Counted

FoilMetal = Literal["aluminium", "copper"]
HARVESTED = PartFigure(
    key="harvested",
    label="taken from equal cable",
    form="flag",
    absent="from a reel",
    hint="A roll is then a length of that cable.",
)


class StockFoil(Counted):
    """Foil on a roll, or taken from equal cable, where a roll is a length of that cable; mm."""

    part: ClassVar[PartKind] = PartKind(
        name="foil",
        heading="Screen foil",
        own=(
            choice("metal", "Metal", get_args(FoilMetal)),
            length("width_mm", "Width"),
            length("thickness_mm", "Thickness"),
            number("overlap_pct", "Overlap", "%", "50 is half-lapped"),
            length("roll_mm", "Length of a roll"),
            HARVESTED,
            number("price_each", "Price", "a roll"),
        ),
        size="{width_mm} × {thickness_mm}",
        facts=("{metal}", "{roll_mm} a roll", "{harvested}"),
        count=ROLLS,
        order="width_mm",
    )

    metal: FoilMetal = "aluminium"
    width_mm: PositiveLength
    thickness_mm: PositiveLength
    overlap_pct: Percent = 50.0
    roll_mm: PositiveLength
    harvested: bool = False
