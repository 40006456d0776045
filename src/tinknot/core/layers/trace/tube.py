"""Shrink tubes over a flat cable, and their pinch."""

from dataclasses import dataclass, field, replace
from typing import ClassVar

from tinknot.core.acts import Act, Look, Note, Place, Shrink, SlideTo, Thing, ThreadOn, Wait
from tinknot.core.joint.leaflet import LeafletLayer
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Fault,
    Material,
    Mend,
    Minutes,
    Step,
    Threaded,
    Timer,
)
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.sleeve import Sleeve
from tinknot.core.layers.surfaces import abraded
from tinknot.core.layers.trace.flat import DrawnFlat
from tinknot.core.layers.trace.opening import marked, told


@dataclass(frozen=True)
class TraceTube(DrawnFlat, Sleeve):
    """A shrink tube on a flat cable; where it is `pinched`, its end is pressed flat and held. `parked` on a
    side when it must be threaded before the wires are joined; `legs`: two cables leave it on side B."""

    drawn: ClassVar[str] = "trace-tube"
    leaf: LeafletLayer = field(kw_only=True)
    end: str = ""
    from_kit: bool = True
    parked: str = ""
    park_order: int = 1
    legs: bool = False
    after: tuple[str, ...] = ("connectors",)

    def closes_mm(self) -> tuple[float, float] | None:
        """Its span."""
        return self.span_mm

    def threads(self) -> tuple[Threaded, ...]:
        """On the jacket, before joining."""
        if not self.parked:
            return ()
        part = self.part.id if self.part else ""
        return (
            Threaded(
                self.id,
                part,
                "sheath",
                self.cut_length_mm,
                end=self.parked,
                order=self.park_order,
                title=self.title,
            ),
        )

    @property
    def hold_s(self) -> float:
        """How long a pinch is held, s."""
        return self.leaf.hold_s or self.rules.number("trace.pinch_s")

    def work(self) -> tuple[Step, ...]:
        """Threaded, surfaces, shrunk, pinched, looked at, cooled."""
        i, named = self.id, self.leaf.title or self.title
        part_id = self.part.id if self.part and not self.from_kit else ""
        side = self.end or self.parked
        park = (
            ()
            if not self.parked
            else (
                Step(
                    f"park.{i}",
                    f"Thread {named} on side {side}",
                    "park",
                    "park",
                    after=(f"cut.square.{side}", f"clean.{side}"),
                    end=side,
                    text=f"{self.part_name}, over the clean jacket. Slide it well back.",
                    caution="It cannot be put on later.",
                    batch=batches.WHOLE,
                    part_id=part_id,
                    acts=(ThreadOn(at=Place(side), thing=self._piece),),
                ),
            )
        )
        closing = self.closing()
        closing = replace(
            closing,
            text=told(marked(self.leaf, "Its edge"), self.leaf.text or self._how()),
            caution=self.leaf.caution or closing.caution,
        )
        lined = self.part is not None and self.part.lined
        surface = Step(
            f"surface.{i}",
            f"Wipe and roughen under {named}",
            "surface",
            "build",
            after=(*self.after, *(s.id for s in park)),
            text=f"Degrease the {self._on} where the tube will grip, abrade it round the cable, wipe dry.",
            acts=tuple(act for e in self._ends for act in self._made_ready(e)),
            caution="Solvent away from heat; let it flash off.",
            focus_mm=self.span_mm,
            end=self.end,
        )
        seal = Step(
            f"seal.{i}",
            f"Shrink {named}",
            "seal",
            "build",
            after=(surface.id,),
            action="Shrunk",
            timers=self.flash_off(surface.id),
            part_id="" if park else part_id,
            acts=(
                *((SlideTo(at=self._seat, thing=self._piece, from_end=self.parked),) if self.parked else ()),
                Shrink(
                    at=Place(self.end, span_mm=self.span_mm),
                    thing=self._piece,
                    seals_on=tuple(Place(e, skin="sheath", span_mm=self.span_mm) for e in self._ends)
                    if self.seals
                    else (),
                ),
            ),
            focus_mm=self.span_mm,
            end=self.end,
            text=closing.text,
            caution=closing.caution,
            heat=closing.heat,
            tools=closing.tools,
        )
        pinch = self._pinch(seal.id) if self.leaf.pinched else ()
        shown = "Smooth all round, no cold spot" + (", adhesive seen at the edge" if lined else "")
        shown += ", pinched end flat with adhesive out of it." if self.leaf.pinched else "."
        inspect = Step(
            f"inspect.{i}",
            f"Look at {named}",
            "inspect",
            "build",
            after=(seal.id, *(s.id for s in pinch)),
            look=shown,
            fails=(
                "No adhesive at an edge or an open pinch: heat it again and pinch again; if it stays, a new"
                " end."
            ),
            photo=self.seals,
            batch=self.look,
            acts=(Look(at=Place(self.end, span_mm=self.span_mm), thing=self._piece),),
            focus_mm=self.span_mm,
            end=self.end,
        )
        cool = self.cool_steps(end=self.end, focus_mm=self.span_mm)
        return (*park, surface, seal, *pinch, inspect, *cool)

    @property
    def _seat(self) -> Place:
        """Where it is slid to: on the inner jacket, where its edge is measured from there."""
        under = self.leaf.measured_from == "inner-jacket-cut"
        return Place(skin="bedding" if under else "", span_mm=self.span_mm)

    @property
    def _on(self) -> str:
        """What it grips."""
        return "inner jacket" if self.leaf.measured_from == "inner-jacket-cut" else "jacket"

    @property
    def _piece(self) -> Thing:
        """The tube; what a flat cable lets through is judged by its girth, where it is chosen."""
        return replace(self.thing, bore_mm=None, of="")

    @property
    def _ends(self) -> str:
        """The ends it lies on."""
        return self.end or "AB"

    def _made_ready(self, end: str) -> tuple[Act, ...]:
        place = Place(end, skin="sheath", span_mm=self.span_mm)
        return abraded(self.rules, place, 0.0)

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
        return f"{where}, round and round, flat sides too."

    def _pinch(self, after: str) -> tuple[Step, ...]:
        what = (
            "between the legs" if self.legs else "between the bus wires" if self.leaf.between else "its end"
        )
        return (
            Step(
                f"pinch.{self.id}",
                f"Pinch {what} and hold",
                "seal",
                "build",
                after=(after,),
                text=(
                    "At once, while it is soft: press flat with pliers from inside to outside and hold"
                    f" {self.hold_s:g} s."
                ),
                caution="Hot. Do not let go early: it opens again.",
                look="Adhesive comes out of the pinched edge.",
                acts=(Note(at=Place(self.end)),),
                timers=(
                    Timer("soft", "still soft", after, None, most_min=self.rules.number("trace.soft_min")),
                ),
                focus_mm=self.span_mm,
                end=self.end,
            ),
            Step(
                f"hold.{self.id}",
                "Let go when it has set",
                "wait",
                "build",
                after=(f"pinch.{self.id}",),
                action="It has set",
                text="Keep the pliers closed until the time is up.",
                acts=(Wait(until="set"),),
                timers=(Timer("pinch", "pinch held", f"pinch.{self.id}", self.hold_s / 60, most_min=None),),
                focus_mm=self.span_mm,
                end=self.end,
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
                            END_AGAIN,
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
