"""What closes over a flat cable: shrink tubes and their pinch, moulded boots and caps, sealant, tape."""

from dataclasses import dataclass, field
from typing import Any, ClassVar

from tinknot.core.choosing.park import Side
from tinknot.core.joint.leaflet import LeafletLayer
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Fault,
    Material,
    Mend,
    Minutes,
    Step,
    Threaded,
    Timer,
    ToolKind,
    cooling,
)
from tinknot.core.layers.sleeves import Sleeve
from tinknot.core.layers.trace.flat import DrawnFlat
from tinknot.core.layers.trace.opening import AtEnd

_AGAIN = Mend("Cut the end back and prepare it again", "end-again")


@dataclass(frozen=True)
class TraceTube(DrawnFlat, Sleeve):
    """A shrink tube on a flat cable; where it is `pinched`, its end is pressed flat and held. `parked` on a
    side when it must be threaded before the wires are joined; `legs`: two cables leave it on side B."""

    drawn: ClassVar[str] = "trace-tube"
    leaf: LeafletLayer = field(kw_only=True)
    end: str = ""
    from_kit: bool = True
    parked: Side | None = None
    park_order: int = 1
    legs: bool = False

    def closes_mm(self) -> tuple[float, float] | None:
        """Its span."""
        return self.span_mm

    def threads(self) -> tuple[Threaded, ...]:
        """On the jacket, before joining."""
        if self.parked is None:
            return ()
        part = self.part.id if self.part else ""
        return (
            Threaded(self.id, part, "sheath", self.cut_length_mm, self.parked, self.park_order, self.title),
        )

    @property
    def hold_s(self) -> float:
        """How long a pinch is held, s."""
        return self.leaf.hold_s or self.rules.number("trace.pinch_s")

    def steps(self) -> tuple[Step, ...]:
        """Threaded, surfaces, shrunk, pinched, looked at, cooled."""
        at: dict[str, Any] = {"layer": self.id, "focus_mm": self.span_mm, "end": self.end}
        i, named = self.id, self.leaf.title or self.title
        part_id = self.part.id if self.part and not self.from_kit else ""
        side = self.end or (self.parked or "").upper()
        park = (
            ()
            if self.parked is None
            else (
                Step(
                    f"park.{i}",
                    f"Thread {named} on side {side}",
                    "park",
                    "park",
                    (f"cut.square.{side}", f"clean.{side}"),
                    layer=i,
                    end=side,
                    text=f"{self.part_name}, over the clean jacket. Slide it well back.",
                    caution="It cannot be put on later.",
                    batch=batches.WHOLE,
                    part_id=part_id,
                ),
            )
        )
        closing = self.seal_words() | {"layer": i}
        closing["text"] = self.leaf.text or self._how()
        if self.leaf.caution:
            closing["caution"] = self.leaf.caution
        lined = self.part is not None and self.part.lined
        surface = Step(
            f"surface.{i}",
            f"Wipe and roughen under {named}",
            "surface",
            "build",
            (*self.after, *(s.id for s in park)),
            text="Degrease the jacket where the tube will grip, abrade it round the cable, wipe dry.",
            caution="Solvent away from heat; let it flash off.",
            **at,
        )
        seal = Step(
            f"seal.{i}",
            f"Shrink {named}",
            "seal",
            "build",
            (surface.id,),
            action="Shrunk",
            timers=self.flash_off(surface.id),
            part_id="" if park else part_id,
            focus_mm=self.span_mm,
            end=self.end,
            **closing,
        )
        pinch = self._pinch(seal.id, at) if self.leaf.pinched else ()
        shown = "Smooth all round, no cold spot" + (", adhesive seen at the edge" if lined else "")
        shown += ", pinched end flat with adhesive out of it." if self.leaf.pinched else "."
        inspect = Step(
            f"inspect.{i}",
            f"Look at {named}",
            "inspect",
            "build",
            (seal.id, *(s.id for s in pinch)),
            look=shown,
            fails=(
                "No adhesive at an edge or an open pinch: heat it again and pinch again; if it stays, a new"
                " end."
            ),
            photo=self.seals,
            batch=self.look,
            **at,
        )
        cool = self.cool_steps(end=self.end, focus_mm=self.span_mm)
        return (*park, surface, seal, *pinch, inspect, *cool)

    @property
    def seals(self) -> bool:
        """Whether it keeps water out."""
        return self.part is not None and self.part.lined

    def _how(self) -> str:
        where = (
            "Heat from the jacket toward the end"
            if self.leaf.pinched
            else "Heat the middle first, then the ends"
        )
        if self.legs:
            return (
                "Hold the two legs apart while it shrinks. Heat the middle first, then each side, round and"
                " round."
            )
        return f"Slide it to its mark. {where}, round and round, flat sides too."

    def _pinch(self, after: str, at: dict[str, Any]) -> tuple[Step, ...]:
        what = (
            "between the legs" if self.legs else "between the bus wires" if self.leaf.between else "its end"
        )
        return (
            Step(
                f"pinch.{self.id}",
                f"Pinch {what} and hold",
                "seal",
                "build",
                (after,),
                text=(
                    "At once, while it is soft: press flat with pliers from inside to outside and hold"
                    f" {self.hold_s:g} s."
                ),
                caution="Hot. Do not let go early: it opens again.",
                look="Adhesive comes out of the pinched edge.",
                timers=(Timer("soft", "still soft", after, None, self.rules.number("trace.soft_min")),),
                **at,
            ),
            Step(
                f"hold.{self.id}",
                "Let go when it has set",
                "wait",
                "build",
                (f"pinch.{self.id}",),
                action="It has set",
                text="Keep the pliers closed until the time is up.",
                timers=(Timer("pinch", "pinch held", f"pinch.{self.id}", self.hold_s / 60, None),),
                **at,
            ),
        )

    def consumes(self) -> tuple[Material, ...]:
        """A piece of the kit, or its length from stock."""
        if self.from_kit:
            return (Material(f"{self.part_name} (in the kit)", 1, "piece"),)
        return super().consumes()

    def faults(self) -> tuple[Fault, ...]:
        """Heat, and the pinch."""
        return (
            *super().faults(),
            *(
                (
                    Fault(
                        "pinch-open",
                        "The pinched end opens or shows no adhesive",
                        ("let go too early", "too cold"),
                        (
                            Mend("Heat it again, pinch again", "again"),
                            _AGAIN,
                            Mend("Cut it out and start again", "remake"),
                        ),
                    ),
                )
                if self.leaf.pinched
                else ()
            ),
        )

    def minutes(self) -> Minutes:
        """Shrunk and held."""
        return Minutes(self.rules.number("time.trace_layer_min"), self.cool_min)

    def tools(self) -> tuple[str, ...]:
        """Heat and pliers."""
        return (*super().tools(), *(("flat pliers",) if self.leaf.pinched else ()))


