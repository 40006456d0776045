"""The facts of a half-built joint that a new plan starts from."""

from tinknot.core.families.choice import Made
from tinknot.core.plan.plan import ORDER, Plan
from tinknot.core.work.allowed import outside
from tinknot.core.work.states import Progress


def made(plan: Plan, progress: Progress, before: Made | None = None) -> Made:
    """The facts that a new plan starts from: cores cut, sleeves cut and parked, the outer sleeve's side,
    and how far a core that was cut too short moves the sheath cut back."""
    counted = progress.counted()
    before = before or Made()
    if before.attempt != progress.attempt:
        before = Made(attempt=progress.attempt)
    parked = [(end, e) for end, e in plan.park.parts() if e.step in counted] if plan.park else []
    cut = any(s.id in counted and s.kind == "cut" and s.core for s in plan.steps)
    setback = dict(before.setback_mm or {})
    for end, short in _cut_short(plan, progress).items():
        setback[end] = setback.get(end, 0.0) + short
    keep = cut or bool(setback)
    mixes = [s.id for s in plan.steps if s.kind == "mix"]
    asked = before.asked
    if plan.order < ORDER and counted:
        asked = {s.id: s.needs for s in plan.steps}
    return Made(
        gap_mm=plan.gap_mm if keep else before.gap_mm,
        centres_mm=tuple(c.centre_mm for c in plan.cores) if keep else before.centres_mm,
        parts={**(before.parts or {}), **{e.layer: e.part_id for _, e in parked}},
        sides={**(before.sides or {}), **{e.layer: end.lower() for end, e in parked if e.track == "sheath"}},
        setback_mm=setback or None,
        attempt=progress.attempt,
        at_once=before.at_once or (len(mixes) == 1 and mixes[0] in counted),
        asked=asked,
        done=tuple(s.id for s in plan.steps if s.id in counted),
    )


def _cut_short(plan: Plan, progress: Progress) -> dict[str, float]:
    """By end, how much the shortest core lacks where one was cut too short and not accepted so, mm."""
    found: dict[str, float] = {}
    states = {s.id: s for s in progress.steps}
    for s in plan.steps:
        state = states[s.id]
        if not s.recut or state.reason:
            continue
        for g in s.gates:
            value = state.values.get(g.id)
            if value is not None and g.target is not None and outside(g, value) and value < g.target:
                found[s.end] = max(found.get(s.end, 0.0), round(g.target - value, 3))
    return found
