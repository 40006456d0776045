"""Lengths of a leaflet: cuts inside each other, tubes long enough."""

from collections.abc import Iterator, Sequence
from itertools import pairwise

from tinknot.core.figures import mm
from tinknot.core.joint.flatend import LaidOpen, back_mm, front_mm, laid_open, overlap_mm
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet
from tinknot.core.joint.leaflet import Leaflet, LeafletCut, LeafletLayer, LeafletPart
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets.doubt import Doubt
from tinknot.core.tolerance import at_least


def cuts_nest(sheet: KitSheet, construction: str) -> Iterator[Doubt]:
    """No cut past the layer over it, none past the cable's end."""
    leaflet = sheet.leaflet
    assert leaflet is not None
    for end in TRACE_ENDS[sheet.recipe]:
        o = laid_open(leaflet, construction, end)
        cuts = leaflet.cuts_for(construction, end)
        yield from _cut_once(cuts, end)
        mine = {c.layer: c for c in cuts}
        said = {"overlay" if construction == "zone" else "matrix": o.core_mm}
        at: dict[str, float] = {
            "outer-jacket": o.jacket_mm,
            "braid": o.braid_mm,
            "inner-jacket": o.inner_mm,
            "core": o.core_mm,
            **said,
            "bus-1": o.bus_mm[0],
            "bus-2": o.bus_mm[1],
        }
        for layer, cut in mine.items():
            if not cut.length.given:
                yield Doubt(path=_length(cut), message="is missing")
            elif at.get(layer, 0.0) < -1e-9:
                yield Doubt(
                    path=_length(cut),
                    message=f"ends {mm(-at[layer]):g} mm past the cable's end: the lengths do not add up",
                )
        if "outer-jacket" not in mine:
            yield Doubt(
                path="/leaflet/layers",
                message=f"end {end}: no cut of the outer jacket; the others are measured from it",
            )
            continue
        order = ["outer-jacket", "inner-jacket", "overlay" if construction == "zone" else "matrix"]
        for over, under in pairwise(order):
            if under in mine and at[under] > at[over] + 1e-9:
                yield Doubt(
                    path=_length(mine[under]),
                    message=(
                        f"end {end}: the {under} would be cut {mm(at[under] - at[over]):g} mm past the {over}"
                        f" cut, where the {over} still lies on it"
                    ),
                )
        if "braid" in mine and at["braid"] > at["outer-jacket"] + 1e-9:
            yield Doubt(
                path=_length(mine["braid"]),
                message=f"end {end}: the braid would be cut under the jacket",
            )
        for bus in ("bus-1", "bus-2"):
            if bus in mine and at[bus] >= o.core_mm > 0:
                yield Doubt(
                    path=_length(mine[bus]),
                    message=f"end {end}: nothing of the bus wire would be left bare",
                )


def _length(cut: LeafletCut) -> str:
    return f"/leaflet/layers/{cut.row}/length"


def _cut_once(cuts: Sequence[LeafletCut], end: str) -> Iterator[Doubt]:
    """No layer is taken off twice at one end."""
    first: dict[str, int] = {}
    for c in cuts:
        if c.layer in first:
            said = c.layer.replace("-", " ")
            yield Doubt(
                path=f"/leaflet/layers/{c.row}/layer",
                message=f"end {end}: layer {first[c.layer] + 1} takes the {said} off already",
            )
        first.setdefault(c.layer, c.row)


def tubes_reach(sheet: KitSheet, construction: str, rules: RuleBook) -> Iterator[Doubt]:
    """Tubes against what they must cover, and far enough past the end to be pinched."""
    leaflet, names = sheet.leaflet, TRACE_ENDS[sheet.recipe]
    assert leaflet is not None
    opened = {e: laid_open(leaflet, construction, e) for e in names}
    if sheet.recipe in ("trace-splice", "trace-tee"):
        for other in names[1:]:
            first, second = (opened["A"].bus_mm[n] + opened[other].bus_mm[n] for n in (0, 1))
            if abs(first - second) > 1e-9:
                yield Doubt(
                    path="/leaflet/layers",
                    message=(
                        f"bus wires 1 lose {mm(first):g} mm on A and {other} together, bus wires 2"
                        f" {second:g}: they cannot both meet"
                    ),
                )
    yield from _caps_reach(leaflet, construction, opened)
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
                yield Doubt(
                    path=path,
                    message=(
                        f"the tube is {mm(length):g} mm long shrunk, what it must cover is {span:g}: the"
                        " lengths do not add up"
                    ),
                )
            continue
        for end in names if x.at is None else (x.at,):
            if end not in opened:
                continue
            past = -front_mm(x, opened[end], length)
            if x.pinched and not x.between:
                need = rules.number("trace.pinch_mm") + inner[end]
                if not at_least(past, need):
                    beyond = "the seal inside it" if inner[end] else "the cable's end"
                    yield Doubt(
                        path=path,
                        message=(
                            f"too short to be pinched: shrunk it ends {mm(past - inner[end]):g} mm past"
                            f" {beyond}, {rules.number('trace.pinch_mm'):g} are needed"
                        ),
                    )
                inner[end] = max(inner[end], past, 0.0)


def _caps_reach(leaflet: Leaflet, construction: str, opened: dict[str, LaidOpen]) -> Iterator[Doubt]:
    """A cap's floor meets the end of the cable, so its mouth lies its own depth behind it: on the jacket,
    as far as the leaflet says, or it closes nothing."""
    layers = leaflet.layers_for(construction)
    for i, x in enumerate(leaflet.layers):
        part = leaflet.part(x.part)
        if x not in layers or x.kind != "cap" or part is None or not (part.length and part.length.given):
            continue
        for end in opened if x.at is None else (x.at,):
            if end not in opened:
                continue
            o, deep = opened[end], part.length.value_mm
            stands = o.jacket_mm - (
                min(o.bus_mm) if o.core_mm else 0.0
            )  # the longest bus wire, or what lies round it
            onto = (
                x.reach.value_mm
                if x.reach and x.reach.given and x.measured_from == "outer-jacket-cut"
                else 0.0
            )
            if not at_least(deep, stands + onto) or (not onto and not deep > stands):
                goal = f"{mm(onto):g} mm onto the jacket" if onto else "the jacket"
                yield Doubt(
                    path=f"/leaflet/layers/{i}/reach",
                    message=(
                        f"the cap is {mm(deep):g} mm deep and {mm(stands):g} mm of the end stand before the"
                        f" jacket: it cannot reach {goal}"
                    ),
                )


def recovered_length_mm(part: LeafletPart) -> float:
    """Length of a tube when fully shrunk, mm: the least it can cover."""
    return (part.length.value_mm if part.length else 0.0) * (1 + min(0.0, part.longitudinal_change_pct) / 100)


def covered_mm(layer: LeafletLayer, opened: list[LaidOpen]) -> float:
    """What a tube over both ends of a splice must cover, mm."""
    return sum(back_mm(layer, o) for o in opened) - overlap_mm(opened)
