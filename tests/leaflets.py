"""Leaflets as they lie in boxes of heat-trace kits, typed row by row: one of each kind of work, in mm and
inch, for the constructions each serves. Figures are invented."""

from typing import Any

Row = dict[str, Any]


def cut(layer: str, mm: float, inch: str | None = None, **more: Any) -> Row:
    return {"kind": "cut", "layer": layer, "length": _figure(mm, inch)} | more


def strip(mm: float, inch: str | None = None, **more: Any) -> Row:
    return {"kind": "strip-core", "length": _figure(mm, inch)} | more


def tube(part: str, onto: float, inch: str | None = None, **more: Any) -> Row:
    return {"kind": "tube", "part": part, "reach": _figure(onto, inch)} | more


def row(kind: str, part: str | None = None, **more: Any) -> Row:
    return {"kind": kind} | ({"part": part} if part else {}) | more


def part(part_id: str, what: str, name: str = "", **more: Any) -> Row:
    sizes = {k: _figure(*more.pop(k)) for k in ("opens", "closes", "length") if k in more}
    return {"id": part_id, "what": what, "name": name or what} | sizes | more


def _figure(mm: float, inch: str | None = None) -> Row:
    return {"mm": mm} | ({"inch": inch} if inch else {})


def sheet(name: str, recipe: str, rows: list[Row], parts: list[Row], **more: Any) -> Row:
    """A draft of one's own; rows are numbered where they have no id."""
    zone = more.pop("zone", False)
    serves = {
        "constructions": ["zone"] if zone else ["self-regulating", "power-limiting"],
        "width_least_mm": 8.5 if zone else 11,
        "width_most_mm": 10.5 if zone else 14,
        "thickness_least_mm": 5.5 if zone else 5,
        "thickness_most_mm": 6.5,
        "bus_least_mm2": 1,
        "bus_most_mm2": 2.5,
        "voltage_most_v": 300,
    }
    numbered = [{"id": f"r{n}"} | r for n, r in enumerate(rows, 1)]
    bend = [{"from_c": -40, "radius_mm": 40}, {"from_c": 0, "radius_mm": 25}]
    leaflet = {"parts": parts, "layers": numbered, "bend": bend, "tools": ["jacket knife"]} | more
    sheet_id = name.lower().replace(",", "").replace(" ", "-")
    return {
        "format": 4,
        "id": sheet_id,
        "name": name,
        "recipe": recipe,
        "state": "checked",
        "serves": serves,
        "leaflet": leaflet,
    }


BOX_READY = [
    row("receive", text="Count the screws too."),
    row("drill", length={"mm": 25, "inch": '1"'}),
    row("base", "B"),
    row("strap", "Y", torque_least_nm=2.0, torque_most_nm=3.0),
    row("pierce", "G"),
]
BOX_PARTS = [
    part("B", "box", "box with its foot"),
    part("Y", "strap", "strap for the pipe", supplied=False, count=2),
    part("G", "grommet", "grommet", width_least_mm=8, width_most_mm=14.5),
    part("K", "terminals", "terminal block"),
    part("W", "tape", "glass tape"),
    part("N", "plug", "plug with seal"),
]
BOX_CLOSED = [
    row("supply", "K", torque_least_nm=1.2, torque_most_nm=1.6),
    row("spare-holes", "N"),
    row("gasket", "B"),
    row("box", "B", torque_least_nm=0.8, torque_most_nm=1.2),
    row("label", text="On the lid, and on the insulation above it."),
]
END_TUBES = [
    part("T1", "tube", "inner tube", opens=(19,), closes=(5,), wall_mm=1.2, length=(110,), lined=True),
    part("T2", "tube", "outer tube", opens=(25,), closes=(6.5,), wall_mm=1.5, length=(175,), lined=True),
    part("W", "tape", "glass tape"),
]

