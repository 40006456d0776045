"""Why a step cannot be confirmed now. Each answer is a sentence for the person at the joint."""

from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta

from tinknot.core.figures import plain
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import GateOut, StepOut, TimerOut
from tinknot.core.work.events import Event
from tinknot.core.work.ringing import rung_wrong
from tinknot.core.work.toolsdates import day_of, refused_tools


def missing(step: StepOut, done: Sequence[str] | set[str]) -> list[str]:
    """Ids of the steps that must be done before `step` and are not."""
    return [n for n in step.needs if n not in done]


def outside(gate: GateOut, value: float | None) -> bool:
    """Whether a reading lies outside its gate's tolerance."""
    if value is None or gate.target is None or gate.tolerance is None:
        return False
    return abs(value - gate.target) > gate.tolerance + 1e-9 * max(1.0, abs(gate.target))


def _unread(gate: GateOut, reason: str) -> str:
    """Why a figure that was not read is missed; empty where it may be left out, or its absence has a
    reason."""
    if not gate.required or (gate.excuse and reason.strip()):
        return ""
    if gate.excuse:
        return f"{gate.label}: no reading; read it, or say why it cannot be read"
    return f"{gate.label}: no reading"


def gate_fault(gate: GateOut, value: float | None, reason: str = "") -> str:
    """Why a reading does not pass its gate; empty when it does, or stays with a reason where it may."""
    if value is None:
        return _unread(gate, reason)
    if gate.least is not None and value < gate.least * (1 - 1e-9):
        return f"{gate.label}: {plain(value)} {gate.unit} is under the least of {plain(gate.least)}"
    if gate.most is not None and value > gate.most * (1 + 1e-9):
        return f"{gate.label}: {plain(value)} {gate.unit} is over the most of {plain(gate.most)}"
    if outside(gate, value) and not (gate.accept and reason.strip()):
        way = "do it again, plan again with it, or say why it may stay" if gate.accept else "do it again"
        return (
            f"{gate.label}: {plain(value)} {gate.unit} is outside {plain(gate.target or 0)} ±"
            f" {plain(gate.tolerance or 0)}; {way}"
        )
    return ""


def due(timer: TimerOut, since: datetime, minutes: float | None) -> datetime | None:
    """The moment `minutes` after `since`; None where the timer has no such edge."""
    return None if minutes is None else since + timedelta(minutes=minutes)


def too_early(step: StepOut, since: Mapping[str, datetime], at: datetime, values: Mapping[str, float]) -> str:
    """Which wait of the step is not over at `at`; empty when all are. A reading that passes its gate
    ends the wait that names it."""
    gates = {g.id: g for g in step.gates}
    for timer in step.timers:
        begun = since.get(timer.after)
        if begun is None or timer.least_min is None:
            continue
        read = values.get(timer.unless_gate)
        if read is not None and not gate_fault(gates[timer.unless_gate], read):
            continue
        left = (begun + timedelta(minutes=timer.least_min) - at).total_seconds()
        if left > 1:
            words = f"{left / 60:.0f} min" if left > 90 else f"{left:.0f} s"
            return f"{timer.label}: {words} to wait"
    return ""


def too_late(step: StepOut, since: Mapping[str, datetime], at: datetime) -> str:
    """Which time of the step ran out before `at`; empty when none did."""
    for timer in step.timers:
        begun = since.get(timer.after)
        if begun is None or timer.most_min is None:
            continue
        over = (at - begun).total_seconds() / 60 - timer.most_min
        if over > 0:
            return f"{timer.label}: {over:.0f} min too late, {timer.most_min:g} min are allowed"
    return ""


CLOCK_TOLERANCE_S = 120.0  # two devices' clocks, each brought to the server's, differ by no more than this


