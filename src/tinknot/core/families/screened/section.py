"""The drawing of a screened cable's joint: both cables with their braid folded back, every core with its
splice where it stands, and what goes over them."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from tinknot.core.drawing.loop import covers, draw, outermost
from tinknot.core.drawing.model import Appearance, Body, Circle, Dimension, Point, Section
from tinknot.core.drawing.stage import level
from tinknot.core.families.moulded.looks import LOOKS as MOULDED_LOOKS
from tinknot.core.families.screened.layout import Layout, Size
from tinknot.core.families.screened.solution import ScreenedSolution
from tinknot.core.families.screened.twisted import Stretch, Twist
from tinknot.core.formulas.bundle import bundle_near, dealt

MOST_PRESSED = 24  # cores that are packed anew in every cut of the drawing
BEYOND_MM = 40.0  # of cable drawn beyond the outer sleeve
LOOKS = MOULDED_LOOKS | {
    "fold": Appearance(material="braid", said="braid folded back"),
    "screen": Appearance(material="braid", said="braid"),
    "inside": Appearance(material="bedding", said="cores"),
    "core": Appearance(material="core", said="cores", role="core"),
    "splice": Appearance(material="sleeve", form="ring", said="splice", see_through=0.5),
    "barrel": Appearance(material="metal", see_through=0.8),
    "foil": Appearance(material="mica", form="hollow", said="foil", see_through=0.5),
    "drain": Appearance(material="strand", said="drain wire"),
    "donor": Appearance(material="braid", form="hollow", said="donor braid", see_through=0.6),
    "solder-sleeve": Appearance(
        material="sleeve", form="hollow", said="solder sleeve", see_through=0.4, sealed=True
    ),
    "solder": Appearance(material="metal", form="hollow", said="solder"),
    "seal-ring": Appearance(material="resin", form="hollow", said="sealing ring"),
}


@dataclass(frozen=True)
class ScreenedCable:
    """One side up to its sheath cut. `side` −1 is A; lengths in mm."""

    end: str
    side: int
    sheath_mm: float
    braid_mm: float
    inside_mm: float
    cut_mm: float
    fold_mm: float
    reach_mm: float

    def _span(self, near: float, far: float) -> tuple[float, float]:
        a, b = sorted((self.side * near, self.side * far))
        return a, b

    def bodies(self) -> Iterator[Body]:
        """Sheath, and braid folded back over it."""
        span = self._span(self.cut_mm, self.reach_mm)
        yield level("sheath", span, self.sheath_mm, id=f"sheath-{self.end}", end=self.end, depth_mm=-99)
        if self.fold_mm:
            over = self._span(self.cut_mm, self.cut_mm + self.fold_mm)
            thick = self.sheath_mm + 2 * self.braid_mm
            yield level("fold", over, thick, id=f"fold-{self.end}", end=self.end, depth_mm=-98)

    def rings(self, x: float) -> Iterator[Circle]:
        """From the fold in to the cores."""
        off = self.side * x
        if off < self.cut_mm:
            return
        if self.fold_mm and off <= self.cut_mm + self.fold_mm:
            yield Circle(kind="fold", od_mm=self.sheath_mm + 2 * self.braid_mm, inside_mm=self.sheath_mm)
        yield Circle(kind="sheath", od_mm=self.sheath_mm)
        if self.braid_mm:
            yield Circle(kind="screen", od_mm=self.inside_mm + 2 * self.braid_mm)
        yield Circle(kind="inside", od_mm=self.inside_mm)

    def edges(self) -> Iterable[float]:
        """Sheath cut and fold."""
        return [self.side * self.cut_mm, self.side * (self.cut_mm + self.fold_mm)]


@dataclass(frozen=True)
class Cores:
    """Every core between both sheath cuts, each on its own line with its splice; `to_mm`: as far as it is
    seen, beyond the joint where side B is single wires."""

    layout: Layout
    centres: Sequence[Point]
    twist: Twist | None = None
    to_mm: float = 0.0

    def _each(self, centres: Sequence[Point]) -> Iterator[tuple[str, str, float, Size, Point]]:
        for (unit, core, x, size), at in zip(self.layout.cores, centres, strict=True):
            yield unit, core, x, size, at

    def _packed(self, x: float) -> Sequence[Point]:
        """Where the cores lie at x: pressed together from where they lie with all their splices; of very many
        as they are packed, each as near to its place as its size allows."""
        ods = self.layout.ods(x)
        return bundle_near(ods, self.centres) if len(ods) <= MOST_PRESSED else dealt(ods, self.centres)

    def bodies(self) -> Iterator[Body]:
        """Core by core, the nearest last."""
        for unit, core, x, size, (depth, y) in self._each(self.centres):
            for n, part in enumerate(self._core(unit, core)):
                a, b = size.cores_mm
                for side, line in [(0, part.line)] if a == b else _both_sides(part.line, x):
                    own = 2 * n + side if a != b else n
                    od, depth_mm = size.cores_mm[side], part.depth_mm
                    yield _tube("core", core, "", line, od=od, depth_mm=depth_mm, n=own)
            for kind, length, od in (
                ("splice", size.splice_mm, size.spliced_mm),
                ("barrel", size.barrel_mm, max(size.cores_mm)),
            ):
                line = [(x - length / 2, y), (x + length / 2, y)]
                yield _tube(kind, core, f"unit-{unit}", line, od=od, depth_mm=depth + 0.1)

    def _core(self, unit: str, core: str) -> Iterator[Stretch]:
        """A core from sheath to sheath: straight, or in the turns of its unit outside its splices."""
        centres = self.layout.centres_mm[unit]
        places = [at for u, _, _, _, at in self._each(self.centres) if u == unit]
        n = list(centres).index(core)
        if self.twist is not None and len(centres) > 1 and len(self.centres) <= MOST_PRESSED:
            yield from self.twist.parts(self.layout, unit, places, n)
            return
        depth, y = places[n]
        yield Stretch([(-self.layout.gap_mm / 2, y), (self.to_mm, y)], depth)

    def rings(self, x: float) -> Iterator[Circle]:
        """Each core, and the splice on it where it stands."""
        if not -self.layout.gap_mm / 2 <= x <= self.to_mm:
            return
        for unit, core, at, size, (cx, cy) in self._each(self._packed(x)):
            place = {"core": core, "x_mm": round(cx, 3), "y_mm": round(cy, 3)}
            if abs(x - at) < size.splice_mm / 2:
                yield Circle(kind="splice", layer=f"unit-{unit}", od_mm=size.spliced_mm, **place)
            yield Circle(kind="core", od_mm=size.core_mm(x - at), **place)

    def edges(self) -> Iterable[float]:
        """Those of every splice."""
        return self.layout.edges


def _both_sides(line: Sequence[Point], x: float) -> Iterator[tuple[int, list[Point]]]:
    """A line cut in two at x: 0 with what lies toward A, 1 with what lies toward B."""
    for side in (0, 1):
        mine = [p for p in line if (p[0] > x if side else p[0] < x)]
        if not mine:
            continue
        cut = len(mine) < len(line)
        y = next((p[1] for p in line if p[0] >= x), line[-1][1])
        yield side, ([(x, y), *mine] if side else [*mine, (x, y)]) if cut else mine


def _tube(
    kind: str, core: str, layer: str, line: Sequence[Point], od: float, depth_mm: float, n: int = 0
) -> Body:
    """Something round along a line."""
    return Body(
        id=f"{kind}-{core}" + (f"-{n}" if n else ""),
        kind=kind,
        core=core,
        colour=core if kind == "core" and not core[:1].isdigit() else "",
        layer=layer,
        depth_mm=depth_mm,
        top=[(x, y + od / 2) for x, y in line],
        bottom=[(x, y - od / 2) for x, y in line],
    )


def section(
    s: ScreenedSolution,
    sheath: tuple[float, float],
    braid_mm: float,
    inside_mm: float,
    twist: Twist | None,
    wires: bool = False,
) -> Section:
    """To scale, mm: x = 0 in the middle of the gap, A on the negative side; `wires`: side B has no sheath."""
    layout, inner = s.layout, s.inner
    assert layout is not None
    assert inner is not None
    low, high = s.seat or (-layout.gap_mm / 2, layout.gap_mm / 2)
    half, reach = layout.gap_mm / 2, (low - BEYOND_MM, high + BEYOND_MM)
    folds = [x for x in inner.edges() if abs(x) > half + 1e-6]
    fold = (
        min((-x - half for x in folds if x < 0), default=0.0),
        min((x - half for x in folds if x > 0), default=0.0),
    )
    ends = [
        ScreenedCable(
            name,
            side,
            sheath[n],
            braid_mm,
            inside_mm=inside_mm,
            cut_mm=half,
            fold_mm=fold[n] if braid_mm else 0.0,
            reach_mm=abs(reach[n]),
        )
        for n, (name, side) in enumerate((("A", -1), ("B", 1)))
    ]
    if wires:
        ends = ends[:1]
    cores = Cores(layout, layout.places, twist, reach[1] if wires else half)
    over = covers(s.layers, inner, 500.0)
    dimensions = [
        Dimension(kind="gap", from_mm=-half, to_mm=half, value_mm=layout.gap_mm, label="between the sheaths")
    ]
    if s.seat:
        dimensions.append(
            Dimension(kind="covered", from_mm=low, to_mm=high, value_mm=high - low, label="covered")
        )
    return draw([*ends, cores], over, reach, dimensions, outside=outermost(over, inner), looks=LOOKS)
