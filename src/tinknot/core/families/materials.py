"""What a stack uses up, and what that costs."""

from collections.abc import Sequence

from tinknot.core.layers.contract import Material
from tinknot.core.parts.stock import StockIn
from tinknot.core.parts.stocked import OnRolls
from tinknot.core.plan.parts import MaterialOut


def materials_of(used: Sequence[Material]) -> list[MaterialOut]:
    """What is used up, the same things added together."""
    found: dict[tuple[str, str, str], MaterialOut] = {}
    for m in used:
        key = (m.what, m.part_id, m.lot)
        quantity = m.quantity + (found[key].quantity if key in found else 0)
        found[key] = MaterialOut(**(vars(m) | {"quantity": quantity}))
    return list(found.values())


def cost_of(stock: StockIn, used: Sequence[Material]) -> float | None:
    """What the parts cost, of those whose price is known; None when no price is."""
    per_mm = {s.id: s.price_per_m / 1000 for s in stock.sleeves if s.price_per_m is not None}
    counted = stock.counted()
    each = {p.id: p.price_each for p in counted if p.price_each is not None}
    rolls = {p.id: p.roll_mm for p in counted if isinstance(p, OnRolls)}
    known = []
    for m in used:
        if m.part_id in per_mm and m.unit == "mm":
            known.append(m.quantity * per_mm[m.part_id])
        elif m.part_id in each:
            known.append(
                each[m.part_id] * m.quantity / (rolls.get(m.part_id, 1.0) if m.unit == "mm" else 1.0)
            )
    return round(sum(known), 2) if known else None
