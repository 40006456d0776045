"""What does not add up in a kit sheet, said at once while it is typed. A sheet with a doubt is not checked."""

import re
from collections.abc import Iterator
from itertools import pairwise

from tinknot.core.errors import InputError
from tinknot.core.flat import flat_girth_mm, girth_to_diameter_mm
from tinknot.core.joint.flatend import LaidOpen, back_mm, front_mm, laid_open, overlap_mm
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet
from tinknot.core.joint.leaflet import Figure, Leaflet, LeafletLayer, LeafletPart
from tinknot.core.model import Result
from tinknot.core.rulebook import RuleBook
from tinknot.core.sleeve import Margins
from tinknot.core.tolerance import at_least, at_most

MM_PER_INCH = 25.4
_PARTS = {
    "tube": ("tube",), "boot": ("boot",), "cap": ("cap",), "sealant": ("sealant",), "tape": ("tape",), "crimp": ("crimp",),
    "terminals": ("terminals", "box"), "grommet": ("grommet",), "box": ("box",), "braid-pigtail": ("sleeve",), "braid-fold": ("tape",),
    "bus-stagger": ("tape",),
}  # fmt: skip  # what kinds of part a layer takes
NEEDS_PART = ("tube", "boot", "cap", "sealant", "crimp", "grommet")
BRAIDS = ("braid-pigtail", "braid-fold", "braid-trim")
JOINS = ("crimp", "terminals")


class Doubt(Result):
    """What does not add up, and where; JSON Pointer into the sheet."""

    path: str
    message: str


def doubts(sheet: KitSheet, rules: RuleBook) -> list[Doubt]:
    """Everything that keeps a sheet from being checked; empty when it adds up."""
    found: list[Doubt] = []
    try:
        sheet.check()
    except InputError as fault:
        found += [Doubt(path=e.path, message=e.message) for e in fault.errors]
    if sheet.recipe not in TRACE_ENDS:
        if sheet.leaflet is not None:
            found.append(Doubt(path="/leaflet", message="belongs to heat-trace kits only"))
        return found
    if sheet.leaflet is None:
        return [*found, Doubt(path="/leaflet", message="is empty: type the parts, the cuts and the layers")]
    found += _figures(sheet.leaflet)
    if any("is not a length" in d.message for d in found):
        return found
    found += _parts(sheet.leaflet)
    found += _layers(sheet)
    for construction in sheet.serves.constructions or ["self-regulating"]:
        found += _cuts(sheet, construction)
        found += _needed(sheet, construction)
        found += _lengths(sheet, construction, rules)
    found += _windows(sheet, rules)
    if not sheet.serves.constructions:
        found.append(
            Doubt(path="/serves/constructions", message="is empty: say which kinds of cable the kit serves")
        )
    return list({(d.path, d.message): d for d in found}.values())


# --- mm against inch ----------------------------------------------------------------------------------------


def agrees(figure: Figure) -> bool:
    """Whether mm and inch are one the rounding of the other: mm to its last printed figure, inches to the
    fraction printed (never coarser than 1/8), or the trade's 25 mm for an inch.

    >>> agrees(Figure(mm=90, inch='3 1/2"')), agrees(Figure(mm=100, inch='4"')), agrees(Figure(mm=10, inch='1/2"'))
    (True, True, False)
    """
    if figure.mm is None or (inch := figure.inch_mm) is None:
        return True
    half = 0.5 * _step(f"{figure.mm:.6f}".rstrip("0"))
    apart = abs(figure.mm - inch)
    if at_most(apart, half) or at_most(apart, 0.5 * MM_PER_INCH * min(_step(figure.inch or ""), 1 / 8)):
        return True
    return at_most(abs(figure.mm - inch / MM_PER_INCH * 25), half)


def _step(text: str) -> float:
    """The finest step a printed figure shows: 1/16 for `1 3/16"`, 0.1 for `0.5`, 1 for a whole number."""
    if found := re.search(r"/\s*(\d+)", text):
        return 1 / max(1, int(found[1]))
    found = re.search(r"[.,](\d+)", text)
    return float(10 ** -len(found[1])) if found else 1.0


