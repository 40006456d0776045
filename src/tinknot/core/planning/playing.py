"""A plan played in the world its file describes."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from tinknot.core.errors import InputError
from tinknot.core.families.choice import Made
from tinknot.core.families.contract import Recipe, Solution
from tinknot.core.families.registry import recipe_of
from tinknot.core.joint.head import JointHead
from tinknot.core.layers.contract import Layer, Step
from tinknot.core.plan.plan import Plan, stamp
from tinknot.core.planning.ordering import ordered
from tinknot.core.planning.waiting_at import behind_mm
from tinknot.core.rulebook import RuleBook
from tinknot.core.world.found import Found
from tinknot.core.world.laws import Broken
from tinknot.core.world.play import judged, moments
from tinknot.core.world.world import World


def found_of(recipe: Recipe[Any], s: Solution) -> Found | None:
    """What the world begins with, with all that the lists name; None where a family does not tell yet."""
    found = recipe.as_found(s)
    if found is None:
        return None
    had: dict[str, float | None] = dict.fromkeys(t for x in s.layers for t in x.tools())
    for m in (m for x in s.layers for m in x.consumes()):
        had[m.what] = (had.get(m.what) or 0.0) + m.quantity
    joint = recipe.joint
    return replace(
        found,
        had=had,
        waits_mm=_waits(recipe, s, found),
        length_m=joint.cable_length_m,
        air_c=joint.ambient_c,
        wet=bool({"buried", "immersed"} & set(joint.duties)),
        hazardous="hazardous" in joint.duties,
        clear_mm=getattr(joint, "clear_mm", None),
    )


def _waits(recipe: Recipe[Any], s: Solution, found: Found) -> dict[str, tuple[float, float]]:
    """Where each part that is threaded over the whole cable waits, mm on the joint's axis: behind the sheath
    cut as far as the plan keeps it, one behind the other."""
    ends, places = {e.name: e for e in found.ends}, {}
    for t, x in behind_mm(recipe, s):
        if end := ends.get(t.end):
            here = sorted((end.edge_mm + end.away * x, end.edge_mm + end.away * (x + t.length_mm)))
            places[t.layer] = (here[0], here[1])
    return places


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
    """The laws that the steps break in the order shown, or would in one that it allows; none where the family
    does not tell of its ends."""
    found = found_of(recipe, s)
    return judged(timed(s.layers, steps), found) if found else []


@dataclass(frozen=True)
class Staged:
    """A joint ready to be played: its layers, their steps in the order shown, and what is found."""

    layers: Sequence[Layer]
    steps: list[Step]
    found: Found


def staged(
    joint: JointHead, rules: RuleBook | None = None, today: date | None = None, made: Made | None = None
) -> Staged | None:
    """A joint solved and laid out for the world; None where nothing fits or the family does not tell of its
    ends. Raises InputError as planning does."""
    recipe = recipe_of(joint, rules, today, made)
    s = recipe.solve()
    found = found_of(recipe, s) if s.fits else None
    if found is None:
        return None
    return Staged(s.layers, timed(s.layers, ordered(s.layers, made or Made())), found)


@dataclass(frozen=True)
class Replayed:
    """A stored plan played anew: what its order breaks, or why it cannot be played any more."""

    breaks: tuple[Broken, ...] = ()
    why_not: str = ""


def replayed(
    plan: Plan, joint: JointHead, rules: RuleBook, today: date | None = None, made: Made | None = None
) -> Replayed:
    """A stored plan in the order it was given out, with what the hand does in each step worked out anew from
    its file and the facts it was planned with; only where every step of it comes out with its id and stamp.
    What only the rules of today ask for is not in it, and so is not played."""
    try:
        ready = staged(joint, rules, today, made)
    except InputError as fault:
        return Replayed(why_not=f"Its file is refused by the rules of today: {fault.errors[0].message}.")
    if ready is None:
        return Replayed(why_not="By the rules of today nothing in its file fits.")
    now = {s.id: s for s in ready.steps}
    other = [s for s in plan.steps if s.id not in now or stamp(now[s.id]) != s.stamp]
    if other:
        return Replayed(why_not=f"By the rules of today “{other[0].title}” would be done otherwise.")
    return Replayed(tuple(judged([now[s.id] for s in plan.steps], ready.found)))


def told(joint: JointHead, rules: RuleBook | None = None) -> Iterator[tuple[Step, list[Broken], World]]:
    """The plan of a joint played in the order shown: each step, the laws it breaks, the world after it.
    Nothing where nothing fits or the family does not tell of its ends. Raises InputError as planning does."""
    if ready := staged(joint, rules):
        yield from moments(ready.steps, ready.found)
