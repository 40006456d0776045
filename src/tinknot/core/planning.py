"""From a joint file to a plan: solve the stack, write it out, compute what else could be done."""

from datetime import date

from tinknot.core.compiling import compile_plan
from tinknot.core.joint.file import JointFile
from tinknot.core.plan import Plan, Remedy, StaggerOut
from tinknot.core.recipes.job import Job
from tinknot.core.recipes.of_joint import Recipes, recipe_of
from tinknot.core.recipes.solution import Made
from tinknot.core.remedies import insert_of, remedies, staggers_of, variants
from tinknot.core.rulebook import RuleBook


def plan_joint(
    joint: JointFile, rules: RuleBook | None = None, today: date | None = None, made: Made | None = None
) -> Plan:
    """The whole plan of a joint.

    Raises InputError for a joint that contradicts itself or is beyond
    the tool; when nothing fits the plan says so and carries the remedies."""
    rules = rules or RuleBook.of()
    recipe = _recipe(joint, rules, today, made)
    sets = recipe.sets()
    plan = compile_plan(recipe.job, solution := recipe.solve(joint.stagger_steps, sets[0]))
    if not solution.fits:
        plan = plan.model_copy(update={"remedies": remedies(joint, recipe, solution, sets, rules)})
    return plan.model_copy(update={"insert": insert_of(joint, plan, rules)})


def _recipe(joint: JointFile, rules: RuleBook, today: date | None, made: Made | None = None) -> Recipes:
    return recipe_of(Job(joint, rules, today, made))


def ways(joint: JointFile, rules: RuleBook, today: date | None = None) -> list[Remedy]:
    """The other ways to build a joint that fits, each complete, quickest first."""
    recipe = _recipe(joint, rules, today)
    return variants(joint, recipe, recipe.sets(), rules)


def staggers(joint: JointFile, rules: RuleBook, today: date | None = None) -> list[StaggerOut]:
    """In line and every number of steps side by side, with one recommended."""
    recipe = _recipe(joint, rules, today)
    return staggers_of(joint, recipe, recipe.sets()[0])
