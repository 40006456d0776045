"""Parts in stock, as a joint file holds them: figures, what is on hand, lots."""

from collections.abc import Sequence
from datetime import date
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.choosing.choose import Candidate
from tinknot.core.errors import InputError
from tinknot.core.formulas.curing import CureClock
from tinknot.core.formulas.sleeve_figures import SleeveIn
from tinknot.core.formulas.timelaw import TimeLaw
from tinknot.core.joint.timepoints import Points, law_of
from tinknot.core.model import (
    Diameter,
    Duration,
    Length,
    Name,
    Percent,
    PositiveLength,
    Strict,
    Temperature,
    Whole,
)
from tinknot.core.tolerance import at_least, at_most

Area = Annotated[float, Field(ge=0.1, le=1000, description="mm²")]
Price = Annotated[float, Field(ge=0, le=1e6)]
MOST_IN_LOT = 1e7  # 10 km of sleeve, or as many pieces
MOST_ON_HAND = 1e9  # of one part, in all its lots
MOST_PARTS = 20_000  # of one kind
OnHand = Annotated[
    float, Field(ge=0, le=MOST_ON_HAND, description="mm of what is cut, pieces or rolls of the rest")
]
SleeveForm = Literal["tube", "wrap-around", "barrier", "cap"]
ConnectorKind = Literal["crimp", "mechanical", "soldered", "piercing", "earthing"]
Metal = Literal["copper", "aluminium"]
Torque = Annotated[float, Field(gt=0, le=1000, description="N·m")]


class StockLot(Strict):
    """A lot of a part: mm of what is cut, pieces of the rest."""

    id: Name
    on_hand_mm: OnHand | None = None
    on_hand: OnHand | None = None
    use_by: Annotated[date, Field(strict=False)] | None = None
    opened: bool = False


def first_in_date(lots: Sequence[StockLot], today: date | None) -> StockLot | None:
    """The lot to take from: in date, something left, opened first, then the earliest date, then id."""
    usable = [x for x in lots if (x.on_hand_mm or x.on_hand) and not _past(x, today)]
    return min(usable, key=lambda x: (not x.opened, x.use_by or date.max, x.id), default=None)


def _past(lot: StockLot, today: date | None) -> bool:
    return bool(today and lot.use_by and lot.use_by < today)


class Stocked(Strict):
    """What lies in lots."""

    lots: list[StockLot] = []

    def first_lot(self, today: date | None) -> str:
        """The lot to take from, by its id; empty where there is none."""
        lot = first_in_date(self.lots, today)
        return lot.id if lot else ""


class StockSleeve(SleeveIn, Stocked):
    """A sleeve in stock: a closed tube, a wrap-around, a fire barrier or an end cap."""

    id: Name
    name: Annotated[str, Field(max_length=120)] | None = None
    form: SleeveForm = "tube"
    lined: bool = False
    stiff: bool = False
    colour: Annotated[str, Field(max_length=40)] | None = None
    properties: list[Name] = []
    voltage_v: Annotated[float, Field(gt=0, le=1e5)] | None = None
    shrink_c: Annotated[float, Field(gt=0, le=1000)] | None = None
    scorch_c: Annotated[float, Field(gt=0, le=1000)] | None = None
    stock_length_mm: PositiveLength | None = None
    on_hand_mm: OnHand | None = None
    price_per_m: Price | None = None

    def candidate(self, path: str, today: date | None) -> Candidate:
        """The sleeve as the choice sees it, with the lot that is used first."""
        lot = first_in_date(self.lots, today)
        on_hand = (
            sum(x.on_hand_mm or 0 for x in self.lots if not _past(x, today)) if self.lots else self.on_hand_mm
        )
        return Candidate(
            self.id,
            self.tube(path),
            self.lined,
            self.stock_length_mm,
            self.price_per_m,
            bool(lot and lot.opened),
            lot.use_by if lot else None,
            on_hand,
            self.voltage_v,
            frozenset(self.properties) | ({"lined"} if self.lined else set()),
        )


