"""The windows of a leaflet against every cable the kit says it serves."""

from collections.abc import Iterator

from tinknot.core.figures import LEAST, MOST, mm, mm2
from tinknot.core.formulas.flat import flat_girth_mm, girth_to_diameter_mm
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.kitsheet import KitSheet, Serves
from tinknot.core.joint.leaflet import LeafletPart
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets.doubt import Doubt
from tinknot.core.tolerance import at_least, at_most

Range = tuple[float, float]  # least, most, mm


def windows_serve(sheet: KitSheet, rules: RuleBook) -> Iterator[Doubt]:
    """Parts that sit on the outer jacket against every cable the kit says it serves."""
    leaflet, s = sheet.leaflet, sheet.serves
    assert leaflet is not None
    margins = Margins(rules.number("slide.pct"), rules.number("slide.min_mm"), rules.number("grip.pct"))
    served = (s.width_least_mm, s.width_most_mm, s.thickness_least_mm, s.thickness_most_mm)
    if any(v is None for v in served):
        yield Doubt(
            path="/serves/width_least_mm",
            message="is not complete: say the widths and thicknesses of jacket the kit serves",
        )
        return
    w_low, w_high, t_low, t_high = (float(v) for v in served if v is not None)
    for key, low, high in (("width_most_mm", w_low, w_high), ("thickness_most_mm", t_low, t_high)):
        if low > high:
            yield Doubt(path=f"/serves/{key}", message="must not be under the least")
    if w_low > w_high or t_low > t_high or t_high > w_high or t_low > w_low:
        return
    two = 2.0 if sheet.recipe == "trace-tee" else 1.0
    widths, thicknesses = (w_low, w_high), (t_low, t_high)
    for i, p in enumerate(leaflet.parts):
        here = f"/leaflet/parts/{i}"
        layers = [x for x in leaflet.layers if x.part == p.id]
        on_jacket = any(x.measured_from == "outer-jacket-cut" and x.kind != "wire-sleeve" for x in layers)
        if p.what == "tube" and on_jacket:
            legs = two if any(x.at == "joint" for x in layers) else 1.0
            passed = legs * w_high if p.stiff else _girth_od(legs * w_high, t_high)
            allow = margins.allowed_recovered_mm(_girth_od(w_low, t_low))
            yield from _tube(p, here, margins.needed_expanded_mm(passed), allow)
        yield from _openings(p, here, widths, thicknesses)
        yield from _bus(p, here, s)


def _tube(p: LeafletPart, here: str, need: float, allow: float) -> Iterator[Doubt]:
    """A tube against the widest and the smallest jacket, mm."""
    if not (p.opens and p.closes and p.opens.given and p.closes.given):
        return
    if not at_least(p.opens.value_mm, need):
        words = f"{mm(need, LEAST):.1f} mm needed, {p.opens.value_mm:g} given"
        yield Doubt(path=f"{here}/opens", message=f"cannot pass the widest cable served: {words}")
    if not at_most(p.closes.value_mm, allow):
        words = f"{mm(allow, MOST):.1f} mm or less needed, {p.closes.value_mm:g} given"
        yield Doubt(path=f"{here}/closes", message=f"cannot grip the smallest cable served: {words}")


def _openings(p: LeafletPart, here: str, widths: Range, thicknesses: Range) -> Iterator[Doubt]:
    """What an opening takes against what the kit says it serves."""
    for key, (low, high) in (("width", widths), ("thickness", thicknesses)):
        least, most = getattr(p, f"{key}_least_mm"), getattr(p, f"{key}_most_mm")
        serves = f"mm {key}, the kit says it serves"
        if least is not None and not at_most(least, low):
            words = f"takes cables from {mm(least, LEAST):g} {serves} {low:g}"
            yield Doubt(path=f"{here}/{key}_least_mm", message=words)
        if most is not None and not at_least(most, high):
            words = f"takes cables up to {mm(most, MOST):g} {serves} {high:g}"
            yield Doubt(path=f"{here}/{key}_most_mm", message=words)


def _bus(p: LeafletPart, here: str, s: Serves) -> Iterator[Doubt]:
    """What a crimp takes against the bus wires served."""
    for key, bus, over in (
        ("area_least_mm2", s.bus_least_mm2, True),
        ("area_most_mm2", s.bus_most_mm2, False),
    ):
        own = getattr(p, key)
        if own is not None and bus is not None and (own > bus if over else own < bus):
            words = f"does not take the bus wires of {mm2(bus):g} mm² the kit says it serves"
            yield Doubt(path=f"{here}/{key}", message=words)


def _girth_od(width: float, thickness: float) -> float:
    return girth_to_diameter_mm(flat_girth_mm(width, thickness))
