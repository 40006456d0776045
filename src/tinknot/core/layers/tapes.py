"""Tape wound on: core insulation, mastic over steps, mica against fire, build-up under a sleeve."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import ceil, sqrt

from tinknot.core.acts import Act, LayOn, Look, Place, Thing, Wipe
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import Fact, of, over_all, over_core
from tinknot.core.figures import said_mm
from tinknot.core.formulas.tape import Wrap, wrap
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Batch, Fault, Layer, Material, Mend, Minutes, Piece, Step, pieces_of
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.layers.sleeve import flash
from tinknot.core.layers.surfaces import degreased
from tinknot.core.parts.tape import StockTape
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_most

_AGAIN = Mend("Take the tape off and wind new tape", "new-part")


def grows_mm(tape: StockTape) -> float:
    """What one pass adds to the diameter, mm: 2·t/√s/(1 − o)."""
    return 2 * tape.thickness_mm / sqrt(tape.stretch) / (1 - tape.overlap_pct / 100)


def passes_for(tape: StockTape, thickness_mm: float) -> int:
    """The fewest passes that lay at least `thickness_mm` of tape; one at least."""
    return max(1, ceil(2 * thickness_mm / grows_mm(tape) * (1 - 1e-9)))


LOW_VOLTAGE_V = 1000.0  # AC; IEC 60364-1 ends there


def wound_mm(rules: RuleBook, wall_mm: float, rated_v: float | None) -> float:
    """How thick tape is wound in place of insulation of `wall_mm`, mm, by the voltage it is rated for."""
    low = rated_v is None or at_most(rated_v, LOW_VOLTAGE_V)
    return rules.number("tape.insulation_factor" if low else "tape.insulation_high_factor") * wall_mm


@dataclass(frozen=True)
class TapeWrap(Layer):
    """Tape over `span_mm` of a core or of the whole bundle, `passes` times there and back. `ends`: on whose
    sheath it must hold, where that is not all it lies on."""

    tape: StockTape
    lot: str
    span_mm: tuple[float, float]
    passes: int
    substrate_mm: float
    rules: RuleBook
    core: str = ""
    ends: tuple[str, ...] = ()
    own: str = ""  # what of a core is insulated, in words, where that is not its connector

    @property
    def wound(self) -> Wrap:
        """Turns, relaxed tape and diameter, from the greatest diameter under it."""
        t = self.tape
        return wrap(
            self.substrate_mm,
            self.span_mm[1] - self.span_mm[0],
            t.width_mm,
            t.thickness_mm,
            overlap_pct=t.overlap_pct,
            stretch=t.stretch,
            passes=self.passes,
        )

    def apply(self, under: Profile) -> Profile:
        """Every diameter grown by all passes."""
        more = grows_mm(self.tape) * self.passes
        return under.covered(*self.span_mm, lambda od: od + more)

    def lies(self) -> Lies | None:
        """On its core, or over the joint."""
        return Lies(self.span_mm, self.core)

    @property
    def drawn(self) -> str:
        """The kind of body it is drawn as."""
        if self.core:
            return "mica" if self.tape.kind == "mica" else "core-tape"
        return "mastic" if self.tape.kind == "mastic" else "build-up"

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Close round its core, where it goes; over the joint, cut open."""
        edges = stage.round_core() if self.core else stage.wall()
        yield Body(
            id=self.id, kind=self.drawn, core=self.core, layer=self.id, depth_mm=stage.depth_mm, **edges
        )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """All round."""
        yield stage.ring(self.drawn, self.id, x, self.core)

    @property
    def thing(self) -> Thing:
        """So much of its roll."""
        mastic = self.tape.kind == "mastic"
        adds = grows_mm(self.tape) * self.passes
        return Thing(
            self.id, self.title, adds_mm=adds, seals="mastic" if mastic else "tape", of=self.tape.said
        )

    @property
    def seat(self) -> Place:
        """Where it lies."""
        return Place(core=self.core, span_mm=self.span_mm)

    @property
    def _beneath(self) -> tuple[Fact, ...]:
        """What must be so of what lies inside before it is wound."""
        return over_core(self.core) if self.core else over_all()

    @property
    def sticks_to(self) -> tuple[Place, ...]:
        """What it must hold on."""
        if self.core:
            return tuple(Place(e, self.core, "insulation", self.span_mm) for e in "AB")
        return tuple(Place(e, skin="sheath", span_mm=self.span_mm) for e in self.ends) or (self.seat,)

    def how(self) -> str:
        """In words: turns, passes, stretch."""
        w, t = self.wound, self.tape
        lap = "half-lapped" if t.overlap_pct == 50 else f"{t.overlap_pct:g} % lapped"
        pull = f", stretched to {t.stretch:g} times its length" if t.stretch > 1 else ""
        turns = f"{w.turns_per_pass:.0f} turns a pass" if w.turns_per_pass >= 1 else "one turn"
        times = "1 pass" if self.passes == 1 else f"{self.passes} passes"
        return f"{times}, {lap}{pull}, {turns}, to {said_mm(w.od_after_mm)} mm."

    def consumes(self) -> tuple[Material, ...]:
        """Tape off its rolls, relaxed."""
        t = self.tape
        on_hand = None if t.on_hand is None else t.on_hand * t.roll_mm
        return (
            Material(t.said, round(self.wound.tape_length_mm), "mm", on_hand, part_id=t.id, lot=self.lot),
        )

    def counted(self) -> tuple[Piece, ...]:
        """A share of the roll."""
        return pieces_of(self.consumes(), self.wound.od_after_mm, self.tape.roll_mm)

    def minutes(self) -> Minutes:
        """Winding."""
        return Minutes(self.rules.number("time.tape_min_per_m") * self.wound.tape_length_mm / 1000)

    def tools(self) -> tuple[str, ...]:
        """Nothing but a blade."""
        return ("scissors",)

    def faults(self) -> tuple[Fault, ...]:
        """Winding."""
        return (
            Fault(
                "tape-loose",
                "The tape gapes, wrinkles or was not stretched",
                ("wound too slack",),
                (_AGAIN, CUT_OUT),
            ),
        )

    def work(self) -> tuple[Step, ...]:
        """Wiped, wound, looked at."""
        where = self.own or (f"core {self.core}" if self.core else "the place")
        clean = Fact("clean", Place(core=self.core, span_mm=self.span_mm))
        wide = self.span_mm[1] - self.span_mm[0]
        middle = "the connector" if self.core and not self.own else "what it closes"
        return (
            Step(
                f"surface.{self.id}",
                f"Wipe {where} clean",
                "surface",
                "build",
                needs=self._beneath,
                text="Degrease where the tape will lie. Let it flash off.",
                batch=batches.SURFACE_CORES if self.core else None,
                acts=tuple(degreased(self.rules, place) for place in self.sticks_to),
                core=self.core,
                focus_mm=self.span_mm,
            ),
            Step(
                f"seal.{self.id}",
                self.title_words,
                "seal",
                "build",
                needs=(clean,),
                timers=(flash(self.rules, clean),),
                text=f"{self.tape.said}, over {said_mm(wide)} mm, {middle} in the middle of it: {self.how()}",
                batch=batches.seal_cores("Insulate the cores with tape") if self.core else None,
                action="Wound",
                part_id=self.tape.id,
                acts=(LayOn(at=self.seat, thing=self.thing, seals_on=self.sticks_to),),
                core=self.core,
                focus_mm=self.span_mm,
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the tape on {where}",
                "inspect",
                "build",
                needs=(of("laid", self.id),),
                look="Even and tight, no gap, both ends well onto what it seals on.",
                fails="Gaping or slack: off with it and wind again.",
                batch=batches.LOOK_CORES if self.core else None,
                pictured="own",
                acts=(Look(at=self.seat, thing=self.thing),),
                core=self.core,
                focus_mm=self.span_mm,
            ),
        )

    @property
    def title_words(self) -> str:
        """What to do, as a title."""
        if not self.core:
            return f"Wind the {self.title}"
        return f"Insulate {self.own or f'core {self.core}'} with tape"


