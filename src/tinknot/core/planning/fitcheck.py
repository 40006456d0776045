"""Fit check: a window and the stock in, every candidate judged out."""

from collections.abc import Sequence
from datetime import date

from tinknot.core.choosing.choose import Catalogue, Window
from tinknot.core.families.choice import Choice
from tinknot.core.families.offers import choice_out
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.plan.parts import ChoiceOut


def fit_check(window: Window, sleeves: Sequence[StockSleeve], margins: Margins, today: date) -> ChoiceOut:
    """All sleeves on one window, best first, with the reason of each that does not serve."""
    candidates = [s.candidate(f"/sleeves/{i}", today) for i, s in enumerate(sleeves)]
    found = Catalogue(candidates, margins)
    ranked = found.ranked(window)
    choice = Choice(
        "fit-check", "fit check", window, ranked, catalogue=found, picked=ranked[0] if ranked else None
    )
    return choice_out(choice, margins, {s.id: s for s in sleeves})
