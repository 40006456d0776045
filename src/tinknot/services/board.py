"""The line board: lines with their joints as knots, and today's order."""

from tinknot.core.model import Result
from tinknot.services import joints, planning, site
from tinknot.services.clock import now_text
from tinknot.store.models import Joint


class Today(Result):
    """A joint that waits for hands: how long it takes and what comes next; `cured` is its degree of cure."""

    ref: str
    title: str
    where: str
    state: str
    minutes: float
    next: str
    waits_for: str = ""
    until: str | None = None
    cured: float | None = None


class Board(Result):
    """Everything the home page shows."""

    lines: list[site.LineOut]
    zones: list[site.ZoneOut]
    joints: list[joints.JointRow]
    today: list[Today]
    minutes: float


_ORDER = ("stopped", "building", "curing", "to prove", "to release", "planned", "draft")


def board() -> Board:
    """The board now."""
    rows, today, moment = [], [], now_text()
    for row in Joint.select().order_by(Joint.id):
        progress = planning.progress_of(row)
        out = joints.row_out(row, progress.done if progress else 0, progress.total if progress else 0)
        rows.append(out)
        if row.state not in _ORDER:
            continue
        plan = planning.plan_of(row)
        waits: list[tuple[str, str]] = []
        share = None
        minutes, following = 0.0, "Fill in the card and measure both ends"
        if plan and progress:
            minutes = (plan.minutes.hands + plan.minutes.waiting) * (
                1 - progress.done / max(1, progress.total)
            )
            step = plan.step(progress.next[0]) if progress.next else None
            following = progress.faults[0].seen if progress.faults else step.title if step else ""
            waits = [(t.label, t.ready_at) for t in progress.timers if t.ready_at and t.ready_at > moment]
            waits += [("curing", c.full_at) for c in progress.cures if c.full_at and c.full_at > moment]
            share = next((c.share_at(moment) for c in progress.cures), None)
        today.append(
            Today(
                ref=row.ref,
                title=row.title,
                where=out.where,
                state=row.state,
                minutes=round(minutes),
                next=following,
                waits_for=waits[-1][0] if waits else "",
                until=waits[-1][1] if waits else None,
                cured=share,
            )
        )
    today.sort(key=lambda t: (_ORDER.index(t.state), t.ref))
    return Board(
        lines=site.lines(),
        zones=site.zones(),
        joints=rows,
        today=today,
        minutes=sum(t.minutes for t in today),
    )