def misdated(event: Event) -> str:
    """Why the time of an event cannot be true; empty when it can. Events from before format 2 were taken
    without a look at their time and stay as they are."""
    if event.format < 2:
        return ""
    if float(event.facts.get("ahead-s", "0")) > CLOCK_TOLERANCE_S:
        return "It is dated after the server's clock; set the device's clock and confirm it again"
    made = event.facts.get("plan-made", "")
    taken = datetime.fromisoformat(event.server_time) if event.format >= 4 else None
    if made and taken and (datetime.fromisoformat(made) - taken).total_seconds() > CLOCK_TOLERANCE_S:
        return (
            f"Its plan is dated {made[:16].replace('T', ' ')} UTC, which is still to come: the server's"
            " clock was wrong when it was made. Plan again, then confirm it once more"
        )
    if made and (datetime.fromisoformat(made) - event.moment).total_seconds() > CLOCK_TOLERANCE_S:
        return (
            f"It is dated {event.at[:16].replace('T', ' ')} UTC, before its plan was made; confirm it again"
        )
    return ""


def out_of_turn(plan: Plan, step: StepOut, event: Event, since: Mapping[str, datetime]) -> str:
    """Which step that `step` needs was done later than this event says; empty when none was."""
    if event.format < 2:
        return ""
    late = [
        n for n in step.needs if n in since and (since[n] - event.moment).total_seconds() > CLOCK_TOLERANCE_S
    ]
    titles = {s.id: s.title for s in plan.steps if s.id in late}
    return f"It is dated before {'; '.join(titles.values())} was done; confirm it again" if late else ""


def impossible(gate: GateOut, event: Event) -> str:
    """Why a figure of an event cannot have been read at all; empty when it can. What was taken before format
    4 stays."""
    value = event.values.get(gate.id)
    if event.format < 4 or value is None or gate.possible is None:
        return ""
    low, high = gate.possible
    if low <= value <= high:
        return ""
    return (
        f"{gate.label}: {plain(value)} {gate.unit} cannot be: it lies between {plain(low)} and {plain(high)}"
        f" {gate.unit}. Is it another figure, or another unit?"
    )


def no_reading(step: StepOut, event: Event) -> str:
    """Why the figures of an event are none: they cannot have been read, or not with such a tool; empty when
    they are. What was taken before format 4 stays."""
    if event.format < 4:
        return ""
    cannot = next((f for g in step.gates if (f := impossible(g, event))), "")
    return cannot or refused_tools(step, event)


def out_of_date(plan: Plan, step: StepOut, event: Event) -> str:
    """Which tool, lot or permit was past its date when the step was done, or which heat is not allowed here;
    empty when all were good, or somebody who may has said why a tool serves all the same."""
    day = day_of(event)
    if late := refused_tools(step, event):
        return late
    if "flame" in (event.facts.get(f"source:{kind}") for kind in step.tools):
        if plan.step("gas-test"):
            return "never a flame in a hazardous area: take hot air, or close it cold"
        if not event.facts.get("permit-until"):
            return "a flame needs its own permit: note until when it holds on the card, or take hot air"
    until = event.facts.get("lot-use-by", "")
    if until and until < day:
        return f"lot {event.lot} was good until {until}; take another"
    until = event.facts.get("permit-until", "")
    if step.hot and until and datetime.fromisoformat(until) < event.moment:
        return "the hot work permit has run out; have it renewed on the card before heat is used"
    return ""


def refusal(
    plan: Plan,
    step: StepOut,
    event: Event,
    *,
    counted: set[str],
    values: dict[str, float],
    since: Mapping[str, datetime],
    workers: set[str],
    against: Sequence[str] = (),
) -> tuple[str, bool]:
    """Why `event` does not confirm `step`, empty when it does; and whether that lasts, so that confirming
    the same again would be as vain: a reading, a person or a date, not a wait or a clock."""
    lacking = missing(step, counted)
    if lacking:
        titles = {s.id: s.title for s in plan.steps}
        return "First: " + "; ".join(titles[n] for n in lacking), False
    if refused := event.facts.get("refused", "") or out_of_turn(plan, step, event, since):
        return refused, False
    if against and event.format >= 4:
        return f"It is not released: {'; '.join(against)}", False
    if wrong := rung_wrong(step, values):
        return " ".join(wrong), True
    for gate in step.gates:
        if fault := impossible(gate, event) or gate_fault(gate, values.get(gate.id), event.text):
            return fault, True
    alone = step.second_person or (step.hold == "released" and event.format >= 2)  # no rule drops that one
    if alone and event.person & (workers | set(event.facts.get("worked", "").split())):
        return "Needs a second person: you did part of this work yourself", True
    if wait := too_early(step, since, event.moment, values):
        return wait, False
    return out_of_date(plan, step, event), True
