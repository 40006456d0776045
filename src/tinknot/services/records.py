"""The record: everything about a joint in one file, verifiable; printable; the label."""

import hashlib
import json
from typing import Any

from pydantic import BaseModel, ConfigDict, JsonValue

from tinknot.core.dates import day
from tinknot.core.errors import InputError, NotFound, Unreadable
from tinknot.core.files.numbers import PLAN
from tinknot.core.model import Result, parse
from tinknot.core.plan.plan import Plan, canonical
from tinknot.core.work.events import Event, broken_link
from tinknot.core.work.folding import fold
from tinknot.exchange.card_pdf import Unit, card_pages
from tinknot.exchange.record_pdf import label_page, record_pages
from tinknot.services import (
    checkpoints,
    events,
    folds,
    instruments,
    joints,
    photos,
    planning,
    settings,
    site,
    stock,
)
from tinknot.services.clock import now_text
from tinknot.store.database import reading
from tinknot.store.models import Joint

SCHEME = 2  # what a release's signature covers; 1 was draft, plans and events
STANDS_FOR = (
    "state",
    "line_id",
    "at_m",
    "made_from",
)  # of the copy sealed at release: what the joint itself must still say


class Verdict(Result):
    """Whether a record is unaltered, and if not, where."""

    intact: bool
    signed: bool
    words: str
    head: str


def _digest(body: Any) -> str:
    return hashlib.sha256(canonical(body).encode()).hexdigest()


_CONTENT = ("ref", "title", "draft", "revisions")  # signed at release beside the events, under every scheme


def _content(row: Joint) -> dict[str, Any]:
    """What was entered and planned: everything of the record that is no event."""
    return {
        "ref": row.ref,
        "title": row.title,
        "draft": json.loads(row.draft),
        "revisions": [
            {
                "number": r.number,
                "actor": r.actor,
                "created": r.created,
                "differences": json.loads(r.differences),
                "plan": json.loads(r.plan),
            }
            for r in planning.revision_rows(row)
        ],
    }


def _copy(row: Joint) -> dict[str, Any]:
    """What else a reader relies on, as it stands now: place, line, state, the rules, and what the plans
    were made from, by its digest."""
    return {
        "state": row.state,
        "line_id": row.line_id,
        "line": row.line.name if row.line else "",
        "at_m": row.at_m,
        "rules": {r.key: r.value for r in site.rules()},
        "made_from": _made_from(row),
    }


def _made_from(row: Joint) -> list[str]:
    """The digest of the joint file and the facts of the work that each plan was made from."""
    return [_digest([json.loads(r.file), json.loads(r.made)]) for r in planning.revision_rows(row)]


def _signed_text(body: dict[str, Any], scheme: int, head: str, content: str) -> str:
    """What the site's key signs at release."""
    if scheme == 1:
        return f"{head}:{content}"
    return canonical({"scheme": scheme, "ref": body["ref"], "head": head, "content": content})


def seal(row: Joint, head: str) -> None:
    """Sign a joint at its release: the last event's hash, and with it all before, the content, and a copy
    of what stands round it. Its version rises, so that whatever was on its way is refused. What comes
    after the release is chained behind the signed head and is no part of this signature."""
    copy, content = _copy(row), _content(row)
    row.scheme, row.sealed, row.signed_hash = SCHEME, canonical(copy), head
    row.signed_content = _digest(content | {"copy": copy})
    row.signature = site.sign(_signed_text(content, SCHEME, head, row.signed_content))
    row.version += 1
    row.save(
        only=[
            Joint.scheme,
            Joint.sealed,
            Joint.signed_content,
            Joint.signed_hash,
            Joint.signature,
            Joint.version,
        ]
    )


def record(ref: str) -> dict[str, Any]:
    """The record as data, signed as it leaves; events and plans as they are stored, whatever version wrote
    them. Raises NotFound before the first plan, Unreadable for a joint that is damaged."""
    with reading():
        body = _stored(joints.row_of(ref))
    return _leaving(body)


def _stored(row: Joint) -> dict[str, Any]:
    """What is stored of a joint; read in one go, or an event could speak of a plan that is not there."""
    if planning.latest(row) is None:
        raise NotFound(f"{row.ref} is not planned yet, so there is no record.")
    try:
        body = _content(row)
    except (ValueError, RecursionError):
        raise Unreadable(f"{row.ref} is damaged: its draft or a plan is no readable JSON.") from None
    bodies = list(events.bodies_of(row))
    return body | {
        "format": "tinknot-record",
        "version": 2,
        "line": row.line.name if row.line else "",
        "line_id": row.line_id,
        "at_m": row.at_m,
        "state": row.state,
        "events": [body | {"hash": digest} for body, digest in bodies],
        "head": row.signed_hash or (bodies[-1][1] if bodies else ""),
        "signature": row.signature or "",
        "scheme": row.scheme or 1,
        "made_from": _made_from(row),
        "copy": json.loads(row.sealed) if row.sealed else None,
        "signed_content": row.signed_content or "",
    }


