"""A screened cable joined: how its stack is told, and what else could be done."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from tinknot.core.acts import Skin
from tinknot.core.drawing.model import Section
from tinknot.core.families.contract import Way
from tinknot.core.families.screened.braiding import FIXED
from tinknot.core.families.screened.job import MOST_PLACES, ScreenedJob
from tinknot.core.families.screened.layout import Layout, untwisted
from tinknot.core.families.screened.section import section
from tinknot.core.families.screened.solution import ScreenedSolution
from tinknot.core.families.screened.splices import other_ways
from tinknot.core.families.screened.stack import solved
from tinknot.core.families.screened.twisted import Twist
from tinknot.core.figures import capital, mm
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.plan.parts import CoreOut, PartOut
from tinknot.core.plan.plan import Plan
from tinknot.core.world.found import Found, FoundEnd


class ScreenedRecipe(ScreenedJob):
    """The joint, how it is told, and what else could be done."""

    waits_from = CoverSleeve.edge

    def as_found(self, s: ScreenedSolution) -> Found:
        """Both ends with their units, each as thick as the thickest of its cores."""
        half = s.layout.gap_mm / 2 if s.layout else 0.0
        ends = []
        for side, (name, away) in enumerate((("A", -1), ("B", 1))):
            units = {u: x.cores_mm[side] for u, x in s.layout.sizes.items()} if s.layout else {}
            skins: dict[Skin, float] = {"sheath": self.sheath[side]}
            if self.screened:
                skins["screen"] = self.sheath[side]
            if name == "B" and self.joint.side_b == "wires":
                skins = {}
            ends.append(FoundEnd(name, skins, units, away * half, away=away))
        return Found(tuple(ends))

    def solve(self) -> ScreenedSolution:
        """The stack, with what is to be known of it."""
        found = solved(self)
        if not found.layers or found.layout is None:
            return found
        return replace(found, warnings=tuple(self._warned(found.layout)))

    def _warned(self, layout: Layout) -> Iterator[str]:
        j = self.joint
        yield f"Read as {self.cables[0].said}: if it is not so, write the make-up anew."
        for side, name in enumerate("AB"):
            if spare := self.joined.spare[side]:
                yield f"Spare on {name}, capped and kept: {', '.join(spare)}."
        if j.half_strands:
            yield "Half of the strands are left out in every lap: a deviation, kept in the record."
        if j.forbids:
            yield f"Its papers forbid a joint; {j.owner} consented. Write it on the label."
        if j.cable_length_m is None:
            metres = self.rules.number("continuity.length_m")
            yield f"The cable's length is not on the card: continuity is judged as for {metres:g} m of it."
        if self.braided and j.strand_mm is None:
            yield "How thick the braid is was taken from its two diameters: an estimate."
        if self.cable.most_cores > 1 and j.lay_mm is None:
            yield "The lay of a unit was not measured: how many turns to wind in is not known."
        if lost := self._lost(layout):
            yield f"{capital(lost)}."
        yield from self._crosswise()
        if "lined" not in self.properties and {"damp", "buried", "immersed"} & set(j.duties):
            yield "Wet: water runs along strands, seal both ends."
        yield "A joint adds length and capacitance to the line, and is weak in pull: relieve it."

    def _crosswise(self) -> Iterator[str]:
        """Cores that go on under the name that another core has on that side."""
        names = [{c for n in range(x.units) for c in x.unit(n)} for x in (self.joined.a, self.joined.b)]
        for unit in self.partners:
            for a, b in unit.items():
                if a != b and (a in names[1] or b in names[0]):
                    yield (
                        f"Crosswise: core {a} of A goes on as {b} on B, though both sides have a core of one"
                        " of these names. If that is not meant, name the cores under Measure."
                    )

    def ways(self, s: ScreenedSolution) -> Iterator[Way]:
        """Other places, splices further apart, the braid held otherwise, two layers of it."""
        if not self.splice_of:
            return
        j, here = self.joint, s.steps
        found: list[tuple[str, str, dict[str, Any]]] = []
        for k in range(1, min(MOST_PLACES, self.cable.units) + 1):
            if k != here or not s.fits:
                places = f"{k} place{'s' if k > 1 else ''}"
                found.append((f"places-{k}", f"Units at {places} along the joint", {"positions": k}))
        if self.cable.most_cores > 1:
            other = "full" if j.apart == "half" else "half"
            found.append((f"apart-{other}", f"A unit's splices a {other} step apart", {"apart": other}))
        if self.braided:
            now = s.fixed
            for how, title in FIXED.items():
                if how != now and not (how == "solder" and j.cold_only):
                    found.append((f"fixed-{how}", f"Donor braid held by {title}", {"fixed": how}))
            if not j.second:
                found.append(("second-layer", "Two layers of donor braid", {"second": True}))
        if not s.fits and not self.open_ends:
            for end in ("A", "B", "both") if self.sheath[0] != self.sheath[1] else ("both",):
                where = "both ends" if end == "both" else f"end {end}"
                title = f"End pieces of a higher ratio over {where} of the outer sleeve"
                found.append((f"end-pieces-{end}", title, {"end_pieces": end}))
        for name, title, change in (*found, *other_ways(j)):
            yield self.way(name, title, change)

    def why(self, plan: Plan) -> str:
        """How long, how thick, how much of a unit stays untwisted."""
        thick = plan.greatest_diameter_mm or 0
        turns = self._lost(self.layouts.get(plan.stagger_steps))
        return (
            f"Gap {mm(plan.gap_mm or 0):.0f} mm; greatest diameter {mm(thick):.1f}"
            f" mm{'; ' + turns if turns else ''}."
        )

    def _lost(self, layout: Layout | None) -> str:
        """The most of a unit that stays untwisted, and the turns that are lost by it, in words."""
        lay = self.joint.lay_mm
        if layout is None or lay is None or self.cable.most_cores < 2:
            return ""
        left = self.rules.number("screen.lays_left")
        spans = [untwisted(layout, u, lay, left) for u, cores in layout.centres_mm.items() if len(cores) > 1]
        most = max(b - a for a, b in spans)
        return f"{mm(most):.0f} mm of a {self.cable.unit_word} stay untwisted, {most / lay:.1f} turns lost"

    def cores(self, s: ScreenedSolution) -> list[CoreOut]:
        """Every core's length on both sides."""
        if s.layout is None:
            return []
        a, b = s.layout.cut_mm("A"), s.layout.cut_mm("B")
        half = s.layout.gap_mm / 2
        area = {self.cable.number(n): u.area_mm2 for n, u in enumerate(self.cable.members)}
        return [
            CoreOut(
                core=name,
                centre_mm=x + half,
                cut_a_mm=a[unit][name],
                cut_b_mm=b[unit][name],
                area_mm2=area[unit],
            )
            for unit, name, x, _ in s.layout.cores
        ]

    def first_parts(self, s: ScreenedSolution) -> list[PartOut]:
        """Splices and solder sleeves, which are used whole."""
        pieces = {
            c.layer: (f"unit-{of.units[0]}", of.cores)  # where they are sealed ones
            for of, found in zip(self.splices, self.spliced, strict=True)
            for c in found.choices
            if found.splice and found.splice.threaded_mm is None
        }
        return self.used_whole(s, pieces) if s.layers else []

    def free_mm(self) -> dict[str, float]:
        """Clear sheath on both sides."""
        return {"A": self.joint.free_a_mm, "B": self.joint.free_b_mm}

    def draw(self, s: ScreenedSolution) -> Section | None:
        """To scale, once there is a stack."""
        if s.layout is None or s.inner is None:
            return None
        lay, left = self.joint.lay_mm, self.rules.number("screen.lays_left")
        twist = Twist(lay, left) if lay else None
        braid = self.braid_mm if self.braided else 0.0
        return section(s, self.sheath, braid, self.joint.inside_od_mm, twist=twist, wires=self.wires)

    def extras(self, s: ScreenedSolution) -> dict[str, Any]:
        """The gap."""
        return {"gap_mm": s.layout.gap_mm if s.layout else None}
