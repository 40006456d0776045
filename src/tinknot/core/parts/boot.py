"""Moulded parts: boots, breakouts, straight shapes and caps."""

from typing import Annotated, ClassVar, Literal, get_args

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.sleeve import Tube
from tinknot.core.model import Diameter, Length, Name, PositiveLength, Strict
from tinknot.core.parts.bonding import Service
from tinknot.core.parts.kind import PartFigure, PartKind, choice, length, number
from tinknot.core.parts.stocked import Counted
from tinknot.core.parts.whole import Celsius
from tinknot.core.tolerance import at_most

Angle = Literal["0", "45", "90"]
MouldForm = Literal["closed", "split"]
Compound = Literal["polyolefin", "elastomer", "fluoropolymer"]
MOST_LEGS = 4


class Opening(Strict):
    """A mouth of a moulded part: inside as supplied and when free, and its straight length, mm."""

    expanded_id_mm: Diameter
    recovered_id_mm: Diameter
    straight_mm: PositiveLength


class StockBoot(Counted):
    """A moulded part, used whole. `openings`: the mouth toward the fitting or the main cable first, then its
    legs; `marks`: what is printed on them, in the same order; `lip_mm`: how wide the lip of the first is,
    None where it is plain; `body_mm`: from the end of the first mouth to where its legs begin; `angle`:
    between the first mouth and its leg, °."""

    part: ClassVar[PartKind] = PartKind(
        name="boot",
        heading="Moulded parts",
        own=(
            PartFigure(
                key="openings",
                label="Mouths",
                form="pairs",
                names=("expanded_id_mm", "recovered_id_mm", "straight_mm"),
                row="{expanded_id_mm} → {recovered_id_mm}",
                hint="mm, opens = closes = length; the widest side first: 40 = 18 = 30, 20 = 8 = 25",
            ),
            PartFigure(key="marks", label="Marks on them", form="words", hint="in the same order: M, 1, 2"),
            length("lip_mm", "Lip, width", "Of the first mouth; empty where it has none"),
            length("body_mm", "Body", "From the first mouth to where the legs begin"),
            choice("angle", "Angle", get_args(Angle)),
            choice("form", "Form", get_args(MouldForm)),
            choice("compound", "Made of", get_args(Compound)),
            length("recovered_wall_mm", "Wall when free"),
            PartFigure(key="lined", label="adhesive-lined", form="flag", absent="not lined"),
            number("shrink_c", "Shrinks from", "°C"),
            number("scorch_c", "Scorches at", "°C"),
            number("service_from_c", "Serves from", "°C"),
            number("service_to_c", "Serves up to", "°C"),
            number("price_each", "Price", "each"),
        ),
        size="{openings}",
        facts=("{angle} °", "{form}", "{lined}"),
    )

    openings: Annotated[list[Opening], Field(min_length=1, max_length=1 + MOST_LEGS)]
    marks: list[Name] = []
    lip_mm: PositiveLength | None = None
    body_mm: Length = 0.0
    angle: Angle = "0"
    form: MouldForm = "closed"
    compound: Compound = "polyolefin"
    recovered_wall_mm: PositiveLength
    lined: bool = False
    shrink_c: Celsius | None = None
    scorch_c: Celsius | None = None
    service_from_c: Service | None = None
    service_to_c: Service | None = None

    def check(self, path: str) -> None:
        """Every mouth closes; marks for all of them or none; one leg where it has an angle. Raises
        InputError under `path`."""
        for i in range(len(self.openings)):
            self.tube(i, f"{path}/openings/{i}")
        if self.marks and len(self.marks) != len(self.openings):
            raise InputError.at(f"{path}/marks", "must name every mouth, or none")
        if self.angle != "0" and len(self.openings) != 2:
            raise InputError.at(f"{path}/angle", "only a part with two mouths has one; others are straight")
        if self.lip_mm is not None and self.lip_mm > self.openings[0].straight_mm:
            raise InputError.at(f"{path}/lip_mm", "must not be wider than the mouth is long")
        if self.shrink_c is not None and self.scorch_c is not None and self.scorch_c <= self.shrink_c:
            raise InputError.at(f"{path}/scorch_c", "must be above what it shrinks from")

    def tube(self, opening: int, path: str = "") -> Tube:
        """A mouth as a sleeve; it gets no shorter. Raises InputError under `path`."""
        o = self.openings[opening]
        if at_most(o.expanded_id_mm, o.recovered_id_mm):
            raise InputError.at(
                f"{path}/expanded_id_mm", "must be more than recovered_id_mm: a mouth shrinks when heated"
            )
        return Tube(o.expanded_id_mm, o.recovered_id_mm, self.recovered_wall_mm)

    def mark(self, opening: int) -> str:
        """What is printed on a mouth; its number where nobody said."""
        return self.marks[opening] if self.marks else str(opening + 1)

    @property
    def length_mm(self) -> float:
        """From end to end as supplied, laid straight."""
        legs = [o.straight_mm for o in self.openings[1:]]
        return self.openings[0].straight_mm + self.body_mm + max(legs, default=0.0)
