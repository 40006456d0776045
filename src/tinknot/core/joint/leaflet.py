"""What the leaflet of a heat-trace kit says: its parts, and the work row by row in its order, in mm, inch or
both.

Everything may be missing while a sheet is being written; `core.sheets` says what is missing or does not
add up."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.figures import mm
from tinknot.core.formulas.length import parse_length
from tinknot.core.formulas.timelaw import TimeLaw, TimePoint
from tinknot.core.model import Diameter, Length, Name, Strict, Temperature, Whole
from tinknot.core.parts.connector import Torque

ROOM_C = 23.0  # ISO 291, where a data sheet says no temperature
Construction = Literal["self-regulating", "power-limiting", "zone"]
CutLayer = Literal["outer-jacket", "braid", "inner-jacket", "core", "bus-1", "bus-2", "bus-insulation"]
Wire = Literal["bus-1", "bus-2", "braid"]
SAID_WIRE: dict[Wire, str] = {"bus-1": "bus wire 1", "bus-2": "bus wire 2", "braid": "the braid"}
WIRES: tuple[Wire, ...] = tuple(SAID_WIRE)
Datum = Literal["cable-end", "outer-jacket-cut", "inner-jacket-cut"]
PartKind = Literal[
    "tube",
    "boot",
    "cap",
    "sealant",
    "crimp",
    "twist-on",
    "ferrule",
    "terminals",
    "grommet",
    "plug",
    "strap",
    "box",
    "tape",
    "sleeve",
    "other",
]
OnWire = Literal["bus-1", "bus-2", "braid", "supply"]
LayerKind = Literal[
    "cut",
    "receive",
    "drill",
    "knock-out",
    "base",
    "strap",
    "turn",
    "pierce",
    "grommet",
    "push-back",
    "tighten",
    "loop",
    "braid-pigtail",
    "braid-fold",
    "braid-trim",
    "braid-forward",
    "strip-core",
    "bus-stagger",
    "wire-sleeve",
    "tube",
    "boot",
    "cap",
    "sealant",
    "tape",
    "crimp",
    "ferrule",
    "terminals",
    "supply",
    "spare-holes",
    "gasket",
    "box",
    "label",
    "step",
]
CUTS = ("cut", "strip-core")  # rows that take something of the cable off
BRAIDS = ("braid-pigtail", "braid-fold", "braid-trim")
Text = Annotated[str, Field(max_length=300)]
Slug = Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")]


class Figure(Strict):
    """A length as it is printed: mm, inch text such as `1 3/8"` or `1 3/8`, or both; `to_mm`: it is a range,
    from `mm` on; `about`: the leaflet says so."""

    mm: Annotated[float, Field(ge=0, le=100000, description="mm")] | None = None
    inch: Annotated[str, Field(max_length=20)] | None = None
    to_mm: Annotated[float, Field(ge=0, le=100000, description="mm")] | None = None
    about: bool = False

    @property
    def given(self) -> bool:
        """Whether any figure stands here."""
        return self.mm is not None or bool(self.inch and self.inch.strip())

    @property
    def inch_mm(self) -> float | None:
        """The inch figure in mm; None where there is none. Raises InputError for what is no length."""
        text = (self.inch or "").strip()
        if not text:
            return None
        marked = text if text[-1] in "\"'″′" or text[-1].isalpha() else f'{text}"'
        try:
            return float(parse_length(marked))
        except InputError:
            raise InputError.at("/inch", 'is not a length in inches; write it like 1 3/8" or 0.5') from None

    @property
    def value_mm(self) -> float:
        """The length in mm: the mm figure where there is one, else the inches; 0 where nothing stands."""
        return self.mm if self.mm is not None else (self.inch_mm or 0.0)

    @property
    def most_mm(self) -> float:
        """The greatest it may be, mm: the end of a range."""
        return max(self.value_mm, self.to_mm or 0.0)

    @property
    def said(self) -> str:
        """As printed, in mm: `20 mm`, `20 to 25 mm`, `about 20 mm`."""
        low, high = self.value_mm, self.most_mm
        span = f"{mm(low):g} to {mm(high):g} mm" if high > low else f"{mm(low):g} mm"
        return f"about {span}" if self.about else span


class LeafletPart(Strict):
    """A part of the kit. `opens` and `closes`: inside diameter as supplied and fully recovered, also of a cap
    or boot that shrinks; an opening of a boot, cap or grommet takes cables within `width_…` and
    `thickness_…`. `supplied` false: not in the kit, it comes from stock and is chosen by its window. Sealant:
    its times as printed for `at_c` (where it says none, 23 °C, for which data sheets are written, ISO 291),
    of a second line `also_…`; it is laid from `least_c` on."""

    id: Name
    what: PartKind = "other"
    name: Annotated[str, Field(max_length=80)] = ""
    count: Annotated[Whole, Field(ge=1, le=100)] = 1
    supplied: bool = True
    opens: Figure | None = None
    closes: Figure | None = None
    wall_mm: Annotated[float, Field(gt=0, le=50, description="mm, recovered")] | None = None
    length: Figure | None = None
    longitudinal_change_pct: Annotated[float, Field(gt=-100, le=50)] = 0.0
    lined: bool = False
    stiff: bool = False
    shrink_c: Annotated[float, Field(gt=0, le=1000)] | None = None
    scorch_c: Annotated[float, Field(gt=0, le=1000)] | None = None
    width_least_mm: Diameter | None = None
    width_most_mm: Diameter | None = None
    thickness_least_mm: Diameter | None = None
    thickness_most_mm: Diameter | None = None
    area_least_mm2: Annotated[float, Field(ge=0.1, le=1000)] | None = None
    area_most_mm2: Annotated[float, Field(ge=0.1, le=1000)] | None = None
    skin_min: Annotated[float, Field(ge=0, le=1e5, description="min")] | None = None
    cure_min: Annotated[float, Field(ge=0, le=1e5, description="min")] | None = None
    at_c: Temperature | None = None
    also_c: Temperature | None = None
    also_skin_min: Annotated[float, Field(ge=0, le=1e5, description="min")] | None = None
    also_cure_min: Annotated[float, Field(ge=0, le=1e5, description="min")] | None = None
    least_c: Temperature | None = None

    @property
    def shrinks(self) -> bool:
        """Whether heat closes it: what it opens and closes to is printed."""
        return bool(self.opens and self.closes and self.opens.given and self.closes.given)

    def skin_law(self) -> TimeLaw | None:
        """How long its surface stays open, by temperature; None where nothing is printed."""
        return self._law(self.skin_min, self.also_skin_min)

    def cure_law(self) -> TimeLaw | None:
        """How long it cures, by temperature; None where nothing is printed."""
        return self._law(self.cure_min, self.also_cure_min)

    def _law(self, minutes: float | None, also: float | None) -> TimeLaw | None:
        """Through one data point or two. Raises InputError where the warmer one is slower."""
        at_c = ROOM_C if self.at_c is None else self.at_c
        points = [TimePoint(at_c, minutes)] if minutes else []
        points += [TimePoint(self.also_c, also)] if self.also_c is not None and also else []
        return TimeLaw.of(points) if points else None


@dataclass(frozen=True)
class LeafletCut:
    """A cut at one end, as the leaflet's row number `row` has it (from 0): `layer` besides a row's own the
    matrix or overlay that a row strips; how far from its datum."""

    row: int
    layer: CutLayer | Literal["matrix", "overlay"]
    length: Figure
    datum: Datum
    tolerance_mm: float | None = None
    caution: str = ""


class LeafletLayer(Strict):
    """A row of the leaflet: something done in its turn. `at` empty: at every end; `constructions` empty: on
    every cable.

    A cut takes `layer` off as far as `length`, and a row that strips the matrix or overlay that: from the
    cable's end back along the cable, from a jacket's cut toward the cable's end. `core` is all that the braid
    holds, cut off square and shorter than it; `bus-insulation` what a zone cable's bus wires have of their
    own, off each from its end. `reach`: how far a part's near edge lies back from `datum`, onto the cable.
    `hold_s`:
    its end is pinched flat and held as long, or it is pinched `between` the bus wires that go on; `joins`:
    what crimps join, each by one of them, empty for both bus wires and the braid; `on`: the wires that a
    sleeve or ferrule goes on, of which a sleeve leaves `length` bare; `torque_…` or `turns`
    of its screws, empty where it is closed by hand or none is printed; `spring`: its terminals hold by
    springs; `minutes` it waits after; `school`: the
    matrix cut out as a strip, or the wires peeled out along its edges."""

    id: Slug
    kind: LayerKind
    part: Name | None = None
    at: Literal["A", "B", "C", "joint"] | None = None
    layer: CutLayer | None = None
    length: Figure | None = None
    tolerance_mm: Annotated[float, Field(gt=0, le=50)] | None = None
    reach: Figure | None = None
    datum: Datum | None = None
    pinched: bool = False
    between: bool = False
    school: Literal["strip", "wires"] | None = None
    hold_s: Annotated[float, Field(ge=1, le=3600)] | None = None
    joins: list[Wire] = []
    on: list[OnWire] = []
    spring: bool = False
    turns: Annotated[float, Field(gt=0, le=50)] | None = None
    torque_least_nm: Torque | None = None
    torque_most_nm: Torque | None = None
    minutes: Annotated[float, Field(ge=0, le=1e5)] | None = None
    title: Annotated[str, Field(max_length=60)] = ""
    text: Text = ""
    caution: Text = ""
    constructions: list[Construction] = []

    @property
    def length_mm(self) -> float:
        """Its length, mm; 0 where none is printed."""
        return self.length.value_mm if self.length else 0.0

    @property
    def measured_from(self) -> Datum:
        """Where its figure is measured from: where nothing is said, cuts from the cable's end, parts from the
        outer jacket's cut."""
        return self.datum or ("cable-end" if self.kind in CUTS else "outer-jacket-cut")

    @property
    def joined(self) -> tuple[Wire, ...]:
        """What crimps of this row join."""
        if self.kind != "crimp":
            return ()
        return tuple(w for w in WIRES if not self.joins or w in self.joins)


