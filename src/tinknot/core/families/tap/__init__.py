"""Taps on a low-voltage main without stripping it."""

from datetime import date

from tinknot.core.families.choice import Made
from tinknot.core.families.contract import Family
from tinknot.core.families.lowvoltage.draft import SHEETS, WORDS, body, doubts, readings
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.tap.recipe import TapRecipe
from tinknot.core.joint.file import JointFile
from tinknot.core.rulebook import RuleBook


def _recipe(joint: JointFile, rules: RuleBook, today: date | None, made: Made | None) -> TapRecipe:
    return TapRecipe(Job(joint, rules, today, made))


TAP = Family(
    "tap-lv",
    "tap without stripping: B on the main A",
    JointFile,
    _recipe,
    form="ends",
    place="",
    body=body,
    words=WORDS,
    doubts=doubts,
    readings=readings,
    sheets=SHEETS,
    branches=True,
)
