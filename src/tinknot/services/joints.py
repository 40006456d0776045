"""Joints: made, filled in, found again."""

import json
import re
from functools import lru_cache
from typing import Annotated, Any

from pydantic import Field, model_validator

from tinknot.core.errors import Conflict, InputError, NotAllowed, NotFound, Unreadable
from tinknot.core.families.draft import EDITED, Draft, missing_of
from tinknot.core.families.registry import family
from tinknot.core.figures import plain
from tinknot.core.files.numbers import DRAFT
from tinknot.core.model import Result, Strict, Told, Whole, parse, some_of
from tinknot.core.tolerance import at_most
from tinknot.core.work.summary import Summary
from tinknot.services import checkpoints
from tinknot.services.accounts import Person
from tinknot.services.clock import now_text
from tinknot.services.site import line_row, rule_book
from tinknot.store import log, search
from tinknot.store.database import writing
from tinknot.store.models import Joint, Worker


class JointNew(Strict):
    """A new joint; `same_as` copies card and readings of another."""

    ref: Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]{0,39}$")] | None = None
    title: Annotated[str, Field(max_length=200)] = ""
    line_id: Whole | None = None
    at_m: Annotated[float, Field(ge=0, le=1e6)] | None = None
    same_as: Annotated[str, Field(max_length=40)] | None = None


_Edited = some_of(Draft, "_Edited", EDITED, "Every part of a draft.")


class JointPatch(_Edited):  # type: ignore[misc, valid-type]  # made from the draft's own fields
    """What is edited; each part given replaces the old one, and null takes it away."""

    title: Annotated[str, Field(max_length=200)] | None = None
    line_id: Whole | None = None
    at_m: Annotated[float, Field(ge=0, le=1e6)] | None = None

    @model_validator(mode="before")
    @classmethod
    def _null_is_absent(cls, data: Any) -> Any:
        return data  # here null says: no longer


class QuestionOut(Told):
    """A doubt about a reading."""

    path: str
    message: str
    suggestion_mm: float | None


class FieldOut(Told):
    """What is missing and where."""

    path: str
    message: str


class StationOut(Told):
    """A station: finished, missing something, or locked, in words."""

    name: str
    state: str
    words: str


class JointRow(Result):
    """A joint in a list."""

    ref: str
    title: str
    where: str
    line_id: int | None
    line: str
    at_m: float | None
    state: str
    updated: str
    limits: str = ""  # what it is released with
    late: str = ""  # what was told after its release and nobody has settled
    done: int = 0
    total: int = 0
    unreadable: str = ""  # why nothing more can be said of it


class JointOut(JointRow):
    """A joint with everything entered so far."""

    version: int
    revision: int
    draft: dict[str, Any]
    questions: list[QuestionOut]
    missing: list[FieldOut]
    created_by: str


class Register(Result):
    """A page of joints; `next` is the cursor of the next page."""

    items: list[JointRow]
    next: str | None


def row_of(ref: str) -> Joint:
    """The joint's row. Raises NotFound."""
    row = log.joint(ref)
    if row is None:
        raise NotFound(f"There is no joint {ref}.")
    return row


def draft_of(row: Joint) -> Draft:
    """The draft as a core type. Raises Unreadable."""
    return _read_draft(row.draft)


@lru_cache(maxsize=512)
def _read_draft(text: str) -> Draft:
    """A draft by its text; it is looked at far more often than it changes."""
    return DRAFT.read(Draft, text)


def refuse_released(row: Joint) -> None:
    """Raises NotAllowed once a joint is released: nothing of it changes any more."""
    if row.state.startswith("released"):
        raise NotAllowed(
            f"{row.ref} is released; its record stays as it is. A correction is a new joint or a remake."
        )


def _next_ref() -> str:
    numbers = [int(m.group(2)) for r in Joint.select(Joint.ref) if (m := re.fullmatch(r"(.*?)(\d+)", r.ref))]
    last = Joint.select(Joint.ref).order_by(Joint.id.desc()).first()
    prefix = re.sub(r"\d+$", "", last.ref) if last else "J-"
    return f"{prefix}{max(numbers, default=100) + 1}"


def create(given: JointNew, who: Person) -> JointOut:
    """A new joint in state draft. Who takes measurements over from another joint answers for them as if
    they had measured: it is work."""
    line = line_row(given.line_id) if given.line_id is not None else None
    draft: dict[str, Any] = {}
    title = given.title
    if given.same_as:
        other = row_of(given.same_as)
        draft = draft_of(other).dump()
        draft.pop("choice", None)
        draft.get("trace", {}).pop("choice", None)
        title, line = title or other.title, line or other.line
    with writing():
        ref = given.ref or _next_ref()
        if Joint.select().where(Joint.ref == ref).exists():
            raise Conflict(f"There is a joint {ref} already; choose another reference.")
        row = Joint.create(
            ref=ref,
            title=title,
            line=line,
            at_m=given.at_m,
            draft=json.dumps(parse(Draft, json.dumps(draft)).dump()),
            created=now_text(),
            updated=now_text(),
            created_by=who.name,
        )
        if TAKEN_OVER & draft.keys():
            worked(row, who)
    checkpoints.begin(row)
    return get(ref)