class BendStep(Strict):
    """From this installation temperature on, the cable may be bent to this radius."""

    from_c: Temperature
    radius_mm: Length


class CircuitLimit(Strict):
    """Longest circuit on a breaker when started at this temperature, and its start-up current per m."""

    start_c: Temperature
    breaker_a: Annotated[float, Field(gt=0, le=1e5)]
    most_m: Annotated[float, Field(gt=0, le=1e5)]
    start_up_a_per_m: Annotated[float, Field(ge=0, le=1e3)] = 0.0


class Leaflet(Strict):
    """The whole leaflet. `per_remake`: cable one remake of an end uses; `note`: what was changed when an
    earlier form of the sheet was read; `lead`: from the pipe to the cable's end; `node_most`: a connection
    point lies at most this far onto the pipe (zone cable)."""

    parts: Annotated[list[LeafletPart], Field(max_length=60)] = []
    layers: Annotated[list[LeafletLayer], Field(max_length=140)] = []
    tools: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=40)] = []
    bend: Annotated[list[BendStep], Field(max_length=20)] = []
    circuit: Annotated[list[CircuitLimit], Field(max_length=40)] = []
    companion: Text = ""
    note: Text = ""
    fixing_tape: Text = ""
    mounted_first: bool = False
    per_remake: Figure | None = None
    least_loop: Figure | None = None
    lead: Figure | None = None
    node_most: Figure | None = None
    test_most_v: Annotated[float, Field(gt=0, le=1e5, description="V DC")] | None = None

    def part(self, part_id: str | None) -> LeafletPart | None:
        """The part called `part_id`."""
        return next((p for p in self.parts if p.id == part_id), None)

    def cuts_for(self, construction: str, end: str) -> list[LeafletCut]:
        """The cuts of one end of a cable of this construction, in their order."""
        return list(self._cuts(construction, end))

    def _cuts(self, construction: str, end: str) -> Iterator[LeafletCut]:
        for n, x in enumerate(self.layers):
            if x.at not in (None, end) or (x.constructions and construction not in x.constructions):
                continue
            length, datum = x.length or Figure(), x.measured_from
            if x.kind == "cut" and x.layer:
                yield LeafletCut(n, x.layer, length, datum, tolerance_mm=x.tolerance_mm, caution=x.caution)
            elif x.kind == "strip-core" and length.given:
                layer: Literal["matrix", "overlay"] = "overlay" if construction == "zone" else "matrix"
                yield LeafletCut(n, layer, length, datum, tolerance_mm=x.tolerance_mm)

    def layers_for(self, construction: str) -> list[LeafletLayer]:
        """The layers for a cable of this construction, in their order."""
        return [x for x in self.layers if not x.constructions or construction in x.constructions]
