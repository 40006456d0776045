"""Heat-trace connections, splices, tees and end seals, each made by a kit's sheet."""

from collections.abc import Iterator, Mapping
from datetime import date
from typing import Any

from tinknot.core.families.asks import Reading
from tinknot.core.families.choice import Made
from tinknot.core.families.contract import Family
from tinknot.core.families.trace.recipe import TraceRecipe
from tinknot.core.joint.tracedraft import WORDS, questions
from tinknot.core.joint.tracefile import OUTSIDE_IN, TraceFile
from tinknot.core.rulebook import RuleBook


def _recipe(joint: TraceFile, rules: RuleBook, today: date | None, made: Made | None) -> TraceRecipe:
    return TraceRecipe(joint, rules, today, made)


def _readings(draft: Mapping[str, Any]) -> Iterator[Reading]:
    """The flat layers, width and thickness, those of a stand-in called so."""
    played, trace = set(draft.get("simulated", [])), draft.get("trace", {})
    cables = [("cable", "/trace/cable", trace.get("cable", {}))]
    for end, side in trace.get("ends", {}).items():
        if other := (side or {}).get("cable"):
            cables.append((f"cable of {end}", f"/trace/ends/{end}/cable", other))
    for where, at, cable in cables:
        for name in OUTSIDE_IN:
            flat, words = cable.get(name, {}), name.replace("_", " ")
            yield Reading(
                where=where,
                what=f"{words} (simulated)" if f"{at}/{name}/width" in played else words,
                value=str(flat.get("width_mm", "–")),
                across=str(flat.get("thickness_mm", "–")),
            )


MADE = {
    "trace-power": "power connection",
    "trace-splice": "in-line splice",
    "trace-tee": "tee splice",
    "trace-end": "end seal",
    "trace-power-end": "power connection and end seal",
}  # what a kit makes
TRACE = Family(
    "heat-trace",
    "heat-trace: connection, splice, tee or end seal",
    TraceFile,
    _recipe,
    form="flat",
    place="/trace",
    body=lambda draft: dict(draft.get("trace", {})),
    words=WORDS,
    doubts=lambda draft: questions(draft.get("trace", {})),
    readings=_readings,
    sheets=MADE,
    needs_sheet=True,
    cautions=(
        (
            "A heat-trace circuit is live over its whole length, on metal and in the wet: residual-current"
            " protection, always. Tested before and after; discharged after each test."
        ),
    ),
)
