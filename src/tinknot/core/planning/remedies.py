"""What else could be done: complete alternatives, worked through before they are offered, then what to
order."""

from collections.abc import Iterator
from typing import Any

from tinknot.core.effort import stop_here
from tinknot.core.errors import InputError, TooMuchWork
from tinknot.core.families.contract import Recipe, Solution, Way
from tinknot.core.plan.ways import Remedy
from tinknot.core.planning.compiling import compile_plan


def _complete(way: Way) -> Remedy | None:
    """A way worked through; None where it does not fit either."""
    try:
        recipe, solution = way.worked()
        if not solution.fits:
            return None
        plan = compile_plan(recipe, solution, brief=True)
    except InputError:
        return None
    return Remedy(
        id=way.id,
        title=way.title,
        change=way.change,
        why=way.why or recipe.why(plan),
        joint_length_mm=plan.joint_length_mm,
        greatest_diameter_mm=plan.greatest_diameter_mm,
        minutes=plan.minutes,
        parts=plan.parts,
        cost=plan.cost,
        park=plan.park,
        cores=plan.cores,
    )


def _quickest(r: Remedy) -> tuple[float, float, float, str]:
    minutes = r.minutes.hands + r.minutes.waiting if r.minutes else 0.0
    return minutes, r.cost if r.cost is not None else float("inf"), r.joint_length_mm or 0.0, r.id


def ways_of(recipe: Recipe[Any], solution: Solution) -> list[Remedy]:
    """The other ways that fit, each complete: those that lead, then the quickest and then cheapest first."""
    return [r for _, r in sorted(_fitting(recipe, solution), key=lambda found: found[0])]


Rank = tuple[int, tuple[float, float, float, str]]


def _fitting(recipe: Recipe[Any], solution: Solution) -> Iterator[tuple[Rank, Remedy]]:
    """Way by way, as far as the work that a request may take reaches."""
    try:
        for place, way in enumerate(recipe.ways(solution)):
            found = _complete(way)
            if found:
                yield ((place, (0.0, 0.0, 0.0, "")) if way.leads else (LAST, _quickest(found))), found
    except TooMuchWork:
        stop_here()


LAST = 1_000_000  # behind every way that leads


def remedies(recipe: Recipe[Any], solution: Solution) -> list[Remedy]:
    """Complete alternatives first, then what to order."""
    return [*ways_of(recipe, solution), *recipe.orders(solution)]
