"""Drain wires, foil and braid of a screened cable made good."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import cos, pi, sin

from tinknot.core.acts import Join, LayOn, Look, Place, SlideTo, Thing, ThreadOn
from tinknot.core.choosing.park import Side
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import COVERED, of, over_all, taken_off
from tinknot.core.figures import LEAST, mm, said_mm
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Fault,
    Layer,
    Material,
    Mend,
    Minutes,
    Piece,
    Step,
    Threaded,
    pieces_of,
)
from tinknot.core.layers.mends import CUT_OUT, THREAD
from tinknot.core.layers.screen import foil_faults
from tinknot.core.parts.donor import StockDonor
from tinknot.core.parts.foil import StockFoil
from tinknot.core.rulebook import RuleBook

Span = tuple[float, float]
DRAIN_MM = 0.6  # of a drain wire that nobody measures: an estimate, for the drawing


@dataclass(frozen=True)
class Drains(Layer):
    """Drain wires joined bare inside the foil. `of`: the units that have one, and `all`; `span_mm`: between
    the sheaths."""

    rules: RuleBook
    of: tuple[str, ...]
    span_mm: Span

    def lies(self) -> Lies:
        """Round the cores."""
        return Lies(self.span_mm)

    def _places(self, od_mm: float) -> Iterator[tuple[float, float]]:
        """Where each lies on what is `od_mm` thick: toward the eye and up, mm."""
        for n in range(len(self.of)):
            turn = 2 * pi * n / len(self.of)
            yield od_mm / 2 * cos(turn), od_mm / 2 * sin(turn)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Each a bare wire along the outside of the cores."""
        a, b = self.span_mm
        thick = stage.under.between(a, b).least()
        for unit, (toward, up) in zip(self.of, self._places(thick - DRAIN_MM), strict=True):
            r = DRAIN_MM / 2
            yield Body(
                id=f"{self.id}-{unit}",
                kind="drain",
                layer=self.id,
                depth_mm=stage.depth_mm + toward / 100,
                top=[(a, up + r), (b, up + r)],
                bottom=[(a, up - r), (b, up - r)],
            )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Each where it lies."""
        for right, up in self._places(stage.under.at(x).greatest_mm + DRAIN_MM):
            yield Circle(kind="drain", layer=self.id, od_mm=DRAIN_MM, x_mm=round(right, 3), y_mm=round(up, 3))

    def work(self) -> tuple[Step, ...]:
        """All of them."""
        return (
            Step(
                f"bond.{self.id}",
                "Join the drain wires",
                "screen",
                "build",
                needs=(COVERED,),
                text=f"{len(self.of)} to join, each to its own, bare, flat on its foil, no spike.",
                caution="Never into a sleeve that parts it from its foil. Screens of units stay apart.",
                acts=(
                    Join(
                        at=Place(span_mm=self.span_mm),
                        thing=Thing(self.id, "drain wires", metal=True, of="joint for a drain wire"),
                        ends=(Place("A", skin="screen"), Place("B", skin="screen")),
                        how="clamped",
                    ),
                ),
                action="Joined",
            ),
        )

    def minutes(self) -> Minutes:
        """One after the other."""
        return Minutes(self.rules.number("time.screen_min") / 2 * len(self.of))

    def consumes(self) -> tuple[Material, ...]:
        """One each."""
        return (Material("joint for a drain wire", len(self.of), "piece"),)

    def faults(self) -> tuple[Fault, ...]:
        """A wire."""
        return (
            Fault(
                "drain-broken",
                "A drain wire is broken or too short",
                ("cut with the foil",),
                (Mend("Lengthen it with bare wire of its own size", "mended"), CUT_OUT),
            ),
        )


@dataclass(frozen=True)
class FoilMadeGood(Layer):
    """Foil wrapped back, and what is missing made good. `units`: how many have their own; `span_mm`: where it
    is wrapped; `thick_mm`: what it adds to the bundle's diameter; `part`: what it is made good with, None for
    foil of equal cable that nobody counts; `used_mm`: how much of it that takes."""

    rules: RuleBook
    units: int
    over_all: bool
    span_mm: Span
    thick_mm: float
    part: StockFoil | None
    lot: str
    used_mm: int

    @property
    def harvested(self) -> bool:
        """Whether equal cable is cut up for it."""
        return self.part is None or self.part.harvested

    @property
    def where_from(self) -> str:
        """What it is made good with, in words."""
        if self.harvested:
            whose = f"{self.part.said}: " if self.part else ""
            return f"{whose}take it from {mm(self.used_mm, LEAST)} mm of equal cable."
        assert self.part is not None
        return f"{self.part.said}, {mm(self.used_mm)} mm of it."

    @property
    def _thing(self) -> Thing:
        """The foil as it is taken to the work."""
        of = self.part.said if self.part else "equal cable, for its foil"
        return Thing(self.id, "foil", adds_mm=self.thick_mm, metal=True, of=of)

    def apply(self, under: Profile) -> Profile:
        """Thin, all round."""
        return under.covered(*self.span_mm, lambda od: od + self.thick_mm)

    def work(self) -> tuple[Step, ...]:
        """Each unit alone, then one wrap over all; looked at before it is hidden."""
        each = f"Each of the {self.units} units alone. " if self.units else ""
        over = "Then one wrap over all. " if self.over_all and each else ""
        beyond = self.rules.number("screen.foil_beyond_mm")
        return (
            Step(
                f"wrap.{self.id}",
                "Make the foil good",
                "screen",
                "build",
                needs=over_all(),
                text=(
                    f"{each}{over}Metal to the drain wire, half-lapped, {said_mm(beyond)} mm beyond."
                    f" {self.where_from}"
                ),
                action="Wrapped",
                acts=(LayOn(at=Place(span_mm=self.span_mm), thing=self._thing),),
                part_id=self.part.id if self.part else "",
                focus_mm=self.span_mm,
            ),
            Step(
                f"inspect.{self.id}",
                "Look at the foil",
                "inspect",
                "build",
                needs=(of("laid", self.id),),
                look="No gap, no core seen, drain wire against metal; no unit's screen touches another's.",
                acts=(Look(at=Place(span_mm=self.span_mm), thing=self._thing),),
                fails="A tear: wrap foil of the same kind over it.",
                photo=True,
                pictured="own",
                focus_mm=self.span_mm,
            ),
        )

    def lies(self) -> Lies:
        """Over the units."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Close round all."""
        yield Body(id=self.id, kind="foil", layer=self.id, depth_mm=stage.depth_mm, **stage.wall())

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """All round."""
        yield stage.ring("foil", self.id, x)

    def consumes(self) -> tuple[Material, ...]:
        """Off its roll, or the length of equal cable that it costs."""
        p = self.part
        if p is None:
            return (Material("equal cable, for its foil", float(self.used_mm), "mm"),)
        on_hand = None if p.on_hand is None else p.on_hand * p.roll_mm
        return (Material(p.said, float(self.used_mm), "mm", on_hand, part_id=p.id, lot=self.lot),)

    def from_lot(self) -> str:
        """Its lot."""
        return self.lot

    def counted(self) -> tuple[Piece, ...]:
        """A share of its roll."""
        return pieces_of(self.consumes(), 0.0, self.part.roll_mm if self.part else 1.0)

    def faults(self) -> tuple[Fault, ...]:
        """Nicked, by degree."""
        cut = ("stripper set too deep", "drawn over an edge")
        return foil_faults(cut, CUT_OUT, at=(of("laid", self.id), of("looked", self.id)))

    def minutes(self) -> Minutes:
        """Wrapped."""
        return Minutes(self.rules.number("time.screen_min") / 2 * (self.units + self.over_all))


