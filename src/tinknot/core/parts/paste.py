"""Adhesive pastes and sealants in cartridges."""

from datetime import date
from math import ceil
from typing import Annotated, ClassVar, Literal, get_args

from pydantic import Field

from tinknot.core.formulas.curing import CureClock
from tinknot.core.formulas.timelaw import TimeLaw
from tinknot.core.formulas.timepoints import Points, law_of
from tinknot.core.model import Name, Temperature
from tinknot.core.parts.bonding import BONDING, Bonding
from tinknot.core.parts.kind import PartFigure, PartKind, choice, number
from tinknot.core.parts.stocked import first_in_date, past
from tinknot.core.tolerance import at_least

PasteKind = Literal["two-part", "sealant"]
_TIMES = ("temperature_c", "minutes")


class StockPaste(Bonding):
    """A cartridge. `kind`: two parts mixed in a nozzle, or a sealant as it comes; `open_time`: how long what
    is pressed out can be worked (the life of a nozzle); `cure`: to full; `least_temperature_c`: it is not
    pressed out colder; `most_c`: the hottest it may be cured at; `opened_days`: how long a cartridge lasts
    once it is opened, at room temperature."""

    part: ClassVar[PartKind] = PartKind(
        name="paste",
        heading="Pastes and sealants",
        own=(
            choice("kind", "Kind", get_args(PasteKind), column="type"),
            number("volume_ml", "A cartridge holds", "ml"),
            number("least_temperature_c", "Pressed out from", "°C"),
            number("most_c", "Cured at most at", "°C"),
            PartFigure(
                key="open_time",
                label="Can be worked for",
                form="pairs",
                names=_TIMES,
                hint="°C = minutes: 20 = 40",
            ),
            PartFigure(
                key="cure", label="Full cure", form="pairs", names=_TIMES, hint="°C = minutes: 20 = 1440"
            ),
            number("opened_days", "Lasts once opened", "days"),
            PartFigure(key="system", label="System", form="word", hint="what its nozzles are named by"),
            PartFigure(key="epoxy", label="holds epoxy", form="flag"),
            *BONDING,
            number("price_each", "Price", "a cartridge"),
        ),
        size="{volume_ml}",
        facts=("{kind}", "from {least_temperature_c}", "{epoxy}"),
    )

    kind: PasteKind = "two-part"
    volume_ml: Annotated[float, Field(gt=0, le=1e5, description="ml")]
    least_temperature_c: Temperature
    most_c: Temperature | None = None
    open_time: Points
    cure: Points
    opened_days: Annotated[float, Field(gt=0, le=3650, description="days")] | None = None
    system: Name | None = None
    epoxy: bool = False

    def taken(self, share: float, count: int, today: date | None) -> tuple[str, float] | None:
        """What is taken for `share` of a cartridge and more: of an opened one that still holds as much just
        that, else `count` closed ones; its lot and how many; None where there are too few of either."""
        if not self.lots:
            have = self.on_hand
            return None if have is not None and have < count else ("", float(count))
        there = [x for x in self.lots if not past(x, today)]
        opened = [x for x in there if x.opened and at_least(x.on_hand or 0.0, share)]
        if (first := first_in_date(opened, today)) is not None:
            return first.id, min(first.on_hand or 0.0, ceil(share * 100) / 100)
        closed = [x for x in there if not x.opened]
        first = first_in_date(closed, today)
        if first is None or sum(x.on_hand or 0.0 for x in closed) < count:
            return None
        return first.id, float(count)

    def open_law(self) -> TimeLaw:
        """How long it can be worked, by its temperature."""
        return law_of(self.open_time, "/open_time")

    def clock(self) -> CureClock:
        """Its cure."""
        return CureClock(law_of(self.cure, "/cure"), self.least_temperature_c)

    def check(self, path: str) -> None:
        """Data points must make sense. Raises InputError under `path`."""
        super().check(path)
        law_of(self.open_time, f"{path}/open_time")
        law_of(self.cure, f"{path}/cure")
