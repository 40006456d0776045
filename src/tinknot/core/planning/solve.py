"""From a joint file to a plan: solve the stack, write it out, compute what else could be done."""

from dataclasses import dataclass
from datetime import date

from tinknot.core.joint.file import BuildIn, JointFile
from tinknot.core.joint.tracefile import TraceFile
from tinknot.core.planning.compiling import compile_plan
from tinknot.core.planning.plan import Plan, Remedy, StaggerWay
from tinknot.core.planning.remedies import Sets, insert_of, remedies, staggers_of, variants
from tinknot.core.planning.tracing import plan_trace
from tinknot.core.recipes.job import Job
from tinknot.core.recipes.of_joint import Recipes, recipe_of
from tinknot.core.recipes.solution import Made
from tinknot.core.rulebook import RuleBook


def plan_joint(
    joint: JointFile | TraceFile,
    rules: RuleBook | None = None,
    today: date | None = None,
    made: Made | None = None,
) -> Plan:
    """The whole plan of a joint.

    Raises InputError for a joint that contradicts itself or is beyond
    the tool; when nothing fits the plan says so and carries the remedies."""
    rules = rules or RuleBook.of()
    if isinstance(joint, TraceFile):
        return plan_trace(joint, rules, today)
    return _plan(*_settled(joint, rules, today, made), rules)


def _settled(
    joint: JointFile, rules: RuleBook, today: date | None, made: Made | None
) -> tuple[JointFile, Recipes, Sets]:
    """The joint with what is left to the planner settled, its recipe and its sets of connectors. Where no
    heat is allowed and nothing is said of how it is closed, the first way without heat that fits is taken."""
    tried: list[tuple[JointFile, Recipes, Sets]] = []
    for build in _without_heat(joint.build):
        other = joint.model_copy(update={"build": build})
        recipe = recipe_of(Job(other, rules, today, made))
        tried.append((other, recipe, recipe.sets()))
        if recipe.solve(joint.stagger_steps, tried[-1][2][0]).fits:
            return tried[-1]
    return tried[0]


def _without_heat(build: BuildIn) -> list[BuildIn]:
    """The ways to try, in order: as it stands; cold, also taped under a cold sleeve, and cast."""
    if not build.cold_only or build.closure or build.core_insulation:
        return [build]
    taped = build.model_copy(update={"core_insulation": "tape"})
    return [build, taped, *(taped.model_copy(update={"closure": c}) for c in ("wrap-around", "resin"))]


def _plan(joint: JointFile, recipe: Recipes, sets: Sets, rules: RuleBook) -> Plan:
    plan = compile_plan(recipe.job, solution := recipe.solve(joint.stagger_steps, sets[0]))
    if not solution.fits:
        plan = plan.model_copy(update={"remedies": remedies(joint, recipe, solution, sets, rules)})
    return plan.model_copy(update={"insert": insert_of(joint, plan, rules)})


@dataclass(frozen=True)
class Lookout:
    """The plan, the other ways to build a joint that fits (quickest first), and its staggers side by side."""

    plan: Plan
    ways: list[Remedy]
    staggers: list[StaggerWay]


def look_at(
    joint: JointFile | TraceFile, rules: RuleBook, today: date | None = None, made: Made | None = None
) -> Lookout:
    """Everything Choose shows, worked out once. Raises InputError like `plan_joint`."""
    if isinstance(joint, TraceFile):
        return Lookout(plan_trace(joint, rules, today), [], [])
    settled, recipe, sets = _settled(joint, rules, today, made)
    plan = _plan(settled, recipe, sets, rules)
    others = variants(settled, recipe, sets, rules) if plan.verdict == "planned" else []
    return Lookout(plan, others, staggers_of(settled, recipe, sets[0]))
