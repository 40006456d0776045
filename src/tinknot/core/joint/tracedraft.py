"""The heat-trace part of a draft: anything may be missing; what is doubted is said in words."""

from collections.abc import Iterator, Mapping
from typing import Annotated, Any

from pydantic import Field

from tinknot.core.joint.allowance import AllowanceIn
from tinknot.core.joint.leaflet import Construction
from tinknot.core.joint.questions import Question
from tinknot.core.joint.tracefile import MountingIn
from tinknot.core.model import Name, Strict

Measured = Annotated[float, Field(ge=0, le=1e6, description="mm, kept as typed")]
Amount = Annotated[float, Field(ge=-1e6, le=1e6)]


class DraftFlat(Strict):
    """One layer, as far as it is read."""

    width_mm: Measured | None = None
    thickness_mm: Measured | None = None


class DraftTraceCable(Strict):
    """The flat cable, as far as it is read."""

    construction: Construction = "self-regulating"
    name: Annotated[str, Field(max_length=120)] = ""
    outer_jacket: DraftFlat = DraftFlat()
    braid_mm: Measured | None = None
    inner_jacket: DraftFlat = DraftFlat()
    core: DraftFlat = DraftFlat()
    bus_area_mm2: Annotated[float, Field(ge=0, le=1000)] | None = None
    bus_od_mm: Measured | None = None
    bus_spacing_mm: Measured | None = None
    node_mm: Measured | None = None
    test_most_v: Annotated[float, Field(ge=0, le=1e5)] | None = None


class DraftSide(Strict):
    """An end, as far as it is known."""

    label: Annotated[str, Field(max_length=80)] | None = None
    free_mm: Measured | None = None
    loop_mm: Measured | None = None
    loop_radius_mm: Measured | None = None
    felt_mm: Measured | None = None
    cable: DraftTraceCable | None = None


class DraftTraceEnds(Strict):
    """The ends; A always, B and C where the kit joins more."""

    A: DraftSide = DraftSide()
    B: DraftSide | None = None
    C: DraftSide | None = None


class DraftCircuit(Strict):
    """The run and its circuit, as far as it is known."""

    run_m: Amount | None = None
    spiral_extra: Annotated[float, Field(ge=0, le=1000)] | None = None
    allowances: Annotated[list[AllowanceIn], Field(max_length=100)] = []
    connection_mm: Measured | None = None
    fixing_spacing_mm: Measured | None = None
    circuit_m: Amount | None = None
    added_m: Amount | None = None
    breaker_a: Amount | None = None
    start_c: Amount | None = None
    felt_mm: Measured | None = None


class DraftTrace(Strict):
    """Everything entered of a heat-trace connection."""

    cable: DraftTraceCable = DraftTraceCable()
    ends: DraftTraceEnds = DraftTraceEnds()
    circuit: DraftCircuit = DraftCircuit()
    mounting: MountingIn = MountingIn()
    choice: dict[Name, Name] = {}


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
                f"Thickness {t:g} mm is more than the width {w:g} mm. The other way round?",
            )
    for outer, inner in (("outer_jacket", "inner_jacket"), ("inner_jacket", "core")):
        for side in ("width_mm", "thickness_mm"):
            out, into = (cable.get(outer) or {}).get(side), (cable.get(inner) or {}).get(side)
            if out and into and into >= out:
                likely = round(into / 10, 4) if into / 10 < out and into >= 3 * out else None
                said = side.removesuffix("_mm")
                words = (
                    f"The {inner.replace('_', ' ')} reads {into:g} mm in {said}, the"
                    f" {outer.replace('_', ' ')} over it {out:g} mm."
                )
                yield Question(
                    f"{at}/{inner}/{side}",
                    words + (f" {likely:g} mm?" if likely else " Read both again."),
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
