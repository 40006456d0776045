"""The formats of everything that is stored, and what each number changed. A change of a stored model adds
an upgrade here; a fixture under tests/fixtures holds documents of every format there was."""

from typing import Any

from tinknot.core.files.format import Body, Format


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
SHEET = Format("kit sheet", (_sheet_2,))
MADE = Format("record of what is built", (_made_2,))
DRAFT = Format("draft", (_as_it_was,))
EVENT = Format("event", (_as_it_was, _as_it_was, _as_it_was))
