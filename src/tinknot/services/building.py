"""Work at the joint: events come in, are chained, and are folded to progress."""

from tinknot.core.errors import Conflict, InputError, NotAllowed, NotFound, OtherPerson
from tinknot.core.joint.measured import Measured
from tinknot.core.model import Result, Told
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut
from tinknot.core.plan.ways import MendOut
from tinknot.core.work.events import Event, EventIn, person_mark
from tinknot.core.work.folding import building
from tinknot.core.work.mending import (
    FREE_MENDS,
    Consequence,
    Place,
    again_from,
    consequence,
    mends_of,
    takes_parts,
)
from tinknot.core.work.states import Progress
from tinknot.core.work.toolsdates import tool_kinds
from tinknot.core.work.verdict import Judgement, Trend, against_release, judge, trends_of
from tinknot.services import (
    checkpoints,
    days,
    events,
    folds,
    instruments,
    joints,
    photos,
    pins,
    planning,
    records,
    stock,
    tools,
)
from tinknot.services.accounts import Person
from tinknot.services.clock import now_text
from tinknot.services.site import rule_book
from tinknot.services.tools import DialOut, ToolOut
from tinknot.store import log
from tinknot.store.database import reading, writing
from tinknot.store.models import Joint


class Work(Result):
    """Plan, progress and log of a joint; `now` is the server's clock, `pin_key` what PINs are sealed to,
    `verifiers` who may sign as the second person; `departures` what was measured or chosen since it was
    planned; `against` all that stands against its release, a limit that must be named apart, and `altered`
    what of the stored record is not as it was signed; `unplayed` why the order of its plan cannot be told by
    the laws of today; `workers` those who measured, planned or built; `builds` by layer the steps after which
    it is there; `again` by step where doing it again begins, and `free_mends` the ways to mend what is told
    in own words, for a device without a connection; `measured` what the plan was made from; `trends` what
    insulation read before."""

    ref: str
    number: int
    plan: Plan
    progress: Progress
    judgement: Judgement
    departures: list[str]
    against: list[str]
    altered: str
    unplayed: str
    events: list[Event]
    signed_hash: str | None
    signature: str | None
    now: str
    pin_key: str
    verifiers: list[pins.Verifier]
    tools: list[ToolOut]
    dials: list[DialOut]
    workers: list[str]
    builds: dict[str, list[str]]
    again: dict[str, list[str]]
    free_mends: list[MendOut]
    instruments: list[instruments.InstrumentOut]
    measured: list[Measured]
    trends: list[Trend]


class Taken(Told):
    """What became of an event: it is always kept; `counts` says whether it does, `why` why not."""

    event: Event
    counts: bool
    why: str
    progress: Progress
    now: str


class Mends(Result):
    """The ways to mend an open fault, each with what it costs."""

    items: list[Consequence]


def work(ref: str) -> Work:
    """Everything Build, Prove and Sign need. Raises NotFound before the first plan."""
    with reading():  # an event taken meanwhile is in both the log and the progress, or in neither
        row = joints.row_of(ref)
        revision = planning.latest(row)
        if revision is None:
            raise NotFound(f"{ref} is not planned yet.")
        progress = planning.progress_of(row)
        assert progress is not None
        happened = events.events_of(row)
    released = progress.state.startswith("released")
    plan, unplayed = (folds.read_plan(revision.plan), "") if released else planning.played(revision)
    judgement, altered = judge(plan, progress, rule_book()), checkpoints.fault_lately(row)
    departures = [] if row.signed_hash else planning.departures_of(row)
    return Work(
        ref=ref,
        number=revision.number,
        plan=plan,
        progress=progress,
        judgement=judgement,
        departures=departures,
        against=[]
        if released
        else against_release(judgement, departures, altered, "; ".join(judgement.limits)),
        altered=altered,
        unplayed=unplayed,
        events=happened,
        signed_hash=row.signed_hash,
        signature=row.signature,
        now=now_text(),
        pin_key=pins.public_key(),
        verifiers=pins.verifiers(),
        tools=tools.tools(),
        dials=tools.dials(s.heat_c for s in plan.steps if s.heat_c is not None),
        builds=building(plan),
        again=again_from(plan),
        free_mends=list(FREE_MENDS),
        instruments=instruments.installed(),
        measured=planning.made_from(revision).measured(),
        trends=trends_of(plan, progress, rule_book()),
        workers=sorted({*progress.workers, *map(person_mark, planning.workers_of(row))}),
    )


