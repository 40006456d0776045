"""The event log of a joint: read, and appended to with the chain kept."""

import json
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from typing import Any

from tinknot.core.errors import Unreadable
from tinknot.core.files.numbers import EVENT
from tinknot.core.plan.plan import canonical
from tinknot.core.work.events import GENESIS, Event, EventIn, chained
from tinknot.services import days
from tinknot.services.accounts import Person
from tinknot.services.clock import now
from tinknot.store import log
from tinknot.store.models import Joint

# Moments at the ends of the calendar cannot be brought to another zone; what a device says beyond these is
# dated so.
EARLIEST, LATEST = datetime(1, 1, 3, tzinfo=UTC), datetime(9999, 12, 29, tzinfo=UTC)


def events_of(row: Joint, number: int = 1) -> list[Event]:
    """The events from `number` on, in the order they were accepted. Raises Unreadable."""
    return [_read(n, body, digest) for n, body, digest in log.since(row.id, number)]


def bodies_of(row: Joint) -> Iterator[tuple[dict[str, Any], str]]:
    """Every event's body as it was stored and hashed, and its hash. Raises Unreadable."""
    for number, body, digest in log.since(row.id, 1):
        try:
            found = json.loads(body)
        except (ValueError, RecursionError):
            found = None
        if not isinstance(found, dict):
            raise Unreadable(f"Event {number} is damaged: it is no readable JSON.")
        yield found, digest


def _read(number: int, body: str, digest: str) -> Event:
    try:
        found = json.loads(body)
        if found.get("format", 1) > EVENT.number:
            EVENT.upgraded(found)  # says that it is of a newer version
        return Event(**found, hash=digest)
    except (ValueError, TypeError, AttributeError, RecursionError):
        raise Unreadable(f"Event {number} is damaged: it cannot be read.") from None


def aware(moment: datetime) -> datetime:
    """A moment with its zone, one without taken as UTC, kept off the ends of the calendar."""
    known = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
    return min(max(known, EARLIEST), LATEST)


def corrected(given: EventIn, taken: datetime) -> tuple[datetime, timedelta]:
    """When it happened by the server's clock, and by how much that would lie ahead of it. The device's
    clock is off by what it says it is now; nothing happened after it was received."""
    happened = aware(given.client_time)
    seen = taken if given.sent_time is None else aware(given.sent_time)
    ahead = max(happened - seen, EARLIEST - taken)
    return taken + min(ahead, timedelta(0)), ahead


def append(row: Joint, given: EventIn, facts: dict[str, str], who: Person, stamp: str) -> Event:
    """Chain an event. Called inside a transaction."""
    number, previous = log.head(row.id) or (0, GENESIS)
    taken = now()
    at, ahead = corrected(given, taken)
    facts = facts | {"day": days.day_of(at).isoformat()}
    if ahead > timedelta(0):
        facts = facts | {"ahead-s": f"{ahead.total_seconds():.0f}"}
    body = given.model_dump(mode="json", exclude={"signature", "sent_time"}) | {
        "format": EVENT.number,
        "client_time": given.client_time.isoformat(),
        "server_time": taken.isoformat(timespec="milliseconds"),
        "at": at.astimezone(UTC).isoformat(timespec="milliseconds"),
        "facts": facts,
        "actor": who.name,
        "actor_id": who.id,
        "role": who.role,
        "stamp": stamp,
    }
    event = chained(body, number + 1, previous)
    kept = canonical(event.model_dump(exclude={"hash"}, exclude_unset=True))
    log.add(row.id, event.number, event.id, kept, digest=event.hash)
    return event
