"""The parts of a leaflet against its layers."""

from collections.abc import Iterator, Sequence

from tinknot.core.errors import InputError
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet
from tinknot.core.joint.leaflet import Leaflet, LeafletLayer, LeafletPart
from tinknot.core.sheets.doubt import Doubt

_PARTS = {
    "tube": ("tube",),
    "boot": ("boot",),
    "cap": ("cap",),
    "sealant": ("sealant",),
    "tape": ("tape",),
    "crimp": ("crimp",),
    "terminals": ("terminals", "box"),
    "grommet": ("grommet",),
    "box": ("box",),
    "braid-pigtail": ("sleeve",),
    "braid-fold": ("tape",),
    "bus-stagger": ("tape",),
}  # what kinds of part a layer takes
NEEDS_PART = ("tube", "boot", "cap", "sealant", "crimp", "grommet")


def parts_agree(leaflet: Leaflet) -> Iterator[Doubt]:
    """The packing list: sizes there, each part used."""
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
            if (
                p.opens
                and p.closes
                and p.opens.given
                and p.closes.given
                and p.opens.value_mm <= p.closes.value_mm
            ):
                yield Doubt(path=f"{here}/closes", message="must be less than what it opens to")
        for low, high in (
            ("width_least_mm", "width_most_mm"),
            ("thickness_least_mm", "thickness_most_mm"),
            ("area_least_mm2", "area_most_mm2"),
        ):
            least, most = getattr(p, low), getattr(p, high)
            if least is not None and most is not None and least > most:
                yield Doubt(path=f"{here}/{high}", message="must not be under the least")
        try:
            _ = p.skin_law(), p.cure_law()
        except InputError:
            yield Doubt(
                path=f"{here}/also_c",
                message="its two lines of times do not agree: a temperature each, the warmer one faster",
            )
        used = sum(1 for x in leaflet.layers if x.part == p.id)
        if not used and p.what not in ("other", "box"):
            yield Doubt(
                path=here, message=f"part {p.id}, {p.name or p.what}, is in the list but no layer uses it"
            )


def layers_agree(sheet: KitSheet) -> Iterator[Doubt]:
    """Every layer with the part, place and torque it needs, no part used more often than it lies in the
    box."""
    leaflet, ends = sheet.leaflet, TRACE_ENDS[sheet.recipe]
    assert leaflet is not None
    seen: set[str] = set()
    count: dict[str, int] = {}
    for i, x in enumerate(leaflet.layers):
        here = f"/leaflet/layers/{i}"
        if x.id in seen:
            yield Doubt(
                path=f"{here}/id", message=f"layer {x.id} stands twice; every layer needs its own name"
            )
        seen.add(x.id)
        yield from _placed(x, here, ends)
        part = leaflet.part(x.part)
        yield from _with_part(x, here, part)
        if part is not None:
            each = len(x.joined) if x.kind == "crimp" else len(ends) if x.at is None else 1
            count[part.id] = count.get(part.id, 0) + each
        yield from _figures(x, here)
    for i, p in enumerate(leaflet.parts):
        if p.what in ("tube", "boot", "cap", "grommet", "crimp") and count.get(p.id, 0) > p.count:
            yield Doubt(
                path=f"/leaflet/parts/{i}/count",
                message=f"the layers use {count[p.id]} of {p.id}, the list has {p.count}",
            )


def _placed(x: LeafletLayer, here: str, ends: Sequence[str]) -> Iterator[Doubt]:
    if x.at not in (None, "joint", *ends):
        yield Doubt(path=f"{here}/at", message=f"this kit has no end {x.at}")
    if x.at == "joint" and len(ends) < 2:
        yield Doubt(path=f"{here}/at", message="nothing is joined here; name an end")


def _with_part(x: LeafletLayer, here: str, part: LeafletPart | None) -> Iterator[Doubt]:
    if x.part and part is None:
        yield Doubt(path=f"{here}/part", message=f"{x.part} is not in the parts list")
    elif part is None and x.kind in NEEDS_PART:
        yield Doubt(path=f"{here}/part", message="needs a part of the list")
    elif part is not None and part.what not in (*_PARTS.get(x.kind, ()), "other"):
        yield Doubt(path=f"{here}/part", message=f"{part.id} is a {part.what}, this layer is a {x.kind}")


def _figures(x: LeafletLayer, here: str) -> Iterator[Doubt]:
    figures = (x.torque_least_nm, x.torque_most_nm)
    by_hand = x.kind == "box" and figures == (None, None)  # a latch, a quarter turn
    if x.kind in ("terminals", "box") and None in figures and not by_hand:
        yield Doubt(
            path=f"{here}/torque_least_nm",
            message=f"{x.title or x.kind} without a torque: the screws need a window, least and most",
        )
    if x.torque_least_nm and x.torque_most_nm and x.torque_least_nm > x.torque_most_nm:
        yield Doubt(path=f"{here}/torque_most_nm", message="must not be under the least torque")
    if x.kind == "tube" and (x.reach is None or not x.reach.given) and x.datum == "outer-jacket-cut":
        yield Doubt(path=f"{here}/reach", message="is missing: how far the tube goes onto the jacket")
    if x.kind == "step" and not x.title:
        yield Doubt(path=f"{here}/title", message="is missing: what is to be done")