def mends(ref: str, fault_id: str) -> Mends:
    """What may be done about an open fault, and what each way costs now. Raises NotFound."""
    row = joints.row_of(ref)
    plan, progress = planning.plan_of(row), planning.progress_of(row)
    fault = next((f for f in progress.faults if f.id == fault_id), None) if progress else None
    if plan is None or progress is None or fault is None:
        raise NotFound(f"{ref} has no such open fault.")
    place = Place(fault.fault, fault.step, fault.layer)
    counted = progress.counted()
    found = [consequence(plan, place, m, counted, lost_mm=progress.lost_mm) for m in mends_of(plan, place)]
    return Mends(items=found)


def take(ref: str, given: EventIn, who: Person) -> Taken:
    """Accept an event once. A repeat of the same id answers as before.

    State, verdict and newest plan are looked at inside the transaction that accepts it, so that nothing comes
    between the look and the release. What comes after the release is kept behind it, and flagged; only a
    picture is not replaced, and nothing is signed twice. Raises Conflict for an id that was used for
    something else, OtherPerson for what somebody else did."""
    if who.role == "viewer":
        raise NotAllowed("A viewer may look, not work.")
    if given.by and given.by != person_mark(who.id):
        raise OtherPerson(
            f"This was done under somebody else's sign-in, and {who.name} is signed in here now. It waits"
            " until they sign in again."
        )
    row = joints.row_of(ref)
    if (taken := _taken_before(row, given, who)) is not None:
        return taken
    step = _step_of(row, given)
    kept = photos.kept_as(given.photo) if given.photo else ""
    if kept and photos.state(kept):
        raise InputError.at("/photo", "is not here yet; send the picture first")
    actor, signed_how = _signed(
        row, given, step, who
    )  # outside the transaction: hashing a PIN takes its time
    releases = step is not None and step.kind == "sign" and given.kind == "done"
    with writing():
        row = joints.row_of(ref)
        if (taken := _taken_before(row, given, who)) is not None:
            return taken
        if releases and row.state.startswith("released"):
            raise NotAllowed(f"{ref} is released already.")
        if releases:
            _may_release(row, given)
        facts = _facts(row, given, step) | signed_how
        if kept != given.photo:
            facts["photo-sent"] = given.photo
        event = events.append(
            row, given.model_copy(update={"photo": kept}), facts, actor, stamp=step.stamp if step else ""
        )
        progress = planning.settle(row, actor.name, _moves_parts(given, step))
        if progress.state.startswith("released") and not row.signed_hash:
            records.seal(row, event.hash)
    checkpoints.sign(row)
    return _taken(event, progress)


def _moves_parts(given: EventIn, step: StepOut | None) -> bool:
    """Whether the event may use up parts or give them back."""
    return given.kind in ("undone", "remedy") or (
        step is not None and given.kind == "done" and takes_parts(step)
    )


def _may_release(row: Joint, given: EventIn) -> None:
    """Whether what is signed is what was built: the newest plan, made from the draft as it is, its record
    unaltered, no fault open, with the limit its readings ask for. Raises NotAllowed, and InputError for a
    limit that is not named."""
    if given.revision != row.revision:
        raise NotAllowed(
            f"{row.ref} was planned again meanwhile; look at revision {row.revision} before it is released."
        )
    plan, progress = planning.plan_of(row), planning.progress_of(row)
    assert plan is not None
    assert progress is not None
    judgement, altered = judge(plan, progress, rule_book()), checkpoints.fault(row)
    departures = planning.departures_of(row)
    limit = given.text if given.text.strip() else "; ".join(judgement.limits)
    if against := against_release(judgement, departures, altered, limit):
        raise NotAllowed(f"{row.ref} is not released. {' '.join(against)}")
    if judgement.verdict == "limit" and not given.text.strip():
        raise InputError.at(
            "/text", f"must name the limit ({'; '.join(judgement.limits)}): {'; '.join(judgement.reasons)}"
        )


