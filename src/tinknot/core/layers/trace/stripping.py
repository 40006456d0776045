"""A flat cable end down to its bus wires: the core stripped, the wires bared, staggered at a dead end."""

from dataclasses import dataclass

from tinknot.core.acts import LayOn, Look, Place, Remove, Thing
from tinknot.core.figures import mm
from tinknot.core.joint.flatend import CAUTIONS
from tinknot.core.joint.leaflet import LeafletCut, LeafletLayer
from tinknot.core.layers.contract import Fault, Mend, Step
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.trace.opening import DATUM_SAID, AtEnd


@dataclass(frozen=True)
class StripCore(AtEnd):
    """The core between and round the bus wires taken off: matrix as a strip, or overlay and heating wire."""

    leaf: LeafletLayer
    zone: bool = False
    cut: LeafletCut | None = None  # as far as which mark

    def work(self) -> tuple[Step, ...]:
        """Stripped; and nothing touches what it must not."""
        e, cut = self.end, self.cut
        far = cut.length.value_mm if cut else 0.0
        mark = f" As far as its mark, {cut.length.said} {DATUM_SAID[cut.datum]}." if cut else ""
        how = (
            "Take the overlay off, unwind the heating wire to the cut and snip it. Push its rest back under"
            " the jacket."
            if self.zone
            else (
                "Peel both bus wires out along the edges of the matrix, one after the other, then snip off"
                " what is left of it, square."
            )
            if self.leaf.school == "wires"
            else (
                "Notch the matrix between the bus wires, fold the wires out and peel the matrix off as one"
                " strip."
            )
        )
        left = "the heating wire" if self.zone else "the matrix"
        return (
            Step(
                f"strip.{e}",
                self.leaf.title
                or f"{'Take the heating wire off' if self.zone else 'Peel the matrix off'}, end {e}",
                "cut",
                "cut",
                after=self.after,
                end=e,
                focus_mm=self.focus_mm,
                spreads=True,
                text=(self.leaf.text or how) + mark,
                caution=self.leaf.caution or CAUTIONS["overlay" if self.zone else "matrix"],
                look="Bus wires bright all round, every strand whole.",
                acts=(
                    Remove(
                        at=Place(e),
                        what="overlay" if self.zone else "insulation",
                        mm=far,
                        datum="cable-end" if cut and cut.datum == "cable-end" else "sheath-cut",
                    ),
                ),
                fails="A nicked strand in a bus wire: cut the end back and prepare it again.",
            ),
            Step(
                f"clear.{e}",
                f"Keep clear, end {e}",
                "inspect",
                "cut",
                after=(f"strip.{e}",),
                end=e,
                focus_mm=self.focus_mm,
                look=f"Braid clear of {left} and both bus wires; the bus wires clear of each other.",
                fails=(
                    "Braid on a bus wire is an earth fault, bus wire on bus wire a short: part them before"
                    " anything closes over it."
                ),
                photo=True,
                acts=(Look(at=Place(e, skin="conductor")),),
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Bus wires."""
        return (
            Fault(
                "bus-nicked",
                "A strand of a bus wire is nicked or gone",
                ("knife between the wires",),
                (END_AGAIN,),
            ),
            Fault(
                "core-left",
                "Conductive core is left between the bus wires",
                ("peeled cold",),
                (Mend("Warm it, scrape it off, wipe clean", "again"), END_AGAIN),
            ),
            Fault(
                "touching",
                "Braid or bus wire touches what it must not",
                ("strands not trimmed",),
                (Mend("Part them and trim", "mended"), END_AGAIN),
            ),
        )


@dataclass(frozen=True)
class BareWires(AtEnd):
    """What a zone cable's bus wires have of insulation of their own, off `bare_mm` from the end of each;
    `shorter`: whether each was cut back before."""

    bare_mm: float
    shorter: tuple[bool, bool] = (False, False)
    caution: str = ""

    def work(self) -> tuple[Step, ...]:
        """Off both, looked at."""
        e = self.end
        return (
            Step(
                f"bare.{e}",
                f"Bare both bus wires on {e}",
                "cut",
                "build",
                after=self.after,
                end=e,
                focus_mm=self.focus_mm,
                text=f"Their own insulation off, {mm(self.bare_mm):g} mm from the end of each wire.",
                caution=self.caution or CAUTIONS["bus-insulation"],
                look="Strands bright and whole, none left behind.",
                fails="A nicked strand: cut the end back and prepare it again.",
                acts=tuple(
                    Remove(
                        at=Place(e, w),
                        what="insulation",
                        mm=self.bare_mm,
                        datum="core-end" if cut else "cable-end",
                    )
                    for w, cut in zip(("bus-1", "bus-2"), self.shorter, strict=True)
                ),
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """A knife too deep."""
        nicked = "A strand of a bus wire is nicked or gone"
        return (Fault("bus-nicked", nicked, ("stripper set too small",), (END_AGAIN,)),)

    def tools(self) -> tuple[str, ...]:
        """Wire stripper."""
        return ("wire stripper",)


@dataclass(frozen=True)
class BusStagger(AtEnd):
    """At a dead end: one bus wire shorter, each taped alone, then both."""

    leaf: LeafletLayer
    part_said: str = "tape"

    def work(self) -> tuple[Step, ...]:
        """Taped, one by one."""
        return (
            Step(
                f"tape.{self.end}",
                self.leaf.title or f"Tape the bus wires apart, end {self.end}",
                "wrap",
                "cut",
                after=self.after,
                end=self.end,
                focus_mm=self.focus_mm,
                text=self.leaf.text
                or f"Wrap the short wire with {self.part_said}, then the long one, then both together.",
                caution=self.leaf.caution or "They must never touch: a dead end stays under voltage.",
                look="No copper seen; the two ends lie apart.",
                acts=(LayOn(at=Place(self.end), thing=Thing(self.id, self.part_said)),),
            ),
        )
