"""The surfaces a moulded part is sealed on, made ready."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from tinknot.core.acts import Act, Roughen, Thing, Wipe
from tinknot.core.drawing.model import Body
from tinknot.core.facts import MEASURED, Fact, of
from tinknot.core.layers.contract import Batch, Fault, Gate, Layer, Material, Mend, Reading, Step
from tinknot.core.layers.moulded.seat import Mouth, Span
from tinknot.core.layers.surfaces import degreased, rough, wiped_again
from tinknot.core.rulebook import RuleBook

AREAS = Batch("areas", "Make every surface ready")
WIPES = Batch("area-wipes", "Wipe every surface once more")


@dataclass(frozen=True)
class Areas:
    """Every area that the layer `of` is sealed on. `abrade`: the way of the last strokes; `solvent`: wiped
    with solvent after abrading, else dry; `plated`: the fitting is only degreased; `inside`: the part's own
    inside is made ready too, where it has no lining; `after`: what must be so before; `threaded`: the part
    waits on the cable meanwhile, and its inside is made ready before; `early`: what must be so
    before they are roughened, where that comes before something lies open that dust would fall on."""

    rules: RuleBook
    of: str
    mouths: tuple[Mouth, ...]
    abrade: Literal["along", "round"]
    solvent: bool
    plated: bool
    inside: bool
    after: tuple[Fact, ...] = ()
    threaded: bool = False
    early: tuple[Fact, ...] = ()

    @property
    def inside_ready(self) -> Fact:
        """The part's own inside made ready."""
        return of("clean", f"{self.of}-inside")

    @property
    def clean(self) -> Fact:
        """All of them made clean."""
        return of("clean", self.of)

    def steps(self) -> tuple[Step, ...]:
        """The part's inside; mouth by mouth marked, degreased, abraded, wiped, or only wiped where that came
        early: what was wiped last flashes off last."""
        found = [self._wiped(m) if self.early else self._area(m) for m in self.mouths]
        if self.inside:
            found.insert(
                0,
                Step(
                    f"surface.{self.of}.inside",
                    "Roughen the part's inside at its mouths",
                    "surface",
                    "park" if self.threaded else "build",
                    needs=(MEASURED,) if self.threaded else self.after,
                    text=f"Degrease, abrade round its inside, {self._wipe}.",
                    batch=None if self.threaded else AREAS,
                    acts=(Roughen(thing=Thing(self.of, "part"), inside=True),),
                    makes=(self.clean, self.inside_ready),
                ),
            )
        return tuple(found)

    def _made_ready(self, m: Mouth, wide: float) -> tuple[Act, ...]:
        """Degreased, roughened where it may be, wiped."""
        wet = degreased(self.rules, m.place)
        if m.fitting and self.plated:
            return (wet,)
        return wet, Roughen(at=m.place, mm=wide), (wet if self.solvent else Wipe(at=m.place))

    @property
    def _wipe(self) -> str:
        return "wipe with solvent and let it flash off" if self.solvent else "wipe dry"

    def marked_mm(self, m: Mouth) -> Span:
        """What is made ready at a mouth, along its line: its band and as far beyond it as the rule book has
        it."""
        beyond = self.rules.number("surface.beyond_mm")
        return m.band_mm[0] - beyond, m.band_mm[1] + beyond

    def bodies(self, depth_mm: float) -> Iterator[Body]:
        """Every area on what it lies on, to scale."""
        for m in self.mouths:
            a, b = self.marked_mm(m)
            if m.adhesive_mm > 0:
                lies = m.under.between(max(a, m.under.start_mm), min(b, m.under.end_mm))
                line = [(s.x_mm, s.greatest_mm / 2) for s in lies.stations]
                edges = m.course.edges(line)
                yield Body(
                    id=f"{self.of}-area-{m.opening}", kind="area", layer=self.of, depth_mm=depth_mm, **edges
                )

    def roughened(self) -> tuple[Step, ...]:
        """What comes early, mouth by mouth."""
        return tuple(self._area(m) for m in self.mouths) if self.early else ()

    def _area(self, m: Mouth) -> Step:
        beyond = self.rules.number("surface.beyond_mm")
        wide = m.adhesive_mm + beyond
        plated = m.fitting and self.plated
        grit = self.rules["surface.grit"]
        why = "it flexes" if self.abrade == "along" else "water does not follow the scratches in"
        how = (
            "Degrease only, twice, with a fresh cloth. Let it flash off."
            if plated
            else f"Degrease, abrade {self.abrade} the cable with {grit:g} grit ({why}), {self._wipe}."
        )
        caution = (
            "Never abrade plating: old plating may be cadmium, and its dust is poison."
            if plated
            else "Solvent away from heat; let it flash off."
        )
        return Step(
            f"surface.{self.of}.{m.opening}",
            f"Mark and clean {m.on}",
            "surface",
            "cut" if self.early else "build",
            needs=self.early or self.after,
            text=how,
            caution=caution,
            batch=AREAS,
            focus_mm=self.marked_mm(m),
            reading=Reading(
                (
                    Gate(
                        "area",
                        "marked and ready, from the mouth's mark",
                        "mm",
                        round(wide, 1),
                        tolerance=5.0,
                        required=False,
                        accept="roughened" in self.rules.names("tolerance.accept"),
                        instrument="tape",
                    ),
                )
            ),
            acts=self._made_ready(m, wide),
            makes=(rough("A"),) if self.early else (self.clean,),
        )

    def _wiped(self, m: Mouth) -> Step:
        """What was roughened early, wiped just before the part goes on."""
        step = wiped_again(
            f"wipe.{self.of}.{m.opening}",
            f"Wipe {m.on} clean",
            self.rules,
            "what was roughened",
            at=m.place,
            needs=(rough("A"), *self.after),
            batch=WIPES,
            makes=(self.clean,),
        )
        return replace(step, end="", focus_mm=self.marked_mm(m))

    @property
    def hands_min(self) -> float:
        """What they take, min."""
        return self.rules.number("time.mouth_min") * len(self.mouths)

    def consumes(self) -> tuple[Material, ...]:
        """Wipes and abrasive."""
        n = len(self.mouths)
        return (Material("degreasing wipe", 2 * n, "piece"), Material("abrasive strip", n, "piece"))

    def faults(self) -> tuple[Fault, ...]:
        """Touched or wet."""
        return (
            Fault(
                "touched",
                "A clean place was touched or got wet",
                ("gloves not clean", "breath, rain"),
                (Mend("Clean it once more", "again"),),
                at=(self.clean,),
            ),
        )


@dataclass(frozen=True)
class AreasRoughened(Layer):
    """What a part is sealed on, roughened before a lead or a mesh lies open beside it."""

    areas: Areas

    def work(self) -> tuple[Step, ...]:
        """Mouth by mouth."""
        return self.areas.roughened()
