"""Moulded parts to plan."""

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

from tinknot.core.families.file import file_of
from tinknot.core.joint.head import JointHead

_EXAMPLES = Path(__file__).parents[1] / "examples"
PLUG: dict[str, Any] = json.loads((_EXAMPLES / "boot-on-plug.json").read_text())
BREAKOUT: dict[str, Any] = json.loads((_EXAMPLES / "breakout.json").read_text())
STRAIGHT: dict[str, Any] = {
    "format": "tinknot-joint",
    "version": 1,
    "family": "boot",
    "rated_voltage_v": 400,
    "ambient_c": 14,
    "duties": ["buried", "moving"],
    "job": "straight",
    "landed": "here",
    "cable_od_mm": 21.5,
    "sheath": "rubber",
    "bend_mm": 90,
    "clear_mm": 400,
    "hot_c": 50,
    "cold_c": -20,
    "between_od_mm": 24.5,
    "between_mm": 60,
    "stock": {
        "boots": [
            {
                "id": "ST-34",
                "name": "Straight shape 34 to 15, lined",
                "openings": [
                    {"expanded_id_mm": 34, "recovered_id_mm": 15, "straight_mm": 60},
                    {"expanded_id_mm": 34, "recovered_id_mm": 15, "straight_mm": 60},
                ],
                "body_mm": 40,
                "lined": True,
                "recovered_wall_mm": 2.2,
                "shrink_c": 120,
                "scorch_c": 280,
                "on_hand": 2,
            }
        ]
    },
}
CAP: dict[str, Any] = STRAIGHT | {
    "job": "cap",
    "landed": "no",
    "duties": ["damp"],
    "between_od_mm": None,
    "between_mm": None,
    "stock": {
        "boots": [
            {
                "id": "CP-30",
                "openings": [{"expanded_id_mm": 30, "recovered_id_mm": 12, "straight_mm": 50}],
                "body_mm": 8,
                "recovered_wall_mm": 2.5,
                "lined": True,
            }
        ]
    },
}
BOOTS: dict[str, dict[str, Any]] = {
    "boot at 90°, paste": PLUG | {"ambient_c": 15},
    "paste at the cable later, hazardous": PLUG
    | {"paste_at": "later", "duties": ["damp", "immersed"], "ambient_c": 15},
    "over a fitting that is on": PLUG | {"landed": "here", "braid": "none", "duties": ["damp"]},
    "breakout with hot-melt tape": BREAKOUT,
    "straight shape from the far end": STRAIGHT,
    "cap": CAP,
}


def boot(given: dict[str, Any] = PLUG, **changes: Any) -> JointHead:
    """A file with changes; None takes a field away."""
    return file_of(json.dumps({k: v for k, v in (deepcopy(given) | changes).items() if v is not None}))
