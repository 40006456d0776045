"""A marker sleeve: the core's identity where its colour changes."""

from collections.abc import Iterator
from dataclasses import dataclass

from tinknot.core.acts import Place, Thing, ThreadOn
from tinknot.core.facts import taken_off
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Fault, Layer, Material, Mend, Piece, Step, Threaded, pieces_of
from tinknot.core.layers.mends import not_threaded
from tinknot.core.parts.marker import StockMarker
from tinknot.core.rulebook import RuleBook

LENGTH_MM = 15.0  # of a marker that nobody counts


@dataclass(frozen=True)
class Mark:
    """What a core is marked with: its own `name` where the marker waits, what it `says`, and the part it is,
    None where nobody counts them."""

    name: str
    says: str
    part: StockMarker | None = None
    lot: str = ""

    @property
    def length_mm(self) -> float:
        """Along its core."""
        return self.part.length_mm if self.part else LENGTH_MM


@dataclass(frozen=True)
class MarkerSleeve(Layer):
    """What a core of the other end is called, put on the core that is joined to it: on one core, or on the
    cores of a unit that wait together. `track`: the core or unit it waits on; `end`: on which side."""

    track: str
    marks: tuple[Mark, ...]
    rules: RuleBook
    end: str = "B"

    def threads(self) -> tuple[Threaded, ...]:
        """On the core, before what joins it."""
        first = self.marks[0]
        part_id = first.part.id if first.part else "marker sleeve"
        length = max(m.length_mm for m in self.marks)
        title = self.title if len(self.marks) > 1 else ""
        return (Threaded(self.id, part_id, self.track, length, end=self.end, order=2, title=title),)

    def work(self) -> tuple[Step, ...]:
        """Threaded on the core before it is joined."""
        other = "B" if self.end == "A" else "A"
        many = len(self.marks) > 1
        where = f"markers of unit {self.track}" if many else f"marker of core {self.marks[0].name}"
        said = ", ".join(
            f"{m.says} on core {m.name}" if many else f"{m.says}, core {m.name}".removeprefix(", ")
            for m in self.marks
        )
        return (
            Step(
                f"park.{self.id}",
                f"Thread the {where}, side {self.end}",
                "park",
                "park",
                needs=(taken_off(self.end, "insulation", self.track),),
                text=f"As on side {other}: {said}." if many else f"Marker {said}, as on side {other}.",
                caution="Green-yellow is never re-marked.",
                batch=batches.PARK,
                core=self.track,
                end=self.end,
                part_id=self.marks[0].part.id if self.marks[0].part else "",
                acts=(
                    ThreadOn(
                        at=Place(self.end, self.track),
                        thing=Thing(self.id, self.title, of=next(self._used()).what),
                    ),
                ),
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Forgotten, it is only a name."""
        flag = Mend("Put a marker that wraps round on it instead; it is recorded", "mended")
        return (not_threaded(self.title, flag),)

    def _used(self) -> Iterator[Material]:
        for m in self.marks:
            p = m.part
            if p is None:
                yield Material("marker sleeve", 1, "piece")
            else:
                yield Material(p.said, 1, "piece", p.on_hand, part_id=p.id, lot=m.lot)

    def consumes(self) -> tuple[Material, ...]:
        """One marker a core."""
        return tuple(self._used())

    def from_lot(self) -> str:
        """The first one's lot."""
        return self.marks[0].lot

    def counted(self) -> tuple[Piece, ...]:
        """Each of them."""
        return pieces_of(self.consumes(), 0.0)
