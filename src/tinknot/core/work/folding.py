"""Plan and events folded to what is done, what is next, and what is locked by what. Pure."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from datetime import datetime

from tinknot.core.figures import plain
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut
from tinknot.core.work.allowed import (
    due,
    gate_fault,
    misdated,
    missing,
    no_reading,
    out_of_turn,
    outside,
    refusal,
    too_late,
)
from tinknot.core.work.cureclock import CureState, cure_state, not_cured
from tinknot.core.work.events import Event, person_mark
from tinknot.core.work.mending import Again, Place, consequence, dependents, mends_of
from tinknot.core.work.states import Flag, Mended, OpenFault, Progress, StepState, TimerState
from tinknot.core.work.toolsdates import MAY_VOUCH, overdue
from tinknot.core.work.working import worked

BUILDS = (
    "join",
    "seal",
    "cut",
    "wrap",
    "bond",
    "fit",
    "mix",
    "screen",
    "adhesive",
)  # steps after which something of the layer is there


def building(plan: Plan) -> dict[str, list[str]]:
    """By layer, the steps that build it: it is there, and drawn so, when all of them are done."""
    found: dict[str, list[str]] = {}
    for s in plan.steps:
        if s.layer and s.kind in BUILDS:
            found.setdefault(s.layer, []).append(s.id)
    return found


@dataclass
class _Done:
    event: Event
    again: str = ""


@dataclass
class Fold:
    """The state after some events; `take` adds the next one. Events of an older revision carry over
    when their step's stamp is unchanged; else the step asks again. No event is dropped: one that
    does not count is flagged."""

    plan: Plan
    done: dict[str, _Done] = field(default_factory=dict)
    values: dict[str, dict[str, float]] = field(default_factory=dict)
    simulated: dict[str, set[str]] = field(default_factory=dict)
    over: dict[str, set[str]] = field(default_factory=dict)
    reported: dict[str, Event] = field(default_factory=dict)
    faults: dict[str, OpenFault] = field(default_factory=dict)
    flags: dict[str, Flag] = field(default_factory=dict)
    photos: dict[str, list[str]] = field(default_factory=dict)
    mended: list[Mended] = field(default_factory=list)
    scrapped: list[Again] = field(default_factory=list)
    lost_mm: dict[str, float] = field(default_factory=dict)
    attempt: int = 0
    lots: dict[str, str] = field(default_factory=dict)
    warmth: dict[str, list[tuple[datetime, float]]] = field(default_factory=dict)
    workers: set[str] = field(default_factory=set)
    since_hold: set[str] = field(default_factory=set)

    def __post_init__(self) -> None:
        self._steps = {s.id: s for s in self.plan.steps}
        self._building = building(self.plan)
        self._release = next((s.id for s in self.plan.steps if s.hold == "released"), "")

    def take(self, e: Event) -> None:
        """The next event. One whose time cannot be true is flagged; it confirms nothing and reads nothing,
        but a fault it tells of is a fault and what it takes back is taken back. Whoever did something did
        it, whether it counts or not. What comes after the release changes nothing of what was released: it is
        kept and flagged."""
        step = self._steps.get(e.step)
        if self._released and e.kind not in ("note", "settled"):
            self._flag(e, self._late(e, step), late=True)
            return
        self._take(e, step)
        if e.format >= 3 and worked(e, step.hold if step else None, step.kind if step else ""):
            self.workers |= e.worker
            self.since_hold |= e.worker
        if e.facts.get("unclaimed"):
            self.flags.setdefault(e.id, Flag(event=e.id, step=e.step, why=UNCLAIMED, counts=True))

    @property
    def _released(self) -> bool:
        """Whether the joint is released."""
        was = self.done.get(self._release)
        return was is not None and not was.again

    def _late(self, e: Event, step: StepOut | None) -> str:
        """What an event tells that came after the release, in words."""
        released = self.done[self._release].event
        when = "before the release, sent after it" if e.moment <= released.moment else "after the release"
        where = f" at “{step.title}”" if step else ""
        seen = e.text or next((f.seen for f in self.plan.faults if f.id == e.choice), "")
        said = {
            "fault": f"a fault was seen{where}: {seen or 'without words'}",
            "reading": f"a reading was taken{where}: {self._read_out(step, e)}",
            "photo": f"a photograph was taken{where}",
            "undone": f"something was taken back{where}",
        }.get(e.kind, f"something was confirmed{where}")
        return f"{e.actor}, {when}: {said}"

    def _read_out(self, step: StepOut | None, e: Event) -> str:
        """The readings of an event with their names and units."""
        gates = {g.id: g for g in step.gates} if step else {}
        told = [
            f"{gates[k].label} {plain(v)} {gates[k].unit}" if k in gates else f"{k} {plain(v)}"
            for k, v in e.values.items()
        ]
        return ", ".join(told)

    def _take(self, e: Event, step: StepOut | None) -> None:
        if why := misdated(e):
            self._flag(e, why)
            if e.kind in ("done", "reading"):
                return
        match e.kind:
            case "note":
                return
            case "fault":
                seen = e.text or next((f.seen for f in self.plan.faults if f.id == e.choice), "fault")
                self._fault(e, e.id, e.choice, seen, step=step)
                self.reported[e.id] = e
            case "undone" if e.about:
                self._withdraw(e)
            case "remedy":
                self._mend(e)
            case "settled":
                self._settle(e)
            case "photo":
                self.photos.setdefault(e.step, []).append(e.photo)
            case _ if step is None:
                self._flag(e, "The plan has no such step any more")
            case _:
                self._work(step, e)

    def _settle(self, e: Event) -> None:
        """Somebody settles what was flagged."""
        late = e.about in self.flags and self.flags[e.about].late
        if late and e.role not in MAY_VOUCH:
            self._flag(e, "What came after a release is settled by a verifier")
        else:
            self.flags.pop(e.about, None)

    def _work(self, step: StepOut, e: Event) -> None:
        """A step is read, done, or taken back."""
        if e.kind == "done":
            self._confirm(step, e)
        elif e.kind == "undone":
            self._undo(step, e)
        elif e.kind == "reading" and e.stamp == step.stamp:
            if why := self._unread(step, e):
                self._flag(e, why)
            else:
                self._read(step, e)
                self._warm(step, e)

    def _unread(self, step: StepOut, e: Event) -> str:
        """Why readings that an event brings by themselves are none; empty when they are."""
        return out_of_turn(self.plan, step, e, self.since()) or no_reading(step, e)

    def _read(self, step: StepOut, e: Event) -> None:
        """The readings of a step, and which of them are a stand-in's or beyond the display."""
        self.values[step.id] = self.values.get(step.id, {}) | e.values
        for kept, given in ((self.simulated, e.facts.get("simulated", "").split()), (self.over, e.over)):
            now = (kept.get(step.id, set()) - set(e.values)) | set(given)
            if now or step.id in kept:
                kept[step.id] = now

    def counted(self) -> set[str]:
        """Ids of the steps that are done for this plan."""
        return {k for k, d in self.done.items() if not d.again}

    def since(self) -> Mapping[str, datetime]:
        """When each step was done."""
        return {k: d.event.moment for k, d in self.done.items() if not d.again}

    def _warm(self, step: StepOut, e: Event) -> None:
        """A temperature noted while something hardens."""
        if step.cure and "temperature" in e.values:
            self.warmth.setdefault(step.id, []).append((e.moment, e.values["temperature"]))

    def cure(self, step: StepOut) -> CureState | None:
        """How far the cure of `step` has come; None before the pour."""
        poured = self.since().get(step.cure.since) if step.cure else None
        if poured is None or step.cure is None:
            return None
        return cure_state(
            step.id, step.cure, poured, self.warmth.get(step.id, []), ambient_c=self.plan.ambient_c
        )

    def _flag(self, e: Event, why: str, **more: bool) -> None:
        self.flags[e.id] = Flag(event=e.id, step=e.step, why=why, **more)

    def _fault(self, e: Event, fault_id: str, choice: str, seen: str, step: StepOut | None) -> None:
        layer = step.layer if step else ""
        owner = next((f.layer for f in self.plan.faults if f.id == choice and f.layer == layer), None)
        if choice and owner is None:  # a forgotten part is a fault of another layer than the step's
            layer = next((f.layer for f in self.plan.faults if f.id == choice), layer)
        self.faults[fault_id] = OpenFault(
            id=fault_id,
            fault=choice,
            step=e.step,
            layer=layer,
            seen=seen,
            actor=e.actor,
            at=e.at,
            reporter=(person_mark(e.actor_id) if e.actor_id else e.actor) if e.kind == "fault" else "",
        )

    def _withdraw(self, e: Event) -> None:
        """A fault that was reported by mistake: whoever reported it takes it back. Both stay in the
        record."""
        reported, fault = self.reported.get(e.about), self.faults.get(e.about)
        if fault is None:
            self._flag(e, "This fault is not open any more")
        elif reported is None:
            self._flag(e, "This fault was found by the clock; nobody reported it, so nobody takes it back")
        elif not e.by_whom_made(reported):
            self._flag(e, f"Only {reported.actor}, who reported it, may take it back")
        else:
            del self.faults[e.about]
            words = "Taken back by whoever reported it" + (f": {e.text}" if e.text else "")
            self._mended(fault, words, {}, e)

    def _mended(self, fault: OpenFault, words: str, lost_mm: dict[str, float], e: Event) -> None:
        self.mended.append(
            Mended(seen=fault.seen, step=fault.step, words=words, lost_mm=lost_mm, actor=e.actor, at=e.at)
        )

    def _confirm(self, step: StepOut, e: Event) -> None:
        was = self.done.get(step.id)
        if e.stamp != step.stamp:
            self.done[step.id] = _Done(e, again=f"Done for revision {e.revision}; the plan has changed here")
            self._worked(step, e)
            return
        if was and not was.again:
            self._twice(step, was.event, e)
            return
        values = self.values.get(step.id, {}) | e.values
        reads = not no_reading(step, e)
        if reads:
            self._warm(step, e)
        cure = self.cure(step)
        why, lasts = refusal(
            self.plan,
            step,
            e,
            counted=self.counted(),
            values=values,
            since=self.since(),
            workers=self.workers if step.hold == "released" else self.since_hold,
            against=self._against() if step.hold == "released" else (),
        )
        if not why and cure:
            why, lasts = not_cured(cure, e.moment), False
        if reads:
            self._read(step, e)
        if why:
            self._flag(e, why, lasts=lasts)
            return
        late = too_late(step, self.since(), e.moment)
        self.done[step.id] = _Done(e)
        if e.lot:
            self.lots[f"{step.layer}/{step.part_id}"] = e.lot
        self._worked(step, e)
        if late:
            self._fault(e, f"late-{e.id}", "surface-late", late, step=step)

    def _against(self) -> list[str]:
        """What stands against the release whatever the rules say: faults that are open, and readings of steps
        that are done which do not pass."""
        open_ = [f"“{f.seen}” is open" for f in self.faults.values()]
        steps = [self._steps[k] for k in self.counted()]
        failed = [
            fault
            for s in steps
            for g in s.gates
            if (v := self.values.get(s.id, {}).get(g.id)) is not None
            and (g.least is not None or g.most is not None)
            and (fault := gate_fault(g, v))
        ]
        return open_ + failed

    def _twice(self, step: StepOut, first: Event, e: Event) -> None:
        """Confirmed on two devices: the first counts, the second is shown, with what differs."""
        now = self.values.get(step.id, {})
        differs = {k: v for k, v in e.values.items() if now.get(k) != v}
        if e.device == first.device and not differs:
            return
        words = f"Confirmed already by {first.actor} at {first.at[11:16]} UTC"
        apart = [f"; {k} reads {plain(v)} here, {plain(now.get(k, 0))} there" for k, v in differs.items()]
        self._flag(e, words + "".join(apart), second=True)

    def _worked(self, step: StepOut, e: Event) -> None:
        """A hold closes what was done before it. Events of before format 4 were work by their step's kind."""
        by_kind = e.format < 4 and step.kind not in ("sign", "gate")
        if by_kind:
            self.workers |= e.worker
        if step.hold:
            self.since_hold.clear()
        elif by_kind:
            self.since_hold |= e.worker

    def _undo(self, step: StepOut, e: Event) -> None:
        was = self.done.get(step.id)
        if was is None:
            self._flag(e, "It was not confirmed")
        elif step.hold and not e.by_whom_made(was.event):
            self._flag(e, f"Only {was.event.actor}, who signed it, may take it back")
        else:
            self._reopen({step.id} | dependents(self.plan, {step.id}))

    def _reopen(self, step_ids: Iterable[str]) -> None:
        for step_id in step_ids:
            self.done.pop(step_id, None)
            for kept in (self.values, self.simulated, self.over):
                kept.pop(step_id, None)
            self.warmth.pop(step_id, None)

    def _mend(self, e: Event) -> None:
        fault = self.faults.get(e.about)
        if fault is None:
            self._flag(e, "This fault is not open any more")
            return
        place = Place(fault.fault, fault.step, fault.layer)
        mend = next((m for m in mends_of(self.plan, place) if m.kind == e.choice), None)
        if mend is None:
            self._flag(e, "This is no way to mend that fault")
            return
        cost = consequence(self.plan, place, mend, self.counted(), lost_mm=self.lost_mm)
        if cost.why_not:
            self._flag(e, f"Not possible: {cost.why_not}")
            return
        del self.faults[e.about]
        self.scrapped += [
            a.model_copy(update={"lot": self.lots.get(f"{a.layer}/{a.part_id}", a.lot)}) for a in cost.again
        ]
        for end, mm in cost.lost_mm.items():
            self.lost_mm[end] = self.lost_mm.get(end, 0.0) + mm
        if mend.kind == "remake":
            self.attempt += 1
        self._reopen(cost.reopens)
        self._mended(fault, mend.words, cost.lost_mm, e)

    def _step_state(self, s: StepOut, counted: set[str]) -> StepState:
        was, values = self.done.get(s.id), self.values.get(s.id, {})
        lacking = missing(s, counted)
        stands = was is not None and not (was.again and lacking)
        by = was.event if was and stands else None
        reason = by is not None and s.id in counted and any(outside(g, values.get(g.id)) for g in s.gates)
        return StepState(
            id=s.id,
            state=("done" if s.id in counted else "again") if stands else "locked" if lacking else "open",
            locked_by=[] if stands else lacking,
            actor=by.actor if by else "",
            at=by.at if by else "",
            values=values,
            simulated=sorted(self.simulated[s.id]) if s.id in self.simulated else [],
            over=sorted(self.over[s.id]) if s.id in self.over else [],
            why=was.again if was else "",
            reason=by.text if by and reason else "",
            excuse=by.text if by and excused(s, values) else "",
            overdue=(late := overdue(s, by) if by else []),
            tool_reason=by.text if by and late and by.format >= 4 else "",
            tools=[
                f"{name} ({source})" if (source := by.facts.get(f"source:{kind}")) else name
                for kind, name in sorted(by.tools.items())
            ]
            if by
            else [],
        )

    def _timers(self, counted: set[str]) -> list[TimerState]:
        since = self.since()
        running = ((s, t) for s in self.plan.steps if s.timers and s.id not in counted for t in s.timers)
        return [
            TimerState(
                id=t.id,
                step=s.id,
                label=t.label,
                since=since[t.after].isoformat(),
                ready_at=_text(due(t, since[t.after], t.least_min)),
                late_at=_text(due(t, since[t.after], t.most_min)),
            )
            for s, t in running
            if t.after in since
        ]

    def progress(self) -> Progress:
        """Where the work stands."""
        counted = self.counted()
        states = [self._step_state(s, counted) for s in self.plan.steps]
        released = next((s.id for s in self.plan.steps if s.hold == "released" and s.id in counted), None)
        limits = self.done[released].event.text if released else ""
        return Progress(
            state=self.state(counted),
            steps=states,
            next=[s.id for s in states if s.state in ("open", "again")],
            layers_done=[layer for layer, ids in self._building.items() if counted.issuperset(ids)],
            holds_left=[s.hold for s in self.plan.steps if s.hold and s.id not in counted],
            faults=list(self.faults.values()),
            flags=list(self.flags.values()),
            done=len(counted),
            total=len(self.plan.steps),
            timers=self._timers(counted),
            photos=self.photos,
            lost_mm=self.lost_mm,
            scrapped=self.scrapped,
            mended=self.mended,
            attempt=self.attempt,
            limits=limits,
            lots=self.lots,
            cures=[c for s in self.plan.steps if s.id not in counted and (c := self.cure(s))],
            workers=sorted(self.workers),
            since_hold=sorted(self.since_hold),
        )

    def state(self, counted: set[str]) -> str:
        """The joint's state, a word of the design."""
        released = next((s.id for s in self.plan.steps if s.hold == "released" and s.id in counted), None)
        if released:
            return "released with a limit" if self.done[released].event.text else "released"
        if self.faults:
            return "stopped"
        if not self.done:
            return "planned"
        open_ = [s for s in self.plan.steps if s.id not in counted and s.station not in ("prove", "sign")]
        if open_ and all(s.cure and self.cure(s) for s in open_):
            return "curing"
        left = {s.station for s in self.plan.steps if s.id not in counted}
        if left <= {"sign"}:
            return "to release"
        return "to prove" if left <= {"prove", "sign"} else "building"


UNCLAIMED = (
    "It waited on a device of an earlier version, which did not say under whose sign-in it was made; ask"
    " whoever it names whether it is theirs"
)


def excused(step: StepOut, values: Mapping[str, float]) -> bool:
    """Whether a figure that is asked for and may be excused was not read."""
    return any(g.excuse and g.id not in values for g in step.gates)


def _text(moment: datetime | None) -> str | None:
    return moment.isoformat() if moment else None


def fold(plan: Plan, events: Iterable[Event]) -> Progress:
    """The state that follows from a plan and all events of its joint, in the order they were accepted."""
    folded = Fold(plan)
    for event in events:
        folded.take(event)
    return folded.progress()
