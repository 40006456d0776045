"""Calculators of screened cable: `braid`, `donor`, `identify`."""

from typing import Annotated

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.braid import Braid
from tinknot.core.formulas.ringing import ties
from tinknot.core.model import Diameter, Length, PositiveLength, Result, Strict, Whole
from tinknot.core.tolerance import whole_up


class BraidIn(Strict):
    carriers: Annotated[Whole, Field(ge=4, le=1000)]
    ends_per_carrier: Annotated[Whole, Field(ge=1, le=1000)]
    strand_mm: Diameter
    under_mm: Diameter
    lay_mm: PositiveLength | None = None
    picks_per_mm: Annotated[float, Field(ge=1e-6, le=1e4, description="per mm")] | None = None
    over_mm: Diameter | None = None


class BraidOut(Result):
    angle_deg: float
    coverage_pct: float
    thickness_mm: float
    on_angle_deg: float | None
    on_coverage_pct: float | None
    length_factor: float | None
    reason: str | None


def braid(given: BraidIn) -> BraidOut:
    """A braid's angle and coverage, and both with its length once it is pushed over another diameter."""
    if given.carriers % 2:
        raise InputError.at("/carriers", "must be even: half of the carriers go each way round")
    if (given.lay_mm is None) == (given.picks_per_mm is None):
        raise InputError.at(
            "/lay_mm", "is asked for, or picks_per_mm in its place: give exactly one of the two"
        )
    lay = given.lay_mm if given.lay_mm is not None else given.carriers / (2 * (given.picks_per_mm or 1.0))
    made = Braid(given.carriers, given.ends_per_carrier, given.strand_mm, given.under_mm, lay_mm=lay)
    on = made.over(given.over_mm) if given.over_mm is not None and made.reaches(given.over_mm) else None
    return BraidOut(
        angle_deg=made.as_made.angle_deg,
        coverage_pct=made.as_made.coverage_pct,
        thickness_mm=made.thickness_mm,
        on_angle_deg=on.angle_deg if on else None,
        on_coverage_pct=on.coverage_pct if on else None,
        length_factor=on.lay_mm / lay if on else None,
        reason=_jammed(made) if given.over_mm is not None and on is None else None,
    )


def _jammed(made: Braid) -> str:
    if made.jam is None:
        return "It is closed up at every angle: it can be pushed over no other diameter."
    return (
        f"It jams there: it goes over diameters from {max(0.0, made.least_under_mm):.2f} to"
        f" {made.most_under_mm:.2f} mm."
    )


class DonorIn(Strict):
    gap_mm: Length
    overlap_mm: Length
    length_factor: Annotated[float, Field(ge=1e-3, le=1e3)] = 1.0
    spare_mm: Length = 5.0


class DonorOut(Result):
    on_cable_mm: float
    cut_length_mm: int


def donor(given: DonorIn) -> DonorOut:
    """The length of donor braid to cut, so that it spans a gap with its overlaps as it lies."""
    on_cable = given.gap_mm + 2 * given.overlap_mm
    return DonorOut(
        on_cable_mm=on_cable, cut_length_mm=whole_up(on_cable / given.length_factor + given.spare_mm)
    )


class IdentifyIn(Strict):
    cores: Annotated[Whole, Field(ge=1, le=200)]
    common: bool = False


class IdentifyOut(Result):
    first: list[list[int]]
    second: list[list[int]]
    walks: int


def identify(given: IdentifyIn) -> IdentifyOut:
    """How one person ties cores at both ends to know every one of them after a walk there and back."""
    found = ties(given.cores, given.common)
    return IdentifyOut(first=[list(g) for g in found.first], second=[list(g) for g in found.second], walks=1)
