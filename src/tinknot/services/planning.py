"""Looking at what would fit, and freezing it as a plan revision."""

import json
from dataclasses import asdict
from datetime import date
from functools import lru_cache
from typing import Any

from tinknot.core.errors import Conflict, InputError, NotAllowed, NotFound, Unreadable
from tinknot.core.families.choice import Made
from tinknot.core.families.draft import Draft, joint_file
from tinknot.core.families.file import file_of as read_file
from tinknot.core.files.numbers import MADE
from tinknot.core.joint.departure import departures
from tinknot.core.joint.head import JointHead
from tinknot.core.model import Told, parse
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.ways import BreakOut, Remedy, StaggerWay
from tinknot.core.planning.differences import differences
from tinknot.core.planning.playing import Replayed, replayed
from tinknot.core.planning.solve import look_at, plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.core.work.made import made
from tinknot.core.work.mending import used_parts
from tinknot.core.work.states import Progress
from tinknot.core.world.laws import EDITION
from tinknot.services import checkpoints, folds, joints, sheets, stock, summaries
from tinknot.services.accounts import Person
from tinknot.services.clock import now_text
from tinknot.services.days import today
from tinknot.services.site import own_rules, rule_book
from tinknot.store import log
from tinknot.store.database import writing
from tinknot.store.models import Joint, PlanRevision, Worker

MOST_LIMITS = 200  # of a release's limit, as lists show it


class PlanOut(Told):
    """A plan as it stands: `number` 0 is a look ahead, not yet frozen."""

    number: int
    plan: Plan
    differences: list[str]
    actor: str = ""
    created: str = ""


class Look(Told):
    """What would be planned now, what that changes, the other ways, and the staggers side by side;
    `unfinished`: not all other ways were worked out, for that would take more than one request may."""

    plan: Plan
    differences: list[str]
    ways: list[Remedy]
    staggers: list[StaggerWay]
    unfinished: bool = False


def latest(row: Joint) -> PlanRevision | None:
    """The newest revision's row."""
    found: PlanRevision | None = row.revisions.order_by(PlanRevision.number.desc()).first()
    return found


def revision_rows(row: Joint) -> list[PlanRevision]:
    """All revisions' rows, oldest first."""
    return list(row.revisions.order_by(PlanRevision.number))


def plan_of(row: Joint) -> Plan | None:
    """The newest plan."""
    return folds.plan_of_revision(row)


def progress_of(row: Joint) -> Progress | None:
    """The newest plan folded with all events."""
    return folds.progress_of(row)


def current(ref: str) -> PlanOut:
    """The newest revision of a joint. Raises NotFound before the first."""
    found = latest(joints.row_of(ref))
    if found is None:
        raise NotFound(f"{ref} is not planned yet.")
    return _out(found)


def revisions(ref: str) -> list[PlanOut]:
    """All revisions, oldest first."""
    return [_out(r) for r in revision_rows(joints.row_of(ref))]


def _out(row: PlanRevision) -> PlanOut:
    return PlanOut(
        number=row.number,
        plan=folds.read_plan(row.plan),
        differences=json.loads(row.differences),
        actor=row.actor,
        created=row.created,
    )


def _made(row: Joint) -> Made | None:
    """Facts of the work so far."""
    revision, progress = latest(row), progress_of(row)
    if revision is None or progress is None:
        return None
    return made(folds.read_plan(revision.plan), progress, _facts(json.loads(revision.made)))


def played(row: PlanRevision) -> tuple[Plan, str]:
    """A stored plan with what its order breaks by the laws of today, and why that cannot be said where its
    steps would be others now. Raises Unreadable."""
    plan = folds.read_plan(row.plan)
    if plan.laws == EDITION:
        return plan, ""
    found = _replayed(
        row.plan, row.file, row.made, json.dumps(own_rules(), sort_keys=True), day=row.created[:10]
    )
    return plan.model_copy(update={"breaks": [BreakOut(**vars(b)) for b in found.breaks]}), found.why_not


