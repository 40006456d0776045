"""Which connectors join the cores of two ends."""

from tinknot.core.errors import InputError
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.file import JointFile, StockConnector
from tinknot.core.tolerance import at_most


class NoConnector(InputError):
    """No connector in stock takes the conductors."""


def connectors_for(joint: JointFile, a: CableEnd, b: CableEnd) -> list[tuple[StockConnector, ...]]:
    """Sets of connectors, one a core, best first. Raises InputError when none suits."""
    given = joint.connector
    if given and given.part_id:
        part = next((c for c in joint.stock.connectors if c.id == given.part_id), None)
        if part is None:
            raise InputError.at("/connector/part_id", f"{given.part_id} is not in stock")
        for core_a, core_b in zip(a.cores, b.cores, strict=True):
            if not (part.suits(core_a.area_mm2) and part.suits(core_b.area_mm2)):
                raise InputError.at(
                    "/connector/part_id",
                    f"{part.id} does not take core {core_a.name}, {core_a.area_mm2:g} to {core_b.area_mm2:g} mm²",
                )
        return [(part,) * len(a.cores)]
    if given:
        if given.od_mm is None or given.length_mm is None:
            missing = "od_mm" if given.od_mm is None else "length_mm"
            raise InputError.at(f"/connector/{missing}", "is missing; give part_id, or od_mm and length_mm")
        insertion = given.insertion_mm if given.insertion_mm is not None else given.length_mm / 2 - 1
        if insertion <= 0 or not at_most(2 * insertion, given.length_mm):
            raise InputError.at("/connector/insertion_mm", "must be above 0 and at most half the length")
        part = StockConnector(
            id="connector",
            od_mm=given.od_mm,
            length_mm=given.length_mm,
            insertion_mm=insertion,
            growth_mm=given.growth_mm or 0.0,
        )
        return [(part,) * len(a.cores)]
    per_core: list[list[StockConnector]] = []
    for core_a, core_b in zip(a.cores, b.cores, strict=True):
        suited = [
            c for c in joint.stock.connectors
            if c.suits(core_a.area_mm2) and c.suits(core_b.area_mm2) and (c.on_hand is None or c.on_hand >= 1)
        ]  # fmt: skip
        if not suited:
            raise NoConnector.at(
                "/connector",
                f"nothing in stock joins core {core_a.name}, {core_a.area_mm2:g} to {core_b.area_mm2:g} mm²; order a barrel for it or give its figures",
            )
        per_core.append(sorted(suited, key=lambda c: (c.od_mm, c.length_mm, c.id)))
    sets = [
        tuple(options[min(i, len(options) - 1)] for options in per_core)
        for i in range(max(map(len, per_core)))
    ]
    enough = [s for s in sets if all(c.on_hand is None or c.on_hand >= s.count(c) for c in s)]
    if not enough:
        short = sets[0][0]
        raise NoConnector.at(
            "/connector", f"{sets[0].count(short)} of {short.id} are needed, {short.on_hand} are on hand"
        )
    return enough
