"""One blueprint a resource, all under /api/v1."""

from tinknot.web.api import (
    account,
    board,
    calc,
    fit,
    instruments,
    joints,
    people,
    rules,
    sheets,
    stock,
    tools,
    work,
)

BLUEPRINTS = [
    m.bp for m in (account, people, calc, fit, stock, board, joints, work, rules, sheets, tools, instruments)
]

__all__ = ["BLUEPRINTS"]
