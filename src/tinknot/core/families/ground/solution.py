"""A ground lead as far as it is solved."""

from dataclasses import dataclass

from tinknot.core.families.contract import Solution
from tinknot.core.families.ground.place import Place


@dataclass(frozen=True, kw_only=True)
class GroundSolution(Solution):
    """The stack over the bare screen; `held_by`: what holds the lead; `place`: where, as it is made for what
    lies over it."""

    held_by: str = ""
    place: Place | None = None
