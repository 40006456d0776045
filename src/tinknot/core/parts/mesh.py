"""Metal mesh: donor screen over the whole joint."""

from typing import ClassVar

from tinknot.core.model import Percent, PositiveLength
from tinknot.core.parts.kind import ROLLS, PartKind
from tinknot.core.parts.stocked import Counted
from tinknot.core.parts.tape import WOUND, Stretch


class StockMesh(Counted):
    """A roll of metal mesh: donor screen over the whole joint."""

    part: ClassVar[PartKind] = PartKind(
        name="mesh",
        heading="Mesh",
        own=WOUND,
        size="{width_mm} × {thickness_mm}",
        facts=("{roll_mm} a roll",),
        count=ROLLS,
    )

    width_mm: PositiveLength
    thickness_mm: PositiveLength
    roll_mm: PositiveLength
    stretch: Stretch = 1.0
    overlap_pct: Percent = 50.0
