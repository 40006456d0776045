"""The record: everything about a joint in one file, verifiable; printable; the label."""

import hashlib
import json
from typing import Any

from tinknot.core.errors import NotFound
from tinknot.core.events import Event, broken_at
from tinknot.core.model import Result, parse
from tinknot.core.plan import Plan, canonical
from tinknot.core.progress import fold
from tinknot.exchange import template
from tinknot.exchange.card_pdf import card_pages
from tinknot.exchange.record_pdf import label_page, record_pages
from tinknot.services import instruments, joints, photos, planning, site, stock
from tinknot.services.events import events_of
from tinknot.store.models import Joint


class Verdict(Result):
    """Whether a record is unaltered, and if not, where."""

    intact: bool
    signed: bool
    words: str
    head: str


def _digest(body: dict[str, Any]) -> str:
    return hashlib.sha256(canonical(body).encode()).hexdigest()


_CONTENT = ("ref", "title", "draft", "revisions")  # signed at release beside the events


def _content(row: Joint) -> dict[str, Any]:
    """What was entered and planned: everything of the record that is no event."""
    return {
        "ref": row.ref, "title": row.title, "draft": json.loads(row.draft),
        "revisions": [
            {"number": r.number, "actor": r.actor, "created": r.created, "differences": json.loads(r.differences), "plan": json.loads(r.plan)}
            for r in planning.revision_rows(row)
        ],
    }  # fmt: skip


def seal(row: Joint, head: str) -> None:
    """Sign a joint at its release: the last event's hash, and with it all before, and the content."""
    content = _digest(_content(row))
    row.signed_hash, row.signed_content = head, content
    row.signature = site.sign(f"{head}:{content}")
    row.save(only=[Joint.signed_hash, Joint.signed_content, Joint.signature])


def record(ref: str) -> dict[str, Any]:
    """The record as data, signed as it leaves. Raises NotFound before the first plan."""
    row = joints.row_of(ref)
    if planning.latest(row) is None:
        raise NotFound(f"{ref} is not planned yet, so there is no record.")
    events = events_of(row)
    body: dict[str, Any] = _content(row) | {
        "format": "tinknot-record", "version": 1, "line": row.line.name if row.line else "", "at_m": row.at_m, "state": row.state,
        "events": [e.model_dump(mode="json", exclude_unset=True) for e in events],
        "head": row.signed_hash or (events[-1].hash if events else ""), "signature": row.signature or "",
        "signed_content": row.signed_content or "", "public_key": site.public_key(),
    }  # fmt: skip
    body["export_signature"] = site.sign(_digest(body))
    return body | {"digest": _digest(body)}


def record_json(ref: str) -> bytes:
    """The record as canonical JSON."""
    return canonical(record(ref)).encode()


def verify(data: bytes) -> Verdict:
    """Check a record: its digest, its chain of events, its signature by this site's key."""
    try:
        body = json.loads(data)
        events = [Event(**e) for e in body["events"]]
        held, key, head, signature = body.pop("digest"), body["public_key"], body["head"], body["signature"]
        body["state"], body["revisions"][-1]["plan"], body["signed_content"], [body[k] for k in _CONTENT]
    except (ValueError, KeyError, TypeError, IndexError) as fault:
        return Verdict(intact=False, signed=False, words=f"This is no readable record: {fault}", head="")

    def altered(words: str) -> Verdict:
        return Verdict(intact=False, signed=False, words=words, head=str(head))

    broken = broken_at(events)
    if broken is not None:
        return altered(f"Altered at event {broken}: it does not fit the chain.")
    if canonical(body | {"digest": held}).encode() != data.strip() or _digest(body) != held:
        return altered("Altered outside the events: the digest does not match the content.")
    if key != site.public_key():
        return altered("Signed with another key than this site's.")
    exported = {k: v for k, v in body.items() if k != "export_signature"}
    if not site.signature_holds(_digest(exported), str(body.get("export_signature", "")), key):
        return altered("This file was not written by this site, or was changed and summed up again.")
    gone = [
        f"the picture {e.photo[:12]} of event {e.number} {w}"
        for e in events
        if e.photo and (w := photos.state(e.photo))
    ]
    if gone:
        return altered(f"Altered: {'; '.join(gone)}.")
    if not signature:
        done = fold(parse(Plan, json.dumps(body["revisions"][-1]["plan"])), events).state
        if done.startswith("released") or body["state"].startswith("released"):
            return altered("Released, but the signature is missing.")
        words = f"Unaltered, {len(events)} events. Not released yet, so not signed."
        return Verdict(intact=True, signed=False, words=words, head=str(head))
    content = body["signed_content"]
    if head not in {e.hash for e in events} or not site.signature_holds(f"{head}:{content}", signature, key):
        return altered("The signature of the release does not belong to these events.")
    if _digest({k: body[k] for k in _CONTENT}) != content:
        return altered("What was entered or planned was changed after the release.")
    words = f"Unaltered, {len(events)} events, signed at release."
    return Verdict(intact=True, signed=True, words=words, head=str(head))


def record_pdf(ref: str) -> bytes:
    """The record as PDF."""
    data = record(ref)
    row = joints.row_of(ref)
    plan = planning.plan_of(row)
    assert plan is not None
    return record_pages(data, plan, fold(plan, events_of(row)), link(ref))


def card_pdf(ref: str) -> bytes:
    """The plan on A6, for the pocket. Raises NotFound before the first plan."""
    row = joints.row_of(ref)
    revision = planning.latest(row)
    if revision is None:
        raise NotFound(f"{ref} is not planned yet, so there is no card.")
    card = joints.draft_of(row).card
    return card_pages(
        row.ref, row.title, card.where, revision.number, planning.plan_from(revision.plan), link(ref)
    )


def _template_of(ref: str, end: str) -> tuple[int, Plan]:
    row = joints.row_of(ref)
    revision = planning.latest(row)
    if revision is None:
        raise NotFound(f"{ref} is not planned yet, so there is no template.")
    plan = planning.plan_from(revision.plan)
    if not any(c.end == end for c in plan.cuts):
        raise NotFound(f"{ref} has no cuts on end {end}.")
    return revision.number, plan


def template_pdf(ref: str, end: str) -> bytes:
    """The 1:1 cut template of an end. Raises NotFound before the first plan, or where nothing is cut."""
    return template.template_pdf(ref, *_template_of(ref, end), end)


def template_svg(ref: str, end: str) -> str:
    """The same as a drawing in millimetres."""
    return template.template_svg(ref, *_template_of(ref, end), end)


def label_pdf(ref: str) -> bytes:
    """The label: reference, state, head hash and QR code."""
    data = record(ref)
    head = f"head {data['head'][:16]}" if data["head"] else "no work yet"
    return label_page(data["ref"], data["title"], data["state"], head, link(ref))


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
    until = f"good until {lot.use_by}" if lot.use_by else "no date"
    return label_page(part_id, name, f"lot {lot.name}", until, f"tinknot:lot:{part_id}:{lot.name}")


def link(ref: str) -> str:
    """What the QR code says: the joint's address on this site."""
    return f"{site.setting('address') or 'http://127.0.0.1:5117'}/joints/{ref}"
