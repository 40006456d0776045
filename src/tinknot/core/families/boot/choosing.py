"""Part and adhesive chosen together: every mouth of every moulded part with every adhesive on."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from tinknot.core.choosing.choose import Candidate, Catalogue, Window, edge_words
from tinknot.core.families.boot.adhesives import Adhesives, Cartridges, Tight, cartridges
from tinknot.core.families.boot.place import Place
from tinknot.core.families.choice import Choice, Offer, Pick
from tinknot.core.formulas.sleeve import Margins, fit
from tinknot.core.layers.moulded.seat import Mouth, Seat
from tinknot.core.parts.bonding import serves_at
from tinknot.core.parts.boot import StockBoot
from tinknot.core.parts.paste import StockPaste
from tinknot.core.rulebook import RuleBook

PART = "boot"  # the layer of the part
TITLES = {"fitting": "boot", "breakout": "breakout", "straight": "straight shape", "cap": "cap"}


@dataclass(frozen=True)
class Found:
    """An adhesive with the choice at every mouth, and the part, where one fits them all; `near`: all that
    speaks against some part is that a mouth of it misses."""

    tight: Tight
    choices: tuple[Choice, ...]
    part: StockBoot | None
    paste: Cartridges | None = None
    near: bool = False


@dataclass(frozen=True)
class Choosing:
    """Everything in stock put to one place."""

    place: Place
    rules: RuleBook
    margins: Margins
    properties: frozenset[str]
    today: date | None

    @property
    def title(self) -> str:
        """What the part is called."""
        return TITLES[self.place.joint.job]

    def later(self, mouths: tuple[Mouth, ...]) -> bool:
        """Whether the bands at the cable are laid on only once the first mouth is shrunk."""
        j = self.place.joint
        return j.paste_at == "later" and len(mouths) > 1 and j.job != "straight"

    def chosen(self) -> tuple[Found | None, Pick]:
        """The first adhesive that serves and with which a part fits, else one with which a part nearly does;
        and every adhesive with its reason."""
        joint = self.place.joint
        every = Adhesives(joint, self.rules, self.today).all()
        tried = [self._with(t) for t in every if joint.adhesive in (None, t.system)]
        best = sorted(tried, key=lambda f: (f.part is None, bool(f.tight.why_not), not f.near))
        found = best[0] if best else None
        return found, self._pick(tried, found)

    def _with(self, tight: Tight) -> Found:
        """Every part judged with one adhesive on."""
        joint, parts = self.place.joint, {p.id: p for p in self.place.joint.stock.boots}
        seats = {i: self.place.seat(p) for i, p in parts.items() if len(p.openings) == self.place.mouths}
        bars = {i: why for i, p in parts.items() if (why := self._against(p, tight))}
        short = {i: self._misses(parts[i], seat, tight) for i, seat in seats.items()}
        choices = tuple(self._choice(n, seats, bars, short, tight) for n in range(self.place.mouths))
        whole = [r.candidate.id for r in choices[0].ranked if joint.boot in (None, r.candidate.id)]
        picked, paste = None if tight.why_not else next(iter(whole), None), None
        if picked is not None and isinstance(tight.part, StockPaste):
            mouths = seats[picked].mouths
            paste = cartridges(tight, mouths, self.later(mouths), self.rules, self.today)
            picked = None if paste.short else picked
        settled = tuple(c.with_part(picked) for c in choices)
        near = any(i not in bars for i in seats)
        return Found(tight, settled, parts[picked] if picked else None, paste, near)

    def _against(self, part: StockBoot, tight: Tight) -> str:
        """What besides its mouths speaks against a part with an adhesive."""
        if part.free(self.today) == 0:
            return "none on hand in date"
        if tight.system == "lined" and not part.lined:
            return "has no adhesive lining"
        if part.compound == "fluoropolymer" and tight.system in ("hot-melt", "paste"):
            return "is of fluoropolymer: nothing laid on holds in it"
        j = self.place.joint
        return serves_at(part.service_from_c, part.service_to_c, j.cold_c, j.hot_c) or self.place.against(
            part, self.properties
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
        return m.under.between(*m.band_mm).greatest() if m.on != "the fitting" else m.seals_mm

    def _misses(self, part: StockBoot, seat: Seat, tight: Tight) -> dict[int, str]:
        """By opening, by how much its mouth misses."""
        found = {}
        for m in seat.mouths:
            w = self._window(m, tight)
            judged = fit(part.tube(m.opening), w.pass_od_mm, w.seal_od_mm, self.margins)
            if judged.verdict != "fits":
                found[m.opening] = f"{m.name} ({part.mark(m.opening)}) is {edge_words(judged)}"
        return found

    def _choice(
        self,
        n: int,
        seats: Mapping[str, Seat],
        bars: Mapping[str, str],
        short: Mapping[str, dict[int, str]],
        tight: Tight,
    ) -> Choice:
        """One mouth's ruler: every part by that mouth; barred where another of its mouths misses."""
        fits_here = {i: next((m for k, m in enumerate(s.mouths) if k == n), None) for i, s in seats.items()}
        mouth = next((m for m in fits_here.values() if m), None) or self._bare(n)
        window = self._window(mouth, tight)
        parts = [p for p in self.place.joint.stock.boots if p.id in seats or n == 0]
        stops = dict(bars)
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
            stock,
            None,
            self.place.joint.boot,
            slot="/asked/boot",
            of=self.title if several else "",
            as_it_comes=True,
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

    def _good_for(self, f: Found) -> str:
        """What an adhesive is good for, and what a paste takes."""
        words = [f.tight.good_for(self.rules)]
        if f.paste:
            several = "s" if f.paste.count > 1 else ""
            words.append(
                f"{f.paste.net_ml:.1f} ml in bands, {f.paste.required_ml:.1f} ml with what is lost:"
                f" {f.paste.count} cartridge{several}"
            )
        return ". ".join(words)

    def _pick(self, tried: list[Found], found: Found | None) -> Pick:
        """What makes it tight, with why each other one does not."""
        offers: list[Offer] = []
        for f in tried:
            short = f.paste.short if f.paste else ""
            none = "no moulded part in stock fits with it" if f.part is None and not f.tight.why_not else ""
            offers.append(f.tight.offer(short or none, self._good_for(f)))
        picked = found.tight.id if found and found.part else None
        serves = found is not None and not found.tight.why_not and found.part is None and not found.paste
        if serves and found is not None:
            picked = found.tight.id  # the adhesive would do: it is the part that is missing
        need = f"on {self.place.joint.sheath}, {self.place.joint.cold_c:g} to {self.place.joint.hot_c:g} °C"
        if duties := ", ".join(self.place.joint.duties):
            need += f", {duties}"
        advice = "Order an adhesive that holds on this sheath and serves where it lies; a sheet says so."
        if self.place.joint.sheath == "fluoropolymer" and not self.place.joint.treated:
            advice = (
                "Etch the sheath and say so on the card, or seal it mechanically with a gland or a clamp."
            )
        return Pick("adhesive", "what makes it tight", need, tuple(offers), picked, advice)
