"""Sleeves: over one joined core, and covering the whole joint; shrunk by heat or applied cold."""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from typing import Any, ClassVar

from tinknot.core.choosing.choose import Window
from tinknot.core.choosing.park import Side
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.formulas.sleeve import Tube
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Batch,
    Fault,
    Gate,
    Layer,
    Material,
    Mend,
    Minutes,
    Setting,
    Step,
    Threaded,
    Timer,
    ToolKind,
    cooling,
)
from tinknot.core.layers.preparation import said_mm
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.rulebook import RuleBook

_NEW = Mend("Take it off and thread a new one", "new-part")
_CUT_OUT = Mend("Cut the joint out and start again", "remake")
_SHRINK_FAULTS = (
    Fault(
        "unrecovered-gap",
        "The sleeve stands off although it is fully shrunk",
        ("ratio too small for the step",),
        (_NEW, _CUT_OUT),
    ),
    Fault(
        "wrinkle",
        "A wrinkle or a cold spot",
        ("gun held still", "moved on too soon"),
        (Mend("Reheat, round and round", "again"),),
    ),
    Fault("scorch", "Scorched, split or blistered", ("gun too hot or too near",), (_NEW, _CUT_OUT)),
    Fault(
        "whisker", "Something sharp shows through", ("strand or burr left on the barrel",), (_NEW, _CUT_OUT)
    ),
    Fault(
        "parked-shrunk",
        "A parked sleeve was shrunk by stray heat",
        ("parked too near", "no shield"),
        (_NEW, _CUT_OUT),
    ),
)
_PIECE = Mend("Seal that end with a wrap-around piece over it, under Choose, and plan again", "mended")
_COLD_FAULTS = (
    Fault(
        "unrecovered-gap",
        "The sleeve stands off although its core is out",
        ("window too small",),
        (_NEW, _CUT_OUT),
    ),
    Fault("askew", "It sits off its marks", ("core drawn out too fast",), (_NEW, _CUT_OUT)),
    Fault(
        "whisker",
        "Something sharp shows through",
        ("strand or burr left on the connector",),
        (_NEW, _CUT_OUT),
    ),
)

CLOSED = {"Shrink": "Shrunk", "Close": "Closed"}  # what is confirmed, by what was done
COLD = "cold-applied"  # the property of a sleeve that needs no heat


