"""Fit check against the stock."""

from tinknot.core.choosing.choose import Window
from tinknot.core.families.recipe import margins_of
from tinknot.core.model import parse
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.plan.parts import ChoiceOut
from tinknot.core.planning.fitcheck import fit_check
from tinknot.services import stock
from tinknot.services.days import today
from tinknot.services.site import rule_book


def check(pass_od_mm: float, seal_od_mm: float, covered_mm: float, need_lined: bool) -> ChoiceOut:
    """Every sleeve in stock judged for a plain stretch of `covered_mm`."""
    rules = rule_book()
    window = Window(
        pass_od_mm,
        seal_od_mm,
        ((0.0, seal_od_mm), (covered_mm, seal_od_mm)),
        need_lined=need_lined,
        squareness_mm=rules.number("sleeve.squareness_mm"),
    )
    sleeves = [parse(StockSleeve, s) for s in stock.for_planning()["sleeves"]]
    return fit_check(window, sleeves, margins_of(rules), today())
