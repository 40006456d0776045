"""What is read of a joint: continuity, insulation, its sheath, a bend over the mandrel; and what can be seen
to go wrong then."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from tinknot.core.acts import Bend, Bridge, Place, Read, Skin, TakeOff
from tinknot.core.facts import DONE, EVERY, Fact
from tinknot.core.figures import mm
from tinknot.core.layers.contract import Fault, Gate, Mend, Reading, Step, Taken
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.rulebook import RuleBook

EXTRA_LOW_V, HIGH_V = 50.0, 500.0  # IEC 60364-6, table 6.1
EARTH_AND_REST = (Place(skin="armour"), Place(skin="screen"))
CORES_COVERED = (Fact("looked", Place(core=EVERY)), Fact("cold", Place(skin="core")))  # all on them is on


def read(what: str, taken: Taken) -> Fact:
    """A reading that stands."""
    return Fact("read", thing=what, when=taken)


@dataclass(frozen=True)
class Proofs:
    """The readings of one joint. `own_ohm`: what each core reads by itself from end to end, where that is
    much; `through_ohm`: up to what each passes, where the cable's length is known."""

    rules: RuleBook
    rated_voltage_v: float
    cores: tuple[str, ...] = ()
    own_ohm: Mapping[str, float] = field(default_factory=dict)
    through_ohm: Mapping[str, float] = field(default_factory=dict)

    @property
    def insulation_v(self) -> float:
        """What insulation is tested at, V DC."""
        low, high = self.rated_voltage_v <= EXTRA_LOW_V, self.rated_voltage_v > HIGH_V
        return self.rules.number(f"insulation.test{'_low' if low else '_high' if high else ''}_v")

    def core_by_core(self, taken: Taken, needs: tuple[Fact, ...]) -> tuple[Step, Step]:
        """Continuity, then insulation, of each core."""
        return self._continuity(taken, needs), self._insulation(taken)

    def together(
        self,
        taken: Taken,
        needs: tuple[Fact, ...],
        *,
        title: str = "Insulation resistance",
        text: str = "All cores together against earth, armour and screen.",
        label: str = "all cores to earth",
    ) -> Step:
        """Insulation of all cores together, where no core is opened and so none is measured alone."""
        limit = self.rules.number("insulation.limit_mohm")
        return Step(
            f"test.{taken}.insulation",
            f"{title} at {self.insulation_v:g} V DC",
            "test",
            "build" if taken == "before" else "prove",
            needs=needs,
            reading=Reading(
                (
                    Gate("cores", label, "MΩ", least=limit, instrument="insulation-tester"),
                    Gate("temperature", "cable", "°C", required=False, instrument="thermometer"),
                ),
                taken=taken,
            ),
            text=text,
            caution="Discharge after every reading.",
            tools=("insulation-tester",),
            acts=(Read(what="insulation", between=(Place(skin="conductor"), *EARTH_AND_REST)),),
            makes=(read("cores apart", taken),),
        )

    def alone(self, needs: tuple[Fact, ...]) -> Step:
        """Insulation of a tap's own cable, core by core, before it is connected."""
        step = self._insulation("before")
        return replace(
            step,
            needs=needs,
            text="The tap's own cable alone: each core against the others and earth, both its ends apart.",
            acts=tuple(replace(a, far=False) if isinstance(a, Read) else a for a in step.acts),
        )

    def _most_ohm(self, core: str) -> float:
        limit = self.rules.number("continuity.limit_ohm")
        return self.through_ohm.get(core, limit + self.own_ohm.get(core, 0.0))

    def _continuity(self, taken: Taken, needs: tuple[Fact, ...]) -> Step:
        several = len(self.cores) > 1
        return Step(
            f"test.{taken}.continuity",
            "Continuity, core by core" if several else "Continuity",
            "test",
            "build" if taken == "before" else "prove",
            needs=needs,
            reading=Reading(
                tuple(
                    Gate(f"core-{c}", f"core {c}", "Ω", most=self._most_ohm(c), instrument="low-ohm-meter")
                    for c in self.cores
                ),
                taken=taken,
            ),
            text=(
                "End to end, each core to its own name: this is the core map too. Null the leads first."
                if several
                else "End to end. Null the leads first."
            ),
            tools=("low-ohm-meter",),
            acts=tuple(
                Read(
                    what="continuity",
                    between=(Place("A", c, "conductor"), Place("B", c, "conductor")),
                    most_mohm=1000 * self._most_ohm(c),
                )
                for c in self.cores
            ),
        )

    def _insulation(self, taken: Taken) -> Step:
        limit, several = self.rules.number("insulation.limit_mohm"), len(self.cores) > 1
        others = "the rest" if several else "earth"
        gates = (
            *tuple(
                Gate(f"core-{c}", f"core {c} to {others}", "MΩ", least=limit, instrument="insulation-tester")
                for c in self.cores
            ),
            Gate("temperature", "cable", "°C", required=False, instrument="thermometer"),
        )
        return Step(
            f"test.{taken}.insulation",
            f"Insulation resistance at {self.insulation_v:g} V DC",
            "test",
            "build" if taken == "before" else "prove",
            needs=(read("continuity", taken),),
            reading=Reading(gates, taken=taken),
            text=(
                f"{'Each core against all others and earth' if several else 'Against earth'}, the far ends"
                " off and apart."
            ),
            caution="Discharge after every reading.",
            tools=("insulation-tester",),
            acts=tuple(
                Read(what="insulation", between=(Place(core=c, skin="conductor"), *EARTH_AND_REST), far=True)
                for c in self.cores
            ),
            makes=(read("cores apart", taken),),
        )