@dataclass(frozen=True)
class Sleeve(Layer):
    """What all kinds share: a span to cover (mm on the joint's axis), margins from the rule book,
    and, once chosen, a part with its cut length. `after`: steps to be done before it is begun."""

    span_mm: tuple[float, float]
    rules: RuleBook
    least_wall_mm: float = 0.0
    properties: frozenset[str] = frozenset()
    voltage_v: float | None = None
    pieces: int = 1
    part: StockSleeve | None = None
    lot: str = ""
    cut_length_mm: int = 0
    after: tuple[str, ...] = field(default=("connectors",), kw_only=True)
    cool_min: float = field(default=0.0, kw_only=True)
    heat_caution: str = field(
        default="Keep the gun moving. Shield the sheath and the parked sleeve.", kw_only=True
    )

    def requires(self, under: Profile, path: Profile) -> Window | None:
        """Pass the thickest of the way, grip the thinnest end of the seat, cover its span."""
        seat = under.between(*self.span_mm)
        seal = min(seat.stations[0].gripped_mm, seat.stations[-1].gripped_mm)
        stiff = self.part is not None and self.part.stiff
        return Window(
            max(path.passed(stiff), seat.passed(stiff)),
            seal,
            seat.points("least"),
            need_lined="lined" in self.properties,
            properties=self.properties,
            voltage_v=self.voltage_v,
            least_wall_mm=self.least_wall_mm,
            wall_od_mm=seat.passed(),
            pieces=self.pieces,
            squareness_mm=self.rules.number("sleeve.squareness_mm"),
        )

    @property
    def tube(self) -> Tube:
        """The chosen part's figures."""
        assert self.part is not None, "a sleeve is chosen before it is applied"
        return self.part.tube("")

    @property
    def hot(self) -> bool:
        """Whether heat shrinks it."""
        return self.part is not None and self.part.form != "barrier" and COLD not in self.part.properties

    def cool_steps(self, **at: Any) -> tuple[Step, ...]:
        """The wait after heat, before anything else touches its place; none where nothing was hot."""
        if not self.hot:
            return ()
        heated, touch = [(f"seal.{self.id}", self.cool_min)], self.rules.number("cool.touch_c")
        return (cooling(self.id, heated, [f"inspect.{self.id}"], touch, batch=self.look, **at),)

    @property
    def look(self) -> Batch | None:
        """It is looked at and left to cool in one go."""
        return batches.look(self.id, self.title) if self.hot else None

    def from_lot(self) -> str:
        """The lot its part is taken from."""
        return self.lot

    @property
    def verb(self) -> str:
        """What closing it is called."""
        return "Shrink" if self.hot else "Close"

    @property
    def part_name(self) -> str:
        """What the chosen part is called."""
        return (self.part.name or self.part.id) if self.part else ""

    def apply(self, under: Profile) -> Profile:
        """The profile with the shrunk sleeve on it."""
        return under.covered(*self.span_mm, self.tube.od_mm)

    @property
    def heat_c(self) -> float | None:
        """What the gun is set to, °C: between where it shrinks and where it scorches."""
        if not self.hot or self.part is None or self.part.shrink_c is None:
            return None
        if self.part.scorch_c is None:
            return self.part.shrink_c + self.rules.number("heat.above_c")
        return self.part.shrink_c + self.rules.number("heat.share") * (
            self.part.scorch_c - self.part.shrink_c
        )

    def seal_words(self) -> dict[str, Any]:
        """How it closes: by heat from the middle, or by drawing out its core."""
        if not self.hot:
            return {
                "text": "Centre it. Draw its core out slowly from the middle end, so that it closes evenly.",
                "caution": "Once it is down it cannot be moved.",
            }
        tools: tuple[ToolKind, ...] = ("heat-gun",)
        return {
            "text": "Heat the middle first, round and round, then one end, then the other.",
            "caution": self.heat_caution,
            "heat_c": self.heat_c,
            "tools": tools,
            "hot": True,
        }

    def flash_off(self, after: str) -> tuple[Timer, ...]:
        """Heat waits until the solvent has gone."""
        return (
            (Timer("flash", "solvent flashing off", after, self.rules.number("surface.flash_min")),)
            if self.hot
            else ()
        )

    def consumes(self) -> tuple[Material, ...]:
        """Its cut length."""
        assert self.part is not None
        return (
            Material(self.part_name, self.cut_length_mm, "mm", self.part.on_hand_mm, self.part.id, self.lot),
        )

    def faults(self) -> tuple[Fault, ...]:
        """What closing it can do."""
        return _SHRINK_FAULTS if self.hot else _COLD_FAULTS

    def tools(self) -> tuple[str, ...]:
        """Heat."""
        return ("hot-air gun with reflector",) if self.hot else ()

    def settings(self) -> tuple[Setting, ...]:
        """The heat the part asks for."""
        if self.part is None or self.part.shrink_c is None or not self.hot:
            return ()
        scorch = f", scorches at {self.part.scorch_c:g} °C" if self.part.scorch_c else ""
        return (
            Setting(
                "hot-air gun",
                f"{self.heat_c:.0f} °C; shrinks from {self.part.shrink_c:g}{scorch}",
                self.part_name,
            ),
        )


