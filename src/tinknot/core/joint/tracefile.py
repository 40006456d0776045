"""The joint file of a heat-trace connection: flat cable, one to three ends, its circuit."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.flat import flat_girth_mm, girth_to_diameter_mm
from tinknot.core.joint.allowance import AllowanceIn
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet, Serves, outside
from tinknot.core.joint.leaflet import Construction
from tinknot.core.joint.measured import Measured
from tinknot.core.model import Diameter, Length, Name, PositiveLength, Strict, Temperature
from tinknot.core.parts.stocked import Area
from tinknot.core.tolerance import at_most

Entry = Literal["side", "top", "underside"]
OUTSIDE_IN = ("outer_jacket", "inner_jacket", "core")


class FlatLayerIn(Strict):
    """One layer of a flat cable, over its outside."""

    width_mm: Diameter
    thickness_mm: Diameter

    @property
    def girth_od_mm(self) -> float:
        """The circle of the same girth, mm."""
        return girth_to_diameter_mm(flat_girth_mm(self.width_mm, self.thickness_mm))


class TraceCableIn(Strict):
    """A flat heat-trace cable from outside in. `core`: the matrix round the bus wires, or a zone cable's
    overlay; `bus_spacing_mm` from centre to centre; `node_mm`: between a zone cable's connection points."""

    construction: Construction
    name: Annotated[str, Field(max_length=120)] = ""
    outer_jacket: FlatLayerIn
    braid_mm: Annotated[float, Field(gt=0, le=5, description="mm, one side")] = 0.4
    inner_jacket: FlatLayerIn
    core: FlatLayerIn
    bus_area_mm2: Area
    bus_od_mm: Diameter
    bus_spacing_mm: PositiveLength | None = None
    node_mm: PositiveLength | None = None
    test_most_v: Annotated[float, Field(gt=0, le=1e5, description="V DC")] | None = None

    @property
    def spacing_mm(self) -> float:
        """Bus wires from centre to centre, mm: as read, else as the core's shape has them."""
        return self.bus_spacing_mm or max(self.core.width_mm - self.core.thickness_mm, self.bus_od_mm)

    def check(self, at: str = "/cable") -> None:
        """Layers must lie inside each other. Raises InputError at the layer, under `at`."""
        for name in OUTSIDE_IN:
            layer: FlatLayerIn = getattr(self, name)
            if not at_most(layer.thickness_mm, layer.width_mm):
                raise InputError.at(
                    f"{at}/{name}/thickness_mm", "is more than the width; read them the other way round"
                )
        for outer, inner, gap in (
            ("outer_jacket", "inner_jacket", 2 * self.braid_mm),
            ("inner_jacket", "core", 0.0),
        ):
            out, into = getattr(self, outer), getattr(self, inner)
            for side in ("width_mm", "thickness_mm"):
                if getattr(into, side) + gap >= getattr(out, side):
                    over = " with the braid on it" if gap else ""
                    raise InputError.at(
                        f"{at}/{inner}/{side}",
                        f"{over.strip() + ' ' if over else ''}does not lie inside the"
                        f" {outer.replace('_', ' ')}; read both again",
                    )
        if self.bus_od_mm >= self.core.thickness_mm:
            raise InputError.at(f"{at}/bus_od_mm", "is thicker than the core round it; read both again")
        if self.construction == "zone" and self.node_mm is None:
            raise InputError.at(f"{at}/node_mm", "is missing: how far apart the connection points lie")


class TraceSideIn(Strict):
    """One end of the cable: free length behind it, its loop and how the loop is drawn. `felt_mm`: how far
    from it a zone cable's nearest connection point is felt, at a splice, a tee or the far end. `cable`: what
    comes in here, where it is another cable than the file's."""

    label: Annotated[str, Field(max_length=80)] | None = None
    free_mm: Length = 600.0
    loop_mm: Length | None = None
    loop_radius_mm: PositiveLength | None = None
    felt_mm: Length | None = None
    cable: TraceCableIn | None = None


