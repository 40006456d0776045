"""What every recipe starts from: the joint file read with the rule book, on one day."""

from collections.abc import Iterable, Sequence
from datetime import date
from functools import lru_cache
from math import ceil

from tinknot.core.choosing.choose import Catalogue, Ranked, Window
from tinknot.core.choosing.fitting import ALONE, Option, Others
from tinknot.core.choosing.whole import option
from tinknot.core.errors import InputError
from tinknot.core.families.choice import Choice, Made, Offer, Pick
from tinknot.core.families.recipe import margins_of, rest_min
from tinknot.core.figures import mm
from tinknot.core.formulas.bundle import bundle
from tinknot.core.joint.cable import CableEnd, cable_ends
from tinknot.core.joint.file import BuildIn, ChoiceIn, JointFile
from tinknot.core.layers.contract import PlainLayer
from tinknot.core.layers.sleeve import COLD
from tinknot.core.parts.sleeve import SleeveForm
from tinknot.core.parts.tape import StockTape
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_most

CAST = ("resin", "sleeve-resin")  # what closes a joint that is cast


@lru_cache(maxsize=4096)
def circle(diameters: tuple[float, ...]) -> float:
    """The circle round a bundle, mm."""
    return bundle(diameters).enclosing_diameter_mm


class Job:
    """One joint file with one rule book (a kit sheet's figures laid over it), on one day."""

    def __init__(
        self, joint: JointFile, rules: RuleBook, today: date | None = None, made: Made | None = None
    ) -> None:
        joint.check()
        if not at_most(joint.rated_voltage_v, rules.number("voltage.ceiling_v")):
            raise InputError.at(
                "/rated_voltage_v",
                f"is above {rules.number('voltage.ceiling_v'):g} V: a joint that needs stress control is"
                " beyond this tool",
            )
        self.build, self.choice, self.given_rules = joint.build, joint.choice, rules
        if joint.sheet:
            joint, rules = self._with_sheet(joint, rules)
        self.joint, self.rules, self.made, self.today = joint, rules, made or Made(), today
        self.a, self.b = cable_ends(joint)
        self.ends = (self.a, self.b)
        self.margins = margins_of(rules)
        self.properties = frozenset(p for d in joint.duties for p in rules.names(f"duty.{d}"))
        if self.build.cold_only:
            self.properties |= {COLD}
        self.sleeves = {s.id: s for s in joint.stock.sleeves}
        self.lots = {s.id: s.first_lot(today) for s in joint.stock.sleeves}
        self.candidates = [
            (s.form, s.candidate(f"/stock/sleeves/{i}", today)) for i, s in enumerate(joint.stock.sleeves)
        ]
        self._catalogues: dict[tuple[SleeveForm, bool], Catalogue] = {}

    def _with_sheet(self, joint: JointFile, rules: RuleBook) -> tuple[JointFile, RuleBook]:
        sheet = joint.sheet
        assert sheet is not None
        try:
            sheet.check()
        except InputError as fault:
            raise fault.under("/sheet") from None
        if words := sheet.why_not(joint):
            raise InputError.at("/sheet", f"{sheet.name} does not serve this joint: {'; '.join(words)}")
        keys = ("closure", "core_insulation", "cores_shrunk")
        own = {k: v for k in keys if (v := getattr(sheet, k))}
        self.build = BuildIn.model_validate(joint.build.model_dump() | own, strict=False)
        self.choice = ChoiceIn.model_validate({**sheet.parts, **joint.choice.model_dump(exclude_none=True)})
        return joint, sheet.over(rules)

    def cool_min(self, outside_mm: float, copper_mm2: float) -> float:
        """Whole minutes until something just shrunk, `outside_mm` thick with `copper_mm2` in it, may be
        touched."""
        return float(ceil(rest_min(self.rules, self.joint.ambient_c, outside_mm, copper_mm2)))

    def end(self, name: str) -> CableEnd:
        """The end called `name`."""
        return self.a if name == "A" else self.b

    @property
    def casts(self) -> bool:
        """Whether the joint is cast in resin, bare cores or under an outer sleeve."""
        return self.build.closure in CAST

    @property
    def landed(self) -> tuple[bool, bool]:
        """Which ends sit in a gland already."""
        return self.a.landed, self.b.landed

    def sleeve_choice(
        self,
        layer: str,
        title: str,
        window: Window,
        form: SleeveForm,
        slot: str = "",
        cores: tuple[str, ...] = (),
        limp: bool = False,
    ) -> Choice:
        """Every sleeve of a form on one window; `slot` is the choice of the file that may settle it; `limp`:
        only one that lies close to what is flat. Raises InputError for a part settled on that is not in
        stock."""
        wanted: str | None = getattr(self.choice, slot) if slot else None
        if wanted and wanted not in self.sleeves:
            raise InputError.at("/choice", f"{wanted} is not in stock")
        stock = self.catalogue(form, limp)
        place = f"/choice/{slot}" if slot else ""
        return Choice(
            layer,
            title,
            window,
            stock.ranked(window),
            catalogue=stock,
            picked=None,
            wanted=wanted,
            cores=cores,
            slot=place,
        )

    def catalogue(self, form: SleeveForm, limp: bool = False) -> Catalogue:
        """All sleeves of a form, or only the `limp` ones; what was found for a window is kept."""
        if (form, limp) not in self._catalogues:
            found = [c for f, c in self.candidates if f == form and not (limp and self.sleeves[c.id].stiff)]
            self._catalogues[form, limp] = Catalogue(found, self.margins)
        return self._catalogues[form, limp]

    def forget(self) -> None:
        """Drop what was found for windows so far."""
        for catalogue in self._catalogues.values():
            catalogue.forget()

    def allowed(self, choice: Choice) -> Sequence[Ranked]:
        """What may be picked: the part settled on, else the one already cut, else all that fits."""
        own = self._own(choice)
        return choice.ranked if own is None else own

    def options(self, choice: Choice, others: Others = ALONE) -> Iterable[Option]:
        """The same as the whole joint weighs it, best first."""
        own = self._own(choice)
        return choice.options(others) if own is None else [option(r, choice.window.pieces) for r in own]

    def _own(self, choice: Choice) -> list[Ranked] | None:
        wanted = choice.wanted or (self.made.parts or {}).get(choice.layer)
        found = choice.fitting(wanted) if wanted else None
        if found is None:
            return [] if choice.wanted else None
        return [found]

    def tape(self, kind: str, properties: frozenset[str] = frozenset()) -> StockTape | None:
        """The tape of a kind to wind with: in stock, with the properties, the cheapest."""
        found = [
            t
            for t in self.joint.stock.tapes
            if t.kind == kind and t.free(self.today) != 0 and properties <= frozenset(t.properties)
        ]
        return min(
            found, key=lambda t: (t.price_each if t.price_each is not None else 1e9, t.id), default=None
        )

    @property
    def filler(self) -> StockTape | None:
        """What fills and seals: mastic, or else self-amalgamating tape; None where neither is in stock."""
        return self.tape("mastic") or self.tape("self-amalgamating")

    def tape_pick(
        self, layer: str, title: str, kind: str, need: str, properties: frozenset[str] = frozenset()
    ) -> Pick:
        """The choice of a tape, with why each does not serve."""
        best = self.tape(kind, properties)
        offers = []
        for t in self.joint.stock.tapes:
            lacking = sorted(properties - frozenset(t.properties))
            why = (
                f"is {t.kind} tape"
                if t.kind != kind
                else (
                    "none on hand in date"
                    if t.free(self.today) == 0
                    else f"is not {', not '.join(lacking)}"
                    if lacking
                    else ""
                )
            )
            offers.append(
                Offer(t.id, t.said, not why, why or f"{mm(t.width_mm):g} × {mm(t.thickness_mm):g} mm")
            )
        return Pick(
            layer, title, need, tuple(offers), picked=best.id if best else None, advice=f"Order {kind} tape."
        )

    def plain_steps(self) -> tuple[PlainLayer, ...]:
        """Steps and cautions a kit sheet adds, as a layer of their own."""
        sheet = self.joint.sheet
        if sheet is None or not sheet.steps:
            return ()
        return (
            PlainLayer(
                "sheet",
                sheet.name,
                tuple((s.id, s.title, s.text, s.after, s.before or "") for s in sheet.steps),
            ),
        )
