"""Calculators of the layout: `stagger`, `park`."""

from typing import Annotated

from pydantic import Field

from tinknot.core.choosing.park import ParkItem, Side, park
from tinknot.core.choosing.place import stagger
from tinknot.core.errors import refuse_twice
from tinknot.core.model import Length, Name, PositiveLength, Result, Strict, Whole


class StaggerIn(Strict):
    cores: Annotated[Whole, Field(ge=1, le=1000)]
    connector_length_mm: PositiveLength
    core_sleeve_length_mm: PositiveLength
    clear_core_mm: Length = 15.0
    between_mm: Length = 5.0
    butt_gap_mm: Length = 0.0
    steps: Annotated[Whole, Field(ge=1, le=1000)] = 1
    strip_mm: Length = 0.0
    keep_away_mm: Length = 0.0
    core_sleeve_supplied_mm: PositiveLength | None = None


class CoreOut(Result):
    core: int
    centre_mm: float
    cut_a_mm: float
    cut_b_mm: float


class StaggerOut(Result):
    gap_mm: float
    cores: list[CoreOut]


def stagger_cores(given: StaggerIn) -> StaggerOut:
    """The least gap between the sheath cuts and every core's two lengths."""
    supplied = given.core_sleeve_supplied_mm
    found = stagger(
        given.cores,
        given.connector_length_mm,
        given.core_sleeve_length_mm,
        clear_core_mm=given.clear_core_mm,
        between_mm=given.between_mm,
        butt_gap_mm=given.butt_gap_mm,
        steps=given.steps,
        side_needed_mm=given.strip_mm
        + (given.core_sleeve_length_mm if supplied is None else supplied)
        + given.keep_away_mm,
    )
    return StaggerOut(
        gap_mm=found.gap_mm,
        cores=[
            CoreOut(core=c.core, centre_mm=c.centre_mm, cut_a_mm=c.cut_a_mm, cut_b_mm=c.cut_b_mm)
            for c in found.cores
        ],
    )


class ParkItemIn(Strict):
    id: Name
    length_mm: PositiveLength
    on: Side
    order: Annotated[Whole, Field(ge=-1000000, le=1000000, description="1 = seated first, nearest the joint")]


class ParkIn(Strict):
    items: Annotated[list[ParkItemIn], Field(max_length=1000)]
    free_a_mm: Length
    free_b_mm: Length
    between_mm: Length = 10.0
    keep_away_mm: Length = 0.0


class ParkOut(Result):
    a: list[str]
    b: list[str]
    used_a_mm: float
    used_b_mm: float
    fits: bool
    over_a_mm: float
    over_b_mm: float


def park_parts(given: ParkIn) -> ParkOut:
    """Which tail each part waits on, in threading order, and whether there is room."""
    refuse_twice([item.id for item in given.items], "/items/{}/id")
    found = park(
        [ParkItem(i.id, i.length_mm, i.on, i.order) for i in given.items],
        given.free_a_mm,
        given.free_b_mm,
        between_mm=given.between_mm,
        keep_away_mm=given.keep_away_mm,
    )
    return ParkOut(
        a=list(found.a),
        b=list(found.b),
        used_a_mm=found.used_a_mm,
        used_b_mm=found.used_b_mm,
        fits=found.fits,
        over_a_mm=found.over_a_mm,
        over_b_mm=found.over_b_mm,
    )
