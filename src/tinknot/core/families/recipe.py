"""What every recipe does the same unless its family says otherwise."""

from abc import ABC, abstractmethod
from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from functools import cached_property
from math import ceil, pi
from typing import Any, ClassVar, Generic, Literal, TypeVar

from tinknot.core.choosing.choose import Catalogue, Ranked, Window
from tinknot.core.choosing.fitting import COMFORT
from tinknot.core.choosing.park import Parking, ParkItem, park
from tinknot.core.drawing.model import Section
from tinknot.core.families.choice import Choice, Offer, Pick
from tinknot.core.families.contract import Solution, Way
from tinknot.core.families.materials import cost_of, materials_of
from tinknot.core.families.offers import choice_out
from tinknot.core.families.safety import CAST, HAZARDOUS, HOT, SAFETY
from tinknot.core.figures import capital, mm, said_mm
from tinknot.core.formulas.cooling import cool_min
from tinknot.core.formulas.proof import bend
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.head import JointHead
from tinknot.core.layers.contract import Mend
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.layers.sleeve import COLD
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.parts.tape import StockTape
from tinknot.core.plan.parts import CoreOut, MaterialOut, PartOut, Refusal
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut
from tinknot.core.plan.ways import Remedy, StaggerWay
from tinknot.core.rulebook import RuleBook
from tinknot.core.world.found import Found

J = TypeVar("J", bound=JointHead)
S = TypeVar("S", bound=Solution)
Reach = Literal["crimp", "heat", "air"]  # what could hurt a part that waits too near to it


def margins_of(rules: RuleBook) -> Margins:
    """Slide and grip margins of the rule book."""
    return Margins(rules.number("slide.pct"), rules.number("slide.min_mm"), rules.number("grip.pct"))


def away_from(
    rules: RuleBook, worked: Iterable[tuple[tuple[float, float], Reach]], half_mm: float
) -> tuple[float, float]:
    """How far behind its sheath cut the nearest part must wait on A and on B, mm: from each stretch of the
    joint's axis that is `worked` by a tool that presses, an iron, or hot air with reflector and shield.
    `half_mm`: from the middle to either cut (law 12)."""
    by = {k: rules.number(f"park.keep_away_{k}_mm") for k in ("crimp", "heat", "air")}
    near = [(by[how] - span[0] - half_mm, by[how] + span[1] - half_mm) for span, how in worked]
    return max([by["crimp"], *(a for a, _ in near)]), max([by["crimp"], *(b for _, b in near)])


def parked(
    rules: RuleBook,
    items: Sequence[ParkItem],
    free_a_mm: float,
    free_b_mm: float = 0.0,
    *,
    away: tuple[float, float] | None = None,
) -> Parking:
    """Parts waiting on both tails, as far apart and away from the work as the rule book has it; `away`: from
    the cuts on A and on B, mm, where heat or a tool reaches further than a crimping tool."""
    near_a, near_b = away or (rules.number("park.keep_away_crimp_mm"),) * 2
    return park(
        items,
        free_a_mm,
        free_b_mm,
        between_mm=rules.number("park.between_mm"),
        keep_away_mm=near_a,
        keep_away_b_mm=near_b,
    )


def overlap_mm(rules: RuleBook, what: Literal["core", "outer"], od_mm: float) -> float:
    """How far something that seals lies on what is `od_mm` thick, mm: on a core's insulation, or on what is
    outermost."""
    return max(rules.number(f"overlap.{what}_min_mm"), rules.number(f"overlap.{what}_per_od") * od_mm)


LONGEST_COOL_MIN = 12 * 60.0  # where the air is hardly colder, a reading ends the wait


def rest_min(rules: RuleBook, ambient_c: float, outside_mm: float, copper_mm2: float) -> float:
    """Minutes until something just shrunk, `outside_mm` thick with `copper_mm2` of copper in it, may be
    touched in air of `ambient_c`, °C, by the figures of the rule book."""
    minutes = cool_min(
        outside_mm,
        copper_mm2,
        from_c=rules.number("cool.start_c"),
        to_c=rules.number("cool.touch_c"),
        ambient_c=ambient_c,
        loss_w_m2k=rules.number("cool.loss_w_m2k"),
    )
    return min(minutes, LONGEST_COOL_MIN)


def flex_mandrel(rules: RuleBook, od_mm: float, multiple: float) -> tuple[float | None, str]:
    """The mandrel at hand for a bend proof of `multiple` × `od_mm`, mm; with words where none is thick
    enough."""
    at_hand = [10.0 * n for n in range(1, int(rules.number("flex.largest_mm") / 10) + 1)]
    found = bend(od_mm, multiple, at_hand)
    if found.mandrel_mm is not None:
        return found.mandrel_mm, ""
    least = f"{mm(found.least_mandrel_mm):.0f} mm"
    return None, f"No flex proof: a mandrel of {least} is needed, the largest is {at_hand[-1]:g}."


