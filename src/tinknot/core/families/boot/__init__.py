"""Moulded parts: boots, breakouts, straight shapes and caps, with what makes them tight."""

from datetime import date

from tinknot.core.families.boot.asks import ASKS
from tinknot.core.families.boot.file import BootFile
from tinknot.core.families.boot.recipe import BootRecipe
from tinknot.core.families.choice import Made
from tinknot.core.families.contract import asking
from tinknot.core.rulebook import RuleBook


def _recipe(joint: BootFile, rules: RuleBook, today: date | None, made: Made | None) -> BootRecipe:
    return BootRecipe(joint, rules, today, begun=bool(made and made.done))


BOOT = asking(
    "boot",
    "boot, breakout or cap",
    BootFile,
    _recipe,
    asks=ASKS,
    cautions=(
        "Old plating may be cadmium: never abrade it.",
        "Epoxy makes skin allergic for good: gloves.",
    ),
)
