"""Kept joints of every family that the examples have few of, bent from those other tests are built on, and
five of every family half-built. Seeded, so that the same files come out each time."""

import json
import random
from collections.abc import Iterator
from copy import deepcopy
from dataclasses import asdict
from datetime import datetime
from typing import Any

from tests import boot, ground, jacket, screened
from tests.core.test_progress import Log
from tests.golden import cases
from tinknot.core.errors import InputError
from tinknot.core.families.file import file_of
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint
from tinknot.core.work.folding import fold
from tinknot.core.work.made import made

MANY, HALF_BUILT = 30, 5
APART = {"stock", "sheet", "choice", "build"}  # of a file: what is not measured
BASES: dict[str, list[dict[str, Any]]] = {
    "jacket": [jacket.EXAMPLE | more for more in jacket.REPAIRS.values()],
    "screen-ground": [ground.EXAMPLE | more for more in ground.GROUNDS.values()],
    "screened": [screened.EXAMPLE | more for more in screened.SCREENS.values()],
    "boot": list(boot.BOOTS.values()),
}
MADE_SO = {"tap-lv": cases._tap, "heat-trace": cases._trace, "straight-lv": cases._straight}


def bent(pick: random.Random, given: dict[str, Any]) -> dict[str, Any]:
    """A file with every measured length a little other, and another day."""

    def go(value: Any, key: str) -> Any:
        if isinstance(value, dict):
            return {k: v if k in APART else go(v, k) for k, v in value.items()}
        if isinstance(value, list):
            return [go(v, key) for v in value]
        if key.endswith("_mm") and isinstance(value, (int, float)) and not isinstance(value, bool):
            return round(value * pick.uniform(0.98, 1.02), 2)
        return value

    found: dict[str, Any] = go(deepcopy(given), "")
    return {k: v for k, v in found.items() if v is not None} | {"ambient_c": pick.choice((2, 9, 14, 22))}


def joints(family: str) -> Iterator[tuple[str, dict[str, Any], Plan]]:
    """`MANY` joints of a family that can be planned, each with its plan."""
    pick, number, tried = random.Random(f"kept/{family}"), 0, 0
    while number < MANY and tried < 40 * MANY:
        bases = BASES.get(family)
        given = bent(pick, bases[tried % len(bases)]) if bases else MADE_SO[family](pick)
        tried += 1
        try:
            plan = plan_joint(file_of(json.dumps(given)))
        except InputError:  # bent too far, or nothing in stock joins these
            continue
        number += 1
        yield f"{family} {number}", given, plan


def worked(plan: Plan, share: float) -> dict[str, Any] | None:
    """The facts of a plan that is built up to a share of its steps; None where nothing of it is a fact
    yet."""
    log = Log(plan)
    for s in plan.steps[: max(1, int(share * len(plan.steps)))]:
        values = {
            g.id: (g.least or 0) * 100 if g.least else (g.most or g.target or 0)
            for g in s.gates
            if g.required
        }
        waits = max((t.least_min or 0.0 for t in s.timers), default=0.0)
        hurry = min((t.most_min for t in s.timers if t.most_min is not None), default=6.0)
        if s.cure and (cures := fold(plan, log.events).cures):
            log.at = datetime.fromisoformat(cures[0].full_at or log.at.isoformat())
        log.add("done", s.id, values=values, minutes=max(min(6.0, hurry), waits))
    facts = asdict(made(plan, fold(plan, log.events)))
    return facts | {"centres_mm": list(facts["centres_mm"])}


def all_cases() -> Iterator[tuple[str, dict[str, Any], Any]]:
    """Name, file and facts of every one."""
    for family in (*BASES, *MADE_SO):
        planned = [(name, given, plan) for name, given, plan in joints(family)]
        if family != "straight-lv":  # of these the generated ones are enough
            yield from ((name, given, None) for name, given, _ in planned)
        fits = [p for p in planned if p[2].verdict == "planned"]
        for n in range(HALF_BUILT):
            name, given, plan = fits[n * len(fits) // HALF_BUILT]
            yield f"{name} half-built {n + 1}", given, worked(plan, (0.2, 0.4, 0.55, 0.7, 0.9)[n])
