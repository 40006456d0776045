"""What a moulded part goes over, and the gates and proofs of it."""

from dataclasses import dataclass
from typing import Literal

from tinknot.core.acts import Bend, Join, Look, Note, Place, Read, Remove, Thing, Wipe
from tinknot.core.facts import COUNTED, DONE, MEASURED, Fact, of
from tinknot.core.figures import LEAST, mm
from tinknot.core.layers import gates
from tinknot.core.layers.contract import Batch, Fault, Gate, Layer, Mend, Minutes, Reading, Step, Taken
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.proofs import Proofs, read
from tinknot.core.rulebook import RuleBook

PLANES = ("up", "down", "to the left", "to the right")
FLEX = Batch("flex", "Bend it in four planes")
Beneath = Literal["build", "built", "legs", "step", "end"]
_WORDS: dict[Beneath, tuple[str, str, str]] = {
    "build": (
        "Build the fitting on",
        "By its own sheet, contacts crimped and proved. Nothing more can be threaded after it.",
        "The fitting is on",
    ),
    "built": (
        "Look at the fitting",
        "Clean, whole, its groove free. Clamp and contacts are good.",
        "It is good",
    ),
    "legs": (
        "Take the sheath off to where the legs begin",
        "Ring it, split it, no leg nicked. Dress the legs the way they will lie.",
        "Legs are free",
    ),
    "step": (
        "Make good what the part goes over",
        "What lies under it is joined or repaired and proved by its own record.",
        "It is good",
    ),
    "end": ("Cut the end square", "Square and dry, no strand outside; the end is dead and stays so.", "Cut"),
}


