"""Where the splices of a screened cable stand: units dealt to places, each unit's own splices apart."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from math import dist, hypot

from tinknot.core.choosing.place import Group, place
from tinknot.core.formulas.bundle import Point, bundle
from tinknot.core.joint.makeup import MakeUp
from tinknot.core.layers.screened.splice import Splice
from tinknot.core.rulebook import RuleBook


@dataclass(frozen=True)
class Layout:
    """Splices along the joint: `gap_mm` between the sheath cuts, x = 0 in its middle. `centres_mm`: of each
    core's splice, by unit and core; `splice_mm`, `barrel_mm`: lengths of a splice and of its metal;
    `spliced_mm`, `core_mm`: diameters of a splice shrunk and of a core."""

    gap_mm: float
    positions: int
    centres_mm: Mapping[str, Mapping[str, float]]
    splice_mm: float
    barrel_mm: float
    spliced_mm: float
    core_mm: float

    def cut_mm(self, end: str) -> dict[str, dict[str, float]]:
        """Each core's length from the sheath cut of an end, by unit and core."""
        half = self.gap_mm / 2
        side = 1 if end == "A" else -1
        return {u: {c: half + side * x for c, x in cores.items()} for u, cores in self.centres_mm.items()}

    @cached_property
    def edges(self) -> list[float]:
        """Every x at which a splice begins or ends, and both sheath cuts."""
        half = self.splice_mm / 2
        at = {
            x + side * half for cores in self.centres_mm.values() for x in cores.values() for side in (-1, 1)
        }
        return sorted({-self.gap_mm / 2, self.gap_mm / 2, *at})

    def ods(self, x: float) -> tuple[float, ...]:
        """The diameter of every core at x, spliced or not, in order."""
        half = self.splice_mm / 2
        return tuple(
            self.spliced_mm if abs(x - c) < half else self.core_mm
            for cores in self.centres_mm.values()
            for c in cores.values()
        )

    def bundle_mm(self, x: float) -> float:
        """The circle round all cores at x."""
        return bundle(sorted(self.ods(x), reverse=True)).enclosing_diameter_mm

    @cached_property
    def unit_mm(self) -> float:
        """The circle round a unit where it is thickest: one core spliced beside the others."""
        cores = len(next(iter(self.centres_mm.values())))
        return bundle([self.spliced_mm, *[self.core_mm] * (cores - 1)]).enclosing_diameter_mm

    @cached_property
    def places(self) -> list[Point]:
        """Where each core lies between the sheaths: toward the eye and up, mm, as its bundle is packed with
        all splices, drawn in to its greatest diameter."""
        found = bundle([self.spliced_mm] * len(self.ods(0.0)))
        share = self.greatest_mm / found.enclosing_diameter_mm
        packed = [(x * share, y * share) for x, y in found.centres_mm]
        return _by_units(packed, [len(cores) for cores in self.centres_mm.values()])

    @cached_property
    def greatest_mm(self) -> float:
        """The bundle's greatest diameter."""
        return max(self.bundle_mm((a + b) / 2) for a, b in pairwise(self.edges))


def _by_units(packed: Sequence[Point], units: Sequence[int]) -> list[Point]:
    """Places dealt to the cores, unit by unit, so that the cores of a unit lie beside each other: each unit
    begins with the outermost place that is left and goes on with the nearest to it."""
    left, found = list(packed), []
    for cores in units:
        first = max(left, key=lambda p: (round(hypot(*p), 6), p))
        mine = sorted(left, key=lambda p: (round(dist(p, first), 6), p))[:cores]
        left = [p for p in left if p not in mine]
        found += mine
    return found


def untwisted(
    layout: Layout, centres_mm: Mapping[str, float], lay_mm: float, lays_left: float
) -> tuple[float, float]:
    """Where a unit stays untwisted: over its splices and half of `lays_left` beyond them on either side,
    within the gap."""
    half, edge = layout.gap_mm / 2, layout.splice_mm / 2
    low, high = min(centres_mm.values()) - edge, max(centres_mm.values()) + edge
    stays = min(high - low + lays_left * lay_mm, layout.gap_mm)
    start = min(max(-half, low - lays_left * lay_mm / 2), half - stays)
    return start, start + stays


def laid(
    cable: MakeUp,
    positions: int,
    apart: str,
    splice: Splice,
    core_mm: float,
    rules: RuleBook,
    marker_mm: float = 0.0,
) -> Layout:
    """Units dealt to `positions` places; in a unit each splice stands half a splice (but never metal beside
    metal) or a whole one from the next. `marker_mm`: how long a marker is that waits on a core."""
    between = rules.number("stagger.between_mm")
    whole = splice.length_mm + between
    step = whole if apart == "full" else max(splice.metal_mm + between, splice.length_mm / 2)
    spread = (cable.per_unit - 1) * step
    waits = splice.threaded_mm is not None  # a sleeve of its own, on the long side of the core next to it
    away = f"park.keep_away_{'heat' if splice.soldered else 'crimp'}_mm"
    group = Group(
        members=cable.per_unit,
        connector_mm=splice.metal_mm,
        covered_mm=splice.length_mm + spread,
        supplied_mm=(splice.threaded_mm or 0.0) + marker_mm,
        strip_mm=splice.strip_mm + (spread / 2 if waits else 0.0),
        keep_away_mm=rules.number(away) if waits else 0.0,
    )
    placed = place(
        [group] * cable.units,
        steps=positions,
        clear_core_mm=rules.number("stagger.clear_core_mm"),
        between_mm=between,
    )
    centres = {}
    for n, at in enumerate(placed.places):
        first = at.centre_mm - placed.gap_mm / 2 - (cable.per_unit - 1) * step / 2
        centres[cable.number(n)] = {name: first + i * step for i, name in enumerate(cable.unit(n))}
    spliced = max(splice.tube.od_mm(core_mm), splice.tube.od_mm(splice.metal_od_mm))
    return Layout(placed.gap_mm, positions, centres, splice.length_mm, splice.metal_mm, spliced, core_mm)
