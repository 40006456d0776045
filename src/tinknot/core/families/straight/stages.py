"""The covers of a solved stack, each with the profile under and over it."""

from collections.abc import Sequence
from dataclasses import dataclass

from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.bond import EarthBond
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.sleeves import CoreSleeve, CoverSleeve
from tinknot.core.layers.tapes import TapeWrap

Insulation = CoreSleeve | TapeWrap
Cover = CoverSleeve | TapeWrap | EarthBond | ResinShell


@dataclass(frozen=True)
class Stage:
    """A cover with the profile under and over it."""

    layer: Cover
    under: Profile
    over: Profile

    @property
    def span(self) -> tuple[float, float]:
        """Where it lies."""
        return self.layer.span_mm

    def inside(self, x: float) -> float:
        """Its bore at x, mm."""
        od = self.under.at(x).greatest_mm
        if isinstance(self.layer, CoverSleeve):
            return max(od, self.layer.tube.recovered_id_mm)
        return self.layer.cut.bore().at(x).greatest_mm if isinstance(self.layer, ResinShell) else od


def stages_of(s: CableSolution) -> list[Stage]:
    """All covers of a stack, inside out."""
    under = s.inner
    assert under is not None
    found = []
    for x in s.layers:
        if isinstance(x, (CoverSleeve, EarthBond, ResinShell)) or (isinstance(x, TapeWrap) and not x.core):
            over = x.apply(under)
            found.append(Stage(x, under, over))
            under = over
    return found


def over_core(layers: Sequence[Layer], core: str) -> list[Insulation]:
    """What insulates a core again, inside out."""
    return [x for x in layers if isinstance(x, (CoreSleeve, TapeWrap)) and x.core == core]