@dataclass(frozen=True)
class CoreSleeve(Sleeve):
    """Insulation restored over one connector; waits on that core's longer side."""

    core: str = ""
    park_on: Side = "a"
    together: bool = False  # shrunk in turns with those of the other cores

    def lies(self) -> Lies | None:
        """On its core."""
        return Lies(self.span_mm, self.core)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Close round the core, where it goes."""
        yield Body(
            id=self.id,
            kind="core-sleeve",
            core=self.core,
            layer=self.id,
            depth_mm=stage.depth_mm,
            **stage.round_core(),
        )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Round its core; it stands off where it cannot shrink further."""
        yield stage.ring("core-sleeve", self.id, x, self.core, self.tube.recovered_id_mm)

    def threads(self) -> tuple[Threaded, ...]:
        """On its own core."""
        return (
            Threaded(
                self.id, self.part.id if self.part else "", self.core, self.cut_length_mm, self.park_on, 1
            ),
        )

    def steps(self) -> tuple[Step, ...]:
        """Threaded, wiped, closed from the middle, looked at; it cools with the other cores."""
        c, end = self.core, self.park_on.upper()
        closing = self.seal_words()
        if self.hot:
            closing["text"] = f"Centre it over the connector. {closing['text']}"
        at: dict[str, Any] = {"core": c, "layer": self.id, "focus_mm": self.span_mm}
        return (
            Step(
                f"park.{self.id}",
                f"Thread the sleeve on core {c}, side {end}",
                "park",
                "park",
                (f"cut.core.{end}.{c}", f"strip.{end}.{c}"),
                text=f"{self.part_name}, cut {self.cut_length_mm} mm. Slide it back against the sheath cut.",
                batch=batches.PARK,
                core=c,
                end=end,
                layer=self.id,
                part_id=self.part.id if self.part else "",
            ),
            Step(
                f"surface.{self.id}",
                f"Wipe core {c} clean",
                "surface",
                "build",
                self.after,
                text="Degrease connector and insulation where the sleeve will lie. Let it flash off.",
                batch=batches.SURFACE_CORES,
                **at,
            ),
            Step(
                f"seal.{self.id}",
                f"{self.verb} the sleeve on core {c}",
                "seal",
                "build",
                (f"surface.{self.id}",),
                batch=batches.seal_cores(
                    f"{self.verb} the core sleeves",
                    (batches.TOGETHER if self.together else batches.ONE_BY_ONE) if self.hot else "",
                ),
                action=CLOSED[self.verb],
                timers=self.flash_off(f"surface.{self.id}"),
                **at,
                **closing,
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the sleeve on core {c}",
                "inspect",
                "build",
                (f"seal.{self.id}",),
                look="Smooth all round, connector's outline shows, both ends on the insulation.",
                fails="Stands off, wrinkled, scorched or something sharp shows: see faults.",
                batch=batches.INSPECT_CORES if self.hot else batches.LOOK_CORES,
                pictured="own",
                **at,
            ),
        )


