"""The heat-trace part of a draft: anything may be missing; what is doubted is said in words."""

from collections.abc import Iterator, Mapping
from typing import Any

from tinknot.core.figures import mm
from tinknot.core.joint.drafted import drafted
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.questions import Question
from tinknot.core.joint.tracefile import (
    CircuitIn,
    FlatLayerIn,
    TraceCableIn,
    TraceEndsIn,
    TraceFile,
    TraceSideIn,
)

DraftFlat = drafted(FlatLayerIn, "DraftFlat", "One layer, as far as it is read.")
DraftTraceCable = drafted(
    TraceCableIn,
    "DraftTraceCable",
    "The flat cable, as far as it is read.",
    {FlatLayerIn: DraftFlat},
    usual={"construction": "self-regulating"},
)
DraftSide = drafted(
    TraceSideIn, "DraftSide", "An end, as far as it is known.", {TraceCableIn: DraftTraceCable}
)
DraftTraceEnds = drafted(
    TraceEndsIn,
    "DraftTraceEnds",
    "The ends; A always, B and C where the kit joins more.",
    {TraceSideIn: DraftSide},
)
DraftCircuit = drafted(CircuitIn, "DraftCircuit", "The run and its circuit, as far as it is known.")
DraftTrace = drafted(
    TraceFile,
    "DraftTrace",
    "Everything entered of a heat-trace connection.",
    {TraceCableIn: DraftTraceCable, TraceEndsIn: DraftTraceEnds, CircuitIn: DraftCircuit},
    fields=[f for f in TraceFile.model_fields if f not in JointHead.model_fields],
)


WORDS = {
    "width_mm": "this layer's width is not measured yet",
    "thickness_mm": "this layer's thickness is not measured yet",
    "bus_area_mm2": "the bus wires' size is not known yet",
    "bus_od_mm": "the bus wires are not measured yet",
    "node_mm": "say how far apart the connection points lie",
}


def questions(trace: Mapping[str, Any]) -> list[Question]:
    """Doubts about what is typed: layers that do not lie in each other, a spiral of 1.1."""
    ends = trace.get("ends") or {}
    found = list(_layers(trace.get("cable") or {}, "/trace/cable"))
    for end, side in ends.items():
        found += _layers((side or {}).get("cable") or {}, f"/trace/ends/{end}/cable")
    return [*found, *_spiral(trace.get("circuit") or {})]


def _layers(cable: Mapping[str, Any], at: str) -> Iterator[Question]:
    order = ("outer_jacket", "inner_jacket", "core")
    for name in order:
        flat = cable.get(name) or {}
        w, t = flat.get("width_mm"), flat.get("thickness_mm")
        if w and t and t > w:
            yield Question(
                f"{at}/{name}/thickness_mm",
                f"Thickness {mm(t):g} mm is more than the width {mm(w):g} mm. The other way round?",
            )
    for outer, inner in (("outer_jacket", "inner_jacket"), ("inner_jacket", "core")):
        for side in ("width_mm", "thickness_mm"):
            out, into = (cable.get(outer) or {}).get(side), (cable.get(inner) or {}).get(side)
            if out and into and into >= out:
                likely = round(into / 10, 4) if into / 10 < out and into >= 3 * out else None
                said = side.removesuffix("_mm")
                words = (
                    f"The {inner.replace('_', ' ')} reads {mm(into):g} mm in {said}, the"
                    f" {outer.replace('_', ' ')} over it {mm(out):g} mm."
                )
                yield Question(
                    f"{at}/{inner}/{side}",
                    words + (f" {mm(likely):g} mm?" if likely else " Read both again."),
                    likely,
                )


def _spiral(circuit: Mapping[str, Any]) -> Iterator[Question]:
    extra = circuit.get("spiral_extra")
    if extra is not None and extra >= 1:
        likely = round(extra - 1, 4) if extra < 2 else None
        means = f" {likely:g} is {likely * 100:g} % more cable than pipe." if likely is not None else ""
        yield Question(
            "/trace/circuit/spiral_extra",
            f"A spiral of {extra:g} would be {extra * 100:g} % more cable.{means}",
            likely,
        )
