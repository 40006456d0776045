"""The plan: frozen, versioned, everything derived from the stack. Its JSON is the contract's."""

import hashlib
import json
from typing import Any

from pydantic import model_validator

from tinknot.core.drawing.model import Appearance, Section, looks_of
from tinknot.core.files import earlier
from tinknot.core.files.numbers import PLAN
from tinknot.core.layers.contract import Step
from tinknot.core.model import Result


class GateOut(Result):
    """A figure of a step: target and tolerance, or a limit."""

    id: str
    label: str
    unit: str
    target: float | None
    tolerance: float | None
    least: float | None
    most: float | None
    required: bool
    accept: bool = False
    instrument: str = ""


class TimerOut(Result):
    """A time in min from the confirmation of `after`."""

    id: str
    label: str
    after: str
    least_min: float | None
    most_min: float | None
    unless_gate: str


class CureLaw(Result):
    """What must harden: data points (°C, min to full cure), the temperature under which nothing counts, the
    step it runs from, the degrees to handle and to energise, and both times as expected, min."""

    points: list[tuple[float, float]]
    least_c: float
    since: str
    handle: float
    full: float
    handle_min: float
    full_min: float


class StepOut(Result):
    """A step of the graph. `stamp` changes when anything changes that the work depends on; `batch_title`
    and `batch_text` are what the hand is told once for all of a batch; `action` is what is confirmed when
    it is done; `taken`, `pictured` and `recut` as a layer's step has them."""

    id: str
    title: str
    kind: str
    station: str
    needs: list[str]
    text: str
    caution: str
    look: str
    fails: str
    hold: str | None
    second_person: bool
    batch: str
    layer: str
    end: str
    core: str
    gates: list[GateOut]
    part_id: str
    focus_mm: tuple[float, float] | None
    stamp: str
    timers: list[TimerOut] = []
    tools: list[str] = []
    hot: bool = False
    photo: bool = False
    basis: str = ""
    cure: CureLaw | None = None
    heat_c: float | None = None
    batch_title: str = ""
    batch_text: str = ""
    action: str = ""
    taken: str = ""
    pictured: str = ""
    recut: bool = False

    @model_validator(mode="before")
    @classmethod
    def _of_earlier_plans(cls, data: Any) -> Any:
        """A plan that was stored before steps said these themselves."""
        return data | earlier.said(data) if isinstance(data, dict) and "action" not in data else data


ORDER = 2  # the rules of order a plan is compiled by; a step they brought is not asked for by older work
DATUMS = {
    "cable-end": "cable end",
    "sheath-cut": "sheath cut",
    "outer-jacket-cut": "outer jacket cut",
    "inner-jacket-cut": "inner jacket cut",
}  # what a cut is measured from, in words


class CutOut(Result):
    """A cut, as a running distance in mm from its datum; `layer` in words, `kind` as a layer's cut has it."""

    end: str
    layer: str
    datum: str
    distance_mm: float
    tolerance_mm: float
    caution: str
    removed_mm: float
    core: str
    kind: str = ""

    @model_validator(mode="before")
    @classmethod
    def _of_earlier_plans(cls, data: Any) -> Any:
        """A plan that was stored before cuts said what is cut."""
        old = isinstance(data, dict) and "kind" not in data
        return data | {"kind": earlier.cut_kind(data)} if old else data


class CoreOut(Result):
    """A core's lengths in mm, by end; those on A and B, whose sum is the same for all, also by themselves."""

    core: str
    centre_mm: float
    cut_a_mm: float
    cut_b_mm: float
    area_mm2: float = 0.0
    by_end: dict[str, float] = {}

    @model_validator(mode="before")
    @classmethod
    def _of_two_ends(cls, data: Any) -> Any:
        """A joint of two ends says both by A and B."""
        if isinstance(data, dict) and not data.get("by_end") and {"cut_a_mm", "cut_b_mm"} <= data.keys():
            return data | {"by_end": {"A": data["cut_a_mm"], "B": data["cut_b_mm"]}}
        return data


