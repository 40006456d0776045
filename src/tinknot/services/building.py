"""Work at the joint: events come in, are chained, and are folded to progress."""

from tinknot.core.errors import Conflict, InputError, NotAllowed, NotFound
from tinknot.core.events import Event, EventIn
from tinknot.core.model import Result
from tinknot.core.plan import Plan
from tinknot.core.progress import Progress
from tinknot.services import events, joints, planning
from tinknot.services.accounts import Person
from tinknot.services.site import sign
from tinknot.store.database import writing
from tinknot.store.models import Joint, PlanRevision


class Work(Result):
    """Plan, progress and log of a joint."""

    ref: str
    number: int
    plan: Plan
    progress: Progress
    events: list[Event]
    signed_hash: str | None
    signature: str | None


class Taken(Result):
    """What became of an event: it is always kept; `counts` says whether it does, `why` why not."""

    event: Event
    counts: bool
    why: str
    progress: Progress


def work(ref: str) -> Work:
    """Everything Build, Prove and Sign need. Raises NotFound before the first plan."""
    row = joints.row_of(ref)
    revision = planning.latest(row)
    if revision is None:
        raise NotFound(f"{ref} is not planned yet.")
    progress = planning.progress_of(row)
    assert progress is not None
    return Work(
        ref=ref, number=revision.number, plan=planning.plan_from(revision.plan), progress=progress, events=events.events_of(row),
        signed_hash=row.signed_hash, signature=row.signature,
    )  # fmt: skip


def take(ref: str, given: EventIn, who: Person) -> Taken:
    """Accept an event once. A repeat of the same id answers as before."""
    row = joints.row_of(ref)
    before = events.known(str(given.id))
    if before is not None:
        if before.joint_id != row.id:
            raise Conflict("This event id belongs to another joint.")
        return _answer(row, str(given.id))
    revision = row.revisions.where(PlanRevision.number == given.revision).first()
    if revision is None:
        raise InputError.at("/revision", f"{ref} has no plan revision {given.revision}")
    step = planning.plan_from(revision.plan).step(given.step) if given.step else None
    if given.kind in ("done", "undone", "reading") and step is None:
        raise InputError.at("/step", f"revision {given.revision} has no step {given.step or 'of no name'}")
    if step is not None:
        known_gates = {g.id for g in step.gates}
        for name in given.values:
            if name not in known_gates:
                raise InputError.at(f"/values/{name}", "is no reading of this step")
    if who.role == "viewer":
        raise NotAllowed("A viewer may look, not work.")
    if (
        step is not None
        and step.kind == "sign"
        and given.kind == "done"
        and who.role not in ("verifier", "admin")
    ):
        raise NotAllowed("Releasing needs a verifier.")
    if row.state.startswith("released") and given.kind != "note":
        raise NotAllowed(f"{ref} is released; only notes can be added.")
    moves_parts = given.kind == "undone" or (
        step is not None and given.kind == "done" and step.kind in ("park", "join")
    )
    with writing():
        if events.known(str(given.id)) is not None:
            return _answer(row, str(given.id))
        event = events.append(row, given, who.name, who.role, step.stamp if step else "")
        progress = planning.settle(row, who.name, moves_parts)
        if progress.state == "released":
            Joint.update(signed_hash=event.hash, signature=sign(event.hash)).where(
                Joint.id == row.id
            ).execute()
    return _taken(event, progress)


def _answer(row: Joint, event_id: str) -> Taken:
    """The answer to an event that was accepted before."""
    progress = planning.progress_of(row)
    assert progress is not None
    return _taken(next(e for e in events.events_of(row) if e.id == event_id), progress)


def _taken(event: Event, progress: Progress) -> Taken:
    flag = next((f for f in progress.flags if f.event == event.id), None)
    return Taken(event=event, counts=flag is None, why=flag.why if flag else "", progress=progress)
