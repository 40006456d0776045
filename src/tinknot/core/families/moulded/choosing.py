"""Part and adhesive chosen together: every mouth of every moulded part with every adhesive on."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from functools import cached_property

from tinknot.core.choosing.choose import Candidate, Catalogue, Window, edge_words
from tinknot.core.families.choice import Choice, Offer, Pick
from tinknot.core.families.moulded.adhesives import Adhesives, Cartridges, Tight, cartridges
from tinknot.core.families.moulded.place import Place
from tinknot.core.formulas.sleeve import Margins, fit
from tinknot.core.layers.moulded.seat import Mouth, Seat
from tinknot.core.parts.bonding import serves_at
from tinknot.core.parts.boot import StockBoot
from tinknot.core.parts.paste import StockPaste
from tinknot.core.rulebook import RuleBook

PART = "boot"  # the layer of the part
TITLES = {"fitting": "boot", "breakout": "breakout", "straight": "straight shape", "cap": "cap"}


@dataclass(frozen=True)
class Judged:
    """Every part judged with one adhesive on: what besides its mouths speaks against it, and which of its
    mouths miss, by the part's id."""

    tight: Tight
    bars: Mapping[str, str]
    misses: Mapping[str, Mapping[int, str]]

    @property
    def has_part(self) -> bool:
        """Whether some part would fit with it."""
        return any(not m and i not in self.bars for i, m in self.misses.items())

    @property
    def fits(self) -> bool:
        """Whether the adhesive serves and some part fits with it."""
        return not self.tight.why_not and self.has_part

    @property
    def worth(self) -> tuple[bool, bool, bool, bool]:
        """What is worked out first: what fits, what needs nothing but time, what serves, what only a mouth
        speaks against."""
        near = any(i not in self.bars for i in self.misses)
        in_time = self.tight.stiff and self.has_part
        return not self.fits, not in_time, bool(self.tight.why_not), not near


@dataclass(frozen=True)
class Found:
    """An adhesive with the choice at every mouth, and the part, where one fits them all."""

    tight: Tight
    choices: tuple[Choice, ...]
    part: StockBoot | None
    paste: Cartridges | None = None


