"""Which recipe makes a joint of a family."""

from typing import Protocol

from tinknot.core.joint.parts import StockConnector
from tinknot.core.recipes.job import Job
from tinknot.core.recipes.solution import Solution
from tinknot.core.recipes.straight_lv import Recipe
from tinknot.core.recipes.tap_lv import TapRecipe


class Recipes(Protocol):
    """What every recipe does: name the sets of connectors, best first, and solve the stack with one."""

    job: Job

    def sets(self) -> list[tuple[StockConnector, ...]]:
        """Sets of connectors, best first."""
        ...

    def solve(self, steps: int, connectors: tuple[StockConnector, ...]) -> Solution:
        """The stack."""
        ...


def recipe_of(job: Job) -> Recipes:
    """The recipe of the joint's family."""
    return TapRecipe(job) if job.joint.family == "tap-lv" else Recipe(job)