class Counted(Stocked):
    """A part that is counted in pieces."""

    id: Name
    name: Annotated[str, Field(max_length=120)] | None = None
    properties: list[Name] = []
    on_hand: OnHand | None = None
    price_each: Price | None = None

    @property
    def said(self) -> str:
        """What it is called."""
        return self.name or self.id

    def free(self, today: date | None) -> float | None:
        """Pieces on hand and in date; None where nobody counts them."""
        return sum(x.on_hand or 0 for x in self.lots if not _past(x, today)) if self.lots else self.on_hand


class StockConnector(Counted):
    """A connector in stock; `area_least_mm2` to `area_most_mm2` is what it takes, for a tap connector of
    the main; `tap_area_…` what it takes of the tap."""

    kind: ConnectorKind = "crimp"
    od_mm: Diameter
    length_mm: PositiveLength
    insertion_mm: PositiveLength
    growth_mm: Length = 0.0
    area_least_mm2: Area | None = None
    area_most_mm2: Area | None = None
    tap_area_least_mm2: Area | None = None
    tap_area_most_mm2: Area | None = None
    metals: list[Metal] = ["copper"]
    presses: Annotated[Whole, Field(ge=1, le=20)] = 1
    bolts: Annotated[Whole, Field(ge=1, le=20)] = 1
    torque_least_nm: Torque | None = None
    torque_most_nm: Torque | None = None
    die: Annotated[str, Field(max_length=40)] | None = None
    voltage_v: Annotated[float, Field(gt=0, le=1e5)] | None = None

    def suits(self, area_mm2: float) -> bool:
        """Whether a conductor of `area_mm2` is in its range; without a range it is taken on trust."""
        return _within(area_mm2, self.area_least_mm2, self.area_most_mm2)

    def suits_tap(self, area_mm2: float) -> bool:
        """Whether a tap of `area_mm2` is in its range; without its own, in the main's."""
        if self.tap_area_least_mm2 is None and self.tap_area_most_mm2 is None:
            return self.suits(area_mm2)
        return _within(area_mm2, self.tap_area_least_mm2, self.tap_area_most_mm2)

    def check(self, path: str) -> None:
        """Figures that contradict each other. Raises InputError at `path`."""
        for low, high in (("area_least_mm2", "area_most_mm2"), ("tap_area_least_mm2", "tap_area_most_mm2")):
            least, most = getattr(self, low), getattr(self, high)
            if least and most and least > most:
                raise InputError.at(f"{path}/{high}", "must not be under the least area")
        if self.torque_least_nm and self.torque_most_nm and self.torque_least_nm > self.torque_most_nm:
            raise InputError.at(f"{path}/torque_most_nm", "must not be under the least torque")
        laps = self.kind in ("soldered", "piercing", "earthing")
        if not at_most(self.insertion_mm if laps else 2 * self.insertion_mm, self.length_mm):
            raise InputError.at(
                f"{path}/insertion_mm", f"must be at most {'the length' if laps else 'half the length'}"
            )


def _within(value: float, low: float | None, high: float | None) -> bool:
    return (low is None or at_least(value, low)) and (high is None or at_most(value, high))


class StockTape(Counted):
    """A roll of tape: width and thickness relaxed; `stretch` is stretched over relaxed length."""

    kind: Literal["self-amalgamating", "mastic", "mica"]
    width_mm: PositiveLength
    thickness_mm: PositiveLength
    roll_mm: PositiveLength
    stretch: Annotated[float, Field(ge=1, le=10)] = 1.0
    overlap_pct: Percent = 50.0


class StageIn(Strict):
    """One stage of a shell's stepped end."""

    length_mm: PositiveLength
    inside_diameter_mm: Diameter