@dataclass(frozen=True)
class Choosing:
    """Everything in stock put to one place; `begun`: the work is, so that no hour is refused any more."""

    place: Place
    rules: RuleBook
    margins: Margins
    properties: frozenset[str]
    today: date | None
    begun: bool = False

    @property
    def title(self) -> str:
        """What the part is called."""
        return TITLES[self.place.joint.job]

    def later(self, mouths: tuple[Mouth, ...]) -> bool:
        """Whether the bands at the cable are laid on only once the first mouth is shrunk."""
        j = self.place.joint
        return j.paste_at == "later" and len(mouths) > 1 and j.job != "straight"

    @cached_property
    def parts(self) -> Mapping[str, StockBoot]:
        """Moulded parts in stock by id."""
        return {p.id: p for p in self.place.joint.stock.boots}

    @cached_property
    def seats(self) -> Mapping[str, Seat]:
        """Where those with the right number of mouths would lie."""
        return {i: self.place.seat(p) for i, p in self.parts.items() if len(p.openings) == self.place.mouths}

    @cached_property
    def bars(self) -> Mapping[str, str]:
        """What speaks against a part whatever makes it tight."""
        found = ((i, self._against(p, self.seats.get(i))) for i, p in self.parts.items())
        return {i: why for i, why in found if why}

    def chosen(self) -> tuple[Found | None, Pick]:
        """The first adhesive that serves and with which a part fits, else one with which a part nearly does;
        and every adhesive with its reason."""
        joint, misses = self.place.joint, dict[float, Mapping[str, Mapping[int, str]]]()
        judged = []
        for tight in self._adhesives().all():
            if joint.adhesive not in (None, tight.system):
                continue
            if tight.thick_mm not in misses:
                open_ = [i for i in self.seats if i not in self.bars]
                misses[tight.thick_mm] = {i: self._misses(i, tight) for i in open_}
            judged.append(Judged(tight, self._bars_with(tight), misses[tight.thick_mm]))
        short: dict[str, str] = {}
        found = None
        for j in sorted(judged, key=lambda j: j.worth):
            worked = self._worked(j)
            found = found or worked
            if worked.paste and worked.paste.short:
                short[j.tight.id] = worked.paste.short
            if worked.part is not None or not j.fits:
                found = worked if worked.part is not None else found
                break
        return found, self._pick(judged, found, short)

    def _adhesives(self) -> Adhesives:
        mouths = None if self.begun else self.place.mouths
        return Adhesives(self.place.joint, mouths, self.rules, today=self.today)

    def _bars_with(self, tight: Tight) -> Mapping[str, str]:
        """What speaks against a part with an adhesive."""
        found = dict(self.bars)
        for i, p in self.parts.items():
            if tight.system == "lined" and not p.lined:
                found.setdefault(i, "has no adhesive lining")
            if tight.system in ("hot-melt", "paste") and p.compound == "fluoropolymer":
                found.setdefault(i, "is of fluoropolymer: nothing laid on holds in it")
        return found

    def _worked(self, j: Judged) -> Found:
        """Every mouth's choice, the part, and how much paste it takes."""
        choices = tuple(self._choice(n, j) for n in range(self.place.mouths))
        wanted, ranked = self.place.joint.boot, choices[0].ranked
        picked = next((r.candidate.id for r in ranked if wanted in (None, r.candidate.id)), None)
        if j.tight.stiff:  # the part is the right one, at another hour
            return Found(j.tight, tuple(c.with_part(picked) for c in choices), None)
        paste = None
        if j.tight.why_not:
            picked = None
        if picked is not None and isinstance(j.tight.part, StockPaste):
            mouths = self.seats[picked].mouths
            paste = cartridges(j.tight, mouths, self.later(mouths), self.rules, today=self.today)
            picked = None if paste.short else picked
        settled = tuple(c.with_part(picked) for c in choices)
        return Found(j.tight, settled, self.parts[picked] if picked else None, paste)

    def _against(self, part: StockBoot, seat: Seat | None) -> str:
        """What besides its mouths and its adhesive speaks against a part."""
        if part.free(self.today) == 0:
            return "none on hand in date"
        j = self.place.joint
        return serves_at(part.service_from_c, part.service_to_c, j.cold_c, j.hot_c) or self.place.against(
            part, seat, self.properties
        )

    def _window(self, m: Mouth, tight: Tight) -> Window:
        """What a mouth must pass and grip; hot-melt tape thickens both where the mouth ends."""
        seals = m.seals_mm + tight.thick_mm
        passes = max(m.slides_mm, self._greatest(m) + tight.thick_mm)
        a, b = m.span_mm
        return Window(passes, seals, ((a, seals), (b, seals)), wall_od_mm=seals, squareness_mm=0.0)

    def _greatest(self, m: Mouth) -> float:
        """The most a mouth lies on where it seals, mm."""
        if m.adhesive_mm <= 0:
            return m.seals_mm
        return m.under.between(*m.band_mm).greatest() if not m.fitting else m.seals_mm

    def _misses(self, part_id: str, tight: Tight) -> Mapping[int, str]:
        """By opening, by how much a mouth of a part misses."""
        part, found = self.parts[part_id], {}
        for m in self.seats[part_id].mouths:
            w = self._window(m, tight)
            judged = fit(part.tube(m.opening), w.pass_od_mm, w.seal_od_mm, self.margins)
            if judged.verdict != "fits":
                found[m.opening] = f"{m.name} ({part.mark(m.opening)}) is {edge_words(judged)}"
        return found

    def _choice(self, n: int, judged: Judged) -> Choice:
        """One mouth's ruler: every part by that mouth; barred where another of its mouths misses."""
        tight, short = judged.tight, judged.misses
        fits_here = {i: s.mouths[n] for i, s in self.seats.items()}
        mouth = next((m for m in fits_here.values() if m), None) or self._bare(n)
        window = self._window(mouth, tight)
        parts = [p for p in self.parts.values() if p.id in self.seats or n == 0]
        stops = dict(judged.bars)
        for p in parts:
            at = fits_here.get(p.id)
            other = [w for o, w in short.get(p.id, {}).items() if at is None or o != at.opening]
            if p.id not in stops and other:
                stops[p.id] = "; ".join(other)
        candidates = []
        for p in parts:
            at = fits_here.get(p.id)
            opening = at.opening if at else min(n, len(p.openings) - 1)
            candidates.append(
                Candidate(p.id, p.tube(opening), lined=p.lined, properties=frozenset(p.properties))
            )
        stock = Catalogue(candidates, self.margins, stops)
        layer = PART if n == 0 else f"{PART}-{n}"
        several = self.place.mouths > 1
        return Choice(
            layer,
            mouth.name if several else self.title,
            window,
            stock.ranked(window),
            catalogue=stock,
            picked=None,
            wanted=self.place.joint.boot,
            slot="/asked/boot",
            of=self.title if several else "",
            as_it_comes=True,
            again=n > 0,
        )

    def _bare(self, n: int) -> Mouth:
        """What a mouth would lie on, where no part in stock has as many mouths."""
        first = StockBoot.model_validate(
            {
                "id": "-",
                "openings": [
                    {"expanded_id_mm": 2.0, "recovered_id_mm": 1.0, "straight_mm": 2 * self.place.band_mm}
                ]
                * self.place.mouths,
                "recovered_wall_mm": 1.0,
            }
        )
        return self.place.seat(first).mouths[n]

    def _pick(self, judged: list[Judged], found: Found | None, short: Mapping[str, str]) -> Pick:
        """What makes it tight, with why each other one does not; `short`: of what there is too little."""
        offers: list[Offer] = []
        for j in judged:
            none = "" if j.fits or j.tight.why_not else "no moulded part in stock fits with it"
            good = j.tight.good_for(self.rules)
            if found and found.paste and found.tight is j.tight:
                p, several = found.paste, "s" if found.paste.count > 1 else ""
                good = (
                    f"{good}. {p.net_ml:.1f} ml in bands, {p.required_ml:.1f} ml with what is lost: {p.count}"
                    f" cartridge{several}"
                )
            offers.append(j.tight.offer(short.get(j.tight.id) or none, good))
        picked = None
        if found and (found.part or not (found.tight.why_not or found.paste)):
            picked = found.tight.id  # the adhesive would do where it is the part that is missing
        need = f"on {self.place.joint.sheath}, {self.place.joint.cold_c:g} to {self.place.joint.hot_c:g} °C"
        if duties := ", ".join(self.place.joint.duties):
            need += f", {duties}"
        advice = "Order an adhesive that holds on this sheath and serves where it lies; a sheet says so."
        quick = any(j.tight.stiff for j in judged)
        if quick:
            advice = (
                "Work in a cooler hour or in the shade, and plan again with its temperature; or order one"
                " that can be worked longer."
            )
        bare = self.place.joint.sheath == "fluoropolymer" and not self.place.joint.treated
        if bare:
            advice = (
                "Etch the sheath and say so on the card, or seal it mechanically with a gland or a clamp."
            )
        return Pick(
            "adhesive",
            "adhesive",
            need,
            tuple(offers),
            picked=picked,
            advice=advice,
            buys=not (bare or quick),
        )