class TraceEndsIn(Strict):
    """The ends a kit joins or closes: A, for splices B, for tees C."""

    A: TraceSideIn
    B: TraceSideIn | None = None
    C: TraceSideIn | None = None

    def unlike(self) -> dict[str, TraceCableIn]:
        """The ends at which another cable comes in, by their letters."""
        sides = (("A", self.A), ("B", self.B), ("C", self.C))
        return {e: side.cable for e, side in sides if side is not None and side.cable is not None}


class CircuitIn(Strict):
    """The run and its circuit. `felt_mm`: where a zone cable's first connection point is felt, from its
    present end; `added_m`: cable that comes to the circuit with this work."""

    run_m: Annotated[float, Field(ge=0, le=1e6, description="m")] | None = None
    spiral_extra: Annotated[float, Field(ge=0, lt=1, description="share of the run; 0.1 is 10 % more")] = 0.0
    allowances: Annotated[list[AllowanceIn], Field(max_length=100)] = []
    connection_mm: Length = 0.0
    fixing_spacing_mm: PositiveLength | None = None
    circuit_m: Annotated[float, Field(ge=0, le=1e6, description="m")] | None = None
    added_m: Annotated[float, Field(ge=-1e6, le=1e6, description="m")] = 0.0
    breaker_a: Annotated[float, Field(gt=0, le=1e5)] | None = None
    start_c: Temperature | None = None
    felt_mm: Length | None = None


class MountingIn(Strict):
    """Where the box or fitting sits: its entry, and whether the cable is fixed to the pipe already."""

    entry: Entry = "side"
    mounted: bool = True


class TraceFile(JointHead):
    """A heat-trace connection, splice, tee or end seal, made by a kit's sheet."""

    family: Literal["heat-trace"]
    cable: TraceCableIn
    ends: TraceEndsIn
    circuit: CircuitIn = CircuitIn()
    mounting: MountingIn = MountingIn()
    choice: dict[Name, Name] = {}

    def check(self) -> None:
        """What single fields cannot say. Raises InputError."""
        self.cable.check()
        for end, cable in self.ends.unlike().items():
            cable.check(f"/ends/{end}/cable")
        self.stock.check()

    def cable_at(self, end: str) -> TraceCableIn:
        """The cable that comes in at an end."""
        return self.ends.unlike().get(end, self.cable)

    def not_served_by(self, sheet: KitSheet) -> list[str]:
        """Construction, size and bus wires of the cable of each of its ends."""
        if sheet.recipe not in TRACE_ENDS:
            return [f"it is a sheet for {sheet.recipe}, not for heat-trace cable"]
        unlike, words = self.ends.unlike(), []
        for end in TRACE_ENDS[sheet.recipe]:
            named = f"cable of {end}: " if end in unlike else ""
            words += [f"{named}{w}" for w in _not_served(self.cable_at(end), sheet.serves)]
        return list(dict.fromkeys(words))

    def measured(self) -> list[Measured]:
        """Every reading of the cables, from outside in."""
        return list(_flat(self))


def _not_served(cable: TraceCableIn, s: Serves) -> Iterator[str]:
    if s.constructions and cable.construction not in s.constructions:
        yield f"it serves {' and '.join(s.constructions)} cable, this is {cable.construction}"
    wide, thick, bus = cable.outer_jacket.width_mm, cable.outer_jacket.thickness_mm, cable.bus_area_mm2
    yield from outside("widths", wide, wide, s.width_least_mm, high=s.width_most_mm, unit="mm")
    yield from outside("thicknesses", thick, thick, s.thickness_least_mm, high=s.thickness_most_mm, unit="mm")
    yield from outside("bus wires", bus, bus, s.bus_least_mm2, high=s.bus_most_mm2, unit="mm²")


def _flat(file: TraceFile) -> Iterator[Measured]:
    for end, cable in (("", file.cable), *file.ends.unlike().items()):
        for name in OUTSIDE_IN:
            layer: FlatLayerIn = getattr(cable, name)
            yield Measured(
                end=end,
                what=name.replace("_", " "),
                value_mm=layer.width_mm,
                across_mm=layer.thickness_mm,
                flat=True,
            )
