"""Paste or sealant in bands at the mouths of a moulded part, and its cure."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from tinknot.core.acts import LayOn, Mix, Note, Thing, Wait
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import Fact, of
from tinknot.core.figures import mm
from tinknot.core.layers.contract import (
    Cure,
    Fault,
    Gate,
    Layer,
    Material,
    Mend,
    Minutes,
    Piece,
    Reading,
    Step,
    Timer,
    pieces_of,
)
from tinknot.core.layers.moulded.seat import Mouth
from tinknot.core.layers.sleeve import flash
from tinknot.core.parts.nozzle import StockNozzle
from tinknot.core.parts.paste import StockPaste
from tinknot.core.rulebook import RuleBook

_OFF = Mend("Take the part off, clean all of it away and begin again with a new one", "remake")


def laid_min(rules: RuleBook, bands: int) -> float:
    """What laying on takes, min: half of what is allowed for a mouth, the rest is cartridge and nozzle."""
    return rules.number("time.mouth_min") / 2 * bands


@dataclass(frozen=True)
class PasteBands(Layer):
    """Paste or sealant laid on in bands. `count` cartridges, of which `taken` (a share of an opened one),
    `nozzle` and how many; `open_min`: how long it
    can be worked, min; `later`: the last mouths' bands only once the first is shrunk, which `on` has."""

    rules: RuleBook
    paste: StockPaste
    lot: str
    nozzle: StockNozzle | None
    nozzles: int
    count: int
    taken: float
    mouths: tuple[Mouth, ...]
    clean: Fact
    with_next = True
    open_min: float
    on: str
    later: bool = False

    @property
    def ready(self) -> Fact:
        """From when on it hardens: its parts mixed, or its cartridge open."""
        return of("mixed", self._nozzled(1).id) if self.nozzle else of("noted", self.id)

    @property
    def again(self) -> Fact:
        """From when on what is laid on later hardens."""
        return of("mixed", self._nozzled(2).id) if self.nozzle else of("noted", self.id)

    @property
    def laid(self) -> tuple[Fact, ...]:
        """What is laid on before the part is slid on."""
        return tuple(Fact("laid", m.place) for m in self.first_bands)

    @property
    def laid_last(self) -> tuple[Fact, ...]:
        """What is laid on once the first mouth is shrunk."""
        return tuple(Fact("laid", m.place) for m in self.mouths[1:]) if self.later else ()

    @property
    def first_bands(self) -> tuple[Mouth, ...]:
        """Those that are laid on before the part is slid on."""
        return self.mouths[:1] if self.later else self.mouths

    def work(self) -> tuple[Step, ...]:
        """Cartridge ready, nozzle on, bands; the rest later where that is the school."""
        return (*self._opened(), *self._bands(), *self._later())

    def _gloves(self) -> str:
        return "Epoxy makes skin allergic for good: gloves, no bare skin." if self.paste.epoxy else "Gloves."

    def _opened(self) -> Iterator[Step]:
        least = self.paste.least_temperature_c
        first = self.rules.number("adhesive.bead_first_mm")
        opened = (
            f" Write the date on it: opened it lasts {self.paste.opened_days:g} days."
            if self.paste.opened_days
            else ""
        )
        several = f"{self.count} × " if self.count > 1 else ""
        rest = self.taken < self.count  # of one that is opened already
        opened = " It is opened already: its date, and whether it still flows." if rest else opened
        bleed = " Press until both parts flow, wipe them off." if self.nozzle else ""
        yield Step(
            f"adhesive.{self.id}.open",
            "Take the opened cartridge"
            if rest
            else f"Open the {'cartridge' if self.count == 1 else 'cartridges'}",
            "adhesive",
            "build",
            needs=(self.clean,),
            text=f"{several}{self.paste.said}, in date.{bleed}{opened}",
            caution=self._gloves(),
            look="Both parts flow even, no lump, no skin." if self.nozzle else "It flows even, no skin.",
            action="It flows",
            part_id=self.paste.id,
            tools=("thermometer",),
            reading=Reading((Gate("cartridge", "cartridge", "°C", least=least, instrument="thermometer"),)),
            acts=(Note(thing=Thing(self.id, "cartridge", of=self.paste.said)),),
        )
        if self.nozzle:
            yield self._nozzle(1, (of("noted", self.id),), first)

    def _nozzle(self, number: int, needs: tuple[Fact, ...], first_mm: float) -> Step:
        thing = self._nozzled(number)
        return Step(
            thing.id,
            "Put a new nozzle on",
            "adhesive",
            "build",
            needs=needs,
            text=f"Press the first {mm(first_mm):g} mm of bead onto card and throw it away.",
            caution=f"{self.open_min:.0f} min from now; then this nozzle is thrown away, not the cartridge.",
            look="One even colour, no streak.",
            part_id=self.nozzle.id if self.nozzle else "",
            action="Nozzle on: start the clock",
            acts=(Mix(thing=thing, within_min=self.open_min),),
        )

    def _nozzled(self, number: int) -> Thing:
        """A nozzle by its number, and what comes out of it."""
        name = f"adhesive.{self.id}.nozzle{'-2' if number > 1 else ''}"
        return Thing(name, "nozzle", of=self.nozzle.said if self.nozzle else "")

    def _laid(self, mouths: Sequence[Mouth], mixed: Fact) -> tuple[LayOn, ...]:
        """A band on each."""
        thing = Thing(mixed.thing, "paste", seals="adhesive", of=self.paste.said)
        each = laid_min(self.rules, 1)
        return tuple(LayOn(minutes=each, at=m.place, thing=thing, seals_on=(m.place,)) for m in mouths)

    def _timer(self, since: Fact) -> tuple[Timer, ...]:
        return (Timer("worked", "adhesive can be worked", since, None, most_min=self.open_min),)

    def _band(self, m: Mouth) -> str:
        twice = "round it and inside the mouth" if m.fitting else "round it"
        return f"{m.on}: {mm(m.adhesive_mm):.0f} mm wide, {twice}"

    def _bands(self) -> Iterator[Step]:
        thick = self.rules.number("adhesive.thickness_mm")
        yield Step(
            f"adhesive.{self.id}.bands",
            "Lay the bands on",
            "adhesive",
            "build",
            needs=(self.ready,),
            text=(
                f"{mm(thick):g} mm thick, no gap: {'; '.join(self._band(m) for m in self.first_bands)}. A"
                " bead on a strip of the same sheath beside it: that is the sample."
            ),
            look="All round, no bare band.",
            action="Laid on",
            timers=(flash(self.rules, self.clean), *self._timer(self.ready)),
            photo=True,
            acts=self._laid(self.first_bands, self.ready),
        )

    def _later(self) -> Iterator[Step]:
        if not self.later:
            return
        needs: tuple[Fact, ...] = (of("made", self.on),)
        if self.nozzle:
            yield self._nozzle(2, needs, self.rules.number("adhesive.bead_first_mm"))
            needs = (self.again,)
        yield Step(
            f"adhesive.{self.id}.last",
            "Lay on the bands at the cable",
            "adhesive",
            "build",
            needs=needs,
            text=f"Just before these mouths are shrunk: {'; '.join(self._band(m) for m in self.mouths[1:])}.",
            look="All round, no bare band.",
            action="Laid on",
            timers=self._timer(self.again),
            acts=self._laid(self.mouths[1:], self.again),
        )

    def lies(self) -> Lies | None:
        """From the first to the last band."""
        spans = [m.band_mm for m in self.mouths]
        return Lies((min(a for a, _ in spans), max(b for _, b in spans)))

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Each band, to scale."""
        thick = self.rules.number("adhesive.thickness_mm")
        for n, m in enumerate(self.mouths):
            a, b = m.band_mm
            if b - a > 1e-6:
                r = m.seals_mm / 2 + thick
                yield Body(
                    id=f"{self.id}-{n}",
                    kind="paste",
                    layer=self.id,
                    depth_mm=stage.depth_mm,
                    **m.course.edges([(a, r), (b, r)]),
                )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Round what lies on the axis."""
        thick = self.rules.number("adhesive.thickness_mm")
        for m in self.mouths:
            a, b = m.band_mm
            if a <= x <= b and m.course.on_axis(x):
                yield Circle(kind="paste", layer=self.id, od_mm=m.seals_mm + 2 * thick, inside_mm=m.seals_mm)

    def consumes(self) -> tuple[Material, ...]:
        """Cartridges and nozzles."""
        p, n = self.paste, self.nozzle
        found = [Material(p.said, self.taken, "piece", p.on_hand, part_id=p.id, lot=self.lot)]
        if n:
            found.append(Material(n.said, self.nozzles, "piece", n.on_hand, part_id=n.id, lot=""))
        return tuple(found)

    def counted(self) -> tuple[Piece, ...]:
        """Cartridges and nozzles."""
        return pieces_of(self.consumes(), max(m.seals_mm for m in self.mouths))

    def from_lot(self) -> str:
        """Its lot."""
        return self.lot

    def minutes(self) -> Minutes:
        """A few for each band."""
        return Minutes(self.rules.number("time.mouth_min") * len(self.mouths))

    def tools(self) -> tuple[str, ...]:
        """To press it out."""
        return ("cartridge gun", "gloves", "cloths")

    def faults(self) -> tuple[Fault, ...]:
        """What paste does wrong."""
        return (
            Fault(
                "set-early",
                "It sets in the nozzle, or before the part is closed",
                ("nozzle older than its clock", "warmer than planned"),
                (Mend("Throw the nozzle away, put a new one on; the cartridge is good", "again"), _OFF),
            ),
            Fault(
                "bare-band",
                "A gap in a band",
                ("not laid on all round",),
                (Mend("Lay on what is missing while it is wet", "again"), _OFF),
            ),
            Fault(
                "streaks",
                "Two colours, streaks",
                ("first bead not thrown away", "one part did not flow"),
                (Mend("Wipe it off, press on until it is even", "again"),),
            ),
        )


