"""The parts of a plan, each with its reason and what was not taken instead."""

from typing import Any

from tinknot.core.families.contract import Recipe, Solution
from tinknot.core.layers.contract import Layer
from tinknot.core.plan.parts import PartOut, Refusal


def parts_of(recipe: Recipe[Any], s: Solution, brief: bool) -> list[PartOut]:
    """Every part of a solution; `brief` leaves out what was not taken."""
    found = recipe.first_parts(s)
    by_layer = {x.id: x for x in s.layers}
    for choice in s.choices:
        r = choice.picked
        if r is None or choice.as_it_comes:
            continue
        part, w = recipe.sleeves[r.candidate.id], choice.window
        rejected = [] if brief else choice.rejected()
        at = w.wall_od_mm or w.seal_od_mm
        for layer_id in choice.layers:
            layer = by_layer.get(layer_id)
            found.append(
                PartOut(
                    layer=layer_id,
                    title=layer.title if layer else choice.title,
                    part_id=part.id,
                    name=part.name or part.id,
                    lot=layer.from_lot() if layer else "",
                    cut_length_mm=r.cut_length_mm,
                    pass_od_mm=w.pass_od_mm,
                    seal_od_mm=w.seal_od_mm,
                    od_after_mm=r.candidate.tube.od_mm(at),
                    reason=recipe.why_picked(choice, r),
                    rejected=[Refusal(part_id=x.candidate.id, reason=x.reason) for x in rejected],
                    expanded_id_mm=part.expanded_id_mm,
                    recovered_id_mm=part.recovered_id_mm,
                    wall_mm=r.candidate.tube.wall_mm(at),
                    quantity=choice.each,
                )
            )
    return found + [p for x in s.layers for p in _counted(s, x)]


def _counted(s: Solution, layer: Layer) -> list[PartOut]:
    """Parts of a layer that are counted in pieces or wound off a roll."""
    offers = {o.id: o.reason for p in s.picks for o in p.offers if o.serves}
    rejected = {
        p.picked: [Refusal(part_id=o.id, reason=o.reason) for o in p.offers if not o.serves] for p in s.picks
    }
    return [
        PartOut(
            layer=layer.id,
            title=layer.title,
            part_id=c.part_id,
            name=c.name,
            lot=c.lot,
            cut_length_mm=None,
            pass_od_mm=None,
            seal_od_mm=None,
            od_after_mm=c.od_after_mm,
            reason=offers.get(c.part_id, ""),
            rejected=rejected.get(c.part_id, []),
            quantity=c.pieces,
        )
        for c in layer.counted()
    ]