class StockShell(Counted):
    """A mould for resin: split, or a tube that is threaded on. `stages` are those of one end, from the tip
    inward; both ends are alike."""

    form: Literal["split", "tube"] = "split"
    body_length_mm: PositiveLength
    body_inside_mm: Diameter
    wall_mm: PositiveLength = 2.0
    stages: Annotated[list[StageIn], Field(max_length=10)] = []

    @property
    def length_mm(self) -> float:
        """Length uncut, mm."""
        return self.body_length_mm + 2 * sum(s.length_mm for s in self.stages)

    def check(self, path: str) -> None:
        """Stages must widen toward the body. Raises InputError at `path`."""
        widths = [s.inside_diameter_mm for s in self.stages] + [self.body_inside_mm]
        for i, (a, b) in enumerate(pairwise(widths)):
            if a >= b:
                raise InputError.at(
                    f"{path}/stages/{i}/inside_diameter_mm", "must be less than the next one toward the body"
                )


class StockResin(Counted):
    """A pack of two-part resin with the data of its sheet; packs of one `system` hold the same resin."""

    system: Name | None = None
    volume_ml: Annotated[float, Field(gt=0, le=1e6, description="ml")]
    pot_life: Points
    cure: Points
    least_temperature_c: Temperature
    mix_minutes: Duration = 2.0
    isocyanate: bool = False

    def pot_law(self) -> TimeLaw:
        """Pot life by the temperature of the mixed resin."""
        return law_of(self.pot_life, "/pot_life")

    def clock(self) -> CureClock:
        """Its cure."""
        return CureClock(law_of(self.cure, "/cure"), self.least_temperature_c)

    def check(self, path: str) -> None:
        """Data points must make sense. Raises InputError at `path`."""
        law_of(self.pot_life, f"{path}/pot_life")
        law_of(self.cure, f"{path}/cure")


class StockStrap(Counted):
    """A flat earth strap, its section in mm²."""

    area_mm2: Area
    width_mm: PositiveLength
    thickness_mm: PositiveLength
    length_mm: PositiveLength


class StockClamp(Counted):
    """What holds a strap on armour or braid: a constant-force spring or a clamp."""

    kind: Literal["spring", "clamp"] = "spring"
    od_least_mm: Diameter
    od_most_mm: Diameter
    thickness_mm: PositiveLength
    width_mm: PositiveLength = 15.0

    def check(self, path: str) -> None:
        """Its range must be one. Raises InputError at `path`."""
        if self.od_least_mm > self.od_most_mm:
            raise InputError.at(f"{path}/od_most_mm", "must not be under the least diameter")


class StockMesh(Counted):
    """A roll of metal mesh: donor screen over the whole joint."""

    width_mm: PositiveLength
    thickness_mm: PositiveLength
    roll_mm: PositiveLength
    stretch: Annotated[float, Field(ge=1, le=10)] = 1.0
    overlap_pct: Percent = 50.0


class StockKit(Counted):
    """A heat-trace kit in its box, of the sheet with this id; one box serves one end, splice or tee."""

    sheet: Name


_Many = Field(max_length=MOST_PARTS)


class StockIn(Strict):
    """What is in stock when the joint is planned."""

    sleeves: Annotated[list[StockSleeve], _Many] = []
    connectors: Annotated[list[StockConnector], _Many] = []
    tapes: Annotated[list[StockTape], _Many] = []
    shells: Annotated[list[StockShell], _Many] = []
    resins: Annotated[list[StockResin], _Many] = []
    straps: Annotated[list[StockStrap], _Many] = []
    clamps: Annotated[list[StockClamp], _Many] = []
    meshes: Annotated[list[StockMesh], _Many] = []
    kits: Annotated[list[StockKit], _Many] = []

    def check(self) -> None:
        """Ids stand once in each list, and figures agree. Raises InputError."""
        for kind in type(self).model_fields:
            seen: set[str] = set()
            for i, part in enumerate(getattr(self, kind)):
                if part.id in seen:
                    raise InputError.at(
                        f"/stock/{kind}/{i}/id", f"stands twice: {part.id}; ids must be unique"
                    )
                seen.add(part.id)
                if isinstance(part, (StockShell, StockResin, StockClamp)):
                    part.check(f"/stock/{kind}/{i}")