def _figures(leaflet: Leaflet) -> Iterator[Doubt]:
    for path, figure in _all_figures(leaflet):
        try:
            ok = agrees(figure)
        except InputError as fault:
            yield Doubt(path=f"{path}/inch", message=fault.errors[0].message)
            continue
        if not ok:
            inch = figure.inch_mm or 0.0
            yield Doubt(path=path, message=f"{figure.mm:g} mm and {figure.inch} are not the same: {figure.inch} is {inch:.1f} mm")  # fmt: skip


def _all_figures(leaflet: Leaflet) -> Iterator[tuple[str, Figure]]:
    for key in ("per_remake", "least_loop", "lead", "node_most"):
        figure = getattr(leaflet, key)
        if figure is not None:
            yield f"/leaflet/{key}", figure
    for group, keys in (
        ("parts", ("opens", "closes", "length")),
        ("cuts", ("length",)),
        ("layers", ("reach",)),
    ):
        for i, item in enumerate(getattr(leaflet, group)):
            for key in keys:
                if (figure := getattr(item, key)) is not None:
                    yield f"/leaflet/{group}/{i}/{key}", figure


# --- parts against layers -----------------------------------------------------------------------------------


def _parts(leaflet: Leaflet) -> Iterator[Doubt]:
    seen: set[str] = set()
    for i, p in enumerate(leaflet.parts):
        here = f"/leaflet/parts/{i}"
        if p.id in seen:
            yield Doubt(path=f"{here}/id", message=f"part {p.id} stands twice in the list")
        seen.add(p.id)
        if p.what == "tube" and p.supplied:
            for key in ("opens", "closes", "length"):
                figure = getattr(p, key)
                if figure is None or not figure.given:
                    yield Doubt(path=f"{here}/{key}", message=f"is missing on tube {p.id}")
            if p.opens and p.closes and p.opens.given and p.closes.given and p.opens.value_mm <= p.closes.value_mm:  # fmt: skip
                yield Doubt(path=f"{here}/closes", message="must be less than what it opens to")
        for low, high in (("width_least_mm", "width_most_mm"), ("thickness_least_mm", "thickness_most_mm"), ("area_least_mm2", "area_most_mm2")):  # fmt: skip
            least, most = getattr(p, low), getattr(p, high)
            if least is not None and most is not None and least > most:
                yield Doubt(path=f"{here}/{high}", message="must not be under the least")
        used = sum(1 for x in leaflet.layers if x.part == p.id)
        if not used and p.what not in ("other", "box"):
            yield Doubt(path=here, message=f"part {p.id}, {p.name or p.what}, is in the list but no layer uses it")  # fmt: skip


def _layers(sheet: KitSheet) -> Iterator[Doubt]:
    leaflet, ends = sheet.leaflet, TRACE_ENDS[sheet.recipe]
    assert leaflet is not None
    seen: set[str] = set()
    count: dict[str, int] = {}
    for i, x in enumerate(leaflet.layers):
        here = f"/leaflet/layers/{i}"
        if x.id in seen:
            yield Doubt(path=f"{here}/id", message=f"layer {x.id} stands twice; every layer needs its own name")  # fmt: skip
        seen.add(x.id)
        if x.at not in (None, "joint", *ends):
            yield Doubt(path=f"{here}/at", message=f"this kit has no end {x.at}")
        if x.at == "joint" and len(ends) < 2:
            yield Doubt(path=f"{here}/at", message="nothing is joined here; name an end")
        part = leaflet.part(x.part)
        if x.part and part is None:
            yield Doubt(path=f"{here}/part", message=f"{x.part} is not in the parts list")
        elif part is None and x.kind in NEEDS_PART:
            yield Doubt(path=f"{here}/part", message="needs a part of the list")
        elif part is not None and part.what not in (*_PARTS.get(x.kind, ()), "other"):
            yield Doubt(path=f"{here}/part", message=f"{part.id} is a {part.what}, this layer is a {x.kind}")
        if part is not None:
            count[part.id] = count.get(part.id, 0) + (len(ends) if x.at is None else 1)
        if x.kind in ("terminals", "box") and (x.torque_least_nm is None or x.torque_most_nm is None):
            yield Doubt(path=f"{here}/torque_least_nm", message=f"{x.title or x.kind} without a torque: the screws need a window, least and most")  # fmt: skip
        if x.torque_least_nm and x.torque_most_nm and x.torque_least_nm > x.torque_most_nm:
            yield Doubt(path=f"{here}/torque_most_nm", message="must not be under the least torque")
        if x.kind == "tube" and (x.reach is None or not x.reach.given) and x.datum == "outer-jacket-cut":
            yield Doubt(path=f"{here}/reach", message="is missing: how far the tube goes onto the jacket")
        if x.kind == "step" and not x.title:
            yield Doubt(path=f"{here}/title", message="is missing: what is to be done")
    for i, p in enumerate(leaflet.parts):
        if p.what in ("tube", "boot", "cap", "grommet") and count.get(p.id, 0) > p.count:
            yield Doubt(path=f"/leaflet/parts/{i}/count", message=f"the layers use {count[p.id]} of {p.id}, the list has {p.count}")  # fmt: skip


