"""Tools with calibration dates: crimp tools, guns, testers."""

import json
from collections.abc import Collection, Iterable, Mapping
from datetime import date
from typing import Annotated, Literal, get_args

from pydantic import Field

from tinknot.core.errors import Conflict, InputError, NotAllowed, NotFound
from tinknot.core.formulas.heat import DialPoint, gun_setting
from tinknot.core.layers.contract import ToolKind
from tinknot.core.model import Name, Result, Strict
from tinknot.services.accounts import Person
from tinknot.services.clock import now_text
from tinknot.services.days import today
from tinknot.store.database import writing
from tinknot.store.models import Tool

KINDS: tuple[str, ...] = get_args(ToolKind)


class DialIn(Strict):
    """A calibration point of a heat gun: at `dial` it blows `temperature_c`."""

    dial: Annotated[float, Field(ge=0, le=1000)]
    temperature_c: Annotated[float, Field(ge=0, le=1000, description="°C")]


Dials = Annotated[list[DialIn], Field(max_length=50)]


HeatSource = Literal["hot air", "gas", "flame", "infrared"]


class ToolIn(Strict):
    """A tool; `due` is the day its calibration runs out, `calibration` a heat gun's own points, `source` what
    makes its heat. A lighter is none: it marks and burns sleeves."""

    name: Name
    kind: ToolKind
    due: Annotated[date, Field(strict=False)] | None = None
    calibration: Dials = []
    source: HeatSource | None = None


class ToolPatch(Strict):
    """A new due date or new points after calibration, or out of use."""

    due: Annotated[date, Field(strict=False)] | None = None
    retired: bool | None = None
    calibration: Dials | None = None


class DialPointOut(Result):
    """A calibration point."""

    dial: float
    temperature_c: float


class DialOut(Result):
    """Where a gun's dial goes for a temperature in °C; null with a reason where its calibration does not
    reach."""

    tool: str
    heat_c: float
    dial: float | None
    reason: str


class ToolOut(Result):
    """A tool and whether it may be used today; who set its dates last, and when."""

    id: int
    name: str
    kind: str
    due: str | None
    retired: bool
    good: bool
    days_left: int | None
    calibration: list[DialPointOut]
    source: str
    version: int
    set_by: str
    set_at: str


def _points(row: Tool) -> list[DialPointOut]:
    return [DialPointOut(**p) for p in json.loads(row.data).get("calibration", [])]


def _source(row: Tool) -> str:
    """What makes its heat: hot air where nobody said otherwise of a gun, empty for other tools."""
    kept: str = json.loads(row.data).get("source", "hot air" if row.kind == "heat-gun" else "")
    return kept


def _out(row: Tool) -> ToolOut:
    left = (date.fromisoformat(row.due) - today()).days if row.due else None
    return ToolOut(
        id=row.id,
        name=row.name,
        kind=row.kind,
        due=row.due,
        retired=row.retired,
        good=not row.retired and (left is None or left >= 0),
        days_left=left,
        calibration=_points(row),
        source=_source(row),
        version=row.version,
        set_by=row.set_by,
        set_at=row.set_at,
    )


def tools() -> list[ToolOut]:
    """All tools by kind; those in date and longest good first."""
    rows = [_out(r) for r in Tool.select().where(Tool.retired == False)]  # noqa: E712 - peewee needs the comparison
    return sorted(
        rows, key=lambda t: (t.kind, not t.good, -(t.days_left if t.days_left is not None else 10**6), t.name)
    )


def add_tool(given: ToolIn, who: Person) -> ToolOut:
    """A new tool. Raises Conflict when its name is taken."""
    with writing():
        if Tool.select().where(Tool.name == given.name).exists():
            raise Conflict(f"There is a tool {given.name} already.")
        due = given.due.isoformat() if given.due else None
        row = Tool.create(
            name=given.name,
            kind=given.kind,
            due=due,
            data=_data(given.kind, given.calibration, given.source),
            set_by=who.name,
            set_at=now_text(),
        )
    return _out(row)


def set_tool(tool_id: int, given: ToolPatch, version: int, who: Person) -> ToolOut:
    """Change a tool. Whoever works with it may take it out of use; that it is good again, until when and
    how it reads is said by somebody who verifies. Raises NotAllowed for others, Conflict when it was
    changed since `version`."""
    vouches = given.due is not None or given.calibration is not None or given.retired is False
    if vouches and who.role not in ("verifier", "admin"):
        raise NotAllowed(
            "A calibration date is set by a verifier or an admin, who has seen the certificate. You may take"
            " the tool out of use."
        )
    with writing():
        row = Tool.get_or_none(Tool.id == tool_id)
        if row is None:
            raise NotFound("There is no such tool.")
        if row.version != version:
            raise Conflict(
                f"{row.name} was changed by somebody else in the meantime. Look again, then change it."
            )
        if given.due is not None:
            row.due = given.due.isoformat()
        if given.retired is not None:
            row.retired = given.retired
        if given.calibration is not None:
            row.data = _data(row.kind, given.calibration, json.loads(row.data).get("source"))
        row.version, row.set_by, row.set_at = version + 1, who.name, now_text()
        row.save()
    return _out(row)


def _data(kind: str, points: list[DialIn], source: str | None) -> str:
    """Calibration points and heat source as kept. Raises InputError where they contradict each other or
    belong to no gun."""
    if points and kind != "heat-gun":
        raise InputError.at("/calibration", "belongs to a heat gun")
    if source and kind != "heat-gun":
        raise InputError.at("/source", "belongs to what heats")
    if points:
        gun_setting([DialPoint(p.dial, p.temperature_c) for p in points], points[0].temperature_c)
    kept = {"calibration": [p.model_dump() for p in points]} if points else {}
    return json.dumps(kept | ({"source": source} if source else {}))


def dials(targets_c: Iterable[float]) -> list[DialOut]:
    """Every calibrated gun's dial for every temperature asked for."""
    wanted = sorted(set(targets_c))
    found = []
    for row in Tool.select().where((Tool.kind == "heat-gun") & (Tool.retired == False)):  # noqa: E712 - peewee needs the comparison
        points = [DialPoint(p.dial, p.temperature_c) for p in _points(row)]
        for heat in wanted if points else ():
            setting = gun_setting(points, heat)
            found.append(DialOut(tool=row.name, heat_c=heat, dial=setting.dial, reason=setting.reason))
    return found


def unnamed(kinds: Collection[str], named: Mapping[str, str]) -> dict[str, str]:
    """For each of these kinds of tool that nobody named although the site keeps some, that it was not."""
    wanted = set(kinds) - set(named)
    if not wanted:
        return {}
    kept = Tool.select(Tool.kind).where(Tool.kind.in_(wanted) & (Tool.retired == False)).distinct()  # noqa: E712 - peewee needs the comparison
    return {f"unnamed:{row.kind}": "yes" for row in kept}


def facts_of(named: dict[str, str]) -> dict[str, str]:
    """Due dates and heat sources of the tools an event names, by kind. Raises InputError for a tool or kind
    nobody knows."""
    found = {}
    for kind, name in named.items():
        row = Tool.get_or_none(Tool.name == name)
        if row is None or row.kind != kind:
            raise InputError.at(f"/tools/{kind}", f"{name} is no {kind.replace('-', ' ')} of this site")
        if row.retired:
            raise InputError.at(f"/tools/{kind}", f"{name} is out of use")
        if row.due:
            found[f"due:{kind}"] = row.due
        if source := _source(row):
            found[f"source:{kind}"] = source
    return found
