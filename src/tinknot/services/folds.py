"""Folded joints kept at hand, so that a new event costs one step and not the whole log again."""

from dataclasses import dataclass
from functools import lru_cache
from threading import Lock

from tinknot.core.files.numbers import PLAN
from tinknot.core.plan.plan import Plan
from tinknot.core.work.folding import Fold
from tinknot.core.work.states import Progress
from tinknot.services import events
from tinknot.store import log
from tinknot.store.database import db
from tinknot.store.models import Joint

MOST_KEPT = 64


@dataclass
class _Kept:
    fold: Fold
    number: int
    hash: str


_kept: dict[tuple[str, int, log.Revision], _Kept] = {}
_lock = Lock()


@lru_cache(maxsize=64)
def read_plan(text: str) -> Plan:
    """A stored plan of any format; plans never change, so reading one again costs nothing. Raises
    Unreadable."""
    return PLAN.read(Plan, text)


@lru_cache(maxsize=64)
def _plan(_database: str, revision: log.Revision) -> Plan:
    return PLAN.read(Plan, log.revision_text(revision[0]))


def plan_of_revision(row: Joint, number: int | None = None) -> Plan | None:
    """A joint's plan by its revision's number, the newest without one. Raises Unreadable."""
    found = log.newest_revision(row.id) if number is None else log.revision(row.id, number)
    return None if found is None else _plan(str(db.database), found)


def progress_of(row: Joint) -> Progress | None:
    """The newest plan folded with all events, going on from where the last fold ended. Raises Unreadable."""
    found = log.newest_revision(row.id)
    if found is None:
        return None
    key = (str(db.database), row.id, found)
    with _lock:
        kept = _kept.pop(key, None)
        new = events.events_of(row, kept.number if kept else 1)
        if kept and kept.number and (not new or new[0].hash != kept.hash):  # what was folded was rolled back
            kept, new = None, events.events_of(row, 1)
        elif kept and kept.number:
            new = new[1:]
        kept = kept or _Kept(Fold(_plan(key[0], found)), 0, "")
        for event in new:
            kept.fold.take(event)
            kept.number, kept.hash = event.number, event.hash
        _kept[key] = kept
        while len(_kept) > MOST_KEPT:
            del _kept[next(iter(_kept))]
        return kept.fold.progress()
