"""What a new plan revision changes, in words."""

from tinknot.core.plan.parts import PartOut
from tinknot.core.plan.plan import Plan


def differences(old: Plan, new: Plan) -> list[str]:
    """What a new revision changes, in words."""
    words: list[str] = []

    def said(what: str, before: float | None, after: float | None, unit: str = "mm") -> None:
        if before is None or after is None or abs(before - after) > 0.005:
            words.append(f"{what}: {_figure(before)} → {_figure(after)} {unit}")

    if old.gap_mm != new.gap_mm:
        said("Between the sheath cuts", old.gap_mm, new.gap_mm)
    if old.greatest_diameter_mm != new.greatest_diameter_mm:
        said("Greatest diameter", old.greatest_diameter_mm, new.greatest_diameter_mm)
    cuts = {(c.end, c.layer): c for c in old.cuts}
    for c in new.cuts:
        was = cuts.get((c.end, c.layer))
        if was is None or abs(was.distance_mm - c.distance_mm) > 0.005:
            said(f"Cut {c.layer} on {c.end}", was.distance_mm if was else None, c.distance_mm)
    parts: dict[str, list[PartOut]] = {}
    for p in old.parts:
        parts.setdefault(p.layer, []).append(p)
    for p in new.parts:
        had = parts.get(p.layer, [])
        before = next((o for o in had if o.part_id == p.part_id), None)
        if before is None:
            gone = next(
                (o for o in had if all(n.part_id != o.part_id for n in new.parts if n.layer == p.layer)), None
            )
            words.append(f"{p.title}: {gone.name if gone else 'none'} → {p.name}")
        elif before.cut_length_mm != p.cut_length_mm:
            said(f"{p.title}, cut length", before.cut_length_mm, p.cut_length_mm)
    sides = [{e.layer: end for end, e in p.park.parts()} if p.park else {} for p in (old, new)]
    words += [
        f"{layer} parks on {side}, was {sides[0][layer]}"
        for layer, side in sides[1].items()
        if sides[0].get(layer, side) != side
    ]
    return words


def _figure(value: float | None) -> str:
    return "none" if value is None else f"{value:.2f}".rstrip("0").rstrip(".")
