"""What the readings say of the joint: release, release with a limit, or remake; always with reasons."""

from tinknot.core.allowed import gate_fault, outside
from tinknot.core.model import Result
from tinknot.core.plan import GateOut, Plan, StepOut
from tinknot.core.progress import Progress, StepState
from tinknot.core.proof import insulation
from tinknot.core.rulebook import RuleBook

ROOM_C = 20.0


class ProofOut(Result):
    """A reading against its limit. For insulation also as it would be at 20 °C, per km where the
    cable's length is known, and as a share of the reading before the joint was closed."""

    step: str
    gate: str
    label: str
    value: float
    unit: str
    limit: str
    passes: bool
    at_20c: float | None = None
    mohm_km: float | None = None
    share_of_before: float | None = None


class Judgement(Result):
    """`verdict`: not-yet, release, limit or remake. `limits` are the words a release with a limit carries."""

    verdict: str
    reasons: list[str]
    limits: list[str]
    proofs: list[ProofOut]


def judge(plan: Plan, progress: Progress, rules: RuleBook) -> Judgement:
    """The verdict that readings, deviations and faults add up to."""
    states = {s.id: s for s in progress.steps}
    proofs = [p for s in plan.steps for p in _proofs(plan, s, states, rules)]
    open_ = [
        s.title
        for s in plan.steps
        if s.station in ("cut", "park", "build", "prove") and states[s.id].state != "done"
    ]
    failed = [f"{p.label}: {p.value:g} {p.unit}, {p.limit}" for p in proofs if not p.passes]
    fallen = [
        f"{p.label} fell to {p.share_of_before:.0%} of the reading before closing"
        for p in proofs
        if p.share_of_before is not None and p.share_of_before < rules.number("insulation.trend_share")
    ]
    kept = [
        f"{s.title}: {_off(g, st)}, kept because: {st.reason}"
        for s in plan.steps
        if (st := states[s.id]).reason
        for g in s.gates
        if outside(g, st.values.get(g.id))
    ]
    if failed:
        return Judgement(verdict="remake", reasons=failed, limits=[], proofs=proofs)
    if open_ or progress.faults:
        reasons = [f"Stopped: {f.seen}" for f in progress.faults] + [f"Still open: {', '.join(open_[:3])}" + (" …" if len(open_) > 3 else "")] * bool(open_)  # fmt: skip
        return Judgement(verdict="not-yet", reasons=reasons, limits=[], proofs=proofs)
    if fallen or kept:
        days = rules.number("release.inspect_days")
        limits = ([f"inspect again within {days:g} days"] if fallen else []) + (
            ["no pull, no flex"] if kept else []
        )
        return Judgement(verdict="limit", reasons=fallen + kept, limits=limits, proofs=proofs)
    return Judgement(
        verdict="release", reasons=["Every reading is within its limit and nothing was left outside its tolerance."],
        limits=[], proofs=proofs,
    )  # fmt: skip


def _off(gate: GateOut, state: StepState) -> str:
    return f"{state.values[gate.id]:g} {gate.unit} for {gate.target:g} ± {gate.tolerance:g}"


def _proofs(plan: Plan, step: StepOut, states: dict[str, StepState], rules: RuleBook) -> list[ProofOut]:
    values = states[step.id].values
    found = []
    for g in step.gates:
        value = values.get(g.id)
        if value is None or (g.least is None and g.most is None):
            continue
        limit = f"at least {g.least:g}" if g.least is not None else f"at most {g.most:g}"
        proof = ProofOut(
            step=step.id, gate=g.id, label=g.label, value=value, unit=g.unit, limit=limit, passes=not gate_fault(g, value)
        )  # fmt: skip
        if g.unit == "MΩ" and g.least is not None and value > 0:
            proof = proof.model_copy(update=_trend(plan, step, g, states, rules))
        found.append(proof)
    return found


def _trend(
    plan: Plan, step: StepOut, gate: GateOut, states: dict[str, StepState], rules: RuleBook
) -> dict[str, float | None]:
    halving, length_m = rules.number("insulation.halving_c"), plan.cable_length_m

    def at_20c(state: StepState) -> tuple[float | None, float | None]:
        value = state.values.get(gate.id)
        if not value:
            return None, None
        found = insulation(
            value, state.values.get("temperature", ROOM_C), length_m or 1000.0, gate.least or value, halving
        )
        return found.at_20c_mohm, found.mohm_km if length_m else None

    now, per_km = at_20c(states[step.id])
    before = None
    if step.id.startswith("test.after") and (earlier := states.get(step.id.replace("after", "before"))):
        before = at_20c(earlier)[0]
    return {"at_20c": now, "mohm_km": per_km, "share_of_before": now / before if now and before else None}
