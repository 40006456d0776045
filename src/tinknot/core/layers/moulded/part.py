"""A moulded part: threaded, turned the right way, put in its place, shrunk mouth by mouth, looked at."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from tinknot.core.acts import Act, Look, Note, Place, Shrink, SlideTo, Thing, ThreadOn, Try
from tinknot.core.choosing.park import Side
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import MEASURED, Fact, of
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Fault,
    Gate,
    Heat,
    Layer,
    Material,
    Mend,
    Minutes,
    Reading,
    Setting,
    Step,
    Threaded,
    Timer,
    cooling,
)
from tinknot.core.layers.mends import THREAD
from tinknot.core.layers.moulded.areas import Areas
from tinknot.core.layers.moulded.seat import Mouth, Seat, Span
from tinknot.core.layers.moulded.shape import Shape
from tinknot.core.layers.sleeve import flash
from tinknot.core.parts.boot import StockBoot
from tinknot.core.rulebook import RuleBook

_NEW = Mend("Cut it off, clean the place and put a new one on", "new-part")
_AGAIN = Mend("Cut it off with what it goes over, and begin again", "remake")


def closing_min(rules: RuleBook) -> float:
    """Sliding a part to its marks, shrinking it and looking at it, min: half of what is allowed for it."""
    return rules.number("time.boot_min") / 2


@dataclass(frozen=True)
class MouldedPart(Layer):
    """A moulded part in its `seat`. `threads_from`: where it goes on before something is in its way, in
    words; empty where it is slid on at the end. `goes_on`: what must be so before it is tried dry; `bedded`:
    what it is slid into, and `at_last`: what is laid on at the last mouth once the first is shrunk;
    `worked_min`: how long what it is bedded in can be worked, `worked_from` when on, min (what is squeezed
    out of it is wiped off); `gun_c`: what the gun is set to, °C;
    `cool_min` after heat; `from_middle`: heat begins in its middle; `end`: of a joint with two, the
    one it waits on, `parks_on`: what must be so before it is threaded, `order`: how near to the joint."""

    rules: RuleBook
    part: StockBoot
    lot: str
    seat: Seat
    areas: Areas
    gun_c: float
    cool_min: float
    threads_from: str = ""
    goes_on: tuple[Fact, ...] = ()
    bedded: tuple[Fact, ...] = ()
    at_last: tuple[Fact, ...] = ()
    worked_from: Fact | None = None
    worked_min: float = 0.0
    from_middle: bool = False
    order: int = 1
    end: str = "A"
    parks_on: tuple[Fact, ...] = (MEASURED,)

    @property
    def first(self) -> Mouth:
        """The mouth that is shrunk first."""
        return self.seat.mouths[0]

    @property
    def lipped(self) -> bool:
        """Whether a lip of it lies in a groove."""
        return self.part.lip_mm is not None and self.first.fitting

    @property
    def span_mm(self) -> Span:
        """From end to end along its line."""
        return self.seat.start_mm, self.seat.end_mm

    @property
    def shape(self) -> Shape:
        """What it looks like there."""
        return Shape(self.part, self.seat)

    def apply(self, under: Profile) -> Profile:
        """Shrunk on."""
        return self.shape.covers(under)

    def threads(self) -> tuple[Threaded, ...]:
        """On the cable, behind the place."""
        if not self.threads_from:
            return ()
        return (
            Threaded(self.id, self.part.id, "sheath", self.part.length_mm, end=self.end, order=self.order),
        )

    def waits_on(self, wanted: Side) -> Side:
        """On its own end."""
        return "b" if self.end == "B" else "a"

    # --- how it goes on ---------------------------------------------------------------------------------

    def work(self) -> tuple[Step, ...]:
        """Threaded; tried dry and turned; slid on, shrunk from its fixed end, looked at, cooled."""
        return (
            *self._threaded(),
            *self._tried(),
            *self.areas.steps(),
            *self._closed(),
            *self._cooled(),
        )

    def _closed(self) -> Iterator[Step]:
        """From its place to the look at it, with the minutes that they share."""
        steps = (*self._shrunk(), self._looked_at())
        each = closing_min(self.rules) / sum(len(s.acts) for s in steps)
        for s in steps:
            yield replace(s, acts=tuple(replace(a, minutes=each) for a in s.acts))

    def _mouths(self) -> str:
        return ", ".join(f"{self.part.mark(m.opening)} on {m.on}" for m in self.seat.mouths)

    def _threaded(self) -> Iterator[Step]:
        if self.threads_from:
            yield Step(
                f"park.{self.id}",
                f"Thread the {self.title}",
                "park",
                "park",
                needs=(*self.parks_on, *((self.areas.inside_ready,) if self.areas.inside else ())),
                text=(
                    f"{self.part.said}, {self.threads_from}. Its marks: {self._mouths()}. Slide it well back."
                ),
                caution="It cannot be put on later.",
                batch=batches.WHOLE,
                end=self.end,
                part_id=self.part.id,
                acts=(ThreadOn(at=Place(self.end), thing=self.thing),),
            )

    @property
    def thing(self) -> Thing:
        """The part as it is taken to the work."""
        return Thing(self.id, self.title, shrinks_c=self.part.shrink_c, seals="adhesive", of=self.part.said)

    def _slid(self) -> tuple[Act, ...]:
        """Over the place, from the tail or from the free end."""
        slid = SlideTo(at=Place(span_mm=self.span_mm), thing=self.thing, from_end=self.end)
        return (slid,) if self.threads_from else (ThreadOn(at=Place(self.end), thing=self.thing), slid)

    def _shrinks(self, mouths: Sequence[Mouth]) -> tuple[Act, ...]:
        """Closed on these mouths."""
        seat = Place(mouths[0].place.end if len(mouths) == 1 else "", span_mm=self.span_mm)
        return (Shrink(at=seat, thing=self.thing, seals_on=tuple(m.place for m in mouths)),)

    def _tried(self) -> Iterator[Step]:
        lip = f"lip toward the fitting, into its groove; {self._mouths()}" if self.lipped else self._mouths()
        corner = f" It turns by {self.part.angle}°: mark which way." if self.part.angle != "0" else ""
        yield Step(
            f"orient.{self.id}",
            f"Try the {self.title} dry: which way round",
            "orient",
            "build",
            needs=self.goes_on,
            text=f"Hold it in its place: {lip}.{corner} Mark where each mouth ends, then slide it back.",
            look="Right way round, every mouth over what it seals on.",
            fails="Turn it now: once it is warm it stays as it is.",
            action="Lip toward the fitting" if self.lipped else "It lies the right way",
            photo=True,
            acts=(
                Try(
                    at=Place(span_mm=self.span_mm),
                    thing=self.thing,
                    on=tuple(
                        (m.place, m.seals_mm)
                        for m in self.seat.mouths
                        if m.course.on_axis(sum(m.band_mm) / 2)
                    ),
                ),
            ),
            focus_mm=self.span_mm,
        )

    def _worked(self) -> tuple[Timer, ...]:
        """How long what it is bedded in can be worked."""
        if self.worked_from is None:
            return ()
        return (Timer("worked", "adhesive can be worked", self.worked_from, None, most_min=self.worked_min),)

    def _shrunk(self) -> Iterator[Step]:
        first, legs = self.first, self.seat.mouths[1:]
        timers = (flash(self.rules, self.areas.clean), *self._worked())
        yield Step(
            f"place.{self.id}",
            f"Slide the {self.title} to its marks",
            "fit",
            "build",
            needs=(of("tried", self.id), *self.bedded),
            text="Straight, without turning it in what was laid on.",
            look="Every mouth at its mark.",
            part_id="" if self.threads_from else self.part.id,
            action="It stands right",
            acts=self._slid(),
            focus_mm=self.span_mm,
        )
        start = (
            "From its middle to both mouths, so that no air stays in."
            if self.from_middle
            else f"The body first, then {first.name}: round and round, until it has closed."
            if len(legs) > 1
            else f"Only {first.name}, round and round, until it has closed."
        )
        far, (near, end) = first.span_mm[1], self.span_mm
        ways = [(end, near)]  # a cap from its closed end
        if self.from_middle:
            ways = [((near + end) / 2, near), ((near + end) / 2, end)]
        elif len(legs) == 1:
            ways = [(near, far)]
        elif legs:
            ways = [(far, near)]
        route = self.shape.route
        yield Step(
            f"seal.{self.id}",
            f"Shrink {'the ' + self.title if self.from_middle or not legs else first.name}",
            "seal",
            "build",
            needs=(of("seated", self.id),),
            text=f"Gun warm first. {start}",
            caution="Keep the gun moving; shield what lies beside it.",
            timers=timers,
            heat=Heat(self.gun_c, tuple(route(first, a, b) for a, b in ways)),
            tools=("heat-gun",),
            acts=self._shrinks(self.seat.mouths if self.from_middle or not legs else (first,)),
            focus_mm=self.span_mm if self.from_middle else first.span_mm,
        )
        if self.from_middle or not legs:
            return
        yield Step(
            f"inspect.{self.id}.first",
            "Look at the lip before you go on" if self.lipped else f"Look at {first.name} before you go on",
            "inspect",
            "build",
            needs=(self._shrunk_on(first),),
            look=(
                "Lip down in its groove all round, not on the rim."
                if self.lipped
                else "Closed all round, still at its mark."
            ),
            fails="Warm it again and press it down; from here on it cannot be moved any more.",
            action="It sits" if self.lipped else "It has closed",
            pictured="own",
            acts=(Look(at=Place(span_mm=self.span_mm), thing=self.thing),),
            makes=(of("made", self.id),),
            focus_mm=first.span_mm,
        )
        before = of("made", self.id)
        for m in legs:
            yield Step(
                f"seal.{self.id}.{m.opening}",
                f"Shrink along to {m.name}" if len(legs) == 1 else f"Shrink {m.name} from the crutch outward",
                "seal",
                "build",
                needs=(before, *self.at_last),
                text=f"On from where it is closed, the mouth itself last. Mark {self.part.mark(m.opening)}.",
                timers=timers,
                heat=Heat(self.gun_c, (route(m, far, m.span_mm[1]),)),
                tools=("heat-gun",),
                acts=self._shrinks((m,)),
                focus_mm=m.span_mm,
            )
            before = self._shrunk_on(m)

    def _shrunk_on(self, m: Mouth) -> Fact:
        """A mouth closed on what it lies on."""
        return Fact("closed", m.place, self.id)

    def _looked_at(self) -> Step:
        return Step(
            f"inspect.{self.id}",
            f"Look at the {self.title} while it is hot",
            "inspect",
            "build",
            needs=(of("closed", self.id),),
            look=(
                "No gap at any mouth, a line of adhesive all round each, no bubble, no scorch"
                f"{', lip in its groove' if self.lipped else ''}."
            ),
            fails="A gap that is still soft: heat it once more. Else off with it.",
            batch=batches.look(self.id, self.title),
            photo=True,
            pictured="own",
            acts=(Look(at=Place(span_mm=self.span_mm), thing=self.thing),),
            focus_mm=self.span_mm,
        )

    def _cooled(self) -> Iterator[Step]:
        """Wiped, where something is squeezed out; left until it is cold."""
        if self.worked_from:
            burns = self.rules.number("adhesive.wipe_c")
            yield Step(
                f"wipe.{self.id}",
                "Wipe off what was squeezed out",
                "adhesive",
                "build",
                needs=(of("looked", self.id),),
                text="Gun away. A damp cloth, along the edge; a line stays to be seen all round.",
                caution=f"Hotter than {burns:g} °C: with a dry cloth, for the fluid burns.",
                look="A line all round every mouth, nothing smeared.",
                action="Wiped",
                timers=self._worked(),
                reading=Reading(
                    (Gate("surface", "surface", "°C", most=burns, required=False, instrument="thermometer"),)
                ),
                photo=True,
                acts=(Note(at=Place(span_mm=self.span_mm), thing=self.thing),),
                focus_mm=self.span_mm,
            )
        yield cooling(
            self.id,
            [(self.id, self.cool_min)],
            self.rules.number("cool.touch_c"),
            needs=(of("noted", self.id) if self.worked_from else of("looked", self.id),),
            batch=batches.look(self.id, self.title),
        )

    # --- how it is drawn --------------------------------------------------------------------------------

    def lies(self) -> Lies:
        """From end to end."""
        return Lies(self.span_mm)

    def closes_mm(self) -> Span:
        """From end to end."""
        return self.span_mm

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """What is made ready under it; as it was supplied, faintly; shrunk on, along its line; of several
        legs each along its own."""
        yield from self.areas.bodies(stage.depth_mm - 0.8)
        for n, m, supplied, shrunk in self.shape.lines():
            for kind, depth, line in (("as-supplied", -0.5, supplied), ("moulded", 0.0, shrunk)):
                yield Body(
                    id=f"{self.id}-{kind}-{n}",
                    kind=kind,
                    layer=self.id,
                    depth_mm=stage.depth_mm + depth + n / 10,
                    **m.course.edges(line),
                )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Its wall all round, as far as it lies on the joint's axis."""
        if self.seat.angle_deg and x > self.seat.corner_mm:
            return
        legs = self.seat.mouths[1:]
        if len(legs) > 1 and x > self.first.span_mm[1]:
            for m in legs:
                if m.span_mm[0] <= x <= m.span_mm[1]:
                    od = m.under.at(x).greatest_mm
                    y = m.course.height(x)
                    yield Circle(
                        kind="moulded",
                        layer=self.id,
                        od_mm=self.shape.tube(m).od_mm(od),
                        inside_mm=od,
                        y_mm=y,
                    )
            return
        yield stage.ring("moulded", self.id, x)

    # --- what it takes ----------------------------------------------------------------------------------

    def from_lot(self) -> str:
        """Its lot."""
        return self.lot

    def consumes(self) -> tuple[Material, ...]:
        """One."""
        part = Material(self.part.said, 1, "piece", self.part.on_hand, part_id=self.part.id, lot=self.lot)
        return (part, *self.areas.consumes())

    def minutes(self) -> Minutes:
        """Put on, shrunk, looked at; then it cools."""
        return Minutes(self.rules.number("time.boot_min") + self.areas.hands_min, self.cool_min)

    def faults(self) -> tuple[Fault, ...]:
        """What goes wrong with it, and what that costs."""
        first = (self._shrunk_on(self.first), of("looked", self.id))
        lip = (
            Fault(
                "lip-out",
                "The lip is out of its groove",
                ("not held until it had closed", "heat began at the cable"),
                (Mend("Warm that mouth only and press the lip down, all round", "again"), _NEW, _AGAIN),
                at=first,
            ),
        )
        return (
            *self.areas.faults(),
            *(lip if self.lipped else ()),
            Fault(
                "walked",
                "It has walked off its marks",
                ("not held at its first mouth", "heated from the cable"),
                (_NEW, _AGAIN),
            ),
            Fault(
                "scorched", "Scorched, split or blistered", ("gun held still", "gun too hot"), (_NEW, _AGAIN)
            ),
            Fault(
                "gap",
                "A gap at a mouth, or no line of adhesive",
                ("too little heat", "surface not clean", "mouth too wide"),
                (Mend("While it is soft: heat that mouth once more", "again"), _NEW, _AGAIN),
            ),
            Fault(
                "bubble",
                "A bubble under it",
                ("both mouths shrunk before the middle", "solvent had not flashed off"),
                (Mend("Press it out toward the nearest mouth while it is hot", "again"), _NEW, _AGAIN),
            ),
            Fault(
                "wrong-way",
                "It lies the wrong way round",
                ("not tried dry",),
                (Mend("Cold: slide it off and turn it", "again"), _NEW, _AGAIN),
                at=(of("tried", self.id), of("seated", self.id)),
            ),
            *(
                (
                    Fault(
                        "forgotten-boot",
                        f"The {self.title} was not threaded on",
                        ("park list not touched",),
                        (
                            THREAD,
                            Mend(
                                "Put a split part on: settle that under Choose, plan anew, then go on",
                                "mended",
                                planned=True,
                            ),
                            _AGAIN,
                        ),
                        forgotten=True,
                    ),
                )
                if self.threads_from
                else ()
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """Heat all round."""
        return ("hot-air gun with a reflector", "degreaser", "abrasive strip", "clean gloves")

    def settings(self) -> tuple[Setting, ...]:
        """Above what it shrinks from."""
        from_c = self.part.shrink_c
        why = f"{self.gun_c:.0f} °C" + (f"; it shrinks from {from_c:g} °C" if from_c is not None else "")
        return (Setting("hot-air gun", why, self.part.said),)
