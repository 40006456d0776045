"""Calculators of proof: `flex`, `insulation`, `earth-strap`."""

from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.formulas.earth import strap_area_mm2
from tinknot.core.formulas.proof import bend, insulation
from tinknot.core.model import Diameter, Result, Strict

Resistance = Annotated[float, Field(ge=1e-9, le=1e12, description="MΩ")]


class FlexIn(Strict):
    cable_od_mm: Diameter
    multiple: Annotated[float, Field(ge=1e-3, le=1000, description="× cable OD")]
    mandrels_mm: Annotated[list[Diameter], Field(max_length=1000)]


class FlexOut(Result):
    least_mandrel_mm: float
    mandrel_mm: float | None
    outer_strain_pct: float


def flex(given: FlexIn) -> FlexOut:
    """The mandrel for a bend proof and the outer fibre's strain on it."""
    return FlexOut(**vars(bend(given.cable_od_mm, given.multiple, given.mandrels_mm)))


class InsulationIn(Strict):
    reading_mohm: Resistance
    over_range: bool = False
    temperature_c: Annotated[float, Field(ge=-100, le=300, description="°C")]
    length_m: Annotated[float, Field(ge=1e-6, le=1e6, description="m")]
    limit_mohm: Resistance
    halving_c: Annotated[float, Field(ge=1, le=1000, description="°C")] = 10.0


class InsulationOut(Result):
    at_20c_mohm: float
    mohm_km: float
    verdict: Literal["pass", "fail"]
    lower_bound: bool


def insulation_verdict(given: InsulationIn) -> InsulationOut:
    """Insulation resistance against its limit, and brought to 20 °C and one km for the trend."""
    found = insulation(
        given.reading_mohm, given.temperature_c, given.length_m, given.limit_mohm, halving_c=given.halving_c
    )
    return InsulationOut(
        at_20c_mohm=found.at_20c_mohm,
        mohm_km=found.mohm_km,
        verdict="pass" if found.passes else "fail",
        lower_bound=given.over_range,
    )


class EarthStrapIn(Strict):
    fault_current_a: Annotated[float, Field(ge=1e-3, le=1e7, description="A")]
    clearing_time_s: Annotated[float, Field(ge=1e-6, le=1e6, description="s")]
    k: Annotated[float, Field(ge=1e-3, le=1e4, description="A·√s/mm²")]


class EarthStrapOut(Result):
    least_area_mm2: float


def earth_strap(given: EarthStrapIn) -> EarthStrapOut:
    """The least section of an earth strap by the adiabatic equation."""
    return EarthStrapOut(least_area_mm2=strap_area_mm2(given.fault_current_a, given.clearing_time_s, given.k))
