"""Moulded boots and caps on a flat cable."""

from dataclasses import dataclass
from typing import ClassVar

from tinknot.core.acts import Act, Close, Look, Place, Shrink, SlideTo, Thing, ThreadOn, Wipe
from tinknot.core.joint.leaflet import LeafletLayer
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Fault,
    Heat,
    Mend,
    Minutes,
    Step,
    Threaded,
    Timer,
    cooling,
)
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.sleeve import flash
from tinknot.core.layers.surfaces import abraded
from tinknot.core.layers.trace.flat import DrawnFlat
from tinknot.core.layers.trace.opening import AtEnd, marked, told


@dataclass(frozen=True)
class Moulded(DrawnFlat, AtEnd):
    """A boot or cap over the end: pushed on, or shrunk by heat."""

    drawn: ClassVar[str] = "moulded"
    leaf: LeafletLayer
    part_said: str
    span_mm: tuple[float, float] = (0.0, 0.0)
    wall_mm: float = 0.0
    parked: str = ""
    sealant: tuple[str, float | None] | None = None  # the step that laid it, and how long it stays open, min
    heat_min: float | None = None  # how long it stays hot where heat shrinks it; None where it is pushed on

    def closes_mm(self) -> tuple[float, float] | None:
        """Its span."""
        return self.span_mm

    def apply(self, under: Profile) -> Profile:
        """Its wall over what it is pushed on."""
        return under.covered(*self.span_mm, lambda d: d + 2 * self.wall_mm)

    def threads(self) -> tuple[Threaded, ...]:
        """On the jacket, where wires are joined behind it."""
        return (
            ()
            if not self.parked
            else (
                Threaded(
                    self.id, self.leaf.part or "", "sheath", 0.0, end=self.parked, order=5, title=self.title
                ),
            )
        )

    def work(self) -> tuple[Step, ...]:
        """Sealed inside, pushed on, wiped."""
        i = self.id
        cap = self.leaf.kind == "cap"
        laid, open_min = self.sealant or ("", None)
        skin = (Timer("skin", "sealant open", laid, None, most_min=open_min),) if open_min else ()
        how = (
            "closed end ahead, until the end of the cable meets its floor"
            if cap
            else "each wire through its own opening, until the jacket meets its stop"
        )
        side = self.end or self.parked
        park = (
            ()
            if not self.parked
            else (
                Step(
                    f"park.{i}",
                    f"Thread the {self.part_said} on side {side}",
                    "park",
                    "park",
                    after=(f"cut.square.{side}", f"clean.{side}"),
                    text="Over the clean jacket, its mouth toward the end.",
                    caution="It cannot be put on later.",
                    batch=batches.WHOLE,
                    end=side,
                    acts=(ThreadOn(at=Place(side), thing=self._thing),),
                ),
            )
        )
        jacket = Place(self.end, skin="sheath", span_mm=self.span_mm)
        rough = "abrade it round the cable, " if self.shrinks else ""
        surface: tuple[Step, ...] = (
            Step(
                f"surface.{i}",
                f"Wipe {'and roughen ' if self.shrinks else ''}the jacket for the {self.part_said}"[:60],
                "surface",
                "build",
                after=(*self.after, *(s.id for s in park)),
                text=f"Degrease the jacket where it will sit, {rough}wipe dry.",
                acts=abraded(self.rules, jacket, 0.0) if self.shrinks else (Wipe(at=jacket),),
                focus_mm=self.span_mm,
                end=self.end,
            ),
        )
        flashes = (flash(self.rules, f"surface.{i}"),) if self.shrinks and not laid else ()
        surface = () if laid else surface  # clean below the sealant already; a wipe would take it off
        return (
            *park,
            *surface,
            Step(
                f"seal.{i}",
                self.leaf.title
                or f"{'Shrink' if self.shrinks else 'Push'} the {self.part_said} on, end {self.end}",
                "seal",
                "build",
                after=tuple(s.id for s in surface) or (*self.after, *(s.id for s in park)),
                text=told(
                    self.leaf.text or f"Push it on, {how}.",
                    marked(self.leaf, "Its mouth comes"),
                    "Heat from its closed end toward the cable, round and round."
                    if self.shrinks and not self.leaf.text
                    else "",
                ),
                timers=(*skin, *flashes),
                acts=self._put_on(),
                caution=self.leaf.caution or "Do not twist the bus wires together.",
                focus_mm=self.span_mm,
                end=self.end,
                heat=Heat() if self.shrinks else None,
                tools=("heat-gun",) if self.shrinks else (),
                action="Shrunk" if self.shrinks else "",
            ),
            Step(
                f"inspect.{i}",
                f"Look at the {self.part_said}",
                "inspect",
                "build",
                after=(f"seal.{i}",),
                photo=True,
                look=(
                    f"Sits to its stop, straight; {'adhesive' if self.shrinks else 'sealant'} all round the"
                    " mouth."
                ),
                fails=(
                    "No adhesive: heat it again; if none comes, a new end."
                    if self.shrinks
                    else "Gaps: take it off, clean, seal again."
                ),
                batch=batches.look(i, self.part_said) if self.shrinks else None,
                acts=(Look(at=Place(self.end, span_mm=self.span_mm), thing=self._thing),),
                focus_mm=self.span_mm,
                end=self.end,
            ),
            *self._cools(),
        )

    @property
    def _thing(self) -> Thing:
        """The part as it is taken to the work."""
        return Thing(self.id, self.part_said, seals="adhesive")

    def _put_on(self) -> tuple[Act, ...]:
        """Slid on where it waits, then pushed on or shrunk."""
        seat = Place(self.end, span_mm=self.span_mm)
        slid = SlideTo(at=seat, thing=self._thing, from_end=self.parked)
        sealed = (Place(self.end, skin="sheath", span_mm=self.span_mm),)
        shut: Act = Close(at=seat, thing=self._thing)
        if self.shrinks:
            shut = Shrink(at=seat, thing=self._thing, seals_on=sealed)
        return (slid, shut) if self.parked else (shut,)

    @property
    def shrinks(self) -> bool:
        """Whether heat closes it."""
        return self.heat_min is not None

    def _cools(self) -> tuple[Step, ...]:
        if self.heat_min is None:
            return ()
        heated, touch = [(self.id, self.heat_min)], self.rules.number("cool.touch_c")
        batch, span = batches.look(self.id, self.part_said), self.span_mm
        return (cooling(self.id, heated, touch, end=self.end, focus_mm=span, batch=batch),)

    def minutes(self) -> Minutes:
        """Put on, and cooled."""
        return Minutes(self.rules.number("time.trace_layer_min"), self.heat_min or 0.0)

    def tools(self) -> tuple[str, ...]:
        """Heat, where it shrinks."""
        return ("hot-air gun with reflector",) if self.shrinks else ()

    def faults(self) -> tuple[Fault, ...]:
        """Fit."""
        return (
            Fault(
                "not-seated",
                "It does not go on to its stop",
                ("cuts too long", "wrong cable"),
                (Mend("Take it off and trim", "again"), END_AGAIN),
            ),
        )