@lru_cache(maxsize=256)
def _replayed(plan: str, file: str, held: str, rules: str, day: str) -> Replayed:
    """What becomes of a stored plan under these rules; its file, facts and day stay what they were."""
    facts = _facts(json.loads(held))
    book = RuleBook.of(json.loads(rules))
    return replayed(folds.read_plan(plan), _read_file(file), book, date.fromisoformat(day), made=facts)


def _facts(held: dict[str, Any] | None) -> Made | None:
    """The facts a plan was made with."""
    if not held:
        return None
    facts = MADE.upgraded(held)
    del facts["format"]
    return Made(**(facts | {"centres_mm": tuple(facts["centres_mm"])}))


def file_of(row: Joint, draft: Draft | None = None) -> JointHead:
    """The joint file of a draft with the stock this joint may use."""
    draft = draft or joints.draft_of(row)
    kit = sheets.sheet(draft.sheet) if draft.sheet else None
    return joint_file(draft, stock.for_planning(row.id), row.ref, row.title, sheet=kit)


def look(ref: str, change: dict[str, Any] | None = None) -> Look:
    """What would be planned now, with `change` laid over the draft; nothing is stored. Of a joint that is
    released it is the plan that was released, whatever the rules and the stock say today."""
    row = joints.row_of(ref)
    if row.signed_hash and (signed := plan_of(row)):
        return Look(plan=signed, differences=[], ways=[], staggers=[])
    draft = joints.draft_of(row)
    if change:
        draft = parse(Draft, json.dumps(draft.dump() | change))
    file, rules = file_of(row, draft), rule_book()
    found = look_at(file, rules, today(), _made(row))
    before = plan_of(row)
    return Look(
        plan=found.plan,
        differences=differences(before, found.plan) if before else [],
        ways=found.ways,
        staggers=found.staggers,
        unfinished=found.unfinished,
    )


def by_rules(row: Joint, rules: RuleBook) -> Plan:
    """What would be planned now by other rules; nothing is stored. Raises InputError, Unreadable."""
    return plan_joint(file_of(row), rules, today(), _made(row))


def workers_of(row: Joint) -> set[int]:
    """The numbers of those who measured, chose or planned at this joint."""
    return {w.user for w in Worker.select().where(Worker.joint == row.id)}


def freeze(ref: str, version: int, who: Person) -> PlanOut:
    """A new plan revision from the draft as it is; parts are reserved.

    Raises NotAllowed when nothing fits, when its order breaks a law of the work, or the joint is released,
    Conflict when the draft changed.
    """
    row = joints.row_of(ref)
    joints.refuse_released(row)
    file, facts = file_of(row), _made(row)
    if file.sheet and file.sheet.state == "draft":
        raise NotAllowed(
            f"{file.sheet.name} is a draft. A second person checks the sheet before anything is built by it."
        )
    plan = plan_joint(file, rule_book(), today(), facts)
    if plan.verdict != "planned":
        raise NotAllowed(
            "Nothing fits, so nothing is planned. Choose one of the other ways, or order the part."
        )
    if plan.breaks and not _begun(row):
        raise NotAllowed(
            f"It cannot be built like this. {_broken(plan)} It is not planned until that is mended."
        )
    before = plan_of(row)
    with writing():
        joints.refuse_released(joints.row_of(ref))
        if (
            not Joint.update(revision=row.revision + 1, version=version + 1, updated=now_text())
            .where((Joint.id == row.id) & (Joint.version == version))
            .execute()
        ):
            raise Conflict(f"{ref} was changed elsewhere in the meantime; look at it again before planning.")
        PlanRevision.create(
            joint=row,
            number=row.revision + 1,
            file=file.model_dump_json(by_alias=True, exclude_none=True),
            plan=plan.model_dump_json(),
            made=json.dumps({"format": MADE.number} | asdict(facts) if facts else None),
            differences=json.dumps(differences(before, plan) if before else []),
            actor=who.name,
            created=now_text(),
        )
        joints.worked(row, who)
        settle(joints.row_of(ref), who.name)
    checkpoints.sign(row)
    return current(ref)