class BaseRecipe(ABC, Generic[J, S]):
    """One joint file with one rule book on one day. `properties`: what its parts must be, from what it
    will live in. A family gives `solve`, mostly `draw` and `ways`, and whatever else is its own."""

    at_last: Mend | None = CUT_OUT

    @property
    def waits_from(self) -> str:
        """Nothing is said of it."""
        return ""

    def __init__(self, joint: J, rules: RuleBook, today: date | None) -> None:
        self.joint, self.rules, self.today = joint, rules, today
        self.margins = margins_of(rules)
        self.properties = frozenset(p for d in joint.duties for p in rules.names(f"duty.{d}"))

    @cached_property
    def sleeves(self) -> Mapping[str, StockSleeve]:
        """Those in stock by id."""
        return {s.id: s for s in self.joint.stock.sleeves}

    @abstractmethod
    def solve(self) -> S:
        """The stack; asked again, it answers the same."""

    def draw(self, s: S) -> Section | None:
        """Nothing to draw."""
        return None

    def ways(self, s: S) -> Iterable[Way]:
        """Nothing else to try."""
        return ()

    def sleeve_choice(
        self, layer: str, title: str, window: Window, form: str, wanted: str | None = None, slot: str = ""
    ) -> Choice:
        """Every sleeve of a form in stock on one window, with the best picked, or the one that is wanted."""
        stock = Catalogue(
            [
                s.candidate(f"/stock/sleeves/{i}", self.today)
                for i, s in enumerate(self.joint.stock.sleeves)
                if s.form == form
            ],
            self.margins,
        )
        found = stock.ranked(window)
        picked = next((r for r in found if wanted in (None, r.candidate.id)), None)
        return Choice(layer, title, window, found, catalogue=stock, picked=picked, wanted=wanted, slot=slot)

    def parked(self, items: Sequence[ParkItem], free_a_mm: float, free_b_mm: float = 0.0) -> Parking:
        """Parts waiting on both tails, as far apart and away from the tool as the rule book has it."""
        return parked(self.rules, items, free_a_mm, free_b_mm)

    def cool_min(self, outside_mm: float, cable_mm: float, copper: float) -> float:
        """Whole minutes that something just shrunk on a cable rests; `copper`: its share of the cable."""
        area = copper * pi / 4 * cable_mm**2
        return float(ceil(rest_min(self.rules, self.joint.ambient_c, outside_mm, area)))

    def tape_pick(self, layer: str, title: str, kind: str, need: str) -> tuple[Pick, StockTape | None]:
        """The cheapest tape of a kind in stock, with why each other one does not serve."""
        offers, found = [], []
        for t in self.joint.stock.tapes:
            why = (
                f"is {t.kind} tape"
                if t.kind != kind
                else "none on hand in date"
                if t.free(self.today) == 0
                else ""
            )
            offers.append(
                Offer(t.id, t.said, not why, why or f"{mm(t.width_mm):g} × {mm(t.thickness_mm):g} mm")
            )
            found += [] if why else [t]
        best = min(
            found, key=lambda t: (t.price_each if t.price_each is not None else 1e9, t.id), default=None
        )
        return Pick(
            layer, title, need, tuple(offers), picked=best.id if best else None, advice=f"Order {kind} tape."
        ), best

    def why(self, plan: Plan) -> str:
        """The last part that closes it, and how thick it is then."""
        last = plan.parts[-1]
        cut = f", cut {mm(last.cut_length_mm):g} mm" if last.cut_length_mm is not None else ""
        return f"{last.name} then fits{cut}; greatest diameter {mm(plan.greatest_diameter_mm or 0):.1f} mm."

    def orders(self, s: S) -> list[Remedy]:
        """A part to order for every choice that found none and may be made; a longer tail where nothing can
        be parked."""
        found = []
        cold = " It must be applied cold." if COLD in self.properties else ""
        for choice in (c for c in s.choices if not c.ranked and not c.barred):
            advice = choice_out(choice, self.margins, self.sleeves).advice + cold
            title = f"Order a part: {choice.title}"
            found.append(Remedy(id=f"order-{choice.layer}", title=title, why=advice, change={}))
        for pick in (p for p in s.picks if p.picked is None):
            title = f"Order a part: {pick.title}" if pick.buys else capital(pick.title)
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

    def staggers(self) -> list[StaggerWay]:
        """Nothing to choose."""
        return []

    def cores(self, s: S) -> list[CoreOut]:
        """No core is cut."""
        return []

    def first_parts(self, s: S) -> list[PartOut]:
        """Every part belongs to a layer."""
        return []

    def used_whole(self, s: S, pieces: Mapping[str, tuple[str, int]] | None = None) -> list[PartOut]:
        """The parts of choices that are taken as they come; `pieces`: by choice, the layer they are told with
        and how many there are, where that is not one for its own layer."""
        found = []
        for choice in (c for c in s.choices if c.as_it_comes):
            if (r := choice.picked) is None or choice.again:
                continue
            layer_id, quantity = (pieces or {}).get(choice.layer, (choice.layer, 1))
            layer = next((x for x in s.layers if x.id == layer_id), None)
            part, w, tube = self.sleeves[r.candidate.id], choice.window, r.candidate.tube
            at = w.wall_od_mm or w.pass_od_mm
            found.append(
                PartOut(
                    layer=layer_id,
                    title=choice.of or choice.title,
                    part_id=part.id,
                    name=part.name or part.id,
                    lot=layer.from_lot() if layer else "",
                    cut_length_mm=None,
                    pass_od_mm=w.pass_od_mm,
                    seal_od_mm=w.seal_od_mm,
                    od_after_mm=tube.od_mm(at),
                    reason=self.why_picked(choice, r),
                    rejected=[Refusal(part_id=x.candidate.id, reason=x.reason) for x in choice.rejected()],
                    expanded_id_mm=part.expanded_id_mm,
                    recovered_id_mm=part.recovered_id_mm,
                    wall_mm=tube.wall_mm(at),
                    quantity=quantity,
                )
            )
        return found

    def why_picked(self, choice: Choice, picked: Ranked) -> str:
        """How far it opens and closes past what it must, and what is left of it."""
        return _why_picked(picked, self.sleeves[picked.candidate.id].form == "barrier")

    @property
    def skin(self) -> str:
        """A round cable has a sheath."""
        return "sheath"

    def free_mm(self) -> dict[str, float]:
        """Nothing waits on a tail."""
        return {}

    def slack_mm(self, s: S) -> dict[str, float | None]:
        """No end loses length."""
        return {}

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
        return [*found, *(self.joint.sheet.warns if self.joint.sheet else ())]

    def as_found(self, s: S) -> Found | None:
        """Not told yet."""
        return None

    def cost(self, s: S) -> float | None:
        """What the parts cost, of those whose price is known."""
        return cost_of(self.joint.stock, [m for x in s.layers for m in x.consumes()])

    def warnings(self, s: S) -> list[str]:
        """What the stack itself warns of, and what is short on the shelf."""
        return [*s.warnings, *self.short(s)]

    def short(self, s: S) -> list[str]:
        """Materials of which there is not enough."""
        return [
            f"{m.what}: {m.quantity:g} {m.unit} needed, {m.in_stock:g} on hand."
            for m in self.materials(s)
            if m.in_stock is not None and m.quantity > m.in_stock * (1 + 1e-9)
        ]

    def materials(self, s: S) -> list[MaterialOut]:
        """What is used up, the same things added together."""
        return materials_of([m for x in s.layers for m in x.consumes()])

    def extras(self, s: S) -> dict[str, Any]:
        """No fields of its own."""
        return {"gap_mm": None}

    def arithmetic(self, plan: Plan) -> dict[str, Any]:
        """Nothing more to work out."""
        return {}


