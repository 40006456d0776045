"""A damaged jacket: graded, dressed, filled where it is through, and closed by a wrap-around sleeve or by
tape."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import date
from typing import Any

from tinknot.core.acts import Place
from tinknot.core.drawing.model import Section
from tinknot.core.facts import Fact
from tinknot.core.families.choice import Choice, Pick
from tinknot.core.families.contract import Way
from tinknot.core.families.jacket.file import JacketFile
from tinknot.core.families.jacket.section import section
from tinknot.core.families.jacket.solution import JacketSolution
from tinknot.core.families.recipe import AskingRecipe, overlap_mm
from tinknot.core.figures import mm
from tinknot.core.joint.cable import CableEnd, Round
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.jacket import INSTEAD, DamageDressed, EdgesRoughened, RepairSleeve, jacket_procedure
from tinknot.core.layers.proofs import Proofs
from tinknot.core.layers.sleeve import COLD
from tinknot.core.layers.tapes import PlainWrap, TapeWrap, passes_for
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.ways import Remedy
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least, at_most
from tinknot.core.world.found import Found, FoundEnd

JOINT_INSTEAD = "straight-lv"  # the kind of joint that a damage too deep for a repair becomes
TAIL_MM = 400.0  # of sound cable drawn on either side
COPPER = 0.4  # of the cable's cross-section, to reckon how long it holds heat
SEALED = {"buried", "immersed", "oil", "moving"}  # tape alone does not keep this out, or comes loose
LEAST_PASSES = 2  # of tape, so that no single gap reaches through
CLOSES = ("repair-sleeve", "wrap")  # the layers that close it
SEEN = {
    "scratch": "Scratched only: the jacket is whole under it",
    "cut": "What lies under the jacket is whole",
    "bedding": "Bedding or armour lies open and is whole",
}


class JacketRecipe(AskingRecipe[JacketFile, JacketSolution]):
    """One damaged place with one rule book on one day."""

    at_last = INSTEAD

    def __init__(self, joint: JacketFile, rules: RuleBook, today: date | None) -> None:
        joint.check()
        super().__init__(joint, rules, today)
        if joint.cold_only:
            self.properties |= {COLD}
        self.sheath = Round.of(joint.sheath_od_mm, joint.sheath_od_across_mm)
        self.half = joint.length_mm / 2
        self.overlap = overlap_mm(rules, "outer", self.sheath.greatest_mm)
        self.span = (-self.half - self.overlap, self.half + self.overlap)

    def as_found(self, s: JacketSolution) -> Found:
        """A cable that runs on, with sheath on both sides of the damage."""
        od = self.sheath.greatest_mm
        return Found(
            tuple(
                FoundEnd(e, {"sheath": od}, {}, away * self.half, away=away, through=True)
                for e, away in (("A", -1), ("B", 1))
            )
        )

    def solve(self) -> JacketSolution:
        """A sleeve where one fits, else tape where tape will do; a core seen is no jacket repair."""
        if self.joint.grade == "core":
            stop = (
                "A core or screen is seen or hurt: a new jacket does not make it good. Make a straight joint."
            )
            return self._nothing((stop,))
        if self.joint.method == "tape":
            return self._taped()
        sleeved = self._sleeved()
        if sleeved.fits or self.joint.method == "sleeve" or not self._tape_will_do():
            return sleeved
        taped = self._taped()
        if not taped.fits:
            return sleeved
        why = "No wrap-around sleeve in stock fits it: it is closed with tape."
        return replace(taped, warnings=(*taped.warnings, why))

    def _tape_will_do(self) -> bool:
        return not SEALED & set(self.joint.duties)

    def _nothing(self, stops: tuple[str, ...]) -> JacketSolution:
        return JacketSolution(inner=self._inner(), hole=(-self.half, self.half), stops=stops)

    def _inner(self) -> Profile:
        """Sound jacket, and under the hole what lies below it."""
        s, wall = self.sheath, 2 * (self.joint.jacket_mm or 0.0) if self.joint.holed else 0.0
        far = self.span[1] + TAIL_MM
        return Profile.of_stretches(
            [
                (-far, -self.half, s.greatest_mm, s.least_mm),
                (-self.half, self.half, s.greatest_mm - wall, s.least_mm - wall),
                (self.half, far, s.greatest_mm, s.least_mm),
            ]
        )

    def _room(self) -> tuple[str, ...]:
        """A seal needs sound jacket to lie on."""
        if at_least(self.joint.clear_mm, self.overlap):
            return ()
        need = f"{self.overlap:.0f}: undo the next fixing"
        return (f"Only {mm(self.joint.clear_mm):g} mm lie clear beside the damage, the seal needs {need}.",)

    # --- layers -----------------------------------------------------------------------------------------

    def _dressed(self) -> DamageDressed:
        return DamageDressed(
            "damage",
            "the damaged place",
            self.rules,
            (-self.half, self.half),
            seen=SEEN[self.joint.grade],
            holed=self.joint.holed,
        )

    def _fill(self) -> tuple[list[PlainWrap], list[Pick]]:
        """Mastic up to the level of the jacket."""
        if not self.joint.holed:
            return [], []
        pick, tape = self.tape_pick("fill", "mastic for the hole", "mastic", "level with the jacket")
        if tape is None:
            return [], [pick]
        wall = self.joint.jacket_mm or 0.0
        fill = PlainWrap(
            "fill",
            "mastic into the hole",
            tape,
            tape.first_lot(self.today),
            span_mm=(-self.half, self.half),
            passes=passes_for(tape, wall),
            substrate_mm=self.sheath.greatest_mm - 2 * wall,
            rules=self.rules,
            text="Press it into every corner; no edge may stand out, no air stay under it.",
        )
        return [fill], [pick]

    def _sleeved(self) -> JacketSolution:
        """Closed by a wrap-around sleeve lined with adhesive."""
        fill, picks = self._fill()
        inner = self._inner()
        under = inner
        for x in fill:
            under = x.apply(under)
        edges = tuple(CableEnd(side, "", self.sheath, (), free_mm=self.joint.clear_mm) for side in ("A", "B"))
        sleeve = RepairSleeve(
            "repair-sleeve",
            "repair sleeve",
            self.span,
            self.rules,
            properties=self.properties | {"lined"},
            ends=edges,
            overlap_mm=(self.overlap, self.overlap),
            edges_mm=(-self.joint.length_mm / 2, self.joint.length_mm / 2),
            drawn="repair-sleeve",
        )
        window = sleeve.requires(under, under.between(*self.span))
        assert window is not None
        choice = self.sleeve_choice(
            sleeve.id, sleeve.title, window, "wrap-around", wanted=self.joint.sleeve, slot="/asked/sleeve"
        )
        if choice.picked is None:
            return replace(self._nothing(self._room()), choices=(choice,), picks=tuple(picks))
        part = self.sleeves[choice.picked.candidate.id]
        lot, cut = part.first_lot(self.today), choice.picked.cut_length_mm
        made = replace(sleeve, part=part, lot=lot, cut_length_mm=cut)
        if made.hot:
            made = replace(made, cool_min=self._cool(made.apply(under).between(*self.span).greatest()))
        return self._closed("sleeve", inner, [*fill, made], picks, choices=(choice,))

    def _taped(self) -> JacketSolution:
        """Closed by self-amalgamating tape, as thick as the jacket it replaces."""
        fill, picks = self._fill()
        pick, tape = self.tape_pick("wrap", "tape over it", "self-amalgamating", "as thick as the jacket")
        picks = [*picks, pick]
        if not self._tape_will_do():
            against = " and ".join(sorted(SEALED & set(self.joint.duties)))
            return replace(self._nothing((f"Tape alone is not enough where it is {against}: a sleeve.",)))
        if tape is None:
            return replace(self._nothing(self._room()), picks=tuple(picks))
        passes = max(LEAST_PASSES, passes_for(tape, self.joint.jacket_mm or 0.0))
        wrap = TapeWrap(
            "wrap",
            "tape over the damage",
            tape,
            tape.first_lot(self.today),
            span_mm=self.span,
            passes=passes,
            substrate_mm=self.sheath.greatest_mm,
            rules=self.rules,
            ends=("A", "B"),
        )
        return self._closed("tape", self._inner(), [*fill, wrap], picks, choices=())

    def _closed(
        self, by: str, inner: Profile, covers: list[Layer], picks: list[Pick], choices: tuple[Choice, ...]
    ) -> JacketSolution:
        """The whole stack with its gates and proofs."""
        outside, dressed = inner, self._dressed()
        for x in covers:
            outside = x.apply(outside)
        beyond = self.overlap + self.rules.number("surface.beyond_mm")
        edges = (
            (EdgesRoughened("edges", "edges", self.rules, beyond, of=covers[-1].id),)
            if by == "sleeve"
            else ()
        )
        procedure = jacket_procedure(
            Proofs(self.rules, self.joint.rated_voltage_v),
            Fact("looked", Place(skin="damage")),
            hazardous="hazardous" in self.joint.duties,
        )
        return JacketSolution(
            layers=(procedure, dressed, *edges, *covers),
            choices=choices,
            picks=tuple(picks),
            outside=outside,
            seat=self.span,
            stops=self._room(),
            warnings=tuple(self._warned()),
            inner=inner,
            hole=(-self.half, self.half),
            closed_by=by,
        )

    def _cool(self, outside_mm: float) -> float:
        return self.cool_min(outside_mm, self.sheath.greatest_mm, COPPER)

    # --- how it is told ---------------------------------------------------------------------------------

    def _warned(self) -> Iterator[str]:
        if self.joint.wet:
            yield "Water may have got in: dry it out, and go on only when the reading before closing stands."
        if self.joint.material == "polyethylene":
            yield (
                "Polyethylene: adhesive and mastic hold on it only after the treatment that the part's"
                " leaflet asks for. Try it on a piece first."
            )
        if self.joint.armoured:
            yield (
                "Armour: every wire must be whole and clean of rust; a broken one needs an earth bond"
                " over it."
            )
        if self.joint.ambient_c < 5 and not self.joint.cold_only:
            yield "Cold: warm the jacket before the sleeve goes on, or the adhesive will not wet it."
        if not at_most(self.joint.length_mm, 10 * self.sheath.greatest_mm):
            yield "A long damage: ask what did it, and look at the cable on both sides of it."

    def ways(self, s: JacketSolution) -> Iterator[Way]:
        """Closed the other way."""
        if self.joint.grade == "core":
            return
        for method, title in (("sleeve", "A wrap-around sleeve"), ("tape", "Tape")):
            if s.fits and method == s.closed_by:
                continue
            yield self.way(f"closed-by-{method}", title, {"method": method, "sleeve": None})

    def why(self, plan: Plan) -> str:
        """What closes it, and how thick it is then."""
        part = next(p for p in plan.parts if p.layer in CLOSES)
        cut = f", cut {mm(part.cut_length_mm):g} mm" if part.cut_length_mm is not None else ""
        return f"{part.name}{cut}; greatest diameter {mm(plan.greatest_diameter_mm or 0):.1f} mm."

    def orders(self, s: JacketSolution) -> list[Remedy]:
        """What to order or to clear; of a damage too deep, the joint it becomes."""
        if self.joint.grade != "core":
            room = self._room()
            clear = Remedy(id="clear-cable", title="Clear more of the cable", why=" ".join(room), change={})
            return [*super().orders(s), *([clear] if room else [])]
        why = "The cable is cut here and joined: both ends are then measured as every joint's are."
        change = {"family": JOINT_INSTEAD}
        return [Remedy(id="make-a-joint", title="Make a straight joint of it", why=why, change=change)]

    def draw(self, s: JacketSolution) -> Section:
        """The place along the cable, and cuts across it."""
        return section(s, self.sheath)

    def extras(self, s: JacketSolution) -> dict[str, Any]:
        """How it is closed."""
        return {"gap_mm": None, "closure": "wrap-around" if s.choices else "tape"}
