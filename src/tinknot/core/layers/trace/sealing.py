"""Sealant, tape, and work of a flat cable that leaves nothing on it."""

from dataclasses import dataclass
from typing import ClassVar

from tinknot.core.acts import LayOn, Look, Note, Place, Thing, Wait
from tinknot.core.joint.leaflet import LeafletLayer
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import (
    Minutes,
    Step,
    Timer,
)
from tinknot.core.layers.sleeve import flash
from tinknot.core.layers.surfaces import degreased
from tinknot.core.layers.trace.flat import DrawnFlat
from tinknot.core.layers.trace.opening import AtEnd, marked, told


@dataclass(frozen=True)
class Sealant(AtEnd):
    """Moisture-curing sealant: liberal, inside the part and on the cable."""

    leaf: LeafletLayer
    part_said: str
    cure_min: float = 0.0
    span_mm: tuple[float, float] = (0.0, 0.0)

    def work(self) -> tuple[Step, ...]:
        """On clean ground; it skins, then cures."""
        i, e = self.id, self.end
        on = Place(e, skin="sheath", span_mm=self.span_mm)
        wait = (
            (
                Step(
                    f"cure.{i}",
                    f"Leave the {self.part_said} to cure",
                    "wait",
                    "prove",
                    after=(f"inspect.{i}",),
                    action="It is cured",
                    text="Do not move or flex it, do not energise before the time is up.",
                    timers=(Timer("cure", "sealant curing", f"seal.{i}", self.cure_min, most_min=None),),
                    acts=(Wait(until="cured"),),
                    end=e,
                    focus_mm=self.span_mm,
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
                after=self.after,
                text="Degrease, let it flash off.",
                acts=(degreased(self.rules, on),),
                end=e,
                focus_mm=self.span_mm,
            ),
            Step(
                f"seal.{i}",
                self.leaf.title or f"Fill with {self.part_said}, end {e}",
                "seal",
                "build",
                after=(f"surface.{i}",),
                text=self.leaf.text or "Liberally, inside the part and on the cable, no air left.",
                caution=self.leaf.caution or "Ventilate, gloves; check its date.",
                timers=(flash(self.rules, f"surface.{i}"),),
                acts=(LayOn(at=on, thing=self._stuff, seals_on=(on,)),),
                end=e,
                focus_mm=self.span_mm,
            ),
            Step(
                f"inspect.{i}",
                f"Look at the {self.part_said}",
                "inspect",
                "build",
                after=(f"seal.{i}",),
                look="Filled to the rim and all round on the cable, no bubble.",
                acts=(Look(at=on, thing=self._stuff),),
                fails="A gap: more sealant before anything is pushed on.",
                end=e,
                focus_mm=self.span_mm,
            ),
            *wait,
        )

    @property
    def _stuff(self) -> Thing:
        return Thing(self.id, self.part_said, seals="adhesive")

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

    def work(self) -> tuple[Step, ...]:
        """Half-lapped."""
        return (
            Step(
                f"wrap.{self.id}",
                self.leaf.title or f"Wrap {self.part_said}, end {self.end}",
                "wrap",
                "build",
                after=self.after,
                end=self.end,
                focus_mm=self.span_mm,
                text=told(
                    self.leaf.text or "Half-lapped, tight, from the jacket over the edge and back.",
                    marked(self.leaf, "It begins"),
                ),
                acts=(LayOn(at=Place(self.end), thing=Thing(self.id, self.part_said)),),
                caution=self.leaf.caution,
            ),
        )


@dataclass(frozen=True)
class PlainWork(AtEnd):
    """A plain step of the leaflet, with its own words; it may wait, and it may stop the hand."""

    leaf: LeafletLayer

    def work(self) -> tuple[Step, ...]:
        """As written."""
        x = self.leaf
        timers = (Timer("wait", x.title, f"do.{self.id}", x.minutes, most_min=None),) if x.minutes else ()
        work = Step(
            f"do.{self.id}",
            x.title,
            "fit",
            "build",
            after=self.after,
            action="Done",
            end=self.end,
            text=x.text,
            caution=x.caution,
            acts=(Note(at=Place(self.end)),),
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
                after=(work.id,),
                action="The time is over",
                end=self.end,
                timers=timers,
                acts=(Wait(until="set"),),
            ),
        )