def flexed(mandrel_mm: float | None) -> tuple[Step, ...]:
    """Bond proof of a joint that moves."""
    if mandrel_mm is None:
        return ()
    return (
        Step(
            "test.after.flex",
            "Bend it over the mandrel",
            "test",
            "prove",
            needs=(DONE,),
            reading=Reading(taken="after"),
            text=f"Mandrel {mm(mandrel_mm):g} mm: to 90°, in four planes, slowly. Only cold and cured.",
            look="No parting at the ends, no crack, witness line whole.",
            fails="Parted or cracked: remake.",
            acts=(Bend(),),
            makes=(read("bend", "after"),),
        ),
    )


def sheath_tested(rules: RuleBook, metal: str) -> tuple[Step, ...]:
    """Whether sheath and seal keep the armour or lead (`metal`) off the ground; nothing where there is none,
    or where that tells nothing."""
    if not metal:
        return ()
    volts = rules.number("sheath.test_v")
    skin: Skin = "armour" if metal == "armour" else "lead-sheath"
    return (
        Step(
            "test.after.sheath",
            f"Sheath test: {metal} to earth at {volts:g} V DC",
            "test",
            "prove",
            needs=(DONE,),
            reading=Reading(
                (
                    Gate(
                        "sheath",
                        f"{metal} to earth",
                        "MΩ",
                        least=rules.number("sheath.limit_mohm"),
                        excuse=True,
                        instrument="insulation-tester",
                    ),
                ),
                taken="after",
            ),
            text=(
                f"{metal.capitalize()} off its earth at both ends, with whoever is in charge of it; measure"
                " it against earth, then put the earths back. Where it cannot be taken off, say so in place"
                " of the reading."
            ),
            caution=f"The {metal}'s earth protects: back on both ends before anything is energised.",
            tools=("insulation-tester",),
            acts=(
                TakeOff(called="armour earth"),
                Read(what="insulation", between=(Place(skin=skin),)),
                Bridge(called="armour earth", stays=True),
            ),
            makes=(read("sheath", "after"),),
        ),
    )


AGAIN = "Clean the clips, null the leads, measure again"
SEEN = (
    Fault(
        "insulation-low",
        "The insulation reads too low",
        ("damp or dirt", "a strand across", "the far ends wet or touching", "an end that lets water in"),
        (
            Mend("Dry and clean it and the far ends, measure again", "again"),
            Mend("Seal the end that leaks once more, measure again", "again"),
            CUT_OUT,
        ),
        at=(read("cores apart", "before"), read("cores apart", "after")),
    ),
    Fault(
        "no-continuity",
        "A core does not read through, or reads to another one",
        ("leads not on bright metal", "a connector without its conductor", "cores swapped"),
        (Mend(AGAIN, "again"), CUT_OUT),
        at=(read("continuity", "before"), read("continuity", "after")),
    ),
    Fault(
        "flex-cracked",
        "It parts or cracks over the mandrel",
        ("bent before it was cold or cured", "surface not clean"),
        (CUT_OUT,),
        at=(read("bend", "after"),),
    ),
    Fault(
        "sheath-low",
        "The armour reads to earth",
        ("an earth still on", "sheath cut elsewhere", "an end that lets water in"),
        (Mend("Take every earth off, dry the ends, measure again", "again"), CUT_OUT),
        at=(read("sheath", "after"),),
    ),
)  # what a test can tell, each where it is taken
