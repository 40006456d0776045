"""Every way to join the cores of a screened cable, with the parts it takes from stock."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from math import pi, sqrt

from tinknot.core.choosing.choose import Window
from tinknot.core.families.choice import Choice, Offer, Pick, choice_of_whole
from tinknot.core.families.recipe import overlap_mm
from tinknot.core.families.screened.file import ScreenedFile
from tinknot.core.figures import LEAST, mm, mm2
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.layers.contract import Material
from tinknot.core.layers.screened.splice import TITLES, Splice
from tinknot.core.parts.connector import StockConnector
from tinknot.core.parts.splice import StockSplice
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least, at_most

LAID = 1.2  # how much thicker strands lie than a solid conductor of their section
WET = {"damp", "buried", "immersed"}
SleeveChoice = Callable[[str, str, Window, str], Choice]


@dataclass(frozen=True)
class Found:
    """What was chosen for a method, and the splice it makes; None where something is missing."""

    choices: tuple[Choice, ...] = ()
    picks: tuple[Pick, ...] = ()
    splice: Splice | None = None


@dataclass(frozen=True)
class Splices:
    """The cores of one section in a joint: how many, in which units, over their insulation on both sides, mm,
    the section of each side's (mm²); `sleeve_choice`: how the recipe puts a window to its sleeves; `only`:
    there are no others; `taken`: how many pieces of each part go to others."""

    joint: ScreenedFile
    rules: RuleBook
    margins: Margins
    properties: frozenset[str]
    today: date | None
    cores: int
    units: tuple[str, ...]
    insulation_mm: tuple[float, ...]
    areas_mm2: tuple[float, ...]
    sleeve_choice: SleeveChoice
    only: bool = True
    taken: Mapping[str, int] = field(default_factory=dict)

    def _own(self, layer: str) -> str:
        """What a choice is told with, where cores of other sections have one of their own."""
        return layer if self.only else f"{layer}-{self.areas_mm2[0]:g}"

    def _of(self, title: str) -> str:
        return title if self.only else f"{title} of {mm2(self.areas_mm2[0]):g} mm²"

    def _too_few(self, on_hand: float | None, part_id: str) -> str:
        """Whether what is on hand is less than all cores need; empty where it is not, or not counted."""
        needed = self.cores + self.taken.get(part_id, 0)
        return f"{on_hand:g} on hand, {needed} needed" if on_hand is not None and on_hand < needed else ""

    def stop(self) -> str:
        """Why the cores are not joined as it is asked; empty where they may be."""
        j = self.joint
        if j.splice in ("lap", "hook") and (j.cold_only or "hazardous" in j.duties):
            return "Nothing is soldered where no heat is allowed: take crimped splices."
        if not j.half_strands:
            return ""
        most = self.rules.number("screen.half_most_mm2")
        if j.splice != "lap":
            return "Half of the strands may be left out in a soldered lap only."
        if not at_most(max(self.areas_mm2), most):
            return (
                "Half of the strands may be left out in laps of fine conductors only, up to"
                f" {mm2(most):g} mm²; here a core has {mm2(max(self.areas_mm2)):g} mm²."
            )
        return ""

    def found(self) -> Found:
        """By the method asked for; sealed splices where nothing is."""
        if self.joint.splice in (None, "sealed"):
            return self._sealed()
        return self._barrels() if self.joint.splice == "barrel" else self._soldered()

    # --- connector and sleeve in one --------------------------------------------------------------------

    def _sealed(self) -> Found:
        """Every sealed splice over the cores of both sides."""
        low, high = min(self.insulation_mm), max(self.insulation_mm)
        window = Window(high, low, ((0.0, low), (1.0, low)), need_lined=True, squareness_mm=0.0)
        choice, s = choice_of_whole(
            self._own("splices"),
            self._of("sealed splice"),
            window,
            self.joint.stock.splices,
            margins=self.margins,
            against=self._against,
            today=self.today,
            properties=self.properties,
        )
        if s is None:
            return Found((choice,))
        lot = s.first_lot(self.today)
        die = f", die {s.die}" if s.die else ""
        return Found(
            (choice,),
            (),
            Splice(
                "sealed",
                s.said,
                f"{s.said}{die}: both conductors seen in its window, each indent on its line.",
                "Crimped",
                strip_mm=s.strip_mm,
                metal_mm=s.barrel_mm,
                metal_od_mm=s.barrel_od_mm,
                length_mm=s.length_mm,
                tube=s.tube(""),
                used=(Material(s.said, 1, "piece", s.on_hand, part_id=s.id, lot=lot),),
                part_id=s.id,
                lot=lot,
                sleeve_id=s.id,
                shrink_c=s.shrink_c,
                scorch_c=s.scorch_c,
                die=s.die or "",
            ),
        )

    def _against(self, s: StockSplice) -> str:
        if few := self._too_few(s.on_hand, s.id):
            return few
        for area in self.areas_mm2:
            if not (at_least(area, s.area_least_mm2) and at_most(area, s.area_most_mm2)):
                return (
                    f"takes {mm2(s.area_least_mm2):g} to {mm2(s.area_most_mm2):g} mm², a core has"
                    f" {mm2(area):g} mm²"
                )
        return ""

    # --- metal, and a sleeve of its own -----------------------------------------------------------------

    def _barrels(self) -> Found:
        """A crimp barrel, and a sleeve over it."""
        judged = [(c, self._no_barrel(c)) for c in self.joint.stock.connectors]
        good = [c for c, why in judged if not why]
        best = min(
            good, key=lambda c: (c.price_each if c.price_each is not None else 1e9, c.id), default=None
        )
        areas = " and ".join(f"{mm2(a):g}" for a in dict.fromkeys(self.areas_mm2))
        pick = Pick(
            self._own("barrel"),
            self._of("crimp barrel"),
            f"for {areas} mm², {self.cores} of them",
            tuple(Offer(c.id, c.said, not why, why or f"⌀ {mm(c.od_mm):g} mm") for c, why in judged),
            picked=best.id if best else None,
            advice=f"Order crimp barrels for {areas} mm².",
        )
        if best is None:
            return Found((), (pick,))
        lot = best.first_lot(self.today)
        die = f", die {best.die}" if best.die else ""
        extra = self.rules.number("cut.strip_extra_mm")
        return self._sleeved(
            best.length_mm + 2 * best.growth_mm,
            best.od_mm,
            best.insertion_mm + best.growth_mm + extra,
            (pick,),
            method="barrel",
            said=best.said,
            how=f"{best.said}{die}: conductor seen at both ends, indents in line, no strand outside.",
            action="Crimped",
            part_id=best.id,
            lot=lot,
            die=best.die or "",
            first=(Material(best.said, 1, "piece", best.on_hand, part_id=best.id, lot=lot),),
        )

    def _no_barrel(self, c: StockConnector) -> str:
        if c.kind != "crimp":
            return f"is {c.kind}"
        if c.free(self.today) == 0:
            return "none on hand in date"
        if few := self._too_few(c.on_hand, c.id):
            return few
        wrong = next((a for a in self.areas_mm2 if not c.suits(a)), None)
        return f"does not take {mm2(wrong):g} mm²" if wrong is not None else ""

    def _soldered(self) -> Found:
        """Conductors laid side by side or hooked into each other, and a sleeve over them."""
        lap, half = self.joint.splice == "lap", self.joint.half_strands
        long = self.rules.number("screen.lap_mm" if lap else "screen.hook_mm")
        share = 0.5 if half else 1.0
        thick = 2 * max(LAID * sqrt(4 * a * share / pi) for a in self.areas_mm2)
        how = (
            f"Tin both, lay them side by side over {mm(long, LEAST):g} mm"
            f"{', half of the strands of each cut off' if half else ''}, bind with one strand, solder."
            if lap
            else f"Hook both into each other, close the hooks to {mm(long):g} mm, solder."
        )
        return self._sleeved(
            long,
            thick,
            long + self.rules.number("cut.strip_extra_mm"),
            (),
            method="lap" if lap else "hook",
            said="soldered lap" if lap else "soldered hook",
            how=f"{how} Let it cool where it lies.",
            action="Soldered",
            part_id="",
            lot="",
            die="",
            first=(),
        )

    def _sleeved(
        self,
        metal_mm: float,
        metal_od_mm: float,
        strip_mm: float,
        picks: tuple[Pick, ...],
        **more: object,
    ) -> Found:
        """With a sleeve over the metal and onto sound insulation of both sides."""
        r, (low, high) = self.rules, (min(self.insulation_mm), max(self.insulation_mm))
        half = strip_mm + overlap_mm(r, "core", high)
        line = ((-half, low), (-metal_mm / 2, low), (-metal_mm / 2, metal_od_mm))
        profile = (*line, *((-x, od) for x, od in reversed(line)))
        wet = bool(WET & set(self.joint.duties))
        window = Window(
            max(high, metal_od_mm),
            low,
            profile,
            need_lined=wet,
            properties=self.properties - ({"lined"} if not wet else frozenset()),
            wall_od_mm=max(high, metal_od_mm),
            pieces=self.cores,
            squareness_mm=r.number("sleeve.squareness_mm"),
        )
        layer, title = f"unit-{self.units[0]}", self._of("sleeve over each core")
        choice = self.sleeve_choice(layer, title, window, "tube")
        choice = replace(choice, cores=self.units, each=self.cores // len(self.units))
        if choice.picked is None:
            return Found((choice,), picks)
        part = next(s for s in self.joint.stock.sleeves if s.id == choice.picked.candidate.id)
        cut = float(choice.picked.cut_length_mm)
        lot = part.first_lot(self.today)
        name = part.name or part.id
        sleeve = Material(name, cut, "mm", choice.picked.candidate.on_hand_mm, part_id=part.id, lot=lot)
        first = more.pop("first")
        assert isinstance(first, tuple)
        return Found(
            (choice,),
            picks,
            Splice(
                strip_mm=strip_mm,
                metal_mm=metal_mm,
                metal_od_mm=metal_od_mm,
                length_mm=2 * half,
                tube=choice.picked.candidate.tube,
                used=(*first, sleeve),
                sleeve_id=part.id,
                threaded_mm=cut,
                shrink_c=part.shrink_c,
                scorch_c=part.scorch_c,
                tools=("crimp-tool",) if picks else (),
                **more,  # type: ignore[arg-type]  # fields of a splice
            ),
        )


def other_ways(joint: ScreenedFile) -> list[tuple[str, str, dict[str, object]]]:
    """The methods that are not taken: (id, title, what they change)."""
    now = joint.splice or "sealed"
    change: dict[str, object] = {"half_strands": False}
    return [
        (f"splice-{m}", f"Cores joined by {said}", change | {"splice": m})
        for m, said in TITLES.items()
        if m != now
    ]