class AskingRecipe(BaseRecipe[J, S]):
    """The recipe of a family that asks questions. `not_asked`: fields of its file that no question fills."""

    not_asked: ClassVar[frozenset[str]] = frozenset()

    def way(self, name: str, title: str, change: Mapping[str, Any]) -> Way:
        """The joint with other answers."""
        other = self.joint.model_copy(update=change)
        own = type(self.joint).model_fields.keys() - JointHead.model_fields.keys() - self.not_asked
        answers = other.model_dump(mode="json", exclude_none=True, include=own)

        def worked() -> tuple["AskingRecipe[J, S]", S]:
            again = type(self)(other, self.rules, self.today)
            return again, again.solve()

        return Way(name, title, {"asked": answers}, worked)


def _why_picked(r: Ranked, held_by_springs: bool) -> str:
    c, f = r.candidate, r.fit
    opens, closes = (
        c.tube.expanded_id_mm - f.needed_expanded_mm,
        f.allowed_recovered_mm - c.tube.recovered_id_mm,
    )
    grips = (
        "held by springs at both ends"
        if held_by_springs
        else f"closes {mm(closes):.1f} mm inside what it must grip"
    )
    words = [f"Opens {mm(opens):.1f} mm past what it must pass, {grips}."]
    if c.stock_length_mm:
        words.append(
            f"Pieces of {said_mm(c.stock_length_mm)} mm"
            + (f", {said_mm(r.waste_mm)} mm wasted." if r.waste_mm else ".")
        )
    elif c.on_hand_mm is not None:
        words.append(f"{c.on_hand_mm / 1000:.1f} m on hand.")
    if r.wall_short_mm > 0:
        words.append(
            f"Its wall is {mm(r.wall_mm):.2f} mm at the thickest place, the layer it replaces"
            f" {mm(r.wall_mm + r.wall_short_mm):.2f} mm."
        )
    if f.comfort < COMFORT:
        words.append("It only just fits: measure again.")
    return " ".join(words)
