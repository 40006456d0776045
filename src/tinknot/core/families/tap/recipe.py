"""A tap on a low-voltage main without stripping: piercing connectors, caps; or an earthing for work on a
line."""

from dataclasses import replace

from tinknot.core.choosing.choose import Ranked, Window
from tinknot.core.drawing.model import Section
from tinknot.core.families.choice import Choice, Offer, Pick
from tinknot.core.families.lowvoltage.connectors import NoConnector, Set
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.recipe import CableRecipe, CableSolution
from tinknot.core.families.tap.section import section
from tinknot.core.figures import capital, mm2
from tinknot.core.joint.cable import CableEnd, Core
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer, Mend
from tinknot.core.layers.cooling import cooling_together
from tinknot.core.layers.earthing import EarthingLead
from tinknot.core.layers.proofs import Proofs
from tinknot.core.layers.tap_procedure import tap_procedure
from tinknot.core.layers.taps import EndCap, Piercing, TapEnd
from tinknot.core.parts.connector import StockConnector
from tinknot.core.world.found import Found


def _shut_in(end: CableEnd) -> Pick:
    """That what lies round the cores would be carried on nowhere, and what to do."""
    return Pick(
        f"shut-{end.name}",
        f"{end.metal} on {end.name}",
        f"cores that no metal lies round; {end.name} has {end.metal}",
        (),
        picked=None,
        advice=(
            f"A tap carries no {end.metal} on. Join this cable straight, or bring it to a box; where it has"
            f" none, take the {end.metal} off under Measure."
        ),
        buys=False,
    )


