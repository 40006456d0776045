"""What lies in a resin shell: cores held apart by spacers, or a joint that is sleeved already."""

from collections.abc import Sequence
from itertools import pairwise
from math import ceil, pi, sqrt
from typing import Protocol

from tinknot.core.families.lowvoltage.job import Job, circle
from tinknot.core.families.straight.base import holds, inner_profile
from tinknot.core.families.straight.cores import Cores
from tinknot.core.figures import mm
from tinknot.core.formulas.resin import ML_PER_MM3
from tinknot.core.joint.profile import Profile, merged
from tinknot.core.layers.pour import CutShell

Stretch = tuple[float, float, int]  # length, diameter, how many
Solid = tuple[tuple[float, float], float]  # from where to where, mm, and mm² across


class Inside(Protocol):
    """What the resin goes round. `spacers` hold it off the wall, `spacers_said` where; `cut_mm`: how far from
    the centre the sheath lies bare on A and on B; `rough_mm`: from where on it is roughened."""

    spacers: int
    spacers_said: str
    sleeved: bool
    cut_mm: tuple[float, float]
    rough_mm: tuple[float, float]

    def needs(self) -> str:
        """What a shell must clear, in words."""
        ...

    def passes_mm(self) -> float:
        """The thickest that something slid over it must pass, mm."""
        ...

    def edges(self) -> list[float]:
        """Every place at which what is to be cleared changes, mm."""
        ...

    def need_mm(self, x: float) -> tuple[float, str]:
        """The bore needed at x, mm, and what is said where it is less; 0 outside of what is cleared."""
        ...

    def displaced(self, cut: CutShell) -> list[Stretch]:
        """What takes the place of resin in a shell."""
        ...


class OpenCores:
    """Cores side by side, each under its own sleeve or tape, with what lies beside them (`solids`)."""

    sleeved = False

    def __init__(self, job: Job, cores: Cores, solids: Sequence[Solid]) -> None:
        self.job, self.cores, self.solids = job, cores, solids
        every = job.rules.number("resin.spacer_mm")
        self.spacers = max(2, len(cores.connectors), ceil(cores.layout.gap_mm / every))
        self.spacers_said = f"{self.spacers} spacers between the cores, one beside every connector"
        half, held = cores.layout.gap_mm / 2, holds(job, cores)
        self.cut_mm = (
            max((-h.span_mm[0] for h in held if h.end == "A"), default=half),
            max((h.span_mm[1] for h in held if h.end == "B"), default=half),
        )
        self.rough_mm = (half, half)
        gap = job.rules.number("resin.core_gap_mm") if len(cores.tracks) > 1 else 0.0
        self.spread = merged(cores.tracks, lambda ods: circle(tuple(d + gap for d in ods)) - gap)
        self.joined = [(c.centre_mm - c.half_mm, c.centre_mm + c.half_mm) for c in cores.connectors]

    def needs(self) -> str:
        """Cores held apart, connectors with their cover."""
        return (
            f"clears {mm(self.spread.greatest()):.1f} mm of cores with"
            f" {mm(self.job.rules.number('resin.cover_mm')):g} mm round the connectors"
        )

    def passes_mm(self) -> float:
        """The cores held apart."""
        return self.spread.greatest()

    def edges(self) -> list[float]:
        """Those of the cores held apart."""
        return self.spread.edges()

    def need_mm(self, x: float) -> tuple[float, str]:
        """The cores held apart, at a connector with the cover round it."""
        if not self.spread.start_mm <= x <= self.spread.end_mm:
            return 0.0, ""
        if any(a <= x <= b for a, b in self.joined):
            cover = self.job.rules.number("resin.cover_mm")
            return self.spread.at(x).greatest_mm + 2 * cover, "the connectors are too fat for it"
        return self.spread.at(x).greatest_mm, "the cores are too wide for it"

    def displaced(self, cut: CutShell) -> list[Stretch]:
        """Sheaths and armour, every core, what lies beside them, the spacers."""
        a, b = cut.reach_mm
        low, high = self.cores.crutch_mm
        base = inner_profile(self.job, self.cores)
        found: list[Stretch] = []
        for x1, x2 in ((max(a, base.start_mm), low), (high, min(b, base.end_mm))):
            found += _stretches(base, x1, x2)
        for track in self.cores.tracks:
            found += _stretches(track, low, high)
        within = [(min(x2, b) - max(x1, a), mm2) for (x1, x2), mm2 in self.solids]
        found += [(length, sqrt(4 * mm2 / pi), 1) for length, mm2 in within if length > 0]
        return [*found, *_spacers(self.job, self.spacers)]


class Sleeved:
    """A joint under its outer sleeve: one solid thing, with resin all round it and onto both sheaths."""

    sleeved = True
    spacers = 2
    spacers_said = "2 spacers round the sleeve, one near each end"

    def __init__(self, job: Job, under: Profile, span_mm: tuple[float, float]) -> None:
        self.job, self.under, self.span_mm = job, under, span_mm
        self.cut_mm = self.rough_mm = (abs(span_mm[0]), abs(span_mm[1]))

    def needs(self) -> str:
        """The sleeve with the cover round it."""
        greatest = self.under.between(*self.span_mm).greatest()
        cover = self.job.rules.number("resin.cover_mm")
        return f"clears {mm(greatest):.1f} mm of sleeved joint with {mm(cover):g} mm round it"

    def passes_mm(self) -> float:
        """The sleeved joint."""
        return self.under.between(*self.span_mm).greatest()

    def edges(self) -> list[float]:
        """Those of the sleeved joint."""
        return self.under.between(*self.span_mm).edges()

    def need_mm(self, x: float) -> tuple[float, str]:
        """The sleeve with the cover round it."""
        if not self.span_mm[0] <= x <= self.span_mm[1]:
            return 0.0, ""
        cover = self.job.rules.number("resin.cover_mm")
        return self.under.at(x).greatest_mm + 2 * cover, "the sleeved joint is too thick for it"

    def displaced(self, cut: CutShell) -> list[Stretch]:
        """The joint as it lies, and its spacers."""
        a, b = cut.reach_mm
        found = _stretches(self.under, max(a, self.under.start_mm), min(b, self.under.end_mm))
        return [*found, *_spacers(self.job, self.spacers)]


def _spacers(job: Job, count: int) -> list[Stretch]:
    """The spacers, each as a cylinder of its volume, 1 mm long."""
    mm3 = job.rules.number("resin.spacer_ml") / ML_PER_MM3
    return [(1.0, sqrt(4 * mm3 / pi), count)]


def _stretches(p: Profile, x1: float, x2: float) -> list[Stretch]:
    xs = [x1, *(x for x in p.edges() if x1 < x < x2), x2]
    return [(q - o, p.at((o + q) / 2).greatest_mm, 1) for o, q in pairwise(xs) if q - o > 1e-9]
