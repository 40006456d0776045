"""Screened cables to plan."""

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

from tinknot.core.families.file import file_of
from tinknot.core.joint.head import JointHead

EXAMPLE: dict[str, Any] = json.loads(
    (Path(__file__).parents[1] / "examples" / "screened-pairs.json").read_text()
)
OWN_SLEEVES = EXAMPLE["stock"] | {
    "sleeves": [
        *EXAMPLE["stock"]["sleeves"],
        {
            "id": "CS-4",
            "expanded_id_mm": 4.8,
            "recovered_id_mm": 1.2,
            "recovered_wall_mm": 0.4,
            "lined": True,
            "on_hand_mm": 5000,
            "price_per_m": 2,
        },
    ],
    "connectors": [
        {
            "id": "BR-1",
            "od_mm": 2.4,
            "length_mm": 16,
            "insertion_mm": 7,
            "area_least_mm2": 0.25,
            "area_most_mm2": 1,
            "on_hand": 50,
            "price_each": 0.2,
        }
    ],
}
LOW_RATIO = {
    "id": "LR-22",
    "expanded_id_mm": 22,
    "recovered_id_mm": 12.6,
    "recovered_wall_mm": 1.5,
    "lined": True,
}
HIGH_RATIO = LOW_RATIO | {"id": "HR-24", "expanded_id_mm": 24, "recovered_id_mm": 5, "on_hand_mm": 200}
END_PIECES = EXAMPLE["stock"] | {"sleeves": [LOW_RATIO | {"on_hand_mm": 2000}, HIGH_RATIO]}
LEGGED = {
    "id": "BR-3",
    "name": "Breakout, three legs, lined",
    "openings": [
        {"expanded_id_mm": 12, "recovered_id_mm": 4.5, "straight_mm": 40},
        *[{"expanded_id_mm": 5, "recovered_id_mm": 1.2, "straight_mm": 30}] * 3,
    ],
    "body_mm": 20,
    "lined": True,
    "recovered_wall_mm": 1.2,
    "on_hand": 2,
}
SCREENS: dict[str, dict[str, Any]] = {
    "screened, pairs with drains, soldered": {},
    "screened, springs, full step": {"fixed": "spring", "apart": "full"},
    "screened, crimp rings on the folds": {
        "fixed": "ring",
        "stock": EXAMPLE["stock"]
        | {
            "rings": [
                {
                    "id": "CR-14",
                    "od_least_mm": 12.5,
                    "od_most_mm": 14.5,
                    "inside_mm": 16,
                    "thickness_mm": 0.6,
                    "width_mm": 8,
                    "die": "hex 14",
                    "on_hand": 10,
                }
            ]
        },
    },
    "screened, spare pairs under caps": {
        "make_up": "4 × 2 × 0.5, each pair foil and drain, braid over all, pair 2 spare",
        "stock": EXAMPLE["stock"]
        | {
            "boots": [
                {
                    "id": "CP-4",
                    "openings": [{"expanded_id_mm": 4, "recovered_id_mm": 1.2, "straight_mm": 15}],
                    "lined": True,
                    "recovered_wall_mm": 0.8,
                    "on_hand": 20,
                }
            ]
        },
    },
    "screened, three cores to single wires, a breakout over them": {
        "make_up": "3 × 0.5",
        "side_b": "wires",
        "hot_c": 50,
        "cold_c": -20,
        "insulation_od_mm": 1.9,
        "inside_od_mm": 4.2,
        "screen_od_mm": None,
        "strand_mm": None,
        "sheath_od_mm": 6.4,
        "lay_mm": None,
        "stock": EXAMPLE["stock"] | {"boots": [LEGGED]},
    },
    "screened, twelve cores without braid": {
        "make_up": "12 × 1",
        "insulation_od_mm": 2.4,
        "inside_od_mm": 10.4,
        "screen_od_mm": None,
        "strand_mm": None,
        "positions": 3,
        "marks": "walk",
    },
    "screened, crimp barrels, each with its sleeve": {"splice": "barrel", "stock": OWN_SLEEVES},
    "screened, laps of half the strands": {"splice": "lap", "half_strands": True, "stock": OWN_SLEEVES},
    "screened, end pieces over both ends": {"end_pieces": "both", "stock": END_PIECES},
    "screened, pairs in foil and cores of another section": {
        "make_up": "2 × 2 × 0.5 each foil and drain + 3 × 1.5, braid over all",
        "insulation_od_mm": 2.6,
        "insulation_least_mm": 1.9,
        "positions": 2,
    },
    "screened, unlike, spare pair, two layers": {
        "make_up_b": "5 × 2 × 0.75, foil and drain and braid over all",
        "insulation_od_b_mm": 2.1,
        "sheath_od_b_mm": 13.6,
        "second": True,
        "marks": "two",
        "forbids": True,
        "owner": "Y. Storm",
    },
}


def screened(**changes: Any) -> JointHead:
    """The example with changes; None takes a field away."""
    given = {k: v for k, v in (deepcopy(EXAMPLE) | changes).items() if v is not None}
    return file_of(json.dumps(given))
