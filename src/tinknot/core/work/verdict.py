"""What the readings say of the joint: release, release with a limit, or remake; always with reasons."""

from collections.abc import Mapping, Sequence

from tinknot.core.figures import plain
from tinknot.core.formulas.proof import LAW_C, insulation
from tinknot.core.model import Result
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import GateOut, StepOut
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.allowed import gate_fault, outside
from tinknot.core.work.states import Progress, StepState

ROOM_C = 20.0


class ProofOut(Result):
    """A reading against its limit. For insulation also as it would be at 20 °C, per km where the cable's
    length is known, and as a share of the reading before the joint was closed. `over`: the display showed
    more than it can; `simulated`: a stand-in gave it, and it proves nothing."""

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
    over: bool = False
    simulated: bool = False


class Judgement(Result):
    """`verdict`: not-yet, release, limit or remake. `limits` are the words a release with a limit carries,
    `notes` what whoever releases must know beside: pictures that are missing, readings of a stand-in, tools
    past their date, proofs that could not be read and why; `faults` what is open, each with who saw it."""

    verdict: str
    reasons: list[str]
    limits: list[str]
    proofs: list[ProofOut]
    notes: list[str] = []
    faults: list[str] = []


ALL_WELL = (
    "Every reading asked for is there or its absence is signed, all are within their limits, and nothing was"
    " left outside its tolerance."
)
RELEASABLE = ("release", "limit")  # the only verdicts that may be released


def against_release(judgement: Judgement, departures: Sequence[str], altered: str, limit: str) -> list[str]:
    """Everything that stands against a release, a sentence each; empty when the joint may be released.

    `departures`: what differs from the plan; `altered`: what of the stored record is not as it was signed;
    `limit`: the limit it is to be released with. Who signs is judged elsewhere (`allowed.refusal`)."""
    found = [f"Altered: {altered}. Have an admin look at the log and put a backup back."] if altered else []
    found += [f"Open: {fault}." for fault in judgement.faults]
    if departures:
        said = "; ".join(departures[:4])
        found.append(f"Changed since it was planned: {said}. Plan again, or put it back.")
    if judgement.verdict not in RELEASABLE and not judgement.faults:
        found.append(f"{'; '.join(judgement.reasons)}.")
    if judgement.verdict == "limit" and not limit.strip():
        found.append(f"It is released with a limit only ({'; '.join(judgement.limits)}): name it.")
    return found


def judge(plan: Plan, progress: Progress, rules: RuleBook) -> Judgement:
    """The verdict that readings, deviations and faults add up to."""
    open_ = [f"{f.seen} ({f.actor})" for f in progress.faults]
    notes = notes_of(plan, progress)
    return _judged(plan, progress, rules).model_copy(update={"notes": notes, "faults": open_})


class Trend(Result):
    """What a gate's insulation read before the joint was closed, MΩ at °C, and under what a reading now is
    so far fallen that it warns, at the same temperature. The verdict compares them at 20 °C."""

    step: str
    gate: str
    before_mohm: float
    before_over: bool
    before_c: float
    warn_below_mohm: float


def _before(plan: Plan, step: StepOut, states: dict[str, StepState]) -> StepState | None:
    """The same test before the joint was closed, for one after it: the one that reads the same."""
    if step.taken != "after":
        return None
    reads = {(g.id, g.unit) for g in step.gates}
    found = (s for s in plan.steps if s.taken == "before" and {(g.id, g.unit) for g in s.gates} & reads)
    return next((states[s.id] for s in found), None)


def trends_of(plan: Plan, progress: Progress, rules: RuleBook) -> list[Trend]:
    """For every insulation reading after closing that was also taken before."""
    states, share = {s.id: s for s in progress.steps}, rules.number("insulation.trend_share")
    found = []
    for step in plan.steps:
        before = _before(plan, step, states)
        for gate in step.gates if before else ():
            value = before.values.get(gate.id) if before and gate.unit == "MΩ" else None
            if before and value:
                found.append(
                    Trend(
                        step=step.id,
                        gate=gate.id,
                        before_mohm=value,
                        before_over=gate.id in before.over,
                        before_c=before.values.get("temperature", ROOM_C),
                        warn_below_mohm=share * value,
                    )
                )
    return found


def notes_of(plan: Plan, progress: Progress) -> list[str]:
    """What a reader of the record must know beside its verdict: pictures that are missing, readings of a
    stand-in, tools past their date or named by nobody, proofs that could not be read."""
    states = {s.id: s for s in progress.steps}
    bare = [
        s.title
        for s in plan.steps
        if s.photo and states[s.id].state == "done" and not progress.photos.get(s.id)
    ]
    played = [s.title for s in plan.steps if states[s.id].simulated]
    found = [f"No photograph was taken: {'; '.join(bare)}."] if bare else []
    if played:
        found.append(f"Simulated readings, which prove nothing: {'; '.join(played)}.")
    done = [(s, states[s.id]) for s in plan.steps if states[s.id].state == "done"]
    found += [f"{s.title}: {words}{_accepted(st)}." for s, st in done for words in st.overdue]
    found += [
        f"Not read: {s.title}. Why not, by {st.actor}: {st.excuse.rstrip('.')}."
        for s, st in done
        if st.excuse
    ]
    found += [f"Never read, and no reason given: {title}." for title in _unread(plan, states)]
    return found


