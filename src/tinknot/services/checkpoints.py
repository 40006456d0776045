"""Checkpoints signed as the work goes on, so that events removed, re-chained or rolled back are found
before a release too."""

from tinknot.core.plan.plan import canonical
from tinknot.services import site
from tinknot.store import heads, log
from tinknot.store.database import db
from tinknot.store.models import Joint


def _text(ref: str, number: int, digest: str) -> str:
    return canonical({"checkpoint": 1, "ref": ref, "number": number, "head": digest})


def sign(row: Joint, number: int, digest: str) -> None:
    """Keep a signed checkpoint at event `number`, after its commit: one that is part of a greater
    transaction may yet be taken back, and waits for the next event. A log that does not hold the
    checkpoint before is given none: what was done to it stays to be found."""
    if db.in_transaction():
        return
    before = heads.head(row.id)
    if before is not None and log.hash_at(row.id, before[0]) != before[1]:
        return
    heads.keep(row.id, number, digest, site.sign(_text(row.ref, number, digest)))


def begin() -> None:
    """First checkpoints of all joints as they are now."""
    for row in Joint.select():
        if (last := log.head(row.id)) is not None:
            sign(row, *last)


def fault(row: Joint) -> str:
    """What of the events was altered since the last checkpoint, in words; empty when nothing was."""
    kept = heads.head(row.id)
    if kept is None:
        return ""
    number, digest, signature = kept
    if not site.signature_holds(_text(row.ref, number, digest), signature, site.public_key()):
        return "the site's checkpoint of this joint was altered"
    there = log.hash_at(row.id, number)
    if there is None:
        return f"the site signed {number} events, and not all of them are there any more"
    return (
        ""
        if there == digest
        else f"event {number} is not the one the site signed; events were changed or replaced"
    )
