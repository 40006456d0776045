"""A moulded part and what makes it tight, chosen together."""

from collections.abc import Iterator, Mapping
from dataclasses import replace
from datetime import date
from functools import cached_property

from tinknot.core.acts import Place as ActPlace
from tinknot.core.acts import Skin
from tinknot.core.choosing.park import Parking, ParkItem
from tinknot.core.drawing.model import Section
from tinknot.core.facts import MEASURED, Fact, of, over_all
from tinknot.core.families.boot.file import BootFile
from tinknot.core.families.boot.remedies import Remedies
from tinknot.core.families.boot.section import section
from tinknot.core.families.boot.solution import BootSolution
from tinknot.core.families.choice import Pick
from tinknot.core.families.contract import Way
from tinknot.core.families.moulded.adhesives import SAID, WAYS
from tinknot.core.families.moulded.bedding import On, as_sleeve, bedded, cure_pick
from tinknot.core.families.moulded.choosing import PART, Choosing, Found
from tinknot.core.families.moulded.place import Place
from tinknot.core.families.recipe import AskingRecipe, flex_mandrel
from tinknot.core.figures import mm
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.moulded.procedure import Beneath as BeneathKind
from tinknot.core.layers.moulded.procedure import Underneath, boot_procedure
from tinknot.core.layers.proofs import Proofs
from tinknot.core.layers.sleeve import COLD
from tinknot.core.parts.boot import StockBoot
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.plan.parts import PartOut
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.ways import Remedy
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least
from tinknot.core.world.found import Found as AsFound
from tinknot.core.world.found import FoundEnd

HELD = {"none": "", "band": "a band", "spring": "a spring ring"}
COPPER = 0.35  # of the cable's cross-section, to reckon how long it holds heat