def _begun(row: Joint) -> bool:
    """Whether any step of the newest plan is done."""
    progress = progress_of(row)
    return progress is not None and bool(progress.counted())


def _broken(plan: Plan) -> str:
    """What the order of a plan breaks, in words: the first two steps, each with its mend."""
    titles = {s.id: s.title for s in plan.steps}
    return " ".join(f"“{titles[b.step]}”: {b.words} {b.mend}" for b in plan.breaks[:2])


def made_at(row: Joint, number: int) -> str:
    """When a plan revision was made (ISO 8601); empty where there is none."""
    found = log.revision(row.id, number)
    return found[1] if found else ""


def departures_of(row: Joint) -> list[str]:
    """What was measured or chosen since the newest plan was made, in words; empty when the plan is of the
    draft."""
    found = latest(row)
    if found is None:
        return []
    draft = joints.draft_of(row)
    kit = sheets.sheet(draft.sheet) if draft.sheet else None
    try:
        return departures(_read_file(found.file), joint_file(draft, {}, row.ref, row.title, sheet=kit))
    except InputError as fault:
        return [f"{e.path.strip('/').replace('/', ' ') or 'the draft'}: {e.message}" for e in fault.errors]


def made_from(revision: PlanRevision) -> JointHead:
    """The joint file a plan was made from. Raises Unreadable."""
    return _read_file(revision.file)


@lru_cache(maxsize=64)
def _read_file(text: str) -> JointHead:
    """The joint file a plan was made from. Raises Unreadable."""
    try:
        return read_file(text)
    except InputError as fault:
        raise Unreadable(f"The joint file of this plan cannot be read: {fault}.") from None


def limits_of(progress: Progress) -> str:
    """The limit of a joint's release, as lists show it."""
    return progress.limits[:MOST_LIMITS] if progress.state.startswith("released") else ""


def settle(row: Joint, who: str, uses_stock: bool = True) -> Progress:
    """Fold, and bring the joint's state and, where parts may move, its stock in line. Inside a
    transaction."""
    plan, progress = plan_of(row), progress_of(row)
    assert plan is not None
    assert progress is not None
    limits = limits_of(progress)
    late = "; ".join(progress.late)[:MOST_LIMITS]
    if (progress.state, limits, late) != (row.state, row.limits, row.late):
        row.state, row.limits, row.late, row.updated = progress.state, limits, late, now_text()
        row.save(only=[Joint.state, Joint.limits, Joint.late, Joint.updated])
    if uses_stock:
        _settle_stock(row, plan, progress, who)
    summaries.keep(row, plan, progress)
    return progress


def _settle_stock(row: Joint, plan: Plan, progress: Progress, who: str) -> None:
    """What is parked, joined, wound or mixed is used up, the rest of the plan's parts stays reserved."""
    reserved: dict[tuple[str, str, str], float] = {}
    consumed: dict[tuple[str, str, str], float] = {}
    used = {(p.layer, p.part_id) for p in used_parts(plan, progress.counted())}
    for p in plan.parts:
        gone = (p.layer, p.part_id) in used
        lot = progress.lots.get(f"{p.layer}/{p.part_id}", p.lot) if gone else p.lot
        if not lot:
            continue
        target = consumed if gone else reserved
        key = (p.layer, p.part_id, lot)
        target[key] = target.get(key, 0.0) + p.taken
    for number, scrap in enumerate(progress.scrapped, 1):
        if scrap.lot:
            consumed[(f"{scrap.layer}{stock.SCRAPPED}{number}", scrap.part_id, scrap.lot)] = scrap.quantity
    stock.sync_joint(row.id, "reserved", reserved, who)
    stock.sync_joint(row.id, "consumed", consumed, who)


def export_file(ref: str) -> str:
    """The joint file: as it was last planned, else as it would be planned now."""
    row = joints.row_of(ref)
    found = latest(row)
    return found.file if found else file_of(row).model_dump_json(by_alias=True, exclude_none=True)
