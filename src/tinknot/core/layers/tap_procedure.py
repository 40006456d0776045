"""Gates and proofs around a tap."""

from dataclasses import dataclass

from tinknot.core.acts import Look, Place
from tinknot.core.layers.contract import Step
from tinknot.core.layers.procedure import LABELLED, Procedure


@dataclass(frozen=True)
class TapProcedure(Procedure):
    """Gates and proofs of a tap, or of an earthing for work on a line."""

    earthing: bool = False

    def work(self) -> tuple[Step, ...]:
        """Holds that a tap has: nothing is parked, nothing closed over it."""
        done = self.core_proofs or ("connectors",)
        first = self._hold(
            Step(
                "isolated",
                "Tested dead, permit in hand" if self.earthing else "Isolate and prove dead",
                "gate",
                "card",
                (),
                text=(
                    "Permit to work read and signed. Prove the line dead where it is earthed, and prove the"
                    " prover."
                    if self.earthing
                    else (
                        "Identify the line, isolate every feed, lock, prove dead and prove the prover."
                        " Discharge."
                    )
                ),
                caution=(
                    "Earth end first, line end last; taken off the other way round."
                    if self.earthing
                    else "Defer to the local code and the permit. If in doubt, stop."
                ),
            )
        )
        tests = (
            ()
            if self.earthing
            else (
                self._continuity("after", (*done, "connectors"), "prove"),
                self._insulation("after", ("test.after.continuity",), "prove"),
            )
        )
        proved = tuple(t.id for t in tests) or done
        return (
            first,
            *self._gas_test(),
            self._hold(
                Step(
                    "measured",
                    "Check main and tap against the plan",
                    "measure",
                    "measure",
                    ("gas-test",) if self.hazardous else ("isolated",),
                    text="Read the sizes once more: a piercing connector fits only its own range.",
                )
            ),
            self._hold(
                Step(
                    "connectors",
                    "Look at every connector",
                    "inspect",
                    "build",
                    tuple(self.joined),
                    look="Head parted, cores seated, core tapped to its own core.",
                    fails="Any connector in doubt comes off; a new one beside it.",
                    photo=True,
                    pictured="connector",
                    acts=tuple(Look(at=Place(core=c, skin="connector")) for c in self.cores),
                )
            ),
            *tests,
            self._hold(
                Step(
                    "sealed-and-proved",
                    "Fitted and proved",
                    "inspect",
                    "prove",
                    (*done, "connectors", *proved),
                    text=(
                        "Every core is short-circuited and earthed. Only now the line may be touched."
                        if self.earthing
                        else "Every connector stands, every open end is capped."
                    ),
                    look="Nothing loose, nothing strained."
                    if self.earthing
                    else "Nothing bare, nothing strained.",
                )
            ),
            Step(
                "label",
                "Fix the label",
                "label",
                "sign",
                ("sealed-and-proved",),
                text="Print the label and fix it at the tap.",
                acts=(LABELLED,),
            ),
            self._hold(
                Step(
                    "released",
                    "Hand the earthed line over" if self.earthing else "Release the tap",
                    "sign",
                    "sign",
                    ("sealed-and-proved", "label"),
                    text=(
                        "Signed by a second person, who has read the record. After the work it is taken off"
                        " line end first, earth end last."
                        if self.earthing
                        else "Signed by a second person, who has read the record. Relieve the tap's strain."
                    ),
                )
            ),
        )
