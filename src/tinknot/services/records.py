"""The record: everything about a joint in one file, verifiable; printable; the label."""

import json
from typing import Any

from tinknot.core.dates import day
from tinknot.core.errors import NotFound, Unreadable
from tinknot.core.plan.plan import canonical
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
    verifying,
)
from tinknot.services.clock import now_text
from tinknot.services.verifying import Verdict, digest, signed_text
from tinknot.store.database import reading
from tinknot.store.models import Joint

SCHEME = 2  # what a release's signature covers; 1 was draft, plans and events


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
    return [digest([json.loads(r.file), json.loads(r.made)]) for r in planning.revision_rows(row)]


def seal(row: Joint, head: str) -> None:
    """Sign a joint at its release: the last event's hash, and with it all before, the content, and a copy
    of what stands round it. Its version rises, so that whatever was on its way is refused. What comes
    after the release is chained behind the signed head and is no part of this signature."""
    copy, content = _copy(row), _content(row)
    row.scheme, row.sealed, row.signed_hash = SCHEME, canonical(copy), head
    row.signed_content = digest(content | {"copy": copy})
    row.signature = site.sign(signed_text(content, SCHEME, head, row.signed_content))
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
        "altered": checkpoints.fault(row),
    }


def _leaving(body: dict[str, Any]) -> dict[str, Any]:
    """Signed as what this site wrote."""
    body = body | {"public_key": site.public_key()}
    body["export_signature"] = site.sign(digest(body))
    return body | {"digest": digest(body)}


def record_json(ref: str) -> bytes:
    """The record as canonical JSON."""
    return canonical(record(ref)).encode()


def verify(data: bytes) -> Verdict:
    """Check a record file against this site's key, and its pictures where it is a record of this site."""
    return verifying.verify(data, site.public_key(), photos.state)


def verdict(ref: str) -> Verdict:
    """Whether the stored record is unaltered: the record itself, its events and plans against the last
    checkpoint, and what lists show of its limit."""
    row = joints.row_of(ref)
    found = verify(record_json(ref))
    progress = planning.progress_of(row)
    if found.intact and progress and row.limits != planning.limits_of(progress):
        words = "Altered: the limit that lists show is not the one that was released."
        return Verdict(intact=False, signed=False, words=words, head=found.head)
    return found


def record_pdf(ref: str) -> bytes:
    """The record as PDF."""
    with reading():
        row = joints.row_of(ref)
        body, plan, happened = _stored(row), planning.plan_of(row), events.events_of(row)
    assert plan is not None
    return record_pages(
        _leaving(body), plan, fold(plan, happened), link(ref), dates=site.writing_form().dates
    )


def card_pdf(ref: str, unit: Unit = "mm") -> bytes:
    """The plan on A6, for the pocket, in mm or inch. Raises NotFound before the first plan."""
    row = joints.row_of(ref)
    revision = planning.latest(row)
    if revision is None:
        raise NotFound(f"{ref} is not planned yet, so there is no card.")
    card = joints.draft_of(row).card
    return card_pages(
        row.ref,
        row.title,
        card.where,
        revision.number,
        plan=folds.read_plan(revision.plan),
        link=link(ref),
        unit=unit,
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
    if data["altered"]:
        lines = ["record altered: not to be trusted", "look it up by its code before use"]
    elif data["signature"] and progress and released:
        head = f"head {data['head'][:16]}"
        lines = [
            f"released {day(released.at, dates)}",
            *([f"LIMIT: {progress.limits}"] if progress.limits else []),
            *(["something came after the release: look it up"] if progress.late else []),
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