def where_of(row: Joint) -> str:
    """Where a joint is, as far as its card can be read."""
    try:
        return draft_of(row).card.where
    except Unreadable:
        return ""


def row_out(row: Joint, done: int = 0, total: int = 0, unreadable: str = "") -> JointRow:
    """A list's view of a row."""
    return JointRow(
        ref=row.ref,
        title=row.title,
        where=where_of(row),
        line_id=row.line_id,
        line=row.line.name if row.line else "",
        at_m=row.at_m,
        state=row.state,
        updated=row.updated,
        limits=row.limits,
        late=row.late,
        done=done,
        total=total,
        unreadable=unreadable,
    )


def get(ref: str) -> JointOut:
    """One joint."""
    row = row_of(ref)
    draft = draft_of(row)
    lacking = missing_of(draft)
    dump = draft.dump()
    return JointOut(
        **row_out(row).model_dump(),
        version=row.version,
        revision=row.revision,
        draft=dump,
        created_by=row.created_by,
        questions=[
            QuestionOut(path=q.path, message=q.message, suggestion_mm=q.suggestion_mm)
            for q in family(draft.family).doubts(dump)
        ],
        missing=[FieldOut(path=e.path, message=e.message) for es in lacking.values() for e in es],
    )


def edit(ref: str, patch: JointPatch, version: int, who: Person) -> JointOut:
    """Change a joint. Raises Conflict when somebody else changed it since `version`."""
    row = row_of(ref)
    refuse_released(row)
    data = draft_of(row).dump()
    given = patch.model_dump(mode="json", by_alias=True, exclude_none=True)
    for key in EDITED:
        if key in patch.model_fields_set:
            data[key] = given.get(key)
    draft = parse(Draft, json.dumps({k: v for k, v in data.items() if v is not None})).dump()
    _refuse_voltage(patch)
    fields: dict[Any, Any] = {
        Joint.draft: json.dumps(draft),
        Joint.version: version + 1,
        Joint.updated: now_text(),
    }
    if patch.title is not None:
        fields[Joint.title] = patch.title
    if "line_id" in patch.model_fields_set:
        fields[Joint.line] = line_row(patch.line_id) if patch.line_id is not None else None
    if "at_m" in patch.model_fields_set:
        fields[Joint.at_m] = patch.at_m
    with writing():
        refuse_released(row_of(ref))
        if not Joint.update(fields).where((Joint.id == row.id) & (Joint.version == version)).execute():
            raise Conflict(
                f"{ref} was changed elsewhere in the meantime. What you typed is kept here; look at both and"
                " save again."
            )
        if patch.model_fields_set - NO_WORK:
            worked(row, who)
    return get(ref)


def _refuse_voltage(patch: JointPatch) -> None:
    """Raises InputError for a voltage beyond this tool, where it is typed."""
    volts = patch.card.rated_voltage_v if patch.card else None
    ceiling = rule_book().number("voltage.ceiling_v")
    if volts is not None and not at_most(volts, ceiling):
        raise InputError.at(
            "/card/rated_voltage_v",
            f"{plain(volts)} V is above {plain(ceiling)} V, the most this tool is for; a cable of that"
            " voltage needs stress control and its own jointer",
        )


TAKEN_OVER = {"ends", "trace", "asked", "connector"}  # of a draft: what somebody measured or chose
NO_WORK = {
    "title",
    "line_id",
    "at_m",
    "card",
    "simulated",
}  # where it lies and what for; all else is measured or chosen


def worked(row: Joint, who: Person) -> None:
    """`who` measured, chose or planned at this joint, and so does not release it. Inside a transaction."""
    Worker.insert(joint=row.id, user=who.id).on_conflict_ignore().execute()


def register(text: str, state: str | None, cursor: str | None, limit: int) -> Register:
    """Joints newest first, searched in reference, title, place and reason."""
    if cursor and not (cursor.isdecimal() and cursor.isascii() and len(cursor) < 16):
        raise InputError.at("/cursor", "is not a cursor of this list")
    words = re.findall(r"[\w-]+", text)
    match = " ".join(f'"{w}"*' for w in words)
    found = search.newest(match, state, int(cursor) if cursor else None, limit + 1)
    moment = now_text()
    items = [
        JointRow(
            ref=ref,
            title=title,
            where=where or "",
            line_id=line_id,
            line=line or "",
            at_m=at_m,
            state=Summary.model_validate_json(body).state_at(now, moment) if body else now,
            updated=updated,
            limits=limits,
            late=late,
        )
        for _, ref, title, where, line_id, line, at_m, now, updated, limits, late, body in found[:limit]
    ]
    return Register(items=items, next=str(found[limit - 1][0]) if len(found) > limit else None)
