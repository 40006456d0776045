"""What every kind of layer knows about itself. Everything else is derived from it."""

from abc import ABC, abstractmethod
from collections.abc import Iterable, Sequence
from dataclasses import KW_ONLY, dataclass, replace
from typing import ClassVar, Literal

from tinknot.core.acts import Act, Place, Skin, Wait
from tinknot.core.choosing.choose import Window
from tinknot.core.choosing.park import Side
from tinknot.core.drawing.model import Body, Circle, Point
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import Fact, of
from tinknot.core.joint.profile import Profile

Kind = Literal[
    "gate",
    "measure",
    "cut",
    "park",
    "join",
    "wrap",
    "armour",
    "screen",
    "identify",
    "adhesive",
    "orient",
    "bond",
    "fit",
    "mix",
    "surface",
    "seal",
    "wait",
    "inspect",
    "test",
    "label",
    "sign",
]
Hold = Literal[
    "isolated", "measured", "parked", "connectors", "before-closing", "sealed-and-proved", "released"
]
Station = Literal["card", "measure", "cut", "park", "build", "prove", "sign"]


Instrument = Literal[
    "calliper", "tape", "insulation-tester", "low-ohm-meter", "thermometer", "torque-driver", ""
]
ToolKind = Literal["crimp-tool", "heat-gun", "insulation-tester", "low-ohm-meter", "thermometer"]


@dataclass(frozen=True)
class Gate:
    """A figure to work to: `target` ± `tolerance`, or a limit to reach (`least`) or stay under (`most`).

    A figure is asked for (`required`: its step waits for it) or offered: it may be left out and proves
    nothing (`core/layers/offered.py` names each). `excuse`: one asked for that cannot be read everywhere;
    then the reason why not is signed in its place. `accept`: outside the tolerance it may stay, with a
    reason. `instrument` is what reads it. Of a core that is told apart `name` is what it is called, and
    `group` the unit it belongs to, or how many wires hang together with it here."""

    id: str
    label: str
    unit: str
    target: float | None = None
    tolerance: float | None = None
    least: float | None = None
    most: float | None = None
    required: bool = True
    accept: bool = False
    instrument: Instrument = ""
    name: str = ""
    group: str = ""
    excuse: bool = False


@dataclass(frozen=True)
class Timer:
    """A time from the moment `after` was made so, min: not before `least_min`, a fault after `most_min`.

    A reading of `unless_gate` within its limit ends the wait early. A leaflet names a step instead of a
    fact, and so does what is compiled."""

    id: str
    label: str
    after: Fact | str
    least_min: float | None = None
    most_min: float | None = None
    unless_gate: str = ""


@dataclass(frozen=True)
class Cure:
    """What hardens with time and temperature: data points (°C, min to full cure) and the temperature below
    which nothing counts; since what was made so; the degree at which it may be handled, and energised; and
    how long both take as expected, min."""

    points: tuple[tuple[float, float], ...]
    least_c: float
    since: Fact | str
    handle: float
    full: float
    handle_min: float
    full_min: float


@dataclass(frozen=True)
class Batch:
    """Steps that are done and confirmed together: `title` is what the hand does, `text` what all of them
    have to be told, empty where each step's own words are enough. The same `id` is the same batch."""

    id: str
    title: str
    text: str = ""


Taken = Literal["found", "before", "after", ""]
Pictured = Literal["own", "connector", "core-cover", "screen", ""]
DONE: dict[Kind, str] = {
    "cut": "Cut",
    "park": "Threaded on",
    "wrap": "Wound",
    "armour": "Bent back",
    "screen": "Done",
    "identify": "Told apart",
    "adhesive": "Laid on",
    "orient": "It lies the right way",
    "bond": "Clamped",
    "fit": "Closed",
    "mix": "Mixed: start the clock",
    "surface": "Clean",
    "inspect": "Looked at, good",
    "test": "Readings stand",
    "wait": "It is cool",
    "label": "It is fixed",
}  # what is confirmed when a step of a kind is done, where the step does not say it better


