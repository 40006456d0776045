"""The units of a screened cable spliced."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from tinknot.core.drawing.stage import Lies
from tinknot.core.formulas.sleeve import Tube
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
    Timer,
)
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.parts.splice import StockSplice
from tinknot.core.rulebook import RuleBook

Span = tuple[float, float]


SPLICES = Batch("splices", "Splice every core", "Each to the core of its own name. Look into every window.")
SHRINK = Batch(
    "shrink-splices", "Shrink the splices", "Each from its middle outward, until its ends have run."
)


@dataclass(frozen=True)
class UnitSpliced(Layer):
    """A unit's cores spliced, each in a sealed splice at its own place. `centres_mm`: by core, on the joint's
    axis; `turns`: of the unit wound in before its last core is joined, None where it has no lay; `partners`:
    the cores of B by those of A."""

    unit: str
    rules: RuleBook
    part: StockSplice
    lot: str
    centres_mm: Mapping[str, float]
    turns: float | None
    cool_min: float
    gun_c: float | None
    after: tuple[str, ...] = ()
    partners: Mapping[str, str] = field(default_factory=dict)

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
                f"Splice core {self._to(first)}",
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
                    f"Splice core {self._to((last,))}",
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

    def _to(self, names: Sequence[str]) -> str:
        """The cores in words, each with the one on B where that is called otherwise."""
        return ", ".join(n if self.partners.get(n, n) == n else f"{n} to {self.partners[n]}" for n in names)

    def lies(self) -> Lies:
        """On its unit."""
        return Lies(self.span_mm, self.unit)

    def consumes(self) -> tuple[Material, ...]:
        """One splice a core."""
        n = len(self.centres_mm)
        used = (Material(self.part.said, n, "piece", self.part.on_hand, self.part.id, self.lot),)
        unlike = sum(b != a for a, b in self.partners.items())
        return (*used, Material("marker sleeve", 2 * unlike, "piece")) if unlike else used

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
