"""Jacket repair: a graded damage closed again; where a core is seen, it is sent to a joint."""

from datetime import date

from tinknot.core.families.choice import Made
from tinknot.core.families.contract import asking
from tinknot.core.families.jacket.asks import ASKS
from tinknot.core.families.jacket.file import JacketFile
from tinknot.core.families.jacket.recipe import JacketRecipe
from tinknot.core.rulebook import RuleBook


def _recipe(joint: JacketFile, rules: RuleBook, today: date | None, _: Made | None) -> JacketRecipe:
    return JacketRecipe(joint, rules, today)


JACKET = asking(
    "jacket",
    "jacket repair: sheath damaged, cores whole",
    JacketFile,
    _recipe,
    asks=ASKS,
    cautions=(
        (
            "A damaged jacket is often the smaller harm. Look for a core or screen under it before anything"
            " is closed."
        ),
    ),
)
