"""The kept plans, and what of a kept plan is no longer so."""

import json
import lzma
import re
from collections.abc import Iterator
from datetime import date
from functools import cache
from math import isclose
from pathlib import Path
from typing import Any

from tinknot.core.families.choice import Made
from tinknot.core.families.file import file_of
from tinknot.core.planning.solve import plan_joint

PATH = Path(__file__).with_name("plans.json.xz")
BROKEN = Path(__file__).with_name("broken.json")
TODAY = date(2026, 11, 26)


@cache
def kept() -> dict[str, dict[str, Any]]:
    """Every kept case by its name: `file`, `today`, `made` (facts of work already done, or None) and
    `plan`."""
    return {case["name"]: case for case in json.loads(lzma.decompress(PATH.read_bytes()))}


@cache
def broken() -> dict[str, list[str]]:
    """The one list of kept plans that break a law of the work, each with the laws and the kinds of step. It
    may only shrink: a plan that is put right leaves it, and none comes on to it."""
    found: dict[str, list[str]] = json.loads(BROKEN.read_text(encoding="utf-8"))
    return found


def breaks_of(plan: dict[str, Any]) -> list[str]:
    """Which laws a plan breaks in which kinds of step; cores and numbers do not count."""
    return sorted({f"{b['law']} {re.sub(r'[0-9]+', '#', b['step'])}" for b in plan["breaks"]})


def planned(case: dict[str, Any]) -> dict[str, Any]:
    """The plan of a case as it comes out now. Raises InputError."""
    facts = case["made"] and Made(**(case["made"] | {"centres_mm": tuple(case["made"]["centres_mm"])}))
    joint = file_of(json.dumps(case["file"]))
    plan = plan_joint(joint, None, date.fromisoformat(case["today"]), facts)
    return json.loads(plan.model_dump_json())


def waits_for(plan: dict[str, Any]) -> dict[str, Any]:
    """A plan whose steps say all that they wait for, directly or not, in place of their own lists: a need
    that follows from others may stand or not. What its order breaks has a list of its own."""
    needs = {s["id"]: set(s["needs"]) for s in plan["steps"]}
    known: dict[str, set[str]] = {}
    for step in plan["steps"]:  # in an order in which they can be worked
        own = needs[step["id"]]
        known[step["id"]] = own.union(*(known.get(n, set()) for n in own))
    kept = {k: v for k, v in plan.items() if k not in ("breaks", "laws")}
    return kept | {"steps": [s | {"needs": sorted(known[s["id"]])} for s in plan["steps"]]}


def lost(was: Any, now: Any, path: str = "") -> Iterator[str]:
    """What of `was` is missing or different in `now`; fields that were added are no difference."""
    if isinstance(was, dict) and isinstance(now, dict):
        for key, value in was.items():
            if key in now:
                yield from lost(value, now[key], f"{path}/{key}")
            else:
                yield f"{path}/{key} is gone"
    elif isinstance(was, list) and isinstance(now, list):
        if len(was) != len(now):
            yield f"{path} had {len(was)} entries, has {len(now)}"
        for place, (old, new) in enumerate(zip(was, now, strict=False)):
            yield from lost(old, new, f"{path}/{place}")
    elif _number(was) and _number(now):
        if not isclose(was, now, rel_tol=1e-9, abs_tol=1e-9):
            yield f"{path}: {was!r} is {now!r} now"
    elif type(was) is not type(now) or was != now:
        yield f"{path}: {was!r} is {now!r} now"


def _number(value: Any) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool)
