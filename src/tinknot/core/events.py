"""What happened at the joint: append-only, each event with its own UUID, chained on acceptance."""

import hashlib
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field

from tinknot.core.model import Name, Result, Strict, Whole
from tinknot.core.plan import canonical

GENESIS = "0" * 64
EventKind = Literal["done", "undone", "reading", "note", "fault", "fault-cleared"]


class EventIn(Strict):
    """An event as the client makes it. `values` are readings by gate id; `failed` marks an
    inspection that was looked at and not passed."""

    id: Annotated[UUID, Field(strict=False)]
    kind: EventKind
    step: Annotated[str, Field(max_length=80)] = ""
    revision: Annotated[Whole, Field(ge=1, le=1_000_000)]
    values: dict[Name, Annotated[float, Field(ge=-1e9, le=1e9)]] = {}
    text: Annotated[str, Field(max_length=2000)] = ""
    device: Annotated[str, Field(max_length=80)] = ""
    sequence: Annotated[Whole, Field(ge=0, le=10**12)] = 0
    client_time: Annotated[datetime, Field(strict=False)]


class Event(Result):
    """An event as kept: who, in which role, when the server took it, and its place in the chain.

    `stamp` is the stamp of the step it speaks of, in the revision it was made under."""

    id: str
    kind: EventKind
    step: str
    revision: int
    values: dict[str, float]
    text: str
    device: str
    sequence: int
    client_time: str
    server_time: str
    actor: str
    role: str
    stamp: str
    number: int
    previous: str
    hash: str


def chained(body: dict[str, Any], number: int, previous: str) -> Event:
    """`body` as event `number`, hashed over the previous hash and its canonical JSON (SHA-256)."""
    full = body | {"number": number, "previous": previous}
    return Event(**full, hash=hashlib.sha256((previous + canonical(full)).encode()).hexdigest())


def broken_at(events: list[Event]) -> int | None:
    """The number of the first event that does not fit its chain, or None when all do."""
    previous = GENESIS
    for place, event in enumerate(events, 1):
        body = event.model_dump(exclude={"hash", "number", "previous"})
        if event != chained(body, place, previous):
            return place
        previous = event.hash
    return None
