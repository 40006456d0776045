"""What straight joints and taps of round low-voltage cable share: how a solved stack is told in a plan."""

from abc import ABC, abstractmethod
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from tinknot.core.choosing.choose import Ranked
from tinknot.core.choosing.fitting import COMFORT
from tinknot.core.families.choice import Choice
from tinknot.core.families.contract import Solution, Way
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.materials import cost_of, materials_of
from tinknot.core.families.offers import choice_out
from tinknot.core.families.safety import CAST, HAZARDOUS, HOT, SAFETY
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.formulas.stagger import Stagger
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.drawing import Section
from tinknot.core.joint.file import JointFile
from tinknot.core.joint.parts import StockConnector, StockSleeve
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.preparation import said_mm
from tinknot.core.layers.sleeves import COLD
from tinknot.core.plan import CoreOut, MaterialOut, PartOut, Plan, Remedy, StaggerWay, StepOut
from tinknot.core.rulebook import RuleBook


@dataclass(frozen=True, kw_only=True)
class CableSolution(Solution):
    """The stack between two cut ends. `crutch_mm`: where the cores part, on the joint's axis; `tracks`:
    each core's profile with its sleeve on; `inner`: what the covers go over; `kept`: the cuts made stay as
    they are."""

    ends: tuple[CableEnd, CableEnd]
    connectors: tuple[StockConnector, ...]
    layout: Stagger | None = None
    tracks: tuple[Profile, ...] = ()
    inner: Profile | None = None
    kept: bool = False
    crutch_mm: tuple[float, float] = (0.0, 0.0)