@dataclass(frozen=True)
class Underneath(Layer):
    """What the part goes over: `built` once the part is threaded, or only looked at. `braid`: what holds a
    braid on the fitting, in words; empty where there is none; `threaded`: the part is threaded over the cable
    first; `off_mm`: how much sheath comes off for the legs at least."""

    rules: RuleBook
    what: Beneath
    built: bool
    braid: str = ""
    threaded: bool = False
    off_mm: float = 0.0

    def work(self) -> tuple[Step, ...]:
        """Made; then the braid banded on."""
        title, text, action = _WORDS[self.what]
        if self.what == "legs":
            text = f"At least {mm(self.off_mm, LEAST):g} mm from where the legs end. {text}"
        cut = self.what in ("legs", "end")
        found = [
            *(self._clean() if self.threaded else ()),
            Step(
                f"join.{self.id}",
                title,
                "cut" if cut else "join" if self.built else "inspect",
                "cut" if cut else "build",
                needs=(MEASURED, COUNTED),
                text=text,
                action=action,
                end="A",
                acts=(
                    Remove(at=Place("A"), what="sheath", mm=self.off_mm, datum="cable-end")
                    if self.what == "legs"
                    else Note(at=Place("A")),
                ),
                makes=(of("made", self.id),),
            ),
        ]
        if self.braid:
            found.append(
                Step(
                    f"bond.{self.id}",
                    f"Fix the braid on the fitting with {self.braid}",
                    "bond",
                    "build",
                    needs=(of("made", self.id),),
                    text="Strands evenly round it, none under the groove's edge, cut flush.",
                    look="Tight, it cannot be turned by hand; no whisker.",
                    end="A",
                    photo=True,
                    acts=(
                        Join(
                            at=Place("A"),
                            thing=Thing(f"{self.id}-band", "band", metal=True),
                            ends=(Place("A", skin="screen"), Place("A", skin="fitting")),
                            how="clamped",
                        ),
                        Look(at=Place("A", skin="screen")),
                    ),
                )
            )
        return tuple(found)

    def _clean(self) -> tuple[Step, ...]:
        """The cable wiped, before the part is threaded over it."""
        return (
            Step(
                "clean.A",
                "Wipe the cable clean",
                "surface",
                "cut",
                needs=(MEASURED,),
                text="Dirt, water and grease off, as far back as the part will be slid.",
                caution="What is threaded on takes the dirt along under its adhesive.",
                end="A",
                acts=(Wipe(at=Place("A", skin="sheath")),),
            ),
        )

    def minutes(self) -> Minutes:
        """As an end is made."""
        return Minutes(self.rules.number("time.end_min"))

    def faults(self) -> tuple[Fault, ...]:
        """It is not good."""
        return (
            Fault(
                "not-good",
                "What the part goes over is not good",
                ("nicked, loose or dirty",),
                (Mend("Make it good", "again"), END_AGAIN),
                early=True,
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """To make it."""
        return ("tools by the fitting's sheet",) if self.what == "build" else ()


_WHOLE = Gate("whole", "fitting to the far end's screen", "mΩ", instrument="low-ohm-meter")


def boot_procedure(
    proofs: Proofs,
    *,
    beneath: Fact,
    threaded: bool,
    hazardous: bool,
    state: str,
    mandrel_mm: float | None,
    by_hand: bool,
    screen_mohm: float | None,
    good_for: str,
) -> gates.Procedure:
    """Gates and proofs of a moulded part. `beneath`: what it goes over is good; `screen_mohm`: the most a
    screen may read to the fitting, None where there is none; `by_hand`: a thin cable is bent by hand;
    `good_for`: what its seal keeps out."""
    r, bent = proofs.rules, _planes(mandrel_mm, by_hand)
    last = (read("bend", "after"),) if bent else (DONE,)
    return gates.procedure(
        r,
        (
            *gates.begin(
                r,
                "Measure cable, fitting and legs once more.",
                hazardous=hazardous,
                title="Check the readings against what is there",
            ),
            *gates.counted(
                r, threaded, "Touch the part and count. Once what it goes over is made, it cannot be put on."
            ),
            *_screen(screen_mohm, beneath),
            *_whole(screen_mohm, "before", (beneath,)),
            proofs.together("before", (beneath,)),
            gates.before_closing(
                r,
                "Before it is closed",
                "Last look at what the part will hide. Take a photograph.",
                "Right way round, clean, whole, the readings are noted.",
                needs=(Fact("tried"),),
            ),
            *bent,
            proofs.together("after", last),
            *_whole(screen_mohm, "after", last),
            gates.proved(
                r,
                f"It is {state}, closed at every mouth, and its readings stand.",
                "A line of adhesive all round every mouth, nothing parted.",
            ),
            *gates.end(
                r,
                f"Print the label and fix it beside the part. Write on it: {good_for}.",
                "Release it",
                "Relieve it of pull.",
            ),
        ),
        _SEEN,
    )


def _screen(most_mohm: float | None, beneath: Fact) -> tuple[Step, ...]:
    """Screen to fitting, before the part hides where they meet."""
    if most_mohm is None:
        return ()
    return (
        Step(
            "test.before.screen",
            "Screen to fitting",
            "test",
            "build",
            needs=(beneath,),
            reading=Reading(
                (
                    Gate(
                        "screen",
                        "screen to fitting",
                        "µΩ",
                        most=1000 * most_mohm,
                        instrument="low-ohm-meter",
                    ),
                ),
                taken="before",
            ),
            text="Four wires: from sound braid to bare metal of the fitting.",
            acts=(
                Read(
                    what="resistance",
                    between=(Place("A", skin="screen"), Place("A", skin="fitting")),
                    leads=(Place("A", skin="fitting"),),
                ),
            ),
            tools=("low-ohm-meter",),
        ),
    )


def _whole(most_mohm: float | None, taken: Taken, needs: tuple[Fact, ...]) -> tuple[Step, ...]:
    """The screen from the fitting to the cable's other end, where both can still be reached: before the part
    is closed over it, and once it was shrunk and bent."""
    if most_mohm is None:
        return ()
    after = taken == "after"
    return (
        Step(
            f"test.{taken}.whole",
            "Screen, fitting to the other end" + (", once more" if after else ""),
            "test",
            "prove" if after else "build",
            needs=needs,
            reading=Reading((_WHOLE,), taken=taken),
            text="Four wires: from the fitting's face to the screen at the cable's other end.",
            look="No more than a tenth above what was read before." if after else "",
            fails="The braid has parted at the fitting: off with the part." if after else "",
            acts=(Read(what="resistance", between=(Place(skin="screen"), Place("A", skin="fitting"))),),
            tools=("low-ohm-meter",),
        ),
    )


def _planes(mandrel_mm: float | None, by_hand: bool) -> tuple[Step, ...]:
    """Bent in four planes, each its own reading and picture; a thin cable by hand."""
    if mandrel_mm is None:
        return ()
    return tuple(
        Step(
            f"test.after.flex-{n}",
            f"Bend it {plane}",
            "test",
            "prove",
            needs=(DONE,),
            reading=Reading(
                (
                    Gate("bent", "bent to", "°", 90.0, tolerance=15.0)
                    if by_hand
                    else Gate("mandrel", "mandrel", "mm", least=mandrel_mm, instrument="tape"),
                ),
                taken="after",
            ),
            text=(
                "By hand, gently, to 90°."
                if by_hand
                else f"Round a mandrel of {mm(mandrel_mm):g} mm, to 90°, slowly."
            ),
            look="Nothing parted at a mouth, no crack, the line whole.",
            fails="Parted: off with it.",
            acts=(Bend(),),
            makes=(read("bend", "after"),),
            batch=FLEX,
            photo=True,
        )
        for n, plane in enumerate(PLANES, 1)
    )


_SEEN = (
    Fault(
        "insulation-low",
        "The insulation reads too low",
        ("damp or dirt", "the far ends wet or touching", "a strand across"),
        (Mend("Dry and clean it and the far ends, measure again", "again"), END_AGAIN),
        at=(read("cores apart", "before"), read("cores apart", "after")),
    ),
    Fault(
        "screen-high",
        "The screen reads too high to the fitting",
        ("band loose", "paint or dirt under it", "clips not on bright metal"),
        (Mend("Clean it and fix it once more", "again"), END_AGAIN),
        at=(read("resistance", "before"),),
    ),
    Fault(
        "screen-parted",
        "The screen reads higher than before the part was closed",
        ("the braid was pulled out of its hold", "clips not on bright metal"),
        (Mend("Clean where the clips lie and read once more", "again"), END_AGAIN),
        at=(read("resistance", "after"),),
    ),
    Fault(
        "parted",
        "It parted at a mouth when it was bent",
        ("surface not clean", "bent before it was cured", "mixed badly"),
        (Mend("Cut the part off and put a new one on", "new-part"),),
        at=(read("bend", "after"),),
    ),
)  # what a test can tell
