"""What lists show of a joint, folded once and kept: where the work stands, what comes next, what it waits
for.

It holds moments and laws, not what the clock makes of them: what is curing now is proved tomorrow without
an event in between, and no list folds a joint to know that."""

from collections.abc import Mapping

from tinknot.core.families.trace.arithmetic import remakes_now
from tinknot.core.model import Result
from tinknot.core.plan.plan import Plan
from tinknot.core.work.cureclock import CureState
from tinknot.core.work.states import Progress

UNPLANNED = "Fill in the card and measure both ends"


class Wait(Result):
    """A time that runs: what for, and until when (ISO 8601)."""

    label: str
    ready_at: str


class Loop(Result):
    """An end whose loop still allows this many remakes."""

    end: str
    label: str
    remakes_left: int


class Summary(Result):
    """A joint in a line. `minutes`: of hands and waiting left as planned; `next`: the step that comes
    next, or the fault that stops it; `unreadable`: why nothing more can be said of it."""

    done: int = 0
    total: int = 0
    minutes: float = 0.0
    next: str = UNPLANNED
    waits: list[Wait] = []
    cures: list[CureState] = []
    loops: list[Loop] = []
    unreadable: str = ""

    @property
    def through(self) -> str | None:
        """The moment (ISO 8601) from which nothing cures any more; empty where nothing does, None where
        that cannot be told."""
        ends = [c.full_at for c in self.cures]
        return None if None in ends else max((e for e in ends if e), default="")

    @property
    def remakes(self) -> int | None:
        """The fewest remakes that a loop of it still allows."""
        return min((x.remakes_left for x in self.loops), default=None)

    def state_at(self, state: str, moment: str) -> str:
        """The joint's `state` at a moment (ISO 8601): what cured is to be proved from the moment it is
        through."""
        if state != "curing" or self.through is None or self.through > moment:
            return state
        return "to prove"

    def waits_at(self, moment: str) -> list[Wait]:
        """What it waits for at a moment (ISO 8601), cures last."""
        cures = [Wait(label="curing", ready_at=c.full_at) for c in self.cures if c.full_at]
        return [w for w in (*self.waits, *cures) if w.ready_at > moment]

    def cured_at(self, moment: str) -> float | None:
        """The degree of cure at a moment (ISO 8601), 0 to 1; None where nothing cures."""
        return next((c.share_at(moment) for c in self.cures), None)


def summary_of(plan: Plan, progress: Progress, labels: Mapping[str, str]) -> Summary:
    """The summary of a plan and how far it is worked; `labels`: what the ends are called."""
    step = plan.step(progress.next[0]) if progress.next else None
    loops = []
    for loop in plan.trace.loops if plan.trace else ():
        left = remakes_now(loop, progress.lost_mm.get(loop.end, 0.0))
        if left is not None:
            loops.append(Loop(end=loop.end, label=labels.get(loop.end, ""), remakes_left=left))
    return Summary(
        done=progress.done,
        total=progress.total,
        minutes=(plan.minutes.hands + plan.minutes.waiting) * (1 - progress.done / max(1, progress.total)),
        next=progress.faults[0].seen if progress.faults else step.title if step else "",
        waits=[Wait(label=t.label, ready_at=t.ready_at) for t in progress.timers if t.ready_at],
        cures=progress.cures,
        loops=loops,
    )
