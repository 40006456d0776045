"""A moulded part as far as it is solved."""

from dataclasses import dataclass

from tinknot.core.families.contract import Solution
from tinknot.core.families.moulded.adhesives import Tight
from tinknot.core.layers.moulded.seat import Seat


@dataclass(frozen=True, kw_only=True)
class BootSolution(Solution):
    """The stack; `tight`: what makes it tight; `seat_of`: where the part lies."""

    tight: Tight | None = None
    seated: Seat | None = None
