"""The line board."""

from typing import Annotated

from flask import Blueprint
from pydantic import Field

from tinknot.core.model import Name, Result, Strict
from tinknot.services import board as boards
from tinknot.services import site
from tinknot.services.board import Board, Waits
from tinknot.services.site import LineOut, ZoneOut
from tinknot.web.http import endpoint

bp = Blueprint("board", __name__)
Metres = Annotated[float, Field(ge=0, le=1e6)]


class LineIn(Strict):
    name: Name
    length_m: Annotated[float, Field(gt=0, le=1e6)]


class ZoneIn(Strict):
    name: Name
    from_m: Metres
    to_m: Metres


class Lines(Result):
    items: list[LineOut]


@endpoint(bp, "GET", "/board", out=Board)
def show() -> Board:
    """Lines, joints as knots along them, and what waits for hands first."""
    return boards.board()


@endpoint(bp, "GET", "/today", out=Waits)
def today() -> Waits:
    """Everything that waits for hands, in order."""
    return boards.waits()


@endpoint(bp, "GET", "/lines", out=Lines)
def lines() -> Lines:
    """All cable lines."""
    return Lines(items=site.lines())


@endpoint(bp, "POST", "/lines", body=LineIn, out=LineOut, role="jointer", status=201, keyed=True)
def add_line(body: LineIn) -> LineOut:
    """Add a cable line."""
    return site.add_line(body.name, body.length_m)


@endpoint(bp, "POST", "/zones", body=ZoneIn, out=ZoneOut, role="jointer", status=201, keyed=True)
def add_zone(body: ZoneIn) -> ZoneOut:
    """Name a stretch of the site."""
    return site.add_zone(body.name, body.from_m, body.to_m)
