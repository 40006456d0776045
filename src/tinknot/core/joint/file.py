"""The joint file: the application's open JSON format, version 1."""

from datetime import date
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from tinknot.core.choose import Candidate
from tinknot.core.errors import InputError
from tinknot.core.model import Diameter, Length, Name, PositiveLength, Strict, Whole, integral
from tinknot.core.sleeve_figures import SleeveIn

EndName = Literal["A", "B"]
Duty = Literal["dry", "damp", "buried", "immersed", "oil", "uv", "fire", "moving"]
Area = Annotated[float, Field(ge=0.1, le=1000, description="mm²")]


class CoreIn(Strict):
    """A core as measured; the second reading is taken at 90° to the first."""

    name: Name
    colour: Annotated[str, Field(max_length=40)] | None = None
    insulation_od_mm: Diameter
    insulation_od_across_mm: Diameter | None = None
    area_mm2: Area
    flexibility: Annotated[Literal[1, 2, 5], BeforeValidator(integral), Field(alias="class")] = 2
    conductor_od_mm: Diameter | None = None


class EndIn(Strict):
    """One cable end: sheath, cores, and the free straight tail behind the sheath cut."""

    label: Annotated[str, Field(max_length=80)] | None = None
    sheath_od_mm: Diameter
    sheath_od_across_mm: Diameter | None = None
    cores: Annotated[list[CoreIn], Field(min_length=1, max_length=5)]
    free_mm: Length
    slack_mm: Length | None = None


class ConnectorIn(Strict):
    """A crimp barrel: by its part in stock, or by its figures."""

    part_id: Name | None = None
    kind: Literal["crimp"] | None = None
    od_mm: Diameter | None = None
    length_mm: PositiveLength | None = None
    insertion_mm: PositiveLength | None = None
    growth_mm: Length | None = None


class StockLot(Strict):
    """A lot of a part."""

    id: Name
    on_hand_mm: Length | None = None
    on_hand: Annotated[Whole, Field(ge=0, le=1_000_000)] | None = None
    use_by: Annotated[date, Field(strict=False)] | None = None
    opened: bool = False


class StockSleeve(SleeveIn):
    """A sleeve in stock."""

    id: Name
    name: Annotated[str, Field(max_length=120)] | None = None
    lined: bool = False
    stiff: bool = False
    colour: Annotated[str, Field(max_length=40)] | None = None
    properties: list[Name] = []
    voltage_v: Annotated[float, Field(gt=0, le=1e5)] | None = None
    shrink_c: Annotated[float, Field(gt=0, le=1000)] | None = None
    scorch_c: Annotated[float, Field(gt=0, le=1000)] | None = None
    stock_length_mm: PositiveLength | None = None
    on_hand_mm: Length | None = None
    price_per_m: Annotated[float, Field(ge=0, le=1e6)] | None = None
    lots: list[StockLot] = []

    def candidate(self, path: str, today: date | None) -> Candidate:
        """The sleeve as the choice sees it, with the lot that is used first: opened, then earliest."""
        lot = self.first_lot(today)
        usable = [x for x in self.lots if not (today and x.use_by and x.use_by < today)]
        on_hand = sum(x.on_hand_mm or 0 for x in usable) if self.lots else self.on_hand_mm
        return Candidate(
            self.id, self.tube(path), self.lined, self.stock_length_mm, self.price_per_m,
            bool(lot and lot.opened), lot.use_by if lot else None, on_hand, self.voltage_v,
            frozenset(self.properties) | ({"lined"} if self.lined else set()),
        )  # fmt: skip

    def first_lot(self, today: date | None) -> StockLot | None:
        """The lot to take from: in date, something left, opened first, then the earliest date, then id."""
        usable = [x for x in self.lots if x.on_hand_mm and not (today and x.use_by and x.use_by < today)]
        return min(usable, key=lambda x: (not x.opened, x.use_by or date.max, x.id), default=None)


