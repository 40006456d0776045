"""The one loop that draws a joint: ends and layers give bodies and rings, it puts them together."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Protocol

from tinknot.core.drawing.model import Appearance, Body, Circle, CrossSection, Dimension, Section
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.joint.profile import Profile


class Drawn(Protocol):
    """What is drawn: an end of a cable, a core where it goes, a layer where it lies."""

    def bodies(self) -> Iterable[Body]:
        """Seen from the side."""
        ...

    def rings(self, x: float) -> Iterable[Circle]:
        """What a cut at x (mm) shows of it, outermost first."""
        ...

    def edges(self) -> Iterable[float]:
        """Every x at which a cut through it changes, mm."""
        ...


class Drawable(Protocol):
    """A layer, as far as it is drawn."""

    def bodies(self, stage: Stage) -> Iterable[Body]:
        """Seen from the side."""
        ...

    def rings(self, stage: Stage, x: float) -> Iterable[Circle]:
        """What a cut at x shows of it, outermost first."""
        ...


class Laid(Drawable, Protocol):
    """A layer that may lie over the whole joint."""

    def apply(self, under: Profile) -> Profile:
        """The outside with it on."""
        ...

    def lies(self) -> Lies | None:
        """Where it lies."""
        ...


@dataclass(frozen=True)
class Put:
    """A layer on its stage."""

    layer: Drawable
    stage: Stage

    def bodies(self) -> Iterable[Body]:
        """Those of the layer."""
        return self.layer.bodies(self.stage)

    def rings(self, x: float) -> Iterable[Circle]:
        """Those of the layer, between its edges."""
        a, b = self.stage.span_mm
        return self.layer.rings(self.stage, x) if a <= x <= b else ()

    def edges(self) -> Iterable[float]:
        """Where the layer changes something."""
        return self.stage.edges()


def covers(layers: Iterable[Laid], inner: Profile, depth_mm: float) -> list[Put]:
    """What lies over the whole joint, inside out, each nearer to the eye than what it lies on."""
    found: list[Put] = []
    for x in layers:
        if (lies := x.lies()) and not lies.core:
            over = x.apply(inner)
            found.append(Put(x, Stage(inner, over, lies.span_mm, depth_mm + len(found))))
            inner = over
    return found


def outermost(over: Sequence[Put], inner: Profile) -> Callable[[float, Sequence[Circle]], float]:
    """The outside of what is drawn, mm: of the last layer put on."""
    outside = over[-1].stage.over if over else inner
    return lambda x, _: outside.at(x).greatest_mm


def widest(otherwise_mm: float) -> Callable[[float, Sequence[Circle]], float]:
    """The outside of what is drawn, mm: round the middle, as far as the circles reach."""

    def outside(_: float, circles: Sequence[Circle]) -> float:
        return max((c.od_mm + 2 * max(abs(c.x_mm), abs(c.y_mm)) for c in circles), default=otherwise_mm)

    return outside


def draw(
    inside: Sequence[Drawn],
    over: Sequence[Drawn],
    reach: tuple[float, float],
    dimensions: Sequence[Dimension],
    outside: Callable[[float, Sequence[Circle]], float],
    looks: dict[str, Appearance] | None = None,
) -> Section:
    """A joint within `reach` (mm on its axis): `inside` lies side by side, `over` lies over it, inside out.
    `outside` is the diameter or width of a cut, from its x and its circles."""
    drawn = [*inside, *over]
    xs = sorted({*reach, *(x for d in drawn for x in d.edges() if reach[0] <= x <= reach[1])})
    crossings = []
    for x1, x2 in pairwise(xs):
        if x2 - x1 < 1e-6:
            continue
        x = (x1 + x2) / 2
        circles = [c for d in (*reversed(over), *inside) for c in d.rings(x)]
        crossings.append(CrossSection(from_mm=x1, to_mm=x2, outside_mm=outside(x, circles), circles=circles))
    return Section(
        from_mm=reach[0],
        to_mm=reach[1],
        bodies=[b for d in drawn for b in d.bodies()],
        crossings=crossings,
        dimensions=list(dimensions),
        looks=looks or {},
    )
