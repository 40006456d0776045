"""The event log of a joint: read, and appended to with the chain kept."""

import json
from datetime import UTC, datetime

from tinknot.core.events import GENESIS, Event, EventIn, chained
from tinknot.core.plan import canonical
from tinknot.services.clock import now
from tinknot.store import log
from tinknot.store.models import Joint


def events_of(row: Joint, number: int = 1) -> list[Event]:
    """The events from `number` on, in the order they were accepted."""
    return [Event(**json.loads(body), hash=digest) for _, body, digest in log.since(row.id, number)]


def corrected(given: EventIn, taken: datetime) -> datetime:
    """When it happened by the server's clock: the device's clock is off by what it says it is now."""
    if given.sent_time is None:
        return min(aware(given.client_time), taken)
    return min(aware(given.client_time) + (taken - aware(given.sent_time)), taken)


def aware(moment: datetime) -> datetime:
    """A moment with its zone; one without is taken as UTC."""
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)


def append(row: Joint, given: EventIn, facts: dict[str, str], actor: str, role: str, stamp: str) -> Event:
    """Chain an event. Called inside a transaction."""
    number, previous = log.head(row.id) or (0, GENESIS)
    taken = now()
    body = given.model_dump(mode="json", exclude={"signature", "sent_time"}) | {
        "client_time": given.client_time.isoformat(), "server_time": taken.isoformat(timespec="milliseconds"),
        "at": corrected(given, taken).astimezone(UTC).isoformat(timespec="milliseconds"), "facts": facts, "actor": actor,
        "role": role, "stamp": stamp,
    }  # fmt: skip
    event = chained(body, number + 1, previous)
    kept = canonical(event.model_dump(exclude={"hash"}, exclude_unset=True))
    log.add(row.id, event.number, event.id, kept, event.hash)
    return event
