"""What is left to the planner settled: the first way to build a joint that fits."""

from collections.abc import Iterator
from datetime import date

from tinknot.core.families.choice import Made
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.straight.recipe import CABLE, StraightRecipe
from tinknot.core.families.straight.wire import WIRE, is_wire
from tinknot.core.joint.file import BuildIn, JointFile
from tinknot.core.rulebook import RuleBook


def settled(joint: JointFile, rules: RuleBook, today: date | None, made: Made | None) -> StraightRecipe:
    """The joint with what is left to the planner settled: the first of the ways to try that fits, else as it
    stands."""
    tried: list[StraightRecipe] = []
    for build in _to_try(joint):
        job = Job(joint.model_copy(update={"build": build}), rules, today, made)
        recipe = StraightRecipe(job, WIRE if is_wire(job) else CABLE)
        tried.append(recipe)
        if recipe.solve().fits:
            return recipe
    return tried[0]


def _to_try(joint: JointFile) -> Iterator[BuildIn]:
    """As it stands; where no heat is allowed and nothing is said of how it is closed, cold, also taped under
    a cold sleeve, and cast; then each without mastic on the springs, which what closes it must pass."""
    build = joint.build
    ways = [build]
    if build.cold_only and not build.closure and not build.core_insulation:
        taped = build.model_copy(update={"core_insulation": "tape"})
        ways += [taped, *(taped.model_copy(update={"closure": c}) for c in ("wrap-around", "resin"))]
    yield from ways
    if build.springs is None and any(e.armour or e.lead_sheath for e in (joint.ends.A, joint.ends.B)):
        yield from (b.model_copy(update={"springs": "tape"}) for b in ways)
