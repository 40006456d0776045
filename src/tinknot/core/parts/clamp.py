"""What holds a strap on armour or braid."""

from typing import ClassVar, Literal, get_args

from tinknot.core.model import PositiveLength
from tinknot.core.parts.kind import PartKind, choice, length, number
from tinknot.core.parts.stocked import Holds

ClampKind = Literal["spring", "clamp"]


class StockClamp(Holds):
    """What holds a strap on armour or braid: a constant-force spring or a clamp."""

    part: ClassVar[PartKind] = PartKind(
        name="clamp",
        heading="Clamps",
        own=(
            length("od_least_mm", "Holds from"),
            length("od_most_mm", "Holds up to"),
            length("thickness_mm", "Thickness all round"),
            length("width_mm", "Width"),
            number("price_each", "Price", "each"),
            choice("kind", "Kind", get_args(ClampKind), column="type"),
        ),
        size="{od_least_mm} to {od_most_mm}",
        facts=("{kind}",),
    )

    kind: ClampKind = "spring"
    width_mm: PositiveLength = 15.0
