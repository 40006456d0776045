"""A sleeve, shrunk by heat or applied cold: surface, seat, look, cool, and its faults."""

from dataclasses import dataclass, field, replace

from tinknot.core.acts import Thing
from tinknot.core.choosing.choose import Window
from tinknot.core.facts import Fact
from tinknot.core.formulas.sleeve import Tube
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Batch,
    Fault,
    Heat,
    Layer,
    Material,
    Mend,
    Setting,
    Step,
    Timer,
    ToolKind,
    cooling,
)
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.rulebook import RuleBook

_NEW = Mend("Take it off and thread a new one", "new-part")
_ROUND = Mend("Cut it off and put a new one on", "new-part")


_SHRINK_FAULTS = (
    Fault(
        "unrecovered-gap",
        "The sleeve stands off although it is fully shrunk",
        ("ratio too small for the step",),
        (_NEW, CUT_OUT),
    ),
    Fault(
        "wrinkle",
        "A wrinkle or a cold spot",
        ("gun held still", "moved on too soon"),
        (Mend("Reheat, round and round", "again"), CUT_OUT),
    ),
    Fault("scorch", "Scorched, split or blistered", ("gun too hot or too near",), (_NEW, CUT_OUT)),
    Fault(
        "whisker", "Something sharp shows through", ("strand or burr left on the barrel",), (_NEW, CUT_OUT)
    ),
    Fault(
        "parked-shrunk",
        "A parked sleeve was shrunk by stray heat",
        ("parked too near", "no shield"),
        (_NEW, CUT_OUT),
        early=True,
    ),
)


_COLD_FAULTS = (
    Fault(
        "unrecovered-gap",
        "The sleeve stands off although its core is out",
        ("window too small",),
        (_NEW, CUT_OUT),
    ),
    Fault("askew", "It sits off its marks", ("core drawn out too fast",), (_NEW, CUT_OUT)),
    Fault(
        "whisker",
        "Something sharp shows through",
        ("strand or burr left on the connector",),
        (_NEW, CUT_OUT),
    ),
)

CLOSED = {"Shrink": "Shrunk", "Close": "Closed"}  # what is confirmed, by what was done
COLD = "cold-applied"  # the property of a sleeve that needs no heat


def gun_c(rules: RuleBook, shrink_c: float, thick: bool = False) -> float:
    """What the gun is set to, °C: its air is far hotter than the wall, which stays between full shrink and
    where it scorches because the gun keeps moving."""
    above = rules.number("heat.air_thick_k" if thick else "heat.air_thin_k")
    return min(shrink_c + above, rules.number("heat.most_c"))


def flash(rules: RuleBook, after: Fact | str) -> Timer:
    """The wait after a surface was wiped with solvent, before anything hot comes near it."""
    return Timer("flash", "solvent flashing off", after, rules.number("surface.flash_min"))


@dataclass(frozen=True)
class Closing:
    """How a sleeve is closed: words, what to beware of, heat where there is some, and what gives it."""

    text: str
    caution: str = ""
    heat: Heat | None = None
    tools: tuple[ToolKind, ...] = ()


@dataclass(frozen=True)
class Sleeve(Layer):
    """What all kinds share: a span to cover (mm on the joint's axis), margins from the rule book,
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
    def thing(self) -> Thing:
        """The chosen part as it is taken to the work."""
        assert self.part is not None
        return Thing(
            self.id,
            self.title,
            None if self.part.form == "wrap-around" else self.part.expanded_id_mm,
            self.tube,
            shrinks_c=self.part.shrink_c,
            seals="adhesive" if self.part.lined else "",
            of=self.part_name,
        )

    @property
    def hot(self) -> bool:
        """Whether heat shrinks it."""
        return self.part is not None and self.part.form != "barrier" and COLD not in self.part.properties

    def cool_steps(self, end: str = "", focus_mm: tuple[float, float] | None = None) -> tuple[Step, ...]:
        """The wait after heat, before anything else touches its place; none where nothing was hot."""
        if not self.hot:
            return ()
        touch = self.rules.number("cool.touch_c")
        return (
            cooling(self.id, [(self.id, self.cool_min)], touch, end=end, focus_mm=focus_mm, batch=self.look),
        )

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
        """What the gun is set to, °C."""
        if not self.hot or self.part is None or self.part.shrink_c is None:
            return None
        thick = self.part.lined and self.part.recovered_wall_mm >= self.rules.number("heat.thick_mm")
        return gun_c(self.rules, self.part.shrink_c, thick)

    def closing(self) -> Closing:
        """How it closes: by heat from the middle, or by drawing out its core."""
        if not self.hot:
            return Closing(
                "Draw its core out slowly from the middle end, so that it closes evenly.",
                "Once it is down it cannot be moved.",
            )
        return Closing(
            "Heat the middle first, round and round, then one end, then the other.",
            self.heat_caution,
            Heat(self.heat_c),
            ("heat-gun",),
        )

    def flash_off(self, after: Fact | str) -> tuple[Timer, ...]:
        """Heat waits until the solvent has gone."""
        return (flash(self.rules, after),) if self.hot else ()

    def consumes(self) -> tuple[Material, ...]:
        """Its cut length."""
        assert self.part is not None
        return (
            Material(
                self.part_name,
                self.cut_length_mm,
                "mm",
                self.part.on_hand_mm,
                part_id=self.part.id,
                lot=self.lot,
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """What closing it can do. What wraps round was never threaded on."""
        found = _SHRINK_FAULTS if self.hot else _COLD_FAULTS
        if self.threads():
            return found
        return tuple(
            replace(f, mends=tuple(_ROUND if m is _NEW else m for m in f.mends))
            for f in found
            if f.id != "parked-shrunk"
        )

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
