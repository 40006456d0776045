"""Summaries of joints: kept when an event or a plan is taken, made where one is missing."""

from functools import lru_cache

from tinknot.core.errors import Unreadable
from tinknot.core.plan.plan import Plan
from tinknot.core.work.states import Progress
from tinknot.core.work.summary import Summary, summary_of
from tinknot.services import folds, joints
from tinknot.store import summaries
from tinknot.store.database import writing
from tinknot.store.faults import StoreFault
from tinknot.store.models import Joint


@lru_cache(maxsize=16384)
def read(body: str) -> Summary:
    """A kept summary; the same text is read once."""
    return Summary.model_validate_json(body)


def keep(row: Joint, plan: Plan, progress: Progress) -> None:
    """Keep what was just folded. Inside a transaction."""
    summaries.keep([_row(row.id, summary_of(plan, progress, _labels(row)))])


def _row(joint: int, s: Summary) -> summaries.Kept:
    return summaries.Kept(
        joint, s.minutes, s.through, s.remakes, unreadable=bool(s.unreadable), body=s.model_dump_json()
    )


MOST_AT_ONCE = (
    100  # joints folded for one list: an upgraded database of thousands answers at once all the same
)


def make_missing() -> dict[int, Summary]:
    """Make summaries that are missing, and keep them; those that could not be kept, by their joints' ids: a
    full disk stops no list, and what a change overtook is not kept. Of more than `MOST_AT_ONCE` the rest
    comes with the next list."""
    before, missing = summaries.mark(), summaries.missing(MOST_AT_ONCE)
    if not missing:
        return {}
    found = {row.id: _fold(row) for row in Joint.select().where(Joint.id.in_(missing))}
    try:
        with writing():
            if summaries.mark() != before:
                return found
            summaries.keep([_row(joint, s) for joint, s in found.items()])
    except StoreFault:
        return found
    return {}


def _fold(row: Joint) -> Summary:
    try:
        joints.draft_of(row)  # one that cannot be read shows as that
        progress, plan = folds.progress_of(row), folds.plan_of_revision(row)
        return summary_of(plan, progress, _labels(row)) if plan and progress else Summary()
    except Unreadable as fault:
        return Summary(unreadable=str(fault))


def _labels(row: Joint) -> dict[str, str]:
    """What the ends of a flat cable are called."""
    ends = joints.draft_of(row).dump().get("trace", {}).get("ends", {})
    return {name: end.get("label") or "" for name, end in ends.items()}
