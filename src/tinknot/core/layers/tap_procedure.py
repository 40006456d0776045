"""Gates and proofs around a tap, or around an earthing for work on a line."""

from tinknot.core.facts import CONNECTED, taken_off
from tinknot.core.layers import gates
from tinknot.core.layers.contract import Step
from tinknot.core.layers.proofs import SEEN, Proofs


def tap_procedure(proofs: Proofs, *, earthing: bool, hazardous: bool) -> gates.Procedure:
    """Holds that a tap has: nothing is parked, nothing closed over it. The tap's own cable is read alone,
    before it hangs on a network that nobody isolates; once connected, the parted heads are its proof. An
    earthing reads no core."""
    r, checks = proofs.rules, "Read the sizes once more: a piercing connector fits only its own range."
    square = tuple(taken_off("B", "core", c) for c in proofs.cores)
    tests = () if earthing else (proofs.alone(square),)
    return gates.procedure(
        r,
        (
            _isolated(proofs, earthing),
            *gates.gas_test(r, hazardous),
            gates.measured(r, "", "Check main and tap against the plan", checks),
            *tests,
            gates.connectors(
                r,
                proofs.cores,
                title="Look at every connector",
                look="Head parted, cores seated, core tapped to its own core.",
                fails="Any connector in doubt comes off; a new one beside it.",
            ),
            gates.proved(
                r,
                "Every core is short-circuited and earthed. Only now the line may be touched."
                if earthing
                else "Every connector stands, every open end is capped.",
                "Nothing loose, nothing strained." if earthing else "Nothing bare, nothing strained.",
                title="Fitted and proved",
                needs=(CONNECTED,),
            ),
            *gates.end(
                r,
                "Print the label and fix it at the tap.",
                "Hand the earthed line over" if earthing else "Release the tap",
                "After the work it is taken off line end first, earth end last."
                if earthing
                else "Relieve the tap's strain. Voltage at its far end, once it is live, is its last proof.",
            ),
        ),
        SEEN,
    )


def _isolated(proofs: Proofs, earthing: bool) -> Step:
    if earthing:
        return gates.isolated(
            proofs.rules,
            "Tested dead, permit in hand",
            "Permit to work read and signed. Prove the line dead where it is earthed, and prove the prover.",
            "Earth end first, line end last; taken off the other way round.",
        )
    return gates.isolated(
        proofs.rules,
        "Isolate and prove dead",
        "Identify the line, isolate every feed, lock, prove dead and prove the prover. Discharge.",
    )
