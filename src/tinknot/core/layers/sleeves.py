"""Heat-shrink sleeves: over one joined core, and over the whole joint."""

from dataclasses import dataclass, field

from tinknot.core.choose import Window
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.file import StockSleeve
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import (
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
)
from tinknot.core.layers.preparation import said_mm
from tinknot.core.park import Side
from tinknot.core.rulebook import RuleBook
from tinknot.core.sleeve import Tube

_NEW = Mend("Take it off and thread a new one", "new-part")
_CUT_OUT = Mend("Cut the joint out and start again", "remake")
_SHRINK_FAULTS = (
    Fault("unrecovered-gap", "The sleeve stands off although it is fully shrunk", ("ratio too small for the step",), (_NEW, _CUT_OUT)),
    Fault("wrinkle", "A wrinkle or a cold spot", ("gun held still", "moved on too soon"), (Mend("Reheat, round and round", "again"),)),
    Fault("scorch", "Scorched, split or blistered", ("gun too hot or too near",), (_NEW, _CUT_OUT)),
    Fault("whisker", "Something sharp shows through", ("strand or burr left on the barrel",), (_NEW, _CUT_OUT)),
    Fault("parked-shrunk", "A parked sleeve was shrunk by stray heat", ("parked too near", "no shield"), (_NEW, _CUT_OUT)),
)  # fmt: skip


