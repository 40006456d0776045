"""Calculators of time and temperature: `pot-life`, `cure`."""

from typing import Annotated

from pydantic import Field

from tinknot.core.formulas.curing import CureClock, LogEntry
from tinknot.core.formulas.timelaw import pour_window
from tinknot.core.formulas.timepoints import TimePointIn, law_of
from tinknot.core.model import Duration, Result, Strict, Temperature

Points = Annotated[list[TimePointIn], Field(min_length=1, max_length=1000)]


class PotLifeIn(Strict):
    points: Points
    temperature_c: Temperature
    mix_minutes: Duration


class PotLifeOut(Result):
    pot_life_min: float
    pour_window_min: float
    refused: bool


def pot_life(given: PotLifeIn) -> PotLifeOut:
    """Pot life at the mixed resin's temperature, and what mixing leaves of it."""
    found = pour_window(law_of(given.points), given.temperature_c, given.mix_minutes)
    return PotLifeOut(**vars(found))


class LogEntryIn(Strict):
    at_min: Annotated[float, Field(ge=-1e7, le=1e7, description="min")]
    temperature_c: Temperature


class CureIn(Strict):
    points: Points
    least_temperature_c: Temperature
    log: Annotated[list[LogEntryIn], Field(min_length=1, max_length=1000)]


class CureOut(Result):
    fraction: float
    full_at_min: float | None
    remaining_min: float | None


def cure(given: CureIn) -> CureOut:
    """The degree of cure from a temperature log, and when it is full."""
    clock = CureClock(law_of(given.points), given.least_temperature_c)
    found = clock.degree([LogEntry(e.at_min, e.temperature_c) for e in given.log])
    return CureOut(**vars(found))
