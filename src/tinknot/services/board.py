"""The line board: lines with their joints as knots, and what waits for hands. However many joints there
are, it shows as many as can be looked at and counts the rest."""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from functools import lru_cache

from tinknot.core.model import Result
from tinknot.core.work.knots import CELLS as CELLS_OF_A_KNOT
from tinknot.core.work.knots import NEAR, Cell, Waiting, folded
from tinknot.core.work.summary import Summary
from tinknot.services import site
from tinknot.services import summaries as kept
from tinknot.services.clock import now_text
from tinknot.store import summaries
from tinknot.store.database import db

# states that wait for hands, what calls for them first
ORDER = (
    "stopped",
    "building",
    "curing",
    "to prove",
    "to release",
    "planned",
    "draft",
)
UNREADABLE = "cannot be read"
MOST_TODAY = 30
MOST_LOOPS = 8
MOST_LISTED = 12
SLOT = len("2026-11-26T08:00:0")  # of a moment: the ten seconds it lies in
LATER = Summary(next="")  # nothing is known of it yet but what its row says


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


class Waits(Result):
    """Joints that wait for hands, in the order in which they call for them."""

    items: list[Today]


class LoopLeft(Result):
    """A heat-trace end and how often its loop still allows a remake, before a splice is needed."""

    ref: str
    where: str
    end: str
    label: str
    remakes_left: int


class Named(Result):
    """A joint as the board names it. `share`: how far it is worked, or cured while it cures, 0 to 1;
    `limits`: what it is released with; `late`: what was told after the release; `unreadable`: why nothing
    more can be said of it."""

    ref: str
    title: str
    where: str
    state: str
    limits: str
    late: str
    share: float
    unreadable: str


class KnotOut(Result):
    """Joints that lie near each other on a line: the one or two named first, and how many more there are."""

    line_id: int
    at_m: float
    joints: list[Named]
    more: int


class SomeJoints(Result):
    """Some joints of a list, and how many more there are."""

    items: list[Named]
    more: int


class StateCount(Result):
    """How many joints are in a state."""

    state: str
    count: int


class Board(Result):
    """What the home page shows first. `far_m`: how far the lines and their joints reach; `states` in the
    order in which joints call for hands; `today` the first that wait for hands, of `waiting` with `minutes`
    of work in all; `loops` those with the fewest remakes first."""

    lines: list[site.LineOut]
    zones: list[site.ZoneOut]
    far_m: float
    states: list[StateCount]
    knots: list[KnotOut]
    loose: SomeJoints
    limited: SomeJoints
    late: SomeJoints
    unreadable: SomeJoints
    today: list[Today]
    waiting: int
    minutes: float
    loops: list[LoopLeft]


def board() -> Board:
    """The board now, from the kept summaries: no joint is folded for it, unless its summary is missing. A
    joint that cannot be read stands there as that, and takes nothing else with it."""
    unkept = kept.make_missing()
    return _made(now_text(), unkept) if unkept else _board(*_now())


def waits() -> Waits:
    """All joints that wait for hands."""
    return _waits(*_now())


def _now() -> tuple[str, int, str]:
    """What the board hangs on: the database, the mark of what it shows, and the clock to ten seconds."""
    return str(db.database), summaries.mark(), now_text()[:SLOT]


@lru_cache(maxsize=4)
def _board(_database: str, _mark: int, _slot: str) -> Board:
    return _made(now_text(), {})


@lru_cache(maxsize=4)
def _waits(_database: str, _mark: int, _slot: str) -> Waits:
    moment = now_text()
    waiting = _waiting(summaries.opened(ORDER, moment))
    seen = _Seen(moment, {}, waiting)
    return Waits(items=[seen.today(j) for j in waiting])


