"""Jacket repairs to plan."""

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

from tinknot.core.families.file import file_of
from tinknot.core.joint.head import JointHead

EXAMPLE: dict[str, Any] = json.loads(
    (Path(__file__).parents[1] / "examples" / "jacket-repair.json").read_text()
)
REPAIRS: dict[str, dict[str, Any]] = {
    "cut, sleeved": {},
    "scratch": {"grade": "scratch", "jacket_mm": None},
    "armour seen, wet": {"grade": "bedding", "armoured": True, "wet": True},
    "cut, taped": {"method": "tape"},
    "gas about": {"duties": ["hazardous"], "method": "tape"},
}


def repair(**changes: Any) -> JointHead:
    """The example with changes; None takes a field away."""
    given = {k: v for k, v in (deepcopy(EXAMPLE) | changes).items() if v is not None}
    return file_of(json.dumps(given))
