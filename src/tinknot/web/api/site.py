"""How the site writes: its dates and hours, and the unit a new device begins with."""

from typing import Literal

from flask import Blueprint

from tinknot.core.dates import Dates
from tinknot.core.model import Strict
from tinknot.services import site
from tinknot.services.site import TimeZone, Writing
from tinknot.web.http import endpoint

bp = Blueprint("site", __name__)


class WritingIn(Strict):
    """How the site is to write."""

    dates: Dates = Dates()
    unit: Literal["mm", "inch"] = "mm"
    zone: TimeZone = "UTC"


@endpoint(bp, "GET", "/site/writing", out=Writing)
def writing() -> Writing:
    """How the site writes dates, hours and lengths."""
    return site.writing_form()


@endpoint(bp, "PUT", "/site/writing", body=WritingIn, out=Writing, role="admin", guarded=True)
def write(body: WritingIn, version: int) -> Writing:
    """Change how the site writes; on every page and paper from now on."""
    return site.set_writing_form(Writing(dates=body.dates, unit=body.unit, zone=body.zone), version)
