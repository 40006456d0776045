"""Hot-melt tape at the mouths of a moulded part."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from tinknot.core.acts import LayOn, Thing
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import Fact
from tinknot.core.figures import mm
from tinknot.core.formulas.adhesive import hot_melt_tape
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import (
    Fault,
    Gate,
    Layer,
    Material,
    Mend,
    Minutes,
    Piece,
    Reading,
    Step,
    pieces_of,
)
from tinknot.core.layers.moulded.seat import Mouth, Span
from tinknot.core.layers.sleeve import flash
from tinknot.core.parts.hot_melt import StockHotMelt
from tinknot.core.rulebook import RuleBook

_OFF = Mend("Take it off, clean all of it away and begin again with a new part", "new-part")


@dataclass(frozen=True)
class HotMelt(Layer):
    """Hot-melt tape wound at every mouth, so that a share of its width shows out of the mouth. `clean`: all
    that it and the part are sealed on."""

    rules: RuleBook
    tape: StockHotMelt
    lot: str
    mouths: tuple[Mouth, ...]
    clean: Fact
    with_next = True

    @property
    def _turns(self) -> int:
        return int(self.rules.number("adhesive.turns"))

    def _cut(self, m: Mouth) -> int:
        overlap = self.rules.number("adhesive.tape_overlap_mm")
        return hot_melt_tape(m.seals_mm, self.tape.thickness_mm, self._turns, overlap).length_mm

    def span(self, m: Mouth) -> Span:
        """Where it lies at a mouth, along its line: at the edge of the mouth, with its share outside."""
        out = self.tape.width_mm * self.rules.number("adhesive.shows_pct") / 100
        edge = m.span_mm[1] if m.opening else m.span_mm[0]
        if m.tape_mm is not None:
            return edge, edge + min(self.tape.width_mm, m.tape_mm)
        start = edge + out - self.tape.width_mm if m.opening else edge - out
        return start, start + self.tape.width_mm

    def apply(self, under: Profile) -> Profile:
        """Thicker where it lies on the line that goes through."""
        found = under
        for m in self.mouths[:2]:
            a, b = self.span(m)
            found = found.covered(max(a, found.start_mm), min(b, found.end_mm), self._od)
        return found

    def _od(self, od: float) -> float:
        return od + 2 * self._turns * self.tape.thickness_mm

    def beneath(self, mouths: tuple[Mouth, ...]) -> tuple[Mouth, ...]:
        """The same mouths as they lie on it, each on its own tape and on that of the first."""
        first = self.span(mouths[0])
        return tuple(
            replace(m, under=m.under.covered(*first, self._od).covered(*self.span(m), self._od))
            if m is not mouths[0]
            else replace(m, under=m.under.covered(*first, self._od))
            for m in mouths
        )

    def work(self) -> tuple[Step, ...]:
        """One a mouth."""
        shows, within = (self.rules.number(f"adhesive.{k}") for k in ("shows_pct", "shows_within_pct"))
        found = []
        for m in self.mouths:
            hidden, cut = m.tape_mm is not None, self._cut(m)
            times = "once" if self._turns == 1 else f"{self._turns} times"
            where = "in the groove" if hidden else "at the mark of the mouth"
            gates = [
                Gate("cut", "tape cut", "mm", float(cut), tolerance=3.0, required=False, instrument="tape")
            ]
            if not hidden:
                gates.append(
                    Gate(
                        "shows", "of its width outside the mark", "%", shows, tolerance=within, required=False
                    )
                )
            found.append(
                Step(
                    f"adhesive.{self.id}.{m.opening}",
                    f"Wind hot-melt tape on {m.on}",
                    "adhesive",
                    "build",
                    needs=(self.clean,),
                    timers=(flash(self.rules, self.clean),),
                    text=(
                        f"Cut {mm(cut)} mm, wind it {times} round {where}, melt its tail on with the"
                        " gun's edge."
                    ),
                    look="No slack, tail down, nothing under it.",
                    action="Wound",
                    part_id=self.tape.id,
                    focus_mm=self.span(m),
                    reading=Reading(tuple(gates)),
                    acts=(
                        LayOn(
                            at=m.place,
                            thing=Thing(self.id, "hot-melt tape", seals="tape", of=self.tape.said),
                            seals_on=(m.place,),
                        ),
                    ),
                )
            )
        return tuple(found)

    def lies(self) -> Lies:
        """From the first to the last turn."""
        spans = [self.span(m) for m in self.mouths]
        return Lies((min(a for a, _ in spans), max(b for _, b in spans)))

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """A ring at each mouth."""
        for n, m in enumerate(self.mouths):
            a, b = self.span(m)
            od = self._od(m.under.at((a + b) / 2).greatest_mm) / 2
            yield Body(
                id=f"{self.id}-{n}",
                kind="hot-melt",
                layer=self.id,
                depth_mm=stage.depth_mm,
                **m.course.edges([(a, od), (b, od)]),
            )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Round what lies on the axis."""
        for m in self.mouths:
            a, b = self.span(m)
            if a <= x <= b and m.course.on_axis(x):
                yield stage.ring("hot-melt", self.id, x)

    def consumes(self) -> tuple[Material, ...]:
        """What is wound on."""
        cut = sum(self._cut(m) for m in self.mouths)
        on_hand = None if self.tape.on_hand is None else self.tape.on_hand * self.tape.roll_mm
        return (Material(self.tape.said, cut, "mm", on_hand, part_id=self.tape.id, lot=self.lot),)

    def counted(self) -> tuple[Piece, ...]:
        """Wound off a roll."""
        return pieces_of(self.consumes(), max(self._od(m.seals_mm) for m in self.mouths), self.tape.roll_mm)

    def minutes(self) -> Minutes:
        """A few for each."""
        return Minutes(self.rules.number("time.mouth_min") / 2 * len(self.mouths))

    def from_lot(self) -> str:
        """Its lot."""
        return self.lot

    def faults(self) -> tuple[Fault, ...]:
        """Slack or too far in."""
        return (
            Fault(
                "tape-slack",
                "The tape is slack, or lies off the mark",
                ("tail not melted on",),
                (Mend("Take it off and wind a new piece", "again"),),
            ),
        )
