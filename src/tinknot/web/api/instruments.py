"""Instruments: the stand-ins that give readings by one touch."""

from typing import Annotated

from flask import Blueprint
from pydantic import Field

from tinknot.core.model import Diameter, Result, Strict
from tinknot.devices.calliper import SimulatedCalliper
from tinknot.web.http import endpoint

bp = Blueprint("instruments", __name__)


class CalliperIn(Strict):
    """What the stand-in measures: about this big, this much out of round."""

    about_mm: Diameter
    seed: Annotated[str, Field(max_length=120)] = ""


class CalliperOut(Result):
    first_mm: float
    across_mm: float


@endpoint(bp, "POST", "/instruments/calliper", body=CalliperIn, out=CalliperOut, role="jointer")
def calliper(body: CalliperIn) -> CalliperOut:
    """Two readings at 90° from the calliper stand-in."""
    reading = SimulatedCalliper(body.about_mm, body.seed).read_across()
    return CalliperOut(first_mm=reading[0], across_mm=reading[1])
