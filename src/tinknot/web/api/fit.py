"""Fit check: two diameters in, the answer from the stock, no joint needed."""

from flask import Blueprint

from tinknot.core.model import Diameter, Strict
from tinknot.core.plan.parts import ChoiceOut
from tinknot.services import fit as fits
from tinknot.web.http import endpoint

bp = Blueprint("fit", __name__)


class FitIn(Strict):
    """What must be passed and what gripped, mm; `covered_mm` for the length to cut."""

    pass_od_mm: Diameter
    seal_od_mm: Diameter
    covered_mm: Diameter = 100.0
    need_lined: bool = False


@endpoint(bp, "POST", "/fit", body=FitIn, out=ChoiceOut, heavy=True)
def check(body: FitIn) -> ChoiceOut:
    """Which sleeves of the stock pass and grip."""
    return fits.check(body.pass_od_mm, body.seal_od_mm, body.covered_mm, body.need_lined)