@dataclass(frozen=True)
class PasteCure(Layer):
    """The cure of a paste with its sample. `since`: what was made so when it began to harden; `way`: how it
    is cured, and `at` which temperature, in words; `handle_min`, `full_min` as expected."""

    rules: RuleBook
    paste: StockPaste
    since: Fact
    way: str
    at: str
    handle_min: float
    full_min: float

    def work(self) -> tuple[Step, ...]:
        """Cured; the sample looked at."""
        return (
            Step(
                f"cure.{self.id}",
                "Let it cure",
                "wait",
                "build",
                needs=(Fact("ready"),),
                text=(
                    f"{self.way.capitalize()}, {self.at}, the sample beside it, not bent. Read the air"
                    " beside it now and then: its clock goes by what you read."
                ),
                action="It is cured",
                reading=Reading(
                    (Gate("temperature", "air beside it", "°C", required=False, instrument="thermometer"),)
                ),
                cure=Cure(
                    tuple((p.temperature_c, p.minutes) for p in self.paste.clock().law.points),
                    self.paste.least_temperature_c,
                    self.since,
                    self.rules.number("cure.handle"),
                    full=self.rules.number("cure.energise"),
                    handle_min=self.handle_min,
                    full_min=self.full_min,
                ),
                acts=(Wait(until="cured"),),
            ),
            Step(
                f"inspect.{self.id}",
                "Look at the sample",
                "inspect",
                "build",
                needs=(Fact("cured"),),
                look="Hard, one colour; it tears the sheath before it lets go.",
                fails="Soft: it was mixed badly, too cold or too old. The part comes off.",
                photo=True,
                acts=(Note(thing=Thing(self.id, "sample")),),
            ),
        )

    def minutes(self) -> Minutes:
        """It cures."""
        return Minutes(0.0, self.full_min)

    def faults(self) -> tuple[Fault, ...]:
        """Soft, broken."""
        return (
            Fault(
                "soft",
                "Soft after its cure",
                ("mixed badly", "too cold", "past its date"),
                (Mend("Warm it and give it half the time again, then look once more", "again"), _OFF),
                at=(of("noted", self.id), Fact("cured")),
            ),
            Fault(
                "line-broken",
                "The line at a mouth is broken",
                ("wiped too deep", "moved before it was cured"),
                (Mend("Roughen it and lay a new line over it", "mended"), _OFF),
            ),
        )
