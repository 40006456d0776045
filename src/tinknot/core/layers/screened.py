"""A screened cable joined: its ends laid open, its units spliced, foil and braid made good over them."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.formulas.sleeve import Tube
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Batch,
    Cut,
    Fault,
    Gate,
    Layer,
    Material,
    Mend,
    Minutes,
    Piece,
    Setting,
    Step,
    Threaded,
    Timer,
    pieces_of,
)
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.layers.preparation import said_mm
from tinknot.core.layers.procedure import Procedure
from tinknot.core.parts.donor import StockDonor
from tinknot.core.parts.splice import StockSplice
from tinknot.core.rulebook import RuleBook

Span = tuple[float, float]
SPLICES = Batch("splices", "Splice every core", "Each to the core of its own name. Look into every window.")
SHRINK = Batch(
    "shrink-splices", "Shrink the splices", "Each from its middle outward, until its ends have run."
)


@dataclass(frozen=True)
class ScreenedEnd(Layer):
    """One end laid open. `cut_mm`: each core's length from the sheath cut, by unit and core; `fold_mm`: braid
    folded back over the sheath, 0 where there is none; `foil`: foil over all is kept and folded aside;
    `spare`: cores that are joined to none."""

    end: str
    rules: RuleBook
    cut_mm: Mapping[str, Mapping[str, float]]
    strip_mm: float
    fold_mm: float
    foil: bool
    span_mm: Span
    spare: tuple[str, ...]

    @property
    def longest_mm(self) -> float:
        """The longest core, from the sheath cut."""
        return max(mm for unit in self.cut_mm.values() for mm in unit.values())

    def cuts(self) -> tuple[Cut, ...]:
        """The sheath from the cable's end, every core from the sheath cut."""
        tol, spare = self.rules.number("cut.tolerance_mm"), self.rules.number("cut.spare_mm")
        fold = self.fold_mm + 5 if self.fold_mm else 0.0  # combed out and trimmed to length
        off = max(self.longest_mm + spare, fold)
        under = "Score the sheath, do not cut through: the screen lies right under it."
        found = [Cut(self.end, "sheath", "cable-end", off, tol, under, off, kind="sheath")]
        if self.fold_mm:
            found.append(
                Cut(
                    self.end,
                    "braid",
                    "sheath-cut",
                    self.fold_mm,
                    tol,
                    "Comb it out before it is folded back; no strand across the cut.",
                    max(0.0, off - self.fold_mm),
                )
            )
        for unit in self.cut_mm.values():
            found += [
                Cut(
                    self.end,
                    f"core {name}",
                    "sheath-cut",
                    mm,
                    tol,
                    "Square, and of its own length: units stand apart.",
                    off - mm,
                    core=name,
                    kind="core",
                )
                for name, mm in unit.items()
            ]
        return tuple(found)

    def steps(self) -> tuple[Step, ...]:
        """Tried on scrap, sheath off, screen laid back once all is threaded, units to their lengths."""
        e, at = self.end, {"layer": self.id, "end": self.end}
        scrap = (
            Step(
                "cut.scrap",
                "Set the stripper on a scrap of this cable",
                "cut",
                "cut",
                ("measured",),
                text="The depth is right when the sheath comes off and no strand is marked.",
                action="Depth is set",
                layer=self.id,
            ),
        )
        side = "B" if e == "A" else "A"
        apart = len({round(mm, 1) for unit in self.cut_mm.values() for mm in unit.values()}) > 1
        other = f". A long one here meets a short one on {side}." if apart else "."
        lay = [
            *(["Comb the braid out, fold it over the sheath, trim every whisker."] if self.fold_mm else []),
            *(["Fold the foil aside and keep it."] if self.foil else []),
        ]
        return (
            *(scrap if e == "A" else ()),
            Step(
                f"clean.{e}",
                f"Wipe the cable clean on {e}",
                "surface",
                "cut",
                ("measured",),
                text="As far back as parts will be slid.",
                batch=batches.CLEAN,
                **at,  # type: ignore[arg-type]  # fields of a step
            ),
            Step(
                f"cut.sheath.{e}",
                f"Take the sheath off on {e}",
                "cut",
                "cut",
                ("cut.scrap", f"clean.{e}"),
                text="Flex it at the ring until it parts.",
                caution="Never deeper than on the scrap.",
                batch=batches.SHEATHS,
                **at,  # type: ignore[arg-type]  # fields of a step
            ),
            *(
                (
                    Step(
                        f"fold.{e}",
                        f"Lay the screen back on {e}",
                        "armour",
                        "cut",
                        (f"cut.sheath.{e}",),
                        text=" ".join(lay),
                        action="Folded back",
                        spreads=True,
                        batch=Batch("fold-screen", "Lay the screen back on both sides"),
                        focus_mm=self.span_mm,
                        **at,  # type: ignore[arg-type]  # fields of a step
                    ),
                )
                if lay
                else ()
            ),
            *(
                step
                for unit, cores in self.cut_mm.items()
                for step in (
                    Step(
                        f"cut.core.{e}.{unit}",
                        f"Cut unit {unit} on {e}",
                        "cut",
                        "cut",
                        (f"fold.{e}" if lay else f"cut.sheath.{e}",),
                        text=", ".join(f"{name}: {said_mm(mm)} mm" for name, mm in cores.items()) + other,
                        batch=Batch(f"units-{e}", f"Cut the units on {e}", batches.SQUARE),
                        core=unit,
                        spreads=True,
                        **at,  # type: ignore[arg-type]  # fields of a step
                    ),
                    Step(
                        f"strip.{e}.{unit}",
                        f"Strip unit {unit} on {e}",
                        "cut",
                        "cut",
                        (f"cut.core.{e}.{unit}",),
                        text=f"{said_mm(self.strip_mm)} mm bare, no strand cut. Tried on scrap first.",
                        batch=Batch(f"strip-units-{e}", f"Strip the units on {e}"),
                        core=unit,
                        **at,  # type: ignore[arg-type]  # fields of a step
                    ),
                )
            ),
        )

    def minutes(self) -> Minutes:
        """Laid open."""
        return Minutes(self.rules.number("time.end_min"))

    def faults(self) -> tuple[Fault, ...]:
        """What a blade does."""
        again = Mend("Cut this end back and lay it open anew", "end-again")
        cut = ("stripper set too deep",)
        return (
            Fault("strands-cut", "Strands of the screen are cut", cut, (again,)),
            Fault("nicked", "Insulation is marked or cut", cut, (again,)),
            Fault(
                "too-short",
                "A core was cut too short",
                ("measured from the wrong edge",),
                (again,),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """To cut and to strip."""
        return ("ring stripper with its depth stop", "stripper for fine cores")

    def consumes(self) -> tuple[Material, ...]:
        """Caps for spare cores."""
        return (Material("cap for a spare core", len(self.spare), "piece"),) if self.spare else ()


@dataclass(frozen=True)
class UnitSpliced(Layer):
    """A unit's cores spliced, each in a sealed splice at its own place. `centres_mm`: by core, on the joint's
    axis; `turns`: of the unit wound in before its last core is joined, None where it has no lay; `partners`:
    names on B where they differ."""

    unit: str
    rules: RuleBook
    part: StockSplice
    lot: str
    centres_mm: Mapping[str, float]
    turns: float | None
    cool_min: float
    gun_c: float | None
    after: tuple[str, ...] = ()

    @property
    def tube(self) -> Tube:
        """The splice's sleeve."""
        return self.part.tube("")

    @property
    def span_mm(self) -> Span:
        """From the first splice's edge to the last one's."""
        half = self.part.length_mm / 2
        return min(self.centres_mm.values()) - half, max(self.centres_mm.values()) + half

    def steps(self) -> tuple[Step, ...]:
        """Joined, its turns wound in before the last core, shrunk, looked at."""
        names = tuple(self.centres_mm)
        at = {"layer": self.id, "core": self.unit, "focus_mm": self.span_mm}
        batch = SPLICES if len(names) == 1 else Batch(f"unit-{self.unit}", f"Splice unit {self.unit}")
        die = f", die {self.part.die}" if self.part.die else ""
        ready = ("parked", f"strip.A.{self.unit}", f"strip.B.{self.unit}", *self.after)
        how = f"{self.part.said}{die}: both conductors seen in its window, each indent on its line."
        first, last = names[:-1] or names, names[-1]
        found = [
            Step(
                f"join.{self.unit}",
                f"Splice core {', '.join(first)}",
                "join",
                "build",
                ready,
                text=how,
                look="Same name on both sides; pulled lightly, it holds.",
                action="Crimped",
                batch=batch,
                tools=("crimp-tool",),
                part_id=self.part.id,
                **at,  # type: ignore[arg-type]  # fields of a step
            )
        ]
        if len(names) > 1:
            turns = f"{self.turns:g} turns" if self.turns is not None else "until it lies as in the cable"
            found += [
                Step(
                    f"twist.{self.unit}",
                    f"Wind the turns of unit {self.unit} in",
                    "join",
                    "build",
                    (f"join.{self.unit}",),
                    text=f"In the cable's own direction, {turns}. With its last core joined it cannot turn.",
                    action="Wound in",
                    batch=batch,
                    gates=(
                        ()
                        if self.turns is None
                        else (
                            Gate("turns", "wound in", "turns", self.turns, 0.5, required=False, accept=True),
                        )
                    ),
                    **at,  # type: ignore[arg-type]  # fields of a step
                ),
                Step(
                    f"last.{self.unit}",
                    f"Splice core {last}",
                    "join",
                    "build",
                    (f"twist.{self.unit}",),
                    text=how,
                    action="Crimped",
                    batch=batch,
                    tools=("crimp-tool",),
                    **at,  # type: ignore[arg-type]  # fields of a step
                ),
            ]
        return (
            *found,
            Step(
                f"surface.{self.unit}",
                f"Wipe unit {self.unit} clean",
                "surface",
                "build",
                ("connectors",),
                text="Insulation beside every splice. Let it flash off.",
                batch=batches.SURFACE_CORES,
                **at,  # type: ignore[arg-type]  # fields of a step
            ),
            Step(
                f"seal.{self.id}",
                f"Shrink the splices of unit {self.unit}",
                "seal",
                "build",
                (f"surface.{self.unit}",),
                text="Reflector round it. Sleeves may overlap, metal never lies beside metal.",
                caution="Shield the units beside it; keep the gun moving.",
                action="Shrunk",
                batch=SHRINK,
                hot=True,
                heat_c=self.gun_c,
                tools=("heat-gun",),
                timers=(
                    Timer(
                        "flash",
                        "solvent flashing off",
                        f"surface.{self.unit}",
                        self.rules.number("surface.flash_min"),
                    ),
                ),
                **at,  # type: ignore[arg-type]  # fields of a step
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at unit {self.unit}",
                "inspect",
                "build",
                (f"seal.{self.id}",),
                look="Both ends of every splice run all round, no strand through it, no scorch.",
                fails="An end that has not run: heat it again. A strand through it: remake.",
                batch=batches.INSPECT_CORES,
                **at,  # type: ignore[arg-type]  # fields of a step
            ),
        )

    def lies(self) -> Lies:
        """On its unit."""
        return Lies(self.span_mm, self.unit)

    def consumes(self) -> tuple[Material, ...]:
        """One splice a core."""
        n = len(self.centres_mm)
        return (Material(self.part.said, n, "piece", self.part.on_hand, self.part.id, self.lot),)

    def from_lot(self) -> str:
        """The splices' lot."""
        return self.lot

    def minutes(self) -> Minutes:
        """Joined and shrunk."""
        return Minutes(self.rules.number("time.unit_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Of a splice, and of a pair."""
        new = Mend("Cut the splice out and put a new one in, while the core is long enough", "new-part")
        found = [
            Fault(
                "strand-outside",
                "A strand stands through the sleeve",
                ("strands not twisted",),
                (new, CUT_OUT),
            ),
            Fault("not-seen", "No conductor is seen in the window", ("strip too short",), (new, CUT_OUT)),
            Fault("wrong-core", "Two cores are swapped", ("names not read on both sides",), (new, CUT_OUT)),
        ]
        if len(self.centres_mm) > 1:
            found += [
                Fault(
                    "split-pair",
                    f"A core of unit {self.unit} is joined to another unit's",
                    ("names not read on both sides",),
                    (new, CUT_OUT),
                ),
                Fault(
                    "untwisted",
                    "The unit was not wound in before its last core was joined",
                    ("turns forgotten",),
                    (Mend("Leave it so: the net loss of turns is written down", "mended"), new),
                ),
            ]
        return tuple(found)

    def settings(self) -> tuple[Setting, ...]:
        """The die."""
        return (Setting("crimp tool", f"die {self.part.die}", self.part.said),) if self.part.die else ()

    def tools(self) -> tuple[str, ...]:
        """Crimp and heat."""
        return ("crimp tool for sealed splices", "hot-air gun with reflector")


@dataclass(frozen=True)
class Drains(Layer):
    """Drain wires joined bare inside the foil. `of`: the units that have one, and `all`."""

    rules: RuleBook
    of: tuple[str, ...]

    def steps(self) -> tuple[Step, ...]:
        """All of them."""
        return (
            Step(
                f"bond.{self.id}",
                "Join the drain wires",
                "bond",
                "build",
                ("before-closing",),
                text=f"{len(self.of)} to join, each to its own, bare, flat on its foil, no spike.",
                caution="Never into a sleeve that parts it from its foil. Screens of units stay apart.",
                action="Joined",
                layer=self.id,
            ),
        )

    def minutes(self) -> Minutes:
        """One after the other."""
        return Minutes(self.rules.number("time.screen_min") / 2 * len(self.of))

    def consumes(self) -> tuple[Material, ...]:
        """One each."""
        return (Material("joint for a drain wire", len(self.of), "piece"),)

    def faults(self) -> tuple[Fault, ...]:
        """A wire."""
        return (
            Fault(
                "drain-broken",
                "A drain wire is broken or too short",
                ("cut with the foil",),
                (Mend("Lengthen it with bare wire of its own size", "mended"), CUT_OUT),
            ),
        )


@dataclass(frozen=True)
class FoilMadeGood(Layer):
    """Foil wrapped back, and what is missing made good. `units`: how many have their own; `span_mm`: where it
    is wrapped; `thick_mm`: what it adds to the bundle's diameter."""

    rules: RuleBook
    units: int
    over_all: bool
    span_mm: Span
    after: tuple[str, ...]
    thick_mm: float

    def apply(self, under: Profile) -> Profile:
        """Thin, all round."""
        return under.covered(*self.span_mm, lambda od: od + self.thick_mm)

    def steps(self) -> tuple[Step, ...]:
        """Each unit alone, then one wrap over all; looked at before it is hidden."""
        each = f"Each of the {self.units} units alone. " if self.units else ""
        over = "Then one wrap over all. " if self.over_all and each else ""
        beyond = self.rules.number("screen.foil_beyond_mm")
        at = {"layer": self.id, "focus_mm": self.span_mm}
        return (
            Step(
                f"wrap.{self.id}",
                "Make the foil good",
                "wrap",
                "build",
                self.after,
                text=f"{each}{over}Metal to the drain wire, half-lapped, {said_mm(beyond)} mm beyond.",
                action="Wrapped",
                **at,  # type: ignore[arg-type]  # fields of a step
            ),
            Step(
                f"inspect.{self.id}",
                "Look at the foil",
                "inspect",
                "build",
                (f"wrap.{self.id}",),
                look="No gap, no core seen, drain wire against metal; no unit's screen touches another's.",
                fails="A tear: wrap foil of the same kind over it.",
                photo=True,
                **at,  # type: ignore[arg-type]  # fields of a step
            ),
        )

    def lies(self) -> Lies:
        """Over the units."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Close round all."""
        yield Body(id=self.id, kind="foil", layer=self.id, depth_mm=stage.depth_mm, **stage.wall())

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """All round."""
        yield stage.ring("foil", self.id, x)

    def consumes(self) -> tuple[Material, ...]:
        """Foil of the same kind, harvested or from the roll."""
        return (Material("foil of the same kind", self.span_mm[1] - self.span_mm[0], "mm"),)

    def minutes(self) -> Minutes:
        """Wrapped."""
        return Minutes(self.rules.number("time.screen_min") / 2 * (self.units + self.over_all))


@dataclass(frozen=True)
class DonorBraid(Layer):
    """Braid over the gap and both folds. `cut_mm`: its length as cut; `bulge_mm`: the thickest it goes over;
    `coverage_pct`: what it covers there; `layers`: how many lie over each other."""

    rules: RuleBook
    part: StockDonor
    lot: str
    span_mm: Span
    cut_mm: int
    bulge_mm: float
    coverage_pct: float
    layers: int
    end: str
    after: tuple[str, ...]

    @property
    def thick_mm(self) -> float:
        """What it adds to a radius."""
        return self.part.braid.thickness_mm * self.layers

    def apply(self, under: Profile) -> Profile:
        """Over all it lies on."""
        return under.covered(*self.span_mm, lambda od: od + 2 * self.thick_mm)

    def threads(self) -> tuple[Threaded, ...]:
        """Nearest to the joint."""
        return (Threaded(self.id, self.part.id, "sheath", float(self.cut_mm), self.end, 1),)

    def steps(self) -> tuple[Step, ...]:
        """Threaded, drawn over, looked at."""
        at = {"layer": self.id, "focus_mm": self.span_mm}
        twice = f", {self.layers} layers of it" if self.layers > 1 else ""
        return (
            Step(
                f"park.{self.id}",
                "Thread the donor braid",
                "park",
                "park",
                (f"cut.sheath.{self.end}",),
                text=f"{self.part.said}, {self.cut_mm} mm{twice}. Push it together on the sheath.",
                caution="It cannot be put on later.",
                batch=batches.WHOLE,
                end=self.end,
                layer=self.id,
                part_id=self.part.id,
            ),
            Step(
                f"fit.{self.id}",
                "Draw the donor braid over",
                "fit",
                "build",
                self.after,
                text=(
                    "Over both folds, then drawn down tight from the middle. It covers"
                    f" {self.coverage_pct:.0f} % over {self.bulge_mm:.1f} mm."
                ),
                action="Drawn down",
                **at,  # type: ignore[arg-type]  # fields of a step
            ),
            Step(
                f"inspect.{self.id}",
                "Look at the donor braid",
                "inspect",
                "build",
                (f"fit.{self.id}",),
                look="It lies on both folds all round, even, no gap and no whisker.",
                fails="A gap: draw it down anew, or put a second layer over it.",
                photo=True,
                **at,  # type: ignore[arg-type]  # fields of a step
            ),
        )

    def lies(self) -> Lies:
        """Over gap and folds."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Its wall."""
        yield Body(id=self.id, kind="donor", layer=self.id, depth_mm=stage.depth_mm, **stage.wall())

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """All round."""
        yield stage.ring("donor", self.id, x)

    def from_lot(self) -> str:
        """Its lot."""
        return self.lot

    def consumes(self) -> tuple[Material, ...]:
        """As much as is cut."""
        on_hand = None if self.part.on_hand is None else self.part.on_hand * self.part.roll_mm
        used = float(self.cut_mm * self.layers)
        return (Material(self.part.said, used, "mm", on_hand, self.part.id, self.lot),)

    def counted(self) -> tuple[Piece, ...]:
        """A share of its roll."""
        return pieces_of(self.consumes(), 0.0, self.part.roll_mm)

    def minutes(self) -> Minutes:
        """Drawn over and trimmed."""
        return Minutes(self.rules.number("time.screen_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Forgotten, or short."""
        return (
            Fault(
                "forgotten-donor",
                "The donor braid was not threaded on",
                ("park list not touched",),
                (
                    Mend("Wrap flat braid or mesh half-lapped over both folds instead; recorded", "mended"),
                    CUT_OUT,
                ),
                forgotten=True,
                steps=(f"fit.{self.id}",),
            ),
            Fault(
                "donor-short",
                "It does not reach both folds",
                ("pushed over something thicker: it shortens",),
                (Mend("A second piece over it, joined over a fold's length", "mended"), CUT_OUT),
            ),
        )


@dataclass(frozen=True)
class ScreenedProcedure(Procedure):
    """As every joint's, with the screen proved dead before it is cut, and read from sound screen to sound
    screen after. `screen_uohm`: the most it may read, µΩ; 0 where no braid is made good."""

    screen_uohm: float = 0.0
    elsewhere: bool = False

    def steps(self) -> tuple[Step, ...]:
        """Those of every joint, with its own between them."""
        first = ("gas-test",) if self.hazardous else ("isolated",)
        bridge = " Bridge it across the place before it is cut." if self.elsewhere else ""
        dead = Step(
            "screen-dead",
            "Prove the screen dead",
            "gate",
            "card",
            first,
            layer=self.id,
            text=f"Screen to local earth, AC and DC.{bridge}",
            caution="A screen earthed elsewhere carries that place's voltage when it is cut open.",
            action="It is dead",
        )
        found = [replace(s, needs=("screen-dead",)) if s.hold == "measured" else s for s in super().steps()]
        at = next(n for n, s in enumerate(found) if s.hold == "measured")
        return (*found[:at], dead, *found[at:])

    def _sheath(self) -> tuple[Step, ...]:
        """The screen through the joint."""
        if not self.screen_uohm:
            return super()._sheath()
        return (
            *super()._sheath(),
            Step(
                "test.after.screen",
                "Screen through the joint",
                "test",
                "prove",
                self.outer_done,
                layer=self.id,
                taken="after",
                text="Four wires, from sound screen to sound screen at the cable's ends or test points.",
                gates=(
                    Gate(
                        "screen",
                        "screen to screen",
                        "µΩ",
                        most=round(self.screen_uohm),
                        required=False,
                        instrument="low-ohm-meter",
                    ),
                ),
                tools=("low-ohm-meter",),
            ),
        )
