"""The calculators over HTTP: the same models as the command line."""

from threading import BoundedSemaphore

from flask import Blueprint, Response
from flask_login import current_user

from tinknot.core.calc import CALCULATORS, Calculator
from tinknot.core.model import Result
from tinknot.web.http import endpoint, waiting

bp = Blueprint("calc", __name__)


class Listed(Result):
    name: str
    title: str


class Listing(Result):
    items: list[Listed]


@endpoint(bp, "GET", "/calc", out=Listing, role=None)
def listing() -> Listing:
    """The calculators."""
    return Listing(items=[Listed(name=c.name, title=c.title) for c in CALCULATORS.values()])


HEAVY = ("plan", "bundle", "stagger", "sleeve-choose", "resin-fill")  # those that search
_for_anybody = BoundedSemaphore(1)  # those who are not signed in calculate one after the other


def _register(c: Calculator) -> None:
    def view(body: object) -> Result | Response:
        if current_user.is_authenticated:
            return c.compute(body)
        if not _for_anybody.acquire(blocking=False):
            return waiting(1, "Somebody else who is not signed in is calculating. Sign in, or try again.")
        try:
            return c.compute(body)
        finally:
            _for_anybody.release()

    view.__doc__, view.__name__ = c.title, c.name.replace("-", "_")
    endpoint(bp, "POST", f"/calc/{c.name}", body=c.takes, out=c.gives, role=None, heavy=c.name in HEAVY)(view)


for _calculator in CALCULATORS.values():
    _register(_calculator)
