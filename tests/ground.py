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
