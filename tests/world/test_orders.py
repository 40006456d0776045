"""Every order that a plan allows: each step once as early and once as late as its needs let it come."""

import pytest

from tests.conftest import FULL
from tests.world.plans import EXAMPLES, planned, told
from tinknot.core.world.play import orders


@pytest.mark.parametrize("name", EXAMPLES if FULL else list(EXAMPLES)[::4])
def test_no_order_that_is_allowed_breaks_more_than_the_one_shown(name: str):
    steps, found = planned(name)
    shown = told(steps, found)
    for order in orders(steps):
        assert sorted(s.id for s in order) == sorted(s.id for s in steps)
        done: set[str] = set()
        for s in order:
            assert done.issuperset(s.needs), f"{s.id} comes before what it waits for"
            done.add(s.id)
        assert {b[:3] for b in told(order, found)} <= {b[:3] for b in shown}
