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
class Size:
    """Of one core and its splice, mm: lengths of the splice and of its metal, diameters of the splice shrunk
    and of the core on A and on B."""

    splice_mm: float
    barrel_mm: float
    spliced_mm: float
    cores_mm: tuple[float, float]

    def core_mm(self, off_mm: float) -> float:
        """The core `off_mm` from the middle of its splice, toward B; in the middle the thicker of both."""
        return max(self.cores_mm) if off_mm == 0 else self.cores_mm[off_mm > 0]


@dataclass(frozen=True)
class Layout:
    """Splices along the joint: `gap_mm` between the sheath cuts, x = 0 in its middle. `centres_mm`: of each
    core's splice, by unit and core; `sizes`: of the cores of each unit."""

    gap_mm: float
    positions: int
    centres_mm: Mapping[str, Mapping[str, float]]
    sizes: Mapping[str, Size]

    def cut_mm(self, end: str) -> dict[str, dict[str, float]]:
        """Each core's length from the sheath cut of an end, by unit and core."""
        half = self.gap_mm / 2
        side = 1 if end == "A" else -1
        return {u: {c: half + side * x for c, x in cores.items()} for u, cores in self.centres_mm.items()}

    @cached_property
    def cores(self) -> list[tuple[str, str, float, Size]]:
        """Every core: its unit, its name, where its splice stands, its size."""
        return [(u, c, x, self.sizes[u]) for u, cores in self.centres_mm.items() for c, x in cores.items()]

    @cached_property
    def edges(self) -> list[float]:
        """Every x at which a splice begins or ends, and both sheath cuts."""
        at = {x + side * size.splice_mm / 2 for _, _, x, size in self.cores for side in (-1, 1)}
        return sorted({-self.gap_mm / 2, self.gap_mm / 2, *at})

    def ods(self, x: float) -> tuple[float, ...]:
        """The diameter of every core at x, spliced or not, in order."""
        return tuple(
            size.spliced_mm if abs(x - at) < size.splice_mm / 2 else size.core_mm(x - at)
            for _, _, at, size in self.cores
        )

    def bundle_mm(self, x: float) -> float:
        """The circle round all cores at x."""
        return bundle(sorted(self.ods(x), reverse=True)).enclosing_diameter_mm

    def unit_mm(self, unit: str) -> float:
        """The circle round a unit where it is thickest: one core spliced beside the others."""
        size = self.sizes[unit]
        others = len(self.centres_mm[unit]) - 1
        return bundle([size.spliced_mm, *[max(size.cores_mm)] * others]).enclosing_diameter_mm

    @cached_property
    def all_spliced_mm(self) -> float:
        """The circle round all splices, if they stood beside each other."""
        return bundle([size.spliced_mm for _, _, _, size in self.cores]).enclosing_diameter_mm

    @cached_property
    def places(self) -> list[Point]:
        """Where each core lies between the sheaths: toward the eye and up, mm, as its bundle is packed with
        all splices, drawn in to its greatest diameter."""
        ods = [size.spliced_mm for _, _, _, size in self.cores]
        share = self.greatest_mm / self.all_spliced_mm
        packed = [(x * share, y * share) for x, y in bundle(ods).centres_mm]
        return _by_units(packed, ods, [len(cores) for cores in self.centres_mm.values()])

    @cached_property
    def greatest_mm(self) -> float:
        """The bundle's greatest diameter."""
        return max(self.bundle_mm((a + b) / 2) for a, b in pairwise(self.edges))


def _by_units(packed: Sequence[Point], ods: Sequence[float], units: Sequence[int]) -> list[Point]:
    """Places dealt to the cores, unit by unit, so that the cores of a unit lie beside each other: each unit
    begins with the outermost place of its size that is left and goes on with the nearest to it."""
    left: dict[float, list[Point]] = {}
    for at, od in zip(packed, ods, strict=True):
        left.setdefault(od, []).append(at)
    found: list[Point] = []
    for cores in units:
        mine = left[ods[len(found)]]
        first = max(mine, key=lambda p: (round(hypot(*p), 6), p))
        taken = sorted(mine, key=lambda p: (round(dist(p, first), 6), p))[:cores]
        left[ods[len(found)]] = [p for p in mine if p not in taken]
        found += taken
    return found


def untwisted(layout: Layout, unit: str, lay_mm: float, lays_left: float) -> tuple[float, float]:
    """Where a unit stays untwisted: one splice and `lays_left`, but never less than from its first splice to
    its last, within the gap. Source: domain 24, twist and polarity."""
    centres = layout.centres_mm[unit].values()
    half, long = layout.gap_mm / 2, layout.sizes[unit].splice_mm
    low, high = min(centres) - long / 2, max(centres) + long / 2
    stays = min(max(high - low, long + lays_left * lay_mm), layout.gap_mm)
    start = min(max(-half, (low + high - stays) / 2), half - stays)
    return start, start + stays


def laid(
    cable: MakeUp,
    positions: int,
    apart: str,
    splices: Sequence[Splice],
    cores_mm: Sequence[tuple[float, float]],
    rules: RuleBook,
    marker_mm: float = 0.0,
) -> Layout:
    """Units, each with its splice and over its cores' insulation on A and on B, dealt to `positions` places;
    in a unit each splice stands half a splice (but never metal beside metal) or a whole one from the next.
    `marker_mm`: how long a marker is that waits on a core."""
    between = rules.number("stagger.between_mm")

    def step(s: Splice) -> float:
        whole = s.length_mm + between
        return whole if apart == "full" else max(s.metal_mm + between, s.length_mm / 2)

    def group(s: Splice, cores: int) -> Group:
        spread = (cores - 1) * step(s)
        waits = s.threaded_mm is not None  # a sleeve of its own, on the long side of the core next to it
        away = f"park.keep_away_{'heat' if s.soldered else 'crimp'}_mm"
        return Group(
            members=cores,
            connector_mm=s.metal_mm,
            covered_mm=s.length_mm + spread,
            supplied_mm=(s.threaded_mm or 0.0) + marker_mm,
            strip_mm=s.strip_mm + (spread / 2 if waits else 0.0),
            keep_away_mm=rules.number(away) if waits else 0.0,
        )

    placed = place(
        [group(s, u.cores) for s, u in zip(splices, cable.members, strict=True)],
        steps=positions,
        clear_core_mm=rules.number("stagger.clear_core_mm"),
        between_mm=between,
    )
    centres, sizes = {}, {}
    for n, (at, s, ods) in enumerate(zip(placed.places, splices, cores_mm, strict=True)):
        names, number = cable.unit(n), cable.number(n)
        first = at.centre_mm - placed.gap_mm / 2 - (len(names) - 1) * step(s) / 2
        centres[number] = {name: first + i * step(s) for i, name in enumerate(names)}
        spliced = max(s.tube.od_mm(max(ods)), s.tube.od_mm(s.metal_od_mm))
        sizes[number] = Size(s.length_mm, s.metal_mm, spliced, ods)
    return Layout(placed.gap_mm, positions, centres, sizes)
