"""What goes on single wires: sleeves over bus wires, pigtail and supply wires, ferrules on their ends; and
the braid drawn forward over what seals them."""

from dataclasses import dataclass

from tinknot.core.acts import Act, Join, LayOn, Look, Note, Place, Shrink, Thing, Tug, Wait
from tinknot.core.figures import mm
from tinknot.core.joint.leaflet import LeafletLayer, OnWire
from tinknot.core.layers.contract import Fault, Heat, Mend, Step
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.trace.opening import AtEnd, marked, told

ON_WIRE: dict[OnWire, str] = {
    "bus-1": "bus wire 1",
    "bus-2": "bus wire 2",
    "braid": "the pigtail",
    "supply": "each supply wire",
}
BUSES: tuple[OnWire, ...] = ("bus-1", "bus-2")


def wires_of(leaf: LeafletLayer) -> tuple[OnWire, ...]:
    """The wires a row is about, in their order; both bus wires where it does not say."""
    return tuple(w for w in ON_WIRE if w in (leaf.on or BUSES))


def said_wires(leaf: LeafletLayer) -> str:
    """The same in words."""
    names = [ON_WIRE[w] for w in wires_of(leaf)]
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def _wire(end: str, wire: OnWire) -> Place:
    if wire == "braid":
        return Place(end, skin="screen")
    return Place(end, wire if wire != "supply" else "")


@dataclass(frozen=True)
class WireSleeve(AtEnd):
    """Small tubes over single wires: shrunk one after the other, cold before the next goes over them; or
    plain sleeves slid on (`shrinks` false)."""

    leaf: LeafletLayer
    part_said: str
    shrinks: bool = False

    def work(self) -> tuple[Step, ...]:
        """Slid on, shrunk, looked at; they are thin, so that they cool while they are looked at."""
        x, e, i = self.leaf, self.end, self.id
        bare = x.length_mm
        leaves = f"{mm(bare):g} mm of each wire stay bare at its end." if bare else ""
        how = "Shrink one after the other, gently, from the core toward the end." if self.shrinks else ""
        cold = " Cold to the touch before anything goes over it." if self.shrinks else ""
        return (
            Step(
                f"seal.{i}",
                (x.title or f"Sleeve {said_wires(x)}, end {e}")[:60],
                "fit",
                "build",
                after=self.after,
                end=e,
                focus_mm=self.focus_mm,
                action="Shrunk" if self.shrinks else "Slid on",
                text=told(x.text or f"{self.part_said} over {said_wires(x)}, to its root.", leaves, how),
                caution=x.caution
                or ("They are thin: a hot wire melts its neighbour." if self.shrinks else ""),
                heat=Heat() if self.shrinks else None,
                tools=("heat-gun",) if self.shrinks else (),
                acts=tuple(self._put(w) for w in wires_of(x)),
            ),
            Step(
                f"inspect.{i}",
                f"Look at the sleeves, end {e}",
                "inspect",
                "build",
                after=(f"seal.{i}",),
                end=e,
                focus_mm=self.focus_mm,
                look=f"Snug on each wire, whole, no bare copper but its end.{cold}",
                fails="Split or short: off with it, a new one on.",
                acts=(Wait(until="cool"),) if self.shrinks else (Note(at=Place(e)),),
            ),
        )

    def _put(self, wire: OnWire) -> Act:
        at = _wire(self.end, wire)
        thing = Thing(f"{self.id}-{wire}", self.part_said)
        return Shrink(at=at, thing=thing) if self.shrinks else Note(at=at)

    def faults(self) -> tuple[Fault, ...]:
        """Heat on a thin wall."""
        again = Mend("Cut it off, slide a new one on", "again")
        return (
            Fault("sleeve-split", "A sleeve is split or scorched", ("too hot", "sharp strand"), (again,)),
        )

    def tools(self) -> tuple[str, ...]:
        """Heat, where they shrink."""
        return ("hot-air gun with reflector",) if self.shrinks else ()


@dataclass(frozen=True)
class Ferrules(AtEnd):
    """Ferrules pressed on wire ends, each tugged."""

    leaf: LeafletLayer
    part_said: str

    def work(self) -> tuple[Step, ...]:
        """One a wire."""
        x, e = self.leaf, self.end
        wires = [w for w in wires_of(x) if w != "supply"]
        bare = x.length_mm
        acts: list[Act] = []
        for w in wires:
            at = Place(e, skin="screen") if w == "braid" else Place(e, w, "conductor")
            thing = Thing(f"{self.id}-{w}", f"ferrule of {ON_WIRE[w]}", metal=True)
            acts += [Join(at=_wire(e, w), thing=thing, ends=(at,), how="crimped"), Tug(at=at)]
        return (
            Step(
                f"join.{self.id}",
                (x.title or f"Press ferrules on, end {e}")[:60],
                "join",
                "build",
                after=self.after,
                end=e,
                focus_mm=self.focus_mm,
                action="Pressed",
                text=told(
                    x.text or f"{self.part_said} on {said_wires(x)}. Press, then tug each.",
                    f"On {mm(bare):g} mm of bare wire." if bare else "",
                ),
                caution=x.caution or "All strands inside; the die of the ferrule's size.",
                look="Every strand to the ferrule's end, none outside; each holds.",
                fails="Loose: cut it off, strip anew, a new ferrule.",
                tools=("crimp-tool",),
                acts=tuple(acts),
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Pressed wrong."""
        again = Mend("Cut it off, a new ferrule", "again")
        return (
            Fault("ferrule-loose", "A ferrule comes off when tugged", ("wrong die",), (again, END_AGAIN)),
        )

    def tools(self) -> tuple[str, ...]:
        """Press."""
        return ("crimp tool and die",)


@dataclass(frozen=True)
class BraidForward(AtEnd):
    """At a closed end: the braid drawn forward over what seals the wires, twisted, trimmed, folded and taped
    so that no strand stands out; looked at before it is covered."""

    leaf: LeafletLayer
    part_said: str = "tape"

    def work(self) -> tuple[Step, ...]:
        """Forward, then looked at."""
        x, e, i = self.leaf, self.end, self.id
        return (
            Step(
                f"wrap.{i}",
                x.title or f"Draw the braid forward and tape it, end {e}",
                "wrap",
                "build",
                after=self.after,
                end=e,
                focus_mm=self.focus_mm,
                text=told(
                    x.text
                    or "Forward over the seal, twist it, trim it, fold the twist back and tape it down with"
                    f" {self.part_said}.",
                    marked(x, "The tape begins"),
                ),
                caution=x.caution or "A strand that stands out pierces what goes over it.",
                acts=(LayOn(at=Place(e), thing=Thing(i, self.part_said)),),
            ),
            Step(
                f"inspect.{i}",
                f"Look at the braid, end {e}",
                "inspect",
                "build",
                after=(f"wrap.{i}",),
                end=e,
                focus_mm=self.focus_mm,
                look="Flat all round, not one strand stands out of the tape.",
                fails="Trim it and tape it again.",
                photo=True,
                acts=(Look(at=Place(e)),),
            ),
        )