def _accepted(state: StepState) -> str:
    """Who took a tool past its date, and why."""
    return f"; accepted by {state.actor}: {state.tool_reason.rstrip('.')}" if state.tool_reason else ""


def _unread(plan: Plan, states: Mapping[str, StepState]) -> list[str]:
    """Proofs that are confirmed without a figure and without a reason why not: plans of before such a figure
    was asked for let that pass."""
    return [
        s.title
        for s in plan.steps
        if s.kind == "test"
        and s.gates
        and states[s.id].state == "done"
        and not states[s.id].excuse
        and not any(g.id in states[s.id].values for g in s.gates if g.least is not None or g.most is not None)
    ]


def _judged(plan: Plan, progress: Progress, rules: RuleBook) -> Judgement:
    states = {s.id: s for s in progress.steps}
    proofs = [p for s in plan.steps for p in _proofs(plan, s, states, rules)]
    open_ = [s.title for s in plan.steps if s.hold != "released" and states[s.id].state != "done"]
    failed = [f"{p.label}: {_value(p)} {p.unit}, {p.limit}" for p in proofs if not p.passes]
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
        reasons = [f"Stopped: {f.seen}" for f in progress.faults] + [
            f"Still open: {', '.join(open_[:3])}" + (" …" if len(open_) > 3 else "")
        ] * bool(open_)
        return Judgement(verdict="not-yet", reasons=reasons, limits=[], proofs=proofs)
    unread = _unread(plan, states)
    if fallen or kept or unread:
        days = rules.number("release.inspect_days")
        limits = [f"inspect again within {days:g} days"] if fallen else []
        limits += ["no pull, no flex"] if kept else []
        limits += [f"not read: {title}" for title in unread]
        reasons = fallen + kept + [f"{title} was confirmed without a figure" for title in unread]
        return Judgement(verdict="limit", reasons=reasons, limits=limits, proofs=proofs)
    return Judgement(
        verdict="release",
        reasons=[ALL_WELL],
        limits=[],
        proofs=proofs,
    )


def _value(proof: ProofOut) -> str:
    return ("over " if proof.over else "") + plain(proof.value)


def _off(gate: GateOut, state: StepState) -> str:
    return (
        f"{plain(state.values[gate.id])} {gate.unit} for {plain(gate.target or 0)} ±"
        f" {plain(gate.tolerance or 0)}"
    )


def _proofs(plan: Plan, step: StepOut, states: dict[str, StepState], rules: RuleBook) -> list[ProofOut]:
    values = states[step.id].values
    found = []
    for g in step.gates:
        value = values.get(g.id)
        if value is None or (g.least is None and g.most is None):
            continue
        limit = f"at least {plain(g.least)}" if g.least is not None else f"at most {plain(g.most or 0)}"
        proof = ProofOut(
            step=step.id,
            gate=g.id,
            label=g.label,
            value=value,
            unit=g.unit,
            limit=limit,
            passes=not gate_fault(g, value),
            over=g.id in states[step.id].over,
            simulated=g.id in states[step.id].simulated,
        )
        if g.unit == "MΩ" and g.least is not None and value > 0:
            proof = proof.model_copy(update=_trend(plan, step, g, states, rules=rules))
        found.append(proof)
    return found


def _trend(
    plan: Plan, step: StepOut, gate: GateOut, states: dict[str, StepState], rules: RuleBook
) -> dict[str, float | None]:
    halving, length_m = rules.number("insulation.halving_c"), plan.cable_length_m

    def at_20c(state: StepState) -> tuple[float | None, float | None]:
        value, warm = state.values.get(gate.id), state.values.get("temperature", ROOM_C)
        if not value or not LAW_C[0] <= warm <= LAW_C[1]:  # beyond it the law says nothing
            return None, None
        found = insulation(value, warm, length_m or 1000.0, gate.least or value, halving_c=halving)
        return found.at_20c_mohm, found.mohm_km if length_m else None

    if gate.id in states[step.id].over:  # how much more is not known, so it is compared with nothing
        return {}
    now, per_km = at_20c(states[step.id])
    before = None
    if earlier := _before(plan, step, states):
        before = at_20c(earlier)[0]
    return {"at_20c": now, "mohm_km": per_km, "share_of_before": now / before if now and before else None}
