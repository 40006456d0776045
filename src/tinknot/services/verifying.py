"""Whether a record file is unaltered, and by whose key it was signed: needs nothing but the file. What a site
knows beside it, its own key and its pictures, is given."""

import hashlib
import json
from collections.abc import Callable
from typing import Any

from pydantic import BaseModel, ConfigDict, JsonValue

from tinknot.core.errors import InputError, Unreadable
from tinknot.core.files.numbers import PLAN
from tinknot.core.model import Result, parse
from tinknot.core.plan.plan import Plan, canonical
from tinknot.core.work.events import Event, broken_link
from tinknot.core.work.folding import fold
from tinknot.services.signatures import signature_holds

STANDS_FOR = (
    "state",
    "line_id",
    "at_m",
    "made_from",
)  # of the copy sealed at release: what the joint itself must still say
_CONTENT = ("ref", "title", "draft", "revisions")  # signed at release beside the events, under every scheme


class Verdict(Result):
    """Whether a record is unaltered, and if not, where; `signed`: it was released and signed; `ours`: by the
    key of the site that was asked; `key`: the public key it was signed with, hex."""

    intact: bool
    signed: bool
    words: str
    head: str
    ours: bool = False
    key: str = ""


def digest(body: Any) -> str:
    """SHA-256 of a body's canonical JSON, hex."""
    return hashlib.sha256(canonical(body).encode()).hexdigest()


def signed_text(body: dict[str, Any], scheme: int, head: str, content: str) -> str:
    """What the site's key signs at release."""
    if scheme == 1:
        return f"{head}:{content}"
    return canonical({"scheme": scheme, "ref": body["ref"], "head": head, "content": content})


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
    altered: str = ""


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


def verify(data: bytes, ours: str = "", picture_fault: Callable[[str], str] | None = None) -> Verdict:
    """Check a record, any bytes whatever: its digest, its chain of events, its signatures. `ours`: the public
    key of the site that asks; a record signed with another is told as that. `picture_fault` says what is
    wrong with one of the site's pictures by its digest, empty when nothing is; without it, and of a record of
    another site, pictures are not looked at."""
    try:
        body = _read(data)
    except InputError as fault:
        return Verdict(
            intact=False,
            signed=False,
            words=f"This is no readable record: {fault.errors[0].message}",
            head="",
        )
    key, signed = body["public_key"], bool(body["signature"])
    words = _altered(body, data, picture_fault if key == ours else None)
    if not words and (before := body.get("altered", "")):
        words = f"Altered before it left the site: {before}."
    if words:
        return Verdict(intact=False, signed=False, words=words, head=body["head"], key=key)
    told = [f"Unaltered, {len(body['events'])} events{', signed at release' if signed else ''}."]
    told += _after_release(body) if signed else ["Not released yet, so not signed."]
    if signed and body.get("scheme", 1) == 1:
        told.append(FIRST_SCHEME)
    told.append(_by_whom(key, ours))
    return Verdict(
        intact=True, signed=signed, words=" ".join(told), head=body["head"], ours=key == ours, key=key
    )


FIRST_SCHEME = (
    "This signature is of the first scheme: it covers what was entered, the plans and the events, not the"
    " place, the state and the rules as they stood."
)
LOOKS = ("note", "settled")  # what may follow a release without a word


def _after_release(body: dict[str, Any]) -> list[str]:
    """What came after the release, if anything did that changes how the joint is seen."""
    hashes = [e["hash"] for e in body["events"]]
    behind = body["events"][hashes.index(body["head"]) + 1 :]
    late = [e for e in behind if e.get("kind") not in LOOKS]
    return [f"{len(late)} of them came after the release; read them."] if late else []


def _by_whom(key: str, ours: str) -> str:
    """Whose key signed, as far as that is known here."""
    if not ours:
        return f"Signed with the key {key}; whether that is the site's own, the site can say."
    if key == ours:
        return f"Signed with this site's key {key[:16]}."
    return (
        f"Signed with the key {key}, which is not this site's; ask the site it comes from whether it is its."
    )


def _altered(body: dict[str, Any], data: bytes, picture_fault: Callable[[str], str] | None) -> str:
    """What of a record was altered, in words; empty when nothing was."""
    chain = [({k: v for k, v in e.items() if k != "hash"}, e["hash"]) for e in body["events"]]
    broken = broken_link(chain)
    if broken is not None:
        return f"Altered at event {broken}: it does not fit the chain."
    held, key = body["digest"], body["public_key"]
    rest = {k: v for k, v in body.items() if k != "digest"}
    if canonical(body).encode() != data.strip() or digest(rest) != held:
        return "Altered outside the events: the digest does not match the content."
    exported = {k: v for k, v in rest.items() if k != "export_signature"}
    if not signature_holds(digest(exported), body["export_signature"], key):
        return "This file was not signed with the key it names: it was changed and summed up again."
    gone = [
        f"the picture {e['photo'][:12]} of event {e['number']} {w}"
        for e in body["events"]
        if picture_fault and e.get("photo") and (w := picture_fault(e["photo"]))
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
    if head not in {e["hash"] for e in body["events"]} or not signature_holds(
        signed_text(body, scheme, head, content), body["signature"], key
    ):
        return "The signature of the release does not belong to these events."
    signed = {k: body[k] for k in _CONTENT}
    if scheme == 1:
        return (
            "" if digest(signed) == content else "What was entered or planned was changed after the release."
        )
    if digest(signed | {"copy": copy}) != content:
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
