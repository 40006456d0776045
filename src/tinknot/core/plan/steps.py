"""A step as it travels: gates, timers, cure law, and what is cut where."""

from typing import Any

from pydantic import model_validator

from tinknot.core.drawing.model import Point
from tinknot.core.files import earlier
from tinknot.core.model import Result, Told

POSSIBLE: dict[str, tuple[float, float]] = {
    "mm": (0.0, 1e5),
    "°C": (-60.0, 400.0),
    "%": (0.0, 100.0),
    "MΩ": (0.0, 1e7),
    "Ω": (0.0, 1e6),
    "mΩ": (0.0, 1e6),
    "µΩ": (0.0, 1e9),
    "N·m": (0.0, 500.0),
    "turns": (0.0, 1000.0),
    "no.": (0.0, 1000.0),
    "wires": (0.0, 1000.0),
}  # what can be read at all at a joint, by unit: beyond it the figure is another one, or a slip


class GateOut(Result):
    """A figure of a step: target and tolerance, or a limit. `required`, `excuse` and `accept` as a layer's
    gate has them; `possible`: the least and the greatest that can be read at all, whatever the limit."""

    id: str
    label: str
    unit: str
    target: float | None
    tolerance: float | None
    least: float | None
    most: float | None
    required: bool
    accept: bool = False
    instrument: str = ""
    name: str = ""
    group: str = ""
    excuse: bool = False
    possible: tuple[float, float] | None = None

    @model_validator(mode="before")
    @classmethod
    def _what_is_possible(cls, data: Any) -> Any:
        """By its unit, also for a plan that was stored before gates said it."""
        if isinstance(data, dict) and data.get("possible") is None:
            return data | {"possible": POSSIBLE.get(data.get("unit", ""))}
        return data


class TimerOut(Result):
    """A time in min from the confirmation of `after`."""

    id: str
    label: str
    after: str
    least_min: float | None
    most_min: float | None
    unless_gate: str


class CureLaw(Result):
    """What must harden: data points (°C, min to full cure), the temperature under which nothing counts, the
    step it runs from, the degrees to handle and to energise, and both times as expected, min."""

    points: list[tuple[float, float]]
    least_c: float
    since: str
    handle: float
    full: float
    handle_min: float
    full_min: float


class StepOut(Told):
    """A step of the graph. `stamp` changes when anything changes that the work depends on; `batch_title`
    and `batch_text` are what the hand is told once for all of a batch; `action` is what is confirmed when
    it is done; `taken`, `pictured`, `recut`, `routes` and `pairs` as a layer's step has them. `once`: what it
    does lasts, so that it is not done a second time; `shut_by`: the steps after which no hand reaches it;
    `row`: the row of the kit's leaflet it is of, from 1, 0 what the leaflet leaves unsaid, None where no
    leaflet is followed."""

    id: str
    title: str
    kind: str
    station: str
    needs: list[str]
    text: str
    caution: str
    look: str
    fails: str
    hold: str | None
    second_person: bool
    batch: str
    layer: str
    end: str
    core: str
    gates: list[GateOut]
    part_id: str
    focus_mm: tuple[float, float] | None
    stamp: str
    timers: list[TimerOut] = []
    tools: list[str] = []
    hot: bool = False
    photo: bool = False
    basis: str = ""
    cure: CureLaw | None = None
    heat_c: float | None = None
    batch_title: str = ""
    batch_text: str = ""
    action: str = ""
    taken: str = ""
    pictured: str = ""
    recut: bool = False
    routes: list[list[Point]] = []
    pairs: list[tuple[int, int]] = []
    once: bool = False
    shut_by: list[str] = []
    row: int | None = None

    @model_validator(mode="before")
    @classmethod
    def _of_earlier_plans(cls, data: Any) -> Any:
        """A plan that was stored before steps said these themselves."""
        return data | earlier.said(data) if isinstance(data, dict) and "action" not in data else data


DATUMS = {
    "cable-end": "cable end",
    "sheath-cut": "sheath cut",
    "outer-jacket-cut": "outer jacket cut",
    "inner-jacket-cut": "inner jacket cut",
}  # what a cut is measured from, in words


class CutOut(Told):
    """A cut, as a running distance in mm from its datum; `layer` in words, `kind` as a layer's cut has it."""

    end: str
    layer: str
    datum: str
    distance_mm: float
    tolerance_mm: float
    caution: str
    removed_mm: float
    core: str
    kind: str = ""

    @model_validator(mode="before")
    @classmethod
    def _of_earlier_plans(cls, data: Any) -> Any:
        """A plan that was stored before cuts said what is cut."""
        old = isinstance(data, dict) and "kind" not in data
        return data | {"kind": earlier.cut_kind(data)} if old else data