class CandidateOut(Result):
    """A sleeve on the fit ruler: its bar, its verdict and, if it does not serve, the reason."""

    part_id: str
    name: str
    expanded_id_mm: float
    recovered_id_mm: float
    lined: bool
    stiff: bool
    verdict: str
    reason: str
    comfort: float
    pass_short_by_mm: float
    grip_short_by_mm: float
    cut_length_mm: int | None = None
    waste_mm: float | None = None
    on_hand_mm: float | None = None


class ChoiceOut(Result):
    """One choice: what must be passed and gripped, the limits, and every candidate, best first. `slot`: where
    in the draft a part settled on is kept (a JSON Pointer), empty where nobody may settle it; `layers`: those
    that get the part picked; `cores`: those it lies on; `decided`: why the one picked and not the next."""

    layer: str
    title: str
    pass_od_mm: float
    seal_od_mm: float
    needed_expanded_mm: float
    allowed_recovered_mm: float
    ratio_needed: float
    covered_mm: float
    least_wall_mm: float
    picked: str | None
    advice: str
    candidates: list[CandidateOut]
    slot: str = ""
    layers: list[str] = []
    cores: list[str] = []
    decided: str = ""


class OfferOut(Result):
    """A part other than a sleeve: whether it serves, and why or why not."""

    id: str
    name: str
    serves: bool
    reason: str


class PickOut(Result):
    """A choice of a part that has no window: what is needed, every offer, what was picked."""

    layer: str
    title: str
    need: str
    offers: list[OfferOut]
    picked: str | None
    advice: str


class PackUse(Result):
    """Packs of one part."""

    part_id: str
    count: int


class PackTime(Result):
    """When one pack is mixed and poured, and when it gels: min from the first being opened."""

    pack: int
    mix_from_min: float
    mix_to_min: float
    pour_from_min: float
    pour_to_min: float
    gels_at_min: float


class ResinOut(Result):
    """The pour: volumes in ml, packs, times in min, each pack's own in `timeline`, and the cure as
    expected."""

    resin_c: float
    shell_ml: float
    displaced_ml: float
    net_ml: float
    required_ml: float
    left_over_ml: float
    packs: list[PackUse]
    pot_life_min: float
    mix_min: float
    pour_window_min: float
    pour_min: float
    handle_min: float
    full_min: float
    shell: list[tuple[float, float]]
    timeline: list[PackTime] = []


class Refusal(Result):
    """A part that was not taken, and why."""

    part_id: str
    reason: str


class PartOut(Result):
    """A part of the joint with its figures in mm."""

    layer: str
    title: str
    part_id: str
    name: str
    lot: str
    cut_length_mm: float | None
    pass_od_mm: float | None
    seal_od_mm: float | None
    od_after_mm: float
    reason: str
    rejected: list[Refusal]
    expanded_id_mm: float | None = None
    recovered_id_mm: float | None = None
    wall_mm: float | None = None
    quantity: float = 1


class ParkedOut(Result):
    """A part threaded on a track, in threading order."""

    layer: str
    part_id: str
    track: str
    length_mm: float
    step: str
    title: str = ""


class ParkPlan(Result):
    """Both tails; used and free count the sheath track, mm. `skin`: what the cable's outside is called."""

    a: list[ParkedOut]
    b: list[ParkedOut]
    used_a_mm: float
    used_b_mm: float
    free_a_mm: float
    free_b_mm: float
    skin: str = "sheath"


class MaterialOut(Result):
    """Something used up."""

    what: str
    quantity: float
    unit: str
    in_stock: float | None
    part_id: str
    lot: str


class SettingOut(Result):
    """A tool's setting."""

    tool: str
    setting: str
    why: str


class MinutesOut(Result):
    """Time of hands and of waiting, min."""

    hands: float
    waiting: float


class MendOut(Result):
    """What may be done about a fault."""

    words: str
    kind: str


class FaultOut(Result):
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