@dataclass(frozen=True)
class DonorBraid(Layer):
    """Braid over the gap and both folds. `cut_mm`: its length as cut; `cable_mm`: of equal cable that is cut
    up for it, 0 off a reel; `coverage`: what it covers where it
    covers least, in words; `layers`: how many lie over each other."""

    rules: RuleBook
    part: StockDonor
    lot: str
    span_mm: Span
    cut_mm: int
    cable_mm: int
    coverage: str
    layers: int
    end: str

    @property
    def _thing(self) -> Thing:
        """The braid as it is taken to the work."""
        return Thing(self.id, "donor braid", adds_mm=2 * self.thick_mm, metal=True, of=self.part.said)

    @property
    def thick_mm(self) -> float:
        """What it adds to a radius."""
        return self.part.braid.thickness_mm * self.layers

    def apply(self, under: Profile) -> Profile:
        """Over all it lies on."""
        return under.covered(*self.span_mm, lambda od: od + 2 * self.thick_mm)

    def waits_on(self, wanted: Side) -> Side:
        """On the end it is threaded on."""
        return "a" if self.end == "A" else "b"

    def threads(self) -> tuple[Threaded, ...]:
        """Nearest to the joint."""
        return (Threaded(self.id, self.part.id, "sheath", float(self.cut_mm), end=self.end, order=1),)

    def work(self) -> tuple[Step, ...]:
        """Threaded, drawn over, looked at."""
        twice = f", {self.layers} layers of it" if self.layers > 1 else ""
        return (
            Step(
                f"park.{self.id}",
                f"Thread the donor braid on {self.end}",
                "park",
                "park",
                needs=(taken_off(self.end, "sheath"),),
                text=(
                    f"{self.part.said}, {mm(self.cut_mm)} mm{twice}. {self._harvest}Push it together"
                    " on the sheath."
                ),
                caution="It cannot be put on later.",
                batch=batches.WHOLE,
                end=self.end,
                part_id=self.part.id,
                acts=(ThreadOn(at=Place(self.end), thing=self._thing),),
            ),
            Step(
                f"fit.{self.id}",
                "Draw the donor braid over",
                "screen",
                "build",
                needs=over_all(),
                text=(
                    "Over both folds, then drawn down tight from the middle. Where it covers least, it covers"
                    f" {self.coverage}."
                ),
                action="Drawn down",
                acts=(
                    SlideTo(at=Place(span_mm=self.span_mm), thing=self._thing, from_end=self.end),
                    LayOn(at=Place(span_mm=self.span_mm), thing=self._thing),
                ),
                focus_mm=self.span_mm,
            ),
            Step(
                f"inspect.{self.id}",
                "Look at the donor braid",
                "inspect",
                "build",
                needs=(of("laid", self.id),),
                look="It lies on both folds all round, even, no gap and no whisker.",
                acts=(Look(at=Place(span_mm=self.span_mm), thing=self._thing),),
                fails="A gap: draw it down anew, or put a second layer over it.",
                photo=True,
                pictured="own",
                focus_mm=self.span_mm,
            ),
        )

    @property
    def _harvest(self) -> str:
        """How it comes off equal cable, in words."""
        if not self.cable_mm:
            return ""
        return f"Off {mm(self.cable_mm)} mm of equal cable: slit the sheath along, push the braid off. "

    def lies(self) -> Lies:
        """Over gap and folds."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Its wall."""
        yield Body(id=self.id, kind="donor", layer=self.id, depth_mm=stage.depth_mm, **stage.wall())

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """All round."""
        yield stage.ring("donor", self.id, x)

    def from_lot(self) -> str:
        """Its lot."""
        return self.lot

    def consumes(self) -> tuple[Material, ...]:
        """As much as is cut."""
        on_hand = None if self.part.on_hand is None else self.part.on_hand * self.part.roll_mm
        used = float((self.cable_mm or self.cut_mm) * self.layers)
        return (Material(self.part.said, used, "mm", on_hand, part_id=self.part.id, lot=self.lot),)

    def counted(self) -> tuple[Piece, ...]:
        """A share of its roll."""
        return pieces_of(self.consumes(), 0.0, self.part.roll_mm)

    def minutes(self) -> Minutes:
        """Drawn over and trimmed."""
        return Minutes(self.rules.number("time.screen_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Forgotten, or short."""
        return (
            Fault(
                "forgotten-donor",
                "The donor braid was not threaded on",
                ("park list not touched",),
                (
                    THREAD,
                    Mend("Wrap flat braid or mesh half-lapped over both folds instead; recorded", "mended"),
                    CUT_OUT,
                ),
                forgotten=True,
            ),
            Fault(
                "donor-short",
                "It does not reach both folds",
                ("pushed over something thicker: it shortens",),
                (Mend("A second piece over it, joined over a fold's length", "mended"), CUT_OUT),
            ),
        )
