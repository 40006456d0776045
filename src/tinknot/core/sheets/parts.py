"""The parts of a leaflet against its layers."""

from collections.abc import Iterator, Sequence

from tinknot.core.errors import InputError
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet
from tinknot.core.joint.leaflet import LayerKind, Leaflet, LeafletLayer, LeafletPart, PartKind
from tinknot.core.sheets.doubt import Doubt

_PARTS: dict[LayerKind, tuple[PartKind, ...]] = {
    "pierce": ("grommet",),
    "push-back": ("grommet",),
    "tighten": ("grommet",),
    "strap": ("strap",),
    "loop": ("tape",),
    "spare-holes": ("plug",),
    "gasket": ("box",),
    "base": ("box",),
    "wire-sleeve": ("tube", "sleeve"),
    "ferrule": ("ferrule",),
    "supply": ("terminals", "box", "twist-on"),
    "braid-forward": ("tape",),
    "tube": ("tube",),
    "boot": ("boot",),
    "cap": ("cap",),
    "sealant": ("sealant",),
    "tape": ("tape",),
    "crimp": ("crimp", "twist-on"),
    "terminals": ("terminals", "box"),
    "grommet": ("grommet",),
    "box": ("box",),
    "braid-pigtail": ("sleeve",),
    "braid-fold": ("tape",),
    "bus-stagger": ("tape",),
}  # what kinds of part a layer takes
NEEDS_PART = ("tube", "boot", "cap", "sealant", "crimp", "grommet", "wire-sleeve", "ferrule")
COUNTED = ("tube", "boot", "cap", "grommet", "crimp", "twist-on", "ferrule", "plug")  # piece by piece
USED_BY = ("pierce", "push-back", "tighten")  # rows that work on a part another row puts on


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
            count[part.id] = count.get(part.id, 0) + _pieces(x, ends)
        yield from _figures(x, here)
    yield from _first_and_last(leaflet)
    for i, p in enumerate(leaflet.parts):
        if p.what in COUNTED and count.get(p.id, 0) > p.count:
            yield Doubt(
                path=f"/leaflet/parts/{i}/count",
                message=f"the layers use {count[p.id]} of {p.id}, the list has {p.count}",
            )


def _pieces(x: LeafletLayer, ends: Sequence[str]) -> int:
    """How many pieces of its part a row takes."""
    if x.kind in USED_BY:
        return 0
    sides = len(ends) if x.at is None and x.kind != "crimp" else 1
    if x.kind == "crimp":
        return len(x.joined)
    if x.kind in ("wire-sleeve", "ferrule"):
        return sides * (len(x.on) or 2)
    return sides


def _first_and_last(leaflet: Leaflet) -> Iterator[Doubt]:
    """The kit is received before all else, the label fixed after all else."""
    rows = leaflet.layers
    for i, x in enumerate(rows):
        if x.kind == "receive" and i:
            words = f"the kit is laid out before anything is done; put it before layer {i}"
            yield Doubt(path=f"/leaflet/layers/{i}", message=words)
        if x.kind == "label" and i < len(rows) - 1:
            words = f"the label is fixed when all is proved; put it after layer {len(rows)}"
            yield Doubt(path=f"/leaflet/layers/{i}", message=words)


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
    if None in figures and figures != (None, None):
        missing = "least" if x.torque_least_nm is None else "most"
        yield Doubt(
            path=f"{here}/torque_{missing}_nm",
            message="is missing: a torque is a window, least and most; none where none is printed",
        )
    if x.spring and figures != (None, None):
        yield Doubt(path=f"{here}/torque_least_nm", message="is not for terminals that hold by springs")
    if x.torque_least_nm and x.torque_most_nm and x.torque_least_nm > x.torque_most_nm:
        yield Doubt(path=f"{here}/torque_most_nm", message="must not be under the least torque")
    if x.kind == "tube" and (x.reach is None or not x.reach.given) and x.measured_from == "outer-jacket-cut":
        yield Doubt(path=f"{here}/reach", message="is missing: how far the tube goes onto the jacket")
    if x.kind == "cut" and x.layer is None:
        yield Doubt(path=f"{here}/layer", message="is missing: what is cut")
    if x.kind == "step" and not x.title:
        yield Doubt(path=f"{here}/title", message="is missing: what is to be done")