class CableRecipe(ABC):
    """A recipe over a `Job`: what the stack is made of is told by the family, the rest is alike."""

    def __init__(self, job: Job) -> None:
        self.job = job

    @property
    def joint(self) -> JointFile:
        """The file."""
        return self.job.joint

    @property
    def rules(self) -> RuleBook:
        """The rule book, a kit sheet's figures laid over it."""
        return self.job.rules

    @property
    def margins(self) -> Margins:
        """How much more a sleeve must open and close."""
        return self.job.margins

    @property
    def sleeves(self) -> Mapping[str, StockSleeve]:
        """Every sleeve in stock, by id."""
        return self.job.sleeves

    @abstractmethod
    def solve(self) -> CableSolution:
        """The stack."""

    @abstractmethod
    def connector_layer(self, s: CableSolution, core: str) -> str:
        """The id of the layer that is a core's connector."""

    @abstractmethod
    def draw(self, s: CableSolution) -> Section | None:
        """The drawing."""

    def ways(self, s: CableSolution) -> Iterable[Way]:
        """Nothing else to try."""
        return ()

    def staggers(self) -> list[StaggerWay]:
        """Nothing to choose."""
        return []

    def why(self, plan: Plan) -> str:
        """The last part that closes it, and how thick it is then."""
        last = plan.parts[-1]
        cut = f", cut {last.cut_length_mm:g}" if last.cut_length_mm is not None else ""
        return f"{last.name} then fits{cut}; greatest diameter {plan.greatest_diameter_mm or 0:.1f}."

    def orders(self, s: CableSolution) -> list[Remedy]:
        """A part to order for every choice that found none; a longer tail where nothing can be parked."""
        found = []
        cold = " It must be applied cold." if COLD in self.job.properties else ""
        for choice in (c for c in s.choices if not c.ranked):
            advice = choice_out(choice, self.margins, self.sleeves).advice + cold
            title = f"Order a part: {choice.title}"
            found.append(Remedy(id=f"order-{choice.layer}", title=title, why=advice, change={}))
        for pick in (p for p in s.picks if p.picked is None):
            ordered = pick.advice.startswith("Order")
            title = f"Order a part: {pick.title}" if ordered else pick.title.capitalize()
            found.append(Remedy(id=f"order-{pick.layer}", title=title, why=pick.advice, change={}))
        if s.parking and not s.parking.fits:
            found.append(
                Remedy(
                    id="free-tail",
                    title="Free more of the cable's tail",
                    change={},
                    why=(
                        "Undo the next fixing, or use a wrap-around sleeve or a resin joint where the rule"
                        " book allows it."
                    ),
                )
            )
        return found

    def cores(self, s: CableSolution) -> list[CoreOut]:
        """Each core's two lengths; none where the main is not cut."""
        cut = s.layout.cores if s.layout else ()
        return [
            CoreOut(
                core=core.name,
                centre_mm=c.centre_mm,
                cut_a_mm=c.cut_a_mm,
                cut_b_mm=c.cut_b_mm,
                area_mm2=core.area_mm2,
            )
            for core, c in zip(self.job.a.cores, cut, strict=bool(s.layout))
        ]

    def first_parts(self, s: CableSolution) -> list[PartOut]:
        """The connectors, under A's names; a tap may have fewer cores."""
        job, found = self.job, []
        for core, connector in zip(job.b.cores, s.connectors, strict=True):
            main = job.a.core(core.name)
            found.append(
                PartOut(
                    layer=self.connector_layer(s, core.name) if s.layers else f"{connector.kind}-{core.name}",
                    title=f"connector on core {core.name}",
                    part_id=connector.id,
                    name=connector.said,
                    lot=connector.first_lot(job.today),
                    cut_length_mm=None,
                    pass_od_mm=None,
                    seal_od_mm=None,
                    od_after_mm=connector.od_mm,
                    reason=f"Takes {main.area_mm2:g} to {core.area_mm2:g} mm².",
                    rejected=[],
                )
            )
        return found

    def why_picked(self, choice: Choice, picked: Ranked) -> str:
        """How far it opens and closes past what it must, and what is left of it."""
        return _why_picked(picked, held_by_springs=picked.candidate.id in self._barriers)

    @property
    def _barriers(self) -> set[str]:
        return {s.id for s in self.job.joint.stock.sleeves if s.form == "barrier"}

    def free_mm(self) -> tuple[float, float]:
        """Straight tail behind both sheath cuts, mm."""
        return self.joint.ends.A.free_mm, self.joint.ends.B.free_mm

    def slack_mm(self, s: CableSolution) -> dict[str, float | None]:
        """What both ends can lose, mm."""
        return {"A": self.joint.ends.A.slack_mm, "B": self.joint.ends.B.slack_mm}

    @property
    def remake_spare_mm(self) -> float:
        """What a remake takes besides the cuts, mm an end."""
        return self.rules.number("remake.spare_mm")

    def tools(self) -> Sequence[str]:
        """None besides those of the layers."""
        return ()

    def safety(self, steps: Sequence[StepOut]) -> list[str]:
        """The usual cautions, and those of what is done here."""
        found = list(SAFETY)
        if any(s.hot for s in steps):
            found.insert(2, HOT)
        if any(s.kind == "mix" for s in steps):
            found.append(CAST)
        if "hazardous" in self.joint.duties:
            found.append(HAZARDOUS)
        return [*found, *(self.joint.sheet.cautions if self.joint.sheet else ())]

    def cost(self, s: CableSolution) -> float | None:
        """What the parts cost, of those whose price is known."""
        return cost_of(self.joint.stock, [m for x in s.layers for m in x.consumes()])

    def extras(self, s: CableSolution) -> dict[str, Any]:
        """How it is closed, and what lies between the sheath cuts."""
        return {
            "closure": self.job.build.closure or "sleeve",
            "gap_mm": s.layout.gap_mm if s.layout else None,
        }

    def arithmetic(self, plan: Plan) -> dict[str, Any]:
        """Nothing more."""
        return {}

    def warnings(self, s: CableSolution) -> list[str]:
        """Estimates, parking, what was cut for another plan, what is short on the shelf, fire and cold."""
        words = list(s.warnings)
        for end in s.ends:
            for core in end.cores:
                if core.conductor_source == "estimate":
                    words.append(
                        f"Conductor of core {core.name} on {end.name} is an estimate,"
                        f" {core.conductor.greatest_mm:.1f} mm; measure it."
                    )
        parking = s.parking
        if parking and not parking.fits:
            side, over = ("A", parking.over_a_mm) if parking.over_a_mm else ("B", parking.over_b_mm)
            words.append(f"No room to park the covers: they overrun the tail on {side} by {over:.0f} mm.")
        if self.job.made.gap_mm is not None and s.layout and not s.kept:
            words += _recuts(self.job, s)
        had = self.job.made.parts or {}
        for choice in s.choices:
            part = had.get(choice.layer)
            if part and choice.picked and choice.picked.candidate.id != part:
                words.append(
                    f"{part} is already cut for the {choice.title} and no longer fits; it goes back to stock"
                    " as a piece."
                )
        for material in self._materials(s):
            if material.in_stock is not None and material.quantity > material.in_stock * (1 + 1e-9):
                words.append(
                    f"{material.what}: {material.quantity:g} {material.unit} needed, {material.in_stock:g} on"
                    " hand."
                )
        if "fire" in self.job.joint.duties and self.job.build.fire is None and s.layers:
            words.append(
                "Fire duty: the parts are free of halogen. Where the circuit must live on in a fire, choose a"
                " barrier or mica."
            )
        return words + self.cold(s)

    def cold(self, s: CableSolution) -> list[str]:
        """What to warm."""
        build = self.job.build
        if self.joint.ambient_c < 5 and s.layers and build.closure != "resin" and not build.cold_only:
            return ["Cold: warm the sheath before the sleeve goes on, or the adhesive will not wet it."]
        return []

    def _materials(self, s: CableSolution) -> list[MaterialOut]:
        return materials_of([m for x in s.layers for m in x.consumes()])


