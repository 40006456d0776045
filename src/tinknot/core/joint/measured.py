"""What was measured of the cables, as a list to hold against them."""

from collections.abc import Iterator

from tinknot.core.joint.file import JointFile
from tinknot.core.joint.tracefile import OUTSIDE_IN, FlatLayerIn, TraceFile
from tinknot.core.model import Result


class Measured(Result):
    """A reading that a plan was made from, mm: of a round cable the diameter and, where it was read, the
    one at 90°; of a flat one width and thickness. `end` is empty where it is the same on every end."""

    end: str
    what: str
    value_mm: float
    across_mm: float | None
    flat: bool = False


def measured_of(file: JointFile | TraceFile) -> list[Measured]:
    """Every reading of the cables in a joint file, from outside in."""
    return list(_flat(file) if isinstance(file, TraceFile) else _round(file))


def _flat(file: TraceFile) -> Iterator[Measured]:
    for name in OUTSIDE_IN:
        layer: FlatLayerIn = getattr(file.cable, name)
        yield Measured(
            end="",
            what=name.replace("_", " "),
            value_mm=layer.width_mm,
            across_mm=layer.thickness_mm,
            flat=True,
        )


def _round(file: JointFile) -> Iterator[Measured]:
    for name, end in (("A", file.ends.A), ("B", file.ends.B)):
        yield Measured(end=name, what="sheath", value_mm=end.sheath_od_mm, across_mm=end.sheath_od_across_mm)
        if end.armour:
            a = end.armour
            yield Measured(
                end=name,
                what="bedding under the armour",
                value_mm=a.bedding_od_mm,
                across_mm=a.bedding_od_across_mm,
            )
        for core in end.cores:
            what = f"core {core.name}, {core.area_mm2:g} mm²"
            yield Measured(
                end=name, what=what, value_mm=core.insulation_od_mm, across_mm=core.insulation_od_across_mm
            )
