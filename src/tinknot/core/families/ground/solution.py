"""A ground lead as far as it is solved."""

from dataclasses import dataclass

from tinknot.core.families.contract import Solution


@dataclass(frozen=True, kw_only=True)
class GroundSolution(Solution):
    """The stack over the bare screen; `held_by`: what holds the lead."""

    held_by: str = ""
