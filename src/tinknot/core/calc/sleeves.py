"""Calculators of one sleeve: `sleeve-fit` and `sleeve-length`."""

from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.sleeve import Margins, cut_length_mm, fit
from tinknot.core.formulas.sleeve_figures import SleeveIn
from tinknot.core.model import Coordinate, Diameter, Length, Percent, Result, Strict


class MarginsIn(Strict):
    slide_clearance_pct: Percent = 5.0
    slide_clearance_min_mm: Length = 0.5
    grip_margin_pct: Percent = 10.0

    def margins(self) -> Margins:
        """The same as a core type."""
        return Margins(self.slide_clearance_pct, self.slide_clearance_min_mm, self.grip_margin_pct)


class SleeveFitIn(MarginsIn):
    sleeve: SleeveIn
    pass_od_mm: Diameter
    seal_od_mm: Diameter


class SleeveFitOut(Result):
    verdict: Literal["fits", "will-not-pass", "will-not-grip", "neither"]
    ratio_needed: float
    ratio_of_sleeve: float
    needed_expanded_mm: float
    allowed_recovered_mm: float
    recovery_at_seal: float | None
    wall_at_seal_mm: float | None
    od_at_seal_mm: float | None
    pass_short_by_mm: float
    grip_short_by_mm: float


def sleeve_fit(given: SleeveFitIn) -> SleeveFitOut:
    """Whether one sleeve passes and grips, and what it becomes on the seal."""
    found = fit(given.sleeve.tube("/sleeve"), given.pass_od_mm, given.seal_od_mm, given.margins())
    return SleeveFitOut(**{name: getattr(found, name) for name in SleeveFitOut.model_fields})


ProfilePoint = Annotated[list[Coordinate], Field(min_length=2, max_length=2)]


class SleeveLengthIn(Strict):
    sleeve: SleeveIn
    profile: Annotated[list[ProfilePoint], Field(min_length=2, max_length=1000)]
    squareness_mm: Length = 2.0


class SleeveLengthOut(Result):
    covered_mm: float
    cut_length_mm: int


def sleeve_length(given: SleeveLengthIn) -> SleeveLengthOut:
    """The length to cut so that a profile is covered after shrinking."""
    points = [(x, od) for x, od in given.profile]
    for i, (x, od) in enumerate(points):
        if not 1e-6 <= od <= 1e4:
            raise InputError.at(f"/profile/{i}/1", "must be a diameter above 0 and at most 10000 mm")
        if i and x < points[i - 1][0]:
            raise InputError.at(f"/profile/{i}/0", "must not lie before the point in front of it")
    covered = points[-1][0] - points[0][0]
    if covered <= 0:
        raise InputError.at("/profile", "covers no length")
    return SleeveLengthOut(
        covered_mm=covered,
        cut_length_mm=cut_length_mm(given.sleeve.tube("/sleeve"), points, given.squareness_mm),
    )