# --- what each recipe and construction needs ----------------------------------------------------------------


def _needed(sheet: KitSheet, construction: str) -> Iterator[Doubt]:
    leaflet, ends = sheet.leaflet, TRACE_ENDS[sheet.recipe]
    assert leaflet is not None
    layers = leaflet.layers_for(construction)
    kinds = {x.kind for x in layers}

    def doubt(words: str, path: str = "/leaflet/layers") -> Doubt:
        return Doubt(path=path, message=words)

    for end in ends:
        here = [x for x in layers if x.at in (None, end)]
        braids = [x for x in here if x.kind in BRAIDS]
        if len(braids) != 1:
            words = (
                "nothing is said of the braid"
                if not braids
                else "the braid is treated twice; keep one of its layers"
            )
            yield doubt(f"end {end}: {words}")
        opened = laid_open(leaflet, construction, end)
        kinds_here = [x.kind for x in here]
        if (
            braids
            and "strip-core" in kinds_here
            and kinds_here.index("strip-core") < kinds_here.index(braids[0].kind)
        ):
            yield doubt(
                f"end {end}: the core is stripped before the braid is out of the way; put the braid first"
            )
        stripped = any(x.kind == "strip-core" for x in here)
        core = "overlay" if construction == "zone" else "matrix"
        if stripped and not opened.core_mm:
            yield doubt(f"end {end}: the {core} is stripped, but no cut says how far", "/leaflet/cuts")
        if opened.core_mm and not stripped:
            yield doubt(f"end {end}: the {core} is cut, but no layer strips it")
        closed = _dead(sheet.recipe, end)
        if closed and stripped and not any(x.kind == "bus-stagger" for x in here):
            yield doubt(
                f"end {end} is dead: one bus wire is cut shorter, each taped alone, then both; add that layer"
            )
        if (
            closed
            and any(x.kind == "bus-stagger" for x in here)
            and opened.bus_mm[0] == opened.bus_mm[1]
            and stripped
        ):
            yield doubt(
                f"end {end}: both bus wires end at the same place; cut one of them shorter", "/leaflet/cuts"
            )
        if closed and not any(x.kind in ("cap", "boot") or (x.kind == "tube" and x.pinched) for x in here):
            yield doubt(f"end {end} stays open: a cap, a boot or a pinched tube closes it")
        if _live(sheet.recipe, end) and not any(
            x.kind == "terminals" and x.at in (None, end) for x in layers
        ):
            yield doubt(f"end {end}: nothing lands the bus wires; add the terminals with their torque")
    if sheet.recipe in ("trace-splice", "trace-tee"):
        if "crimp" not in kinds:
            yield doubt("nothing joins the bus wires; add the crimps")
        if not any(x.kind in ("tube", "boot") and x.at == "joint" for x in layers):
            yield doubt("nothing closes the splice; add the tube over both ends")
    wrong = "matrix" if construction == "zone" else "overlay"
    for i, c in enumerate(leaflet.cuts):
        if c.layer == wrong and (not c.constructions or construction in c.constructions):
            yield doubt(f"{construction} cable has no {wrong}: say for which cable this cut is", f"/leaflet/cuts/{i}/layer")  # fmt: skip


def _dead(recipe: str, end: str) -> bool:
    """Whether the cable stops at this end."""
    return recipe == "trace-end" or (recipe == "trace-power-end" and end == "B")


def _live(recipe: str, end: str) -> bool:
    """Whether this end is fed from terminals."""
    return recipe in ("trace-power", "trace-power-end") and end == "A"