def _made(moment: str, unkept: Mapping[int, Summary]) -> Board:
    opened = summaries.opened(ORDER, moment)
    lost = summaries.unreadable()
    states = _states(opened, lost)
    lines = site.lines()
    far = max(1.0, summaries.farthest(), *(x.length_m for x in lines))
    rank = {state: i for i, state in enumerate(ORDER)}
    knots = folded(
        [Cell(*c) for c in summaries.cells(far * NEAR / CELLS_OF_A_KNOT)],
        [
            Waiting(o.joint, o.line, o.at_m, rank[o.state])
            for o in opened
            if o.line is not None and o.at_m is not None
        ],
        far * NEAR,
    )
    waiting = _waiting(opened)
    loose, loose_all = summaries.loose(MOST_LISTED)
    limited = summaries.limited(MOST_LISTED)
    late, late_all = summaries.late(MOST_LISTED)
    tight = summaries.tightest(MOST_LOOPS)
    first = [joint for joint, _ in lost[:MOST_LISTED]]
    seen = _Seen(
        moment,
        unkept,
        *(waiting[:MOST_TODAY], loose, limited, late, tight, first),
        *(k.named for k in knots),
    )
    loops = sorted(
        (x for joint in tight for x in seen.loops(joint)), key=lambda x: (x.remakes_left, x.ref, x.end)
    )
    return Board(
        lines=lines,
        zones=site.zones(),
        far_m=far,
        states=[StateCount(state=s, count=n) for s, n in states.items()],
        knots=[
            KnotOut(
                line_id=k.line,
                at_m=k.at_m,
                joints=[seen.named(j) for j in k.named],
                more=k.many - len(k.named),
            )
            for k in knots
        ],
        loose=seen.listed(loose, loose_all),
        limited=seen.listed(limited, states["released with a limit"]),
        late=seen.listed(late, late_all),
        unreadable=seen.listed(first, len(lost)),
        today=[seen.today(j) for j in waiting[:MOST_TODAY]],
        waiting=len(waiting),
        minutes=sum(round(o.minutes or 0) for o in opened if not o.unreadable),
        loops=loops[:MOST_LOOPS],
    )


def _waiting(opened: Iterable[summaries.Open]) -> list[int]:
    """Joints that wait for hands, by id, in the order in which they call for them."""
    readable = [o for o in opened if not o.unreadable]
    return [o.joint for o in sorted(readable, key=lambda o: (ORDER.index(o.state), o.ref))]


def _states(opened: Iterable[summaries.Open], lost: Sequence[tuple[int, str]]) -> Counter[str]:
    """How many joints are in each state now: those that cannot be read are in none, and what cured is to be
    proved without an event in between."""
    now = Counter(o.state for o in opened if not o.unreadable)
    gone = Counter(state for _, state in lost)
    released = {s: n - gone[s] for s, n in summaries.counted().items() if s not in ORDER}
    return Counter({s: now[s] for s in ORDER}) + Counter(released) + Counter({UNREADABLE: len(lost)})


class _Seen:
    """Joints that are shown, read at once, as they are at a moment."""

    def __init__(self, moment: str, unkept: Mapping[int, Summary], *lists: Iterable[int]) -> None:
        self.moment = moment
        self._rows = {
            joint: (*row, unkept.get(joint, LATER) if body is None else kept.read(body))
            for joint, *row, body in summaries.rows({j for listed in lists for j in listed})
        }

    def named(self, joint: int) -> Named:
        ref, title, where, state, limits, late, s = self._rows[joint]
        now = s.state_at(state, self.moment)
        cured = s.cured_at(self.moment) if now == "curing" else None
        return Named(
            ref=ref,
            title=title,
            where=where or "",
            state=now,
            limits=limits,
            late=late,
            share=cured if cured is not None else s.done / max(1, s.total),
            unreadable=s.unreadable,
        )

    def listed(self, joints: list[int], many: int) -> SomeJoints:
        return SomeJoints(items=[self.named(j) for j in joints], more=many - len(joints))

    def today(self, joint: int) -> Today:
        ref, title, where, state, _, _, s = self._rows[joint]
        waits = s.waits_at(self.moment)
        return Today(
            ref=ref,
            title=title,
            where=where or "",
            state=s.state_at(state, self.moment),
            minutes=round(s.minutes),
            next=s.next,
            waits_for=waits[-1].label if waits else "",
            until=waits[-1].ready_at if waits else None,
            cured=s.cured_at(self.moment),
        )

    def loops(self, joint: int) -> list[LoopLeft]:
        ref, _, where, _, _, _, s = self._rows[joint]
        return [
            LoopLeft(ref=ref, where=where or "", end=x.end, label=x.label, remakes_left=x.remakes_left)
            for x in s.loops
        ]
