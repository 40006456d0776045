"""What happened at the joint: append-only, each event with its own UUID, chained on acceptance."""

import hashlib
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field

from tinknot.core.model import Name, Result, Strict, Whole
from tinknot.core.plan import canonical

GENESIS = "0" * 64
EventKind = Literal["done", "undone", "reading", "note", "photo", "fault", "remedy", "settled"]


class Signature(Strict):
    """A second person's signature on somebody else's device: the PIN, sealed to the site's key (RSA-OAEP,
    base64), so that it waits unreadable where there is no connection."""

    username: Name
    sealed_pin: Annotated[str, Field(min_length=1, max_length=2000)]


class EventIn(Strict):
    """An event as the client makes it.

    `values` are readings by gate id; `text` a reason or words; `choice` the fault, or the way to
    mend it, by its id; `about` the event it answers; `photo` a picture's content hash; `tools` the
    tools used, by kind; `lot` the lot taken. `client_time` is when it happened and `sent_time` when
    it was sent, both by the device's clock, so that a wrong clock can be told."""

    id: Annotated[UUID, Field(strict=False)]
    kind: EventKind
    step: Annotated[str, Field(max_length=80)] = ""
    revision: Annotated[Whole, Field(ge=1, le=1_000_000)]
    values: dict[Name, Annotated[float, Field(ge=-1e9, le=1e9)]] = {}
    text: Annotated[str, Field(max_length=2000)] = ""
    choice: Annotated[str, Field(max_length=80)] = ""
    about: Annotated[str, Field(max_length=80)] = ""
    photo: Annotated[str, Field(pattern="^([0-9a-f]{64})?$")] = ""
    tools: dict[Name, Name] = {}
    lot: Annotated[str, Field(max_length=120)] = ""
    signature: Signature | None = None
    device: Annotated[str, Field(max_length=80)] = ""
    sequence: Annotated[Whole, Field(ge=0, le=10**12)] = 0
    client_time: Annotated[datetime, Field(strict=False)]
    sent_time: Annotated[datetime, Field(strict=False)] | None = None


class Event(Result):
    """An event as kept: who, in which role, when it happened and when the server took it, and its
    place in the chain.

    `at` is the client's time brought to the server's clock. `stamp` is the stamp of the step it
    speaks of, in the revision it was made under. `facts` are what the server knew then: due dates
    of the tools named, the lot's date, the permit's end, how it was signed."""

    id: str
    kind: EventKind
    step: str
    revision: int
    values: dict[str, float]
    text: str
    choice: str = ""
    about: str = ""
    photo: str = ""
    tools: dict[str, str] = {}
    lot: str = ""
    facts: dict[str, str] = {}
    device: str
    sequence: int
    client_time: str
    server_time: str
    at: str
    actor: str
    role: str
    stamp: str
    number: int
    previous: str
    hash: str

    @property
    def moment(self) -> datetime:
        """When it happened, by the server's clock."""
        return datetime.fromisoformat(self.at)


def chained(body: dict[str, Any], number: int, previous: str) -> Event:
    """`body` as event `number`, hashed over the previous hash and its canonical JSON (SHA-256)."""
    full = body | {"number": number, "previous": previous}
    return Event(**full, hash=hashlib.sha256((previous + canonical(full)).encode()).hexdigest())


def broken_at(events: list[Event]) -> int | None:
    """The number of the first event that does not fit its chain, or None when all do."""
    previous = GENESIS
    for place, event in enumerate(events, 1):
        body = event.model_dump(exclude={"hash", "number", "previous"}, exclude_unset=True)
        if event != chained(body, place, previous):
            return place
        previous = event.hash
    return None
