"""Sleeves: closed tubes, wrap-arounds, fire barriers and end caps."""

from datetime import date
from typing import Annotated, ClassVar, Literal, get_args

from pydantic import Field

from tinknot.core.choosing.choose import Candidate
from tinknot.core.formulas.sleeve_figures import SleeveIn
from tinknot.core.model import Name, PositiveLength
from tinknot.core.parts.kind import METRES, PartFigure, PartKind, choice, length, number
from tinknot.core.parts.stocked import OnHand, Price, Stocked, first_in_date, past

SleeveForm = Literal["tube", "wrap-around", "barrier", "cap"]


class StockSleeve(SleeveIn, Stocked):
    """A sleeve in stock: a closed tube, a wrap-around, a fire barrier or an end cap."""

    part: ClassVar[PartKind] = PartKind(
        name="sleeve",
        heading="Sleeves",
        own=(
            length("expanded_id_mm", "Inside as supplied, at least"),
            length("recovered_id_mm", "Inside when free, at most"),
            length("recovered_wall_mm", "Wall when free"),
            length("stock_length_mm", "Length of a piece", "Empty for a reel"),
            number("longitudinal_change_pct", "Length change when free", "%", "Minus when it gets shorter"),
            number("voltage_v", "Rated voltage", "V"),
            number("shrink_c", "Shrinks from", "°C"),
            number("scorch_c", "Scorches at", "°C"),
            number("price_per_m", "Price", "per m"),
            choice("form", "Form", get_args(SleeveForm)),
            PartFigure(key="lined", label="adhesive-lined", form="flag", hint="dual-wall", absent="plain"),
            PartFigure(key="stiff", label="stiff", form="flag", hint="thick wall"),
            PartFigure(key="colour", label="Colour", form="word"),
        ),
        size="{expanded_id_mm} → {recovered_id_mm}",
        facts=("{form}", "{lined}", "{stiff}", "wall {recovered_wall_mm}"),
        count=METRES,
        order="expanded_id_mm",
    )

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

    def check(self, path: str) -> None:
        """A sleeve shrinks when heated. Raises InputError under `path`."""
        self.tube(path)

    def candidate(self, path: str, today: date | None) -> Candidate:
        """The sleeve as the choice sees it, with the lot that is used first."""
        lot = first_in_date(self.lots, today)
        on_hand = (
            sum(x.on_hand_mm or 0 for x in self.lots if not past(x, today)) if self.lots else self.on_hand_mm
        )
        return Candidate(
            self.id,
            self.tube(path),
            self.lined,
            self.stock_length_mm,
            price_per_m=self.price_per_m,
            opened=bool(lot and lot.opened),
            use_by=lot.use_by if lot else None,
            on_hand_mm=on_hand,
            voltage_v=self.voltage_v,
            properties=frozenset(self.properties) | ({"lined"} if self.lined else set()),
        )