@dataclass(frozen=True)
class Reading:
    """What a step with figures has: its `gates`; `taken`: when a test is taken, as found, before closing or
    after; `pairs`: the two numbers each wire has after a walk there and back; `recut`: its figure is a core's
    length, and a new plan can follow one that came out otherwise."""

    gates: tuple[Gate, ...] = ()
    taken: Taken = ""
    pairs: tuple[tuple[int, int], ...] = ()
    recut: bool = False


@dataclass(frozen=True)
class Heat:
    """What a step with heat has, which needs a valid permit: what the gun is set to, °C, where it is known,
    and the `routes` it goes, from where it starts, mm of the drawing."""

    gun_c: float | None = None
    routes: tuple[tuple[Point, ...], ...] = ()


@dataclass(frozen=True)
class Held:
    """What a hold has: its name, and whether a second person signs it."""

    name: Hold
    second_person: bool = False


NO_READING = Reading()


@dataclass(frozen=True)
class Step:
    """One thing to do. `needs`: what must be so before it; `acts`: what the hand does, in its order, for
    `core/world` to play, from which follows what it makes so; `makes`: what no act tells of. `after`: the
    ids of the steps it waits for, which a leaflet gives and else are found when it is compiled. `text` has
    at most two sentences.

    `layer`: the layer it is told as, its own where it says none; `tools` are kinds of tool whose calibration
    must be in date; `photo` asks for a picture; `basis` is what else the work depends on than its figures;
    `action` is what is confirmed when it is done; `pictured`: what of the joint is shown as it must be and as
    it must not: the bodies of its own layer, or of a role; `spreads`: from it on nothing can be threaded over
    the whole cable of its end. What only some steps have lies in `reading`, `heat`, `cure` and `held`."""

    id: str
    title: str
    kind: Kind
    station: Station
    _: KW_ONLY
    needs: tuple[Fact, ...] = ()
    makes: tuple[Fact, ...] = ()
    after: tuple[str, ...] = ()
    text: str = ""
    caution: str = ""
    look: str = ""
    fails: str = ""
    action: str = ""
    layer: str | None = None
    end: str = ""
    core: str = ""
    focus_mm: tuple[float, float] | None = None
    batch: Batch | None = None
    part_id: str = ""
    timers: tuple[Timer, ...] = ()
    tools: tuple[ToolKind, ...] = ()
    photo: bool = False
    pictured: Pictured = ""
    basis: str = ""
    spreads: bool = False
    acts: tuple[Act, ...] = ()
    reading: Reading = NO_READING
    heat: Heat | None = None
    cure: Cure | None = None
    held: Held | None = None

    @property
    def done_words(self) -> str:
        """What is confirmed when it is done."""
        return self.action or DONE.get(self.kind, "Done")

    @property
    def gates(self) -> tuple[Gate, ...]:
        """Its figures."""
        return self.reading.gates


CutKind = Literal["sheath", "armour", "bedding", "lead-sheath", "inner-sheath", "core", "insulation", ""]


@dataclass(frozen=True)
class Cut:
    """A cut: where, from which datum, how exactly, and what not to hurt. Distances in mm. `layer` says what
    is cut in words; `kind` is what it is of a round cable."""

    end: str
    layer: str
    datum: str
    distance_mm: float
    tolerance_mm: float
    caution: str
    removed_mm: float
    core: str = ""
    kind: CutKind = ""


@dataclass(frozen=True)
class Threaded:
    """A part that goes on before joining: over `end`'s whole cable (track `sheath`) or on a core, by its
    name; `length_mm` as supplied. Of one tail the least `order` lies nearest to the joint."""

    layer: str
    part_id: str
    track: str
    length_mm: float
    end: str
    order: int
    title: str = ""


