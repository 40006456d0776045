"""Flat earth straps."""

from typing import ClassVar

from tinknot.core.model import PositiveLength
from tinknot.core.parts.kind import PartKind, length, number
from tinknot.core.parts.stocked import Area, Counted


class StockStrap(Counted):
    """A flat earth strap, its section in mm²."""

    part: ClassVar[PartKind] = PartKind(
        name="strap",
        heading="Straps",
        own=(
            length("length_mm", "Length"),
            length("width_mm", "Width"),
            length("thickness_mm", "Thickness"),
            number("area_mm2", "Section", "mm²"),
            number("price_each", "Price", "each"),
        ),
        size="{area_mm2}",
        facts=("{length_mm} long",),
    )

    area_mm2: Area
    width_mm: PositiveLength
    thickness_mm: PositiveLength
    length_mm: PositiveLength
