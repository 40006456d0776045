"""What the tests of trust stand on: the application of the web tests, and joints built to their release."""

import pytest

from tests.web.conftest import Api, _at_the_joints_own_time, app, populated, runa, sign_in
from tests.web.test_joint import event, filled, stocked, work_to

__all__ = ["_at_the_joints_own_time", "app", "populated", "runa", "sign_in", "stocked"]


@pytest.fixture
def planned(stocked) -> Api:
    """J-1 planned, nothing done."""
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    return stocked


@pytest.fixture
def ready(planned) -> Api:
    """J-1 built and proved, to be released."""
    work_to(planned, "label")
    return planned


@pytest.fixture
def released(ready, sign_in) -> Api:
    """J-1 released by Eskil."""
    done = sign_in("eskil")("POST", "/joints/J-1/events", event("released"), 201)
    assert done["progress"]["state"] == "released"
    return ready