class BootRecipe(AskingRecipe[BootFile, BootSolution]):
    """One moulded part with one rule book on one day."""

    def __init__(self, joint: BootFile, rules: RuleBook, today: date | None, *, begun: bool = False) -> None:
        joint.check()
        super().__init__(joint, rules, today)
        self.properties -= {"lined"}  # what keeps water out is chosen with its adhesive
        self.place = Place(joint, rules)
        self.choosing = Choosing(self.place, rules, self.margins, self.properties, today=today, begun=begun)

    @cached_property
    def sleeves(self) -> Mapping[str, StockSleeve]:
        """Sleeves, and moulded parts by their first mouth as sleeves."""
        own = {s.id: s for s in self.joint.stock.sleeves}
        return own | {b.id: as_sleeve(b) for b in self.joint.stock.boots}

    def solve(self) -> BootSolution:
        """The first adhesive that serves and with which a part fits; nothing to add before anything else."""
        if COLD in self.properties:
            return BootSolution(stops=("No heat is allowed here: moulded parts are shrunk on.",))
        found, pick = self.choosing.chosen()
        if found is None or found.part is None or pick.picked is None:
            return BootSolution(choices=found.choices if found else (), picks=(pick,))
        return self._whole(found, found.part, pick)

    def as_found(self, s: BootSolution) -> AsFound:
        """The cable, which ends at what the part goes over: beyond a fitting, or before its legs."""
        skins: dict[Skin, float] = {"sheath": self.joint.cable_od_mm}
        edge, away = s.seat[0] if s.seat else 0.0, -1
        if s.seated and self.joint.job == "fitting":
            edge, away = s.seated.mouths[-1].band_mm[0], 1
        elif s.seated:
            edge = s.seated.mouths[0].band_mm[1]
        return AsFound((FoundEnd("A", skins, {}, edge, away=away),))

    # --- the whole stack --------------------------------------------------------------------------------

    def _threads_from(self, part: StockBoot) -> str:
        """Where it is threaded on before what it goes over is made; empty where it is slid on at the end."""
        j = self.joint
        if part.form == "split":
            return ""
        if j.job == "fitting":
            needed = self.margins.needed_expanded_mm(j.fitting_od_mm or 0.0)
            if self.place.over_fitting(part, needed):
                return ""  # over the fitting, once that is on
            return "from this end" if j.landed == "no" else "from the cable's far end"
        if j.job == "straight":
            return "from this end" if j.landed == "no" else "from the cable's far end"
        return ""

    def _whole(self, found: Found, part: StockBoot, pick: Pick) -> BootSolution:
        j, r, tight = self.joint, self.rules, found.tight
        threaded = self._threads_from(part)
        mouths = self.place.seat(part).mouths
        under = Underneath(
            "under",
            "what it goes over",
            r,
            self._beneath(),
            built=j.landed == "no",
            braid=HELD[j.braid] if j.job == "fitting" else "",
            threaded=bool(threaded),
            off_mm=self._off_mm(part),
        )
        outside = mouths[1].under if len(mouths) == 2 else mouths[0].under
        beneath = of("done", under.id)
        clean = (Fact("clean", ActPlace("A", skin="sheath")),) if threaded else ()
        on = On(outside, (beneath,), over_all(), threaded, parks_on=(MEASURED, *clean))
        made = bedded(self.choosing, found, part, on, cool=self._cool)
        mandrel, said = self._mandrel()
        procedure = boot_procedure(
            Proofs(r, j.rated_voltage_v),
            beneath=beneath,
            threaded=bool(threaded),
            hazardous="hazardous" in j.duties,
            state="cold and cured" if made.cures else "cold",
            mandrel_mm=mandrel,
            by_hand=at_least(r.number("boot.by_hand_mm"), j.cable_od_mm),
            screen_mohm=r.number("boot.screen_mohm") if under.braid else None,
            good_for=tight.good_for(r),
        )
        layers: tuple[Layer, ...] = (procedure, under, *made.layers)
        for x in layers:
            outside = x.apply(outside)
        return BootSolution(
            layers=layers,
            choices=found.choices,
            picks=(pick, *cure_pick(self.choosing, tight)),
            outside=outside,
            seat=(0.0, made.seat.end_mm),
            parking=self._parking(part) if threaded else None,
            warnings=tuple(self._warned(found, said)),
            tight=tight,
            seated=made.seat,
        )

    def _off_mm(self, part: StockBoot) -> float:
        """How much sheath comes off at a breakout, mm at least: from the sheath's end to the legs' mouths."""
        seat = self.place.seat(part)
        return max(0.0, seat.end_mm - seat.mouths[0].band_mm[1])

    def _beneath(self) -> BeneathKind:
        j = self.joint
        if j.job == "fitting":
            return "build" if j.landed == "no" else "built"
        kinds: dict[str, BeneathKind] = {"breakout": "legs", "straight": "step", "cap": "end"}
        return kinds[j.job]

    def _cool(self, thick_mm: float) -> float:
        return self.cool_min(thick_mm, self.place.cable.greatest_mm, COPPER)

    def _parking(self, part: StockBoot) -> Parking:
        return self.parked([ParkItem(PART, part.length_mm, "a", 1)], self.joint.clear_mm)

    def _mandrel(self) -> tuple[float | None, str]:
        """Mandrel of the flex proof, mm: the greater of its multiple of the cable and twice the cable's own
        least bend; with words where there is none."""
        j, r = self.joint, self.rules
        if j.job in ("cap", "breakout"):
            return None, ""
        if j.bend_mm is None:
            return None, "No flex proof: the cable's least bend radius is not entered."
        od = self.place.cable.greatest_mm
        return flex_mandrel(r, od, max(r.number("flex.multiple"), 2 * j.bend_mm / od))

    # --- how it is told ---------------------------------------------------------------------------------

    def _warned(self, found: Found, flex: str) -> Iterator[str]:
        j, t = self.joint, found.tight
        if flex:
            yield flex
        if t.system == "paste" and t.part and getattr(t.part, "epoxy", False):
            yield "Epoxy makes skin allergic for good: gloves, and no bare skin near it."
        part = found.part
        if j.sheath == "fluoropolymer" or (part and part.compound == "fluoropolymer"):
            yield "Overheated fluoropolymer gives poisonous fumes: keep the gun down, air the place."
        if j.job == "fitting" and j.surface == "plated":
            yield "Old plating may be cadmium: never abrade it."

    def ways(self, s: BootSolution) -> Iterator[Way]:
        """Made tight otherwise; cured otherwise; paste laid on later."""
        j = self.joint
        used = s.tight.system if s.tight else j.adhesive
        for system, said in SAID.items():
            if system != used:
                yield self.way(
                    f"tight-by-{system}", f"Make it tight with {said}", {"adhesive": system, "boot": None}
                )
        if s.tight and s.tight.cured:
            for c in s.tight.cures:
                if c.way != s.tight.cured.way and not c.why_not:
                    yield self.way(f"cure-{c.way}", f"Cure it {WAYS[c.way]}", {"cure": c.way})

    def why(self, plan: Plan) -> str:
        """The part, and how thick it is then."""
        part = next(p for p in plan.parts if p.layer == PART)
        tight = next((p.picked for p in plan.picks if p.layer == "adhesive"), "")
        with_ = next((o.name for p in plan.picks for o in p.offers if o.id == tight), "")
        return f"{part.name} with {with_}; greatest diameter {mm(plan.greatest_diameter_mm or 0):.1f} mm."

    def orders(self, s: BootSolution) -> list[Remedy]:
        """A part with mouths for all of it; what is left where closed parts are out."""
        found = super().orders(replace(s, choices=()))
        if s.choices and all(c.picked is None for c in s.choices):
            return [*Remedies(self.choosing, s.choices).all(), *found]
        return found

    def first_parts(self, s: BootSolution) -> list[PartOut]:
        """The part."""
        return self.used_whole(s)

    def free_mm(self) -> dict[str, float]:
        """The cable behind the place."""
        return {"A": self.joint.clear_mm}

    def draw(self, s: BootSolution) -> Section | None:
        """The place along its line, and cuts across it."""
        return section(s, self.joint.job)
