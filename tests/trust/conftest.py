"""What the tests of trust stand on: the application of the web tests, and joints built to their release."""

import pytest

from tests.web.conftest import (
    Api,
    _at_the_joints_own_time,
    app,
    application,
    populated,
    runa,
    sign_in,
    stages,
)
from tests.web.test_joint import event, filled, stocked, work_to

__all__ = [
    "_at_the_joints_own_time",
    "app",
    "application",
    "populated",
    "runa",
    "sign_in",
    "stages",
    "stocked",
]


@pytest.fixture
def planned(stages, stocked) -> Api:
    """J-1 planned, nothing done."""
    stages.bring("planned", lambda: _plan(stocked))
    return stocked


def _plan(api: Api) -> None:
    filled(api)
    api("POST", "/joints/J-1/plans", status=201, If_Match='"2"')


@pytest.fixture
def ready(stages, planned) -> Api:
    """J-1 built and proved, to be released."""
    stages.bring("ready", lambda: work_to(planned, "label"))
    return planned


@pytest.fixture
def released(stages, ready, sign_in) -> Api:
    """J-1 released by Eskil."""
    eskil = sign_in("eskil")
    stages.bring("released", lambda: _release(eskil))
    return ready


def _release(api: Api) -> None:
    done = api("POST", "/joints/J-1/events", event("released"), 201)
    assert done["progress"]["state"] == "released"
