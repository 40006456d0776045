"""Joint files for tests: the worked example of the first joint, and ways to bend it."""

import json
from copy import deepcopy
from pathlib import Path
from typing import Any

from tinknot.core.joint.file import JointFile
from tinknot.core.model import parse
from tinknot.core.plan.plan import Plan

CORE_SLEEVE = {
    "id": "core-9.5",
    "expanded_id_mm": 9.5,
    "recovered_id_mm": 4.6,
    "recovered_wall_mm": 0.9,
    "longitudinal_change_pct": -6,
    "on_hand_mm": 6000,
    "price_per_m": 2.1,
}
OUTER_SLEEVES = [
    {"id": "outer-22", "expanded_id_mm": 22, "recovered_id_mm": 7, "recovered_wall_mm": 2.4, "lined": True},
    {"id": "outer-30", "expanded_id_mm": 30, "recovered_id_mm": 15, "recovered_wall_mm": 1.2, "lined": True},
    {
        "id": "outer-28",
        "expanded_id_mm": 28,
        "recovered_id_mm": 9,
        "recovered_wall_mm": 2.6,
        "lined": True,
        "on_hand_mm": 6400,
    },
]
BARREL = {"kind": "crimp", "od_mm": 7.6, "length_mm": 38, "insertion_mm": 18, "growth_mm": 1}


def example(name: str) -> dict[str, Any]:
    """A joint file of `examples/`, to be bent."""
    return json.loads((Path(__file__).parents[1] / "examples" / f"{name}.json").read_text())


def joint_dict(cores: int = 4, **changes: Any) -> dict[str, Any]:
    """The worked example as a joint file, with top-level `changes`."""
    colours = ("brown", "black", "grey", "blue", "green-yellow")
    end = {
        "sheath_od_mm": 15.4,
        "free_mm": 600,
        "cores": [
            {"name": str(i + 1), "colour": colours[i], "insulation_od_mm": 5.3, "area_mm2": 6, "class": 2}
            for i in range(cores)
        ],
    }
    joint = {
        "format": "tinknot-joint",
        "version": 1,
        "family": "straight-lv",
        "rated_voltage_v": 400,
        "ambient_c": 12,
        "duties": ["buried"],
        "ends": {"A": deepcopy(end), "B": deepcopy(end)},
        "connector": BARREL,
        "stock": {"sleeves": [CORE_SLEEVE, *OUTER_SLEEVES], "connectors": []},
    }
    return deepcopy(joint) | changes


def joint(cores: int = 4, **changes: Any) -> JointFile:
    """The same, parsed."""
    return parse(JointFile, joint_dict(cores, **changes))


def waits(plan: Plan, step: str) -> set[str]:
    """All that a step of a plan waits for, directly or not."""
    own = set(plan.step(step).needs)
    return own.union(*(waits(plan, n) for n in own))
