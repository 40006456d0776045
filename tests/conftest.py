"""What every test shares: how many generated cases are tried, passwords that are hashed cheaply, a clock
to set."""

import os
from collections.abc import Iterator

import pytest
from argon2 import PasswordHasher
from hypothesis import settings

from tests.clock import CLOCK, Clock
from tinknot.services import accounts, clock

# every generated case, every kept plan, kills and power loss: `make nightly`; a part of them in `make test`
FULL = os.environ.get("NIGHTLY") == "true"
nightly = pytest.mark.skipif(not FULL, reason="of make nightly")
settings.register_profile("full", deadline=None)
settings.register_profile("part", deadline=None, max_examples=20)
settings.load_profile("full" if FULL else "part")


def cases(many: int) -> settings:
    """`many` generated cases at night, a quarter of them else; none fails for being slow."""
    return settings(max_examples=many if FULL else max(5, many // 4), deadline=None)


@pytest.fixture(scope="session", autouse=True)
def _cheap_hashes() -> Iterator[None]:
    """Passwords are hashed by the same function with the least cost."""
    patch = pytest.MonkeyPatch()
    cheap = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
    patch.setattr(accounts, "_hasher", cheap)
    patch.setattr(accounts, "_DUMMY", cheap.hash("nobody"))
    yield
    patch.undo()


@pytest.fixture
def moving_clock() -> Iterator[Clock]:
    """The services' clock, standing still until it is moved."""
    CLOCK.__init__()
    with clock.telling(CLOCK):
        yield CLOCK
