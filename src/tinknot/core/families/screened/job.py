"""One joint of a screened cable with one rule book on one day: its cables, how its cores are joined and its
braid is held, as far as it is the same wherever the splices stand."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from functools import cached_property

from tinknot.core.families.choice import Choice, Pick
from tinknot.core.families.moulded.bedding import as_sleeve
from tinknot.core.families.recipe import AskingRecipe, overlap_mm
from tinknot.core.families.screened.file import ScreenedFile
from tinknot.core.families.screened.layout import Layout, laid, untwisted
from tinknot.core.families.screened.solution import ScreenedSolution
from tinknot.core.families.screened.splices import Found, Splices
from tinknot.core.formulas.bundle import bundle
from tinknot.core.layers.marker import LENGTH_MM
from tinknot.core.layers.screened.splice import Splice
from tinknot.core.layers.sleeve import COLD
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.rulebook import RuleBook

COPPER = 0.3  # of the cable's cross-section, to reckon how long it holds heat
MOST_PLACES = 6  # places along the joint that are tried


class ScreenedJob(AskingRecipe[ScreenedFile, ScreenedSolution]):
    """The joint before anything is put on. Side A lies at negative x. `late`: sheaths are roughened only
    before the outer sleeve, as work begun by earlier rules was told."""

    not_asked = frozenset({"ends"})

    def __init__(
        self, joint: ScreenedFile, rules: RuleBook, today: date | None, *, late: bool = False
    ) -> None:
        joint.check()
        super().__init__(joint, rules, today)
        self.late = late
        if joint.cold_only:
            self.properties |= {COLD}
        self.cables = joint.sides
        self.joined = joint.joined(rules.names("screen.colours"))
        self.cable = self.joined.a
        self.wires = joint.side_b == "wires"
        self.core = (joint.insulation_od_mm, joint.insulation_od_b_mm or joint.insulation_od_mm)
        self.insulation = self._insulation()
        own = bundle([self.core[1]] * self.cable.cores).enclosing_diameter_mm if self.wires else None
        self.sheath = (joint.sheath_od_mm, own or joint.sheath_od_b_mm or joint.sheath_od_mm)
        self.braided = "braid" in self.cable.overall

    @property
    def screened(self) -> bool:
        """Whether there is any screen in it."""
        return bool(self.cable.overall) or any(u.screens for u in self.cable.members)

    @cached_property
    def sleeves(self) -> Mapping[str, StockSleeve]:
        """Sleeves, and splices and solder sleeves as sleeves."""
        stock = self.joint.stock
        own = {s.id: s for s in stock.sleeves} | {b.id: as_sleeve(b) for b in stock.boots}
        return (
            own | {s.id: s.sleeve() for s in stock.splices} | {s.id: s.sleeve() for s in stock.solder_sleeves}
        )

    def _insulation(self) -> list[tuple[float, float]]:
        """Over the insulation of a core of each unit on A and on B, mm."""
        on_a, on_b = self.joint.core_mm
        a, b = self.joined.a, self.joined.b
        return [(on_a[a.number(n)], on_b[b.number(n)]) for n in range(a.units)]

    @cached_property
    def spliced(self) -> list[Found]:
        """What joins the cores of each section, with the choices it was taken from."""
        found: list[Found] = []
        taken: dict[str, int] = {}
        for splices in self.splices:
            found.append(replace(splices, taken=dict(taken)).found())
            if part := found[-1].splice:
                taken[part.part_id] = taken.get(part.part_id, 0) + splices.cores
        return found

    @property
    def spliced_by(self) -> tuple[tuple[Choice, ...], tuple[Pick, ...]]:
        """All that was chosen to join the cores by."""
        choices = tuple(c for f in self.spliced for c in f.choices)
        return choices, tuple(p for f in self.spliced for p in f.picks)

    @cached_property
    def splice_of(self) -> list[Splice]:
        """The splice of each unit; none at all where one of them is missing."""
        by_unit = {u: f.splice for s, f in zip(self.splices, self.spliced, strict=True) for u in s.units}
        found = [by_unit[self.cable.number(n)] for n in range(self.cable.units)]
        return [s for s in found if s is not None] if all(found) else []

    @cached_property
    def splices(self) -> list[Splices]:
        """Every way to join them, section by section."""
        a, b = self.joined.a, self.joined.b
        sections: dict[tuple[float, ...], list[int]] = {}
        for n, (x, y) in enumerate(zip(a.members, b.members, strict=True)):
            sections.setdefault((x.area_mm2, y.area_mm2), []).append(n)
        return [
            Splices(
                self.joint,
                self.rules,
                self.margins,
                self.properties,
                today=self.today,
                cores=sum(a.members[n].cores for n in units),
                units=tuple(a.number(n) for n in units),
                insulation_mm=tuple(mm for n in units for mm in self.insulation[n]),
                areas_mm2=areas,
                sleeve_choice=self.sleeve_choice,
                only=len(sections) == 1,
            )
            for areas, units in sections.items()
        ]

    @cached_property
    def layouts(self) -> dict[int, Layout]:
        """By places along the joint, those that are looked at."""
        if not self.splice_of:
            return {}
        asked = self.joint.positions
        places = [asked] if asked else range(1, min(MOST_PLACES, self.cable.units) + 1)
        return {
            k: laid(
                self.cable,
                k,
                self.joint.apart,
                self.splice_of,
                cores_mm=self.insulation,
                rules=self.rules,
                marker_mm=self._marker_mm,
            )
            for k in places
        }

    @property
    def _marker_mm(self) -> float:
        """The longest marker that must find room on a core; 0 where all are called alike."""
        if not any(a != b for unit in self.partners for a, b in unit.items()):
            return 0.0
        return max((m.length_mm for m in self.joint.stock.markers), default=LENGTH_MM)

    @cached_property
    def partners(self) -> list[dict[str, str]]:
        """The cores of B by those of A they are joined to, unit by unit."""
        a, b = self.joined.a, self.joined.b
        return [dict(zip(a.unit(n), b.unit(n), strict=True)) for n in range(self.cable.units)]

    def turns(self, layout: Layout, unit: str) -> tuple[float | None, float]:
        """Turns of a unit to wind in, and how much of it stays untwisted, mm: one splice and the lays that
        may stay; no turns are known where nobody measured its lay."""
        lay = self.joint.lay_mm
        if lay is None or len(layout.centres_mm[unit]) < 2:
            return None, layout.gap_mm
        start, end = untwisted(layout, unit, lay, self.rules.number("screen.lays_left"))
        return round((layout.gap_mm - (end - start)) / lay, 1), end - start

    @property
    def braid_mm(self) -> float:
        """How thick the cable's braid is."""
        j = self.joint
        if j.strand_mm is not None:
            return 2 * j.strand_mm
        return ((j.screen_od_mm or j.inside_od_mm) - j.inside_od_mm) / 2

    def overlap(self, side: int) -> float:
        """Least cover of the outer sleeve on the sheath of `side`, mm (domain.md section 27)."""
        return overlap_mm(self.rules, "outer", self.sheath[side])

    @property
    def open_ends(self) -> str:
        """Ends of the outer sleeve that something over them closes."""
        return "".join(e for e in "AB" if e in self.pieces or (self.wires and e == "B"))

    @property
    def pieces(self) -> str:
        """Ends that pieces close."""
        asked = self.joint.end_pieces
        return "AB" if asked == "both" else asked or ""

    def cool(self, outside_mm: float) -> float:
        """Minutes that something just shrunk on the joint rests."""
        return self.cool_min(outside_mm, max(self.sheath), COPPER)