class Remedy(Result):
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


class StaggerWay(Result):
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


class InsertOut(Result):
    """Whether the ends still meet once the damage is out, mm; else the insert with its two joints."""

    removed_mm: float
    slack_mm: float
    needed_mm: float
    short_mm: float
    joints: int
    insert_mm: float | None
    checked: list[str]
    words: str


class PreparedLayer(Result):
    """A layer of a prepared flat end, mm back from the cable's end; `y_mm` from the middle across the
    width."""

    kind: str
    from_mm: float
    to_mm: float
    width_mm: float
    thickness_mm: float
    y_mm: float = 0.0


class PreparedCut(Result):
    """A cut to write on the drawing: where it lies back from the cable's end, and its length from its
    datum."""

    layer: str
    at_mm: float
    from_mm: float
    length_mm: float
    datum: str


class PreparedEnd(Result):
    """A flat end laid open, to scale: layers outermost first, cuts, what must never touch."""

    end: str
    reach_mm: float
    layers: list[PreparedLayer]
    end_on: list[PreparedLayer]
    cuts: list[PreparedCut]
    keep_clear: list[str]
    looks: dict[str, Appearance] = {}

    @model_validator(mode="after")
    def _every_kind_has_its_look(self) -> "PreparedEnd":
        """Also in one that was stored before looks were part of it."""
        object.__setattr__(self, "looks", looks_of((x.kind for x in self.layers), self.looks))
        return self


class LoopOut(Result):
    """The loop at an end: mm of cable in it, remakes it still allows, and whether its bend is wide enough."""

    end: str
    loop_mm: float | None
    radius_mm: float | None
    least_radius_mm: float | None
    per_remake_mm: float
    least_loop_mm: float
    remakes_left: int | None
    left_after_mm: float | None
    words: str


class ZoneCutOut(Result):
    """Where a zone cable is cut, mm, and what stays cold or heats too early; `end`: at which end. To draw it,
    mm from the present end: its connection points `points_mm`, where the pipe begins, how far it is shown (0:
    not drawn), and what is laid open of the new end, `opened_mm`."""

    end: str = "A"
    cut_mm: float
    node_at_mm: float
    onto_pipe_mm: float
    cold_mm: float
    early_mm: float = 0.0
    words: str
    points_mm: list[float] = []
    pipe_from_mm: float = 0.0
    opened_mm: float = 0.0
    shown_mm: float = 0.0


class CircuitOut(Result):
    """The circuit after the work against the sheet's limit."""

    length_m: float
    most_m: float
    start_up_a: float
    breaker_a: float
    words: str


class TraceOut(Result):
    """What is worked out for a heat-trace connection; `stops` are reasons why it is not built like this;
    `node_cuts`: where a zone cable is cut at every other end than the fed one, from the nearest point."""

    construction: str
    recipe: str
    test_v: float
    bend_radius_mm: float | None
    loops: list[LoopOut]
    cable_m: float | None
    fixings: int | None
    fixing_tape: str
    zone: ZoneCutOut | None
    cold_tail_mm: float | None
    circuit: CircuitOut | None
    prepared: list[PreparedEnd]
    stops: list[str]
    node_cuts: list[ZoneCutOut] = []


class Plan(Result):
    """A plan. `verdict` is `planned`, or `nothing-fits` with the remedies; `format` numbers its shape,
    `order` the rules of order it was compiled by."""

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

    @model_validator(mode="before")
    @classmethod
    def _of_earlier_plans(cls, data: Any) -> Any:
        """A heat-trace plan that was stored before its tails said what they are of."""
        if isinstance(data, dict) and data.get("trace") and isinstance(park := data.get("park"), dict):
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
            "text": step.text if step.kind == "park" else "",
        }
        | ({"basis": step.basis} if step.basis else {})
        | ({"cure": [step.cure.points, step.cure.least_c]} if step.cure else {})
    )
    return hashlib.sha256(canonical(basis).encode()).hexdigest()[:16]
