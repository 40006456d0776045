"""Parts with a sleeve of their own that are used whole: never cut, counted in pieces."""

from typing import Annotated

from pydantic import Field

from tinknot.core.choosing.choose import Candidate
from tinknot.core.formulas.sleeve_figures import SleeveIn
from tinknot.core.model import PositiveLength
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.parts.stocked import Counted

Celsius = Annotated[float, Field(gt=0, le=1000, description="°C")]


class UsedWhole(SleeveIn, Counted):
    """A part that shrinks as a sleeve does and is `length_mm` long as supplied."""

    length_mm: PositiveLength
    shrink_c: Celsius | None = None
    scorch_c: Celsius | None = None

    def sleeve(self) -> StockSleeve:
        """Its sleeve, as the choice and the fit ruler see it."""
        own = SleeveIn.model_fields.keys()
        figures = self.model_dump(include={*own, "id", "name", "shrink_c", "scorch_c", "properties"})
        return StockSleeve.model_validate(figures | {"lined": True})

    def candidate(self) -> Candidate:
        """Its sleeve, as the choice weighs it."""
        return Candidate(
            self.id, self.tube(""), lined=True, properties=frozenset({*self.properties, "lined"})
        )
