"""Gates and proofs around the layers of a joint."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import get_args

from tinknot.core.acts import Act, Attest, Bend, Bridge, Look, Note, Place, Read, TakeOff, Thing
from tinknot.core.figures import mm
from tinknot.core.layers.contract import (
    Fault,
    Gate,
    Held,
    Hold,
    Layer,
    Mend,
    Minutes,
    Reading,
    Station,
    Step,
    Taken,
)
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.rulebook import RuleBook

EXTRA_LOW_V, HIGH_V = 50.0, 500.0  # IEC 60364-6, table 6.1
ATTESTS: dict[Hold, Act] = {
    "isolated": Attest(what="isolated"),
    "measured": Attest(what="measured"),
    "parked": Attest(what="counted"),
    "before-closing": Attest(what="covered"),
    "sealed-and-proved": Attest(what="proved"),
    "released": Attest(what="released"),
}  # what a hold says that is so
HOLDS: dict[str, Hold] = {name: name for name in get_args(Hold)}
LABELLED = Note(thing=Thing("label", "label"))
EARTH_AND_REST = (Place(skin="armour"), Place(skin="screen"))


@dataclass(frozen=True)
class Procedure(Layer):
    """Gates and proofs around the layers. `parked`, `joined`, `core_proofs` and `outer_done` are ids of the
    steps the holds wait for; `insulated`: how the cores are again; `state`: what the joint must have come
    to; `own_ohm`: what each core reads by itself from end to end, where that is much; `connector_uohm` is the
    resistance in µΩ of each connector's length of conductor; `through_ohm`: up to what each core passes from
    end to end, where the cable's length is known; `sheath`: armour on both sides lies in the
    ground or under water and can tell of a sheath let through."""

    rules: RuleBook
    cores: tuple[str, ...]
    rated_voltage_v: float
    parked: tuple[str, ...] = ()
    joined: tuple[str, ...] = ()
    core_proofs: tuple[str, ...] = ()
    outer_done: tuple[str, ...] = ()
    insulated: str = "sleeved"
    state: str = "cold"
    connector_uohm: Mapping[str, float] = field(default_factory=dict)
    hazardous: bool = False
    mandrel_mm: float | None = None
    sheath: bool = False
    own_ohm: Mapping[str, float] = field(default_factory=dict)
    through_ohm: Mapping[str, float] = field(default_factory=dict)

    def minutes(self) -> Minutes:
        """Setting up, isolating, measuring, labelling, signing."""
        return Minutes(self.rules.number("time.base_min"))

    def tools(self) -> tuple[str, ...]:
        """Proving."""
        return ("voltage tester and its proving unit", "insulation tester", "continuity tester", "calliper")

    def work(self) -> tuple[Step, ...]:
        """The holds and what is proved between them; none for a park list that is empty."""
        before = ("test.before.continuity", "test.before.insulation")
        after = ("test.after.continuity", "test.after.insulation")
        return (
            *self._begin("Lay both ends beside each other and compare them with the plan."),
            *self._all_threaded(
                "Touch every parked part and count. After joining none of them can be put on."
            ),
            self._hold(
                Step(
                    "connectors",
                    "Look at every connector" if len(self.cores) > 1 else "Look at the connector",
                    "inspect",
                    "build",
                    tuple(self.joined),
                    look=(
                        "Conductor seen in every connector, fully made, no strand outside, core joined to the"
                        " same core."
                    ),
                    fails="Any connector in doubt is cut out.",
                    reading=Reading(self._connector_gates()),
                    photo=True,
                    pictured="connector",
                    acts=tuple(Look(at=Place(core=c, skin="connector")) for c in self.cores),
                )
            ),
            self._continuity("before", self.core_proofs, "build"),
            self._insulation("before", (before[0],), "build"),
            self._hold(
                Step(
                    "before-closing",
                    "Before the joint is closed",
                    "inspect",
                    "build",
                    (*self.core_proofs, *before),
                    text="Last look at the cores. Take a photograph.",
                    look=f"Every core {self.insulated}, nothing sharp, tests noted.",
                    photo=True,
                    pictured="core-cover",
                )
            ),
            self._continuity("after", self.outer_done, "prove"),
            self._insulation("after", (after[0],), "prove"),
            *self._flex(),
            *self._sheath(),
            self._hold(
                Step(
                    "sealed-and-proved",
                    "Sealed and proved",
                    "inspect",
                    "prove",
                    (*self.outer_done, *after, *(s.id for s in (*self._flex(), *self._sheath()))),
                    text=f"The joint is {self.state}, closed at both ends, and its readings stand.",
                    look="Both ends closed, readings within their limits.",
                )
            ),
            *self._end(
                "Print the label and fix it beside the joint.",
                "Release the joint",
                "Electrically sound, weak in pull: relieve the strain.",
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """What a test can tell, each at its own tests."""
        tests = [s.id for s in self.steps() if s.kind == "test"]

        def named(test: str) -> tuple[str, ...]:
            return tuple(t for t in tests if t.endswith(test))

        found = (
            Fault(
                "insulation-low",
                "The insulation reads too low",
                (
                    "damp or dirt",
                    "a strand across",
                    "the far ends wet or touching",
                    "an end that lets water in",
                ),
                (
                    Mend("Dry and clean it and the far ends, measure again", "again"),
                    Mend("Seal the end that leaks once more, measure again", "again"),
                    CUT_OUT,
                ),
                steps=named("insulation"),
            ),
            Fault(
                "no-continuity",
                "A core does not read through, or reads to another one",
                ("leads not on bright metal", "a connector without its conductor", "cores swapped"),
                (Mend("Clean the clips, null the leads, measure again", "again"), CUT_OUT),
                steps=named("continuity"),
            ),
            Fault(
                "flex-cracked",
                "It parts or cracks over the mandrel",
                ("bent before it was cold or cured", "surface not clean"),
                (CUT_OUT,),
                steps=named("flex"),
            ),
            Fault(
                "sheath-low",
                "The armour reads to earth",
                ("an earth still on", "sheath cut elsewhere", "an end that lets water in"),
                (Mend("Take every earth off, dry the ends, measure again", "again"), CUT_OUT),
                steps=named("sheath"),
            ),
        )
        return tuple(f for f in found if f.steps)

    @property
    def insulation_v(self) -> float:
        """What insulation is tested at, V DC."""
        low, high = self.rated_voltage_v <= EXTRA_LOW_V, self.rated_voltage_v > HIGH_V
        return self.rules.number(f"insulation.test{'_low' if low else '_high' if high else ''}_v")

    def _gas_test(self) -> tuple[Step, ...]:
        """In a hazardous area: measured gas-free before anything that may spark or heat."""
        if not self.hazardous:
            return ()
        limit = self.rules.number("gas.limit_lel_pct")
        return (
            Step(
                "gas-test",
                "Gas test",
                "gate",
                "card",
                ("isolated",),
                text="Measure where the work is, low and high. Again after every break.",
                caution=(
                    "Not gas-free: no heat source of any kind, cold methods only. Testers, phones and tablets"
                    " are ignition sources too."
                ),
                reading=Reading((Gate("lel", "gas, of the lower explosive limit", "%", most=limit),)),
                acts=(Attest(what="gas-free"),),
            ),
        )

    def _flex(self) -> tuple[Step, ...]:
        """Bond proof of a joint that moves."""
        if self.mandrel_mm is None:
            return ()
        return (
            Step(
                "test.after.flex",
                "Bend it over the mandrel",
                "test",
                "prove",
                self.outer_done,
                reading=Reading(taken="after"),
                text=(
                    f"Mandrel {mm(self.mandrel_mm):g} mm: to 90°, in four planes, slowly. Only cold and"
                    " cured."
                ),
                look="No parting at the ends, no crack, witness line whole.",
                fails="Parted or cracked: remake.",
                acts=(Bend(),),
            ),
        )

    def _sheath(self) -> tuple[Step, ...]:
        """Whether sheath and seal keep the armour off the ground."""
        if not self.sheath:
            return ()
        volts = self.rules.number("sheath.test_v")
        return (
            Step(
                "test.after.sheath",
                f"Sheath test: armour to earth at {volts:g} V DC",
                "test",
                "prove",
                self.outer_done,
                reading=Reading(
                    (
                        Gate(
                            "sheath",
                            "armour to earth",
                            "MΩ",
                            least=self.rules.number("sheath.limit_mohm"),
                            excuse=True,
                            instrument="insulation-tester",
                        ),
                    ),
                    taken="after",
                ),
                text=(
                    "Armour off its earth at both ends, with whoever is in charge of it; measure it against"
                    " earth, then put the earths back. Where it cannot be taken off, say so in place of the"
                    " reading."
                ),
                caution="The armour's earth protects: back on both ends before anything is energised.",
                tools=("insulation-tester",),
                acts=(
                    TakeOff(called="armour earth"),
                    Read(what="insulation", between=(Place(skin="armour"),)),
                    Bridge(called="armour earth", stays=True),
                ),
            ),
        )

    def _hold(self, step: Step) -> Step:
        """A step as a hold, which is named as it is; it says that something is so, unless it is a look."""
        name = HOLDS[step.id]
        second = name == "released" or name in self.rules.names("holds.second_person")
        said = (ATTESTS[name],) if name in ATTESTS else ()
        return replace(step, held=Held(name, second), acts=step.acts or said)

    def _begin(
        self,
        compare: str,
        title: str = "Check the readings against the cable",
        caution: str = "Defer to the local code and the permit. If in doubt, stop.",
        identify: str = (
            "Identify the cable, isolate every feed at both ends, lock, prove dead and prove the prover."
            " Discharge."
        ),
    ) -> tuple[Step, ...]:
        """Isolated, free of gas, its screen dead, and the readings held against what is there."""
        dead, told = "Isolate and prove dead", f"{compare} A reading that is off makes a new plan."
        found = [
            self._hold(
                Step(
                    "isolated",
                    dead,
                    "gate",
                    "card",
                    (),
                    text=identify,
                    caution=caution,
                )
            )
        ]
        found += self._gas_test()
        found += self._screen_dead(found[-1].id)
        return *found, self._hold(
            Step(
                "measured",
                title,
                "measure",
                "measure",
                (found[-1].id,),
                text=told,
            )
        )

    def _screen_dead(self, needs: str) -> tuple[Step, ...]:
        """Nothing of a cable without a screen."""
        return ()

    def _dead(self, needs: str, bridge: str) -> Step:
        """The screen proved dead, and bridged where it has an earth elsewhere."""
        return Step(
            "screen-dead",
            "Prove the screen dead",
            "gate",
            "card",
            (needs,),
            text=f"Screen to local earth, AC and DC.{bridge}",
            caution="A screen earthed elsewhere carries that place's voltage when it is cut open.",
            action="It is dead",
            acts=(
                Attest(what="screen-dead"),
                *((Bridge(called="screen bridge", ends=(Place("A", skin="screen"),)),) if bridge else ()),
            ),
        )

    def _all_threaded(self, text: str) -> tuple[Step, ...]:
        """The hold of the park list; none for one that is empty."""
        if not self.parked:
            return ()
        title = "Everything is threaded on"
        return (
            self._hold(
                Step(
                    "parked",
                    title,
                    "inspect",
                    "park",
                    tuple(self.parked),
                    text=text,
                )
            ),
        )

    def _end(self, label: str, title: str, after: str) -> tuple[Step, ...]:
        """Labelled and released."""
        proved = ("sealed-and-proved",)
        text = f"Signed by a second person, who has read the record. {after}"
        return (
            Step(
                "label",
                "Fix the label",
                "label",
                "sign",
                proved,
                text=label,
                acts=(LABELLED,),
            ),
            self._hold(
                Step(
                    "released",
                    title,
                    "sign",
                    "sign",
                    (*proved, "label"),
                    text=text,
                )
            ),
        )

    def _connector_gates(self) -> tuple[Gate, ...]:
        factor = self.rules.number("connector.resistance_factor")
        return tuple(
            Gate(
                f"uohm-{core}",
                f"connector {core}",
                "µΩ",
                most=round(factor * uohm),
                required=False,
                instrument="low-ohm-meter",
            )
            for core, uohm in self.connector_uohm.items()
        )

    def _together(
        self,
        taken: Taken,
        needs: tuple[str, ...],
        station: Station,
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
            station,
            needs,
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
            acts=(
                Read(
                    what="insulation",
                    between=(Place(skin="conductor"), *EARTH_AND_REST),
                    far=self._cut_open,
                ),
            ),
        )

    def _continuity(self, taken: Taken, needs: Sequence[str], station: Station) -> Step:
        limit = self.rules.number("continuity.limit_ohm")
        return Step(
            f"test.{taken}.continuity",
            "Continuity, core by core" if len(self.cores) > 1 else "Continuity",
            "test",
            station,
            tuple(needs),
            reading=Reading(
                tuple(
                    Gate(
                        f"core-{c}",
                        f"core {c}",
                        "Ω",
                        most=self.through_ohm.get(c, limit + self.own_ohm.get(c, 0.0)),
                        instrument="low-ohm-meter",
                    )
                    for c in self.cores
                ),
                taken=taken,
            ),
            text=(
                "End to end, each core to its own name: this is the core map too. Null the leads first."
                if len(self.cores) > 1
                else "End to end. Null the leads first."
            ),
            tools=("low-ohm-meter",),
            acts=tuple(
                Read(
                    what="continuity",
                    between=(Place("A", c, "conductor"), Place("B", c, "conductor")),
                    most_mohm=1000 * self.through_ohm.get(c, limit + self.own_ohm.get(c, 0.0)),
                )
                for c in self.cores
            ),
        )

    @property
    def _cut_open(self) -> bool:
        """Whether its readings ask that the far ends are off and apart."""
        return bool(self.joined)

    def _insulation(self, taken: Taken, needs: Sequence[str], station: Station) -> Step:
        volts = self.insulation_v
        limit = self.rules.number("insulation.limit_mohm")
        others = "the rest" if len(self.cores) > 1 else "earth"
        gates = (
            *tuple(
                Gate(f"core-{c}", f"core {c} to {others}", "MΩ", least=limit, instrument="insulation-tester")
                for c in self.cores
            ),
            Gate("temperature", "cable", "°C", required=False, instrument="thermometer"),
        )
        return Step(
            f"test.{taken}.insulation",
            f"Insulation resistance at {volts:g} V DC",
            "test",
            station,
            tuple(needs),
            reading=Reading(gates, taken=taken),
            text=(
                f"{'Each core against all others and earth' if len(self.cores) > 1 else 'Against earth'}, the"
                " far ends off and apart."
            ),
            caution="Discharge after every reading.",
            tools=("insulation-tester",),
            acts=tuple(
                Read(what="insulation", between=(Place(core=c, skin="conductor"), *EARTH_AND_REST), far=True)
                for c in self.cores
            ),
        )
