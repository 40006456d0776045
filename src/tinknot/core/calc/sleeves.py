"""Calculators of sleeves: `sleeve-fit`, `sleeve-length`, `sleeve-choose`."""

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.choose import Candidate, Window, choose
from tinknot.core.errors import InputError
from tinknot.core.model import Coordinate, Diameter, Length, Name, Percent, PositiveLength, Result, Strict
from tinknot.core.sleeve import Margins, cut_length_mm, fit
from tinknot.core.sleeve_figures import SleeveIn


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


class CatalogueSleeveIn(SleeveIn):
    id: Name
    lined: bool = False
    stock_length_mm: PositiveLength | None = None
    price_per_m: Annotated[float, Field(ge=0, le=1e6)] | None = None
    opened: bool = False
    use_by: Annotated[date, Field(strict=False)] | None = None


class SleeveChooseIn(MarginsIn):
    pass_od_mm: Diameter
    seal_od_mm: Diameter
    covered_mm: PositiveLength
    catalogue: Annotated[list[CatalogueSleeveIn], Field(max_length=1000)]
    need_lined: bool = False


class RankedOut(Result):
    id: str
    comfort: float
    cut_length_mm: int
    waste_mm: float


class RejectedOut(Result):
    id: str
    reason: str


class SleeveChooseOut(Result):
    ranked: list[RankedOut]
    rejected: list[RejectedOut]
    ratio_needed: float


def sleeve_choose(given: SleeveChooseIn) -> SleeveChooseOut:
    """A catalogue judged for one window: what fits, best first, and why the rest does not."""
    candidates, seen = [], set()
    for i, s in enumerate(given.catalogue):
        if s.id in seen:
            raise InputError.at(f"/catalogue/{i}/id", f"stands twice: {s.id}; ids must be unique")
        seen.add(s.id)
        candidates.append(
            Candidate(
                s.id, s.tube(f"/catalogue/{i}"), s.lined, s.stock_length_mm, s.price_per_m, s.opened, s.use_by
            )
        )
    margins = given.margins()
    window = Window(
        given.pass_od_mm, given.seal_od_mm, ((0.0, given.seal_od_mm), (given.covered_mm, given.seal_od_mm)),
        need_lined=given.need_lined,
    )  # fmt: skip
    ranked, rejected = choose(window, candidates, margins)
    return SleeveChooseOut(
        ranked=[
            RankedOut(
                id=r.candidate.id, comfort=r.fit.comfort, cut_length_mm=r.cut_length_mm, waste_mm=r.waste_mm
            )
            for r in ranked
        ],
        rejected=[RejectedOut(id=r.candidate.id, reason=r.reason) for r in rejected],
        ratio_needed=margins.needed_expanded_mm(given.pass_od_mm)
        / margins.allowed_recovered_mm(given.seal_od_mm),
    )
