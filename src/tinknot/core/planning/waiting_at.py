"""Where what is threaded over the whole cable waits, and the step that says so."""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from tinknot.core.families.contract import Recipe, Solution
from tinknot.core.figures import LEAST, mm
from tinknot.core.layers.contract import Step, Threaded
from tinknot.core.tolerance import whole_up


def behind_mm(recipe: Recipe[Any], s: Solution) -> list[tuple[Threaded, float]]:
    """Every part that waits on a cable's end, and how far from where the work begins its near end stays at
    least, mm: as the plan keeps it, one behind the other."""
    if s.parking is None:
        return []
    used, between = s.parking.used_mm(), recipe.rules.number("park.between_mm")
    whole = [t for x in s.layers for t in x.threads() if t.track == "sheath"]
    found: list[tuple[Threaded, float]] = []
    for end in dict.fromkeys(t.end for t in whole):
        mine = sorted((t for t in whole if t.end == end), key=lambda t: t.order)
        x = max(0.0, used.get(end, 0.0) - sum(t.length_mm for t in mine) - between * (len(mine) - 1))
        for t in mine:
            found.append((t, x))
            x += t.length_mm + between
    return found


def said_where(recipe: Recipe[Any], s: Solution, steps: Sequence[Step]) -> list[Step]:
    """The steps, those that thread something on with how far back it is to wait."""
    if not recipe.waits_from:
        return list(steps)
    near = {
        t.layer: f"It waits {mm(whole_up(x), LEAST):g} mm or more behind {recipe.waits_from}."
        for t, x in behind_mm(recipe, s)
    }
    return [
        replace(p, look=near[p.layer]) if p.kind == "park" and p.layer in near and not p.look else p
        for p in steps
    ]