def _leaving(body: dict[str, Any]) -> dict[str, Any]:
    """Signed as what this site wrote."""
    body = body | {"public_key": site.public_key()}
    body["export_signature"] = site.sign(_digest(body))
    return body | {"digest": _digest(body)}


def record_json(ref: str) -> bytes:
    """The record as canonical JSON."""
    return canonical(record(ref)).encode()


class _RevisionShape(BaseModel):
    model_config = ConfigDict(extra="allow", strict=True)
    plan: dict[str, JsonValue]


class _EventShape(BaseModel):
    model_config = ConfigDict(extra="allow", strict=True)
    number: int
    hash: str
    photo: str = ""


class _RecordShape(BaseModel):
    """What `verify` needs of a record; everything else is covered by its digest."""

    model_config = ConfigDict(extra="allow", strict=True, allow_inf_nan=False)
    digest: str
    export_signature: str
    public_key: str
    ref: str
    title: str
    state: str
    draft: dict[str, JsonValue]
    revisions: list[_RevisionShape]
    events: list[_EventShape]
    head: str
    signature: str
    signed_content: str
    scheme: int = 1


def _refuse_constant(name: str) -> None:
    raise ValueError(f"{name} is no number JSON knows")


def _read(data: bytes) -> dict[str, Any]:
    """A record as data. Raises InputError, whatever the bytes are."""
    try:
        body = json.loads(data, parse_constant=_refuse_constant)
        canonical(
            body
        ).encode()  # an exponent too large reads as infinite, half a character cannot be written
        shape = _RecordShape.model_validate(body)
        if not shape.revisions:
            raise ValueError("it has no plan")
    except RecursionError:
        raise InputError.at("", "is nested too deeply") from None
    except (ValueError, TypeError) as fault:
        words = str(fault).splitlines()
        raise InputError.at("", " ".join(words[:3])[:300]) from None
    found: dict[str, Any] = body
    return found


def verify(data: bytes) -> Verdict:
    """Check a record, any bytes whatever: its digest, its chain of events, its signatures by this site's
    key."""
    try:
        body = _read(data)
    except InputError as fault:
        return Verdict(
            intact=False,
            signed=False,
            words=f"This is no readable record: {fault.errors[0].message}",
            head="",
        )
    words = _altered(body, data)
    if words:
        return Verdict(intact=False, signed=False, words=words, head=body["head"])
    count = len(body["events"])
    if not body["signature"]:
        words = f"Unaltered, {count} events. Not released yet, so not signed."
        return Verdict(intact=True, signed=False, words=words, head=body["head"])
    words = f"Unaltered, {count} events, signed at release."
    if body.get("scheme", 1) == 1:
        words += (
            " This signature is of the first scheme: it covers what was entered, the plans and the events,"
            " not the"
        )
        words += " place, the state and the rules as they stood."
    return Verdict(intact=True, signed=True, words=words, head=body["head"])


def _altered(body: dict[str, Any], data: bytes) -> str:
    """What of a record was altered, in words; empty when nothing was."""
    chain = [({k: v for k, v in e.items() if k != "hash"}, e["hash"]) for e in body["events"]]
    broken = broken_link(chain)
    if broken is not None:
        return f"Altered at event {broken}: it does not fit the chain."
    held, key = body["digest"], body["public_key"]
    rest = {k: v for k, v in body.items() if k != "digest"}
    if canonical(body).encode() != data.strip() or _digest(rest) != held:
        return "Altered outside the events: the digest does not match the content."
    if key != site.public_key():
        return "Signed with another key than this site's."
    exported = {k: v for k, v in rest.items() if k != "export_signature"}
    if not site.signature_holds(_digest(exported), body["export_signature"], key):
        return "This file was not written by this site, or was changed and summed up again."
    gone = [
        f"the picture {e['photo'][:12]} of event {e['number']} {w}"
        for e in body["events"]
        if e.get("photo") and (w := photos.state(e["photo"]))
    ]
    if gone:
        return f"Altered: {'; '.join(gone)}."
    return _release_altered(body, key) if body["signature"] else _unsigned_altered(body)