PINCHED = sheet(
    "Own end, pinched",
    "trace-end",
    [
        cut("outer-jacket", 60, '2 3/8"'),
        row("braid-fold", "W"),
        cut("inner-jacket", 35, '1 3/8"', datum="outer-jacket-cut"),
        strip(20, '13/16"', school="wires"),
        cut("bus-2", 9, '3/8"'),
        row("bus-stagger", "W"),
        tube("T1", 22, '7/8"', datum="inner-jacket-cut", pinched=True, hold_s=30),
        row("braid-forward", "W", reach={"mm": 15, "inch": '5/8"'}),
        tube("T2", 35, '1 3/8"', pinched=True, hold_s=30),
    ],
    END_TUBES,
)
CAPPED = sheet(
    "Own end, shrinking cap",
    "trace-end",
    [
        cut("outer-jacket", 25, '1"'),
        row("braid-trim"),
        cut("inner-jacket", 14, '9/16"'),
        strip(12, '1/2"'),
        cut("bus-1", 5, '3/16"'),
        row("bus-stagger", "W"),
        row("cap", "C", reach={"mm": 40, "inch": '1 9/16"'}),
    ],
    [
        part("C", "cap", "cap", opens=(22,), closes=(6,), wall_mm=1.4, length=(70, '2 3/4"'), lined=True),
        part("W", "tape", "glass tape"),
    ],
)
BOOTED = sheet(
    "Own power, boot",
    "trace-power",
    [
        *BOX_READY,
        row("grommet", "G"),
        row("push-back", "G", length={"mm": 20, "inch": '13/16"'}),
        row("loop", "W"),
        cut("outer-jacket", 150, '5 7/8"'),
        row("braid-pigtail", "S"),
        cut("inner-jacket", 120, '4 3/4"'),
        strip(100, '3 15/16"'),
        row("sealant", "P"),
        row("boot", "O", reach={"mm": 12, "inch": '1/2"'}, datum="inner-jacket-cut"),
        row("ferrule", "F", on=["bus-1", "bus-2", "braid"]),
        row("terminals", "K", spring=True),
        row("supply", "K", spring=True),
        *BOX_CLOSED[1:],
    ],
    [
        *BOX_PARTS,
        part("S", "sleeve", "plain sleeve"),
        part("P", "sealant", "sealant", skin_min=12, cure_min=1440, at_c=23, also_c=5, also_skin_min=30)
        | {"also_cure_min": 4320, "least_c": -20},
        part("O", "boot", "boot", width_least_mm=8, width_most_mm=14.5, length=(35, '1 3/8"')),
        part("F", "ferrule", "ferrule", count=3),
    ],
)
FED_THROUGH = sheet(
    "Own power, tubes and feed-through",
    "trace-power",
    [
        *BOX_READY,
        row("grommet", "G"),
        row("tighten", "G", turns=1.5),
        row("loop", "W"),
        cut("outer-jacket", 160, '6 1/4"'),
        row("braid-pigtail"),
        row("wire-sleeve", "S", on=["braid"], length={"mm": 10, "inch": '3/8"'}),
        cut("inner-jacket", 120, '4 3/4"'),
        strip(100, '3 15/16"'),
        row("wire-sleeve", "V", on=["bus-1", "bus-2"], length={"mm": 10, "inch": '3/8"'}),
        tube("T", 25, '1"', datum="inner-jacket-cut", pinched=True, between=True, hold_s=20),
        row("terminals", "K"),
        *BOX_CLOSED,
    ],
    [
        *BOX_PARTS,
        part("S", "sleeve", "green-yellow sleeve"),
        part("V", "tube", "wire tube", count=2, opens=(3.2,), closes=(1,), wall_mm=0.5, length=(90,)),
        part("T", "tube", "core tube", opens=(17,), closes=(4.5,), wall_mm=1.1, length=(60,), lined=True),
    ],
)
RISER = sheet(
    "Own power, riser",
    "trace-power",
    [
        row("receive"),
        row("knock-out"),
        row("base", "B"),
        row("strap", "Y"),
        row("turn"),
        row("grommet", "G"),
        row("loop", "W"),
        cut("outer-jacket", 140, '5 1/2"'),
        row("braid-pigtail", "S"),
        cut("inner-jacket", 105, '4 1/8"'),
        strip(90, '3 9/16"'),
        tube("T", 25, '1"', datum="inner-jacket-cut"),
        row("crimp", "Q"),
        *BOX_CLOSED[1:],
    ],
    [
        *BOX_PARTS[:3],
        *BOX_PARTS[4:],
        part("S", "sleeve", "plain sleeve"),
        part("T", "tube", "core tube", opens=(17,), closes=(4.5,), wall_mm=1.1, length=(60,), lined=True),
        part("Q", "twist-on", "twist-on connector", count=3),
    ],
)
SPLICED = sheet(
    "Own splice, tubes",
    "trace-splice",
    [
        cut("outer-jacket", 95, '3 3/4"'),
        row("braid-pigtail", "S"),
        cut("inner-jacket", 55, '2 3/16"'),
        strip(35, '1 3/8"'),
        cut("bus-2", 20, '13/16"', at="A"),
        cut("bus-1", 20, '13/16"', at="B"),
        row("crimp", "X", joins=["bus-1", "bus-2"]),
        row("tape", "W", at="joint", reach={"mm": 0}, datum="inner-jacket-cut"),
        tube("T5", 25, '1"', at="joint", datum="inner-jacket-cut"),
        row("crimp", "Z", joins=["braid"]),
        tube("T6", 40, '1 9/16"', at="joint"),
    ],
    [
        part("X", "crimp", "crimp for bus wires", count=2, area_least_mm2=0.75, area_most_mm2=2.5),
        part("Z", "crimp", "crimp for the braid"),
        part("T5", "tube", "inner tube", opens=(25,), closes=(6.5,), wall_mm=1.5, length=(160,), lined=True),
        part("T6", "tube", "outer tube", opens=(32,), closes=(7,), wall_mm=1.8, length=(270,), lined=True),
        part("W", "tape", "glass tape"),
        part("S", "sleeve", "plain sleeve", count=2),
    ],
)
ENCLOSED = sheet(
    "Own splice, enclosure",
    "trace-splice",
    [
        row("grommet", "G"),
        cut("outer-jacket", 95, '3 3/4"'),
        row("braid-pigtail", "S"),
        cut("inner-jacket", 60, '2 3/8"'),
        strip(45, '1 3/4"'),
        row("sealant", "P"),
        row("boot", "O", reach={"mm": 12, "inch": '1/2"'}, datum="inner-jacket-cut"),
        row("crimp", "Q"),
        row("gasket", "B"),
        row("box", "B", at="joint"),
    ],
    [
        part("G", "grommet", "grommet", count=2, width_least_mm=8, width_most_mm=14.5),
        part("B", "box", "enclosure with its latch"),
        part("S", "sleeve", "plain sleeve", count=2),
        part("P", "sealant", "sealant", skin_min=12, cure_min=1440, least_c=-20),
        part("O", "boot", "boot", count=2, width_least_mm=8, width_most_mm=14.5, length=(30, '1 3/16"')),
        part("Q", "twist-on", "twist-on connector", count=3),
    ],
)
TEE = sheet(
    "Own tee",
    "trace-tee",
    [
        cut("outer-jacket", 90, '3 9/16"'),
        row("braid-pigtail", "S"),
        cut("inner-jacket", 55, '2 3/16"'),
        strip(40, '1 9/16"'),
        row("crimp", "X"),
        row("tape", "W", at="joint", reach={"mm": 0}, datum="inner-jacket-cut"),
        tube("T7", 45, '1 3/4"', at="joint", pinched=True, hold_s=35),
    ],
    [
        part("X", "crimp", "crimp for three", count=3, area_least_mm2=0.75, area_most_mm2=4),
        part("T7", "tube", "wide tube", opens=(50,), closes=(7,), wall_mm=2, length=(300,), lined=True),
        part("W", "tape", "glass tape"),
        part("S", "sleeve", "plain sleeve", count=3),
    ],
)
ZONED = sheet(
    "Own zone cable, both ends",
    "trace-power-end",
    [
        row("drill", at="A", length={"mm": 25, "inch": '1"'}),
        row("base", "B", at="A"),
        cut("outer-jacket", 35, '1 3/8"', at="B"),
        row("braid-trim", at="B"),
        cut("inner-jacket", 25, '1"', at="B"),
        strip(22, '7/8"', at="B"),
        cut("bus-1", 9, '3/8"', at="B"),
        row("bus-stagger", "W", at="B"),
        row("sealant", "P", at="B"),
        row("cap", "E", at="B", reach={"mm": 15, "inch": '5/8"'}),
        row("grommet", "G", at="A"),
        cut("outer-jacket", 150, '5 7/8"', at="A"),
        row("braid-pigtail", "S", at="A"),
        cut("inner-jacket", 120, '4 3/4"', at="A"),
        strip(100, '3 15/16"', at="A"),
        tube("T", 20, '13/16"', at="A", datum="inner-jacket-cut"),
        cut("bus-insulation", 12, '1/2"', at="A"),
        row("terminals", "K", at="A", torque_least_nm=1.2, torque_most_nm=1.6),
        *[x | {"at": "A"} for x in BOX_CLOSED[:-1]],
        BOX_CLOSED[-1],
    ],
    [
        *[p for p in BOX_PARTS if p["what"] != "strap"],
        part("S", "sleeve", "plain sleeve"),
        part("T", "tube", "core tube", opens=(16,), closes=(3,), wall_mm=1.1, length=(50,), lined=True),
        part("P", "sealant", "sealant", skin_min=12, cure_min=1440, least_c=-20),
        part("E", "cap", "cap", width_most_mm=12, length=(60, '2 3/8"')),
    ],
    zone=True,
)
LEAFLETS: dict[str, Row] = {
    x["id"]: x for x in (PINCHED, CAPPED, BOOTED, FED_THROUGH, RISER, SPLICED, ENCLOSED, TEE, ZONED)
}
