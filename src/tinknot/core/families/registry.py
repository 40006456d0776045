"""The families there are. Nothing else in the program names one."""

from datetime import date
from typing import Any

from tinknot.core.errors import InputError
from tinknot.core.families.boot import BOOT
from tinknot.core.families.choice import Made
from tinknot.core.families.contract import Family, Recipe
from tinknot.core.families.ground import GROUND
from tinknot.core.families.jacket import JACKET
from tinknot.core.families.screened import SCREENED
from tinknot.core.families.straight import STRAIGHT
from tinknot.core.families.tap import TAP
from tinknot.core.families.trace import TRACE
from tinknot.core.joint.head import JointHead
from tinknot.core.rulebook import RuleBook

FAMILIES: dict[str, Family] = {f.name: f for f in (STRAIGHT, TAP, TRACE, JACKET, GROUND, SCREENED, BOOT)}

USUAL = STRAIGHT.name  # what a new joint is until somebody says otherwise


def family(name: str) -> Family:
    """The family called `name`. Raises InputError at `/family` for one there is not."""
    if name not in FAMILIES:
        raise InputError.at("/family", f"must be one of {', '.join(FAMILIES)}")
    return FAMILIES[name]


TOUCH, OVER_AIR_K = "cool.touch_c", 5.0


def recipe_of(
    joint: JointHead, rules: RuleBook | None = None, today: date | None = None, made: Made | None = None
) -> Recipe[Any]:
    """The recipe of a joint by its family. In hot air what is cool enough to touch rises with it, to the air
    and 5 K: else no wait would ever end (domain 27, law 9). Raises InputError."""
    book = rules or RuleBook.of()
    least = joint.ambient_c + OVER_AIR_K
    if book.number(TOUCH) < least:
        book = RuleBook({**book.own, TOUCH: least})
    found: Recipe[Any] = family_of(joint).recipe(joint, book, today, made)
    return found


def family_of(joint: JointHead) -> Family:
    """The family of a joint file."""
    return family(joint.family)
