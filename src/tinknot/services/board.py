"""The line board: lines with their joints as knots, and today's order."""

from tinknot.core.errors import Unreadable
from tinknot.core.families.trace.arithmetic import remakes_now
from tinknot.core.model import Result
from tinknot.core.plan import Plan
from tinknot.core.work.progress import Progress
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


class LoopLeft(Result):
    """A heat-trace end and how often its loop still allows a remake, before a splice is needed."""

    ref: str
    where: str
    end: str
    label: str
    remakes_left: int


class Board(Result):
    """Everything the home page shows; `loops` those with the fewest remakes first."""

    lines: list[site.LineOut]
    zones: list[site.ZoneOut]
    joints: list[joints.JointRow]
    today: list[Today]
    minutes: float
    loops: list[LoopLeft]


_ORDER = ("stopped", "building", "curing", "to prove", "to release", "planned", "draft")


def board() -> Board:
    """The board now. A joint that cannot be read stands there as that, and takes nothing else with it."""
    rows: list[joints.JointRow] = []
    today: list[Today] = []
    loops: list[LoopLeft] = []
    for row in Joint.select().order_by(Joint.id):
        try:
            out, mine, waiting = _read(row)
        except Unreadable as fault:
            rows.append(joints.row_out(row, unreadable=str(fault)))
            continue
        rows.append(out)
        loops += mine
        if waiting is not None:
            today.append(waiting)
    today.sort(key=lambda t: (_ORDER.index(t.state), t.ref))
    return Board(
        lines=site.lines(),
        zones=site.zones(),
        joints=rows,
        today=today,
        minutes=sum(t.minutes for t in today),
        loops=sorted(loops, key=lambda x: (x.remakes_left, x.ref, x.end)),
    )


def _read(row: Joint) -> tuple[joints.JointRow, list[LoopLeft], Today | None]:
    """A joint as the board shows it: its knot, its loops and, where it waits for hands, its line of
    today's order. Raises Unreadable."""
    joints.draft_of(row)
    progress, plan = planning.progress_of(row), planning.plan_of(row)
    out = joints.row_out(row, progress.done if progress else 0, progress.total if progress else 0)
    loops = _loops(row, out, plan, progress) if plan and plan.trace and progress else []
    return out, loops, _today(row, out, plan, progress) if row.state in _ORDER else None


def _today(row: Joint, out: joints.JointRow, plan: Plan | None, progress: Progress | None) -> Today:
    """What a joint waits for, and for how long."""
    waits: list[tuple[str, str]] = []
    share = None
    minutes, following = 0.0, "Fill in the card and measure both ends"
    moment = now_text()
    if plan and progress:
        minutes = (plan.minutes.hands + plan.minutes.waiting) * (1 - progress.done / max(1, progress.total))
        step = plan.step(progress.next[0]) if progress.next else None
        following = progress.faults[0].seen if progress.faults else step.title if step else ""
        waits = [(t.label, t.ready_at) for t in progress.timers if t.ready_at and t.ready_at > moment]
        waits += [("curing", c.full_at) for c in progress.cures if c.full_at and c.full_at > moment]
        share = next((c.share_at(moment) for c in progress.cures), None)
    return Today(
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


def _loops(row: Joint, out: joints.JointRow, plan: Plan, progress: Progress) -> list[LoopLeft]:
    """The loops of a heat-trace connection as they are now, what was lost taken off."""
    assert plan.trace is not None
    ends = joints.draft_of(row).dump().get("trace", {}).get("ends", {})
    found = []
    for loop in plan.trace.loops:
        left = remakes_now(loop, progress.lost_mm.get(loop.end, 0.0))
        if left is not None:
            label = (ends.get(loop.end) or {}).get("label") or ""
            found.append(LoopLeft(ref=row.ref, where=out.where, end=loop.end, label=label, remakes_left=left))
    return found
