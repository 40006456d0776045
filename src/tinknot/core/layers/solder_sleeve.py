"""A solder sleeve over a screen and what is soldered to it."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from tinknot.core.acts import Join, Look, Place, Shrink, SlideTo, Thing, ThreadOn
from tinknot.core.choosing.park import Side
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import Fact, of, taken_off
from tinknot.core.formulas.sleeve import Tube
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
    cooling,
)
from tinknot.core.layers.mends import END_AGAIN, THREAD
from tinknot.core.layers.sleeve import flash
from tinknot.core.layers.surfaces import degreased
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.rulebook import RuleBook

Span = tuple[float, float]

FILLET_MM = 0.4  # of solder at its ring's edge, for the drawing


@dataclass(frozen=True)
class SolderSleeve(Layer):
    """A solder sleeve over a screen and what is soldered to it (`joins`, and `where`, in words). `span_mm`:
    from mouth to mouth; `solder_mm`, `seals_mm`: where its rings lie; `window`: it is heated longer, for
    sheath on both sides takes the heat; `gun_c`: what the gun is set to, °C; `on`: the end it lies on, of a
    joint with two; `order`: its turn on the tail it waits on."""

    rules: RuleBook
    part: StockSolderSleeve
    lot: str
    span_mm: Span
    solder_mm: Span
    seals_mm: tuple[Span, Span]
    window: bool
    gun_c: float
    cool_min: float = 0.0
    joins: str = "screen and lead"
    where: str = "the bare screen"
    led: bool = True  # a lead is soldered in, along which the solder is to be seen
    on: str = ""
    order: int = 1

    @property
    def tube(self) -> Tube:
        """Its figures as a sleeve."""
        return self.part.tube("")

    def apply(self, under: Profile) -> Profile:
        """Shrunk over all."""
        return under.covered(*self.span_mm, self.tube.od_mm)

    def waits_on(self, wanted: Side) -> Side:
        """On its own end."""
        return "b" if self.on == "B" else "a"

    def threads(self) -> tuple[Threaded, ...]:
        """On the sheath, from the cable's end."""
        return (
            Threaded(
                self.id, self.part.id, "sheath", self.part.length_mm, end=self.on or "A", order=self.order
            ),
        )

    def work(self) -> tuple[Step, ...]:
        """Threaded, slid over, its ring first, looked at hot, cooled."""
        hot = batches.look(self.id, self.title)
        fillet = self.rules.number("screen.fillet_mm")
        shown = " Its indicator has changed." if self.part.indicator else ""
        on = self.on or "A"
        thing = Thing(self.id, self.title, shrinks_c=self.part.melts_c, seals="adhesive", of=self.part.said)
        seat, sealed = Place(self.on, span_mm=self.span_mm), Place(on, skin="sheath", span_mm=self.span_mm)
        clean = Fact("clean", sealed)
        return (
            Step(
                f"park.{self.id}",
                f"Thread the {self.title}",
                "park",
                "park",
                needs=(taken_off(on, "sheath"),),
                text=f"{self.part.said}, wide mouth toward the sheath. Slide it well back.",
                caution="It cannot be put on later.",
                batch=batches.WHOLE,
                end=self.on or "A",
                part_id=self.part.id,
                acts=(ThreadOn(at=Place(on), thing=thing),),
            ),
            Step(
                f"surface.{self.id}",
                f"Wipe clean for the {self.title}",
                "surface",
                "build",
                needs=(Fact("ready", seat),),
                text="Degrease what its sealing rings will lie on. Let it flash off.",
                caution="Solvent away from heat.",
                acts=(degreased(self.rules, sealed),),
                focus_mm=self.span_mm,
                end=self.on,
            ),
            Step(
                f"place.{self.id}",
                f"Slide the {self.title} over {self.joins}",
                "fit",
                "build",
                needs=(clean,),
                text=f"With a twist, until its ring of solder stands in the middle of {self.where}.",
                look=f"Solder over {self.joins}, no sealing ring on bare screen.",
                action="It stands right",
                acts=(SlideTo(at=seat, thing=thing, from_end=on),),
                focus_mm=self.span_mm,
                end=self.on,
            ),
            Step(
                f"seal.{self.id}",
                f"Solder and shrink the {self.title}",
                "seal",
                "build",
                needs=(of("seated", self.id),),
                text=(
                    "Reflector round it, the ring of solder first: hold the sleeve until it grips, look at"
                    " its place again, heat on until the solder has run, then outward to both mouths."
                ),
                caution=(
                    f"{'Sheath on both sides takes the heat: it takes longer. ' if self.window else ''}"
                    "Shield what lies beside it; hot solder runs."
                ),
                heat=Heat(gun_c=self.gun_c),
                timers=(flash(self.rules, clean),),
                acts=(
                    Join(at=Place(on), thing=thing, ends=(Place(on, skin="screen"),), how="soldered"),
                    Shrink(at=seat, thing=thing, seals_on=(sealed,)),
                ),
                tools=("heat-gun",),
                focus_mm=self.span_mm,
                end=self.on,
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the {self.title} while it is hot",
                "inspect",
                "build",
                needs=(of("closed", self.id),),
                look=(
                    "Ring gone, strands seen in outline, solder run in, no pool, both sealing rings"
                    f" run, nothing bare outside, no scorch.{shown}"
                ),
                fails="Ring still seen, or a pool: heat it once more. Still so: remake.",
                acts=(Look(at=seat, thing=thing),),
                reading=Reading(
                    (Gate("fillet", "solder along the lead", "mm", least=fillet, instrument="calliper"),)
                    if self.led
                    else ()
                ),
                batch=hot,
                photo=True,
                pictured="own",
                focus_mm=self.span_mm,
                end=self.on,
            ),
            cooling(
                self.id,
                [(self.id, self.cool_min)],
                self.rules.number("cool.touch_c"),
                batch=hot,
                end=self.on,
            ),
        )

    def lies(self) -> Lies:
        """From mouth to mouth."""
        return Lies(self.span_mm)

    def closes_mm(self) -> Span:
        """From mouth to mouth."""
        return self.span_mm

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Its wall, its sealing rings and the solder in it."""
        wall = stage.wall(least_bore_mm=self.tube.recovered_id_mm)
        yield Body(id=self.id, kind="solder-sleeve", layer=self.id, depth_mm=stage.depth_mm, **wall)
        rings = [("seal-ring", s) for s in self.seals_mm] + [("solder", self.solder_mm)]
        for n, (kind, span) in enumerate(rings):
            inside = replace(stage, over=stage.under, under=_thinner(stage.under, span), span_mm=span)
            edges = inside.wall()
            yield Body(id=f"{self.id}-{n}", kind=kind, layer=self.id, depth_mm=stage.depth_mm + 0.5, **edges)
        yield from self._fillet(stage)

    def _fillet(self, stage: Stage) -> Iterator[Body]:
        """Solder that has run out on both sides of its ring, as far as it must be seen."""
        run, (low, high) = self.rules.number("screen.fillet_mm"), self.solder_mm
        for n, (near, far) in enumerate(((low, low - run), (high, high + run))):
            a, b = sorted((near, far))
            inside = stage.under.between(max(a, self.span_mm[0]), min(b, self.span_mm[1]))
            line = [(s.x_mm, s.greatest_mm / 2) for s in inside.stations]
            thick = FILLET_MM
            top = [(x, r + thick * max(0.0, 1 - abs(x - near) / run)) for x, r in line]
            if len(line) > 1:
                yield Body(
                    id=f"{self.id}-fillet-{n}",
                    kind="solder",
                    layer=self.id,
                    depth_mm=stage.depth_mm + 0.5,
                    top=top,
                    bottom=line,
                )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Its wall all round."""
        yield stage.ring("solder-sleeve", self.id, x, least_bore_mm=self.tube.recovered_id_mm)

    def from_lot(self) -> str:
        """Its lot."""
        return self.lot

    def consumes(self) -> tuple[Material, ...]:
        """One."""
        return (Material(self.part.said, 1, "piece", self.part.on_hand, part_id=self.part.id, lot=self.lot),)

    def minutes(self) -> Minutes:
        """Slid on, soldered, looked at; then it cools."""
        return Minutes(self.rules.number("time.screen_min"), self.cool_min)

    def faults(self) -> tuple[Fault, ...]:
        """What heat can do to it."""
        again, remake = Mend("Heat the ring once more, outward after it", "again"), END_AGAIN
        return (
            Fault(
                "ring-seen",
                "The ring of solder is still seen",
                ("too little heat", "reflector too far"),
                (again, remake),
            ),
            Fault(
                "pool",
                "The solder lies in a pool",
                ("held down while it ran", "screen not clean"),
                (again, remake),
            ),
            Fault(
                "no-fillet",
                "No solder along the lead",
                ("lead not on bright metal", "lead moved"),
                (again, remake),
            ),
            Fault("scorched", "Scorched, split or blistered", ("gun too hot or too near",), (remake,)),
            Fault(
                "walked",
                "It walked: the ring lies beside the bare screen",
                ("not held until it gripped",),
                (remake,),
            ),
            Fault(
                "crept", "What lies under the screen has crept or sunk in", ("heated too long",), (remake,)
            ),
            Fault(
                "whisker",
                "A strand stands out",
                ("not trimmed before it was slid on",),
                (Mend("Cut it off flush where it can be reached", "mended"), remake),
            ),
            Fault(
                "forgotten-sleeve",
                "The solder sleeve was not threaded on",
                ("park list not touched",),
                (
                    THREAD,
                    Mend(
                        "Hold it with a spring instead: settle that under Choose, plan anew, then go on",
                        "mended",
                        planned=True,
                    ),
                    remake,
                ),
                forgotten=True,
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """Heat round a thin thing."""
        return ("hot-air gun with a reflector for solder sleeves",)

    def settings(self) -> tuple[Setting, ...]:
        """Above what its solder melts at."""
        return (
            Setting(
                "hot-air gun",
                f"{self.gun_c:.0f} °C; its solder melts at {self.part.melts_c:g} °C",
                self.part.said,
            ),
        )


def _thinner(under: Profile, span: Span) -> Profile:
    """What lies a little under the surface, for a ring that lies on it."""
    return under.covered(*span, lambda od: od * 0.9)
