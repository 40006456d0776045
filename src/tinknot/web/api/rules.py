"""The rule book."""

from typing import Annotated

from flask import Blueprint
from pydantic import Field

from tinknot.core.model import Name, Result, Strict
from tinknot.services import site
from tinknot.services.effects import RuleEffect, effect_of
from tinknot.services.site import RuleOut
from tinknot.web.http import endpoint

bp = Blueprint("rules", __name__)


class Rules(Result):
    """The rule book; `version` guards edits."""

    items: list[RuleOut]
    version: int


class RuleIn(Strict):
    """A value of the site's own with its reason; null goes back to the default."""

    value: Annotated[float, Field(ge=-1e9, le=1e9)] | list[Name] | None = None
    reason: Annotated[str, Field(max_length=400)] = ""


@endpoint(bp, "GET", "/rules", out=Rules)
def listing() -> Rules:
    """Every rule with its reason and source."""
    return _rules()


def _rules() -> Rules:
    return Rules(items=site.rules(), version=site.rules_version())


@endpoint(bp, "PUT", "/rules/<key>", body=RuleIn, out=Rules, role="admin", guarded=True)
def change(key: str, body: RuleIn, version: int) -> Rules:
    """Set a rule for this site."""
    site.set_rule(key, body.value, body.reason, version)
    return _rules()


class RuleTry(Strict):
    """A value to try; null for the default."""

    value: Annotated[float, Field(ge=-1e9, le=1e9)] | list[Name] | None = None


@endpoint(bp, "POST", "/rules/<key>/effect", body=RuleTry, out=RuleEffect, heavy=True)
def effect(key: str, body: RuleTry) -> RuleEffect:
    """Which open joints would be planned differently; nothing is stored."""
    return effect_of(key, body.value)
