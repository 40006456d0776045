"""Cable ends and cores as measured."""

from dataclasses import dataclass, replace

from tinknot.core.formulas.conductor import conductor
from tinknot.core.joint.file import CoreIn, EndIn, JointFile
from tinknot.core.tolerance import at_most

FLAT = 1.5  # a cable so much wider than thick is flat, said so or not; less is oval


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
    sector: bool = False
    metal: str = "copper"
    partner: str = ""  # its own name where it differs from the core of A it is joined to

    @property
    def protective(self) -> bool:
        """Whether it is the protective conductor, by its colour. Source: IEC 60445."""
        return self.colour == "green-yellow"

    @property
    def insulation_wall_mm(self) -> float:
        """Thickness of the insulation in mm, from the greatest readings; never below 0."""
        return max(0.0, (self.insulation.greatest_mm - self.conductor.greatest_mm) / 2)


@dataclass(frozen=True)
class Armour:
    """Armour of an end: its layer's thickness and the bedding under it, mm; its metal section if known."""

    kind: str
    thickness_mm: float
    bedding: Round
    area_mm2: float | None
    metal: str


@dataclass(frozen=True)
class LeadSheath:
    """A sheath of lead: its wall and the inner sheath under it, mm."""

    wall_mm: float
    inner: Round

    @property
    def outside(self) -> Round:
        """Over the lead."""
        return Round(self.inner.greatest_mm + 2 * self.wall_mm, self.inner.least_mm + 2 * self.wall_mm)


@dataclass(frozen=True)
class CableEnd:
    """One end of a joint; its axis starts at its sheath cut."""

    name: str
    label: str
    sheath: Round
    cores: tuple[Core, ...]
    free_mm: float
    armour: Armour | None = None
    landed: bool = False
    flat: bool = False  # its sheath is wide and thin, as a twin flat cable's
    unsheathed: bool = False  # covered conductors with nothing round them
    lead: LeadSheath | None = None

    @property
    def metal(self) -> str:
        """Its outermost metal round all cores, in words; empty where it has none."""
        return "armour" if self.armour else "lead sheath" if self.lead else ""

    @property
    def folded_mm(self) -> float:
        """Diameter over the armour folded back on the sheath, mm; the sheath's where there is none."""
        return self.sheath.greatest_mm + (2 * self.armour.thickness_mm if self.armour else 0.0)

    @property
    def is_wire(self) -> bool:
        """Whether it is a single insulated wire: one core, and no sheath over its insulation."""
        (first, *more) = self.cores
        return not more and not self.metal and at_most(self.sheath.greatest_mm, first.insulation.greatest_mm)

    def core(self, name: str) -> Core:
        """The core called `name`."""
        return next(c for c in self.cores if c.name == name)


def _core(given: CoreIn) -> Core:
    size = conductor(given.area_mm2, given.flexibility)
    measured = given.conductor_od_mm
    od = Round(measured, measured) if measured else Round(size.greatest_mm, size.least_mm)
    return Core(
        given.name,
        given.colour,
        Round.of(given.insulation_od_mm, given.insulation_od_across_mm),
        given.area_mm2,
        conductor=od,
        conductor_source="measured" if measured else size.source,
        flexibility=given.flexibility,
        sector=given.shape == "sector",
        metal=given.metal,
    )


def cable_end(name: str, given: EndIn) -> CableEnd:
    """An end from the joint file."""
    a = given.armour
    armour = None
    if a:
        bedding = Round.of(a.bedding_od_mm, a.bedding_od_across_mm)
        armour = Armour(a.kind, a.thickness_mm, bedding, a.area_mm2, metal=a.metal)
    lead = None
    if under := given.lead_sheath:
        lead = LeadSheath(under.wall_mm, Round.of(under.inner_od_mm, under.inner_od_across_mm))
    sheath = Round.of(given.sheath_od_mm, given.sheath_od_across_mm)
    return CableEnd(
        name,
        given.label or "",
        sheath,
        tuple(_core(c) for c in given.cores),
        free_mm=given.free_mm,
        armour=armour,
        lead=lead,
        landed=given.landed,
        unsheathed=given.unsheathed,
        flat=given.flat or sheath.greatest_mm > FLAT * sheath.least_mm,
    )


def cable_ends(joint: JointFile) -> tuple[CableEnd, CableEnd]:
    """Both ends; B's cores under A's names, as the core map has it, and in A's order. A tap's B may have
    fewer cores than its main."""
    a, b = cable_end("A", joint.ends.A), cable_end("B", joint.ends.B)
    joins = {c.joins or c.name: c.name for c in joint.ends.B.cores}
    cores = tuple(
        replace(b.core(joins[c.name]), name=c.name, partner="" if joins[c.name] == c.name else joins[c.name])
        for c in a.cores
        if c.name in joins
    )
    return a, replace(b, cores=cores)
