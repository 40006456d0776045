"""The joints of the Skarn funicular, an invented mountain railway."""

from dataclasses import dataclass, field
from typing import Any

COLOURS = {1: ("brown",), 3: ("brown", "blue", "green-yellow"), 4: ("brown", "black", "grey", "green-yellow"),
           5: ("brown", "black", "grey", "blue", "green-yellow")}  # fmt: skip


@dataclass(frozen=True)
class Site:
    """One joint of the scenario, lengths in mm. `until` is the last step done (None: planned, empty: not even
    measured), `fault` what was seen after it, `kept` why one figure stayed outside its tolerance."""

    ref: str
    title: str
    line: int
    at_m: float
    where: str
    why: str
    cable: str
    labels: tuple[str, str]
    cores: int
    area: float
    core_od: float
    sheath: tuple[float, float]
    duties: tuple[str, ...]
    until: str | None
    hours_ago: float
    stagger: int = 1
    free: tuple[float, float] = (600, 480)
    fault: str = ""
    kept: str = ""
    family: str = "straight-lv"
    build: dict[str, Any] = field(default_factory=dict)
    core: dict[str, Any] = field(default_factory=dict)  # what else is true of every core
    unlike: dict[str, Any] = field(default_factory=dict)  # what is different on B: core, sheath, armour
    armour: tuple[float, float] | None = None  # wire, bedding
    connector: dict[str, Any] | None = None
    sheet: str | None = None
    landed: bool = False
    ambient_c: float = 6
    trace: dict[str, Any] | None = None  # a heat-trace connection's own part of the draft
    volts: float = 400


HEAT = {
    "construction": "self-regulating", "name": "self-regulating, flat, jacket and braid", "outer_jacket": {"width_mm": 12.4, "thickness_mm": 5.8}, "braid_mm": 0.4,
    "inner_jacket": {"width_mm": 10.2, "thickness_mm": 4.0}, "core": {"width_mm": 8.6, "thickness_mm": 2.6}, "bus_area_mm2": 1.25, "bus_od_mm": 1.4, "test_most_v": 2500,
}  # fmt: skip
ZONED = {
    "construction": "zone", "name": "constant-wattage zone cable, flat", "outer_jacket": {"width_mm": 9.4, "thickness_mm": 6.1}, "braid_mm": 0.4,
    "inner_jacket": {"width_mm": 7.4, "thickness_mm": 4.3}, "core": {"width_mm": 6.2, "thickness_mm": 3.2}, "bus_area_mm2": 2.5, "bus_od_mm": 2.1, "node_mm": 900,
}  # fmt: skip


def _heat(
    ref: str, title: str, at_m: float, where: str, why: str, sheet: str, until: str | None, hours_ago: float, trace: dict[str, Any], **more: Any
) -> Site:  # fmt: skip
    """A heat-trace connection of the scenario."""
    return Site(
        ref, title, 4, at_m, where, why, trace["cable"]["name"], ("", ""), 0, 0, 0, (0, 0), more.pop("duties", ("damp",)), until, hours_ago,
        family="heat-trace", sheet=sheet, trace=trace, volts=230, **more,
    )  # fmt: skip


