"""From a joint file to a plan, one path for every family: solve the stack, write it out, see what else
could be done."""

from dataclasses import dataclass
from datetime import date
from typing import Any

from tinknot.core.effort import was_reached
from tinknot.core.families.choice import Made
from tinknot.core.families.contract import Recipe, Solution
from tinknot.core.families.registry import recipe_of
from tinknot.core.joint.head import JointHead
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.ways import Remedy, StaggerWay
from tinknot.core.planning.compiling import compile_plan
from tinknot.core.planning.remedies import remedies, ways_of
from tinknot.core.rulebook import RuleBook


def plan_joint(
    joint: JointHead,
    rules: RuleBook | None = None,
    today: date | None = None,
    made: Made | None = None,
) -> Plan:
    """The whole plan of a joint.

    Raises InputError for a joint that contradicts itself or is beyond
    the tool; when nothing fits the plan says so and carries the remedies."""
    recipe = recipe_of(joint, rules, today, made)
    return _plan(recipe, recipe.solve(), made)


def _plan(recipe: Recipe[Any], solution: Solution, made: Made | None) -> Plan:
    plan = compile_plan(recipe, solution, made)
    if not solution.fits:
        plan = plan.model_copy(update={"remedies": remedies(recipe, solution)})
    return plan.model_copy(update=recipe.arithmetic(plan))


@dataclass(frozen=True)
class Lookout:
    """The plan, the other ways to build a joint that fits (quickest first), and its staggers side by side;
    `unfinished`: there may be more ways than the work that a request may take reached."""

    plan: Plan
    ways: list[Remedy]
    staggers: list[StaggerWay]
    unfinished: bool = False


def look_at(
    joint: JointHead, rules: RuleBook, today: date | None = None, made: Made | None = None
) -> Lookout:
    """Everything Choose shows, worked out once. Raises InputError like `plan_joint`."""
    recipe = recipe_of(joint, rules, today, made)
    solution = recipe.solve()
    plan, staggers = _plan(recipe, solution, made), recipe.staggers()
    others = ways_of(recipe, solution) if solution.fits else []
    return Lookout(plan, others, staggers, was_reached())
