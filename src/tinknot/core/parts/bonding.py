"""What every adhesive says of itself: on which sheaths it holds, what it keeps out, how hot and cold it may
get."""

from typing import Annotated

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.model import Name
from tinknot.core.parts.kind import PartFigure, number
from tinknot.core.parts.stocked import Counted
from tinknot.core.tolerance import at_least, at_most

Service = Annotated[float, Field(ge=-100, le=400, description="°C")]
BONDING: tuple[PartFigure, ...] = (
    PartFigure(
        key="bonds",
        label="Holds on sheaths of",
        form="words",
        hint="pvc, rubber, polyurethane, polyolefin; empty as the rule book has it",
    ),
    PartFigure(
        key="keeps_out",
        label="Keeps out",
        form="words",
        hint="damp, buried, immersed, oil; empty as the rule book has it",
    ),
    number("service_from_c", "Serves from", "°C"),
    number("service_to_c", "Serves up to", "°C"),
)


def serves_at(low_c: float | None, high_c: float | None, cold_c: float, hot_c: float) -> str:
    """Why a part does not bear temperatures from `cold_c` to `hot_c` where it serves from `low_c` to
    `high_c`; empty where it does, or nobody said."""
    if high_c is not None and not at_least(high_c, hot_c):
        return f"serves up to {high_c:g} °C, here it gets {hot_c:g} °C"
    if low_c is not None and not at_most(low_c, cold_c):
        return f"serves from {low_c:g} °C, here it gets {cold_c:g} °C"
    return ""


class Bonding(Counted):
    """An adhesive. `bonds`: the materials of sheaths it holds on; `keeps_out`: duties it is good for; both as
    the rule book has them where they are not entered; `service_from_c`, `service_to_c`: °C."""

    bonds: list[Name] = []
    keeps_out: list[Name] = []
    service_from_c: Service | None = None
    service_to_c: Service | None = None

    def check(self, path: str) -> None:
        """Its range must be one. Raises InputError under `path`."""
        low, high = self.service_from_c, self.service_to_c
        if low is not None and high is not None and low > high:
            raise InputError.at(f"{path}/service_to_c", "must not be under the temperature it serves from")
