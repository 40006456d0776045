"""The splices of a screened cable: which, where they stand, what they are on."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from functools import cached_property
from math import ceil

from tinknot.core.families.choice import Pick
from tinknot.core.families.moulded.bedding import SHRINKS_C, as_sleeve
from tinknot.core.families.moulded.capping import cap_for
from tinknot.core.families.recipe import AskingRecipe, rest_min
from tinknot.core.families.screened.file import ScreenedFile
from tinknot.core.families.screened.layout import Layout, laid, untwisted
from tinknot.core.families.screened.solution import ScreenedSolution
from tinknot.core.families.screened.splices import Found, Splices
from tinknot.core.formulas.bundle import bundle
from tinknot.core.layers.marker import LENGTH_MM, Mark, MarkerSleeve
from tinknot.core.layers.moulded.caps import Caps
from tinknot.core.layers.ringing import RingOut
from tinknot.core.layers.screened.splice import Splice
from tinknot.core.layers.screened.units import UnitSpliced
from tinknot.core.layers.sleeve import COLD, gun_c
from tinknot.core.parts.boot import StockBoot
from tinknot.core.parts.marker import marker_for
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.rulebook import RuleBook

COPPER = 0.3  # of the cable's cross-section, to reckon how long it holds heat
MOST_PLACES = 6  # places along the joint that are tried


class Splicing(AskingRecipe[ScreenedFile, ScreenedSolution]):
    """One joint file with one rule book on one day, as far as its cores are joined. Side A lies at negative
    x."""

    not_asked = frozenset({"ends"})

    def __init__(self, joint: ScreenedFile, rules: RuleBook, today: date | None) -> None:
        joint.check()
        super().__init__(joint, rules, today)
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
                self.today,
                sum(a.members[n].cores for n in units),
                tuple(a.number(n) for n in units),
                tuple(mm for n in units for mm in self.insulation[n]),
                areas,
                self.sleeve_choice,
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
        thick = [max(both) for both in self.insulation]
        return {
            k: laid(self.cable, k, self.joint.apart, self.splice_of, thick, self.rules, self._marker_mm)
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

    def _markers(self, units: list[UnitSpliced]) -> list[MarkerSleeve]:
        """On the long side of every core that is called otherwise on the other."""
        found = []
        for u, ods in zip(units, self.insulation, strict=True):
            on_a = u.long_side == "A"
            marks = tuple(
                self._mark(a if on_a else b, b if on_a else a, ods[0 if on_a else 1])
                for a, b in u.partners.items()
                if a != b
            )
            if marks:
                title = f"markers of unit {u.unit}" if len(marks) > 1 else f"marker of core {marks[0].name}"
                found.append(MarkerSleeve(f"marker-{u.unit}", title, u.unit, marks, self.rules, u.long_side))
        return found

    def _mark(self, name: str, says: str, od_mm: float) -> Mark:
        part = marker_for(self.joint.stock.markers, od_mm, says, self.today)
        return Mark(name, says, part, part.first_lot(self.today) if part else "")

    def _units(self, layout: Layout) -> list[UnitSpliced]:
        """Every unit with its splices."""
        rules, ambient = self.rules, self.joint.ambient_c
        found = []
        for n, (name, centres) in enumerate(layout.centres_mm.items()):
            splice, unit = self.splice_of[n], self.cable.members[n]
            rest = rest_min(rules, ambient, layout.sizes[name].spliced_mm, unit.area_mm2)
            made = UnitSpliced(
                f"unit-{name}",
                f"{unit.kind} {name}",
                name,
                rules,
                splice,
                centres,
                self._turns(layout, name),
                float(ceil(rest)),
                None if splice.shrink_c is None else gun_c(rules, splice.shrink_c),
                partners=self.partners[n],
            )
            found.append(made)
        return found

    @cached_property
    def _cap_picks(self) -> list[tuple[Pick, StockBoot | None]]:
        """The cap of each end's spare cores; none where nothing is spare or nobody counts caps."""
        stock, spare = self.joint.stock.boots, self.joined.spare
        if not any(len(b.openings) == 1 for b in stock):
            return []
        return [
            cap_for(f"caps-{end}", f"caps on {end}", stock, self.core[n], self.margins, self.today)
            for n, end in enumerate("AB")
            if spare[n]
        ]

    def _caps(self) -> list[Caps]:
        """Every spare core sealed, once all others are joined."""
        found = {p.layer: part for p, part in self._cap_picks}
        r = self.rules
        return [
            Caps(
                f"caps-{end}",
                f"caps on {end}",
                r,
                end,
                cores,
                part,
                part.first_lot(self.today) if part else "",
                gun_c(r, (part and part.shrink_c) or SHRINKS_C),
            )
            for end, cores in zip("AB", self.joined.spare, strict=True)
            if cores
            for part in [found.get(f"caps-{end}")]
        ]

    def _ring_out(self) -> RingOut | None:
        """The cores of side B told apart, where their marks are not to be trusted."""
        if self.joint.marks is None:
            return None
        b = self.cables[1]
        units = tuple(self.cable.number(n) for n in range(self.cable.units))
        screened = bool(b.overall or any(u.screens for u in b.members))
        return RingOut("ring-out", "cores of side B", self.rules, b.cores, units, self.joint.marks, screened)

    def _turns(self, layout: Layout, unit: str) -> float | None:
        """Turns of a unit to wind in: what was untwisted, less its splices and the lays that may stay."""
        lay = self.joint.lay_mm
        if lay is None or len(layout.centres_mm[unit]) < 2:
            return None
        start, end = untwisted(layout, unit, lay, self.rules.number("screen.lays_left"))
        return round((layout.gap_mm - (end - start)) / lay, 1)

    def _cool(self, outside_mm: float) -> float:
        return self.cool_min(outside_mm, max(self.sheath), COPPER)
