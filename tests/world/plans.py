"""Plans of the examples as the world plays them: their steps with acts and minutes, and what was found."""

from collections.abc import Sequence
from functools import cache
from pathlib import Path

from tinknot.core.families.choice import Made
from tinknot.core.families.file import file_of
from tinknot.core.families.registry import family_of
from tinknot.core.layers.contract import Step
from tinknot.core.planning.ordering import ordered
from tinknot.core.planning.playing import found_of, timed
from tinknot.core.rulebook import RuleBook
from tinknot.core.world.found import Found
from tinknot.core.world.play import play

Told = set[tuple[int, str, str, str]]
Plan = tuple[list[Step], Found]
EXAMPLES = sorted(Path("examples").glob("*.json"))


@cache
def plans() -> dict[str, Plan]:
    """By example, of those that fit and whose family tells of its ends."""
    found = {}
    for path in EXAMPLES:
        joint = file_of(path.read_bytes())
        recipe = family_of(joint).recipe(joint, RuleBook.of(), None, None)
        solved = recipe.solve()
        if solved.fits and (ends := found_of(recipe, solved)):
            found[path.stem] = timed(solved.layers, ordered(solved.layers, Made())), ends
    return found


def told(steps: Sequence[Step], found: Found) -> Told:
    """What is broken: law, step, place, words."""
    return {(b.law, b.step, b.place, b.words) for b in play(steps, found)}
