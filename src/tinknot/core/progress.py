"""Plan and events folded to what is done, what is next, and what is locked by what. Pure."""

from collections.abc import Sequence
from dataclasses import dataclass, field

from tinknot.core.events import Event
from tinknot.core.model import Result
from tinknot.core.plan import GateOut, Plan, StepOut
from tinknot.core.recipes.straight_lv import Made


class StepState(Result):
    """A step now: `done`, `open`, `locked` (by the steps named) or `again` (done for another plan)."""

    id: str
    state: str
    locked_by: list[str] = []
    actor: str = ""
    at: str = ""
    values: dict[str, float] = {}
    why: str = ""


class Flag(Result):
    """An event that is kept but does not count, and why."""

    event: str
    step: str
    why: str


class Progress(Result):
    """Where the work stands."""

    state: str
    steps: list[StepState]
    next: list[str]
    layers_done: list[str]
    holds_left: list[str]
    faults: list[str]
    flags: list[Flag]
    done: int
    total: int


@dataclass
class _Done:
    event: Event
    again: str = ""


@dataclass
class _Fold:
    plan: Plan
    done: dict[str, _Done] = field(default_factory=dict)
    values: dict[str, dict[str, float]] = field(default_factory=dict)
    faults: dict[str, str] = field(default_factory=dict)
    flags: list[Flag] = field(default_factory=list)
    workers: set[str] = field(default_factory=set)


def gate_fault(gate: GateOut, value: float | None) -> str:
    """Why a reading does not pass its gate; empty when it does. A tolerance asks, it does not stop."""
    if value is None:
        return f"{gate.label}: no reading" if gate.required else ""
    if gate.least is not None and value < gate.least * (1 - 1e-9):
        return f"{gate.label}: {value:g} {gate.unit} is under the least of {gate.least:g}"
    if gate.most is not None and value > gate.most * (1 + 1e-9):
        return f"{gate.label}: {value:g} {gate.unit} is over the most of {gate.most:g}"
    return ""


def missing(step: StepOut, done: Sequence[str] | set[str]) -> list[str]:
    """Ids of the steps that must be done before `step` and are not."""
    return [n for n in step.needs if n not in done]


def refusal(
    plan: Plan, step: StepOut, counted: set[str], values: dict[str, float], actor: str, workers: set[str]
) -> str:
    """Why `step` cannot be confirmed now by `actor`; empty when it can."""
    lacking = missing(step, counted)
    if lacking:
        titles = {s.id: s.title for s in plan.steps}
        return "First: " + "; ".join(titles[n] for n in lacking)
    for gate in step.gates:
        fault = gate_fault(gate, values.get(gate.id))
        if fault:
            return fault
    if step.second_person and actor in workers:
        return "Needs a second person: you did part of this work yourself"
    return ""


def fold(plan: Plan, events: Sequence[Event]) -> Progress:
    """The state that follows from a plan and all events of its joint, in the order they were accepted.

    Events of an older revision carry over when their step's stamp is unchanged; else the step asks
    again. No event is dropped: one that does not count is flagged.
    """
    f = _Fold(plan)
    for event in events:
        _take(f, event)
    return _progress(f)


def _take(f: _Fold, e: Event) -> None:
    step = f.plan.step(e.step) if e.step else None
    if e.kind == "fault":
        f.faults[e.id] = e.text or "fault"
    elif e.kind == "fault-cleared":
        f.faults.pop(e.text, None)
    elif e.kind == "note":
        return
    elif step is None:
        f.flags.append(Flag(event=e.id, step=e.step, why="The plan has no such step any more"))
    elif e.kind == "reading":
        f.values[step.id] = f.values.get(step.id, {}) | e.values
    elif e.kind == "done":
        _confirm(f, step, e)
    elif e.kind == "undone":
        _undo(f, step, e)