@dataclass(frozen=True)
class Material:
    """What is used up; `in_stock` None where nobody counts it."""

    what: str
    quantity: float
    unit: str
    in_stock: float | None = None
    part_id: str = ""
    lot: str = ""


@dataclass(frozen=True)
class Piece:
    """A part of a layer that is counted in pieces (a share of one where it is wound off a roll), and the
    joint's diameter over it, mm (0 where it makes none)."""

    part_id: str
    name: str
    lot: str
    pieces: float
    od_after_mm: float


@dataclass(frozen=True)
class Between:
    """A step that a kit sheet puts after one step and before another; `path`: where the sheet says so."""

    step: str
    after: str
    before: str
    path: str


@dataclass(frozen=True)
class Minutes:
    """Time of hands and time of waiting."""

    hands: float = 0.0
    waiting: float = 0.0


MendKind = Literal["again", "new-part", "end-again", "remake", "mended"]


@dataclass(frozen=True)
class Mend:
    """What may be done about a fault.

    `again`: the same step once more; `new-part`: off with it and a new one on, while it can still be
    threaded; `end-again`: the cable end cut back and prepared anew; `remake`: the joint cut out;
    `mended`: put right on the spot, nothing lost. `planned`: only once the plan is made anew without the
    part; `stays`: nothing of the joint is touched, so that it does not matter what lies over it."""

    words: str
    kind: MendKind
    planned: bool = False
    stays: bool = False


@dataclass(frozen=True)
class Fault:
    """What can be seen to go wrong here, why, and what may be done about it. `forgotten`: a part is
    missing that should have been threaded on; `at`: it is seen where these are made so (empty: from where
    its layer does what lasts); `early`: it is seen before that too."""

    id: str
    seen: str
    causes: tuple[str, ...]
    mends: tuple[Mend, ...]
    forgotten: bool = False
    at: tuple[Fact, ...] = ()
    early: bool = False


@dataclass(frozen=True)
class Setting:
    """A tool's setting and its reason."""

    tool: str
    setting: str
    why: str = ""


@dataclass(frozen=True)
class Layer(ABC):
    """One layer of the stack. Layer order is inside out; build order follows from the steps' needs. `around`:
    gates and proofs, which stand around all layers; `beside`: what a sheet adds, which nothing of the stack
    lies on."""

    id: str
    title: str

    around: ClassVar[bool] = False
    beside: ClassVar[bool] = False

    @property
    def with_next(self) -> bool:
        """Whether it is worked as one with the next layer, which lies in it or beside it and not on it."""
        return False

    def requires(self, under: Profile, path: Profile) -> Window | None:
        """The window its part must meet, on the profile `under` it, having come along `path`."""
        return None

    def apply(self, under: Profile) -> Profile:
        """The profile with this layer on it."""
        return under

    def threads(self) -> tuple[Threaded, ...]:
        """Parts of it that must be parked before joining."""
        return ()

    def cuts(self) -> tuple[Cut, ...]:
        """Cuts it asks for."""
        return ()

    @abstractmethod
    def work(self) -> tuple[Step, ...]:
        """How it goes on, with what each step needs."""

    def steps(self) -> tuple[Step, ...]:
        """Its work, each step told as this layer's."""
        return tuple(replace(s, layer=self.id) if s.layer is None else s for s in self.work())

    def consumes(self) -> tuple[Material, ...]:
        """What it uses up."""
        return ()

    def waits_on(self, wanted: Side) -> Side:
        """The tail its part may wait on; `wanted` is where the one that closes the joint is to wait."""
        return "either"

    def lies(self) -> Lies | None:
        """Where it lies, of a layer that is drawn."""
        return None

    def bodies(self, stage: Stage) -> Iterable[Body]:
        """How it is seen from the side."""
        return ()

    def rings(self, stage: Stage, x: float) -> Iterable[Circle]:
        """What a cut at x (mm) shows of it, outermost first."""
        return ()

    def solids(self) -> tuple[tuple[tuple[float, float], float], ...]:
        """What of it lies beside the cores, not as a diameter round them: from where to where, mm on the
        joint's axis, and mm² across. Resin does not go there."""
        return ()

    def closes_mm(self) -> tuple[float, float] | None:
        """From edge to edge of what it closes, mm on the joint's axis; None for what closes nothing."""
        return None

    def from_lot(self) -> str:
        """The lot its chosen part is taken from."""
        return ""

    def counted(self) -> tuple[Piece, ...]:
        """Its parts that are counted in pieces, where no choice of a sleeve names them."""
        return ()

    def between(self) -> tuple[Between, ...]:
        """Where other layers' steps must wait for its own."""
        return ()

    def minutes(self) -> Minutes:
        """Time it takes."""
        return Minutes()

    def faults(self) -> tuple[Fault, ...]:
        """What can go wrong with it."""
        return ()

    def tools(self) -> tuple[str, ...]:
        """Tools it needs."""
        return ()

    def settings(self) -> tuple[Setting, ...]:
        """Settings of those tools."""
        return ()


