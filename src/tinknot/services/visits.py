"""Readings of earlier visits: the same line's heat-trace connections, for comparison."""

from tinknot.core.errors import Unreadable
from tinknot.core.model import Result
from tinknot.services import joints, planning
from tinknot.store.models import Joint

MOST = 12


class EarlierReading(Result):
    """A reading taken before on this line, and at which connection."""

    ref: str
    where: str
    step: str
    label: str
    value: float
    unit: str
    at: str


def earlier(ref: str) -> list[EarlierReading]:
    """Closing insulation readings of the other heat-trace connections on this joint's line, newest first."""
    row = joints.row_of(ref)
    if row.line_id is None:
        return []
    found: list[EarlierReading] = []
    for other in Joint.select().where((Joint.line == row.line_id) & (Joint.id != row.id)):
        try:
            found += _closing(other)
        except Unreadable:  # shown as that on the board; the others' readings still count
            continue
    return sorted(found, key=lambda x: x.at, reverse=True)[:MOST]


def _closing(other: Joint) -> list[EarlierReading]:
    """The closing readings of a heat-trace connection; none of any other joint. Raises Unreadable."""
    plan, progress = planning.plan_of(other), planning.progress_of(other)
    if plan is None or progress is None or plan.trace is None:
        return []
    where, states = joints.where_of(other), {s.id: s for s in progress.steps}
    return [
        EarlierReading(
            ref=other.ref,
            where=where,
            step=step.title,
            label=g.label,
            value=states[step.id].values[g.id],
            unit=g.unit,
            at=states[step.id].at or "",
        )
        for step in plan.steps
        if step.taken == "after"
        and any(g.unit == "MΩ" for g in step.gates)
        and states[step.id].state == "done"
        for g in step.gates
        if g.id in states[step.id].values
    ]
