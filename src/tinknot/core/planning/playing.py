"""A plan played in the world its file describes."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any

from tinknot.core.families.choice import Made
from tinknot.core.families.contract import Recipe, Solution
from tinknot.core.families.registry import family_of
from tinknot.core.joint.head import JointHead
from tinknot.core.layers.contract import Layer, Step
from tinknot.core.planning.ordering import ordered
from tinknot.core.rulebook import RuleBook
from tinknot.core.world.found import Found
from tinknot.core.world.laws import Broken
from tinknot.core.world.play import moments, play
from tinknot.core.world.world import World


def found_of(recipe: Recipe[Any], s: Solution) -> Found | None:
    """What the world begins with, with all that the lists name; None where a family does not tell yet."""
    found = recipe.as_found(s)
    if found is None:
        return None
    had: dict[str, float | None] = dict.fromkeys(t for x in s.layers for t in x.tools())
    for m in (m for x in s.layers for m in x.consumes()):
        had[m.what] = (had.get(m.what) or 0.0) + m.quantity
    return replace(found, had=had)


def timed(layers: Sequence[Layer], steps: Sequence[Step]) -> list[Step]:
    """The steps with a layer's minutes of hands shared out evenly among its acts that have none of their
    own."""
    share: dict[str, float] = {}
    for x in layers:
        mine = [a for s in steps if s.layer == x.id for a in s.acts]
        left = x.minutes().hands - sum(a.minutes for a in mine)
        open_ = sum(1 for a in mine if not a.minutes)
        share[x.id] = max(0.0, left / open_) if open_ else 0.0
    return [
        replace(
            s,
            acts=tuple(a if a.minutes else replace(a, minutes=share.get(s.layer or "", 0.0)) for a in s.acts),
        )
        for s in steps
    ]


def broken(recipe: Recipe[Any], s: Solution, steps: Sequence[Step]) -> list[Broken]:
    """The laws that the steps break in the order shown; none where the family does not tell of its ends."""
    found = found_of(recipe, s)
    return play(timed(s.layers, steps), found) if found else []


def told(joint: JointHead, rules: RuleBook | None = None) -> Iterator[tuple[Step, list[Broken], World]]:
    """The plan of a joint played in the order shown: each step, the laws it breaks, the world after it.
    Nothing where nothing fits or the family does not tell of its ends. Raises InputError as planning does."""
    recipe: Recipe[Any] = family_of(joint).recipe(joint, rules or RuleBook.of(), None, None)
    solution = recipe.solve()
    found = found_of(recipe, solution) if solution.fits else None
    if found:
        yield from moments(timed(solution.layers, ordered(solution.layers, Made())), found)