def _release_altered(body: dict[str, Any], key: str) -> str:
    """What does not belong to the signature of the release; empty when everything does."""
    scheme, head, content, copy = (
        body.get("scheme", 1),
        body["head"],
        body["signed_content"],
        body.get("copy") or {},
    )
    if head not in {e["hash"] for e in body["events"]} or not site.signature_holds(
        _signed_text(body, scheme, head, content), body["signature"], key
    ):
        return "The signature of the release does not belong to these events."
    signed = {k: body[k] for k in _CONTENT}
    if scheme == 1:
        return (
            "" if _digest(signed) == content else "What was entered or planned was changed after the release."
        )
    if _digest(signed | {"copy": copy}) != content:
        return "What was entered or planned was changed after the release."
    changed = [k for k in STANDS_FOR if body.get(k) != copy.get(k)]
    return f"Changed after the release: {', '.join(changed).replace('_', ' ')}." if changed else ""


def _unsigned_altered(body: dict[str, Any]) -> str:
    """What a joint that is not signed must not be: released."""
    try:
        plan = parse(Plan, PLAN.upgraded(body["revisions"][-1]["plan"]))
        state = fold(plan, [Event(**e) for e in body["events"]]).state
    except (Unreadable, InputError, ValueError, TypeError):
        state = body["state"]  # of another version: its own word must do
    if state.startswith("released") or body["state"].startswith("released"):
        return "Released, but the signature is missing."
    return ""


def verdict(ref: str) -> Verdict:
    """Whether the stored record is unaltered: the record itself, and the events against the last
    checkpoint."""
    row = joints.row_of(ref)
    found = verify(record_json(ref))
    if found.intact and (fault := checkpoints.fault(row)):
        return Verdict(intact=False, signed=False, words=f"Altered: {fault}.", head=found.head)
    return found


def record_pdf(ref: str) -> bytes:
    """The record as PDF."""
    with reading():
        row = joints.row_of(ref)
        body, plan, happened = _stored(row), planning.plan_of(row), events.events_of(row)
    assert plan is not None
    return record_pages(_leaving(body), plan, fold(plan, happened), link(ref), site.writing_form().dates)


def card_pdf(ref: str, unit: Unit = "mm") -> bytes:
    """The plan on A6, for the pocket, in mm or inch. Raises NotFound before the first plan."""
    row = joints.row_of(ref)
    revision = planning.latest(row)
    if revision is None:
        raise NotFound(f"{ref} is not planned yet, so there is no card.")
    card = joints.draft_of(row).card
    return card_pages(
        row.ref, row.title, card.where, revision.number, folds.read_plan(revision.plan), link(ref), unit
    )


def label_pdf(ref: str) -> bytes:
    """The label: reference, what is known of the release at this moment, head hash and QR code. Printed
    before the release it says so, for it stays beside the joint; printed after it names the day and the
    limit."""
    data, row = record(ref), joints.row_of(ref)
    dates = site.writing_form().dates
    plan, progress = planning.plan_of(row), planning.progress_of(row)
    release = next((s.id for s in plan.steps if s.hold == "released"), None) if plan else None
    released = next((s for s in progress.steps if s.id == release), None) if progress else None
    if data["signature"] and progress and released:
        head = f"head {data['head'][:16]}"
        lines = [
            f"released {day(released.at, dates)}",
            *([f"LIMIT: {progress.limits}"] if progress.limits else []),
            head,
        ]
    else:
        lines = [f"not released when printed, {day(now_text(), dates)}", "look it up by its code before use"]
    return label_page(data["ref"], data["title"], lines, link(ref))


def print_label(ref: str) -> str:
    """Print the label; returns its name in the printer's tray."""
    return instruments.printer().put(f"{ref}-label", label_pdf(ref))


def lot_label_pdf(part_id: str, lot_id: int) -> bytes:
    """A lot's label, to be stuck on the reel or box; its QR code says part and lot. Raises NotFound."""
    part = stock.part(part_id)
    lot = next((x for x in part.lots if x.id == lot_id), None)
    if lot is None:
        raise NotFound(f"{part_id} has no such lot.")
    name = str(part.figures.get("name") or part_id)
    until = f"good until {day(lot.use_by, site.writing_form().dates)}" if lot.use_by else "no date"
    return label_page(part_id, name, (f"lot {lot.name}", until), f"tinknot:lot:{part_id}:{lot.name}")


def link(ref: str) -> str:
    """What the QR code says: the joint's address on this site."""
    return f"{settings.get('address') or 'http://127.0.0.1:5117'}/joints/{ref}"
