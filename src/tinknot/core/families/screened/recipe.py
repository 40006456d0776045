"""A screened cable joined: units spliced at their places, foil and braid made good, a sleeve over all."""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from datetime import date
from functools import cached_property, partial
from itertools import pairwise
from math import ceil, cos, pi, radians
from typing import Any

from tinknot.core.choosing.choose import Catalogue, Window
from tinknot.core.choosing.park import Parking, ParkItem, park
from tinknot.core.drawing.model import Section
from tinknot.core.families.choice import Choice, Offer, Pick
from tinknot.core.families.contract import Way
from tinknot.core.families.recipe import BaseRecipe, rest_min
from tinknot.core.families.screened.file import ScreenedFile
from tinknot.core.families.screened.layout import Layout, laid
from tinknot.core.families.screened.section import section
from tinknot.core.families.screened.solution import ScreenedSolution
from tinknot.core.formulas.conductor import RESISTIVITY_OHM_MM2_KM, circle_mm2, resistance_uohm
from tinknot.core.joint.cable import CableEnd, Round
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.makeup import UNIT
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer, Threaded
from tinknot.core.layers.cooling import cooling_together
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.ringing import RingOut
from tinknot.core.layers.screen import Held, ScreenCover, SolderSleeve
from tinknot.core.layers.screened import (
    DonorBraid,
    Drains,
    FoilMadeGood,
    ScreenedEnd,
    ScreenedProcedure,
    UnitSpliced,
)
from tinknot.core.layers.sleeve import COLD
from tinknot.core.parts.clamp import StockClamp
from tinknot.core.parts.donor import StockDonor
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.parts.splice import StockSplice
from tinknot.core.plan.parts import CoreOut, PartOut
from tinknot.core.plan.plan import Plan
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least, at_most, whole_up

OWN = ScreenedFile.model_fields.keys() - JointHead.model_fields.keys()  # what the questions fill
TAIL_MM = 200.0  # of sheath drawn on either side
COPPER = 0.3  # of the cable's cross-section, to reckon how long it holds heat
MOST_PLACES = 6  # places along the joint that are tried
FOIL_MM = 0.1  # what a half-lapped wrap of foil adds to a radius; estimated, it is seldom measured


