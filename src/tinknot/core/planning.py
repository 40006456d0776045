"""From a joint file to a plan: solve the stack, write it out, compute what else could be done."""

from dataclasses import dataclass
from datetime import date

from tinknot.core.compiling import compile_plan
from tinknot.core.joint.file import JointFile
from tinknot.core.plan import Plan, Remedy, StaggerWay
from tinknot.core.recipes.job import Job
from tinknot.core.recipes.of_joint import Recipes, recipe_of
from tinknot.core.recipes.solution import Made
from tinknot.core.remedies import Sets, insert_of, remedies, staggers_of, variants
from tinknot.core.rulebook import RuleBook


def plan_joint(
    joint: JointFile, rules: RuleBook | None = None, today: date | None = None, made: Made | None = None
) -> Plan:
    """The whole plan of a joint.

    Raises InputError for a joint that contradicts itself or is beyond
    the tool; when nothing fits the plan says so and carries the remedies."""
    rules = rules or RuleBook.of()
    recipe = _recipe(joint, rules, today, made)
    return _plan(joint, recipe, recipe.sets(), rules)


def _plan(joint: JointFile, recipe: Recipes, sets: Sets, rules: RuleBook) -> Plan:
    plan = compile_plan(recipe.job, solution := recipe.solve(joint.stagger_steps, sets[0]))
    if not solution.fits:
        plan = plan.model_copy(update={"remedies": remedies(joint, recipe, solution, sets, rules)})
    return plan.model_copy(update={"insert": insert_of(joint, plan, rules)})


def _recipe(joint: JointFile, rules: RuleBook, today: date | None, made: Made | None = None) -> Recipes:
    return recipe_of(Job(joint, rules, today, made))


@dataclass(frozen=True)
class Lookout:
    """The plan, the other ways to build a joint that fits (quickest first), and its staggers side by side."""

    plan: Plan
    ways: list[Remedy]
    staggers: list[StaggerWay]


def look_at(
    joint: JointFile, rules: RuleBook, today: date | None = None, made: Made | None = None
) -> Lookout:
    """Everything Choose shows, worked out once. Raises InputError like `plan_joint`."""
    recipe = _recipe(joint, rules, today, made)
    sets = recipe.sets()
    plan = _plan(joint, recipe, sets, rules)
    others = variants(joint, recipe, sets, rules) if plan.verdict == "planned" else []
    return Lookout(plan, others, staggers_of(joint, recipe, sets[0]))