@dataclass(frozen=True)
class CoverSleeve(Sleeve):
    """A sleeve over the whole joint or one end of it: inner, outer, fire barrier, end piece. It waits on a
    cable's sheath unless it wraps around. `seals`: it is the one that keeps water out; `closes`: it closes
    the joint; `over`: the one end it lies on; `drawn`: the kind of body it is drawn as; `flexes`: the joint
    moves, and lies neither buried nor immersed."""

    ends: tuple[CableEnd, ...] = ()
    overlap_mm: tuple[float, ...] = ()
    park_on: Side = "either"
    park_order: int = 1
    seals: bool = True
    over: str = ""
    closes: bool = False
    drawn: str = "outer-sleeve"
    flexes: bool = False

    skin: ClassVar[str] = "sheath"  # what it seals on

    def lies(self) -> Lies | None:
        """Over the joint."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Its wall, cut open."""
        wall = stage.wall(least_bore_mm=self.tube.recovered_id_mm)
        yield Body(id=self.id, kind=self.drawn, layer=self.id, depth_mm=stage.depth_mm, **wall)

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Its wall all round."""
        yield stage.ring(self.drawn, self.id, x, least_bore_mm=self.tube.recovered_id_mm)

    def waits_on(self, wanted: Side) -> Side:
        """The tail it may wait on: its own end's, for the one that closes the joint where it is `wanted`,
        else either."""
        if self.over and not self.wraps:
            return "a" if self.over == "A" else "b"
        return wanted if self.closes else "either"

    def closes_mm(self) -> tuple[float, float] | None:
        """Its span."""
        return self.span_mm

    @property
    def wraps(self) -> bool:
        """Whether it goes round instead of over an end."""
        return self.part is not None and self.part.form == "wrap-around"

    def threads(self) -> tuple[Threaded, ...]:
        """On the sheath."""
        if self.wraps:
            return ()
        part = self.part.id if self.part else ""
        return (Threaded(self.id, part, "sheath", self.cut_length_mm, self.park_on, self.park_order),)

    def requires(self, under: Profile, path: Profile) -> Window | None:
        """A fire barrier is held by springs: it need not grip, only lie on the thickest place."""
        window = super().requires(under, path)
        if self.voltage_v is not None or self.seals or window is None:
            return window
        return replace(window, seal_od_mm=under.between(*self.span_mm).greatest())

    def _park(self) -> tuple[Step, ...]:
        end = self.park_on.upper()
        return (
            ()
            if self.wraps
            else (
                Step(
                    f"park.{self.id}",
                    f"Thread the {self.title} on side {end}",
                    "park",
                    "park",
                    self._park_needs(end),
                    text=(
                        f"{self.part_name}, cut {self.cut_length_mm} mm, over the clean {self.skin}. Slide it"
                        " well back."
                    ),
                    caution="It cannot be put on later.",
                    batch=batches.WHOLE,
                    end=end,
                    layer=self.id,
                    part_id=self.part.id if self.part else "",
                ),
            )
        )

    def _park_needs(self, end: str) -> tuple[str, ...]:
        """What must be done before it is threaded on an end."""
        return (f"cut.sheath.{end}", f"clean.{end}")

    def _surfaces(self) -> tuple[Step, ...]:
        if not self.seals:
            return (
                Step(
                    f"surface.{self.id}",
                    f"Wipe clean for the {self.title}",
                    "surface",
                    "build",
                    self.after,
                    text="Degrease what it will lie on. Let it flash off.",
                    layer=self.id,
                    focus_mm=self.span_mm,
                ),
            )
        beyond, grit = self.rules.number("surface.beyond_mm"), self.rules["surface.grit"]
        accept = "roughened" in self.rules.names("tolerance.accept")
        prefix = "surface.sheath" if self.closes else f"surface.{self.id}"
        return tuple(
            Step(
                f"{prefix}.{e.name}",
                f"Roughen the sheath on {e.name}",
                "surface",
                "build",
                self.after,
                text=(
                    f"Degrease, abrade with {grit:g} grit, {self._direction}, wipe dry. Mark"
                    f" {said_mm(over)} mm for the sleeve's edge."
                ),
                caution="Solvent away from heat; let it flash off.",
                batch=batches.SURFACE_SHEATH,
                end=e.name,
                layer=self.id,
                gates=(
                    Gate(
                        "roughened",
                        "from the sheath cut",
                        "mm",
                        over + beyond,
                        5.0,
                        required=False,
                        accept=accept,
                        instrument="tape",
                    ),
                ),
            )
            for e, over in zip(self.ends, self.overlap_mm, strict=True)
        )

    @property
    def _direction(self) -> str:
        """Which way the scratches run, by what the joint will live in."""
        if self.flexes:
            return "along the cable: a scratch round it would crack where it bends"
        return "finishing round the cable: a long scratch is a leak path"

    def _closing(self) -> dict[str, Any]:
        lined = self.part is not None and self.part.lined
        if self.part is not None and self.part.form == "barrier":
            return {
                "text": (
                    "Slide it over the joint, overlap even on both sides. Fix both ends with springs, tuck"
                    " every edge in."
                )
            }
        words = self.seal_words()
        if not self.hot:
            return words
        if self.wraps:
            words["text"] = (
                f"Wrap it, close the rail to the stop, warm the {self.skin} on both sides. Heat the side away"
                " from the rail first, the middle, then the ends."
            )
        else:
            words["text"] = f"Pre-warm the {self.skin} on both sides, centre it. {words['text']}"
        if lined:
            words["caution"] = "Keep the gun moving; stop heating an end once the adhesive shows."
        return words

    def steps(self) -> tuple[Step, ...]:
        """Threaded, surfaces made ready, slid over, closed, looked at, left to cool."""
        surfaces = self._surfaces()
        lined = self.part is not None and self.part.lined
        tight = "smooth, no cold spot" if self.hot else "smooth and even"
        bead = (
            f"Adhesive seen all the way round at both ends; {tight}."
            if lined
            else f"{tight.capitalize()}, tight at both ends."
        )
        opened = self.rules.number("surface.open_min")
        at: dict[str, Any] = {"layer": self.id, "focus_mm": self.span_mm}
        return (
            *self._park(),
            *surfaces,
            Step(
                f"seal.{self.id}",
                f"{self.verb} the {self.title}",
                "seal",
                "build",
                tuple(s.id for s in surfaces),
                action=CLOSED[self.verb],
                timers=(
                    *self.flash_off(surfaces[-1].id),
                    *(
                        Timer(f"open-{s.end}", f"sheath {s.end} clean", s.id, None, opened)
                        for s in surfaces
                        if s.end
                    ),
                ),
                part_id=self.part.id if self.wraps and self.part else "",
                **at,
                **self._closing(),
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the {self.title}",
                "inspect",
                "build",
                (f"seal.{self.id}",),
                batch=self.look,
                pictured="own",
                look=bead,
                fails=(
                    "No bead at an end: reheat that end; if none comes, remake it."
                    if lined and self.hot
                    else "Gaping, torn or askew: see faults."
                ),
                photo=self.seals,
                **at,
            ),
            *self.cool_steps(focus_mm=self.span_mm),
        )

    def consumes(self) -> tuple[Material, ...]:
        """Sleeve, abrasive, wipes; a barrier's springs."""
        if self.part is not None and self.part.form == "barrier":
            return (*super().consumes(), Material("constant-force spring, stainless", 2, "piece"))
        if not self.seals:
            return super().consumes()
        return (
            *super().consumes(),
            Material("abrasive strip", 1, "piece"),
            Material("degreasing wipe", 3, "piece"),
        )

    def minutes(self) -> Minutes:
        """Abrade, slide, close, cool."""
        return Minutes(
            self.rules.number("time.outer_min" if self.closes else "time.cover_min"),
            self.cool_min if self.hot else 0.0,
        )

    def faults(self) -> tuple[Fault, ...]:
        """Closing and sealing."""
        if not self.seals:
            return super().faults()
        gap = [
            replace(f, mends=(_PIECE, *f.mends)) if f.id == "unrecovered-gap" else f for f in super().faults()
        ]
        return (
            *gap,
            *(
                (
                    Fault(
                        "no-bead",
                        "No adhesive at one end",
                        ("end left cold", "sheath not clean"),
                        (Mend("Reheat that end", "again"), _PIECE, _CUT_OUT),
                    ),
                    Fault(
                        "air-trapped",
                        "A bubble under the sleeve",
                        ("ends heated before the middle",),
                        (Mend("Reheat from the middle", "again"), _CUT_OUT),
                    ),
                )
                if self.hot
                else ()
            ),
            Fault(
                "surface-late",
                "The cleaned sheath lay open too long",
                ("interrupted work",),
                (Mend("Clean and roughen again, then go on", "again"), _CUT_OUT),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """Heat and surface."""
        return (
            (*super().tools(), f"abrasive, {self.rules['surface.grit']:g} grit", "degreasing wipes")
            if self.seals
            else super().tools()
        )
