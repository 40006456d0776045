"""The sleeve over one joined core."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from tinknot.core.acts import Look, Place, Shrink, SlideTo, ThreadOn
from tinknot.core.choosing.park import Side
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import Fact, of, over_core, taken_off
from tinknot.core.figures import LEAST, mm, said_mm
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Fault, Mend, Step, Threaded
from tinknot.core.layers.mends import not_threaded
from tinknot.core.layers.sleeve import CLOSED, Sleeve
from tinknot.core.layers.surfaces import degreased
from tinknot.core.layers.tapes import wound_mm


@dataclass(frozen=True)
class CoreSleeve(Sleeve):
    """Insulation restored over one connector, `made_mm` long once it is made; waits on that core's longer
    side."""

    core: str = ""
    park_on: Side = "a"
    together: bool = False  # shrunk in turns with those of the other cores
    over_mica: bool = False  # the connector is wound in and wiped no more
    made_mm: float = 0.0

    def lies(self) -> Lies | None:
        """On its core."""
        return Lies(self.span_mm, self.core)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Close round the core, where it goes."""
        yield Body(
            id=self.id,
            kind="core-sleeve",
            core=self.core,
            layer=self.id,
            depth_mm=stage.depth_mm,
            **stage.round_core(),
        )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Round its core; it stands off where it cannot shrink further."""
        yield stage.ring("core-sleeve", self.id, x, self.core, least_bore_mm=self.tube.recovered_id_mm)

    def threads(self) -> tuple[Threaded, ...]:
        """On its own core."""
        return (
            Threaded(
                self.id,
                self.part.id if self.part else "",
                self.core,
                self.cut_length_mm,
                end=self.park_on.upper(),
                order=1,
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """What closing it can do; forgotten, it may be wound of tape instead."""
        thick = f"{mm(wound_mm(self.rules, self.least_wall_mm, self.voltage_v), LEAST):.1f} mm"
        tape = Mend(
            f"Wind self-amalgamating tape over the connector instead, {thick} thick and as far on to both"
            " insulations as the sleeve would lie; it is recorded",
            "mended",
        )
        dry = "lined" not in self.properties  # tape alone keeps no water out
        instead = (tape,) if self.least_wall_mm and dry else ()
        return (*super().faults(), not_threaded(self.title, *instead))

    def work(self) -> tuple[Step, ...]:
        """Threaded, wiped, closed from the middle, looked at; it cools with the other cores."""
        c, end = self.core, self.park_on.upper()
        closing = self.closing()
        past = (self.cut_length_mm - self.made_mm) / 2
        how = "" if self.hot and self.together else f" {closing.text}"
        centred = f"Centre it over the connector, {said_mm(past)} mm past each end of it.{how}"
        closing = replace(closing, text=centred)
        seat, thing = Place(core=c, span_mm=self.span_mm), self.thing
        what = "the insulation" if self.over_mica else "connector and insulation"
        metal = () if self.over_mica else (Place(core=c, skin="connector", span_mm=self.span_mm),)
        edges = tuple(Place(e, c, "insulation", self.span_mm) for e in "AB")
        return (
            Step(
                f"park.{self.id}",
                f"Thread the sleeve on core {c}, side {end}",
                "park",
                "park",
                needs=(taken_off(end, "insulation", c),),
                text=(
                    f"{self.part_name}, cut {mm(self.cut_length_mm)} mm. Slide it back against the"
                    " sheath cut."
                ),
                batch=batches.PARK,
                core=c,
                end=end,
                part_id=self.part.id if self.part else "",
                acts=(ThreadOn(at=Place(end, c), thing=thing),),
            ),
            Step(
                f"surface.{self.id}",
                f"Wipe core {c} clean",
                "surface",
                "build",
                needs=over_core(c),
                text=f"Degrease {what} where the sleeve will lie. Let it flash off.",
                batch=batches.SURFACE_CORES,
                acts=tuple(degreased(self.rules, place) for place in (*metal, *edges)),
                core=c,
                focus_mm=self.span_mm,
            ),
            Step(
                f"seal.{self.id}",
                f"{self.verb} the sleeve on core {c}",
                "seal",
                "build",
                needs=(Fact("clean", Place(core=c, span_mm=self.span_mm)),),
                batch=batches.seal_cores(
                    f"{self.verb} the core sleeves",
                    (batches.TOGETHER if self.together else batches.ONE_BY_ONE) if self.hot else "",
                ),
                action=CLOSED[self.verb],
                timers=self.flash_off(Fact("clean", Place(core=c, span_mm=self.span_mm))),
                acts=(
                    SlideTo(at=seat, thing=thing, from_end=end),
                    Shrink(at=seat, thing=thing, hot=self.hot, seals_on=edges if thing.seals else ()),
                ),
                core=c,
                focus_mm=self.span_mm,
                text=closing.text,
                caution=closing.caution,
                heat=closing.heat,
                tools=closing.tools,
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the sleeve on core {c}",
                "inspect",
                "build",
                needs=(of("closed", self.id),),
                look="Smooth all round, connector's outline shows, both ends on the insulation.",
                fails="Stands off, wrinkled, scorched or something sharp shows: see faults.",
                batch=batches.INSPECT_CORES if self.hot else batches.LOOK_CORES,
                pictured="own",
                acts=(Look(at=seat, thing=thing),),
                core=c,
                focus_mm=self.span_mm,
            ),
        )