def _step_of(row: Joint, given: EventIn) -> StepOut | None:
    """The step the event speaks of, in its revision. Raises InputError for what that plan does not have."""
    plan = folds.plan_of_revision(row, given.revision)
    if plan is None:
        raise InputError.at("/revision", f"{row.ref} has no plan revision {given.revision}")
    step = plan.step(given.step) if given.step else None
    if (
        given.kind in ("done", "undone", "reading")
        and step is None
        and not (given.kind == "undone" and given.about)
    ):
        raise InputError.at("/step", f"revision {given.revision} has no step {given.step or 'of no name'}")
    known_gates = {g.id for g in step.gates} if step else set()
    for name in given.values:
        if name not in known_gates:
            raise InputError.at(f"/values/{name}", "is no reading of this step")
    for path, names in (("read_by", given.read_by), ("over", given.over)):
        for name in names:
            if name not in given.values:
                raise InputError.at(f"/{path}/{name}", "has no reading in this event")
    return step


def _facts(row: Joint, given: EventIn, step: StepOut | None) -> dict[str, str]:
    """What the site knows about the plan, tools, lot and permit at this moment."""
    facts = {"plan-made": planning.made_at(row, given.revision)} | tools.facts_of(given.tools)
    if not given.by:
        facts["unclaimed"] = "yes"
    if step is not None and given.kind in ("done", "reading"):
        facts |= tools.unnamed(tool_kinds(step, given.values), given.tools)
    if given.read_by and (played := instruments.simulated(given.read_by)):
        facts["simulated"] = played
    if step is not None and step.kind == "sign":
        facts["worked"] = " ".join(person_mark(n) for n in sorted(planning.workers_of(row)))
    if given.lot and step is not None and step.part_id:
        facts |= stock.lot_facts(step.part_id, given.lot)
    if step is not None and step.hot:
        until = joints.draft_of(row).card.permit_until
        if until:
            facts["permit-until"] = days.here(until).isoformat()
    return facts


def _signed(row: Joint, given: EventIn, step: StepOut | None, who: Person) -> tuple[Person, dict[str, str]]:
    """Who confirms, and how that is known: the person signed in, or the one whose PIN stands in the event."""
    releases = step is not None and step.kind == "sign" and given.kind == "done"
    if given.signature is None:
        if releases and who.role not in ("verifier", "admin"):
            raise NotAllowed("Releasing needs a verifier.")
        return who, {}
    if releases:
        raise NotAllowed("A release is signed by the verifier's own sign-in, not by a PIN on this device.")
    if step is None or not step.hold or given.kind != "done":
        raise InputError.at("/signature", "is for holds: whoever is signed in confirms every other step")
    signer, why_not = pins.signer(given.signature, row.ref, step.id, str(given.id), by=who)
    if signer is None:
        return who, {"refused": why_not}
    if signer.role not in ("verifier", "admin"):
        return who, {"refused": f"{signer.name} is no verifier"}
    return signer, {"signed": "pin", "device-of": who.name, "device-of-id": str(who.id)}


_SAID = set(EventIn.model_fields) - {"signature", "sent_time"}  # what an event says, whenever it is sent


def _taken_before(row: Joint, given: EventIn, who: Person) -> Taken | None:
    """The answer to an event that was accepted before. Raises Conflict when its id was used at another
    joint, by another person or for something else."""
    joint_id = log.joint_of(str(given.id))
    if joint_id is None:
        return None
    if joint_id != row.id:
        raise Conflict("This event id belongs to another joint.")
    event = next(e for e in events.events_of(row) if e.id == str(given.id))
    if _sender(event) not in (str(who.id), who.name):
        raise Conflict("This event id was used by another person.")
    said = given.model_dump(mode="json", include=_SAID) | {"client_time": given.client_time.isoformat()}
    kept = event.model_dump() | {"photo": event.facts.get("photo-sent", event.photo)}
    if changed := [name for name in said if said[name] != kept[name]]:
        raise Conflict(
            f"This event id was used before with another {changed[0].replace('_', ' ')}. Send it under a"
            " new id."
        )
    progress = planning.progress_of(row)
    assert progress is not None
    return _taken(event, progress)


def _sender(event: Event) -> str:
    """Whose device an event came from: the person's number, their name in events of before there were
    numbers."""
    by_name = event.facts.get("device-of", event.actor)
    return by_name if not event.actor_id else event.facts.get("device-of-id", str(event.actor_id))


def _taken(event: Event, progress: Progress) -> Taken:
    flag = next((f for f in progress.flags if f.event == event.id), None)
    return Taken(
        event=event,
        counts=flag is None or flag.counts,
        why=flag.why if flag else "",
        progress=progress,
        now=now_text(),
    )
