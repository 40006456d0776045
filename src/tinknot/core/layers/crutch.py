"""The crutch: where the cores part, filled so that no air is closed in under what goes over it."""

from dataclasses import dataclass
from math import pi

from tinknot.core.acts import LayOn, Place, Thing, Wipe
from tinknot.core.facts import over_all
from tinknot.core.figures import mm
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Layer, Material, Minutes, Piece, Step, pieces_of
from tinknot.core.parts.tape import StockTape
from tinknot.core.rulebook import RuleBook


@dataclass(frozen=True)
class CrutchFill(Layer):
    """Mastic or self-amalgamating tape pressed between the cores at both crutches. `at`: for each end the
    place of its crutch, mm on the joint's axis, and the room between its cores there, mm² across."""

    tape: StockTape
    lot: str
    at: dict[str, tuple[float, float]]
    rules: RuleBook

    @property
    def depth_mm(self) -> float:
        """How far into the crutch it is pressed."""
        return self.rules.number("crutch.depth_mm")

    @property
    def tape_mm(self) -> float:
        """Tape as it comes off the roll: as much as the room it fills."""
        room = sum(mm2 for _, mm2 in self.at.values()) * self.depth_mm
        return room / (self.tape.width_mm * self.tape.thickness_mm)

    def solids(self) -> tuple[tuple[tuple[float, float], float], ...]:
        """Where it lies between the cores, and mm² of it across."""
        return tuple(((x - self.depth_mm / 2, x + self.depth_mm / 2), mm2) for x, mm2 in self.at.values())

    def work(self) -> tuple[Step, ...]:
        """Filled on both ends."""
        return tuple(
            Step(
                f"wrap.{self.id}.{end}",
                f"Fill the crutch on {end}",
                "wrap",
                "build",
                needs=over_all(),
                text=(
                    "Wipe the cores and the edge they come out of clean, dry. Then"
                    f" {self.tape.said}, pressed {mm(self.depth_mm):g} mm deep between the cores and round"
                    " them, up on to that edge."
                ),
                look="No hollow left where the cores part.",
                end=end,
                part_id=self.tape.id,
                batch=batches.CRUTCH,
                focus_mm=(x - 30, x + 30),
                acts=(
                    Wipe(at=Place(end, skin="insulation", span_mm=(x - self.depth_mm, x + self.depth_mm))),
                    LayOn(
                        at=Place(end, skin="core", span_mm=(x - self.depth_mm / 2, x + self.depth_mm / 2)),
                        thing=Thing(self.id, self.title, seals="mastic", of=self.tape.said),
                        seals_on=(Place(end, skin="insulation"),),
                    ),
                ),
            )
            for end, (x, _) in self.at.items()
        )

    def consumes(self) -> tuple[Material, ...]:
        """Tape off its roll."""
        t = self.tape
        on_hand = None if t.on_hand is None else t.on_hand * t.roll_mm
        return (Material(t.said, round(self.tape_mm), "mm", on_hand, part_id=t.id, lot=self.lot),)

    def counted(self) -> tuple[Piece, ...]:
        """A share of the roll."""
        return pieces_of(self.consumes(), 0.0, self.tape.roll_mm)

    def minutes(self) -> Minutes:
        """Pressing it in."""
        return Minutes(self.rules.number("time.tape_min_per_m") * self.tape_mm / 1000)


def between_mm2(around_mm: float, cores_mm: tuple[float, ...]) -> float:
    """Room between cores of these diameters inside a circle of `around_mm`, mm² across; never below 0.

    >>> round(between_mm2(20, (10, 10)), 1)
    157.1
    """
    return max(0.0, pi / 4 * (around_mm**2 - sum(d * d for d in cores_mm)))
