"""Heat-trace kits in their boxes."""

from typing import ClassVar

from tinknot.core.model import Name
from tinknot.core.parts.kind import PartFigure, PartKind, number
from tinknot.core.parts.stocked import Counted


class StockKit(Counted):
    """A heat-trace kit in its box, of the sheet with this id; one box serves one end, splice or tee."""

    part: ClassVar[PartKind] = PartKind(
        name="kit",
        heading="Kits",
        own=(
            PartFigure(key="sheet", label="Its sheet", form="sheet"),
            number("price_each", "Price", "a box"),
        ),
        size="{sheet}",
        facts=("one box serves one end, splice or tee",),
    )

    sheet: Name
