"""Gates and proofs of a lead on a screen."""

from dataclasses import dataclass

from tinknot.core.acts import Attest, Place, Read, TakeOff
from tinknot.core.layers.contract import Fault, Gate, Mend, Reading, Station, Step, Taken
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.procedure import Procedure


@dataclass(frozen=True)
class GroundProcedure(Procedure):
    """No core is opened: the screen is proved dead, what lies under it is proved before it is hidden and
    after, and the lead is read to the screen. `bare`: steps after which the screen lies bare and is good;
    `lead_uohm`: the most the lead may read to the screen, µΩ; `elsewhere`: the screen has an earth besides
    this lead; `tried`: steps by which it is known how what goes over it lies."""

    bare: tuple[str, ...] = ()
    lead_uohm: float = 0.0
    elsewhere: bool = False
    tried: tuple[str, ...] = ()

    def work(self) -> tuple[Step, ...]:
        """Isolated, dead, measured, tested, closed, tested, released."""
        return (
            *self._begin(
                "Measure the sheath and the scrap once more.",
                caution="Trip, alarm and intrinsically safe loops: with their owner's consent only.",
                identify=(
                    "Identify the cable, have every circuit in it released, isolate, lock, prove dead and"
                    " prove the prover."
                ),
            ),
            *self._all_threaded(
                "Touch every part and count. Once the lead is on, none of them can be put on."
            ),
            self._to_screen("before", self.bare, "build"),
            self._hold(
                Step(
                    "before-closing",
                    "Before it is closed",
                    "inspect",
                    "build",
                    (*(("parked",) if self.parked else ()), "test.before.insulation", *self.tried),
                    text="Last look at the bare screen. Take a photograph.",
                    look="Screen bright and whole, no whisker, the reading is noted.",
                    photo=True,
                )
            ),
            Step(
                "test.after.screen",
                "Lead to screen",
                "test",
                "prove",
                self.outer_done,
                reading=Reading(
                    (
                        Gate(
                            "lead",
                            "lead to screen",
                            "µΩ",
                            most=round(self.lead_uohm),
                            instrument="low-ohm-meter",
                        ),
                    ),
                    taken="after",
                ),
                text="Four wires: from the lead's end to sound screen, as near as it can be reached.",
                acts=(Read(what="resistance", between=(Place("A", skin="screen"),)),),
                tools=("low-ohm-meter",),
            ),
            self._to_screen("after", self.outer_done, "prove"),
            self._hold(
                Step(
                    "sealed-and-proved",
                    "Sealed and proved",
                    "inspect",
                    "prove",
                    ("test.after.screen", "test.after.insulation"),
                    text="It is cold, closed, and its readings stand. Take the bridge off.",
                    look="Both mouths closed all round, the lead cannot be moved in them.",
                    acts=(
                        *((TakeOff(called="screen bridge"),) if self.elsewhere else ()),
                        Attest(what="proved"),
                    ),
                )
            ),
            *self._end(
                "Print the label, with where the screen is earthed, and fix it beside the lead.",
                "Release it",
                "Relieve the lead of any pull.",
            ),
        )

    def _screen_dead(self, needs: str) -> tuple[Step, ...]:
        """Before it is cut open."""
        bridge = " Bridge it to local earth while it is worked on." if self.elsewhere else ""
        return (self._dead(needs, bridge),)

    def faults(self) -> tuple[Fault, ...]:
        """What a test can tell."""
        again = Mend("Clean the clips, null the leads, measure again", "again")
        return (
            Fault(
                "lead-high",
                "The lead reads too high to the screen",
                ("clips not on bright metal", "lead not soldered or held through"),
                (again, END_AGAIN),
                steps=("test.after.screen",),
            ),
            Fault(
                "insulation-low",
                "Cores read low to the screen",
                ("a strand pushed through", "insulation sunk in under heat", "damp"),
                (
                    Mend("Dry and clean it and the far ends, measure again", "again"),
                    END_AGAIN,
                ),
                steps=("test.before.insulation", "test.after.insulation"),
            ),
        )

    def _to_screen(self, taken: Taken, needs: tuple[str, ...], station: Station) -> Step:
        """Insulation of all cores together to the screen."""
        return self._together(
            taken,
            needs,
            station,
            "Insulation to the screen",
            "All cores together against the screen, equipment off both ends.",
            "cores to screen",
        )
