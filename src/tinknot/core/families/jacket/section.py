"""The drawing of a jacket repair: the cable with its damage, what fills it and what closes it."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from tinknot.core.drawing.loop import covers, draw, outermost
from tinknot.core.drawing.model import Appearance, Body, Circle, Dimension, Section
from tinknot.core.drawing.stage import level
from tinknot.core.families.jacket.solution import JacketSolution
from tinknot.core.joint.cable import Round
from tinknot.core.joint.profile import Profile

BEYOND_MM = 60.0  # of cable drawn beyond the repair
LOOKS = {
    "repair-sleeve": Appearance(material="sleeve", form="hollow", said="repair sleeve", sealed=True),
    "build-up": Appearance(material="tape", form="hollow", said="tape"),
    "sheath": Appearance(material="sheath", said="jacket", role="cable"),
    "damage": Appearance(material="bedding", said="what lies under the jacket"),
    "scratch": Appearance(material="sheath", said="jacket"),
}


@dataclass(frozen=True)
class DamagedCable:
    """The cable under it all, as it is before anything is put on it, and its damage, mm."""

    inner: Profile
    sheath: Round
    hole: tuple[float, float]
    reach: tuple[float, float]

    def bodies(self) -> Iterator[Body]:
        """Sound jacket on both sides, what is left of it between."""
        (low, high), (a, b), sound = self.reach, self.hole, self.sheath.greatest_mm
        under = self.inner.at((a + b) / 2).greatest_mm
        yield level("sheath", (low, a), sound, id="sheath-A", end="A", depth_mm=-99)
        kind = "damage" if under < sound else "scratch"
        yield level(kind, self.hole, under, id="damage", depth_mm=-99)
        yield level("sheath", (b, high), sound, id="sheath-B", end="B", depth_mm=-99)

    def rings(self, x: float) -> Iterator[Circle]:
        """The jacket, or what lies open under it."""
        bare = self.inner.at(x).greatest_mm
        yield Circle(kind="damage" if bare < self.sheath.greatest_mm else "sheath", od_mm=bare)

    def edges(self) -> Iterable[float]:
        """Those of the damage."""
        return self.hole


def _along(kind: str, a: float, b: float, label: str) -> Dimension:
    return Dimension(kind=kind, from_mm=a, to_mm=b, value_mm=b - a, label=label)


def section(s: JacketSolution, sheath: Round) -> Section:
    """To scale, mm: x = 0 in the middle of the damage, A on the negative side."""
    a, b = s.hole
    low, high = s.seat or s.hole
    reach = low - BEYOND_MM, high + BEYOND_MM
    over = covers(s.layers, s.inner, 100.0)
    dimensions = [_along("gap", a, b, "damaged")]
    if s.seat:
        dimensions += [
            _along("covered", low, high, "covered"),
            _along("overlap", low, a, "on the jacket"),
            _along("overlap", b, high, "on the jacket"),
        ]
    cable = DamagedCable(s.inner, sheath, s.hole, reach)
    return draw([cable], over, reach, dimensions, outside=outermost(over, s.inner), looks=LOOKS)