def _why_picked(r: Ranked, held_by_springs: bool) -> str:
    c, f = r.candidate, r.fit
    opens, closes = (
        c.tube.expanded_id_mm - f.needed_expanded_mm,
        f.allowed_recovered_mm - c.tube.recovered_id_mm,
    )
    grips = (
        "held by springs at both ends" if held_by_springs else f"closes {closes:.1f} inside what it must grip"
    )
    words = [f"Opens {opens:.1f} past what it must pass, {grips}."]
    if c.stock_length_mm:
        words.append(
            f"Pieces of {said_mm(c.stock_length_mm)}"
            + (f", {said_mm(r.waste_mm)} wasted." if r.waste_mm else ".")
        )
    elif c.on_hand_mm is not None:
        words.append(f"{c.on_hand_mm / 1000:.1f} m on hand.")
    if r.wall_short_mm > 0:
        words.append(
            f"Its wall is {r.wall_mm:.2f} at the thickest place, the layer it replaces"
            f" {r.wall_mm + r.wall_short_mm:.2f}."
        )
    if f.comfort < COMFORT:
        words.append("It only just fits: measure again.")
    return " ".join(words)


def _recuts(job: Job, s: CableSolution) -> list[str]:
    """What cuts already made mean under a plan that wants others."""
    assert s.layout is not None
    words = []
    for core, centre, now in zip(job.a.cores, job.made.centres_mm, s.layout.cores, strict=False):
        was = (centre, (job.made.gap_mm or 0) - centre)
        for end, before, wanted in (("A", was[0], now.cut_a_mm), ("B", was[1], now.cut_b_mm)):
            if before - wanted > 0.05:
                words.append(
                    f"Core {core.name} on {end} was cut at {said_mm(before)}: trim {said_mm(before - wanted)}"
                    " more."
                )
            elif wanted - before > 0.05:
                words.append(
                    f"Core {core.name} on {end} was cut at {said_mm(before)}, {said_mm(wanted - before)} too"
                    f" short: cut the sheath on {end} back by as much."
                )
    return words
