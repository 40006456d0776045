"""Checkpoints signed as the work goes on, so that events and plans removed, changed, re-chained or rolled
back are found before a release too."""

import hashlib
import json

from tinknot.core.plan.plan import canonical
from tinknot.core.work.events import GENESIS, broken_link
from tinknot.services import site
from tinknot.services.clock import now
from tinknot.services.signatures import signature_holds
from tinknot.store import heads, log
from tinknot.store.database import db
from tinknot.store.heads import Head
from tinknot.store.models import Joint


def _text(ref: str, number: int, head: str, plans: int, digest: str) -> str:
    return canonical(
        {"checkpoint": 2, "ref": ref, "number": number, "head": head, "plans": plans, "digest": digest}
    )


def _plans(joint_id: int, most: int | None = None) -> tuple[int, str]:
    """How many plans a joint has, of the first `most`, and the digest of what they say, what they were made
    from, by whom and when."""
    rows, summed = log.plans(joint_id)[:most], hashlib.sha256()
    for row in rows:
        for field in row:
            text = str(field).encode()
            summed.update(b"%d:" % len(text))
            summed.update(text)
    return len(rows), summed.hexdigest()


def _now(joint_id: int, ref: str) -> Head:
    """The checkpoint that a joint would be given now."""
    number, head = log.head(joint_id) or (0, GENESIS)
    plans, digest = _plans(joint_id)
    return number, head, plans, digest, site.sign(_text(ref, number, head, plans, digest=digest))


def begin(row: Joint) -> None:
    """The first checkpoint of a new joint. Without one it counts as altered as soon as it has a plan, so
    nobody gains by taking it away."""
    heads.keep(row.id, _now(row.id, row.ref), durably=True)


def begin_all() -> None:
    """First checkpoints of all joints as they are now: when a database of an earlier version is upgraded, or
    restored from a source that has none. One that an earlier version's checkpoint does not fit gets none."""
    for joint_id, ref in log.joints():
        before = heads.earlier_head(joint_id)
        if before is None or log.hash_at(joint_id, before[0]) == before[1]:
            heads.keep(joint_id, _now(joint_id, ref), durably=True)


_signed: dict[
    tuple[str, int], Head
] = {}  # by database and joint: the checkpoint that this process signed last


def sign(row: Joint) -> None:
    """Keep a signed checkpoint of a joint as it stands, after the commit: what is part of a greater
    transaction may yet be taken back, and waits for the next time. What does not hold the checkpoint before
    is given none: what was done to it stays to be found. Plans that were signed are not summed up again, so
    that the digest they had then stays what they are held against."""
    if db.in_transaction():
        return
    kept, known = heads.head(row.id), (str(db.database), row.id)
    if kept is None or (kept != _signed.get(known) and not _holds(row, kept)):
        return
    if kept[0] and log.hash_at(row.id, kept[0]) != kept[1]:
        return
    number, head = log.head(row.id) or (0, GENESIS)
    plans, digest = log.count_of_plans(row.id), kept[3]
    if plans != kept[2]:
        if _plans(row.id, kept[2]) != kept[2:4]:
            return
        plans, digest = _plans(row.id)
    signature = site.sign(_text(row.ref, number, head, plans, digest=digest))
    heads.keep(row.id, (number, head, plans, digest, signature))
    _signed[known] = (number, head, plans, digest, signature)


def _holds(row: Joint, kept: Head) -> bool:
    """Whether a checkpoint is the site's own."""
    return signature_holds(_text(row.ref, *kept[:4]), kept[4], site.public_key())


LATELY_S = 20.0  # a page that is asked for again and again is told what was found so long ago
MOST_FOUND = 500
_found: dict[tuple[object, ...], tuple[float, str]] = {}


def fault_lately(row: Joint) -> str:
    """`fault`, looked for anew where something was added, and every so many seconds."""
    known = (str(db.database), row.id, log.head(row.id), log.newest_revision(row.id), heads.head(row.id))
    moment = now().timestamp()
    if known in _found and 0 <= moment - _found[known][0] < LATELY_S:
        return _found[known][1]
    if len(_found) > MOST_FOUND:
        _found.clear()
    _found[known] = (moment, words := fault(row))
    return words


def fault(row: Joint) -> str:
    """What of a joint's events and plans is not as it was signed, in words; empty when all is."""
    if (broken := _broken(row.id)) is not None:
        return f"event {broken} does not fit the chain"
    return _moved(row)


def _broken(joint_id: int) -> int | None:
    try:
        return broken_link((json.loads(body), digest) for _, body, digest in log.since(joint_id, 1))
    except (ValueError, AttributeError, RecursionError):
        return 0


def _moved(row: Joint) -> str:
    """What is not as the joint's checkpoint says, in words."""
    kept = heads.head(row.id)
    if kept is None:
        anything = log.head(row.id) is not None or log.newest_revision(row.id) is not None
        return "the site's checkpoint of this joint is missing" if anything else ""
    number, head, plans, digest, _ = kept
    if not _holds(row, kept):
        return "the site's checkpoint of this joint was altered"
    there = log.hash_at(row.id, number) if number else GENESIS
    if there is None:
        return f"the site signed {number} events, and not all of them are there any more"
    if there != head:
        return f"event {number} is not the one the site signed; events were changed or replaced"
    if _plans(row.id, plans) != (plans, digest):
        return "a plan was changed, replaced or taken away since the site signed it"
    return ""