class TapRecipe(CableRecipe):
    """B taps the main A, each core by its own connector. The main runs on: a tap is taken off it and put
    beside."""

    at_last = Mend(
        "Take the tap off, close the places that were pierced, and make it anew beside them", "remake"
    )

    def __init__(self, job: Job) -> None:
        super().__init__(job)
        self.kind = "earthing" if job.build.purpose == "earthing" else "piercing"
        self.pairs: list[tuple[Core, Core]] = [(job.a.core(c.name), c) for c in job.b.cores]

    def connectors(self) -> Set:
        """The connector of each core. Raises InputError when none suits a core."""
        job, given = self.job, self.job.joint.connector
        chosen = []
        for main, tap in self.pairs:
            found = [
                c
                for c in job.joint.stock.connectors
                if not self._why_not(c, main, tap)
                and (not given or not given.part_id or c.id == given.part_id)
            ]
            if not found:
                raise NoConnector.at(
                    "/connector",
                    f"nothing in stock taps {mm2(tap.area_mm2):g} mm² from {mm2(main.area_mm2):g} mm² on core"
                    f" {main.name}",
                )
            chosen.append(
                min(found, key=lambda c: (c.price_each if c.price_each is not None else 1e9, c.od_mm, c.id))
            )
        for c in chosen:
            free = c.free(job.today)
            if free is not None and chosen.count(c) > free:
                raise NoConnector.at(
                    "/connector", f"{chosen.count(c)} of {c.id} are needed, {free:g} are on hand"
                )
        return tuple(chosen)

    def _first(self) -> str:
        """The core that goes on first and comes off last: the neutral, else PEN; empty where neither is
        told."""
        by_colour = {c.colour: c.name for c in self.job.b.cores}
        return by_colour.get("blue") or by_colour.get("green-yellow") or ""

    def _why_not(self, c: StockConnector, main: Core, tap: Core) -> str:
        if c.kind != self.kind:
            return f"is {c.kind}, not {self.kind}"
        if not c.suits(main.area_mm2):
            return f"does not take a main of {mm2(main.area_mm2):g} mm²"
        if not c.suits_tap(tap.area_mm2):
            return f"does not take a tap of {mm2(tap.area_mm2):g} mm²"
        if missing := sorted({main.metal, tap.metal} - set(c.metals)):
            return f"is not for {', '.join(missing)}"
        if c.voltage_v is not None and c.voltage_v < self.job.joint.rated_voltage_v:
            return f"is rated {c.voltage_v:g} V"
        if lacking := sorted(
            (self.job.properties & {"uv-resistant", "oil-resistant"}) - frozenset(c.properties)
        ):
            return f"is not {', not '.join(lacking)}"
        return "is not on hand" if c.free(self.job.today) == 0 else ""

    def connector_layer(self, s: CableSolution, core: str) -> str:
        """The piercing connector of a core."""
        return next(x.id for x in s.layers if isinstance(x, Piercing) and x.core == core)

    def as_found(self, s: CableSolution) -> Found:
        """The main runs on and hangs on its network; the tap ends here."""
        main, tap = super().as_found(s).ends
        return Found(
            (replace(main, through=True), tap),
            network=self.kind != "earthing",
            earthing=self.kind == "earthing",
            first="" if self.kind == "earthing" else self._first(),
        )

    def draw(self, s: CableSolution) -> Section | None:
        """The main's cores with the connectors on them, the tap beneath."""
        return section(s)

    def solve(self) -> CableSolution:
        """The stack: connectors along the main, caps chosen for the tap's open ends; nothing but the choice
        of a connector where none in stock taps the cores."""
        job, r = self.job, self.job.rules
        shut = next((e for e in job.ends if e.metal), None)
        if shut and not job.made.began_before:
            return CableSolution(ends=job.ends, connectors=(), picks=(_shut_in(shut),))
        try:
            connectors = self.connectors()
        except NoConnector as fault:
            return CableSolution(ends=job.ends, connectors=(), picks=(self._none(fault.errors[0].message),))
        pitch = r.number("tap.between_mm") + max(c.length_mm for c in connectors)
        first = -pitch * (len(connectors) - 1) / 2
        taps = [
            Piercing(
                f"piercing-{main.name}",
                f"connector on core {main.name}",
                main.name,
                c,
                lot=c.first_lot(job.today),
                centre_mm=first + n * pitch,
                main=main,
                tap=tap,
                rules=r,
                earthing=self.kind == "earthing",
                first=self._first(),
            )
            for n, ((main, tap), c) in enumerate(zip(self.pairs, connectors, strict=True))
        ]
        caps, choices = self._caps(taps)
        half = pitch * (len(connectors) - 1) / 2 + max(c.length_mm for c in connectors) / 2
        profile = Profile.of_stretches(
            [
                (
                    t.centre_mm - t.connector.length_mm / 2,
                    t.centre_mm + t.connector.length_mm / 2,
                    t.connector.od_mm,
                    t.connector.od_mm,
                )
                for t in taps
            ]
        )
        found = CableSolution(
            ends=job.ends,
            connectors=connectors,
            choices=tuple(choices),
            outside=profile,
            picks=(self._pick(connectors),),
            crutch_mm=(-half, half),
        )
        if not all(c.picked for c in choices):
            return found
        names = tuple(t.core for t in taps)
        earthed = self.kind == "earthing"
        lead = (EarthingLead("earthing-lead", "earthing lead", names, r),) if earthed else ()
        cool = cooling_together("caps-cool", [(c.id, c.cool_min) for c in caps if c.hot], "core", r)
        procedure = tap_procedure(
            Proofs(r, job.joint.rated_voltage_v, names),
            earthing=earthed,
            hazardous="hazardous" in job.joint.duties,
        )
        ends: tuple[Layer, ...] = (
            () if self.kind == "earthing" else (TapEnd("preparation-B", "tap prepared", job.b, r),)
        )
        in_turn = sorted(taps, key=lambda t: t.core != t.first)
        layers = (procedure, *ends, *in_turn, *caps, *cool, *lead, *job.plain_steps())
        return replace(found, layers=layers, seat=(-half, half))

    def _caps(self, taps: list[Piercing]) -> tuple[list[EndCap], list[Choice]]:
        """A cap for each tap's open end; cores of one size share a choice. Earthing connectors need none."""
        job, r = self.job, self.job.rules
        if self.kind == "earthing":
            return [], []
        by_size: dict[tuple[float, float], list[Piercing]] = {}
        for t in taps:
            by_size.setdefault((t.tap.insulation.greatest_mm, t.tap.insulation.least_mm), []).append(t)
        caps, choices = [], []
        for (greatest, least), group in by_size.items():
            names = tuple(t.core for t in group)
            long = r.number("tap.cap_mm")
            window = Window(
                greatest,
                least,
                ((0.0, least), (long, least)),
                properties=job.properties,
                voltage_v=job.joint.rated_voltage_v,
                pieces=len(group),
                squareness_mm=0.0,
            )
            title = (
                f"end cap on core {names[0]}" if len(names) == 1 else f"end caps on cores {', '.join(names)}"
            )
            choice = job.sleeve_choice(
                f"end-cap-{names[0]}", title, window, "cap", slot="core_sleeve", cores=names
            )
            choice = replace(choice, ranked=tuple(_whole(r) for r in choice.ranked))
            best = next(iter(job.allowed(choice)), None)
            choice = choice.with_part(best.candidate.id if best else None)
            choices.append(choice)
            for t in group if choice.picked else ():
                assert choice.picked is not None
                part, edge = choice.picked.candidate.id, t.centre_mm - t.connector.length_mm / 2
                caps.append(
                    EndCap(
                        f"end-cap-{t.core}",
                        f"end cap on core {t.core}",
                        (edge - long, edge),
                        r,
                        part=job.sleeves[part],
                        lot=job.lots[part],
                        cut_length_mm=choice.picked.cut_length_mm,
                        properties=job.properties,
                        core=t.core,
                        pieces=len(group),
                        cool_min=job.cool_min(greatest, t.tap.area_mm2),
                    )
                )
        return caps, choices

    def _none(self, words: str) -> Pick:
        """That none serves: why each does not, and what to look for."""
        pairs = self.pairs
        areas = [[x.area_mm2 for x in side] for side in zip(*pairs, strict=True)]
        main, tap = (_span(a) for a in areas)
        metals = sorted({x.metal for pair in pairs for x in pair})
        alive = ", proof against sun" if "uv-resistant" in self.job.properties else ""
        order = (
            f"Order {len(pairs)} {self.kind} connector{'s' if len(pairs) > 1 else ''} for a main of {main}"
            f" and a {'lead' if self.kind == 'earthing' else 'tap'} of {tap}, for {' and '.join(metals)},"
            f" rated {self.job.joint.rated_voltage_v:g} V{alive}."
        )
        return replace(self._pick(()), buys=False, advice=f"{capital(words)}. {order}")

    def _pick(self, picked: Set) -> Pick:
        """Every connector in stock, and the first core it does not serve with the reason."""
        main, tap = self.pairs[0]
        offers = []
        for c in self.job.joint.stock.connectors:
            faults = ((x.name, self._why_not(c, x, y)) for x, y in self.pairs)
            core, why = next(((n, w) for n, w in faults if w), ("", ""))
            if core and core != main.name:
                why = f"{why} (core {core})"
            offers.append(
                Offer(
                    c.id,
                    c.said,
                    not why,
                    why or f"main {mm2(c.area_least_mm2 or 0):g} to {mm2(c.area_most_mm2 or 0):g} mm²",
                )
            )
        return Pick(
            "connector",
            "tap connector",
            f"taps {mm2(tap.area_mm2):g} mm² from {mm2(main.area_mm2):g} mm²",
            tuple(offers),
            picked=picked[0].id if picked else None,
        )


def _span(areas: list[float]) -> str:
    low, high = min(areas), max(areas)
    return f"{mm2(low):g} mm²" if low == high else f"{mm2(low):g} to {mm2(high):g} mm²"


def _whole(r: Ranked) -> Ranked:
    """A cap is used as it is: nothing is cut and nothing wasted."""
    piece = r.candidate.stock_length_mm
    return r if piece is None else replace(r, cut_length_mm=round(piece), waste_mm=0.0)
