"""Cable ends and cores as measured."""

from dataclasses import dataclass

from tinknot.core.conductor import conductor
from tinknot.core.joint.file import CoreIn, EndIn, JointFile


@dataclass(frozen=True)
class Round:
    """Two readings at 90°: the greater must be passed, the lesser gripped (mm)."""

    greatest_mm: float
    least_mm: float

    @classmethod
    def of(cls, first: float, across: float | None) -> "Round":
        """From one or two readings."""
        second = first if across is None else across
        return cls(max(first, second), min(first, second))


@dataclass(frozen=True)
class Core:
    """A core at one end."""

    name: str
    colour: str | None
    insulation: Round
    area_mm2: float
    conductor: Round
    conductor_source: str
    flexibility: int = 2

    @property
    def insulation_wall_mm(self) -> float:
        """Thickness of the insulation in mm, from the greatest readings; never below 0."""
        return max(0.0, (self.insulation.greatest_mm - self.conductor.greatest_mm) / 2)


@dataclass(frozen=True)
class CableEnd:
    """One end of a joint; its axis starts at its sheath cut."""

    name: str
    label: str
    sheath: Round
    cores: tuple[Core, ...]
    free_mm: float

    def core(self, name: str) -> Core:
        """The core called `name`."""
        return next(c for c in self.cores if c.name == name)


def _core(given: CoreIn) -> Core:
    size = conductor(given.area_mm2, given.flexibility)
    measured = given.conductor_od_mm
    od = Round(measured, measured) if measured else Round(size.greatest_mm, size.least_mm)
    return Core(
        given.name, given.colour, Round.of(given.insulation_od_mm, given.insulation_od_across_mm), given.area_mm2,
        od, "measured" if measured else size.source, given.flexibility,
    )  # fmt: skip


def cable_end(name: str, given: EndIn) -> CableEnd:
    """An end from the joint file."""
    return CableEnd(
        name, given.label or "", Round.of(given.sheath_od_mm, given.sheath_od_across_mm),
        tuple(_core(c) for c in given.cores), given.free_mm,
    )  # fmt: skip


def cable_ends(joint: JointFile) -> tuple[CableEnd, CableEnd]:
    """Both ends; B's cores in A's order."""
    a, b = cable_end("A", joint.ends.A), cable_end("B", joint.ends.B)
    return a, CableEnd(b.name, b.label, b.sheath, tuple(b.core(c.name) for c in a.cores), b.free_mm)