class StockConnector(Strict):
    """A connector in stock; `area_least_mm2` to `area_most_mm2` is what it takes."""

    id: Name
    name: Annotated[str, Field(max_length=120)] | None = None
    kind: Literal["crimp"] = "crimp"
    od_mm: Diameter
    length_mm: PositiveLength
    insertion_mm: PositiveLength
    growth_mm: Length = 0.0
    area_least_mm2: Area | None = None
    area_most_mm2: Area | None = None
    presses: Annotated[Whole, Field(ge=1, le=20)] = 1
    die: Annotated[str, Field(max_length=40)] | None = None
    on_hand: Annotated[Whole, Field(ge=0, le=1_000_000)] | None = None
    price_each: Annotated[float, Field(ge=0, le=1e6)] | None = None
    lots: list[StockLot] = []

    def suits(self, area_mm2: float) -> bool:
        """Whether a conductor of `area_mm2` is in its range; without a range it is taken on trust."""
        low, high = self.area_least_mm2, self.area_most_mm2
        return (low is None or area_mm2 >= low * (1 - 1e-9)) and (
            high is None or area_mm2 <= high * (1 + 1e-9)
        )


class StockIn(Strict):
    """What is in stock when the joint is planned."""

    sleeves: Annotated[list[StockSleeve], Field(max_length=20000)] = []
    connectors: Annotated[list[StockConnector], Field(max_length=20000)] = []


class ChoiceIn(Strict):
    """Parts the electrician settled on; what is absent is chosen."""

    core_sleeve: Name | None = None
    outer_sleeve: Name | None = None
    outer_parks_on: Literal["a", "b", "either"] = "either"


class EndsIn(Strict):
    A: EndIn
    B: EndIn


class JointFile(Strict):
    """A straight heat-shrink joint of a round cable, 1 to 5 cores, unscreened, unarmoured."""

    format: Literal["tinknot-joint"]
    version: Annotated[Literal[1], BeforeValidator(integral)]
    family: Literal["straight-lv"]
    ref: Annotated[str, Field(max_length=40)] | None = None
    title: Annotated[str, Field(max_length=200)] | None = None
    rated_voltage_v: Annotated[float, Field(gt=0, le=1e6)]
    ambient_c: Annotated[float, Field(ge=-60, le=80)] = 20.0
    duties: list[Duty] = []
    cable_length_m: Annotated[float, Field(gt=0, le=1e6)] | None = None
    ends: EndsIn
    connector: ConnectorIn | None = None
    stagger_steps: Annotated[Whole, Field(ge=1, le=5)] = 1
    bundle_od_mm: Diameter | None = None
    choice: ChoiceIn = ChoiceIn()
    stock: StockIn = StockIn()

    def check(self) -> None:
        """What single fields cannot say: cores that pair up, ids that are unique."""
        a, b = self.ends.A.cores, self.ends.B.cores
        names_a, names_b = [c.name for c in a], [c.name for c in b]
        for end, names in (("A", names_a), ("B", names_b)):
            for i, name in enumerate(names):
                if name in names[:i]:
                    raise InputError.at(
                        f"/ends/{end}/cores/{i}/name",
                        f"core {name} stands twice; every core needs its own name",
                    )
        if set(names_a) != set(names_b):
            lone = sorted(set(names_a) ^ set(names_b))
            raise InputError.at(
                "/ends/B/cores", f"must have the same cores as end A; without a partner: {', '.join(lone)}"
            )
        if self.stagger_steps > len(a):
            raise InputError.at("/stagger_steps", f"must be at most the number of cores, {len(a)}")
        ids = {
            "sleeves": [s.id for s in self.stock.sleeves],
            "connectors": [c.id for c in self.stock.connectors],
        }
        for kind, names in ids.items():
            seen: set[str] = set()
            for i, name in enumerate(names):
                if name in seen:
                    raise InputError.at(f"/stock/{kind}/{i}/id", f"stands twice: {name}; ids must be unique")
                seen.add(name)
