"""The formats of everything that is stored, and what each number changed. A change of a stored model adds
an upgrade here; a fixture under tests/fixtures holds documents of every format there was."""

from typing import Any

from tinknot.core.files.format import Body, Format
from tinknot.core.files.sheetrows import cuts_as_rows, free_id, noted


def _plan_2(body: Body) -> Body:
    """A heat-trace plan says the fixing tape; before, the leaflet had no word for it."""
    trace = body.get("trace")
    if trace is None:
        return body
    return body | {"trace": {"fixing_tape": ""} | trace}


def _sheet_2(body: Body) -> Body:
    """Layers of a leaflet lost the field `hold`, which nothing read."""
    leaflet = body.get("leaflet")
    if not isinstance(leaflet, dict) or not isinstance(leaflet.get("layers"), list):
        return body
    layers = [_without(layer, "hold") for layer in leaflet["layers"]]
    return body | {"leaflet": leaflet | {"layers": layers}}


def _sheet_3(body: Body) -> Body:
    """A row of crimps says what it joins, and crimps are counted. Where an inner tube closes over the joined
    wires, the braid is joined after it: no tube comes under a braid that is joined over its place. The sheet
    says so."""
    leaflet = body.get("leaflet")
    rows = leaflet.get("layers") if isinstance(leaflet, dict) else None
    if not isinstance(leaflet, dict) or not isinstance(rows, list):
        return body
    wires = next((n for n, x in enumerate(rows) if _is(x, kind="crimp") and not x.get("joins")), None)
    if wires is None:
        return body
    row, notes = rows[wires], []
    inner = [n for n, x in enumerate(rows) if _is(x, kind="tube", at="joint", datum="inner-jacket-cut")]
    if inner and inner[-1] > wires:
        own = {"id": free_id(f"{row['id'][:34]}-braid", rows), "joins": ["braid"], "at": "joint"}
        rows = [*rows[: inner[-1] + 1], row | own, *rows[inner[-1] + 1 :]]
        rows[wires] = row | {"joins": ["bus-1", "bus-2"]}
        notes.append("the braid is joined in a row of its own, over the inner tube")
    parts = leaflet.get("parts", [])
    few = [n for n, p in enumerate(parts) if _is(p, id=row.get("part")) and p.get("count", 1) < JOINS]
    if few:
        parts = [p | {"count": JOINS} if n in few else p for n, p in enumerate(parts)]
        notes.append(f"{JOINS} crimps are counted, one a join")
    return body | {"leaflet": noted(leaflet | {"layers": rows, "parts": parts}, notes)}


JOINS = 3  # both bus wires and the braid


def _is(row: Any, **like: Any) -> bool:
    return isinstance(row, dict) and all(row.get(k) == v for k, v in like.items())


def _without(layer: Any, key: str) -> Any:
    return {k: v for k, v in layer.items() if k != key} if isinstance(layer, dict) else layer


def _made_2(body: Body) -> Body:
    """Facts of the work name the side of every cover; before there was one cover, and one side."""
    if "outer_side" not in body:
        return body
    side = body["outer_side"]
    rest = {k: v for k, v in body.items() if k != "outer_side"}
    return rest | {"sides": {"outer-sleeve": side} if side else None}


def _as_it_was(body: Body) -> Body:
    """The document says its number, or rules that judge it changed; its fields did not."""
    return body


PLAN = Format("plan", (_plan_2,))
SHEET = Format("kit sheet", (_sheet_2, _sheet_3, cuts_as_rows))
MADE = Format("record of what is built", (_made_2,))
DRAFT = Format("draft", (_as_it_was,))
EVENT = Format("event", (_as_it_was, _as_it_was, _as_it_was))
