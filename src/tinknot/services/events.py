"""The event log of a joint: read, and appended to with the chain kept."""

import json

from tinknot.core.events import GENESIS, Event, EventIn, chained
from tinknot.core.plan import canonical
from tinknot.services.clock import now_text
from tinknot.store.models import EventRow, Joint


def events_of(row: Joint) -> list[Event]:
    """All events in the order they were accepted."""
    return [Event(**json.loads(e.body), hash=e.hash) for e in row.events.order_by(EventRow.number)]


def known(event_id: str) -> EventRow | None:
    """The event with this id, if it was accepted before."""
    return EventRow.get_or_none(EventRow.event_id == event_id)


def append(row: Joint, given: EventIn, actor: str, role: str, stamp: str) -> Event:
    """Chain an event. Called inside a transaction."""
    last = row.events.order_by(EventRow.number.desc()).first()
    body = given.model_dump(mode="json") | {
        "client_time": given.client_time.isoformat(), "server_time": now_text(), "actor": actor, "role": role, "stamp": stamp,
    }  # fmt: skip
    event = chained(body, last.number + 1 if last else 1, last.hash if last else GENESIS)
    EventRow.create(
        joint=row,
        number=event.number,
        event_id=event.id,
        body=canonical(event.model_dump(exclude={"hash"})),
        hash=event.hash,
    )
    return event