@dataclass(frozen=True)
class Moulded(DrawnFlat, AtEnd):
    """A boot or cap over the end: pushed on, or shrunk by heat."""

    drawn: ClassVar[str] = "moulded"
    leaf: LeafletLayer
    part_said: str
    span_mm: tuple[float, float] = (0.0, 0.0)
    wall_mm: float = 0.0
    parked: Side | None = None
    skin: tuple[str, float] | None = None  # the step that put sealant on, and how long it stays open, min
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
            if self.parked is None
            else (Threaded(self.id, self.leaf.part or "", "sheath", 0.0, self.parked, 5, self.title),)
        )

    def steps(self) -> tuple[Step, ...]:
        """Sealed inside, pushed on, wiped."""
        i = self.id
        at: dict[str, Any] = {"layer": self.id, "focus_mm": self.span_mm, "end": self.end}
        cap = self.leaf.kind == "cap"
        skin = (Timer("skin", "sealant open", self.skin[0], None, self.skin[1]),) if self.skin else ()
        how = (
            "closed end ahead, until the end of the cable meets its floor"
            if cap
            else "each wire through its own opening, until the jacket meets its stop"
        )
        side = self.end or (self.parked or "").upper()
        park = (
            ()
            if self.parked is None
            else (
                Step(
                    f"park.{i}",
                    f"Thread the {self.part_said} on side {side}",
                    "park",
                    "park",
                    (f"cut.square.{side}", f"clean.{side}"),
                    layer=i,
                    text="Over the clean jacket, its mouth toward the end.",
                    caution="It cannot be put on later.",
                    batch=batches.WHOLE,
                    end=side,
                ),
            )
        )
        return (
            *park,
            Step(
                f"surface.{i}",
                f"Wipe the jacket for the {self.part_said}",
                "surface",
                "build",
                (*self.after, *(s.id for s in park)),
                text="Degrease the jacket where it will sit, wipe dry.",
                **at,
            ),
            Step(
                f"seal.{i}",
                self.leaf.title or f"Push the {self.part_said} on, end {self.end}",
                "seal",
                "build",
                (f"surface.{i}",),
                text=self.leaf.text
                or f"Push it on, {how}."
                + (" Heat from its closed end toward the cable, round and round." if self.shrinks else ""),
                timers=skin,
                caution=self.leaf.caution or "Do not twist the bus wires together.",
                **at,
                **self._heat(),
            ),
            Step(
                f"inspect.{i}",
                f"Look at the {self.part_said}",
                "inspect",
                "build",
                (f"seal.{i}",),
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
                **at,
            ),
            *self._cools(at),
        )

    @property
    def shrinks(self) -> bool:
        """Whether heat closes it."""
        return self.heat_min is not None

    def _heat(self) -> dict[str, Any]:
        """What is told of one that shrinks: from its closed end toward the cable."""
        if not self.shrinks:
            return {}
        tools: tuple[ToolKind, ...] = ("heat-gun",)
        return {"hot": True, "tools": tools, "action": "Shrunk"}

    def _cools(self, at: dict[str, Any]) -> tuple[Step, ...]:
        if self.heat_min is None:
            return ()
        heated, touch = [(f"seal.{self.id}", self.heat_min)], self.rules.number("cool.touch_c")
        more = {k: v for k, v in at.items() if k != "layer"}
        batch = batches.look(self.id, self.part_said)
        return (cooling(self.id, heated, [f"inspect.{self.id}"], touch, batch=batch, **more),)

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
                (Mend("Take it off and trim", "again"), _AGAIN),
            ),
        )