class ScreenedRecipe(BaseRecipe[ScreenedFile, ScreenedSolution]):
    """One joint file worked through with one rule book, on one day. Side A lies at negative x."""

    def __init__(self, joint: ScreenedFile, rules: RuleBook, today: date | None) -> None:
        joint.check()
        super().__init__(joint, rules, today)
        if joint.cold_only:
            self.properties |= {COLD}
        self.cables, self.cable = joint.sides, joint.joined
        self.sheath = (joint.sheath_od_mm, joint.sheath_od_b_mm or joint.sheath_od_mm)
        self.core = (joint.insulation_od_mm, joint.insulation_od_b_mm or joint.insulation_od_mm)
        self.braided = "braid" in self.cable.overall

    @cached_property
    def sleeves(self) -> Mapping[str, StockSleeve]:
        """Sleeves, and splices and solder sleeves as sleeves."""
        stock = self.joint.stock
        own = {s.id: s for s in stock.sleeves}
        return (
            own | {s.id: s.sleeve() for s in stock.splices} | {s.id: s.sleeve() for s in stock.solder_sleeves}
        )

    # --- splices and their places -----------------------------------------------------------------------

    @cached_property
    def splice_choice(self) -> Choice:
        """Every sealed splice over the cores of both sides."""
        low, high = min(self.core), max(self.core)
        areas = [c.area_mm2 for c in self.cables]
        parts = self.joint.stock.splices
        window = Window(high, low, ((0.0, low), (1.0, low)), need_lined=True, squareness_mm=0.0)

        def against(s: StockSplice) -> str:
            if s.free(self.today) == 0:
                return "none on hand in date"
            if s.on_hand is not None and s.on_hand < self.cable.cores:
                return f"{s.on_hand:g} on hand, {self.cable.cores} needed"
            for area in areas:
                if not (at_least(area, s.area_least_mm2) and at_most(area, s.area_most_mm2)):
                    return f"takes {s.area_least_mm2:g} to {s.area_most_mm2:g} mm², a core has {area:g} mm²"
            if lacks := sorted(self.properties - {*s.properties, "lined"}):
                return f"is not {', '.join(lacks)}"
            return ""

        bars = {s.id: why for s in parts if (why := against(s))}
        stock = Catalogue([s.candidate() for s in parts], self.margins, bars)
        found = stock.ranked(window)
        picked = found[0] if len(found) else None
        return Choice("splices", "sealed splice", window, found, stock, picked, as_it_comes=True)

    @cached_property
    def splice(self) -> StockSplice | None:
        """The one taken."""
        picked = self.splice_choice.picked
        return next((s for s in self.joint.stock.splices if picked and s.id == picked.candidate.id), None)

    @cached_property
    def layouts(self) -> dict[int, Layout]:
        """By places along the joint, those that are looked at."""
        if self.splice is None:
            return {}
        asked = self.joint.positions
        places = [asked] if asked else range(1, min(MOST_PLACES, self.cable.units) + 1)
        return {
            k: laid(self.cable, k, self.joint.apart, self.splice, max(self.core), self.rules) for k in places
        }

    # --- the stack --------------------------------------------------------------------------------------

    def solve(self) -> ScreenedSolution:
        """With the places asked for; else the thinnest joint that can be built, of these the shortest."""
        if self.joint.forbids and not self.joint.owner:
            return ScreenedSolution(stops=("Its papers forbid a joint: ask for a larger entry or a box.",))
        if self.splice is None:
            return ScreenedSolution(choices=(self.splice_choice,))
        tried = [self._with(layout) for layout in self.layouts.values()]
        return min(tried, key=_worth)

    def _fold(self, side: int) -> float:
        """How far the braid is folded back over a sheath, mm."""
        if not self.braided:
            return 0.0
        r = self.rules
        return max(r.number("screen.fold_min_mm"), r.number("screen.fold_per_od") * self.sheath[side])

    @property
    def braid_mm(self) -> float:
        """How thick the cable's braid is."""
        j = self.joint
        if j.strand_mm is not None:
            return 2 * j.strand_mm
        return ((j.screen_od_mm or j.inside_od_mm) - j.inside_od_mm) / 2

    def _inner(self, layout: Layout, folds: tuple[float, float]) -> Profile:
        """Sheath, fold, bundle, fold, sheath."""
        half, more = layout.gap_mm / 2, 2 * self.braid_mm
        a, b = self.sheath
        bundle = [
            (x1, x2, d, d) for x1, x2 in pairwise(layout.edges) for d in [layout.bundle_mm((x1 + x2) / 2)]
        ]
        far = half + max(folds) + self._overlap(0) + TAIL_MM
        return Profile.of_stretches(
            [
                (-far, -half - folds[0], a, a),
                (-half - folds[0], -half, a + more, a + more),
                *bundle,
                (half, half + folds[1], b + more, b + more),
                (half + folds[1], far, b, b),
            ]
        )

    def _overlap(self, side: int) -> float:
        r = self.rules
        return max(r.number("overlap.outer_min_mm"), r.number("overlap.outer_per_od") * self.sheath[side])

    def _with(self, layout: Layout) -> ScreenedSolution:
        j, r, half = self.joint, self.rules, layout.gap_mm / 2
        assert self.splice is not None
        choices: list[Choice] = [self.splice_choice]
        picks: list[Pick] = []
        parts: list[StockSolderSleeve] = []
        fixed = self._fixed_by()
        folds = (self._fold(0), self._fold(1))
        if self.braided and fixed == "solder":
            chosen = [self._solder_choice(side, folds[side]) for side in (0, 1)]
            choices += [c for c, _ in chosen]
            parts = [p for _, p in chosen if p]
        inner = self._inner(layout, folds)
        units = self._units(layout)
        cools = cooling_together(
            "cores-cool", [(f"seal.{u.id}", u.cool_min, f"inspect.{u.id}") for u in units], r
        )
        over: list[Layer] = []
        under: Profile = inner
        after: tuple[str, ...] = ("before-closing",)
        drains = [str(n + 1) for n in range(self.cable.units)] if "drain" in self.cable.each else []
        drains += ["all"] if "drain" in self.cable.overall else []
        foiled = "foil" in self.cable.each, "foil" in self.cable.overall
        if drains:
            over.append(Drains("drains", "drain wires", r, tuple(drains)))
            after = (over[-1].last,)
        if any(foiled):
            foil = FoilMadeGood(
                "foil",
                "foil",
                r,
                self.cable.units if foiled[0] else 0,
                foiled[1],
                (-half, half),
                after,
                2 * FOIL_MM,
            )
            under, after = foil.apply(under), (foil.last,)
            over.append(foil)
        seat = (-half - folds[0], half + folds[1])
        donor: DonorBraid | None = None
        if self.braided:
            pick, donor = self._donor(under, seat, layout.gap_mm, folds, after)
            picks.append(pick)
            if donor is None:
                return ScreenedSolution(
                    choices=tuple(choices), picks=tuple(picks), layout=layout, steps=layout.positions
                )
            under = donor.apply(under)
            over.append(donor)
            held, more = self._held(fixed, parts, under, layout.gap_mm, folds, donor.last)
            picks += more
            if len(held) < 2:
                return ScreenedSolution(
                    choices=tuple(choices), picks=tuple(picks), layout=layout, steps=layout.positions
                )
            for x in held:
                under = x.apply(under)
            over += held
            after = tuple(x.last for x in held)
        low = min([seat[0], *(y[0] for x in over if (y := x.closes_mm()))])
        high = max([seat[1], *(y[1] for x in over if (y := x.closes_mm()))])
        span = (low - self._overlap(0), high + self._overlap(1))
        ends = tuple(
            CableEnd(name, "", Round(od, od), (), free)
            for name, od, free in zip("AB", self.sheath, (j.free_a_mm, j.free_b_mm), strict=True)
        )
        cover = ScreenCover(
            "outer-sleeve",
            "outer sleeve",
            span,
            r,
            properties=self.properties,
            ends=ends,
            overlap_mm=(-half - span[0], span[1] - half),
            park_order=3,
            after=after,
            closes=True,
            drawn="outer-sleeve",
        )
        window = cover.requires(under, under.between(*span))
        assert window is not None
        choice = self.sleeve_choice(cover.id, cover.title, window, "tube", j.sleeve, "/asked/sleeve")
        choices.append(choice)
        if choice.picked is None:
            return ScreenedSolution(
                choices=tuple(choices), picks=tuple(picks), layout=layout, steps=layout.positions
            )
        stock = self.sleeves[choice.picked.candidate.id]
        cover = replace(
            cover,
            part=stock,
            lot=stock.first_lot(self.today),
            cut_length_mm=choice.picked.cut_length_mm,
        )
        if cover.hot:
            cover = replace(cover, cool_min=self._cool(cover.apply(under).between(*span).greatest()))
        return self._whole(layout, folds, inner, units, list(cools), [*over, cover], choices, picks, donor)

    def _units(self, layout: Layout) -> list[UnitSpliced]:
        """Every unit with its splices."""
        splice, rules = self.splice, self.rules
        assert splice is not None
        heat = None
        if splice.shrink_c is not None:
            above = (
                rules.number("heat.above_c")
                if splice.scorch_c is None
                else rules.number("heat.share") * (splice.scorch_c - splice.shrink_c)
            )
            heat = splice.shrink_c + above
        cool = float(ceil(rest_min(rules, self.joint.ambient_c, layout.spliced_mm, self.cable.area_mm2)))
        return [
            UnitSpliced(
                f"unit-{name}",
                f"{UNIT[self.cable.per_unit]} {name}",
                name,
                rules,
                splice,
                splice.first_lot(self.today),
                centres,
                self._turns(layout, centres),
                cool,
                heat,
            )
            for name, centres in layout.centres_mm.items()
        ]

    def _turns(self, layout: Layout, centres: Mapping[str, float]) -> float | None:
        """Turns of a unit to wind in: what was untwisted, less its splices and the lays that may stay."""
        lay = self.joint.lay_mm
        if lay is None or len(centres) < 2:
            return None
        splices = max(centres.values()) - min(centres.values()) + layout.splice_mm
        stays = splices + self.rules.number("screen.lays_left") * lay
        return round(max(0.0, (layout.gap_mm - stays) / lay), 1)

    # --- the braid --------------------------------------------------------------------------------------

    def _fixed_by(self) -> str:
        if self.joint.fixed:
            return self.joint.fixed
        if self.joint.cold_only:
            return "spring"
        return "solder" if all(self._solder_choice(n, self._fold(n))[1] for n in (0, 1)) else "spring"

    def _donor(
        self,
        under: Profile,
        seat: tuple[float, float],
        gap_mm: float,
        folds: tuple[float, float],
        after: tuple[str, ...],
    ) -> tuple[Pick, DonorBraid | None]:
        """The donor braid that covers best of those that go over the bulge and both folds."""
        bulge = under.between(*seat).greatest()
        layers, least = (2 if self.joint.second else 1), self.rules.number("screen.coverage_pct")
        spare = self.rules.number("screen.donor_spare_mm")

        def covers(d: StockDonor) -> float:
            return 100 * (1 - (1 - d.braid.over(bulge).coverage_pct / 100) ** layers)

        def cut(d: StockDonor) -> int:
            return whole_up((gap_mm + sum(folds)) / d.braid.length_factor(bulge) + spare)

        def fault(d: StockDonor) -> str:
            if d.free(self.today) == 0:
                return "none on hand in date"
            if not d.braid.reaches(bulge):
                most = 0.0 if d.braid.jam is None else d.braid.most_under_mm
                return f"jams: it goes over {most:.1f} mm at most, the bulge has {bulge:.1f} mm"
            if not at_least(covers(d), least):
                return f"covers {covers(d):.0f} % over {bulge:.1f} mm, {least:g} % are asked for"
            have = d.free(self.today)
            if have is not None and not at_least(have * d.roll_mm, cut(d) * layers):
                return f"{have * d.roll_mm:.0f} mm on hand, {cut(d) * layers} mm needed"
            return ""

        judged = [(d, fault(d)) for d in self.joint.stock.donors]
        best = min((d for d, why in judged if not why), key=lambda d: (-covers(d), d.id), default=None)
        offers = tuple(
            Offer(d.id, d.said, not why, why or f"covers {covers(d):.0f} % over {bulge:.1f} mm")
            for d, why in judged
        )
        need = f"at least {least:g} % over {bulge:.1f} mm"
        advice = f"Order wider donor braid: {need}. Or lay two layers over each other."
        pick = Pick("donor", "donor braid", need, offers, best.id if best else None, advice)
        if best is None:
            return pick, None
        lot = best.first_lot(self.today)
        return pick, DonorBraid(
            "donor",
            "donor braid",
            self.rules,
            best,
            lot,
            seat,
            cut(best),
            bulge,
            covers(best),
            layers,
            "A",
            after,
        )

    def _solder_choice(self, side: int, fold: float) -> tuple[Choice, StockSolderSleeve | None]:
        """Every solder sleeve over fold and donor braid on one side."""
        name, sheath = "AB"[side], self.sheath[side]
        thick = (
            sheath + 2 * self.braid_mm + 2 * max((d.braid.thickness_mm for d in self._donors()), default=0)
        )
        front = self.joint.inside_od_mm
        window = Window(
            thick, min(sheath, front), ((0.0, sheath), (1.0, sheath)), need_lined=True, squareness_mm=0
        )
        parts = self.joint.stock.solder_sleeves

        def against(s: StockSolderSleeve) -> str:
            if s.free(self.today) == 0:
                return "none on hand in date"
            if s.lead_mm2 is not None:
                return "has a lead in it"
            if not at_most(s.melts_c, self.joint.bears_c):
                return (
                    f"melts at {s.melts_c:g} °C, what lies under the screen bears {self.joint.bears_c:g} °C"
                )
            if not at_most(s.solder_mm, fold):
                return f"its ring of solder is {s.solder_mm:g} mm wide, the fold {fold:.1f} mm"
            if not at_least(s.solder_at_mm - s.seal_mm, fold / 2):
                return "the sealing ring of its wide mouth would lie on the fold"
            if lacks := sorted(self.properties - {*s.properties, "lined"}):
                return f"is not {', '.join(lacks)}"
            return ""

        bars = {s.id: why for s in parts if (why := against(s))}
        stock = Catalogue([s.candidate() for s in parts], self.margins, bars)
        found = stock.ranked(window)
        picked = found[0] if len(found) else None
        choice = Choice(
            f"solder-{name}",
            f"solder sleeve on {name}",
            window,
            found,
            stock,
            picked,
            bare_mm=(-fold / 2, fold / 2),
            rings={s.id: s.rings for s in parts},
            as_it_comes=True,
        )
        return choice, next((s for s in parts if picked and s.id == picked.candidate.id), None)

    def _donors(self) -> list[StockDonor]:
        return self.joint.stock.donors

    def _held(
        self,
        fixed: str,
        parts: list[StockSolderSleeve],
        under: Profile,
        gap_mm: float,
        folds: tuple[float, float],
        after: str,
    ) -> tuple[list[Layer], list[Pick]]:
        """What holds the donor braid on both folds."""
        found: list[Layer] = []
        picks: list[Pick] = []
        for side, end in enumerate("AB"):
            sign, middle = (-1, 1)[side], (gap_mm + folds[side]) / 2
            if fixed == "solder":
                if len(parts) < 2:
                    continue
                found.append(self._soldered(parts[side], end, sign * middle, sign, under, after))
                continue
            on = under.at(sign * middle).greatest_mm
            pick, part = self._spring(end, on, folds[side])
            picks.append(pick)
            if part is not None:
                half = min(part.width_mm, folds[side]) / 2
                span = (sign * middle - half, sign * middle + half)
                lot = part.first_lot(self.today)
                found.append(
                    Held(
                        f"spring-{end}",
                        "spring",
                        self.rules,
                        part,
                        lot,
                        span,
                        on,
                        joins="fold and donor braid",
                        on=end,
                        after=(after,),
                    )
                )
        return found, picks

    def _soldered(
        self, part: StockSolderSleeve, end: str, at: float, sign: int, under: Profile, after: str
    ) -> SolderSleeve:
        """A solder sleeve with its ring in the middle of the fold, its wide mouth on the sheath."""

        def here(a: float, b: float) -> tuple[float, float]:
            x, y = sorted((at - sign * a, at - sign * b))
            return x, y

        wide, solder, other = part.rings
        span = here(*part.reach_mm)
        gun = part.melts_c + (
            self.rules.number("heat.above_c")
            if part.scorch_c is None
            else self.rules.number("heat.share") * (part.scorch_c - part.melts_c)
        )
        return SolderSleeve(
            f"solder-{end}",
            f"solder sleeve on {end}",
            self.rules,
            part,
            part.first_lot(self.today),
            span,
            here(solder.from_mm, solder.to_mm),
            (here(wide.from_mm, wide.to_mm), here(other.from_mm, other.to_mm)),
            False,
            gun,
            self._cool(part.tube("").od_mm(under.between(*span).greatest())),
            joins="fold and donor braid",
            where="the fold",
            on=end,
            after=(after,),
            order=2,
        )

    def _spring(self, end: str, on_mm: float, fold: float) -> tuple[Pick, StockClamp | None]:
        """The constant-force spring on one fold."""

        def fault(c: StockClamp) -> str:
            if c.kind != "spring":
                return "is a clamp"
            if c.free(self.today) == 0:
                return "none on hand in date"
            if not at_least(on_mm, c.od_least_mm):
                return f"holds from {c.od_least_mm:g} mm, here is {on_mm:.1f} mm"
            return (
                ""
                if at_most(on_mm, c.od_most_mm)
                else f"holds up to {c.od_most_mm:g} mm, here is {on_mm:.1f} mm"
            )

        judged = [(c, fault(c)) for c in self.joint.stock.clamps]
        best = min((c for c, why in judged if not why), key=lambda c: (c.od_most_mm, c.id), default=None)
        offers = tuple(
            Offer(c.id, c.said, not why, why or f"holds {c.od_least_mm:g} to {c.od_most_mm:g} mm")
            for c, why in judged
        )
        need = f"{on_mm:.1f} mm over fold and donor braid"
        title = f"spring on {end}"
        advice = f"Order a constant-force spring for {on_mm:.1f} mm."
        return Pick(f"spring-{end}", title, need, offers, best.id if best else None, advice), best

    # --- all of it --------------------------------------------------------------------------------------

    def _whole(
        self,
        layout: Layout,
        folds: tuple[float, float],
        inner: Profile,
        units: list[UnitSpliced],
        cools: list[Layer],
        over: list[Layer],
        choices: list[Choice],
        picks: list[Pick],
        donor: DonorBraid | None,
    ) -> ScreenedSolution:
        j, half = self.joint, layout.gap_mm / 2
        assert self.splice is not None
        parking = self._parking([t for x in over for t in x.threads()])
        over = [_parked(x, parking) for x in over]
        ends = [
            ScreenedEnd(
                f"end-{name}",
                f"end {name}",
                name,
                self.rules,
                layout.cut_mm(name),
                self.splice.strip_mm,
                folds[n],
                "foil" in self.cable.overall,
                ((-half - folds[0], 0.0), (0.0, half + folds[1]))[n],
                self._spare(n),
            )
            for n, name in enumerate("AB")
        ]
        looked = tuple(x.last for x in (cools or units))
        procedure = ScreenedProcedure(
            "procedure",
            "gates and proofs",
            self.rules,
            tuple(c for cores in layout.centres_mm.values() for c in cores),
            j.rated_voltage_v,
            parked=tuple(f"park.{t.layer}" for x in over for t in x.threads()),
            joined=tuple(f"{'last' if self.cable.per_unit > 1 else 'join'}.{u.unit}" for u in units),
            core_proofs=looked,
            outer_done=(over[-1].last,),
            hazardous="hazardous" in j.duties,
            own_ohm=self._own_ohm(),
            screen_uohm=self._screen_uohm(donor, layout.gap_mm + sum(folds)) if donor else 0.0,
            elsewhere=True,
        )
        outside = inner
        for x in over:
            outside = x.apply(outside)
        ring_out = self._ring_out()
        if ring_out:
            units = [replace(u, after=(ring_out.last,)) for u in units]
        known = [ring_out] if ring_out else []
        layers: tuple[Layer, ...] = (procedure, *ends, *known, *units, *cools, *over)
        last = over[-1].closes_mm()
        return ScreenedSolution(
            layers=layers,
            choices=tuple(choices),
            picks=tuple(picks),
            outside=outside,
            seat=last,
            parking=parking,
            steps=layout.positions,
            warnings=tuple(self._warned(layout)),
            layout=layout,
            inner=inner,
        )

    def _ring_out(self) -> RingOut | None:
        """The cores of side B told apart, where their marks are not to be trusted."""
        if self.joint.marks is None:
            return None
        b = self.cables[1]
        units = tuple(str(n + 1) for n in range(self.cable.units))
        screened = bool(b.overall or b.each)
        return RingOut("ring-out", "cores of side B", self.rules, b.cores, units, self.joint.marks, screened)

    def _parking(self, threaded: list[Threaded]) -> Parking:
        """Outer sleeve and donor braid where there is room, solder sleeves each on its own end."""
        fixed = {t.layer: t.end for t in threaded if t.layer.startswith("solder-")}
        items = [
            ParkItem(
                t.layer,
                t.length_mm,
                "a"
                if fixed.get(t.layer, "") == "A" or t.layer == "donor"
                else "b"
                if t.layer in fixed
                else "either",
                t.order,
            )
            for t in threaded
        ]
        return park(
            items,
            self.joint.free_a_mm,
            self.joint.free_b_mm,
            between_mm=self.rules.number("park.between_mm"),
            keep_away_mm=self.rules.number("park.keep_away_crimp_mm"),
        )

    def _spare(self, side: int) -> tuple[str, ...]:
        cable = self.cables[side]
        return tuple(n for u in range(self.cable.units, cable.units) for n in cable.unit(u))

    def _own_ohm(self) -> float:
        """What a core reads from end to end, Ω: thin ones read much."""
        metres = self.joint.cable_length_m or self.rules.number("continuity.length_m")
        area = min(c.area_mm2 for c in self.cables)
        factor = self.rules.number("screen.resistance_factor")
        return round(factor * resistance_uohm(area, metres * 1000) / 1e6, 2)

    def _screen_uohm(self, donor: DonorBraid, length_mm: float) -> float:
        """The most the screen may read: its own length, estimated from the donor's strands, and contacts."""
        b = donor.part.braid
        copper = b.carriers * b.ends * circle_mm2(b.strand_mm) * cos(radians(b.as_made.angle_deg)) ** 2
        own = RESISTIVITY_OHM_MM2_KM / copper * length_mm
        factor, contact = (self.rules.number(f"screen.{k}") for k in ("resistance_factor", "contact_mohm"))
        return factor * own + 2 * 1000 * contact

    def _cool(self, outside_mm: float) -> float:
        copper = COPPER * pi / 4 * max(self.sheath) ** 2
        return float(ceil(rest_min(self.rules, self.joint.ambient_c, outside_mm, copper)))

    # --- how it is told ---------------------------------------------------------------------------------

    def _warned(self, layout: Layout) -> Iterator[str]:
        j = self.joint
        yield f"Read as {self.cable.said}: if it is not so, write the make-up anew."
        for side, name in enumerate("AB"):
            if spare := self._spare(side):
                yield f"Spare on {name}, capped and kept: {', '.join(spare)}."
        if j.forbids:
            yield f"Its papers forbid a joint; {j.owner} consented. Write it on the label."
        if j.cable_length_m is None:
            metres = self.rules.number("continuity.length_m")
            yield f"The cable's length is not on the card: continuity is judged as for {metres:g} m of it."
        if self.braided and j.strand_mm is None:
            yield "How thick the braid is was taken from its two diameters: an estimate."
        if self.cable.per_unit > 1 and j.lay_mm is None:
            yield "The lay of a unit was not measured: how many turns to wind in is not known."
        if "lined" not in self.properties and {"damp", "buried", "immersed"} & set(j.duties):
            yield "Wet: water runs along strands, seal both ends."
        yield "A joint adds length and capacitance to the line, and is weak in pull: relieve it."

    def ways(self, s: ScreenedSolution) -> Iterator[Way]:
        """Other places, splices further apart, the braid held otherwise, two layers of it."""
        if self.splice is None:
            return
        j, here = self.joint, s.steps
        found: list[tuple[str, str, dict[str, Any]]] = []
        for k in range(1, min(MOST_PLACES, self.cable.units) + 1):
            if k != here or not s.fits:
                places = f"{k} place{'s' if k > 1 else ''}"
                found.append((f"places-{k}", f"Units at {places} along the joint", {"positions": k}))
        if self.cable.per_unit > 1:
            other = "full" if j.apart == "half" else "half"
            found.append((f"apart-{other}", f"A unit's splices a {other} step apart", {"apart": other}))
        if self.braided:
            now = self._fixed_by()
            for how, title in (("solder", "solder sleeves"), ("spring", "constant-force springs")):
                if how != now and not (how == "solder" and j.cold_only):
                    found.append((f"fixed-{how}", f"Donor braid held by {title}", {"fixed": how}))
            if not j.second:
                found.append(("second-layer", "Two layers of donor braid", {"second": True}))
        for name, title, change in found:
            changed = j.model_copy(update=change)
            answers = changed.model_dump(mode="json", exclude_none=True, include=OWN)
            yield Way(name, title, {"asked": answers}, partial(self._worked, changed))

    def _worked(self, other: ScreenedFile) -> tuple["ScreenedRecipe", ScreenedSolution]:
        again = ScreenedRecipe(other, self.rules, self.today)
        return again, again.solve()

    def why(self, plan: Plan) -> str:
        """How long, how thick."""
        return f"Gap {plan.gap_mm or 0:.0f} mm; greatest diameter {plan.greatest_diameter_mm or 0:.1f} mm."

    def cores(self, s: ScreenedSolution) -> list[CoreOut]:
        """Every core's length on both sides."""
        if s.layout is None:
            return []
        a, b = s.layout.cut_mm("A"), s.layout.cut_mm("B")
        half = s.layout.gap_mm / 2
        return [
            CoreOut(
                core=name,
                centre_mm=x + half,
                cut_a_mm=a[unit][name],
                cut_b_mm=b[unit][name],
                area_mm2=self.cable.area_mm2,
            )
            for unit, cores in s.layout.centres_mm.items()
            for name, x in cores.items()
        ]

    def first_parts(self, s: ScreenedSolution) -> list[PartOut]:
        """Splices and solder sleeves, which are used whole."""
        pieces = {"splices": ("unit-1", self.cable.cores)}
        return self.used_whole(s, pieces) if s.layers else []

    def free_mm(self) -> dict[str, float]:
        """Clear sheath on both sides."""
        return {"A": self.joint.free_a_mm, "B": self.joint.free_b_mm}

    def draw(self, s: ScreenedSolution) -> Section | None:
        """To scale, once there is a stack."""
        if s.layout is None or s.inner is None:
            return None
        return section(s, self.sheath, self.braid_mm if self.braided else 0.0, self.joint.inside_od_mm)

    def extras(self, s: ScreenedSolution) -> dict[str, Any]:
        """The gap."""
        return {"gap_mm": s.layout.gap_mm if s.layout else None}


def _worth(s: ScreenedSolution) -> tuple[bool, float, float]:
    """What is built first: least thickness, to a tenth of a mm, then least length."""
    thick = s.finished.greatest() if s.finished else (s.layout.greatest_mm if s.layout else 0.0)
    return not s.fits, round(thick, 1), s.layout.gap_mm if s.layout else 0.0


def _parked(layer: Layer, parking: Parking) -> Layer:
    """A layer told which tail its part waits on."""
    end = "A" if layer.id in parking.a else "B"
    if isinstance(layer, CoverSleeve):
        return replace(layer, park_on="a" if end == "A" else "b")
    return layer
