"""A screened cable of cores or units joined: splices at their places, foil and braid made good."""

from datetime import date

from tinknot.core.families.choice import Made
from tinknot.core.families.contract import asking
from tinknot.core.families.screened.asks import ASKS
from tinknot.core.families.screened.file import ScreenedFile
from tinknot.core.families.screened.recipe import ScreenedRecipe
from tinknot.core.rulebook import RuleBook


def _recipe(joint: ScreenedFile, rules: RuleBook, today: date | None, made: Made | None) -> ScreenedRecipe:
    late = made is not None and made.began_without("wipe.sheath.A")  # as work that is under way was told
    return ScreenedRecipe(joint, rules, today, late=late)


SCREENED = asking(
    "screened",
    "control, signal or screened cable joined",
    ScreenedFile,
    _recipe,
    asks=ASKS,
    cautions=(
        "A screen that is earthed elsewhere may carry voltage: prove it dead, bridge it before it is cut.",
        "Trip, alarm and intrinsically safe loops need consent before they are touched.",
    ),
)
