"""Connectors: crimped, mechanical, soldered, piercing, earthing."""

from typing import Annotated, ClassVar, Literal, get_args

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.model import Diameter, Length, PositiveLength, Whole
from tinknot.core.parts.kind import PartFigure, PartKind, choice, length, number
from tinknot.core.parts.stocked import Area, Counted, within
from tinknot.core.tolerance import at_most

ConnectorKind = Literal["crimp", "mechanical", "soldered", "piercing", "earthing"]
Metal = Literal["copper", "aluminium"]
Torque = Annotated[float, Field(gt=0, le=1000, description="N·m")]


class StockConnector(Counted):
    """A connector in stock; `area_least_mm2` to `area_most_mm2` is what it takes, for a tap connector of
    the main; `tap_area_…` what it takes of the tap."""

    part: ClassVar[PartKind] = PartKind(
        name="connector",
        heading="Connectors",
        own=(
            length("od_mm", "Outside diameter"),
            length("length_mm", "Length"),
            length("insertion_mm", "Insertion depth, each side"),
            length("growth_mm", "Grows when crimped, each side"),
            number("area_least_mm2", "Takes from", "mm²"),
            number("area_most_mm2", "Takes to", "mm²"),
            number("tap_area_least_mm2", "Tap from", "mm²", "Piercing connectors"),
            number("tap_area_most_mm2", "Tap to", "mm²"),
            length("bore_mm", "Bore, as measured"),
            number("presses", "Presses, each side", ""),
            number("bolts", "Bolts, each side", ""),
            number("torque_least_nm", "Torque from", "N·m", "Empty for shear heads"),
            number("torque_most_nm", "Torque to", "N·m"),
            number("voltage_v", "Rated voltage", "V"),
            number("price_each", "Price", "each"),
            choice("kind", "Kind", get_args(ConnectorKind), column="type"),
            PartFigure(key="die", label="Die", form="word"),
            PartFigure(key="metals", label="Metals", form="words", hint="copper, aluminium"),
        ),
        size="⌀ {od_mm}",
        facts=(
            "{kind}",
            "{area_least_mm2} to {area_most_mm2}",
            "tap to {tap_area_most_mm2}",
            "{length_mm} long",
        ),
        order="od_mm",
    )

    kind: ConnectorKind = "crimp"
    od_mm: Diameter
    length_mm: PositiveLength
    insertion_mm: PositiveLength
    growth_mm: Length = 0.0
    area_least_mm2: Area | None = None
    area_most_mm2: Area | None = None
    tap_area_least_mm2: Area | None = None
    tap_area_most_mm2: Area | None = None
    bore_mm: Diameter | None = None
    metals: list[Metal] = ["copper"]
    presses: Annotated[Whole, Field(ge=1, le=20)] = 1
    bolts: Annotated[Whole, Field(ge=1, le=20)] = 1
    torque_least_nm: Torque | None = None
    torque_most_nm: Torque | None = None
    die: Annotated[str, Field(max_length=40)] | None = None
    voltage_v: Annotated[float, Field(gt=0, le=1e5)] | None = None

    def suits(self, area_mm2: float) -> bool:
        """Whether a conductor of `area_mm2` is in its range; without a range it is taken on trust."""
        return within(area_mm2, self.area_least_mm2, self.area_most_mm2)

    def takes(self, conductor_mm: float, loose: float) -> str:
        """Why its bore does not take a conductor of this diameter, mm; empty where it does, or where nobody
        measured it. `loose`: how many times the conductor a bore may be."""
        bore = self.bore_mm
        if bore is None:
            return ""
        if not at_most(conductor_mm, bore):
            return f"its bore of {bore:g} mm does not take a conductor of {conductor_mm:.1f}"
        if not at_most(bore, loose * conductor_mm):
            return f"its bore of {bore:g} mm is too wide for a conductor of {conductor_mm:.1f}"
        return ""

    def suits_tap(self, area_mm2: float) -> bool:
        """Whether a tap of `area_mm2` is in its range; without its own, in the main's."""
        if self.tap_area_least_mm2 is None and self.tap_area_most_mm2 is None:
            return self.suits(area_mm2)
        return within(area_mm2, self.tap_area_least_mm2, self.tap_area_most_mm2)

    def check(self, path: str) -> None:
        """Figures that contradict each other. Raises InputError under `path`."""
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
