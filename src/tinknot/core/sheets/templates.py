"""The usual kinds of heat-trace kits as sheets without figures, to type a leaflet into: its rows in the order
in which such leaflets tell them, its parts by what they are."""

from functools import lru_cache
from typing import Any

from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.model import parse

Row = dict[str, Any]
PARTS: dict[str, Row] = {
    "B": {"what": "box", "name": "box"},
    "E": {"what": "box", "name": "enclosure"},
    "G": {"what": "grommet", "name": "grommet"},
    "S": {"what": "sleeve", "name": "plain sleeve"},
    "K": {"what": "terminals", "name": "terminals"},
    "W": {"what": "tape", "name": "tape"},
    "P": {"what": "sealant", "name": "sealant"},
    "O": {"what": "boot", "name": "boot"},
    "C": {"what": "cap", "name": "end cap", "lined": True},
    "D": {"what": "cap", "name": "end cap"},
    "T": {"what": "tube", "name": "core tube", "lined": True},
    "I": {"what": "tube", "name": "inner tube", "lined": True},
    "J": {"what": "tube", "name": "outer tube", "lined": True},
    "X": {"what": "crimp", "name": "crimps"},
    "Q": {"what": "twist-on", "name": "twist-on connectors"},
    "Y": {"what": "strap", "name": "strap", "supplied": False},
    "N": {"what": "plug", "name": "plug"},
}  # by their marks
WIRES = ["bus-1", "bus-2"]


def _cut(layer: str, **more: Any) -> Row:
    return {"kind": "cut", "layer": layer, "datum": "cable-end"} | more


def _row(kind: str, part: str = "", **more: Any) -> Row:
    return {"kind": kind} | ({"part": part} if part else {}) | more


def _opened(braid: Row, *, bus: str = "") -> list[Row]:
    """An end laid open down to its bus wires; `bus` cut shorter."""
    rows = [_cut("outer-jacket"), braid, _cut("inner-jacket"), _row("strip-core", datum="cable-end")]
    return rows + ([_cut(bus)] if bus else [])


PIGTAIL, FOLD, TRIM = _row("braid-pigtail", "S"), _row("braid-fold", "W"), _row("braid-trim")
CORE_TUBE = _row("tube", "T", datum="inner-jacket-cut")
LANDED = [_row("terminals", "K"), _row("supply", "K")]
CLOSED = [_row("spare-holes", "N"), _row("gasket", "B"), _row("box", "B"), _row("label")]
PINCHED = [
    _row("bus-stagger", "W"),
    _row("tube", "I", datum="inner-jacket-cut", pinched=True),
    _row("braid-forward", "W"),
    _row("tube", "J", pinched=True),
]
BOTH = {"at": "joint"}
OVER_WIRES = [
    _row("tape", "W", **BOTH, datum="inner-jacket-cut"),
    _row("tube", "I", **BOTH, datum="inner-jacket-cut"),
]
ON_PIPE = [_row("receive"), _row("base", "B"), _row("strap", "Y"), _row("pierce", "G"), _row("grommet", "G")]
ZONE_END = [*_opened(TRIM, bus="bus-1"), _row("bus-stagger", "W"), _row("sealant", "P"), _row("cap", "D")]
ZONE_FED = [*_opened(PIGTAIL), CORE_TUBE, {"kind": "cut", "layer": "bus-insulation"}, *LANDED, *CLOSED[:-1]]

USUAL: dict[str, tuple[str, list[Row]]] = {
    "power connection in a box, above the insulation": (
        "trace-power",
        [*ON_PIPE, _row("loop", "W"), *_opened(PIGTAIL), CORE_TUBE, *LANDED, *CLOSED],
    ),
    "power connection in a box, below the insulation": (
        "trace-power",
        [
            *ON_PIPE,
            _row("turn"),
            *_opened(PIGTAIL),
            _row("sealant", "P"),
            _row("boot", "O"),
            *LANDED,
            *CLOSED,
        ],
    ),
    "end seal by pinched tubes": ("trace-end", [*_opened(FOLD, bus="bus-1"), *PINCHED]),
    "end seal by a cap that shrinks": (
        "trace-end",
        [*_opened(TRIM, bus="bus-1"), _row("bus-stagger", "W"), _row("cap", "C")],
    ),
    "end seal by a cap that is pushed on": (
        "trace-end",
        [*_opened(TRIM, bus="bus-1"), _row("bus-stagger", "W"), _row("sealant", "P"), _row("cap", "D")],
    ),
    "splice by tubes": (
        "trace-splice",
        [
            *_opened(PIGTAIL),
            _cut("bus-2", at="A"),
            _cut("bus-1", at="B"),
            _row("crimp", "X", **BOTH, joins=WIRES),
            *OVER_WIRES,
            _row("crimp", "X", **BOTH, joins=["braid"]),
            _row("tube", "J", **BOTH),
        ],
    ),
    "splice in an enclosure": (
        "trace-splice",
        [
            _row("grommet", "G"),
            *_opened(PIGTAIL),
            _row("sealant", "P"),
            _row("boot", "O"),
            _row("crimp", "Q", **BOTH),
            _row("gasket", "E"),
            _row("box", "E", **BOTH),
            _row("label"),
        ],
    ),
    "tee by a tube": (
        "trace-tee",
        [
            *_opened(PIGTAIL),
            _row("crimp", "X", **BOTH),
            _row("tape", "W", **BOTH, datum="inner-jacket-cut"),
            _row("tube", "J", **BOTH, pinched=True),
        ],
    ),
    "tee in an enclosure": (
        "trace-tee",
        [
            _row("grommet", "G"),
            *_opened(PIGTAIL),
            _row("sealant", "P"),
            _row("boot", "O"),
            _row("crimp", "Q", **BOTH),
            _row("box", "E", **BOTH),
            _row("label"),
        ],
    ),
    "zone cable, far end and power end": (
        "trace-power-end",
        [
            *[x | {"at": "B"} for x in ZONE_END],
            *[x | {"at": "A"} for x in [*ON_PIPE[1:], *ZONE_FED]],
            CLOSED[-1],
        ],
    ),
}  # by what the kit makes, in the words of its box


@lru_cache(maxsize=1)
def templates() -> tuple[KitSheet, ...]:
    """Each as a draft, named by what it makes."""
    return tuple(_sheet(n, name, recipe, rows) for n, (name, (recipe, rows)) in enumerate(USUAL.items(), 1))


def _sheet(n: int, name: str, recipe: str, rows: list[Row]) -> KitSheet:
    used = list(dict.fromkeys(x["part"] for x in rows if "part" in x))
    zone = {"constructions": ["zone"]} if "zone" in name else {}
    body = {
        "format": 4,
        "id": f"template-{n}",
        "name": name,
        "recipe": recipe,
        "serves": zone,
        "leaflet": {
            "parts": [{"id": mark} | PARTS[mark] for mark in used],
            "layers": [{"id": f"r{k}"} | x for k, x in enumerate(rows, 1)],
        },
    }
    return parse(KitSheet, body)
