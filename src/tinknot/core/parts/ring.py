"""Crimp rings: what holds a lead on a screen without heat."""

from typing import Annotated, ClassVar

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.model import Diameter, PositiveLength
from tinknot.core.parts.kind import PartFigure, PartKind, length, number
from tinknot.core.parts.stocked import Holds
from tinknot.core.tolerance import at_least, at_most


class StockRing(Holds):
    """A closed ring that is pressed round a screen and what lies on it; `od_least_mm` to `od_most_mm` is what
    it may be pressed on."""

    part: ClassVar[PartKind] = PartKind(
        name="crimp-ring",
        heading="Crimp rings",
        own=(
            length("od_least_mm", "Holds from"),
            length("od_most_mm", "Holds up to"),
            length("inside_mm", "Inside as supplied"),
            length("thickness_mm", "Wall when pressed"),
            length("width_mm", "Width"),
            PartFigure(key="die", label="Die", form="word"),
            number("price_each", "Price", "each"),
        ),
        size="{od_least_mm} to {od_most_mm}",
        facts=("inside {inside_mm}", "die {die}"),
        order="inside_mm",
    )

    inside_mm: Diameter
    width_mm: PositiveLength
    die: Annotated[str, Field(max_length=40)] | None = None

    def not_over(self, od_mm: float, margins: Margins) -> str:
        """Why it cannot be slid over a diameter; empty where it can."""
        need = margins.needed_expanded_mm(od_mm)
        if at_least(self.inside_mm, need):
            return ""
        return f"is {self.inside_mm:g} mm wide inside, {need:.1f} mm are needed to slide it on"

    def check(self, path: str) -> None:
        """It goes over what it is pressed on. Raises InputError under `path`."""
        super().check(path)
        if not at_most(self.od_most_mm, self.inside_mm):
            raise InputError.at(f"{path}/inside_mm", "must not be under the most it holds")
