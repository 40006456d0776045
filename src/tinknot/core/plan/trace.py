"""What a plan of a heat-trace connection says besides."""

from pydantic import model_validator

from tinknot.core.drawing.model import Appearance, looks_of
from tinknot.core.model import Result, Told


class PreparedLayer(Result):
    """A layer of a prepared flat end, mm back from the cable's end; `y_mm` from the middle across the
    width."""

    kind: str
    from_mm: float
    to_mm: float
    width_mm: float
    thickness_mm: float
    y_mm: float = 0.0


class PreparedCut(Result):
    """A cut to write on the drawing: where it lies back from the cable's end, and its length from its
    datum."""

    layer: str
    at_mm: float
    from_mm: float
    length_mm: float
    datum: str


class PreparedEnd(Result):
    """A flat end laid open, to scale: layers outermost first, cuts, what must never touch."""

    end: str
    reach_mm: float
    layers: list[PreparedLayer]
    end_on: list[PreparedLayer]
    cuts: list[PreparedCut]
    keep_clear: list[str]
    looks: dict[str, Appearance] = {}

    @model_validator(mode="after")
    def _every_kind_has_its_look(self) -> "PreparedEnd":
        """Also in one that was stored before looks were part of it."""
        object.__setattr__(self, "looks", looks_of((x.kind for x in self.layers), self.looks))
        return self


class LoopOut(Told):
    """The loop at an end: mm of cable in it, remakes it still allows, and whether its bend is wide enough."""

    end: str
    loop_mm: float | None
    radius_mm: float | None
    least_radius_mm: float | None
    per_remake_mm: float
    least_loop_mm: float
    remakes_left: int | None
    left_after_mm: float | None
    words: str


class ZoneCutOut(Told):
    """Where a zone cable is cut, mm, and what stays cold or heats too early; `end`: at which end. To draw it,
    mm from the present end: its connection points `points_mm`, where the pipe begins, how far it is shown (0:
    not drawn), and what is laid open of the new end, `opened_mm`."""

    end: str = "A"
    cut_mm: float
    node_at_mm: float
    onto_pipe_mm: float
    cold_mm: float
    early_mm: float = 0.0
    words: str
    points_mm: list[float] = []
    pipe_from_mm: float = 0.0
    opened_mm: float = 0.0
    shown_mm: float = 0.0


class CircuitOut(Told):
    """The circuit after the work against the sheet's limit."""

    length_m: float
    most_m: float
    start_up_a: float
    breaker_a: float
    words: str


class TraceOut(Result):
    """What is worked out for a heat-trace connection; `stops` are reasons why it is not built like this,
    `questions` what nobody entered or the sheet does not say, so that nothing is judged by it;
    `node_cuts`: where a zone cable is cut at every other end than the fed one, from the nearest point."""

    construction: str
    recipe: str
    test_v: float
    bend_radius_mm: float | None
    loops: list[LoopOut]
    cable_m: float | None
    fixings: int | None
    fixing_tape: str
    zone: ZoneCutOut | None
    cold_tail_mm: float | None
    circuit: CircuitOut | None
    prepared: list[PreparedEnd]
    stops: list[str]
    node_cuts: list[ZoneCutOut] = []
    questions: list[str] = []
