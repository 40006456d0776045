"""Data points of a time law as they come in: temperature against minutes."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.timelaw import TimeLaw, TimePoint
from tinknot.core.model import Strict, Temperature


class TimePointIn(Strict):
    """A line of the resin's data sheet."""

    temperature_c: Temperature
    minutes: Annotated[float, Field(ge=1e-6, le=1e7, description="min")]


Points = Annotated[list[TimePointIn], Field(min_length=1, max_length=50)]


def law_of(points: Sequence[TimePointIn], path: str = "/points") -> TimeLaw:
    """The law through data points; `path` is where they stand."""
    try:
        return TimeLaw.of([TimePoint(p.temperature_c, p.minutes) for p in points])
    except InputError as fault:
        raise InputError.at(
            path + fault.errors[0].path.removeprefix("/points"), fault.errors[0].message
        ) from None
