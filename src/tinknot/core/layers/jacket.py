"""A damaged jacket made whole again: the place dressed, the hole filled, a sleeve or tape over it; and its
proofs."""

from dataclasses import dataclass, replace
from typing import ClassVar

from tinknot.core.acts import Look, Place, Remove
from tinknot.core.facts import DONE, MEASURED, Fact
from tinknot.core.layers import batches, gates
from tinknot.core.layers.contract import Fault, Layer, Mend, Minutes, Step
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.gates import Procedure
from tinknot.core.layers.proofs import SEEN, Proofs
from tinknot.core.layers.surfaces import roughening
from tinknot.core.rulebook import RuleBook

INSTEAD = Mend(
    "This is no repair any more: choose a straight joint on the card, measure both ends and plan again",
    "remake",
)


@dataclass(frozen=True)
class DamageDressed(Layer):
    """The damaged place cut clean and looked at. `seen`: what lies open in it, in words; `holed`: the
    jacket is through."""

    rules: RuleBook
    span_mm: tuple[float, float]
    seen: str
    holed: bool

    def work(self) -> tuple[Step, ...]:
        """Dressed, then looked at by daylight or lamp: this decides whether it may be repaired at all."""
        dress = (
            "Cut loose pieces away, round the corners of the hole, leave no edge that can tear on."
            if self.holed
            else "Pare raised edges off level with the jacket. Do not cut deeper than the scratch."
        )
        return (
            Step(
                f"cut.{self.id}",
                "Dress the damaged place",
                "cut",
                "cut",
                needs=(MEASURED,),
                text=dress,
                caution="The knife goes along the cable, never toward the cores.",
                focus_mm=self.span_mm,
                acts=(Remove(at=Place(span_mm=self.span_mm), what="damage", mm=None, datum="cable-end"),),
            ),
            Step(
                f"inspect.{self.id}",
                "Look how deep it goes",
                "inspect",
                "build",
                needs=(Fact("cut", Place(skin="damage")),),
                look=f"{self.seen}. Dry. No core, no screen, no insulation seen or hurt.",
                fails=(
                    "A core or screen is seen, or a wire of the armour is broken: stop, this needs a joint."
                ),
                focus_mm=self.span_mm,
                photo=True,
                acts=(Look(at=Place(skin="damage", span_mm=self.span_mm)),),
            ),
        )

    def minutes(self) -> Minutes:
        """Cut clean and looked at."""
        return Minutes(self.rules.number("time.end_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Deeper than it looked, or wet."""
        return (
            Fault(
                "deeper",
                "A core, a screen or a broken armour wire is seen",
                ("the damage goes deeper than it was graded",),
                (INSTEAD,),
                early=True,
            ),
            Fault(
                "wet",
                "It is wet under the jacket",
                ("water has run in along the cable",),
                (Mend("Dried out, and the insulation proved again", "again"), INSTEAD),
                early=True,
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """To cut and to see."""
        return ("hooked knife", "lamp")


@dataclass(frozen=True)
class EdgesRoughened(Layer):
    """Sound jacket on both sides of the damage roughened for what seals there (`of`), before anything lies in
    the hole that its dust would fall on."""

    rules: RuleBook
    reach_mm: float
    of: str

    def work(self) -> tuple[Step, ...]:
        """Both sides."""
        return tuple(
            roughening(
                f"surface.{self.of}.{e}",
                f"Roughen the jacket, side {e}",
                self.rules,
                self.reach_mm,
                at=Place(e, skin="sheath"),
                flexes=False,
                batch=batches.SURFACE_JACKET,
                needs=(Fact("looked", Place(skin="damage")),),
                label="from the damage",
                caution="Keep a cloth over the hole meanwhile: the dust conducts and keeps water.",
            )
            for e in "AB"
        )


@dataclass(frozen=True)
class RepairSleeve(CoverSleeve):
    """A wrap-around sleeve over the damage and well onto sound jacket on both sides."""

    skin: ClassVar[str] = "jacket"
    edge: ClassVar[str] = "the damage"
    past: ClassVar[str] = "beyond"

    def _surfaces(self) -> tuple[Step, ...]:
        """Both edges of the place, roughened before, wiped clean."""
        return tuple(
            replace(s, title=f"Wipe the jacket, side {s.end}")
            for s in (self._wiped_on(e.name) for e in self.ends)
        )


def jacket_procedure(proofs: Proofs, dressed: Fact, *, hazardous: bool) -> Procedure:
    """Gates and proofs of a repair: nothing is parked, no core is opened; insulation before it is closed and
    after. `dressed`: what says that it may be repaired."""
    r = proofs.rules
    return gates.procedure(
        r,
        (
            *gates.begin(
                r,
                "Measure the damage and the jacket beside it once more.",
                hazardous=hazardous,
                caution=(
                    "Only the jacket is worked on, yet a knife slips. Defer to the local code and the permit."
                ),
            ),
            proofs.together("before", (dressed,)),
            gates.before_closing(
                r,
                "Before it is closed",
                "Last look into the damage. Take a photograph.",
                "Clean, dry, nothing sharp; the reading is noted.",
            ),
            proofs.together("after", (DONE,)),
            gates.proved(
                r,
                "It is cold, closed at both edges, and its readings stand.",
                "Both edges closed all round; nothing stands off.",
            ),
            *gates.end(
                r,
                "Print the label and fix it beside the repair.",
                "Release the repair",
                "Take away what damaged it, or shield it.",
            ),
        ),
        SEEN,
    )
