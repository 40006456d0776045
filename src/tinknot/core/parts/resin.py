"""Packs of two-part resin."""

from typing import Annotated, ClassVar

from pydantic import Field

from tinknot.core.formulas.curing import CureClock
from tinknot.core.formulas.timelaw import TimeLaw
from tinknot.core.formulas.timepoints import Points, law_of
from tinknot.core.model import Duration, Name, Temperature
from tinknot.core.parts.kind import PartFigure, PartKind, number
from tinknot.core.parts.stocked import Counted

_TIMES = ("temperature_c", "minutes")


class StockResin(Counted):
    """A pack of two-part resin with the data of its sheet; packs of one `system` hold the same resin."""

    part: ClassVar[PartKind] = PartKind(
        name="resin",
        heading="Resins",
        own=(
            number("volume_ml", "A pack holds", "ml"),
            number("least_temperature_c", "Lowest temperature", "°C"),
            number("mix_minutes", "Mixing takes", "min"),
            number("price_each", "Price", "a pack"),
            PartFigure(
                key="pot_life",
                label="Pot life",
                form="pairs",
                names=_TIMES,
                hint="°C = minutes: 5 = 70, 20 = 25",
            ),
            PartFigure(
                key="cure",
                label="Full cure",
                form="pairs",
                names=_TIMES,
                hint="°C = minutes: 5 = 1440, 20 = 300",
            ),
            PartFigure(
                key="system",
                label="System",
                form="word",
                hint="Packs of one system hold the same resin and may be mixed for one joint",
            ),
            PartFigure(key="isocyanate", label="holds isocyanates", form="flag"),
        ),
        size="{volume_ml}",
        facts=("from {least_temperature_c}", "mixed {mix_minutes}", "{isocyanate}"),
    )

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
        """Data points must make sense. Raises InputError under `path`."""
        law_of(self.pot_life, f"{path}/pot_life")
        law_of(self.cure, f"{path}/cure")
