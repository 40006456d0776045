"""One flat cable end laid open as a leaflet has it: where each layer ends, mm back from the square-cut
end."""

from collections.abc import Sequence
from dataclasses import dataclass

from tinknot.core.joint.leaflet import Leaflet, LeafletCut, LeafletLayer

UNDER: dict[str, str] = {
    "outer-jacket": "inner jacket",
    "braid": "inner jacket",
    "inner-jacket": "matrix",
    "core": "",
    "matrix": "bus wires",
    "overlay": "bus wires",
    "bus-1": "",
    "bus-2": "",
    "bus-insulation": "strands",
}  # what lies under each layer
CAUTIONS: dict[str, str] = {
    "outer-jacket": "Score round and lengthwise, do not cut through: the braid lies right under it.",
    "braid": "Trim strand by strand; no end may stand toward the bus wires.",
    "inner-jacket": "Score round, do not cut through; flex to part.",
    "core": "Square across, through jacket, matrix and both wires; hold the braid out of the way.",
    "matrix": "Never a knife against a bus wire: notch the matrix between them and peel it off as a strip.",
    "overlay": "Unwind the heating wire and cut it off; push its rest back under the jacket.",
    "bus-1": "Cut square.",
    "bus-2": "Cut square.",
    "bus-insulation": "Do not nick a strand: score the insulation and pull.",
}


@dataclass(frozen=True)
class LaidOpen:
    """Where the layers of an end stop, mm back from its square cut: `jacket_mm` ≥ `inner_mm` ≥ `core_mm`;
    `bus_mm` is what is cut off each bus wire; `shorter`: all that the braid holds is cut off before it."""

    jacket_mm: float
    braid_mm: float
    inner_mm: float
    core_mm: float
    bus_mm: tuple[float, float]
    shorter: bool = False

    def datum_mm(self, datum: str) -> float:
        """Where a datum lies."""
        return {"outer-jacket-cut": self.jacket_mm, "inner-jacket-cut": self.inner_mm}.get(datum, 0.0)


def laid_open(leaflet: Leaflet, construction: str, end: str) -> LaidOpen:
    """The end as this leaflet lays it open; a layer without a cut stays to the end (the braid to the
    jacket)."""
    cuts: dict[str, LeafletCut] = {c.layer: c for c in leaflet.cuts_for(construction, end)}
    jacket = _at(cuts.get("outer-jacket"), 0.0, 0.0, 0.0)
    inner = _at(cuts.get("inner-jacket"), jacket, 0.0, 0.0)
    core_name = "overlay" if construction == "zone" else "matrix"

    def at(layer: str, otherwise: float = 0.0) -> float:
        return _at(cuts.get(layer), jacket, inner, otherwise)

    if "core" in cuts:
        gone = at("core")
        return LaidOpen(jacket, at("braid"), max(inner, gone), gone, bus_mm=(gone, gone), shorter=True)
    return LaidOpen(jacket, at("braid", jacket), inner, at(core_name), bus_mm=(at("bus-1"), at("bus-2")))


def _at(cut: LeafletCut | None, jacket: float, inner: float, otherwise: float) -> float:
    if cut is None:
        return otherwise
    length = cut.length.value_mm
    return {"outer-jacket-cut": jacket - length, "inner-jacket-cut": inner - length}.get(cut.datum, length)


def overlap_mm(ends: Sequence[LaidOpen]) -> float:
    """How far the square ends of two cables pass each other when their bus wires meet butt to butt: what is
    cut off a wire on one side and on the other. The same for both wires, or they cannot both meet."""
    return ends[0].bus_mm[0] + ends[1].bus_mm[0] if len(ends) > 1 else 0.0


def back_mm(layer: LeafletLayer, opened: LaidOpen) -> float:
    """Where the edge of a layer on the cable lies, mm back from the square end; of a range the furthest, so
    that it seals as far as it may."""
    return opened.datum_mm(layer.measured_from) + (layer.reach.most_mm if layer.reach else 0.0)


def front_mm(layer: LeafletLayer, opened: LaidOpen, length_mm: float) -> float:
    """Where its other edge lies; negative: past the cable's end."""
    return back_mm(layer, opened) - length_mm