# --- lengths ------------------------------------------------------------------------------------------------


def _cuts(sheet: KitSheet, construction: str) -> Iterator[Doubt]:
    leaflet = sheet.leaflet
    assert leaflet is not None
    for end in TRACE_ENDS[sheet.recipe]:
        o = laid_open(leaflet, construction, end)
        mine = {c.layer: i for i, c in enumerate(leaflet.cuts) if c in leaflet.cuts_for(construction, end)}
        said = {"overlay" if construction == "zone" else "matrix": o.core_mm}
        at: dict[str, float] = {"outer-jacket": o.jacket_mm, "braid": o.braid_mm, "inner-jacket": o.inner_mm, **said, "bus-1": o.bus_mm[0], "bus-2": o.bus_mm[1]}  # fmt: skip
        for layer, i in mine.items():
            if not leaflet.cuts[i].length.given:
                yield Doubt(path=f"/leaflet/cuts/{i}/length", message="is missing")
            elif at.get(layer, 0.0) < -1e-9:
                yield Doubt(path=f"/leaflet/cuts/{i}/length", message=f"ends {-at[layer]:g} mm past the cable's end: the lengths do not add up")  # fmt: skip
        if "outer-jacket" not in mine:
            yield Doubt(
                path="/leaflet/cuts",
                message=f"end {end}: no cut of the outer jacket; the others are measured from it",
            )
            continue
        order = ["outer-jacket", "inner-jacket", "overlay" if construction == "zone" else "matrix"]
        for over, under in pairwise(order):
            if under in mine and at[under] > at[over] + 1e-9:
                yield Doubt(
                    path=f"/leaflet/cuts/{mine[under]}/length",
                    message=f"end {end}: the {under} would be cut {at[under] - at[over]:g} mm past the {over} cut, where the {over} still lies on it",
                )
        if "braid" in mine and at["braid"] > at["outer-jacket"] + 1e-9:
            yield Doubt(path=f"/leaflet/cuts/{mine['braid']}/length", message=f"end {end}: the braid would be cut under the jacket")  # fmt: skip
        for bus in ("bus-1", "bus-2"):
            if bus in mine and at[bus] >= o.core_mm > 0:
                yield Doubt(path=f"/leaflet/cuts/{mine[bus]}/length", message=f"end {end}: nothing of the bus wire would be left bare")  # fmt: skip


def _lengths(sheet: KitSheet, construction: str, rules: RuleBook) -> Iterator[Doubt]:
    """Tubes against what they must cover, and far enough past the end to be pinched."""
    leaflet, names = sheet.leaflet, TRACE_ENDS[sheet.recipe]
    assert leaflet is not None
    opened = {e: laid_open(leaflet, construction, e) for e in names}
    if sheet.recipe in ("trace-splice", "trace-tee"):
        for other in names[1:]:
            first, second = (opened["A"].bus_mm[n] + opened[other].bus_mm[n] for n in (0, 1))
            if abs(first - second) > 1e-9:
                yield Doubt(
                    path="/leaflet/cuts",
                    message=f"bus wires 1 lose {first:g} mm on A and {other} together, bus wires 2 {second:g}: they cannot both meet",
                )
    inner: dict[str, float] = dict.fromkeys(names, 0.0)  # how far past the end the tubes before reach
    for i, x in enumerate(leaflet.layers):
        part = leaflet.part(x.part)
        if (
            x not in leaflet.layers_for(construction)
            or x.kind != "tube"
            or part is None
            or not (part.length and part.length.given)
        ):
            continue
        path, length = f"/leaflet/layers/{i}/reach", recovered_length_mm(part)
        if x.at == "joint":
            span = covered_mm(x, [opened[e] for e in names[:2]])
            if not at_least(length, span):
                yield Doubt(path=path, message=f"the tube is {length:g} mm long shrunk, what it must cover is {span:g}: the lengths do not add up")  # fmt: skip
            continue
        for end in names if x.at is None else (x.at,):
            if end not in opened:
                continue
            past = -front_mm(x, opened[end], length)
            if x.pinched:
                need = rules.number("trace.pinch_mm") + inner[end]
                if not at_least(past, need):
                    beyond = "the seal inside it" if inner[end] else "the cable's end"
                    yield Doubt(
                        path=path,
                        message=f"too short to be pinched: shrunk it ends {past - inner[end]:g} mm past {beyond}, {rules.number('trace.pinch_mm'):g} are needed",
                    )
                inner[end] = max(inner[end], past, 0.0)


