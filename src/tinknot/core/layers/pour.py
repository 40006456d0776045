"""Resin for one joint, and the shell it is poured into with its ends cut."""

from dataclasses import dataclass

from tinknot.core.formulas.pour import PackPour
from tinknot.core.formulas.resin import Fill
from tinknot.core.joint.profile import Profile
from tinknot.core.parts.resin import StockResin
from tinknot.core.parts.shell import StockShell


@dataclass(frozen=True)
class Pour:
    """Resin for one joint: packs by part with their lots, times in min at `resin_c` (°C), and when it is
    cured at the temperatures expected, min from the pour; `timeline`: each pack's own mixing and pour."""

    fill: Fill
    packs: tuple[tuple[StockResin, str, int], ...]
    resin_c: float
    pot_life_min: float
    mix_min: float
    pour_min: float
    handle_min: float
    full_min: float
    timeline: tuple[PackPour, ...] = ()

    @property
    def pack_count(self) -> int:
        """How many packs it takes."""
        return sum(n for *_, n in self.packs)

    @property
    def resin(self) -> StockResin:
        """The resin; all packs hold the same."""
        return self.packs[0][0]

    @property
    def window_min(self) -> float:
        """What is left to pour after mixing, min."""
        return max(0.0, self.pot_life_min - self.mix_min)


@dataclass(frozen=True)
class CutShell:
    """A shell with its ends cut: the stage left outermost by end (index; the number of stages: only the body
    is left), and its inside from A to B as (length, diameter) in mm, centred on the joint."""

    shell: StockShell
    first_stage: tuple[int, int]

    @property
    def inside(self) -> tuple[tuple[float, float], ...]:
        """(length, inside diameter) from A to B, mm."""
        stages = [(s.length_mm, s.inside_diameter_mm) for s in self.shell.stages]
        a, b = self.first_stage
        return (*stages[a:], (self.shell.body_length_mm, self.shell.body_inside_mm), *reversed(stages[b:]))

    @property
    def reach_mm(self) -> tuple[float, float]:
        """Where it begins and ends on the joint's axis; the body's middle is the joint's."""
        a, b = (sum(s.length_mm for s in self.shell.stages[n:]) for n in self.first_stage)
        half = self.shell.body_length_mm / 2
        return -half - a, half + b

    @property
    def mouths_mm(self) -> tuple[float, float]:
        """How wide its ends are left on A and on B, mm."""
        return self.inside[0][1], self.inside[-1][1]

    def bore(self) -> Profile:
        """Its inside as a profile."""
        x, stretches = self.reach_mm[0], []
        for length, d in self.inside:
            stretches.append((x, x + length, d, d))
            x += length
        return Profile.of_stretches(stretches)
