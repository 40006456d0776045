"""One blueprint a resource, all under /api/v1."""

from tinknot.web.api import (
    account,
    board,
    calc,
    families,
    fit,
    instruments,
    joints,
    people,
    rules,
    sheets,
    site,
    stock,
    tools,
    work,
)

RESOURCES = (
    account,
    people,
    families,
    calc,
    fit,
    stock,
    board,
    joints,
    work,
    rules,
    site,
    sheets,
    tools,
    instruments,
)
BLUEPRINTS = [m.bp for m in RESOURCES]

__all__ = ["BLUEPRINTS"]
