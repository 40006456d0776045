"""Donor braid: what a braided screen is made good with."""

from typing import Annotated, ClassVar

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.braid import Braid
from tinknot.core.model import Diameter, PositiveLength, Whole
from tinknot.core.parts.foil import HARVESTED
from tinknot.core.parts.kind import ROLLS, PartFigure, PartKind, length, number
from tinknot.core.parts.stocked import Counted


class StockDonor(Counted):
    """Tubular braid cut from a reel or harvested from equal cable: `carriers` with `ends` strands each of
    `strand_mm`, made over `under_mm` with a lay of `lay_mm`; of `harvested` braid a roll is a length of that
    cable; mm."""

    part: ClassVar[PartKind] = PartKind(
        name="donor-braid",
        heading="Donor braid",
        own=(
            number("carriers", "Carriers", "", "Half of them each way round"),
            number("ends", "Strands in a carrier", ""),
            length("strand_mm", "Strand, diameter"),
            length("under_mm", "Made over"),
            length("lay_mm", "Lay of a carrier", "Along the cable for one turn"),
            PartFigure(key="nickel", label="nickelled", form="flag", absent="tinned"),
            length("roll_mm", "Length of a roll"),
            HARVESTED,
            number("price_each", "Price", "each"),
        ),
        size="over {under_mm}",
        facts=("{carriers} carriers of {ends}", "{nickel}", "{harvested}"),
        count=ROLLS,
        order="under_mm",
    )

    carriers: Annotated[Whole, Field(ge=4, le=1000)]
    ends: Annotated[Whole, Field(ge=1, le=1000)]
    strand_mm: Diameter
    under_mm: Diameter
    lay_mm: PositiveLength
    roll_mm: PositiveLength
    nickel: bool = False
    harvested: bool = False

    def check(self, path: str) -> None:
        """Its carriers go both ways round. Raises InputError under `path`."""
        if self.carriers % 2:
            raise InputError.at(f"{path}/carriers", "must be even: half of the carriers go each way round")

    @property
    def braid(self) -> Braid:
        """Its figures as a braid."""
        return Braid(self.carriers, self.ends, self.strand_mm, self.under_mm, lay_mm=self.lay_mm)
