"""What may be seen and done about it, and the other ways to build."""

from typing import Any

from pydantic import model_validator

from tinknot.core.files import earlier
from tinknot.core.model import Told
from tinknot.core.plan.parts import CoreOut, MinutesOut, ParkPlan, PartOut


class MendOut(Told):
    """What may be done about a fault; `planned`: only once the plan is made anew without the part; `stays`:
    nothing of the joint is touched."""

    words: str
    kind: str
    planned: bool = False
    stays: bool = False


class FaultOut(Told):
    """A fault that can be seen at a layer, or only at some `steps` of it; `forgotten`: a part is missing that
    should have been threaded on."""

    layer: str
    id: str
    seen: str
    causes: list[str]
    mends: list[MendOut]
    forgotten: bool = False
    steps: list[str] = []

    @model_validator(mode="before")
    @classmethod
    def _of_earlier_plans(cls, data: Any) -> Any:
        """A plan that was stored before faults said this themselves."""
        new = not isinstance(data, dict) or "forgotten" in data
        return data if new else data | {"forgotten": data.get("id") == earlier.FORGOTTEN}


class BreakOut(Told):
    """A law of the work that a step of the shown order breaks: its number, the step, the place, what is wrong
    and what mends it."""

    law: int
    step: str
    place: str
    words: str
    mend: str


class Remedy(Told):
    """A complete alternative: what to change in the joint file, and what comes of it."""

    id: str
    title: str
    why: str
    change: dict[str, Any]
    joint_length_mm: float | None = None
    greatest_diameter_mm: float | None = None
    minutes: MinutesOut | None = None
    parts: list[PartOut] = []
    cost: float | None = None
    park: ParkPlan | None = None
    cores: list[CoreOut] = []


class StaggerWay(Told):
    """One way to lay the connectors: its lengths, what fits over it, and what speaks for it."""

    steps: int
    fits: bool
    gap_mm: float | None
    joint_length_mm: float | None
    cores_diameter_mm: float | None
    greatest_diameter_mm: float | None
    minutes: float | None
    sleeves: list[str]
    shells: list[str]
    recommended: bool
    why: str
    profile: list[tuple[float, float]]


class InsertOut(Told):
    """Whether the ends still meet once the damage is out, mm; else the insert with its two joints."""

    removed_mm: float
    slack_mm: float
    needed_mm: float
    short_mm: float
    joints: int
    insert_mm: float | None
    checked: list[str]
    words: str
