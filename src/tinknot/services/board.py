"""The line board: lines with their joints as knots, and today's order."""

from tinknot.core.model import Result
from tinknot.core.work.summary import Summary
from tinknot.services import joints, site
from tinknot.services import summaries as kept
from tinknot.services.clock import now_text
from tinknot.store import summaries


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


LATER = Summary(next="")  # nothing is known of it yet but what its row says


def board() -> Board:
    """The board now, from the kept summaries: no joint is folded for it, unless its summary is missing. A
    joint that cannot be read stands there as that, and takes nothing else with it."""
    listed = summaries.joints()
    made = kept.made([found[0] for found in listed if found[-1] is None])
    moment = now_text()
    rows: list[joints.JointRow] = []
    today: list[Today] = []
    loops: list[LoopLeft] = []
    for joint_id, ref, title, where, line_id, line, at_m, state, updated, limits, body in listed:
        s = made.get(joint_id, LATER) if body is None else kept.read(body)
        now = s.state_at(state, moment)
        rows.append(
            joints.JointRow(
                ref=ref,
                title=title,
                where=where or "",
                line_id=line_id,
                line=line or "",
                at_m=at_m,
                state=now,
                updated=updated,
                limits=limits,
                done=s.done,
                total=s.total,
                unreadable=s.unreadable,
            )
        )
        if s.unreadable:
            continue
        loops += [
            LoopLeft(
                ref=ref,
                where=where or "",
                end=x.end,
                label=x.label,
                remakes_left=x.remakes_left,
            )
            for x in s.loops
        ]
        if now in _ORDER:
            waits = s.waits_at(moment)
            today.append(
                Today(
                    ref=ref,
                    title=title,
                    where=where or "",
                    state=now,
                    minutes=round(s.minutes),
                    next=s.next,
                    waits_for=waits[-1].label if waits else "",
                    until=waits[-1].ready_at if waits else None,
                    cured=s.cured_at(moment),
                )
            )
    today.sort(key=lambda t: (_ORDER.index(t.state), t.ref))
    return Board(
        lines=site.lines(),
        zones=site.zones(),
        joints=rows,
        today=today,
        minutes=sum(t.minutes for t in today),
        loops=sorted(loops, key=lambda x: (x.remakes_left, x.ref, x.end)),
    )