@dataclass(frozen=True)
class PlainWrap(TapeWrap):
    """Tape that only fills, protects or spaces: wound in one step, looked at by the layer over it.
    `with_next`: another piece of it lies beside it, `batch` what both are wound in."""

    text: str = ""
    end: str = ""
    batch: Batch | None = None
    with_next: bool = False

    def work(self) -> tuple[Step, ...]:
        """Wound."""
        dry = "Wipe the place dry. " if self.tape.kind == "mastic" else ""
        return (
            Step(
                f"wrap.{self.id}",
                self.title_words,
                "wrap",
                "build",
                needs=self._beneath,
                text=f"{dry}{self.tape.said}: {self.how()}",
                caution=self.text,
                batch=self.batch or batches.WRAPS.get(self.tape.kind),
                core=self.core,
                end=self.end,
                part_id=self.tape.id,
                focus_mm=self.span_mm,
                acts=self._laid(),
            ),
        )

    def _laid(self) -> tuple[Act, ...]:
        """Wound; under mastic all is brushed and wiped dry first."""
        sticks = self.thing.seals == "mastic"
        on = LayOn(at=self.seat, thing=self.thing, seals_on=(self.seat,) if sticks else ())
        return (Wipe(at=self.seat), on) if sticks else (on,)

    @property
    def title_words(self) -> str:
        """What to do, as a title."""
        return f"Wind {self.title}"
