"""Calculators of cable length: `heat-trace-length`, `slack`."""

from typing import Annotated

from pydantic import Field

from tinknot.core.formulas.slack import fixings, slack, trace_length_m
from tinknot.core.joint.allowance import AllowanceIn
from tinknot.core.model import Length, PositiveLength, Result, Strict


class TraceEndIn(Strict):
    loop_mm: Length
    connection_mm: Length
    termination_mm: Length


class TraceLengthIn(Strict):
    run_m: Annotated[float, Field(ge=0, le=1e6, description="m")]
    spiral_extra: Annotated[float, Field(ge=0, lt=1, description="share of the run; 0.1 means 10 % more")] = (
        0.0
    )
    ends: Annotated[list[TraceEndIn], Field(max_length=1000)]
    allowances: Annotated[list[AllowanceIn], Field(max_length=1000)]
    fixing_spacing_mm: PositiveLength


class TraceLengthOut(Result):
    cable_m: float
    fixings: int


def heat_trace_length(given: TraceLengthIn) -> TraceLengthOut:
    """Heat-trace cable to order and the fixings along its run."""
    cable_m = trace_length_m(
        given.run_m,
        given.spiral_extra,
        [e.loop_mm + e.connection_mm + e.termination_mm for e in given.ends],
        [a.each_mm * a.count for a in given.allowances],
    )
    return TraceLengthOut(cable_m=cable_m, fixings=fixings(given.run_m, given.fixing_spacing_mm))


class SlackIn(Strict):
    loop_mm: Length
    least_loop_mm: Length
    per_remake_mm: PositiveLength


class SlackOut(Result):
    remakes_left: int
    left_after_mm: float


def slack_left(given: SlackIn) -> SlackOut:
    """How often a loop can be cut back, and what is left of it then."""
    return SlackOut(**vars(slack(given.loop_mm, given.least_loop_mm, given.per_remake_mm)))
