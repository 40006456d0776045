"""What makes a moulded part tight: every system there is, why it serves or not, and what it takes."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import date
from math import ceil

from tinknot.core.families.choice import Offer
from tinknot.core.families.moulded.job import CureWay, MouldedJob, System
from tinknot.core.formulas.adhesive import Band, bands_ml
from tinknot.core.formulas.curing import LogEntry
from tinknot.core.layers.moulded.part import closing_min
from tinknot.core.layers.moulded.paste import laid_min
from tinknot.core.layers.moulded.seat import Mouth
from tinknot.core.parts.bonding import Bonding, serves_at
from tinknot.core.parts.hot_melt import StockHotMelt
from tinknot.core.parts.nozzle import StockNozzle
from tinknot.core.parts.paste import StockPaste
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least, at_most, whole_up

SAID: dict[System, str] = {
    "lined": "the part's own lining",
    "hot-melt": "hot-melt tape",
    "paste": "two-part paste",
    "sealant": "sealant",
}
_RULE: dict[System, str] = {"lined": "lined", "hot-melt": "tape", "paste": "paste", "sealant": "sealant"}
_WORKS: dict[System, str] = {
    "lined": "nothing to add, it runs when the part is shrunk",
    "hot-melt": "wound on, it runs when the part is shrunk",
    "paste": "cures by itself, the strongest",
    "sealant": "pressed in, not strong",
}
WET = {"damp": "damp", "buried": "wet ground", "immersed": "standing water", "oil": "oil"}  # by the duty
WAYS: dict[CureWay, str] = {"room": "as it lies", "warm": "in a warm box", "oven": "in an oven"}
LINED = "lining"  # stands for the lining of whatever part is chosen


@dataclass(frozen=True)
class CureAt:
    """A way to cure: at which temperature, °C, and which it comes to; minutes until it may be handled, and is
    full; why not."""

    way: CureWay
    at_c: float
    handle_min: float
    full_min: float
    why_not: str = ""
    later_c: float | None = None

    @property
    def at(self) -> str:
        """Its temperature in words."""
        if self.later_c in (None, self.at_c):
            return f"{self.at_c:g} °C"
        return f"{self.at_c:g} °C, going to {self.later_c:g} °C"

    @property
    def offer(self) -> Offer:
        """As it is shown beside the others."""
        if self.why_not:
            return Offer(self.way, WAYS[self.way], False, self.why_not)
        return Offer(
            self.way, WAYS[self.way], True, self.said, handle_min=self.handle_min, full_min=self.full_min
        )

    @property
    def said(self) -> str:
        """Its times in words."""
        return (
            f"{self.at}: handled after {_hours(self.handle_min)}, flexed and put to use after"
            f" {_hours(self.full_min)}"
        )


def _hours(minutes: float) -> str:
    return f"{ceil(minutes)} min" if minutes < 120 else f"{minutes / 60:.1f} h"


@dataclass(frozen=True)
class Tight:
    """What makes a part tight: the system and its part (None for a lining), how much it thickens what a mouth
    goes over, mm; why it does not serve here, empty where it does. Of a paste: its nozzle, how long it can be
    worked, min, whether only that is too short, and the ways to cure it."""

    system: System
    part: StockHotMelt | StockPaste | None = None
    thick_mm: float = 0.0
    why_not: str = ""
    nozzle: StockNozzle | None = None
    open_min: float = 0.0
    stiff: bool = False
    cures: tuple[CureAt, ...] = field(default=())
    cured: CureAt | None = None

    @property
    def id(self) -> str:
        """By its part."""
        return self.part.id if self.part else LINED

    @property
    def said(self) -> str:
        """What it is called."""
        return self.part.said if self.part else SAID["lined"]

    def offer(self, found: str, good: str) -> Offer:
        """As it is shown beside the others; `found`: why no part fits with it; `good`: what for."""
        why = self.why_not or found
        return Offer(self.id, self.said, not why, why or f"{_WORKS[self.system]}; {good}")

    def good_for(self, rules: RuleBook) -> str:
        """What it keeps out and what not, in words."""
        keeps = (self.part.keeps_out if self.part else []) or rules.names(
            f"adhesive.{_RULE[self.system]}_against"
        )
        good = [said for duty, said in WET.items() if duty in keeps]
        not_for = [said for duty, said in WET.items() if duty not in keeps]
        but = f", not for {', '.join(not_for)}" if not_for else ""
        return f"good for {', '.join(good) or 'dry places'}{but}"


class Adhesives:
    """What there is to make a part tight, in the order it is tried. `mouths`: of the part, whose bands must
    be laid and closed in time; None where that is not asked."""

    def __init__(self, joint: MouldedJob, mouths: int | None, rules: RuleBook, *, today: date | None) -> None:
        self.joint, self.mouths, self.rules, self.today = joint, mouths, rules, today

    def all(self) -> list[Tight]:
        """Nothing to add first, then tape, paste and sealant as they stand in stock."""
        stock = self.joint.stock
        return [
            Tight("lined", why_not=self._against("lined", None)),
            *(self._tape(t) for t in stock.hot_melts),
            *(self._paste(p, "paste") for p in stock.pastes if p.kind == "two-part"),
            *(self._paste(p, "sealant") for p in stock.pastes if p.kind == "sealant"),
        ]

    def _tape(self, tape: StockHotMelt) -> Tight:
        turns = int(self.rules.number("adhesive.turns"))
        return Tight("hot-melt", tape, 2 * turns * tape.thickness_mm, self._against("hot-melt", tape))

    def _paste(self, paste: StockPaste, system: System) -> Tight:
        cures = tuple(self._cures(paste))
        asked = self.joint.cure
        usable = [c for c in cures if not c.why_not]
        late = [c for c in usable if self._late(c)]
        cured = next((c for c in usable if c.way == asked), None) or next(
            (c for c in usable if c not in late), min(usable, key=lambda c: c.full_min, default=None)
        )
        nozzle = self._nozzle(paste) if system == "paste" else None
        why = self._against(system, paste)
        if not why and cured is None:
            why = f"does not cure here: {'; '.join(c.why_not for c in cures)}"
        if not why and cured is not None and self._late(cured):
            why = f"is full after {_hours(cured.full_min)}, it must be ready within {self.joint.within_h:g} h"
        if not why and system == "paste" and nozzle is None:
            why = "no mixing nozzle in stock fits it"
        life = paste.open_law().pot_life_min(max(self.joint.ambient_c, paste.least_temperature_c))
        stiff = "" if why else self._stiff(life)
        return Tight(
            system,
            paste,
            0.0,
            why or stiff,
            nozzle=nozzle,
            open_min=life,
            stiff=bool(stiff),
            cures=cures,
            cured=cured,
        )

    def _stiff(self, life_min: float) -> str:
        """Whether it is stiff before the part is closed over it."""
        if self.mouths is None:
            return ""
        takes = laid_min(self.rules, self.mouths) + closing_min(self.rules)
        if at_most(takes, life_min):
            return ""
        return (
            f"at {self.joint.ambient_c:g} °C it can be worked for {life_min:.1f} min; laying it on and"
            f" closing the part over it take {takes:.1f} min, {takes - life_min:.1f} min too long"
        )

    def _late(self, c: CureAt) -> bool:
        return self.joint.within_h is not None and not at_most(c.full_min, self.joint.within_h * 60)

    def _cures(self, paste: StockPaste) -> Iterator[CureAt]:
        """As it lies, in a warm box, in an oven."""
        air = self.joint.ambient_c
        places: dict[CureWay, float] = {
            "room": air,
            "warm": max(air, self.rules.number("adhesive.warm_c")),
            "oven": max(air, self.rules.number("adhesive.oven_c")),
        }
        clock, handle, full = paste.clock(), *(self.rules.number(f"cure.{k}") for k in ("handle", "energise"))
        for way, at in places.items():
            log = self._air(at) if way == "room" else [LogEntry(0.0, at)]
            times = [clock.degree(log, goal).full_at_min for goal in (handle, full)]
            why = ""
            if None in times:
                coldest = min(log[0].temperature_c, log[-1].temperature_c)
                why = f"cures only from {paste.least_temperature_c:g} °C, {WAYS[way]} it is {coldest:g} °C"
            elif way != "room" and paste.most_c is not None and not at_most(at, paste.most_c):
                why = f"bears {paste.most_c:g} °C while it cures, not {at:g} °C"
            elif way != "room" and self.joint.landed == "both" and way == "oven":
                why = "what is landed at both ends does not go into an oven"
            soon, done = (0.0 if why else t or 0.0 for t in times)
            yield CureAt(way, at, soon, done, why_not=why, later_c=log[-1].temperature_c)

    def _air(self, now_c: float) -> list[LogEntry]:
        """The air from now on: as forecast, on a straight line; else as it is."""
        j = self.joint
        if j.later_c is None or j.later_h is None:
            return [LogEntry(0.0, now_c)]
        return [LogEntry(0.0, now_c), LogEntry(j.later_h * 60, j.later_c)]

    def _nozzle(self, paste: StockPaste) -> StockNozzle | None:
        fitting = (n for n in self.joint.stock.nozzles if n.fits in (None, paste.system))
        return next((n for n in fitting if n.free(self.today) != 0), None)

    def _against(self, system: System, part: Bonding | None) -> str:
        """Why it does not serve: on this sheath, against what it lives in, hot or cold, none left."""
        j, key = self.joint, _RULE[system]
        bonds = (part.bonds if part else []) or self.rules.names(f"adhesive.{key}_on")
        if j.sheath == "fluoropolymer" and not j.treated:
            return "nothing holds on fluoropolymer that is not etched"
        if j.sheath not in bonds and not (j.treated and j.sheath in ("polyolefin", "fluoropolymer")):
            more = ", unless it is treated for it" if j.sheath == "polyolefin" else ""
            return f"does not hold on {j.sheath}{more}"
        keeps = (part.keeps_out if part else []) or self.rules.names(f"adhesive.{key}_against")
        if leaks := [d for d in j.duties if d not in keeps and d not in ("fire", "hazardous", "dry")]:
            return f"is not good for: {', '.join(leaks)}"
        most = part.service_to_c if part else None
        if most is None:
            most = self.rules.number(f"adhesive.{key}_service_c")
        if why := serves_at(part.service_from_c if part else None, most, j.cold_c, j.hot_c):
            return why
        if part is not None and part.free(self.today) == 0:
            return "none on hand in date"
        return ""


@dataclass(frozen=True)
class Cartridges:
    """Paste for one part: its bands, ml net and with what is lost, how many cartridges and nozzles, how many
    of `lot` are `taken` (a share of an opened one), and what is short of them on the shelf, in words."""

    bands: tuple[Band, ...]
    net_ml: float
    required_ml: float
    count: int
    nozzles: int
    lot: str = ""
    taken: float = 0.0
    short: str = ""


def cartridges(
    tight: Tight, mouths: Iterable[Mouth], later: bool, rules: RuleBook, today: date | None
) -> Cartridges:
    """What the bands of a part take; `later`: the band at the cable's mouth is laid on by a second nozzle."""
    assert isinstance(tight.part, StockPaste)
    bands = tuple(bands_of(mouths))
    net = bands_ml(bands, rules.number("adhesive.thickness_mm"))
    nozzles = 0 if tight.nozzle is None else 2 if later else 1
    kept = nozzles * tight.nozzle.holds_ml if tight.nozzle else 0.0
    required = net * (1 + rules.number("adhesive.waste_pct") / 100) + kept
    count = max(1, whole_up(required / tight.part.volume_ml))
    found = tight.part.taken(required / tight.part.volume_ml, count, today)
    short = [] if found else [f"{tight.part.free(today) or 0:g} cartridges on hand, {count} needed"]
    have = tight.nozzle.free(today) if tight.nozzle else None
    if have is not None and have < nozzles:
        short.append(f"{have:g} nozzles on hand, {nozzles} needed")
    lot, taken = found or ("", float(count))
    return Cartridges(
        bands, net, required, count, nozzles=nozzles, lot=lot, taken=taken, short="; ".join(short)
    )


def bands_of(mouths: Iterable[Mouth]) -> Iterator[Band]:
    """A band at every mouth; two at a fitting's, round it and inside the mouth."""
    for m in mouths:
        if at_least(m.adhesive_mm, 0.1):
            yield Band(m.seals_mm, m.adhesive_mm, 2 if m.fitting else 1)
