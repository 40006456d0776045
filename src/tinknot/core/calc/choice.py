"""Calculator of a whole catalogue: `sleeve-choose`."""

from datetime import date
from typing import Annotated

from pydantic import Field

from tinknot.core.calc.sleeves import MarginsIn
from tinknot.core.choosing.choose import Candidate, Window, choose
from tinknot.core.errors import InputError
from tinknot.core.formulas.sleeve_figures import SleeveIn
from tinknot.core.model import Diameter, Name, PositiveLength, Result


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
                s.id,
                s.tube(f"/catalogue/{i}"),
                s.lined,
                s.stock_length_mm,
                price_per_m=s.price_per_m,
                opened=s.opened,
                use_by=s.use_by,
            )
        )
    margins = given.margins()
    window = Window(
        given.pass_od_mm,
        given.seal_od_mm,
        ((0.0, given.seal_od_mm), (given.covered_mm, given.seal_od_mm)),
        need_lined=given.need_lined,
    )
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
