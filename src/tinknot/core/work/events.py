"""What happened at the joint: append-only, each event with its own UUID, chained on acceptance."""

import hashlib
from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import Field

from tinknot.core.model import Name, Result, Strict, Whole
from tinknot.core.plan.plan import canonical

GENESIS = "0" * 64
EventKind = Literal["done", "undone", "reading", "note", "photo", "fault", "remedy", "settled"]


def person_mark(number: int) -> str:
    """How a person is named where people are kept apart: by their number, which is theirs for ever."""
    return f"#{number}"


class Signature(Strict):
    """A second person's signature on somebody else's device: the PIN, sealed to the site's key (RSA-OAEP,
    base64), so that it waits unreadable where there is no connection."""

    username: Name
    sealed_pin: Annotated[str, Field(min_length=1, max_length=2000)]


class EventIn(Strict):
    """An event as the client makes it.

    `values` are readings by gate id, `read_by` the instrument that gave one, `over` those whose display
    showed more than it can, so that the value is the end of its range; `text` a reason or words; `choice`
    the fault, or the way to mend it, by its id; `about` the event it answers (an `undone` about a fault
    takes it back); `photo` a picture's content hash; `tools` the tools used, by kind; `lot` the lot taken.
    `client_time` is when it happened and `sent_time` when it was sent, both by the device's clock, so that
    a wrong clock can be told. `by` is the mark of the person who did it and `sign_in` the sign-in it was done
    under: what somebody else's sign-in sends is not theirs."""

    id: Annotated[UUID, Field(strict=False)]
    kind: EventKind
    step: Annotated[str, Field(max_length=80)] = ""
    revision: Annotated[Whole, Field(ge=1, le=1_000_000)]
    values: dict[Name, Annotated[float, Field(ge=-1e9, le=1e9)]] = {}
    read_by: dict[Name, Name] = {}
    over: list[Name] = []
    text: Annotated[str, Field(max_length=2000)] = ""
    choice: Annotated[str, Field(max_length=80)] = ""
    about: Annotated[str, Field(max_length=80)] = ""
    photo: Annotated[str, Field(pattern="^([0-9a-f]{64})?$")] = ""
    tools: dict[Name, Name] = {}
    lot: Annotated[str, Field(max_length=120)] = ""
    signature: Signature | None = None
    device: Annotated[str, Field(max_length=80)] = ""
    sequence: Annotated[Whole, Field(ge=0, le=10**12)] = 0
    by: Annotated[str, Field(max_length=20)] = ""
    sign_in: Annotated[str, Field(max_length=40)] = ""
    client_time: Annotated[datetime, Field(strict=False)]
    sent_time: Annotated[datetime, Field(strict=False)] | None = None


class Event(Result):
    """An event as kept: who, in which role, when it happened and when the server took it, and its place in
    the chain.

    `at` is the client's time brought to the server's clock. `stamp` is the stamp of the step it speaks of,
    in the revision it was made under. `facts` are what the server knew then: due dates of the tools named,
    the lot's date, the permit's end, how it was signed, from format 2 on when the plan was made
    (`plan-made`) and by how much the event was dated ahead of the server's clock (`ahead-s`), at a second
    person's hold who had measured or planned (`worked`), under which hash a picture was sent (`photo-sent`),
    which readings an instrument's stand-in gave (`simulated`, gate ids); from format 4 on the site's day
    (`day`), which kind of tool nobody named although the site keeps some (`unnamed:KIND`), and whether the
    device did not say whose it is (`unclaimed`). `actor_id` is the person's number; 0 before format 2. From
    format 3 on own work is known by it, and is all work, counted or not; from format 4 on what is work is
    said by `working`, and a reading needs a figure that can be and a tool in date."""

    format: int = 1
    id: str
    kind: EventKind
    step: str
    revision: int
    values: dict[str, float]
    read_by: dict[str, str] = {}
    over: list[str] = []
    text: str
    choice: str = ""
    about: str = ""
    photo: str = ""
    tools: dict[str, str] = {}
    lot: str = ""
    facts: dict[str, str] = {}
    device: str
    sequence: int
    by: str = ""
    sign_in: str = ""
    client_time: str
    server_time: str
    at: str
    actor: str
    actor_id: int = 0
    role: str
    stamp: str
    number: int
    previous: str
    hash: str

    @property
    def worker(self) -> set[str]:
        """What whoever made it is remembered by: the person's number, which no change of name changes.
        Events of before format 3 were judged by the name, those of format 2 by both."""
        if self.format >= 3:
            return {person_mark(self.actor_id)}
        return self.person

    @property
    def person(self) -> set[str]:
        """Everything this person may be known by in other events."""
        return {self.actor, *([person_mark(self.actor_id)] if self.actor_id else [])}

    def by_whom_made(self, other: "Event") -> bool:
        """Whether the same person made both: by number from format 3 on, else by name."""
        if self.format >= 3 and other.actor_id:
            return self.actor_id == other.actor_id
        return self.actor == other.actor

    @property
    def moment(self) -> datetime:
        """When it happened, by the server's clock."""
        return datetime.fromisoformat(self.at)


def link(body: Mapping[str, Any], previous: str) -> str:
    """The hash of an event's body in its chain: SHA-256 over the previous hash and the canonical JSON."""
    return hashlib.sha256((previous + canonical(body)).encode()).hexdigest()


def chained(body: dict[str, Any], number: int, previous: str) -> Event:
    """`body` as event `number`, hashed over the previous hash and its canonical JSON (SHA-256)."""
    full = body | {"number": number, "previous": previous}
    return Event(**full, hash=link(full, previous))


def broken_link(bodies: Iterable[tuple[Mapping[str, Any], str]]) -> int | None:
    """The number of the first event, a body as stored and its hash, that does not fit its chain, or None when
    all do. Bodies are taken as they are, whatever version wrote them."""
    previous = GENESIS
    for place, (body, held) in enumerate(bodies, 1):
        if body.get("number") != place or body.get("previous") != previous or link(body, previous) != held:
            return place
        previous = held
    return None


def broken_at(events: Iterable[Event]) -> int | None:
    """`broken_link` for events that were read."""
    return broken_link((e.model_dump(exclude={"hash"}, exclude_unset=True), e.hash) for e in events)
