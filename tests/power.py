"""Joint files of the power family for tests: armoured, cast, taped, tapped; one stock with every kind of
part."""

from copy import deepcopy
from typing import Any

from tinknot.core.joint.file import JointFile
from tinknot.core.model import parse

RESIN = {
    "id": "cast",
    "volume_ml": 420,
    "pot_life": [{"temperature_c": 5, "minutes": 70}, {"temperature_c": 20, "minutes": 25}],
    "cure": [{"temperature_c": 5, "minutes": 1440}, {"temperature_c": 20, "minutes": 300}],
    "least_temperature_c": 2,
    "mix_minutes": 3,
    "on_hand": 6,
    "price_each": 31,
    "properties": ["hydrocarbon-resistant", "zero-halogen", "flame-retardant"],
}
SHELL = {
    "id": "shell-m",
    "body_length_mm": 300,
    "body_inside_mm": 70,
    "wall_mm": 2,
    "on_hand": 2,
    "price_each": 24,
    "stages": [
        {"length_mm": 25, "inside_diameter_mm": 18},
        {"length_mm": 30, "inside_diameter_mm": 26},
        {"length_mm": 35, "inside_diameter_mm": 34},
    ],
    "properties": ["hydrocarbon-resistant", "zero-halogen", "flame-retardant"],
}
STOCK: dict[str, Any] = {
    "sleeves": [
        {
            "id": "c9",
            "expanded_id_mm": 9.5,
            "recovered_id_mm": 4.6,
            "recovered_wall_mm": 1.2,
            "longitudinal_change_pct": -6,
            "on_hand_mm": 9000,
            "price_per_m": 2,
        },
        {
            "id": "c14",
            "expanded_id_mm": 14,
            "recovered_id_mm": 4.5,
            "recovered_wall_mm": 1.8,
            "longitudinal_change_pct": -6,
            "on_hand_mm": 9000,
            "price_per_m": 3,
            "properties": ["zero-halogen", "flame-retardant"],
        },
        {
            "id": "c10",
            "expanded_id_mm": 10,
            "recovered_id_mm": 3,
            "recovered_wall_mm": 1.1,
            "longitudinal_change_pct": -6,
            "on_hand_mm": 9000,
            "price_per_m": 2.6,
            "properties": ["zero-halogen", "flame-retardant"],
        },
        {
            "id": "o35",
            "expanded_id_mm": 35,
            "recovered_id_mm": 11,
            "recovered_wall_mm": 3,
            "lined": True,
            "on_hand_mm": 4000,
            "price_per_m": 22,
            "properties": ["zero-halogen", "flame-retardant"],
        },
        {
            "id": "e20",
            "expanded_id_mm": 20,
            "recovered_id_mm": 6,
            "recovered_wall_mm": 2.2,
            "lined": True,
            "on_hand_mm": 2000,
            "price_per_m": 15,
        },
        {
            "id": "o52",
            "expanded_id_mm": 52,
            "recovered_id_mm": 15,
            "recovered_wall_mm": 3.4,
            "lined": True,
            "on_hand_mm": 4000,
            "price_per_m": 30,
            "properties": ["zero-halogen", "flame-retardant"],
        },
        {
            "id": "wrap",
            "form": "wrap-around",
            "expanded_id_mm": 60,
            "recovered_id_mm": 12,
            "recovered_wall_mm": 3,
            "lined": True,
            "stock_length_mm": 500,
            "on_hand_mm": 1000,
            "price_per_m": 60,
        },
        {
            "id": "fire",
            "form": "barrier",
            "expanded_id_mm": 60,
            "recovered_id_mm": 15,
            "recovered_wall_mm": 1.5,
            "on_hand_mm": 3000,
            "price_per_m": 44,
            "properties": ["zero-halogen"],
        },
        {
            "id": "cap8",
            "form": "cap",
            "expanded_id_mm": 12,
            "recovered_id_mm": 4,
            "recovered_wall_mm": 1.5,
            "lined": True,
            "stock_length_mm": 40,
            "on_hand_mm": 400,
            "price_per_m": 20,
            "properties": ["uv-resistant"],
        },
    ],
    "connectors": [
        {
            "id": "b16",
            "od_mm": 9.5,
            "length_mm": 46,
            "insertion_mm": 21,
            "growth_mm": 1,
            "area_least_mm2": 10,
            "area_most_mm2": 16,
            "presses": 2,
            "on_hand": 10,
            "price_each": 2,
        },
        {
            "id": "b25",
            "od_mm": 7,
            "length_mm": 30,
            "insertion_mm": 14,
            "growth_mm": 0.5,
            "area_least_mm2": 1.5,
            "area_most_mm2": 4,
            "on_hand": 20,
            "price_each": 0.6,
        },
        {
            "id": "sb95",
            "kind": "mechanical",
            "od_mm": 24,
            "length_mm": 70,
            "insertion_mm": 32,
            "area_least_mm2": 25,
            "area_most_mm2": 95,
            "bolts": 2,
            "metals": ["copper", "aluminium"],
            "on_hand": 4,
            "price_each": 14,
        },
        {
            "id": "ipc",
            "kind": "piercing",
            "od_mm": 30,
            "length_mm": 42,
            "insertion_mm": 30,
            "area_least_mm2": 16,
            "area_most_mm2": 95,
            "tap_area_least_mm2": 1.5,
            "tap_area_most_mm2": 16,
            "metals": ["copper", "aluminium"],
            "properties": ["uv-resistant"],
            "on_hand": 8,
            "price_each": 6,
        },
        {
            "id": "earthing",
            "kind": "earthing",
            "od_mm": 34,
            "length_mm": 50,
            "insertion_mm": 36,
            "area_least_mm2": 16,
            "area_most_mm2": 95,
            "metals": ["copper", "aluminium"],
            "properties": ["uv-resistant"],
            "on_hand": 4,
            "price_each": 19,
        },
    ],
    "tapes": [
        {
            "id": "sat",
            "kind": "self-amalgamating",
            "width_mm": 19,
            "thickness_mm": 0.76,
            "roll_mm": 9000,
            "stretch": 2,
            "on_hand": 3,
            "price_each": 7,
            "properties": ["zero-halogen"],
        },
        {
            "id": "mastic",
            "kind": "mastic",
            "width_mm": 38,
            "thickness_mm": 1.6,
            "roll_mm": 3000,
            "stretch": 1.5,
            "on_hand": 2,
            "price_each": 9,
        },
        {
            "id": "mica",
            "kind": "mica",
            "width_mm": 15,
            "thickness_mm": 0.14,
            "roll_mm": 20000,
            "on_hand": 2,
            "price_each": 21,
        },
    ],
    "shells": [
        SHELL,
        {
            "id": "shell-s",
            "body_length_mm": 140,
            "body_inside_mm": 44,
            "stages": [{"length_mm": 20, "inside_diameter_mm": 16}],
            "on_hand": 1,
        },
    ],
    "resins": [RESIN],
    "straps": [
        {
            "id": "s16",
            "area_mm2": 16,
            "width_mm": 15,
            "thickness_mm": 1.5,
            "length_mm": 600,
            "on_hand": 4,
            "price_each": 8,
        },
        {"id": "s6", "area_mm2": 6, "width_mm": 8, "thickness_mm": 1, "length_mm": 600, "on_hand": 4},
    ],
    "clamps": [
        {
            "id": "spring",
            "od_least_mm": 14,
            "od_most_mm": 40,
            "thickness_mm": 0.6,
            "on_hand": 8,
            "price_each": 4,
        }
    ],
    "meshes": [
        {"id": "mesh", "width_mm": 50, "thickness_mm": 0.6, "roll_mm": 5000, "on_hand": 1, "price_each": 17}
    ],
    "kits": [
        {"id": "kit-p1", "name": "End seal P1", "sheet": "trace-end-p1", "on_hand": 2, "price_each": 22}
    ],
}
COLOURS = {
    1: ("brown",),
    3: ("brown", "blue", "green-yellow"),
    5: ("brown", "black", "grey", "blue", "green-yellow"),
}