def recovered_length_mm(part: LeafletPart) -> float:
    """Length of a tube when fully shrunk, mm: the least it can cover."""
    return (part.length.value_mm if part.length else 0.0) * (1 + min(0.0, part.longitudinal_change_pct) / 100)


def covered_mm(layer: LeafletLayer, opened: list[LaidOpen]) -> float:
    """What a tube over both ends of a splice must cover, mm."""
    return sum(back_mm(layer, o) for o in opened) - overlap_mm(opened)


# --- windows ------------------------------------------------------------------------------------------------


def _windows(sheet: KitSheet, rules: RuleBook) -> Iterator[Doubt]:
    """Parts that sit on the outer jacket against every cable the kit says it serves."""
    leaflet, s = sheet.leaflet, sheet.serves
    assert leaflet is not None
    margins = Margins(rules.number("slide.pct"), rules.number("slide.min_mm"), rules.number("grip.pct"))
    served = (s.width_least_mm, s.width_most_mm, s.thickness_least_mm, s.thickness_most_mm)
    if any(v is None for v in served):
        yield Doubt(path="/serves/width_least_mm", message="is not complete: say the widths and thicknesses of jacket the kit serves")  # fmt: skip
        return
    w_low, w_high, t_low, t_high = (float(v) for v in served if v is not None)
    for key, low, high in (("width_most_mm", w_low, w_high), ("thickness_most_mm", t_low, t_high)):
        if low > high:
            yield Doubt(path=f"/serves/{key}", message="must not be under the least")
    if w_low > w_high or t_low > t_high or t_high > w_high or t_low > w_low:
        return
    two = 2.0 if sheet.recipe == "trace-tee" else 1.0
    for i, p in enumerate(leaflet.parts):
        here = f"/leaflet/parts/{i}"
        layers = [x for x in leaflet.layers if x.part == p.id]
        on_jacket = any(x.datum == "outer-jacket-cut" for x in layers)
        if p.what == "tube" and on_jacket and p.opens and p.closes and p.opens.given and p.closes.given:
            legs = two if any(x.at == "joint" for x in layers) else 1.0
            passed = legs * w_high if p.stiff else _girth_od(legs * w_high, t_high)
            need, allow = margins.needed_expanded_mm(passed), margins.allowed_recovered_mm(_girth_od(w_low, t_low))  # fmt: skip
            if not at_least(p.opens.value_mm, need):
                yield Doubt(path=f"{here}/opens", message=f"cannot pass the widest cable served: {need:.1f} mm needed, {p.opens.value_mm:g} given")  # fmt: skip
            if not at_most(p.closes.value_mm, allow):
                yield Doubt(path=f"{here}/closes", message=f"cannot grip the smallest cable served: {allow:.1f} mm or less needed, {p.closes.value_mm:g} given")  # fmt: skip
        for key, low, high in (("width", w_low, w_high), ("thickness", t_low, t_high)):
            least, most = getattr(p, f"{key}_least_mm"), getattr(p, f"{key}_most_mm")
            if least is not None and not at_most(least, low):
                yield Doubt(path=f"{here}/{key}_least_mm", message=f"takes cables from {least:g} mm {key}, the kit says it serves {low:g}")  # fmt: skip
            if most is not None and not at_least(most, high):
                yield Doubt(path=f"{here}/{key}_most_mm", message=f"takes cables up to {most:g} mm {key}, the kit says it serves {high:g}")  # fmt: skip
        for key, bus, over in (("area_least_mm2", s.bus_least_mm2, True), ("area_most_mm2", s.bus_most_mm2, False)):  # fmt: skip
            own = getattr(p, key)
            if own is not None and bus is not None and (own > bus if over else own < bus):
                yield Doubt(path=f"{here}/{key}", message=f"does not take the bus wires of {bus:g} mm² the kit says it serves")  # fmt: skip


def _girth_od(width: float, thickness: float) -> float:
    return girth_to_diameter_mm(flat_girth_mm(width, thickness))
