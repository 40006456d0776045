"""Straight joints of round low-voltage cable, 1 to 5 cores."""

from datetime import date

from tinknot.core.families.choice import Made
from tinknot.core.families.contract import Family
from tinknot.core.families.lowvoltage.draft import SHEETS, WORDS, body, doubts, readings
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.straight.recipe import StraightRecipe
from tinknot.core.families.straight.wire import WireRecipe, is_wire
from tinknot.core.joint.file import BuildIn, JointFile
from tinknot.core.rulebook import RuleBook


def _settled(joint: JointFile, rules: RuleBook, today: date | None, made: Made | None) -> StraightRecipe:
    """The joint with what is left to the planner settled: where no heat is allowed and nothing is said of
    how it is closed, the first way without heat that fits is taken."""
    tried: list[StraightRecipe] = []
    for build in _without_heat(joint.build):
        job = Job(joint.model_copy(update={"build": build}), rules, today, made)
        recipe = WireRecipe(job) if is_wire(job) else StraightRecipe(job)
        tried.append(recipe)
        if recipe.solve().fits:
            return recipe
    return tried[0]


def _without_heat(build: BuildIn) -> list[BuildIn]:
    """The ways to try, in order: as it stands; cold, also taped under a cold sleeve, and cast."""
    if not build.cold_only or build.closure or build.core_insulation:
        return [build]
    taped = build.model_copy(update={"core_insulation": "tape"})
    return [build, taped, *(taped.model_copy(update={"closure": c}) for c in ("wrap-around", "resin"))]


STRAIGHT = Family(
    "straight-lv",
    "straight: A to B",
    JointFile,
    _settled,
    form="ends",
    place="",
    body=body,
    words=WORDS,
    doubts=doubts,
    readings=readings,
    sheets=SHEETS,
)
