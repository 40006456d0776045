"""Tools with calibration dates: crimp tools, guns, testers."""

from datetime import date
from typing import Annotated, get_args

from pydantic import Field

from tinknot.core.errors import Conflict, InputError, NotFound
from tinknot.core.layers.contract import ToolKind
from tinknot.core.model import Name, Result, Strict
from tinknot.services.clock import today
from tinknot.store.database import writing
from tinknot.store.models import Tool

KINDS: tuple[str, ...] = get_args(ToolKind)


class ToolIn(Strict):
    """A tool; `due` is the day its calibration runs out."""

    name: Name
    kind: ToolKind
    due: Annotated[date, Field(strict=False)] | None = None


class ToolPatch(Strict):
    """A new due date after calibration, or out of use."""

    due: Annotated[date, Field(strict=False)] | None = None
    retired: bool | None = None


class ToolOut(Result):
    """A tool and whether it may be used today."""

    id: int
    name: str
    kind: str
    due: str | None
    retired: bool
    good: bool
    days_left: int | None


def _out(row: Tool) -> ToolOut:
    left = (date.fromisoformat(row.due) - today()).days if row.due else None
    return ToolOut(
        id=row.id, name=row.name, kind=row.kind, due=row.due, retired=row.retired,
        good=not row.retired and (left is None or left >= 0), days_left=left,
    )  # fmt: skip


def tools() -> list[ToolOut]:
    """All tools by kind; those in date and longest good first."""
    rows = [_out(r) for r in Tool.select().where(Tool.retired == False)]  # noqa: E712 - peewee needs the comparison
    return sorted(
        rows, key=lambda t: (t.kind, not t.good, -(t.days_left if t.days_left is not None else 10**6), t.name)
    )


def add_tool(given: ToolIn) -> ToolOut:
    """A new tool. Raises Conflict when its name is taken."""
    with writing():
        if Tool.select().where(Tool.name == given.name).exists():
            raise Conflict(f"There is a tool {given.name} already.")
        row = Tool.create(name=given.name, kind=given.kind, due=given.due.isoformat() if given.due else None)
    return _out(row)


def set_tool(tool_id: int, given: ToolPatch) -> ToolOut:
    """Change a tool."""
    row = Tool.get_or_none(Tool.id == tool_id)
    if row is None:
        raise NotFound("There is no such tool.")
    with writing():
        if given.due is not None:
            row.due = given.due.isoformat()
        if given.retired is not None:
            row.retired = given.retired
        row.save()
    return _out(row)


def facts_of(named: dict[str, str]) -> dict[str, str]:
    """Due dates of the tools an event names, by kind. Raises InputError for a tool or kind nobody knows."""
    found = {}
    for kind, name in named.items():
        row = Tool.get_or_none(Tool.name == name)
        if row is None or row.kind != kind:
            raise InputError.at(f"/tools/{kind}", f"{name} is no {kind.replace('-', ' ')} of this site")
        if row.retired:
            raise InputError.at(f"/tools/{kind}", f"{name} is out of use")
        if row.due:
            found[f"due:{kind}"] = row.due
    return found
