"""Hot-melt tape: wound round a mouth, it melts when that is shrunk."""

from typing import ClassVar

from tinknot.core.model import PositiveLength
from tinknot.core.parts.bonding import BONDING, Bonding
from tinknot.core.parts.kind import ROLLS, PartKind, length, number
from tinknot.core.parts.whole import Celsius


class StockHotMelt(Bonding):
    """A roll of hot-melt tape. `melts_c`: where it runs, °C."""

    part: ClassVar[PartKind] = PartKind(
        name="hot-melt",
        heading="Hot-melt tapes",
        own=(
            length("width_mm", "Width"),
            length("thickness_mm", "Thickness"),
            length("roll_mm", "Length of a roll"),
            number("melts_c", "Melts at", "°C"),
            *BONDING,
            number("price_each", "Price", "a roll"),
        ),
        size="{width_mm} × {thickness_mm}",
        facts=("melts at {melts_c}", "{roll_mm} a roll"),
        count=ROLLS,
    )

    width_mm: PositiveLength
    thickness_mm: PositiveLength
    roll_mm: PositiveLength
    melts_c: Celsius
