"""Gates, tests and holds of a heat-trace connection."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from tinknot.core.acts import Look, Note, Place, Read
from tinknot.core.facts import Fact
from tinknot.core.layers import gates
from tinknot.core.layers.contract import Fault, Gate, Layer, Minutes, Reading, Station, Step, Taken
from tinknot.core.layers.proofs import SEEN
from tinknot.core.layers.trace.opening import SAID
from tinknot.core.rulebook import RuleBook


@dataclass(frozen=True)
class TraceProcedure(Layer):
    """Gates and proofs around a leaflet's layers. `parked`, `joined`, `core_proofs` and `outer_done` are ids
    of the steps the holds wait for. `test_v`: insulation test voltage, V DC; `live`: it ends on terminals;
    `through`: what is measured from side to side of a splice; `mounted_first`: the cable is fixed to the pipe
    before its end is laid open; `label`: where the leaflet has it. `landing`: by end, what its terminals wait
    for; `apart`: the ends that are tested and closed by themselves, with what lays them open."""

    around = True
    rules: RuleBook
    parked: tuple[str, ...] = ()
    joined: tuple[str, ...] = ()
    core_proofs: tuple[str, ...] = ()
    outer_done: tuple[str, ...] = ()
    hazardous: bool = False
    mounted_first: bool = False
    test_v: float = 500.0
    live: bool = True  # whether it ends on terminals
    twisted: bool = False  # joined with the supply wires themselves, no terminals between
    through: tuple[str, ...] = ()
    ends: tuple[str, ...] = ("A",)
    landing: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    apart: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    label: str = ""
    braid_always: bool = False  # read with every test, as work begun by earlier rules has it

    def work(self) -> tuple[Step, ...]:
        """Tested as found, built, tested before closing and after, signed."""
        parked = (
            (
                gates.hold(
                    self.rules,
                    "parked",
                    Step(
                        "parked",
                        "Everything is threaded on",
                        "inspect",
                        "park",
                        after=tuple(self.parked),
                        text=(
                            "Touch every parked part and count. Once the wires are joined none of them can be"
                            " put on."
                        ),
                    ),
                ),
            )
            if self.parked
            else ()
        )
        through = (self._through("before", ("connectors",), "build"),) if self.through else ()
        tests = (*(s.id for s in through), "test.before.insulation")
        mount = (
            (
                Step(
                    "mount",
                    "Fix the cable to the pipe first",
                    "inspect",
                    "measure",
                    after=("isolated",),
                    look="Fixed with its own tape, loop left free; no metal band over the cable.",
                    fails="Fix it before the end is laid open.",
                    acts=(Note(),),
                ),
            )
            if self.mounted_first
            else ()
        )
        return (
            gates.hold(
                self.rules,
                "isolated",
                Step(
                    "isolated",
                    "Isolate and prove dead",
                    "gate",
                    "card",
                    after=(),
                    text=(
                        "Identify the circuit, isolate every feed, lock, prove dead and prove the prover. The"
                        " cable is live over its whole length."
                    ),
                    caution="Defer to the local code and the permit. If in doubt, stop.",
                ),
            ),
            *gates.gas_test(self.rules, self.hazardous),
            self._trace_insulation(
                "found",
                ("gas-test",) if self.hazardous else ("isolated",),
                "measure",
                "Insulation as found",
            ),
            *mount,
            gates.hold(
                self.rules,
                "measured",
                Step(
                    "measured",
                    "Check the readings against the cable",
                    "measure",
                    "measure",
                    after=("receive", "test.found.insulation", *(s.id for s in mount)),
                    text=(
                        "Jacket, braid, inner jacket, core: as the plan has them, and the cable named on the"
                        " kit."
                        " Bend no tighter than the plan says."
                    ),
                ),
            ),
            *parked,
            *(self._braid_to_pipe(end, needs) for end, needs in self.landing.items()),
            *(step for end, needs in self.apart.items() for step in self._by_itself(end, needs)),
            gates.hold(
                self.rules,
                "connectors",
                Step(
                    "connectors",
                    "Look at every connection" if self.live or self.through else "Look at the bare end",
                    "inspect",
                    "build",
                    after=(*self.joined, *self.core_proofs),
                    look="No stray strand; braid clear of core and bus wires, bus wires clear of each other.",
                    fails="Anything in doubt is done again.",
                    photo=True,
                    acts=tuple(
                        Look(at=Place(core=c, skin="connector")) for c in self.through if c != "braid"
                    ),
                ),
            ),
            *through,
            self._trace_insulation(
                "before",
                (through[0].id,) if through else ("connectors",),
                "build",
                "Insulation before closing",
            ),
            gates.hold(
                self.rules,
                "before-closing",
                Step(
                    "before-closing",
                    "Before it is closed",
                    "inspect",
                    "build",
                    after=("connectors", *tests),
                    text="Last look. Take a photograph.",
                    look="Keep-clear as it was, tests noted, nothing sharp.",
                    photo=True,
                ),
            ),
            self._trace_insulation(
                "after",
                self.outer_done,
                "prove",
                "Insulation when closed",
            ),
            Step(
                "protection",
                "Residual-current protection",
                "inspect",
                "prove",
                after=("test.after.insulation",),
                text=(
                    "Then what no reading told of the joins: voltage at the far end where it can be reached,"
                    " and the steady current against the sheet's figure at the pipe's temperature."
                ),
                look=(
                    "Residual-current protection is in the circuit, of the rated tripping current, and trips"
                    " on its test button."
                ),
                fails="None, or it does not trip: the circuit stays locked.",
                acts=(Note(),),
            ),
            gates.hold(
                self.rules,
                "sealed-and-proved",
                Step(
                    "sealed-and-proved",
                    "Sealed and proved",
                    "inspect",
                    "prove",
                    after=(*self.outer_done, "test.after.insulation", "protection"),
                    text="Cold or cured, closed, fixed to the pipe, loop within its bend radius.",
                    look="Readings within their limits and kept for the next visit.",
                ),
            ),
            Step(
                "label",
                "Fix the label",
                "label",
                "sign",
                after=("sealed-and-proved",),
                text=self.label
                or "Print the label and fix it beside the connection; mark the insulation outside.",
                acts=(gates.LABELLED,),
            ),
            gates.hold(
                self.rules,
                "released",
                Step(
                    "released",
                    "Release it",
                    "sign",
                    "sign",
                    after=("sealed-and-proved", "label"),
                    text="Signed by a second person, who has read the record.",
                ),
            ),
        )

    def minutes(self) -> Minutes:
        """Setting up, isolating, measuring, labelling, signing."""
        return Minutes(self.rules.number("time.base_min"))

    def tools(self) -> tuple[str, ...]:
        """Proving."""
        return gates.TOOLS

    def faults(self) -> tuple[Fault, ...]:
        """What a test can tell, each where it is taken."""
        low, through = SEEN[:2]
        tests = tuple(f for s in self.work() for f in s.makes if f.thing == "bus wires")
        return (replace(low, at=tests), *((through,) if self.through else ()))

    def _by_itself(self, end: str, needs: tuple[str, ...]) -> tuple[Step, ...]:
        """An end that is neither joined nor landed: tested and looked at before it is closed, whatever the
        other end has come to."""
        test = self._trace_insulation("", needs, "build", f"Insulation before {end} is closed", end=end)
        look = Step(
            f"look.{end}",
            f"Look at the bare end {end}",
            "inspect",
            "build",
            after=(test.id,),
            end=end,
            look="No stray strand; braid clear of core and bus wires, bus wires clear of each other.",
            fails="Anything in doubt is done again.",
            photo=True,
            acts=(Look(at=Place(end, skin="conductor")),),
        )
        return test, look

    def _braid_to_pipe(self, end: str, needs: tuple[str, ...]) -> Step:
        """While the braid is still off the earth: landed, it reads the earth and no more the jacket."""
        return Step(
            f"test.braid.{end}",
            f"Braid to pipe, {self.test_v:g} V DC",
            "test",
            "build",
            after=needs,
            end=end,
            text="The braid against the metal pipe, before it is landed: is the jacket whole?",
            caution="Discharge after the reading: the cable holds its charge.",
            reading=Reading((self._braid_gate(),)),
            tools=("insulation-tester",),
            acts=(Read(what="insulation", between=(Place(end, skin="screen"),)),),
        )

    def _braid_gate(self) -> Gate:
        limit = self.rules.number("trace.limit_mohm")
        return Gate(
            "braid-pipe", "braid to pipe", "MΩ", least=limit, excuse=True, instrument="insulation-tester"
        )

    def _trace_insulation(
        self, taken: Taken, needs: tuple[str, ...], station: Station, title: str, end: str = ""
    ) -> Step:
        limit = self.rules.number("trace.limit_mohm")
        # while the braid is off the earth
        free = taken == "found" or not self.landing or self.braid_always
        then = "; then the braid against the pipe" if free and not end else ""
        gates = [Gate("bus-braid", "bus wires to braid", "MΩ", least=limit, instrument="insulation-tester")]
        gates += [self._braid_gate()] if then else []
        return Step(
            f"test.{taken or f'end.{end}'}.insulation",
            f"{title}, {self.test_v:g} V DC",
            "test",
            station,
            after=(*needs, *(() if taken == "found" else self._square(end))),
            reading=Reading(
                (*gates, Gate("temperature", "cable", "°C", required=False, instrument="thermometer")),
                taken=taken,
            ),
            end=end,
            text=(
                f"Both bus wires together against the braid{then}. Supply and controller off and apart; the"
                f" far end closed, or square, dry and clear of everything. {self._clip(taken, end)}"
            ),
            caution="Discharge after every reading: the cable holds its charge.",
            tools=("insulation-tester",),
            acts=(
                Read(what="insulation", between=(Place(end, skin="conductor"), Place(end, skin="screen"))),
            ),
            makes=(Fact("read", Place(end), "bus wires", taken),),
        )

    def _clip(self, taken: Taken, end: str) -> str:
        """Where the leads go: what is bare then."""
        if taken == "found":
            return "Clip where its wires are bare or landed."
        if taken != "after":
            landed = self.live and not end
            if landed and self.twisted:
                return "Clip to the joins, the supply wires off and apart at their other end."
            return f"Clip to the {'terminals, the supply wires taken off' if landed else 'bare wires here'}."
        if self.live and self.twisted:
            return "Clip to the supply wires at their other end, where they are off and apart."
        at = "the box's terminals" if self.live else "the fed end, in its box"
        return f"Clip at {at}, the supply wires taken off."

    def _square(self, end: str) -> tuple[str, ...]:
        """The other ends of the same cable, cut square and dry, before an insulation test from this one."""
        return () if self.through or not end else tuple(f"cut.square.{e}" for e in self.ends if e != end)

    def _through(self, taken: Taken, needs: tuple[str, ...], station: Station) -> Step:
        limit = self.rules.number("continuity.limit_ohm")
        return Step(
            f"test.{taken}.continuity",
            "Continuity through it",
            "test",
            station,
            after=needs,
            reading=Reading(
                tuple(
                    Gate(
                        f"core-{c}",
                        SAID.get(c, c),
                        "Ω",
                        most=limit,
                        instrument="low-ohm-meter",
                    )
                    for c in self.through
                ),
                taken=taken,
            ),
            text=(
                f"{'Each bus wire and the braid' if 'braid' in self.through else 'Each bus wire'}, across its"
                " join while both sides lie bare. Null the leads first."
            ),
            tools=("low-ohm-meter",),
            acts=tuple(
                Read(what="continuity", between=(Place("A", c, "conductor"), Place("B", c, "conductor")))
                for c in self.through
            ),
        )
