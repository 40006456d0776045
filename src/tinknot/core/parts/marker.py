"""Marker sleeves: what a core is called where its colour or number changes."""

from collections.abc import Sequence
from datetime import date
from typing import Annotated, ClassVar

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.model import Diameter, PositiveLength
from tinknot.core.parts.kind import PartFigure, PartKind, length, number
from tinknot.core.parts.stocked import Counted
from tinknot.core.tolerance import at_least, at_most


class StockMarker(Counted):
    """A sleeve that is threaded on a core and holds on insulation of `od_least_mm` to `od_most_mm`; `text`:
    what is printed on it, where it is not written by hand; mm."""

    part: ClassVar[PartKind] = PartKind(
        name="marker",
        heading="Marker sleeves",
        own=(
            length("od_least_mm", "Holds from"),
            length("od_most_mm", "Holds up to"),
            length("length_mm", "Length"),
            PartFigure(
                key="text", label="Printed on it", form="word", hint="Empty where it is written by hand."
            ),
            number("price_each", "Price", "each"),
        ),
        size="{od_least_mm} to {od_most_mm}",
        facts=("{length_mm} long", "{text}"),
        order="od_least_mm",
    )

    od_least_mm: Diameter
    od_most_mm: Diameter
    length_mm: PositiveLength
    text: Annotated[str, Field(max_length=40)] | None = None

    def check(self, path: str) -> None:
        """Its range must be one. Raises InputError under `path`."""
        if self.od_least_mm > self.od_most_mm:
            raise InputError.at(f"{path}/od_most_mm", "must not be under the least diameter")

    def not_on(self, od_mm: float, name: str, today: date | None) -> str:
        """Why it does not serve on a core of `od_mm` called `name`; empty where it does."""
        if self.free(today) == 0:
            return "none on hand in date"
        if self.text and self.text.casefold() != name.casefold():
            return f"says {self.text}, here it is {name}"
        if not at_least(od_mm, self.od_least_mm):
            return f"holds from {self.od_least_mm:g} mm, the core has {od_mm:.1f} mm"
        if not at_most(od_mm, self.od_most_mm):
            return f"goes over {self.od_most_mm:g} mm, the core has {od_mm:.1f} mm"
        return ""


def marker_for(
    markers: Sequence[StockMarker], od_mm: float, name: str, today: date | None
) -> StockMarker | None:
    """The marker for a core: printed ones before those written by hand, then the closest, then by id."""
    found = [m for m in markers if not m.not_on(od_mm, name, today)]
    return min(found, key=lambda m: (not m.text, m.od_most_mm, m.id), default=None)