@dataclass(frozen=True)
class Sealant(AtEnd):
    """Moisture-curing sealant: liberal, inside the part and on the cable."""

    leaf: LeafletLayer
    part_said: str
    cure_min: float = 0.0
    span_mm: tuple[float, float] = (0.0, 0.0)

    def steps(self) -> tuple[Step, ...]:
        """On clean ground; it skins, then cures."""
        i, e = self.id, self.end
        at: dict[str, Any] = {"layer": i, "end": e, "focus_mm": self.span_mm}
        wait = (
            (
                Step(
                    f"cure.{i}",
                    f"Leave the {self.part_said} to cure",
                    "wait",
                    "prove",
                    (f"inspect.{i}",),
                    action="It is cured",
                    text="Do not move or flex it, do not energise before the time is up.",
                    timers=(Timer("cure", "sealant curing", f"seal.{i}", self.cure_min, None),),
                    **at,
                ),
            )
            if self.cure_min
            else ()
        )
        return (
            Step(
                f"surface.{i}",
                f"Wipe clean for the {self.part_said}",
                "surface",
                "build",
                self.after,
                text="Degrease, let it flash off.",
                **at,
            ),
            Step(
                f"seal.{i}",
                self.leaf.title or f"Fill with {self.part_said}, end {e}",
                "seal",
                "build",
                (f"surface.{i}",),
                text=self.leaf.text or "Liberally, inside the part and on the cable, no air left.",
                caution=self.leaf.caution or "Ventilate, gloves; check its date.",
                **at,
            ),
            Step(
                f"inspect.{i}",
                f"Look at the {self.part_said}",
                "inspect",
                "build",
                (f"seal.{i}",),
                look="Comes out all round, no gap.",
                fails="A gap: more sealant, push again.",
                **at,
            ),
            *wait,
        )

    @property
    def last(self) -> str:
        """What goes over it goes on while it is open; its cure runs beside the work."""
        return f"inspect.{self.id}"

    @property
    def cured(self) -> tuple[str, ...]:
        """The step that waits for its cure."""
        return (f"cure.{self.id}",) if self.cure_min else ()

    def minutes(self) -> Minutes:
        """Hands, and its cure."""
        return Minutes(self.rules.number("time.trace_layer_min"), self.cure_min)


@dataclass(frozen=True)
class Taped(DrawnFlat, AtEnd):
    """Tape over the folded braid or the whole."""

    drawn: ClassVar[str] = "trace-tape"
    leaf: LeafletLayer
    part_said: str
    span_mm: tuple[float, float] = (0.0, 0.0)
    wall_mm: float = 0.0

    def apply(self, under: Profile) -> Profile:
        """Half-lapped tape over what it is wound on."""
        return under.covered(*self.span_mm, lambda d: d + 2 * self.wall_mm)

    def steps(self) -> tuple[Step, ...]:
        """Half-lapped."""
        return (
            Step(
                f"wrap.{self.id}",
                self.leaf.title or f"Wrap {self.part_said}, end {self.end}",
                "wrap",
                "build",
                self.after,
                layer=self.id,
                end=self.end,
                focus_mm=self.span_mm,
                text=self.leaf.text or "Half-lapped, tight, from the jacket over the edge and back.",
                caution=self.leaf.caution,
            ),
        )


@dataclass(frozen=True)
class PlainWork(AtEnd):
    """A plain step of the leaflet, with its own words; it may wait, and it may stop the hand."""

    leaf: LeafletLayer

    def steps(self) -> tuple[Step, ...]:
        """As written."""
        x = self.leaf
        timers = (Timer("wait", x.title, f"do.{self.id}", x.minutes, None),) if x.minutes else ()
        work = Step(
            f"do.{self.id}",
            x.title,
            "fit",
            "build",
            self.after,
            action="Done",
            layer=self.id,
            end=self.end,
            text=x.text,
            caution=x.caution,
        )
        if not timers:
            return (work,)
        return (
            work,
            Step(
                f"wait.{self.id}",
                f"Wait: {x.title}",
                "wait",
                "build",
                (work.id,),
                action="The time is over",
                layer=self.id,
                end=self.end,
                timers=timers,
            ),
        )
