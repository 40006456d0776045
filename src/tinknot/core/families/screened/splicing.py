"""The splices of a screened cable: which, where they stand, what they are on."""

from collections.abc import Mapping
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
from tinknot.core.joint.makeup import UNIT
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

    @cached_property
    def spliced(self) -> Found:
        """What joins the cores, with the choices it was taken from."""
        return self.splices.found()

    @property
    def splice(self) -> Splice | None:
        """The one taken."""
        return self.spliced.splice

    @cached_property
    def splices(self) -> Splices:
        """Every way to join them."""
        return Splices(
            self.joint,
            self.rules,
            self.margins,
            self.properties,
            self.today,
            self.cable.cores,
            tuple(self.cable.number(n) for n in range(self.cable.units)),
            self.core,
            tuple(c.area_mm2 for c in self.cables),
            self.sleeve_choice,
        )

    @cached_property
    def layouts(self) -> dict[int, Layout]:
        """By places along the joint, those that are looked at."""
        if self.splice is None:
            return {}
        asked = self.joint.positions
        places = [asked] if asked else range(1, min(MOST_PLACES, self.cable.units) + 1)
        return {
            k: laid(self.cable, k, self.joint.apart, self.splice, max(self.core), self.rules, self._marker_mm)
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
        for u in units:
            on_a = u.long_side == "A"
            marks = tuple(
                self._mark(a if on_a else b, b if on_a else a, self.core[0 if on_a else 1])
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
        splice, rules = self.splice, self.rules
        assert splice is not None
        heat = None if splice.shrink_c is None else gun_c(rules, splice.shrink_c, splice.scorch_c)
        cool = float(ceil(rest_min(rules, self.joint.ambient_c, layout.spliced_mm, self.cable.area_mm2)))
        return [
            UnitSpliced(
                f"unit-{name}",
                f"{UNIT[self.cable.per_unit]} {name}",
                name,
                rules,
                splice,
                centres,
                self._turns(layout, centres),
                cool,
                heat,
                partners=self.partners[n],
            )
            for n, (name, centres) in enumerate(layout.centres_mm.items())
        ]

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
                gun_c(r, (part and part.shrink_c) or SHRINKS_C, part.scorch_c if part else None),
                ("connectors",),
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
        screened = bool(b.overall or b.each)
        return RingOut("ring-out", "cores of side B", self.rules, b.cores, units, self.joint.marks, screened)

    def _turns(self, layout: Layout, centres: Mapping[str, float]) -> float | None:
        """Turns of a unit to wind in: what was untwisted, less its splices and the lays that may stay."""
        lay = self.joint.lay_mm
        if lay is None or len(centres) < 2:
            return None
        start, end = untwisted(layout, centres, lay, self.rules.number("screen.lays_left"))
        return round((layout.gap_mm - (end - start)) / lay, 1)

    def _cool(self, outside_mm: float) -> float:
        return self.cool_min(outside_mm, max(self.sheath), COPPER)
