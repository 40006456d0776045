"""Instruments: the stand-ins that give readings by one touch."""

from typing import Annotated

from flask import Blueprint
from pydantic import Field

from tinknot.core.model import Diameter, Result, Strict, Whole
from tinknot.services import instruments
from tinknot.services.instruments import InstrumentOut, ReadingOut
from tinknot.web.http import endpoint

bp = Blueprint("instruments", __name__)


class CalliperIn(Strict):
    """What the stand-in measures: about this big, this much out of round."""

    about_mm: Diameter
    seed: Annotated[str, Field(max_length=120)] = ""


class CalliperOut(Result):
    first_mm: float
    across_mm: float
    simulated: bool


class InstrumentsOut(Result):
    """What is connected here."""

    items: list[InstrumentOut]


class Present(Strict):
    """Whether an instrument is there."""

    present: bool


class ReadIn(Strict):
    """Where the instrument is held; `turn` counts the touches."""

    step: Annotated[str, Field(min_length=1, max_length=80)]
    gate: Annotated[str, Field(min_length=1, max_length=80)]
    turn: Annotated[Whole, Field(ge=0, le=10_000)] = 0


class MisbehaveIn(Strict):
    """What a stand-in should do wrong; null: nothing."""

    kind: Annotated[str, Field(max_length=40)]
    fault: Annotated[str, Field(max_length=40)] | None = None


@endpoint(bp, "GET", "/instruments", out=InstrumentsOut)
def listing() -> InstrumentsOut:
    """The instruments of this site; none until an admin adds one."""
    return InstrumentsOut(items=instruments.installed())


@endpoint(bp, "PUT", "/instruments/<kind>", body=Present, out=InstrumentsOut, role="admin")
def install(kind: str, body: Present) -> InstrumentsOut:
    """Add an instrument's stand-in, or take it away."""
    return InstrumentsOut(items=instruments.install(kind, body.present))


@endpoint(bp, "POST", "/instruments/calliper", body=CalliperIn, out=CalliperOut, role="jointer")
def calliper(body: CalliperIn) -> CalliperOut:
    """Two readings at 90° from the calliper."""
    first, across, simulated = instruments.across(body.about_mm, body.seed)
    return CalliperOut(first_mm=first, across_mm=across, simulated=simulated)


@endpoint(bp, "POST", "/joints/<ref>/reading", body=ReadIn, out=ReadingOut, role="jointer")
def read(ref: str, body: ReadIn) -> ReadingOut:
    """One reading at a place in the work, from the instrument of that place."""
    return instruments.read(ref, body.step, body.gate, body.turn)


@endpoint(bp, "PUT", "/instruments/misbehaviour", body=MisbehaveIn, role="admin")
def misbehave(body: MisbehaveIn) -> None:
    """Make a stand-in misbehave, to see what the screens do then."""
    instruments.misbehave(body.kind, body.fault)
