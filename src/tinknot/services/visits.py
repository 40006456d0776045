"""Readings of earlier visits: the same line's heat-trace connections, for comparison."""

import json

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
        plan = planning.plan_of(other)
        progress = planning.progress_of(other)
        if plan is None or progress is None or plan.trace is None:
            continue
        where = json.loads(other.draft).get("card", {}).get("where", "")
        states = {s.id: s for s in progress.steps}
        for step in plan.steps:
            state = states[step.id]
            if step.id != "test.after.insulation" or state.state != "done":
                continue
            found += [
                EarlierReading(ref=other.ref, where=where, step=step.title, label=g.label, value=state.values[g.id], unit=g.unit, at=state.at or "")
                for g in step.gates
                if g.id in state.values
            ]  # fmt: skip
    return sorted(found, key=lambda x: x.at, reverse=True)[:MOST]
