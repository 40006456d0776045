"""Gates and proofs of a lead on a screen."""

from tinknot.core.acts import Place, Read, TakeOff
from tinknot.core.facts import COUNTED, DONE, Fact
from tinknot.core.layers import gates
from tinknot.core.layers.contract import Fault, Gate, Mend, Reading, Step, Taken
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.proofs import AGAIN, Proofs, read

BRIDGED = " Bridge it to local earth while it is worked on."
_SEEN = (
    Fault(
        "lead-high",
        "The lead reads too high to the screen",
        ("clips not on bright metal", "lead not soldered or held through"),
        (Mend(AGAIN, "again"), END_AGAIN),
        at=(read("resistance", "after"),),
    ),
    Fault(
        "insulation-low",
        "Cores read low to the screen",
        ("a strand pushed through", "insulation sunk in under heat", "damp"),
        (Mend("Dry and clean it and the far ends, measure again", "again"), END_AGAIN),
        at=(read("cores apart", "before"), read("cores apart", "after")),
    ),
)


def ground_procedure(
    proofs: Proofs, *, lead_uohm: float, elsewhere: bool, threads: bool, hazardous: bool
) -> gates.Procedure:
    """No core is opened: the screen is proved dead, what lies under it is proved before it is hidden and
    after, and the lead is read to the screen. `lead_uohm`: the most the lead may read to the screen, µΩ;
    `elsewhere`: the screen has an earth besides this lead; `threads`: something waits on the cable."""
    r, looked = proofs.rules, Fact("looked", Place("A", skin="screen"))
    return gates.procedure(
        r,
        (
            *gates.begin(
                r,
                "Measure the sheath and the scrap once more.",
                hazardous=hazardous,
                screen=(gates.screen_dead(BRIDGED if elsewhere else ""),),
                caution="Trip, alarm and intrinsically safe loops: with their owner's consent only.",
                identify=(
                    "Identify the cable, have every circuit in it released, isolate, lock, prove dead and"
                    " prove the prover."
                ),
            ),
            *gates.counted(
                r, threads, "Touch every part and count. Once the lead is on, none of them can be put on."
            ),
            _to_screen(proofs, "before", looked),
            gates.before_closing(
                r,
                "Before it is closed",
                "Last look at the bare screen. Take a photograph.",
                "Screen bright and whole, no whisker, the reading is noted.",
                needs=(COUNTED, Fact("tried")),
            ),
            _lead_to_screen(lead_uohm, elsewhere),
            _to_screen(proofs, "after", DONE),
            gates.proved(
                r,
                "It is cold, closed, and its readings stand.",
                "Both mouths closed all round, the lead cannot be moved in them.",
            ),
            *gates.end(
                r,
                "Print the label, with where the screen is earthed, and fix it beside the lead.",
                "Release it",
                "Relieve the lead of any pull.",
            ),
        ),
        _SEEN,
    )


def _lead_to_screen(uohm: float, bridged: bool) -> Step:
    """What was joined for the work comes off first, or it is what is read."""
    off = (TakeOff(called=gates.BRIDGE),) if bridged else ()
    return Step(
        "test.after.screen",
        "Lead to screen",
        "test",
        "prove",
        needs=(DONE,),
        reading=Reading(
            (Gate("lead", "lead to screen", "µΩ", most=round(uohm), instrument="low-ohm-meter"),),
            taken="after",
        ),
        text=("Take the bridge off. " if bridged else "")
        + "Four wires: from the lead's end to sound screen, as near as it can be reached.",
        acts=(
            *off,
            Read(what="resistance", between=(Place("A", skin="screen"),)),
        ),
        tools=("low-ohm-meter",),
    )


def _to_screen(proofs: Proofs, taken: Taken, need: Fact) -> Step:
    """Insulation of all cores together to the screen."""
    return proofs.together(
        taken,
        (need,),
        title="Insulation to the screen",
        text="All cores together against the screen, equipment off both ends.",
        label="cores to screen",
    )
