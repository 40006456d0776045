"""The braid of a screened cable made good: folds, donor braid, and what holds it on them."""

from dataclasses import replace
from functools import cached_property
from itertools import pairwise
from math import cos, radians

from tinknot.core.choosing.choose import Window
from tinknot.core.families.choice import Choice, Pick, choice_of_whole, pick_of
from tinknot.core.families.screened.file import Fixing
from tinknot.core.families.screened.splicing import Splicing
from tinknot.core.figures import LEAST, MOST, mm
from tinknot.core.formulas.braid import Braid
from tinknot.core.formulas.conductor import RESISTIVITY_OHM_MM2_KM, circle_mm2
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.screen import Held, fold_mm
from tinknot.core.layers.screened.screens import DonorBraid
from tinknot.core.layers.solder_sleeve import SolderSleeve
from tinknot.core.parts.clamp import StockClamp
from tinknot.core.parts.donor import StockDonor
from tinknot.core.parts.ring import StockRing
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.parts.stocked import closest
from tinknot.core.tolerance import at_least, at_most, whole_up

FIXED: dict[Fixing, str] = {
    "solder": "solder sleeves",
    "spring": "constant-force springs",
    "ring": "crimp rings",
}


class Braiding(Splicing):
    """What goes over the joined cores where the cable is braided."""

    def _fold(self, side: int) -> float:
        """How far the braid is folded back over a sheath, mm: no longer than there is room for in the solder
        sleeve that goes over it."""
        if not self.braided:
            return 0.0
        most = fold_mm(self.rules, self.sheath[side])
        part = self.solder_choices[side][1] if self._fixed_by() == "solder" else None
        return most if part is None else min(most, part.fold_room_mm)

    @property
    def braid_mm(self) -> float:
        """How thick the cable's braid is."""
        j = self.joint
        if j.strand_mm is not None:
            return 2 * j.strand_mm
        return ((j.screen_od_mm or j.inside_od_mm) - j.inside_od_mm) / 2

    def _fixed_by(self) -> Fixing:
        if self.joint.fixed:
            return self.joint.fixed
        if self.joint.cold_only:
            return "spring"
        return "solder" if all(part for _, part in self.solder_choices) else "spring"

    def _donor(
        self,
        under: Profile,
        seat: tuple[float, float],
    ) -> tuple[Pick, DonorBraid | None]:
        """The donor braid that covers best of those that go over the bulge and both folds, off a reel before
        from equal cable."""
        bulge = under.between(*seat).greatest()
        layers, least = (2 if self.joint.second else 1), self.rules.number("screen.coverage_pct")
        spare, more = (self.rules.number(f"screen.{k}_mm") for k in ("donor_spare", "harvest"))

        def covers(d: StockDonor) -> float:
            return 100 * (1 - (1 - d.braid.over(bulge).coverage_pct / 100) ** layers)

        def cut(d: StockDonor) -> int:
            return whole_up(drawn_mm(d.braid, under.between(*seat)) + spare)

        def booked(d: StockDonor) -> int:
            return whole_up(cut(d) + more) if d.harvested else cut(d)

        def fault(d: StockDonor) -> str:
            if d.free(self.today) == 0:
                return "none on hand in date"
            if not d.braid.reaches(bulge):
                most = 0.0 if d.braid.jam is None else d.braid.most_under_mm
                return f"jams: it goes over {mm(most):.1f} mm at most, the bulge has {mm(bulge):.1f} mm"
            if not at_least(covers(d), least):
                return f"covers {covers(d):.0f} % over {mm(bulge, LEAST):.1f} mm, {least:g} % are asked for"
            have = d.free(self.today)
            if have is not None and not at_least(have * d.roll_mm, booked(d) * layers):
                return (
                    f"{mm(have * d.roll_mm, MOST):.0f} mm on hand, {mm(booked(d) * layers, LEAST)} mm needed"
                )
            return ""

        def cost(d: StockDonor) -> str:
            return f", takes {mm(booked(d) * layers)} mm of equal cable" if d.harvested else ""

        need = f"at least {least:g} % over {mm(bulge, LEAST):.1f} mm"
        advice = f"Order wider donor braid, {need}; or lay two layers of it, or take it from equal cable."
        pick, best = pick_of(
            "donor",
            "donor braid",
            need,
            advice,
            self.joint.stock.donors,
            fault,
            lambda d: (d.harvested, -covers(d), d.id),
            lambda d: f"covers {covers(d):.0f} % over {mm(bulge, LEAST):.1f} mm{cost(d)}",
        )
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
            booked(best) if best.harvested else 0,
            bulge,
            covers(best),
            layers,
            "A",
        )

    @cached_property
    def solder_choices(self) -> list[tuple[Choice, StockSolderSleeve | None]]:
        """The solder sleeve on each fold, the same wherever the splices stand."""
        return [self._solder_choice(side, fold_mm(self.rules, self.sheath[side])) for side in (0, 1)]

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
            if s.lead_mm2 is not None:
                return "has a lead in it"
            if not at_most(s.melts_c, self.joint.bears_c):
                return (
                    f"melts at {s.melts_c:g} °C, what lies under the screen bears {self.joint.bears_c:g} °C"
                )
            if not at_most(s.solder_mm, min(fold, s.fold_room_mm)):
                own = min(fold, s.fold_room_mm)
                return f"its ring of solder is {mm(s.solder_mm):g} mm wide, the fold {mm(own):.1f} mm"
            return s.too_short_for_fold(self.rules.number("screen.fold_min_mm"))

        choice, part = choice_of_whole(
            f"solder-{name}",
            f"solder sleeve on {name}",
            window,
            parts,
            self.margins,
            against,
            self.today,
            self.properties,
            rings={s.id: s.rings for s in parts},
        )
        half = min(fold, part.fold_room_mm) / 2 if part else fold / 2
        return replace(choice, bare_mm=(-half, half)), part

    def _donors(self) -> list[StockDonor]:
        return self.joint.stock.donors

    def _held(
        self,
        fixed: Fixing,
        parts: list[StockSolderSleeve],
        under: Profile,
        gap_mm: float,
        folds: tuple[float, float],
    ) -> tuple[list[Layer], list[Pick]]:
        """What holds the donor braid on both folds."""
        found: list[Layer] = []
        picks: list[Pick] = []
        for side, end in enumerate("AB"):
            sign, middle = (-1, 1)[side], (gap_mm + folds[side]) / 2
            if fixed == "solder":
                if len(parts) < 2:
                    continue
                found.append(self._soldered(parts[side], end, sign * middle, sign, under))
                continue
            on = under.at(sign * middle).greatest_mm
            pick, part = self._holder(fixed, end, on)
            picks.append(pick)
            if part is not None:
                half = min(part.width_mm, folds[side]) / 2
                held = Held(
                    f"{fixed}-{end}",
                    FIXED[fixed].removesuffix("s"),
                    self.rules,
                    part,
                    part.first_lot(self.today),
                    (sign * middle - half, sign * middle + half),
                    on,
                    joins="fold and donor braid",
                    on=end,
                    order=2,
                )
                found.append(held)
        return found, picks

    def _soldered(
        self, part: StockSolderSleeve, end: str, at: float, sign: int, under: Profile
    ) -> SolderSleeve:
        """A solder sleeve with its ring in the middle of the fold, its wide mouth on the sheath."""

        def here(a: float, b: float) -> tuple[float, float]:
            x, y = sorted((at - sign * a, at - sign * b))
            return x, y

        wide, solder, other = part.rings
        span = here(*part.reach_mm)
        gun = self.rules.number("heat.solder_c")
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
            order=2,
        )

    def _holder(self, fixed: Fixing, end: str, on_mm: float) -> tuple[Pick, "StockClamp | StockRing | None"]:
        """The constant-force spring or crimp ring on one fold; a ring is slid over all of it."""
        stock, title = self.joint.stock, FIXED[fixed].removesuffix("s")
        parts: list[StockClamp | StockRing] = list(stock.rings if fixed == "ring" else stock.clamps)

        def fault(c: StockClamp | StockRing) -> str:
            if isinstance(c, StockRing):
                return c.not_on(on_mm, self.today) or c.not_over(on_mm, self.margins)
            return c.not_on(on_mm, self.today) if c.kind == "spring" else "is a clamp"

        need = f"{mm(on_mm):.1f} mm over fold and donor braid"
        advice = f"Order a {title} for {mm(on_mm):.1f} mm."
        layer, on = f"{fixed}-{end}", f"{title} on {end}"
        return pick_of(layer, on, need, advice, parts, fault, closest, lambda c: c.range_said)

    def _screen_uohm(self, donor: DonorBraid, length_mm: float) -> float:
        """The most the screen may read: its own length, estimated from the donor's strands, and contacts."""
        b = donor.part.braid
        copper = b.carriers * b.ends * circle_mm2(b.strand_mm) * cos(radians(b.as_made.angle_deg)) ** 2
        own = RESISTIVITY_OHM_MM2_KM / copper * length_mm
        factor, contact = (self.rules.number(f"screen.{k}") for k in ("resistance_factor", "contact_mohm"))
        return factor * own + 2 * 1000 * contact


def drawn_mm(braid: Braid, under: Profile) -> float:
    """The length of braid as made that lies over a profile, mm: ∫ dx / factor(x). Where the profile is
    thinner than the braid closes on, it lies as on the least it closes on."""
    total = 0.0
    for p, q in pairwise(under.stations):
        middle = max((p.greatest_mm + q.greatest_mm) / 2, braid.least_under_mm)
        total += (q.x_mm - p.x_mm) / braid.length_factor(middle)
    return total
