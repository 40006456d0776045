"""The calculators over HTTP: the same models as the command line."""

from flask import Blueprint

from tinknot.core.calc import CALCULATORS, Calculator
from tinknot.core.model import Result
from tinknot.web.http import endpoint

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


def _register(c: Calculator) -> None:
    def view(body: object) -> Result:
        return c.compute(body)

    view.__doc__, view.__name__ = c.title, c.name.replace("-", "_")
    endpoint(bp, "POST", f"/calc/{c.name}", body=c.takes, out=c.gives, role=None)(view)


for _calculator in CALCULATORS.values():
    _register(_calculator)
