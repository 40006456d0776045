"""The plan: everything that follows from a joint file, as screens, paper and work log read it."""

import hashlib
import json
from typing import Any

from pydantic import model_validator

from tinknot.core.drawing.model import Section
from tinknot.core.figures import unmarked
from tinknot.core.files import earlier
from tinknot.core.files.numbers import PLAN
from tinknot.core.layers.contract import Step
from tinknot.core.model import Told
from tinknot.core.plan.parts import (
    ChoiceOut,
    CoreOut,
    MaterialOut,
    MinutesOut,
    ParkPlan,
    PartOut,
    PickOut,
    ResinOut,
    SettingOut,
)
from tinknot.core.plan.steps import CutOut, StepOut
from tinknot.core.plan.trace import TraceOut
from tinknot.core.plan.ways import BreakOut, FaultOut, InsertOut, Remedy

ORDER = 5  # the rules of order a plan is compiled by; a step they brought is not asked for by older work


class Plan(Told):
    """A plan. `verdict` is `planned`, or `nothing-fits` with the remedies; `format` numbers its shape,
    `order` the rules of order it was compiled by; `laws` the edition of the laws that told its `breaks`, 0
    where none were told."""

    format: int = PLAN.number
    verdict: str
    family: str
    stagger_steps: int
    gap_mm: float | None
    joint_length_mm: float | None
    greatest_diameter_mm: float | None
    profile: list[tuple[float, float]]
    cuts: list[CutOut]
    cores: list[CoreOut]
    choices: list[ChoiceOut]
    parts: list[PartOut]
    park: ParkPlan | None
    steps: list[StepOut]
    materials: list[MaterialOut]
    tools: list[str]
    settings: list[SettingOut]
    minutes: MinutesOut
    remedies: list[Remedy]
    faults: list[FaultOut]
    warnings: list[str]
    safety: list[str]
    section: Section | None
    slack_mm: dict[str, float | None] = {}
    remake_spare_mm: float = 0.0
    cable_length_m: float | None = None
    ambient_c: float = 20.0
    chosen_together: str = ""
    picks: list[PickOut] = []
    resin: ResinOut | None = None
    cost: float | None = None
    insert: InsertOut | None = None
    closure: str = "sleeve"
    sheet: str = ""
    trace: TraceOut | None = None
    order: int = 1
    breaks: list[BreakOut] = []
    laws: int = 0

    @model_validator(mode="before")
    @classmethod
    def _of_earlier_plans(cls, data: Any) -> Any:
        """A heat-trace plan that was stored before its tails said what they are of, and any that was before
        sentences had their figures beside them."""
        if not isinstance(data, dict):
            return data
        if any(isinstance(s, dict) and "figures" not in s for s in data.get("steps", ())):
            data = earlier.figured(data)
        if data.get("trace") and isinstance(park := data.get("park"), dict):
            return data | {"park": {"skin": "jacket"} | park}
        return data

    def step(self, step_id: str) -> StepOut | None:
        """The step called `step_id`."""
        return next((s for s in self.steps if s.id == step_id), None)


def canonical(data: Any) -> str:
    """JSON with one spelling only: sorted keys, no spaces (after RFC 8785, for the figures used here)."""
    return json.dumps(data, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False)


def stamp(step: Step) -> str:
    """A digest of what the step's work depends on: its gates and part, not its words."""
    basis = (
        {
            "id": step.id,
            "gates": [[g.id, g.target, g.tolerance, g.least, g.most] for g in step.gates],
            "part": step.part_id,
            "end": step.end,
            "text": unmarked(step.text) if step.kind == "park" else "",
        }
        | ({"basis": unmarked(step.basis)} if step.basis else {})
        | ({"cure": [step.cure.points, step.cure.least_c]} if step.cure else {})
    )
    return hashlib.sha256(canonical(basis).encode()).hexdigest()[:16]