def _confirm(f: _Fold, step: StepOut, e: Event) -> None:
    values = f.values.get(step.id, {}) | e.values
    f.values[step.id] = values
    if e.stamp != step.stamp:
        f.done[step.id] = _Done(e, again=f"Done for revision {e.revision}; the plan has changed here")
        f.workers.add(e.actor)
        return
    counted = {k for k, d in f.done.items() if not d.again}
    why = refusal(f.plan, step, counted, values, e.actor, f.workers)
    if why:
        f.flags.append(Flag(event=e.id, step=step.id, why=why))
        return
    f.done[step.id] = _Done(e)
    if step.kind not in ("sign", "gate"):
        f.workers.add(e.actor)


def _undo(f: _Fold, step: StepOut, e: Event) -> None:
    was = f.done.get(step.id)
    if was is None:
        f.flags.append(Flag(event=e.id, step=step.id, why="It was not confirmed"))
    elif step.hold and was.event.actor != e.actor:
        f.flags.append(
            Flag(event=e.id, step=step.id, why=f"Only {was.event.actor}, who signed it, may take it back")
        )
    else:
        for step_id in dependents(f.plan, step.id) | {step.id}:
            f.done.pop(step_id, None)


def dependents(plan: Plan, step_id: str) -> set[str]:
    """Every step that needs `step_id`, directly or not."""
    found: set[str] = set()
    frontier = {step_id}
    while frontier:
        frontier = {s.id for s in plan.steps if frontier & set(s.needs)} - found
        found |= frontier
    return found


def _progress(f: _Fold) -> Progress:
    counted = {k for k, d in f.done.items() if not d.again}
    states: list[StepState] = []
    for s in f.plan.steps:
        was, values = f.done.get(s.id), f.values.get(s.id, {})
        lacking = missing(s, counted)
        if was and not was.again:
            states.append(
                StepState(
                    id=s.id, state="done", actor=was.event.actor, at=was.event.client_time, values=values
                )
            )
        elif was and not lacking:
            states.append(
                StepState(
                    id=s.id,
                    state="again",
                    actor=was.event.actor,
                    at=was.event.client_time,
                    values=values,
                    why=was.again,
                )
            )
        else:
            states.append(
                StepState(
                    id=s.id,
                    state="locked" if lacking else "open",
                    locked_by=lacking,
                    values=values,
                    why=was.again if was else "",
                )
            )
    by_layer: dict[str, list[str]] = {}
    for s in f.plan.steps:
        if s.layer and s.kind in ("join", "seal", "cut"):
            by_layer.setdefault(s.layer, []).append(s.id)
    return Progress(
        state=_state(f, counted),
        steps=states,
        next=[s.id for s in states if s.state in ("open", "again")],
        layers_done=[layer for layer, ids in by_layer.items() if counted.issuperset(ids)],
        holds_left=[s.hold for s in f.plan.steps if s.hold and s.id not in counted],
        faults=list(f.faults.values()),
        flags=f.flags,
        done=len(counted),
        total=len(f.plan.steps),
    )  # fmt: skip


def _state(f: _Fold, counted: set[str]) -> str:
    if any(s.hold == "released" and s.id in counted for s in f.plan.steps):
        return "released"
    if f.faults:
        return "stopped"
    if not f.done:
        return "planned"
    left = {s.station for s in f.plan.steps if s.id not in counted}
    if left <= {"sign"}:
        return "to release"
    return "to prove" if left <= {"prove", "sign"} else "building"


def made(plan: Plan, progress: Progress, before: Made | None = None) -> Made:
    """The facts that a new plan starts from: cores cut, sleeves cut and parked, the outer sleeve's side."""
    counted = {s.id for s in progress.steps if s.state == "done"}
    before = before or Made()
    parked = (
        [(side, e) for side, es in (("a", plan.park.a), ("b", plan.park.b)) for e in es if e.step in counted]
        if plan.park
        else []
    )
    cut = any(s.id in counted and s.kind == "cut" and s.core for s in plan.steps)
    return Made(
        gap_mm=plan.gap_mm if cut else before.gap_mm,
        centres_mm=tuple(c.centre_mm for c in plan.cores) if cut else before.centres_mm,
        parts={**(before.parts or {}), **{e.layer: e.part_id for _, e in parked}},
        outer_side=next((side for side, e in parked if e.track == "sheath"), before.outer_side),
    )
