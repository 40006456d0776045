"""What every joint file begins with."""

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.joint.measured import Measured
from tinknot.core.model import Strict, integral
from tinknot.core.parts.stock import StockIn

Duty = Literal["dry", "damp", "buried", "immersed", "oil", "uv", "fire", "moving", "hazardous"]


class JointHead(Strict):
    """Format, name, duty and what is at hand."""

    format: Literal["tinknot-joint"]
    version: Annotated[Literal[1], BeforeValidator(integral)]
    ref: Annotated[str, Field(max_length=40)] | None = None
    title: Annotated[str, Field(max_length=200)] | None = None
    rated_voltage_v: Annotated[float, Field(gt=0, le=1e6)]
    ambient_c: Annotated[float, Field(ge=-60, le=80)] = 20.0
    duties: list[Duty] = []
    cable_length_m: Annotated[float, Field(gt=0, le=1e6)] | None = None
    sheet: KitSheet | None = None
    stock: StockIn = StockIn()
    family: str

    def check(self) -> None:
        """What single fields cannot say. Raises InputError."""
        self.stock.check()

    def not_served_by(self, sheet: KitSheet) -> list[str]:
        """In words, what of this joint a kit's sheet does not serve; here, that it is for another kind of
        joint."""
        return [f"it is a sheet for {sheet.recipe}"]

    def measured(self) -> list[Measured]:
        """Every reading of the cables that a plan is made from, from outside in."""
        return []
