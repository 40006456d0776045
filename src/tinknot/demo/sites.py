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
)  # fmt: skip
