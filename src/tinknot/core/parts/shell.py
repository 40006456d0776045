"""Shells: moulds for resin."""

from itertools import pairwise
from typing import Annotated, ClassVar, Literal, get_args

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.model import Diameter, PositiveLength, Strict
from tinknot.core.parts.kind import PartFigure, PartKind, choice, length, number
from tinknot.core.parts.stocked import Counted

ShellForm = Literal["split", "tube"]


class StageIn(Strict):
    """One stage of a shell's stepped end."""

    length_mm: PositiveLength
    inside_diameter_mm: Diameter


class StockShell(Counted):
    """A mould for resin: split, or a tube that is threaded on. `stages` are those of one end, from the tip
    inward; both ends are alike."""

    part: ClassVar[PartKind] = PartKind(
        name="shell",
        heading="Shells",
        own=(
            length("body_length_mm", "Length of its body"),
            length("body_inside_mm", "Inside of its body"),
            length("wall_mm", "Wall"),
            number("price_each", "Price", "each"),
            choice("form", "Form", get_args(ShellForm)),
            PartFigure(
                key="stages",
                label="Stages of an end, tip first",
                form="pairs",
                names=("length_mm", "inside_diameter_mm"),
                hint="mm long = mm inside: 25 = 18, 30 = 26",
            ),
        ),
        size="⌀ {body_inside_mm}",
        facts=("{form}", "body {body_length_mm} long"),
    )

    form: ShellForm = "split"
    body_length_mm: PositiveLength
    body_inside_mm: Diameter
    wall_mm: PositiveLength = 2.0
    stages: Annotated[list[StageIn], Field(max_length=10)] = []

    @property
    def length_mm(self) -> float:
        """Length uncut, mm."""
        return self.body_length_mm + 2 * sum(s.length_mm for s in self.stages)

    def check(self, path: str) -> None:
        """Stages must widen toward the body. Raises InputError under `path`."""
        widths = [s.inside_diameter_mm for s in self.stages] + [self.body_inside_mm]
        for i, (a, b) in enumerate(pairwise(widths)):
            if a >= b:
                raise InputError.at(
                    f"{path}/stages/{i}/inside_diameter_mm", "must be less than the next one toward the body"
                )
