"""Every order that a plan allows: each step once as early and once as late as its needs let it come. At night
also of joints that nobody has seen before."""

import json
import random
from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from typing import Any

import pytest

from tests.conftest import FULL, nightly
from tests.golden import families
from tests.world.plans import EXAMPLES, Told, of_file, planned, told
from tinknot.core.errors import InputError
from tinknot.core.families.file import file_of
from tinknot.core.layers.contract import Step
from tinknot.core.world.found import Found
from tinknot.core.world.play import judged, orders

A_NIGHT = 12  # joints of every family
WEATHER = (42.0, -20.0, 35.0, 5.0)


def more(steps: Sequence[Step], found: Found) -> Told:
    """What some order breaks that planning did not tell."""
    said = {(b.law, b.step, b.place) for b in judged(steps, found)}
    return {b for order in orders(steps) for b in told(order, found, shown=False) if b[:3] not in said}


@pytest.mark.parametrize("name", EXAMPLES if FULL else list(EXAMPLES)[::4])
def test_no_order_that_is_allowed_breaks_more_than_planning_tells(name: str):
    steps, found = planned(name)
    assert more(steps, found) == set()
    for order in orders(steps):
        assert sorted(s.id for s in order) == sorted(s.id for s in steps)
        done: set[str] = set()
        for s in order:
            assert done.issuperset(s.after), f"{s.id} comes before what it waits for"
            done.add(s.id)


def strange(family: str) -> Iterator[dict[str, Any]]:
    """Joints of a family as this day's seed makes them: also one core, no protective conductor, both ends
    landed, hot and cold days, unlike ends."""
    pick, made = random.Random(f"{datetime.now(UTC).date()}/{family}"), 0
    bases = families.BASES.get(family)
    for turn in range(20 * A_NIGHT):
        given = families.bent(pick, bases[turn % len(bases)]) if bases else families.MADE_SO[family](pick)
        given["ambient_c"] = WEATHER[turn % len(WEATHER)]
        ends = given.get("ends", {})
        if turn % 3 == 0:
            for core in (c for e in ends.values() for c in e.get("cores", [])):
                if core.get("colour") == "green-yellow":
                    core["colour"] = "black"
        if turn % 5 == 0 and "landed" in given:
            given["landed"] = "both" if family != "boot" else "yes"
        if turn % 4 == 0 and "B" in ends and ends["B"].get("sheath_od_mm"):
            ends["B"]["sheath_od_mm"] = round(ends["B"]["sheath_od_mm"] * 1.08, 1)
        try:
            solved = of_file(file_of(json.dumps(given)))
        except InputError:  # nothing in stock joins these, or it contradicts itself
            continue
        if solved is not None:
            made += 1
            yield given
        if made == A_NIGHT:
            return


@nightly
@pytest.mark.parametrize("family", [*families.BASES, *families.MADE_SO])
def test_nor_of_a_joint_that_nobody_has_seen_before(family: str):
    seen = 0
    for given in strange(family):
        solved = of_file(file_of(json.dumps(given)))
        assert solved is not None
        assert more(*solved) == set(), json.dumps(given)
        seen += 1
    assert seen == A_NIGHT
