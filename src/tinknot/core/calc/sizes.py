"""Calculators of sizes: `length`, `conductor`, `flat`, `bundle`."""

from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.conductor import (
    MM2_PER_KCMIL,
    awg_diameter_mm,
    awg_number,
    circle_mm2,
    conductor,
    nearest_metric_mm2,
)
from tinknot.core.formulas.flat import flat_girth_mm, girth_to_diameter_mm
from tinknot.core.formulas.length import parse_length, to_inches
from tinknot.core.model import Diameter, Result, Strict, Whole
from tinknot.core.tolerance import at_most


class LengthIn(Strict):
    text: Annotated[str, Field(min_length=1, max_length=80)]
    denominator: Annotated[Whole, Field(ge=1, le=1024)] = 16


class LengthOut(Result):
    mm: float
    inch_text: str
    inch_error_mm: float


def length(given: LengthIn) -> LengthOut:
    """A length as written, in mm and as the nearest fraction of an inch."""
    found = to_inches(parse_length(given.text), given.denominator)
    return LengthOut(mm=float(found.mm), inch_text=found.inch_text, inch_error_mm=found.inch_error_mm)


class ConductorIn(Strict):
    area_mm2: Annotated[float, Field(ge=0.01, le=5000)] | None = None
    awg: Annotated[str, Field(max_length=8)] | None = None
    kcmil: Annotated[float, Field(ge=0.1, le=10000)] | None = None
    flexibility: Annotated[Whole, Field(alias="class", description="IEC 60228 class: 1, 2 or 5")] = 2


class ConductorOut(Result):
    area_mm2: float
    diameter_mm: float
    least_diameter_mm: float
    source: Literal["table", "formula", "estimate"]
    nearest_metric_mm2: float


def conductor_size(given: ConductorIn) -> ConductorOut:
    """A conductor's area and greatest diameter from mm², AWG or kcmil."""
    sizes = [s for s in (given.area_mm2, given.awg, given.kcmil) if s is not None]
    if len(sizes) != 1:
        raise InputError.at("", "give exactly one of area_mm2, awg and kcmil")
    if given.flexibility not in (1, 2, 5):
        raise InputError.at("/class", "must be 1 (solid), 2 (stranded) or 5 (flexible)")
    if given.awg is not None:
        area = circle_mm2(awg_diameter_mm(awg_number(given.awg)))
    else:
        area = given.area_mm2 if given.area_mm2 is not None else (given.kcmil or 0) * MM2_PER_KCMIL
    found = conductor(area, given.flexibility)
    return ConductorOut(
        area_mm2=area,
        diameter_mm=found.greatest_mm,
        least_diameter_mm=found.least_mm,
        source=found.source,
        nearest_metric_mm2=nearest_metric_mm2(area),
    )


class FlatIn(Strict):
    width_mm: Diameter
    thickness_mm: Diameter


class FlatOut(Result):
    girth_mm: float
    equivalent_diameter_mm: float


def flat(given: FlatIn) -> FlatOut:
    """Girth and equivalent diameter of a flat cable."""
    if not at_most(given.thickness_mm, given.width_mm):
        raise InputError.at("/thickness_mm", "must not be above the width; swap the two")
    girth = flat_girth_mm(given.width_mm, given.thickness_mm)
    return FlatOut(girth_mm=girth, equivalent_diameter_mm=girth_to_diameter_mm(girth))
