"""Where a draft has gone away from what was planned: readings or choices changed since."""

from collections.abc import Iterator
from typing import Any

from tinknot.core.figures import capital
from tinknot.core.joint.head import JointHead

NOT_WORKED_TO = {"format", "version", "ref", "title", "stock", "sheet"}  # names, and what lies on the shelf
UNITS = {"mm": "mm", "mm2": "mm²", "m": "m", "c": "°C", "a": "A", "s": "s", "v": "V"}


def departures(planned: JointHead, drafted: JointHead) -> list[str]:
    """Every figure or choice that differs, in words: `End A, sheath OD: planned with
    26.2 mm, now 61.7 mm`. Empty when the plan
    was made from what is drafted. Stock and names are no part of it; a kit sheet counts by its id."""
    was, now = (
        f.model_dump(mode="json", by_alias=True, exclude=NOT_WORKED_TO)
        | {"sheet": f.sheet.id if f.sheet else None}
        for f in (planned, drafted)
    )
    return list(_differing(was, now, ()))


def _differing(was: Any, now: Any, path: tuple[str, ...]) -> Iterator[str]:
    if isinstance(was, dict) and isinstance(now, dict):
        for key in [*was, *(k for k in now if k not in was)]:
            yield from _differing(was.get(key), now.get(key), (*path, key))
    elif isinstance(was, list) and isinstance(now, list) and len(was) == len(now):
        for place, (old, new) in enumerate(zip(was, now, strict=True), 1):
            name = old.get("name", str(place)) if isinstance(old, dict) else str(place)
            yield from _differing(old, new, (*path, name))
    elif was != now:
        where, unit = _named(path)
        yield f"{where}: planned with {_said(was, unit)}, now {_said(now, unit)}"


def _named(path: tuple[str, ...]) -> tuple[str, str]:
    """A place in words, and its unit: `End A, core 1, insulation OD` in mm."""
    *way, last = path
    words, _, tail = last.rpartition("_")
    unit = UNITS.get(tail, "") if words else ""
    where = "/".join((*way, words if unit else last))
    for prefix, said in (("ends/", "end "), ("cores/", "core ")):
        where = where.replace(prefix, said)
    where = where.replace("_", " ").replace("/", ", ").replace(" od", " OD")
    return capital(where), unit


def _said(value: Any, unit: str) -> str:
    if value in (None, "", [], {}):
        return "nothing"
    if isinstance(value, float):
        return f"{value:g} {unit}".strip()
    return "something else" if isinstance(value, (dict, list)) else str(value)
