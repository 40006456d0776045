"""The units of a screened cable spliced."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

from tinknot.core.acts import Act, Join, Look, Note, Place, Shrink, SlideTo, Thing, ThreadOn, Tug
from tinknot.core.drawing.stage import Lies
from tinknot.core.facts import COUNTED, Fact, of, taken_off
from tinknot.core.figures import mm
from tinknot.core.formulas.sleeve import Tube
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Batch,
    Fault,
    Gate,
    Heat,
    Layer,
    Material,
    Mend,
    Minutes,
    Reading,
    Setting,
    Step,
    Threaded,
)
from tinknot.core.layers.mends import CUT_OUT, THREAD
from tinknot.core.layers.ringing import NAMED
from tinknot.core.layers.screened.splice import Splice
from tinknot.core.layers.sleeve import flash
from tinknot.core.layers.surfaces import degreased
from tinknot.core.rulebook import RuleBook

Span = tuple[float, float]


SPLICES = Batch("splices", "Splice every core", "Each to the core of its own name. Look into every window.")
SOLDERING = ("soldering iron", "solder", "rosin flux")
SHRINK = Batch(
    "shrink-splices", "Shrink the splices", "Each from its middle outward, until its ends have run."
)


def core_or_unit(unit: str, names: Sequence[str]) -> str:
    """A unit by its number, a core that is none by its name."""
    return f"core {names[0]}" if len(names) == 1 else f"unit {unit}"


@dataclass(frozen=True)
class UnitSpliced(Layer):
    """A unit's cores spliced, each in a sealed splice at its own place. `centres_mm`: by core, on the joint's
    axis; `turns`: of the unit wound in before its last core is joined, None where it has no lay; `stays_mm`:
    how much of it stays untwisted; `partners`: the cores of B by those of A."""

    unit: str
    rules: RuleBook
    part: Splice
    centres_mm: Mapping[str, float]
    turns: float | None
    cool_min: float
    gun_c: float | None
    partners: Mapping[str, str] = field(default_factory=dict)
    stays_mm: float = 0.0

    @property
    def tube(self) -> Tube:
        """The splice's sleeve."""
        return self.part.tube

    @property
    def named(self) -> str:
        """What it is called in steps: a single core by its name."""
        return core_or_unit(self.unit, tuple(self.centres_mm))

    @property
    def span_mm(self) -> Span:
        """From the first splice's edge to the last one's."""
        half = self.part.length_mm / 2
        return min(self.centres_mm.values()) - half, max(self.centres_mm.values()) + half

    def work(self) -> tuple[Step, ...]:
        """Joined, its turns wound in before the last core, shrunk, looked at."""
        names = tuple(self.centres_mm)
        batch = SPLICES if len(names) == 1 else Batch(f"unit-{self.unit}", f"Splice unit {self.unit}")
        parked = (of("threaded", self.id),) if self.part.threaded_mm is not None else ()
        ready = (COUNTED, *parked, *(taken_off(e, "insulation", self.unit) for e in "AB"), NAMED)
        how, clean = self.part.how, Fact("clean", Place(core=self.unit, span_mm=self.span_mm))
        first, last = names[:-1] or names, names[-1]
        found = [
            Step(
                f"join.{self.unit}",
                f"Splice core {self._to(first)}",
                "join",
                "build",
                needs=ready,
                text=how,
                look="Same name on both sides; pulled lightly, it holds.",
                acts=(*self._joined("first"), Tug(at=Place(core=self.unit))),
                batch=batch,
                part_id=self.part.part_id,
                action=self.part.action,
                tools=self.part.tools,
                core=self.unit,
                focus_mm=self.span_mm,
            )
        ]
        if len(names) > 1:
            turns = f"{self.turns:g} turns" if self.turns else "until it lies as in the cable"
            stays = f" {mm(self.stays_mm):.0f} mm may stay untwisted." if self.turns is not None else ""
            wind = (
                "Nothing is to be wound in: hold it as it lies."
                if self.turns == 0
                else f"In the cable's own direction, {turns}. With its last core joined it cannot turn."
            )
            found += [
                Step(
                    f"twist.{self.unit}",
                    f"Wind the turns of unit {self.unit} in",
                    "join",
                    "build",
                    needs=(of("joined", f"{self.id}-first"),),
                    text=wind + stays,
                    action="Wound in",
                    acts=(Note(at=Place(core=self.unit)),),
                    makes=(Fact("wound-in", Place(core=self.unit)),),
                    batch=batch,
                    reading=Reading(
                        ()
                        if self.turns is None
                        else (
                            Gate(
                                "turns",
                                "wound in",
                                "turns",
                                self.turns,
                                tolerance=0.5,
                                required=False,
                                accept=True,
                            ),
                        )
                    ),
                    core=self.unit,
                    focus_mm=self.span_mm,
                ),
                Step(
                    f"last.{self.unit}",
                    f"Splice core {self._to((last,))}",
                    "join",
                    "build",
                    needs=(Fact("wound-in", Place(core=self.unit)),),
                    text=how,
                    look="Same name on both sides; pulled lightly, it holds.",
                    acts=(*self._joined("last"), Tug(at=Place(core=self.unit))),
                    batch=batch,
                    action=self.part.action,
                    tools=self.part.tools,
                    core=self.unit,
                    focus_mm=self.span_mm,
                ),
            ]
        return (
            *self._threaded(),
            *found,
            Step(
                f"surface.{self.unit}",
                f"Wipe {self.named} clean",
                "surface",
                "build",
                needs=(Fact("looked", Place(core=self.unit, skin="connector")),),
                text="Insulation beside every splice. Let it flash off.",
                acts=tuple(degreased(self.rules, p) for p in self._beside),
                batch=batches.SURFACE_CORES,
                core=self.unit,
                focus_mm=self.span_mm,
            ),
            Step(
                f"seal.{self.id}",
                f"Shrink the {'splice' if len(names) == 1 else 'splices'} of {self.named}",
                "seal",
                "build",
                needs=(clean,),
                text=(
                    "Reflector round it. Sleeves may overlap, metal never lies beside metal."
                    if self.part.threaded_mm is None
                    else "Slide each over its metal. From its middle outward, one end, then the other."
                ),
                caution="Shield the units beside it; keep the gun moving.",
                action="Shrunk",
                batch=SHRINK,
                acts=self._shrinks(),
                heat=Heat(gun_c=self.gun_c),
                tools=("heat-gun",),
                timers=(flash(self.rules, clean),),
                core=self.unit,
                focus_mm=self.span_mm,
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at {self.named}",
                "inspect",
                "build",
                needs=(of("closed", self.id),),
                look="Both ends of every splice run all round, no strand through it, no scorch.",
                fails="An end that has not run: heat it again. A strand through it: remake.",
                batch=batches.INSPECT_CORES,
                pictured="own",
                acts=(Look(at=Place(core=self.unit, span_mm=self.span_mm), thing=self._sleeved),),
                core=self.unit,
                focus_mm=self.span_mm,
            ),
        )

    @property
    def _sleeved(self) -> Thing:
        """The splices' sleeves, told as one."""
        return Thing(
            self.id,
            f"sleeves of {self.named}",
            tube=self.tube,
            shrinks_c=self.part.shrink_c,
            seals="adhesive",
            of=self.part.used[-1].what,
        )

    @property
    def _beside(self) -> tuple[Place, ...]:
        """The insulation beside the splices."""
        return tuple(Place(e, self.unit, "insulation", self.span_mm) for e in "AB")

    def _joined(self, which: str) -> tuple[Act, ...]:
        """Its cores joined; one stands for all that are joined in the step."""
        sides = tuple(Place(e, self.unit, "conductor", self.span_mm) for e in "AB")
        return (
            Join(
                at=Place(core=self.unit, span_mm=self.span_mm),
                thing=Thing(f"{self.id}-{which}", f"splice of {self.named}", metal=True),
                ends=sides,
                how="soldered" if self.part.soldered else "crimped",
                uses=SOLDERING[1:] if self.part.soldered else (),
            ),
        )

    def _shrinks(self) -> tuple[Act, ...]:
        """Slid over the metal where they wait, and shrunk."""
        seat = Place(core=self.unit, span_mm=self.span_mm)
        slid = (SlideTo(at=seat, thing=self._sleeved, from_end=self.long_side),)
        waits = self.part.threaded_mm is not None
        return (*(slid if waits else ()), Shrink(at=seat, thing=self._sleeved, seals_on=self._beside))

    @property
    def long_side(self) -> str:
        """The end whose cores are longer, where what is threaded on them waits."""
        return "A" if round(sum(self.centres_mm.values()), 6) >= 0 else "B"

    def threads(self) -> tuple[Threaded, ...]:
        """A sleeve of its own on every core, on its long side."""
        if self.part.threaded_mm is None:
            return ()
        end, mm = self.long_side, self.part.threaded_mm
        title = f"sleeves on the cores of unit {self.unit}" if len(self.centres_mm) > 1 else self.title
        return (Threaded(self.id, self.part.sleeve_id, self.unit, mm, end=end, order=1, title=title),)

    def _threaded(self) -> Iterator[Step]:
        if self.part.threaded_mm is None:
            return
        end, many = self.long_side, len(self.centres_mm)
        yield Step(
            f"park.{self.id}",
            f"Thread a sleeve on {'every core of ' if many > 1 else ''}{self.named}",
            "park",
            "park",
            needs=(taken_off(end, "insulation", self.unit),),
            text=f"{many} × {mm(self.part.threaded_mm):g} mm, on {end}, up to the sheath.",
            caution="None of them can be put on later.",
            batch=batches.PARK,
            end=end,
            part_id=self.part.sleeve_id,
            acts=(ThreadOn(at=Place(end, self.unit), thing=self._sleeved),),
        )

    def _to(self, names: Sequence[str]) -> str:
        """The cores in words, each with the one on B where that is called otherwise."""
        return ", ".join(n if self.partners.get(n, n) == n else f"{n} to {self.partners[n]}" for n in names)

    def lies(self) -> Lies:
        """On its unit."""
        return Lies(self.span_mm, self.unit)

    def consumes(self) -> tuple[Material, ...]:
        """One splice a core, with its sleeve."""
        return tuple(replace(m, quantity=m.quantity * len(self.centres_mm)) for m in self.part.used)

    def from_lot(self) -> str:
        """The splices' lot."""
        return self.part.lot

    def minutes(self) -> Minutes:
        """Joined and shrunk."""
        return Minutes(self.rules.number("time.unit_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Of a splice, and of a pair."""
        new = Mend("Cut the splice out and put a new one in, while the core is long enough", "new-part")
        between = Mend(
            "Core too short for that: a piece of equal core with a splice at each end, one beside the other;"
            " it is recorded",
            "mended",
        )
        found = [
            Fault(
                "strand-outside",
                "A strand stands through the sleeve",
                ("strands not twisted",),
                (new, CUT_OUT),
            ),
            Fault(
                "splice-spoilt",
                "A splice is spoilt: crushed, cracked, short of an indent, or its conductor pulls out",
                ("wrong die", "conductor not in", "tool let go too early"),
                (new, between, CUT_OUT),
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
                    (Mend("Leave it so: the net loss of turns is written down", "mended", stays=True), new),
                ),
            ]
        if self.part.threaded_mm is not None:
            found.append(
                Fault(
                    "forgotten-sleeve",
                    f"A sleeve of {self.named} was not threaded on",
                    ("park list not touched",),
                    (THREAD, CUT_OUT),
                    forgotten=True,
                )
            )
        if self.part.soldered:
            found.append(
                Fault(
                    "cold-solder",
                    "Solder dull, in a lump, or run up under the insulation",
                    ("too little or too much heat", "not tinned"),
                    (Mend("Heat it once more, cleaned and fluxed", "again"), new),
                    at=(Fact("joined", Place(core=self.unit)),),
                )
            )
        return tuple(found)

    def settings(self) -> tuple[Setting, ...]:
        """The die."""
        return (Setting("crimp tool", f"die {self.part.die}", self.part.said),) if self.part.die else ()

    def tools(self) -> tuple[str, ...]:
        """Crimp or solder, and heat."""
        joined = SOLDERING if self.part.soldered else (f"crimp tool for {self.part.said}",)
        return (*joined, "hot-air gun with reflector")