@dataclass(frozen=True)
class Sleeve(Layer):
    """What both kinds share: a span to cover (mm on the joint's axis), margins from the rule book,
    and, once chosen, a part with its cut length."""

    span_mm: tuple[float, float]
    rules: RuleBook
    least_wall_mm: float = 0.0
    properties: frozenset[str] = frozenset()
    voltage_v: float | None = None
    pieces: int = 1
    part: StockSleeve | None = None
    lot: str = ""
    cut_length_mm: int = 0
    heat_caution: str = field(
        default="Keep the gun moving. Shield the sheath and the parked sleeve.", kw_only=True
    )

    def requires(self, under: Profile, path: Profile) -> Window | None:
        """Pass the thickest of the way, grip the thinnest end of the seat, cover its span."""
        seat = under.between(*self.span_mm)
        seal = min(seat.stations[0].least_mm, seat.stations[-1].least_mm)
        return Window(
            max(path.greatest(), seat.greatest()), seal, seat.points("least"),
            need_lined="lined" in self.properties, properties=self.properties, voltage_v=self.voltage_v,
            least_wall_mm=self.least_wall_mm, wall_od_mm=seat.greatest(), pieces=self.pieces,
            squareness_mm=self.rules.number("sleeve.squareness_mm"),
        )  # fmt: skip

    @property
    def tube(self) -> Tube:
        """The chosen part's figures."""
        assert self.part is not None, "a sleeve is chosen before it is applied"
        return self.part.tube("")

    def apply(self, under: Profile) -> Profile:
        """The profile with the shrunk sleeve on it."""
        return under.covered(*self.span_mm, self.tube.od_mm)

    def flash_off(self, after: str) -> Timer:
        """Heat waits until the solvent has gone."""
        return Timer("flash", "solvent flashing off", after, self.rules.number("surface.flash_min"))

    def consumes(self) -> tuple[Material, ...]:
        """Its cut length."""
        assert self.part is not None
        return (
            Material(
                self.part.name or self.part.id,
                self.cut_length_mm,
                "mm",
                self.part.on_hand_mm,
                self.part.id,
                self.lot,
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """What shrinking can do."""
        return _SHRINK_FAULTS

    def tools(self) -> tuple[str, ...]:
        """Heat."""
        return ("hot-air gun with reflector",)

    def settings(self) -> tuple[Setting, ...]:
        """The heat the part asks for."""
        if self.part is None or self.part.shrink_c is None:
            return ()
        scorch = f", scorches at {self.part.scorch_c:g} °C" if self.part.scorch_c else ""
        return (
            Setting("hot-air gun", f"from {self.part.shrink_c:g} °C{scorch}", self.part.name or self.part.id),
        )


@dataclass(frozen=True)
class CoreSleeve(Sleeve):
    """Insulation restored over one barrel; waits on that core's longer side."""

    core: str = ""
    park_on: Side = "a"

    def threads(self) -> tuple[Threaded, ...]:
        """On its own core."""
        return (
            Threaded(
                self.id, self.part.id if self.part else "", self.core, self.cut_length_mm, self.park_on, 1
            ),
        )

    def steps(self) -> tuple[Step, ...]:
        """Threaded, wiped, shrunk from the middle, looked at."""
        c, end = self.core, self.park_on.upper()
        name = (self.part.name or self.part.id) if self.part else ""
        return (
            Step(
                f"park.{self.id}", f"Thread the sleeve on core {c}, side {end}", "park", "park",
                (f"cut.core.{end}.{c}", f"strip.{end}.{c}"),
                text=f"{name}, cut {self.cut_length_mm} mm. Slide it back against the sheath cut.",
                batch="park", core=c, end=end, layer=self.id, part_id=self.part.id if self.part else "",
            ),
            Step(
                f"surface.{self.id}", f"Wipe core {c} clean", "surface", "build", ("connectors",),
                text="Degrease barrel and insulation where the sleeve will lie. Let it flash off.",
                batch="surface-cores", core=c, layer=self.id, focus_mm=self.span_mm,
            ),
            Step(
                f"seal.{self.id}", f"Shrink the sleeve on core {c}", "seal", "build", (f"surface.{self.id}",),
                text="Centre it over the barrel. Heat the middle first, round and round, then one end, then the other.",
                caution=self.heat_caution, batch="seal-cores", core=c, layer=self.id, focus_mm=self.span_mm,
                tools=("heat-gun",), hot=True, timers=(self.flash_off(f"surface.{self.id}"),),
            ),
            Step(
                f"inspect.{self.id}", f"Look at the sleeve on core {c}", "inspect", "build", (f"seal.{self.id}",),
                look="Smooth all round, barrel's outline shows, both ends on the insulation.",
                fails="Stands off, wrinkled, scorched or something sharp shows: see faults.",
                batch="inspect-cores", core=c, layer=self.id, focus_mm=self.span_mm,
            ),
        )  # fmt: skip


@dataclass(frozen=True)
class OuterSleeve(Sleeve):
    """The sheath restored; waits on one cable's sheath."""

    ends: tuple[CableEnd, ...] = ()
    overlap_mm: tuple[float, float] = (0.0, 0.0)
    park_on: Side = "either"
    cool_min: float = 0.0

    def threads(self) -> tuple[Threaded, ...]:
        """On the sheath."""
        return (
            Threaded(
                self.id, self.part.id if self.part else "", "sheath", self.cut_length_mm, self.park_on, 1
            ),
        )

    def steps(self) -> tuple[Step, ...]:
        """Threaded, both sheaths roughened, slid over, shrunk, looked at, left to cool."""
        end = self.park_on.upper()
        name = (self.part.name or self.part.id) if self.part else ""
        beyond, grit = self.rules.number("surface.beyond_mm"), self.rules["surface.grit"]
        lined = self.part is not None and self.part.lined
        accept = "roughened" in self.rules.names("tolerance.accept")
        opened = self.rules.number("surface.open_min")
        cool = self.rules.number("cool.touch_c")
        surfaces = [
            Step(
                f"surface.sheath.{e.name}", f"Roughen the sheath on {e.name}", "surface", "build",
                ("before-closing",), text=f"Degrease, abrade with {grit:g} grit finishing round the cable, wipe dry. Mark {said_mm(over)} mm for the sleeve's edge.",
                caution="Solvent away from heat; let it flash off.", batch="surface-sheath", end=e.name, layer=self.id,
                gates=(Gate("roughened", "from the sheath cut", "mm", over + beyond, 5.0, required=False, accept=accept, instrument="tape"),),
            )
            for e, over in zip(self.ends, self.overlap_mm, strict=True)
        ]  # fmt: skip
        bead = (
            "Adhesive seen all the way round at both ends; smooth, no cold spot."
            if lined
            else "Smooth, tight on both sheaths, no cold spot."
        )
        return (
            Step(
                f"park.{self.id}", f"Thread the outer sleeve on side {end}", "park", "park", (f"cut.sheath.{end}",),
                text=f"{name}, cut {self.cut_length_mm} mm, over the clean sheath. Slide it well back.",
                caution="It cannot be put on later.", batch="park", end=end, layer=self.id, part_id=self.part.id if self.part else "",
            ),
            *surfaces,
            Step(
                f"seal.{self.id}", "Shrink the outer sleeve", "seal", "build", tuple(s.id for s in surfaces),
                text="Pre-warm both sheaths, centre the sleeve on the marks. Heat the middle first, then one end, then the other.",
                caution="Keep the gun moving; stop heating an end once the adhesive shows." if lined else self.heat_caution,
                layer=self.id, focus_mm=self.span_mm, tools=("heat-gun",), hot=True,
                timers=(
                    self.flash_off(surfaces[-1].id),
                    *(Timer(f"open-{s.end}", f"sheath {s.end} clean", s.id, None, opened) for s in surfaces),
                ),
            ),
            Step(
                f"inspect.{self.id}", "Look at the outer sleeve", "inspect", "build", (f"seal.{self.id}",),
                look=bead, fails="No bead at an end: reheat that end; if none comes, remake it.", layer=self.id, focus_mm=self.span_mm, photo=True,
            ),
            Step(
                f"cool.{self.id}", "Let it cool", "wait", "build", (f"inspect.{self.id}",),
                text=f"Do not move, bend or pull it before it is under {cool:g} °C. A reading of its surface ends the wait.",
                layer=self.id, gates=(Gate("temperature", "surface", "°C", most=cool, required=False, instrument="thermometer"),),
                timers=(Timer("cool", "cooling", f"seal.{self.id}", self.cool_min, None, "temperature"),), focus_mm=self.span_mm,
            ),
        )  # fmt: skip

    def consumes(self) -> tuple[Material, ...]:
        """Sleeve, abrasive, wipes."""
        return (
            *super().consumes(),
            Material("abrasive strip", 1, "piece"),
            Material("degreasing wipe", 3, "piece"),
        )

    def minutes(self) -> Minutes:
        """Abrade, slide, shrink, cool."""
        return Minutes(self.rules.number("time.outer_min"), self.cool_min)

    def faults(self) -> tuple[Fault, ...]:
        """Shrinking and sealing."""
        return (
            *_SHRINK_FAULTS,
            Fault("no-bead", "No adhesive at one end", ("end left cold", "sheath not clean"), (Mend("Reheat that end", "again"), _CUT_OUT)),
            Fault("air-trapped", "A bubble under the sleeve", ("ends heated before the middle",), (Mend("Reheat from the middle", "again"), _CUT_OUT)),
            Fault("surface-late", "The cleaned sheath lay open too long", ("interrupted work",), (Mend("Clean and roughen again, then go on", "again"), _CUT_OUT)),
        )  # fmt: skip

    def tools(self) -> tuple[str, ...]:
        """Heat and surface."""
        return (*super().tools(), f"abrasive, {self.rules['surface.grit']:g} grit", "degreasing wipes")
