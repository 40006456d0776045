"""Heat-trace connections to test with: two flat cables, and a file for every example that ships, as
a site has checked it."""

import json
from importlib.resources import files
from typing import Any

from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.joint.tracefile import TraceFile
from tinknot.core.model import parse

HEAT: dict[str, Any] = {
    "construction": "self-regulating",
    "outer_jacket": {"width_mm": 12.4, "thickness_mm": 5.8},
    "braid_mm": 0.4,
    "inner_jacket": {"width_mm": 10.2, "thickness_mm": 4.0},
    "core": {"width_mm": 8.6, "thickness_mm": 2.6},
    "bus_area_mm2": 1.25,
    "bus_od_mm": 1.4,
}
ZONE: dict[str, Any] = {
    "construction": "zone",
    "outer_jacket": {"width_mm": 9.4, "thickness_mm": 6.1},
    "braid_mm": 0.4,
    "inner_jacket": {"width_mm": 7.4, "thickness_mm": 4.3},
    "core": {"width_mm": 6.2, "thickness_mm": 3.2},
    "bus_area_mm2": 2.5,
    "bus_od_mm": 2.1,
    "node_mm": 900,
}
SHEETS: dict[str, dict[str, Any]] = {
    entry.name.removesuffix(".json"): json.loads(entry.read_text(encoding="utf-8")) | {"state": "checked"}
    for entry in sorted(files("tinknot.services.sheets").iterdir(), key=lambda e: e.name)
    if entry.name.startswith("trace-")
}


def body(made_by: str | dict[str, Any] = "trace-end-p1", **changes: Any) -> dict[str, Any]:
    """A joint file made by a sheet that ships, or by one given."""
    given = SHEETS[made_by] if isinstance(made_by, str) else made_by
    zone = "zone" in given["serves"].get("constructions", [])
    return {
        "format": "tinknot-joint",
        "version": 1,
        "family": "heat-trace",
        "rated_voltage_v": 230,
        "ambient_c": 6,
        "cable": ZONE if zone else HEAT,
        "ends": {"A": {"loop_mm": 600}, "B": {"loop_mm": 500}, "C": {}},
        "sheet": given,
    } | changes


def trace(made_by: str | dict[str, Any] = "trace-end-p1", **changes: Any) -> TraceFile:
    """The same, read."""
    return parse(TraceFile, body(made_by, **changes))


def sheet_with(sheet: str, **changes: Any) -> dict[str, Any]:
    """A shipped sheet with places of it changed: `parts__0__length={"mm": 9}` and, a row by its id,
    `layers__inner_tube__reach={"mm": 9}` reach into its leaflet."""
    found: dict[str, Any] = json.loads(json.dumps(SHEETS[sheet]))
    for path, value in changes.items():
        *way, last = path.split("__")
        at: Any = found if way[:1] in (["serves"], []) else found["leaflet"]
        for key in way:
            at = at[_key(at, key)]
        if value is None:
            at.pop(_key(at, last))
        else:
            at[_key(at, last)] = value
    return found


def _key(at: Any, name: str) -> Any:
    if not isinstance(at, list):
        return name
    return int(name) if name.isdigit() else row(at, name.replace("_", "-"))


def row(rows: list[dict[str, Any]], row_id: str) -> int:
    """The place of a row."""
    return next(n for n, x in enumerate(rows) if x["id"] == row_id)


def read(given: dict[str, Any]) -> KitSheet:
    """A sheet, read."""
    return parse(KitSheet, json.dumps(given))
