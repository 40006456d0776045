"""What is done, what is next and what is locked by what, as it travels."""

from tinknot.core.model import Result, Told
from tinknot.core.work.cureclock import CureState
from tinknot.core.work.mending import Again


class StepState(Told):
    """A step now: `done`, `open`, `locked` (by the steps named) or `again` (done for another plan).
    `simulated` are the readings that a stand-in gave, `over` those beyond what the display shows; `tools`:
    with what it was done, and what made the heat; `overdue`: those of them that were past their date then, or
    that nobody named, in words, `tool_reason` why they served; `excuse`: why a figure asked for was not
    read."""

    id: str
    state: str
    locked_by: list[str] = []
    actor: str = ""
    at: str = ""
    values: dict[str, float] = {}
    simulated: list[str] = []
    over: list[str] = []
    why: str = ""
    reason: str = ""
    tools: list[str] = []
    overdue: list[str] = []
    tool_reason: str = ""
    excuse: str = ""


class Flag(Told):
    """An event that is kept but does not count, and why; `lasts`: the same confirmed again would not count
    either; `second`: somebody else had confirmed the step already; `late`: it came after the release;
    `counts`: it does count, and is told all the same."""

    event: str
    step: str
    why: str
    lasts: bool = False
    second: bool = False
    late: bool = False
    counts: bool = False


class OpenFault(Result):
    """Something wrong that stops the work until a way to mend it is chosen, or whoever reported it
    (`reporter`, empty where nobody did) takes it back."""

    id: str
    fault: str
    step: str
    layer: str
    seen: str
    actor: str
    at: str
    reporter: str = ""


class TimerState(Result):
    """A time that runs: from when, when the step opens, when it is too late (ISO 8601, server's clock)."""

    id: str
    step: str
    label: str
    since: str
    ready_at: str | None
    late_at: str | None


class Mended(Result):
    """A fault that is open no more: what was seen, what was done or that it was taken back, what it cost."""

    seen: str
    step: str
    words: str
    lost_mm: dict[str, float]
    actor: str
    at: str


class Progress(Result):
    """Where the work stands. `lost_mm` and `scrapped` are what remakes have used up; `attempt` counts
    the joints cut out before this one. `workers` did part of the work, `since_hold` after the last hold."""

    state: str
    steps: list[StepState]
    next: list[str]
    layers_done: list[str]
    holds_left: list[str]
    faults: list[OpenFault]
    flags: list[Flag]
    done: int
    total: int
    timers: list[TimerState] = []
    photos: dict[str, list[str]] = {}
    lost_mm: dict[str, float] = {}
    scrapped: list[Again] = []
    mended: list[Mended] = []
    attempt: int = 0
    limits: str = ""
    lots: dict[str, str] = {}
    cures: list[CureState] = []
    workers: list[str] = []
    since_hold: list[str] = []

    def counted(self) -> set[str]:
        """Ids of the steps that are done for this plan."""
        return {s.id for s in self.steps if s.state == "done"}

    @property
    def late(self) -> list[str]:
        """What came after the release and nobody has settled yet, in words."""
        return [f.why for f in self.flags if f.late]