JOINTS = (
    Site("SK-101", "Lamp circuit, lower stairs", 3, 310, "Lower stairs, lamp 7", "Chafed at the bracket", "3 × 2.5, rubber",
         ("from lower station", "to loop"), 3, 2.5, 3.6, (10.4, 10.2), ("uv",), "released", 50),
    Site("SK-103", "Lamp circuit, walkway", 3, 890, "Walkway, lamp 19", "Bracket torn off", "3 × 2.5, rubber",
         ("from lower stairs", "to loop"), 3, 2.5, 3.6, (10.4, 10.2), ("uv",), "released", 30, kept="the clamp begins there"),
    Site("SK-104", "Pump supply, loop sump", 1, 1090, "Loop, sump pit", "Water in the old joint", "4 × 4, buried",
         ("from lower station", "to sump pump"), 4, 4, 4.3, (13.1, 12.9), ("buried", "damp"), "join.2", 3),
    Site("SK-106", "Door interlock, upper station", 2, 2230, "Upper station, platform duct", "Cut by a drill", "5 × 1.5, control",
         ("from winch house", "to platform door"), 5, 1.5, 3.0, (11.2, 11.0), ("dry",), "label", 7),
    Site("SK-107", "Feeder, tunnel mouth", 0, 1240, "Tunnel mouth, cable trench", "Rockfall damage, 0.4 m removed", "4 × 6, buried",
         ("from lower station", "to winch house"), 4, 6, 5.3, (15.4, 15.4), ("buried",), None, 2),
    Site("SK-109", "Door loop, lower station", 2, 60, "Lower station, cable cellar", "Rodent bite", "4 × 1.5, control",
         ("from winch house", "to lower doors"), 4, 1.5, 3.0, (9.6, 9.5), ("damp",), "seal.outer-sleeve", 2.6, fault="no-bead"),
    Site("SK-112", "Feeder, upper pit", 0, 2060, "Upper pit, north wall", "Old tape joint replaced", "4 × 6, damp pit",
         ("from tunnel", "to winch house"), 4, 6, 5.3, (15.6, 15.2), ("damp",), "", 1),
    Site("SK-102", "Tap for the ticket office", 3, 40, "Lower station, mast 1", "New supply from the overhead bundle", "overhead 3 × 70, aluminium",
         ("overhead bundle", "to the ticket office"), 3, 70, 15.2, (41, 40), ("uv",), None, 4, family="tap-lv", core={"metal": "aluminium"},
         unlike={"core": {"area_mm2": 6, "insulation_od_mm": 6.4, "metal": "copper"}, "sheath": (15.8, 15.6)}),
    Site("SK-105", "Feeder, wet duct under the loop", 0, 1110, "Loop, duct 3", "Armour corroded through", "3 × 16 armoured to 3 × 10",
         ("from lower station", "to the loop board"), 3, 16, 8.2, (26.2, 25.8), ("immersed",), "sheet.coupon", 6, armour=(1.25, 20.0),
         unlike={"core": {"area_mm2": 10, "insulation_od_mm": 6.6}, "sheath": (18.4, 18.4), "armour": None}, ambient_c=9,
         build={"closure": "resin", "resin_c": 18, "earth": {"fault_current_a": 1500, "clearing_time_s": 0.4}}, sheet="cast-armoured-r22"),
    Site("SK-108", "Tunnel lamps, fire section", 3, 1500, "Tunnel, niche 6", "Old joint without barrier", "5 × 2.5, halogen-free",
         ("from loop", "to upper station"), 5, 2.5, 3.6, (14.6, 14.4), ("fire",), "inspect.core-sleeve-3", 2, stagger=2, build={"fire": "barrier"}),
    Site("SK-110", "Pump supply, fuel store", 1, 2260, "Upper station, fuel store", "Chafed in the gland", "3 × 10, oil-proof",
         ("from upper board", "to fuel pump"), 3, 10, 6.6, (18.4, 18.2), ("hazardous",), None, 1,
         build={"closure": "resin", "core_insulation": "tape", "cold_only": True, "resin_c": 20, "earth": {"fault_current_a": 900, "clearing_time_s": 0.4}}),
    Site("SK-111", "Motor lead, winch house", 0, 2390, "Winch house, floor duct", "Lead shortened", "1 × 70 to 1 × 50",
         ("from converter", "to winch motor"), 1, 70, 14.8, (17.6, 17.4), ("dry",), "released", 26, connector={"kind": "mechanical"},
         unlike={"core": {"area_mm2": 50, "insulation_od_mm": 12.8}, "sheath": (15.6, 15.4)}),
    Site("SK-113", "Feeder, upper cutting", 0, 1900, "Upper cutting, trench", "Digger", "4 × 10 armoured",
         ("from tunnel", "to winch house"), 4, 10, 6.4, (27.4, 27.0), ("buried",), "parked", 1.5, armour=(1.4, 20.4), free=(1200, 900),
         build={"earth": {"fault_current_a": 1200, "clearing_time_s": 0.4}, "removed_mm": 420}, sheet="shrink-armoured-h7"),
    Site("SK-114", "Heater supply between glands", 1, 2170, "Upper station, plant room", "Nicked at the tray", "3 × 6, plant room",
         ("from board", "to heater"), 3, 6, 5.3, (14.2, 14.0), ("damp",), "before-closing", 2.2, landed=True, build={"closure": "wrap-around"}),
    _heat("SK-115", "Water main, far end", 2350, "Upper station, pipe end by the tank", "Old end seal leaked", "trace-end-p1", "released", 40,
          {"cable": HEAT, "ends": {"A": {"label": "from the box", "loop_mm": 420, "loop_radius_mm": 80, "free_mm": 900}}}, ambient_c=3),
    _heat("SK-116", "Water main, splice at the elbow", 2310, "Upper station, pipe elbow", "Cut when the cladding was mended", "trace-splice-s5", "parked", 1.2,
          {"cable": HEAT, "ends": {"A": {"label": "from the box", "loop_mm": 600, "loop_radius_mm": 70, "free_mm": 900}, "B": {"label": "to the tank", "loop_mm": 310, "free_mm": 700}},
           "circuit": {"circuit_m": 42, "added_m": 0.6, "breaker_a": 16, "start_c": -20}}, ambient_c=4),
    _heat("SK-117", "De-icing, roof edge east", 2230, "Upper station, roof edge east", "New circuit", "trace-box-f3", None, 3,
          {"cable": HEAT, "ends": {"A": {"label": "from the roof edge", "loop_mm": 700, "loop_radius_mm": 90, "free_mm": 1200}},
           "circuit": {"run_m": 31, "spiral_extra": 0, "connection_mm": 400, "fixing_spacing_mm": 300, "allowances": [{"what": "downpipe bracket", "each_mm": 350, "count": 4}],
                       "circuit_m": 0, "added_m": 33.8, "breaker_a": 16, "start_c": -20}, "mounting": {"entry": "underside", "mounted": True}}, ambient_c=-4),
    _heat("SK-118", "Water main, branch to the hydrant", 2290, "Upper station, hydrant branch", "Hydrant moved", "trace-tee-t6", "hold.tee-tube", 2.5,
          {"cable": HEAT, "ends": {"A": {"label": "from the box", "loop_mm": 520, "free_mm": 900}, "B": {"label": "to the tank", "loop_mm": 350, "free_mm": 700}, "C": {"label": "to the hydrant", "loop_mm": 180, "free_mm": 500}}},
          fault="pinch-open", ambient_c=5),
    _heat("SK-119", "De-icing, platform drain", 2200, "Upper station, platform drain", "Cable replaced after a short", "trace-zone-z8", "clear.A", 2,
          {"cable": ZONED, "ends": {"A": {"label": "from the drain", "loop_mm": 400, "loop_radius_mm": 60, "free_mm": 1000}, "B": {"label": "in the drain", "loop_mm": 200, "free_mm": 600}},
           "circuit": {"run_m": 18, "spiral_extra": 0.1, "fixing_spacing_mm": 300, "felt_mm": 260, "circuit_m": 0, "added_m": 21, "breaker_a": 16, "start_c": -20}}, ambient_c=2),
)  # fmt: skip
