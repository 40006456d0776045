"""Nozzles that mix a paste as it is pressed through them."""

from typing import Annotated, ClassVar

from pydantic import Field

from tinknot.core.model import Name
from tinknot.core.parts.kind import PartFigure, PartKind, number
from tinknot.core.parts.stocked import Counted


class StockNozzle(Counted):
    """A nozzle. `holds_ml`: what stays in it; `fits`: the system of cartridges it goes on."""

    part: ClassVar[PartKind] = PartKind(
        name="nozzle",
        heading="Mixing nozzles",
        own=(
            number("holds_ml", "Holds", "ml", "What stays in it when it is thrown away"),
            PartFigure(
                key="fits", label="Fits", form="word", hint="the system of the cartridges; empty fits all"
            ),
            number("price_each", "Price", "each"),
        ),
        size="{holds_ml}",
        facts=("fits {fits}",),
    )

    holds_ml: Annotated[float, Field(ge=0, le=1000, description="ml")]
    fits: Name | None = None