def end(
    cores: int, area: float, insulation: float, sheath: float, bedding: float | None = None, **more: Any
) -> dict[str, Any]:
    """An end with equal cores; with `bedding` it is armoured with 1.25 mm wires."""
    armour = {"armour": {"thickness_mm": 1.25, "bedding_od_mm": bedding}} if bedding else {}
    return (
        {
            "sheath_od_mm": sheath,
            "free_mm": 900,
            "slack_mm": 300,
            "cores": [
                {"name": str(i + 1), "colour": c, "insulation_od_mm": insulation, "area_mm2": area}
                for i, c in enumerate(COLOURS[cores])
            ],
        }
        | armour
        | more
    )


def power(a: dict[str, Any], b: dict[str, Any], **changes: Any) -> dict[str, Any]:
    """A joint file between two ends out of the whole stock."""
    return {
        "format": "tinknot-joint",
        "version": 1,
        "family": "straight-lv",
        "rated_voltage_v": 400,
        "ambient_c": 12,
        "duties": [],
        "ends": {"A": deepcopy(a), "B": deepcopy(b)},
        "stock": deepcopy(STOCK),
    } | changes


ARMOURED = end(3, 16, 8.2, 26.0, bedding=20.0)
PLAIN = end(3, 10, 6.6, 18.4)
BUILDS: dict[str, dict[str, Any]] = {
    "armoured to plain, cast, wet": power(
        ARMOURED,
        PLAIN,
        duties=["immersed"],
        build={"closure": "resin", "earth": {"fault_current_a": 1500, "clearing_time_s": 0.4}},
    ),
    "cast in a tube": power(PLAIN, PLAIN, duties=["immersed"], build={"closure": "resin"})
    | {"stock": {**STOCK, "shells": [SHELL | {"form": "tube"}]}},
    "armoured both, sleeved": power(ARMOURED, ARMOURED, duties=["buried"]),
    "five, two steps, fire barrier": power(
        end(5, 2.5, 3.6, 14.6),
        end(5, 2.5, 3.6, 14.6),
        duties=["fire"],
        stagger_steps=2,
        build={"fire": "barrier"},
    ),
    "five, mica on every core": power(
        end(5, 2.5, 3.6, 14.6), end(5, 2.5, 3.6, 14.6), duties=["fire"], build={"fire": "mica"}
    ),
    "one core, bolted": power(
        end(1, 70, 14.8, 17.4), end(1, 50, 12.8, 15.6), connector={"kind": "mechanical"}
    ),
    "aluminium to copper": power(
        end(1, 70, 14.8, 17.4)
        | {
            "cores": [
                {
                    "name": "1",
                    "insulation_od_mm": 14.8,
                    "area_mm2": 70,
                    "metal": "aluminium",
                    "shape": "sector",
                }
            ]
        },
        end(1, 50, 12.8, 15.6),
    ),
    "no heat allowed": power(
        PLAIN,
        PLAIN,
        duties=["hazardous"],
        build={"closure": "resin", "core_insulation": "tape", "cold_only": True},
    ),
    "wrap-around between glands": power(
        PLAIN | {"landed": True}, PLAIN | {"landed": True}, duties=["damp"], build={"closure": "wrap-around"}
    ),
    "end piece on the thin side": power(
        end(3, 16, 8.2, 26.0), end(3, 10, 6.6, 11.6), duties=["damp"], build={"thin_side": "end-piece"}
    ),
    "a piece over each end": power(PLAIN, PLAIN, duties=["damp"], build={"end_wraps": ["B", "A"]}),
    "single wire, soldered": power(
        end(1, 6, 5.3, 5.3),
        end(1, 6, 5.3, 5.3),
        duties=["dry"],
        connector={"kind": "soldered", "od_mm": 5.6, "length_mm": 18},
    ),
    "moving, soldered": power(
        end(3, 2.5, 3.6, 12.0),
        end(3, 2.5, 3.6, 12.0),
        duties=["moving"],
        connector={"kind": "soldered", "od_mm": 4.2, "length_mm": 16},
        build={"bend_radius_mm": 30},
    ),
}
TAPS: dict[str, dict[str, Any]] = {
    "overhead tap": power(end(3, 70, 15.0, 40.0), end(3, 6, 6.4, 17.0), family="tap-lv", duties=["uv"]),
    "earthing a line": power(
        end(3, 70, 15.0, 40.0),
        end(3, 16, 8.0, 20.0),
        family="tap-lv",
        duties=["uv"],
        build={"purpose": "earthing"},
    ),
}


def file(given: dict[str, Any]) -> JointFile:
    """Parsed."""
    return parse(JointFile, given)
