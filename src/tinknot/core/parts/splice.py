"""Sealed crimp splices: a barrel with a sight window in a sleeve that melts at its ends."""

from typing import Annotated, ClassVar

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.model import Diameter, PositiveLength
from tinknot.core.parts.kind import PartFigure, PartKind, length, number
from tinknot.core.parts.stocked import Area
from tinknot.core.parts.whole import UsedWhole


class StockSplice(UsedWhole):
    """A sealed crimp splice, used whole. `barrel_mm`: its metal; `strip_mm`: bare conductor on each side;
    `area_least_mm2` to `area_most_mm2`: a conductor it crimps; lengths in mm."""

    part: ClassVar[PartKind] = PartKind(
        name="sealed-splice",
        heading="Sealed splices",
        own=(
            length("expanded_id_mm", "Inside as supplied, at least"),
            length("recovered_id_mm", "Inside when free, at most"),
            length("recovered_wall_mm", "Wall when free"),
            number("longitudinal_change_pct", "Length change when free", "%", "Minus when it gets shorter"),
            length("length_mm", "Length"),
            length("barrel_mm", "Length of its barrel"),
            length("barrel_od_mm", "Barrel, diameter when crimped"),
            length("strip_mm", "Bare conductor, each side"),
            number("area_least_mm2", "Conductor from", "mm²"),
            number("area_most_mm2", "Conductor to", "mm²"),
            number("shrink_c", "Shrinks from", "°C"),
            number("scorch_c", "Scorches at", "°C"),
            PartFigure(key="die", label="Die", form="word"),
            number("price_each", "Price", "each"),
        ),
        size="{area_least_mm2} to {area_most_mm2}",
        facts=("{expanded_id_mm} → {recovered_id_mm}", "{length_mm} long"),
        order="area_least_mm2",
    )

    barrel_mm: PositiveLength
    barrel_od_mm: Diameter
    strip_mm: PositiveLength
    area_least_mm2: Area
    area_most_mm2: Area
    die: Annotated[str, Field(max_length=40)] | None = None

    def check(self, path: str) -> None:
        """Its barrel lies inside it, its range is one. Raises InputError under `path`."""
        self.tube(path)
        if self.barrel_mm >= self.length_mm:
            raise InputError.at(f"{path}/barrel_mm", "must be shorter than the whole splice")
        if self.area_least_mm2 > self.area_most_mm2:
            raise InputError.at(f"{path}/area_most_mm2", "must not be under the least section")
        if self.barrel_od_mm > self.expanded_id_mm:
            raise InputError.at(f"{path}/barrel_od_mm", "must not be over the inside of its sleeve")
