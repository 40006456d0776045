"""A sleeve's figures as they come in as JSON: in calculators, joint files and stock."""

from typing import Annotated

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.sleeve import Tube
from tinknot.core.model import Diameter, Strict
from tinknot.core.tolerance import at_most


class SleeveIn(Strict):
    """Inside diameters as supplied and free, total wall when free, in mm; length change in %."""

    expanded_id_mm: Diameter
    recovered_id_mm: Diameter
    recovered_wall_mm: Diameter
    longitudinal_change_pct: Annotated[float, Field(ge=-99, le=100, description="%")] = 0.0

    def tube(self, path: str) -> Tube:
        """The sleeve's figures; `path` is where they stand in the input."""
        if at_most(self.expanded_id_mm, self.recovered_id_mm):
            raise InputError.at(
                f"{path}/expanded_id_mm", "must be more than recovered_id_mm: a sleeve shrinks when heated"
            )
        return Tube(
            self.expanded_id_mm, self.recovered_id_mm, self.recovered_wall_mm, self.longitudinal_change_pct
        )
