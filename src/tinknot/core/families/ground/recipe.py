"""A lead on a screen: soldered in a solder sleeve, or held without heat by a spring or a crimp ring and
covered."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from datetime import date
from functools import cached_property

from tinknot.core.acts import Skin
from tinknot.core.choosing.park import Parking, ParkItem
from tinknot.core.drawing.model import Section
from tinknot.core.families.choice import Choice, Pick, choice_of_whole, pick_of
from tinknot.core.families.contract import Way
from tinknot.core.families.ground.booted import booted
from tinknot.core.families.ground.file import GroundFile, Method
from tinknot.core.families.ground.place import Place
from tinknot.core.families.ground.section import section
from tinknot.core.families.ground.solution import GroundSolution
from tinknot.core.families.moulded.bedding import as_sleeve
from tinknot.core.families.recipe import AskingRecipe, overlap_mm
from tinknot.core.figures import LEAST, MOST, mm, mm2
from tinknot.core.formulas.conductor import resistance_uohm
from tinknot.core.joint.cable import CableEnd
from tinknot.core.layers.contract import Layer, Threaded
from tinknot.core.layers.ground import ground_procedure
from tinknot.core.layers.moulded.areas import AreasRoughened
from tinknot.core.layers.proofs import Proofs
from tinknot.core.layers.screen import BareScreen, Held, Lead, ScreenCover
from tinknot.core.layers.sleeve import COLD
from tinknot.core.layers.solder_sleeve import SolderSleeve
from tinknot.core.layers.tapes import TapeWrap
from tinknot.core.parts.clamp import StockClamp
from tinknot.core.parts.ring import StockRing
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.parts.stocked import closest
from tinknot.core.plan.parts import PartOut
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.ways import Remedy
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least, at_most
from tinknot.core.world.found import Found, FoundEnd

COPPER = 0.4  # of the cable's cross-section, to reckon how long it holds heat
SEALED = {"buried", "immersed", "oil", "moving"}  # tape alone does not keep this out, or comes loose
LEAST_PASSES = 2  # of tape, so that no single gap reaches through
FINE = 5  # class of a lead's strands: flexible
TITLES: dict[Method, str] = {
    "solder": "Solder it in a solder sleeve",
    "spring": "Hold it with a constant-force spring",
    "ring": "Hold it with a crimp ring",
}


class GroundRecipe(AskingRecipe[GroundFile, GroundSolution]):
    """One lead on one screen with one rule book on one day."""

    def __init__(self, joint: GroundFile, rules: RuleBook, today: date | None) -> None:
        joint.check()
        super().__init__(joint, rules, today)
        if joint.cold_only:
            self.properties |= {COLD}
        self.place = Place(joint, rules)

    @cached_property
    def sleeves(self) -> Mapping[str, StockSleeve]:
        """Sleeves, and solder sleeves as sleeves."""
        stock = self.joint.stock
        own = {s.id: s for s in stock.sleeves} | {b.id: as_sleeve(b) for b in stock.boots}
        return own | {s.id: s.sleeve() for s in stock.solder_sleeves}

    def as_found(self, s: GroundSolution) -> Found:
        """One cable with its sheath and the screen under it."""
        at = s.place or self.place
        skins: dict[Skin, float] = {"sheath": at.sheath.greatest_mm, "screen": self.joint.screen_od_mm}
        return Found((FoundEnd("A", skins, {}, at.bare[0], away=-1),))

    def solve(self) -> GroundSolution:
        """As asked for; else soldered where that may be and a sleeve fits, else held by what fits."""
        if stops := self._stops():
            return GroundSolution(stops=stops)
        if self.joint.method is not None:
            return self._made(self.joint.method)
        tried = [self._made(m) for m in TITLES]
        return next((s for s in tried if s.fits), tried[1] if self._no_solder() else tried[0])

    def _stops(self) -> tuple[str, ...]:
        """Why no lead is put on at all."""
        j, least = self.joint, self.rules.number("screen.lead_least_mm2")
        found = []
        if j.earthed == "far":
            found.append(
                "The screen is earthed at its far end: this lead would be a second earth, and current would"
                " run through the screen. Leave it off, or let whoever owns the circuit decide for both ends."
            )
        if not at_least(j.lead_area_mm2, least):
            found.append(
                f"A lead of {mm2(j.lead_area_mm2):g} mm² is lighter than the {mm2(least):g} mm² that a"
                " screen is earthed with."
            )
        return tuple(found)

    def _no_solder(self) -> str:
        """Why nothing may be soldered here; empty where it may."""
        if self.joint.screen == "foil":
            return (
                "Aluminium foil is never soldered: a spring or a crimp ring holds the lead on its drain wire."
            )
        if self.joint.cold_only:
            return "No heat is allowed here: a spring or a crimp ring holds the lead."
        if self.joint.landed:
            return "The cable's end is not free: no closed part can be threaded on, a spring goes round."
        return ""

    def _made(self, method: Method) -> GroundSolution:
        return self._soldered() if method == "solder" else self._held(method)

    # --- soldered ---------------------------------------------------------------------------------------

    def _solder_choice(self) -> tuple[Choice, StockSolderSleeve | None]:
        """Every solder sleeve on the window of the place, with what else speaks against it."""
        low, high = self.place.bare
        parts = self.joint.stock.solder_sleeves
        return choice_of_whole(
            "solder-sleeve",
            "solder sleeve",
            self.place.asks((low - 5, high + 5)),
            parts,
            margins=self.margins,
            against=self.place.against,
            today=self.today,
            properties=self.properties,
            wanted=self.joint.sleeve,
            slot="/asked/sleeve",
            bare_mm=self.place.bare,
            rings={s.id: s.rings for s in parts},
        )

    def _soldered(self) -> GroundSolution:
        if why := self._no_solder():
            return GroundSolution(stops=(why,))
        choice, part = self._solder_choice()
        if part is None:
            return GroundSolution(choices=(choice,))
        a, b = part.reach_mm
        wide, solder, other = part.rings
        place = self.place.within(part)
        gun = self.rules.number("heat.solder_c")
        thick = part.tube("").od_mm(place.under.between(a, b).greatest())
        sleeve = SolderSleeve(
            "solder-sleeve",
            "solder sleeve",
            self.rules,
            part,
            lot=part.first_lot(self.today),
            span_mm=(a, b),
            solder_mm=(solder.from_mm, solder.to_mm),
            seals_mm=((wide.from_mm, wide.to_mm), (other.from_mm, other.to_mm)),
            window=place.window,
            gun_c=gun,
            cool_min=self._cool(thick),
            where="the fold" if self.joint.fold else "the bare screen",
        )
        choice = replace(choice, bare_mm=place.bare)
        return self._whole("solder", [], [sleeve], (choice,), picks=(), seat=(a, b), place=place)

    # --- held without heat ------------------------------------------------------------------------------

    def _held(self, method: Method) -> GroundSolution:
        low, high = self.place.bare
        on = self.place.hulls[0][2]
        parts: list[StockClamp] | list[StockRing] = (
            self.joint.stock.rings
            if method == "ring"
            else [c for c in self.joint.stock.clamps if c.kind == "spring"]
        )
        if method == "ring" and self.joint.landed:
            return GroundSolution(stops=("The cable's end is not free: a ring cannot be threaded on.",))
        pick, part = self._holder(method, parts, on)
        if part is None or self.joint.lead == "in-sleeve":
            stop = ("The lead is fixed in a solder sleeve: held without heat it must be one of your own.",)
            return GroundSolution(picks=(pick,), stops=stop if self.joint.lead == "in-sleeve" else ())
        half = min(part.width_mm, high - low) / 2
        held = Held(
            "holder",
            "spring" if method == "spring" else "crimp ring",
            self.rules,
            part,
            lot=part.first_lot(self.today),
            span_mm=(-half, half),
            on_mm=on,
        )
        return self._covered(method, held, pick)

    def _holder(
        self, method: Method, parts: "Sequence[StockClamp | StockRing]", on_mm: float
    ) -> tuple[Pick, "StockClamp | StockRing | None"]:
        """What holds the lead, with why each other one does not serve."""
        width = self.place.bare[1] - self.place.bare[0]
        pass_mm = self.place.sheath.greatest_mm

        def fault(c: StockClamp | StockRing) -> str:
            if why := c.not_on(on_mm, self.today):
                return why
            if not at_most(c.width_mm, width):
                return f"is {mm(c.width_mm):g} mm wide, the bare screen {mm(width):g} mm"
            return c.not_over(pass_mm, self.margins) if isinstance(c, StockRing) else ""

        what = "constant-force spring" if method == "spring" else "crimp ring"
        need = f"{mm(on_mm):.1f} mm over screen and lead, at most {mm(width, MOST):g} mm wide"
        advice = f"Order a {what} for {need}."
        return pick_of(
            "holder", what, need, advice, parts=parts, fault=fault, worth=closest, said=lambda c: c.range_said
        )

    def _covered(self, method: Method, held: Held, pick: Pick) -> GroundSolution:
        """Covered by a boot where that is asked for; else by a sleeve, by tape where no sleeve fits and tape
        will do."""
        if self.joint.cover == "boot":
            return self._booted(method, held, pick)
        low, high = self.place.bare
        r, s = self.rules, self.place.sheath
        on_sheath = overlap_mm(r, "outer", s.greatest_mm)
        ahead = on_sheath if self.place.window else overlap_mm(r, "core", self.joint.inside_od_mm)
        span = (low - on_sheath, high + ahead)
        under = held.apply(self.place.under)
        wet = bool(SEALED & set(self.joint.duties))
        ends = (CableEnd("A", "", s, (), free_mm=self.joint.clear_mm),)
        cover = ScreenCover(
            "ground-cover",
            "cover sleeve",
            span,
            r,
            properties=self.properties | ({"lined"} if wet else frozenset()),
            ends=ends,
            overlap_mm=(on_sheath,),
            park_on="a",
            park_order=2,
            drawn="cover",
            roughened=True,
        )
        window = cover.requires(under, under.between(*span))
        assert window is not None
        form = "wrap-around" if self.joint.landed else "tube"
        choice = self.sleeve_choice(
            cover.id, cover.title, window, form, wanted=self.joint.sleeve, slot="/asked/sleeve"
        )
        if choice.picked is not None:
            part = self.sleeves[choice.picked.candidate.id]
            cut = choice.picked.cut_length_mm
            made = replace(cover, part=part, lot=part.first_lot(self.today), cut_length_mm=cut)
            if made.hot:
                made = replace(made, cool_min=self._cool(made.apply(under).between(*span).greatest()))
            return self._whole(method, [held], [made], (choice,), picks=(pick,), seat=span)
        if wet or self.joint.sleeve:
            return GroundSolution(choices=(choice,), picks=(pick,))
        tape_pick, tape = self.tape_pick(
            "ground-tape", "tape over it", "self-amalgamating", "wound twice over all that is bare"
        )
        if tape is None:
            return GroundSolution(choices=(choice,), picks=(pick, tape_pick))
        wrap = TapeWrap(
            "ground-tape",
            "tape over it",
            tape,
            tape.first_lot(self.today),
            span_mm=span,
            passes=LEAST_PASSES,
            substrate_mm=under.between(*span).greatest(),
            rules=r,
        )
        return self._whole(method, [held], [wrap], (), picks=(pick, tape_pick), seat=span)

    def _booted(self, method: Method, held: Held, pick: Pick) -> GroundSolution:
        under = held.apply(self.place.under)
        found = booted(self.place, under, self.margins, self.properties, today=self.today, cool=self._cool)
        if found.made is None:
            return GroundSolution(choices=found.choices, picks=(pick, *found.picks))
        seat, layers = found.made.seat, list(found.made.layers)
        span = (seat.start_mm, seat.end_mm)
        return self._whole(method, [held], layers, found.choices, picks=(pick, *found.picks), seat=span)

    # --- the whole stack --------------------------------------------------------------------------------

    def _whole(
        self,
        method: Method,
        inside: list[Layer],
        covers: list[Layer],
        choices: tuple[Choice, ...],
        picks: tuple[Pick, ...],
        seat: tuple[float, float],
        place: Place | None = None,
    ) -> GroundSolution:
        p, j = place or self.place, self.joint
        low, high = p.bare
        screen = BareScreen(
            "screen",
            "bare screen",
            self.rules,
            p.bare,
            ahead_mm=j.ahead_mm,
            window=p.window,
            foil=j.screen == "foil",
            fold=j.fold,
        )
        rough = next((x for x in covers if isinstance(x, ScreenCover) and x.roughened), None)
        if rough is not None:
            beyond = self.rules.number("surface.beyond_mm")
            screen = replace(screen, rough_mm=rough.overlap_mm[0] + beyond)
        lies = (low, p.leaves[1]) if j.exit == "front" else (p.leaves[0], high)
        lead = Lead(
            "lead",
            "lead",
            self.rules,
            high - low,
            span_mm=lies,
            bare_span_mm=p.bare,
            over=p.hulls,
            od_mm=p.lead_od_mm,
            conductor_mm=p.conductor_mm,
            exit=j.exit,
            ready=j.lead == "in-sleeve",
        )
        threaded = [t for x in (*inside, *covers) for t in x.threads()]
        uohm = resistance_uohm(j.lead_area_mm2, j.lead_length_mm, FINE)
        factor, contact = (self.rules.number(f"screen.{k}") for k in ("resistance_factor", "contact_mohm"))
        procedure = ground_procedure(
            Proofs(self.rules, j.rated_voltage_v),
            lead_uohm=factor * uohm + 1000 * contact,
            elsewhere=j.earthed != "here",
            threads=bool(threaded),
            hazardous="hazardous" in j.duties,
        )
        outside = p.cable
        early = [x for x in covers if isinstance(x, AreasRoughened)]
        over = [x for x in covers if x not in early]
        layers: tuple[Layer, ...] = (procedure, screen, *early, lead, *inside, *over)
        for x in layers:
            outside = x.apply(outside)
        return GroundSolution(
            layers=layers,
            choices=choices,
            picks=picks,
            outside=outside,
            seat=seat,
            parking=self._parking(threaded),
            stops=self._room(seat, p),
            warnings=tuple(self._warned(method)),
            held_by=method,
            place=p,
        )

    def _parking(self, threaded: list[Threaded]) -> Parking | None:
        """What waits on the sheath behind the place; none where nothing is threaded."""
        if not threaded:
            return None
        items = [ParkItem(t.layer, t.length_mm, "a", t.order) for t in threaded]
        return self.parked(items, self.joint.clear_mm)

    def _room(self, seat: tuple[float, float], place: Place) -> tuple[str, ...]:
        """What seals needs clear sheath to lie on; a braid that is folded back must be long enough for it."""
        if self.joint.fold and not at_least(self.joint.ahead_mm, place.fold_mm):
            front = f"The braid stands {mm(self.joint.ahead_mm):g} mm in front of the sheath"
            return (f"{front}, folded back it is {mm(place.fold_mm):.1f} mm long.",)
        need = place.bare[0] - seat[0]
        if at_least(self.joint.clear_mm, need):
            return ()
        return (
            (
                f"Only {mm(self.joint.clear_mm):g} mm of sheath lie clear, the seal needs"
                f" {mm(need, LEAST):.0f} mm."
            ),
        )

    def _cool(self, outside_mm: float) -> float:
        return self.cool_min(outside_mm, self.place.sheath.greatest_mm, COPPER)

    # --- how it is told ---------------------------------------------------------------------------------

    def _warned(self, method: Method) -> Iterator[str]:
        j = self.joint
        if method != "solder" and j.method is None:
            why = self._no_solder()
            yield why or "No solder sleeve in stock fits: the lead is held without heat."
        if j.earthed in ("both", "capacitor"):
            yield f"Where the screen is earthed was decided by {j.owner}: write it on the label at both ends."
        if "damp" in j.duties or SEALED & set(j.duties):
            yield "Water runs along strands: seal the lead's far end too."
        if j.lead == "braid" and method == "solder":
            yield "Solder runs up a flat braid and makes it stiff: hold it with pliers beside the sleeve."

    def ways(self, s: GroundSolution) -> Iterator[Way]:
        """Held otherwise."""
        if self._stops():
            return
        if self.joint.cover != "boot" and s.held_by != "solder" and self.joint.stock.boots:
            needs = ("jacket", "hot_c", "cold_c")
            if all(getattr(self.joint, k) is not None for k in needs) and self.joint.exit == "front":
                yield self.way("boot-over", "A moulded breakout over it", {"cover": "boot", "sleeve": None})
        for method, title in TITLES.items():
            if s.fits and method == s.held_by:
                continue
            yield self.way(f"held-by-{method}", title, {"method": method, "sleeve": None})

    def why(self, plan: Plan) -> str:
        """What holds it, and how thick it is then."""
        part = plan.parts[-1]
        return f"{part.name}; greatest diameter {mm(plan.greatest_diameter_mm or 0):.1f} mm."

    def orders(self, s: GroundSolution) -> list[Remedy]:
        """What to order; of a second or a lighter earth, who decides and what to take."""
        found = super().orders(s)
        if self.joint.earthed == "far":
            why = "Earthed at both ends by design, or through a capacitor: then say so, and who decided it."
            found.append(Remedy(id="ask-owner", title="Ask whoever owns the circuit", why=why, change={}))
        least = self.rules.number("screen.lead_least_mm2")
        if not at_least(self.joint.lead_area_mm2, least):
            why = f"At least {mm2(least):g} mm²."
            found.append(Remedy(id="thicker-lead", title="Take a thicker lead", why=why, change={}))
        return found

    def first_parts(self, s: GroundSolution) -> list[PartOut]:
        """A solder sleeve or a boot, which is used whole."""
        return self.used_whole(s)

    def free_mm(self) -> dict[str, float]:
        """The sheath behind the place."""
        return {"A": self.joint.clear_mm}

    def draw(self, s: GroundSolution) -> Section:
        """The place along the cable, and cuts across it."""
        return section(s, s.place or self.place)
