"""Ground leads to plan."""

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

from tinknot.core.families.file import file_of
from tinknot.core.joint.head import JointHead

EXAMPLE: dict[str, Any] = json.loads(
    (Path(__file__).parents[1] / "examples" / "ground-lead.json").read_text()
)
LEGGED = {
    "id": "BR-2",
    "name": "Breakout, two legs, lined",
    "openings": [
        {"expanded_id_mm": 16, "recovered_id_mm": 4.5, "straight_mm": 50},
        {"expanded_id_mm": 8, "recovered_id_mm": 2.5, "straight_mm": 30},
        {"expanded_id_mm": 5, "recovered_id_mm": 1.2, "straight_mm": 30},
    ],
    "body_mm": 20,
    "lined": True,
    "recovered_wall_mm": 1.2,
    "shrink_c": 120,
    "scorch_c": 280,
    "on_hand": 2,
}
SPRING = {
    "id": "CF-9",
    "kind": "spring",
    "od_least_mm": 3,
    "od_most_mm": 9,
    "thickness_mm": 1.0,
    "width_mm": 8,
    "on_hand": 4,
}
BOOTED: dict[str, Any] = {
    "method": "spring",
    "cover": "boot",
    "jacket": "pvc",
    "hot_c": 50,
    "cold_c": -20,
    "exit": "front",
    "stock": {"boots": [LEGGED], "clamps": [SPRING]},
}
GROUNDS: dict[str, dict[str, Any]] = {
    "soldered at the end": {},
    "soldered in a window, lead ahead": {"strip": "window", "exit": "front"},
    "flat braid, spring, sleeve": {
        "method": "spring",
        "lead": "braid",
        "lead_od_mm": None,
        "lead_width_mm": 3,
        "lead_thickness_mm": 0.8,
    },
    "braid folded back, soldered over the sheath": {"fold": True},
    "spring, a boot over cable and lead": BOOTED,
    "ring, no heat, taped": {"method": "ring", "cold_only": True},
    "foil in a gland, earthed twice": {
        "screen": "foil",
        "landed": True,
        "earthed": "both",
        "owner": "Y. Dahl",
        "duties": ["hazardous"],
    },
}


def ground(**changes: Any) -> JointHead:
    """The example with changes; None takes a field away."""
    given = {k: v for k, v in (deepcopy(EXAMPLE) | changes).items() if v is not None}
    return file_of(json.dumps(given))
