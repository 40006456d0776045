"""Heat-trace connections, splices, tees and end seals, each made by a kit's sheet."""

from datetime import date

from tinknot.core.families.choice import Made
from tinknot.core.families.contract import Family
from tinknot.core.families.trace.recipe import TraceRecipe
from tinknot.core.joint.tracefile import TraceFile
from tinknot.core.rulebook import RuleBook


def _recipe(joint: TraceFile, rules: RuleBook, today: date | None, _: Made | None) -> TraceRecipe:
    return TraceRecipe(joint, rules, today)


TRACE = Family("heat-trace", "heat-trace: connection, splice, tee or end seal", TraceFile, _recipe)
