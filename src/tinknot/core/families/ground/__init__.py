"""A ground lead on a cable's screen, without joining anything."""

from datetime import date

from tinknot.core.families.choice import Made
from tinknot.core.families.contract import asking
from tinknot.core.families.ground.asks import ASKS
from tinknot.core.families.ground.file import GroundFile
from tinknot.core.families.ground.recipe import GroundRecipe
from tinknot.core.rulebook import RuleBook


def _recipe(joint: GroundFile, rules: RuleBook, today: date | None, _: Made | None) -> GroundRecipe:
    return GroundRecipe(joint, rules, today)


GROUND = asking(
    "screen-ground",
    "ground lead on a screen",
    GroundFile,
    _recipe,
    asks=ASKS,
    cautions=(
        "A screen that is earthed elsewhere may carry voltage: prove it dead, bridge it before it is cut.",
        "Trip, alarm and intrinsically safe loops need consent before they are touched.",
    ),
)
