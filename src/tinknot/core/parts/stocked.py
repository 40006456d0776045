"""What every part in stock has: an id, lots, what is on hand."""

from collections.abc import Sequence
from datetime import date
from typing import Annotated, ClassVar, Protocol, runtime_checkable

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.model import Diameter, Name, PositiveLength, Strict
from tinknot.core.parts.kind import PartKind
from tinknot.core.tolerance import at_least, at_most

Area = Annotated[float, Field(ge=0.1, le=1000, description="mm²")]
Price = Annotated[float, Field(ge=0, le=1e6)]
MOST_IN_LOT = 1e7  # 10 km of sleeve, or as many pieces
MOST_ON_HAND = 1e9  # of one part, in all its lots
OnHand = Annotated[
    float, Field(ge=0, le=MOST_ON_HAND, description="mm of what is cut, pieces or rolls of the rest")
]


class StockLot(Strict):
    """A lot of a part: mm of what is cut, pieces of the rest."""

    id: Name
    on_hand_mm: OnHand | None = None
    on_hand: OnHand | None = None
    use_by: Annotated[date, Field(strict=False)] | None = None
    opened: bool = False


def first_in_date(lots: Sequence[StockLot], today: date | None) -> StockLot | None:
    """The lot to take from: in date, something left, opened first, then the earliest date, then id."""
    usable = [x for x in lots if (x.on_hand_mm or x.on_hand) and not past(x, today)]
    return min(usable, key=lambda x: (not x.opened, x.use_by or date.max, x.id), default=None)


def past(lot: StockLot, today: date | None) -> bool:
    """Whether a lot's date has gone by."""
    return bool(today and lot.use_by and lot.use_by < today)


def within(value: float, low: float | None, high: float | None) -> bool:
    """Whether `value` lies in a range; without an end of it, that end is taken on trust."""
    return (low is None or at_least(value, low)) and (high is None or at_most(value, high))


class Stocked(Strict):
    """What lies in lots."""

    part: ClassVar[PartKind]

    lots: list[StockLot] = []

    def first_lot(self, today: date | None) -> str:
        """The lot to take from, by its id; empty where there is none."""
        lot = first_in_date(self.lots, today)
        return lot.id if lot else ""

    def check(self, path: str) -> None:
        """Figures that contradict each other. Raises InputError under `path`."""


class Counted(Stocked):
    """A part that is counted in pieces or rolls."""

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
        return sum(x.on_hand or 0 for x in self.lots if not past(x, today)) if self.lots else self.on_hand


@runtime_checkable
class OnRolls(Protocol):
    """A part that is wound off rolls of `roll_mm`."""

    id: str
    roll_mm: float


class Holds(Counted):
    """A part that goes round something: from `od_least_mm` to `od_most_mm`, with its wall and width, mm."""

    od_least_mm: Diameter
    od_most_mm: Diameter
    thickness_mm: PositiveLength

    @property
    def range_said(self) -> str:
        """What it holds, in words."""
        return f"holds {self.od_least_mm:g} to {self.od_most_mm:g} mm"

    def not_on(self, od_mm: float, today: date | None) -> str:
        """Why it does not serve on a diameter; empty where it does."""
        if self.free(today) == 0:
            return "none on hand in date"
        if not at_least(od_mm, self.od_least_mm):
            return f"holds from {self.od_least_mm:g} mm, here is {od_mm:.1f} mm"
        return (
            ""
            if at_most(od_mm, self.od_most_mm)
            else f"holds up to {self.od_most_mm:g} mm, here is {od_mm:.1f} mm"
        )

    def check(self, path: str) -> None:
        """Its range must be one. Raises InputError under `path`."""
        if self.od_least_mm > self.od_most_mm:
            raise InputError.at(f"{path}/od_most_mm", "must not be under the least diameter")


def closest(part: Holds) -> tuple[float, str]:
    """What orders parts that go round something: the narrowest first."""
    return part.od_most_mm, part.id