def cooling(
    layer: str,
    heated: Sequence[tuple[str, float]],
    touch_c: float,
    *,
    needs: Sequence[Fact] | None = None,
    skin: Skin = "",
    title: str = "Let it cool",
    end: str = "",
    focus_mm: tuple[float, float] | None = None,
    batch: Batch | None = None,
) -> Step:
    """The wait after heat: for each thing that was `heated` its minutes, or until a reading of the surface is
    under `touch_c` (°C). What comes next at its place (a sleeve that would grab, solvent, tape, a hand)
    waits. It is looked at while it is hot, unless it `needs` something else."""
    return Step(
        f"cool.{layer}",
        title,
        "wait",
        "build",
        needs=tuple(of("looked", thing) for thing, _ in heated) if needs is None else tuple(needs),
        text=(
            f"Do not move, bend or wipe it before it is under {touch_c:g} °C. A reading of its surface, where"
            " it is hottest, ends the wait."
        ),
        reading=Reading(
            (Gate("temperature", "surface", "°C", most=touch_c, required=False, instrument="thermometer"),)
        ),
        timers=tuple(
            Timer(
                f"cool-{n}" if n > 1 else "cool",
                "cooling",
                of("hot", thing),
                minutes,
                most_min=None,
                unless_gate="temperature",
            )
            for n, (thing, minutes) in enumerate(heated, 1)
        ),
        layer=layer,
        acts=(Wait(at=Place(end, skin=skin), until="cool", under_c=touch_c),),
        end=end,
        focus_mm=focus_mm,
        batch=batch,
    )


def pieces_of(used: Sequence[Material], od_after_mm: float, roll_mm: float = 1.0) -> tuple[Piece, ...]:
    """What is used up of parts in stock, in pieces; what is measured in mm comes off rolls of `roll_mm`."""
    return tuple(
        Piece(
            m.part_id,
            m.what,
            m.lot,
            m.quantity if m.unit == "piece" else m.quantity / roll_mm,
            od_after_mm=od_after_mm,
        )
        for m in used
        if m.part_id
    )


@dataclass(frozen=True)
class PlainLayer(Layer):
    """Plain steps a kit sheet adds: (id, title, text, after, before)."""

    beside = True
    plain: tuple[tuple[str, str, str, str, str], ...] = ()

    def between(self) -> tuple[Between, ...]:
        """Each waits for the step it names, and the one it comes before waits for it."""
        return tuple(
            Between(f"sheet.{own}", after, before, f"/sheet/steps/{n}")
            for n, (own, _, _, after, before) in enumerate(self.plain)
        )

    def work(self) -> tuple[Step, ...]:
        """One step each, after the step it names."""
        return tuple(
            Step(
                f"sheet.{i}",
                title,
                "inspect",
                "build",
                after=(after,),
                text=text,
                look=text or title,
            )
            for i, title, text, after, _ in self.plain
        )
