"""The joint's longitudinal section and its cross-sections, in mm: what every drawing is made from."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from tinknot.core.drawing.loop import Put, covers, draw, outermost
from tinknot.core.drawing.model import Body, Circle, Dimension, Section, conductor_kind
from tinknot.core.drawing.stage import Axis, Stage, level
from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.families.straight.covers import OUTER, SHELL
from tinknot.core.families.straight.laying import Place, arrangement, path_of, places_of
from tinknot.core.joint.cable import CableEnd, Core
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.bond import EarthBond
from tinknot.core.layers.connectors import Connector
from tinknot.core.layers.preparation import Bared, Preparation, bared

BEYOND_MM = 60.0  # of cable drawn beyond the last cover
Span = tuple[float, float]


@dataclass(frozen=True)
class CableDrawn:
    """A cable beyond its crutch: sheath, armour, bedding, cores. `inner` is the outside before anything is
    put on it; `side` −1 is A; distances are mm from the joint's centre, `reach_mm` how far it is drawn;
    `fold`: where its armour lies bent back, if it does; `standing`: what stands in front of its sheath
    cut."""

    end: CableEnd
    inner: Profile
    side: int
    cut_mm: float
    crutch_mm: float
    reach_mm: float
    fold: Span | None
    standing: tuple[Bared, ...] = ()

    def _from(self, near: float) -> Span:
        a, b = sorted((self.side * near, self.side * self.reach_mm))
        return a, b

    def bodies(self) -> Iterator[Body]:
        """Bedding, folded armour and sheath, one before the other."""
        e = self.end

        def of(kind: str, span: Span, od: float, near: float) -> Body:
            return level(kind, span, od, id=f"{kind}-{e.name}", end=e.name, depth_mm=near)

        for n, x in enumerate(self.standing):
            yield of(x.what, self._from(self.cut_mm - x.to_mm), x.outside.greatest_mm, -99.5 - 0.1 * n)
        if self.fold:
            yield of("armour", self.fold, e.folded_mm, -98.5)
        yield of("sheath", self._from(self.cut_mm), e.sheath.greatest_mm, -99)

    def rings(self, x: float) -> Iterator[Circle]:
        """All there is beyond the crutch."""
        if x * self.side < 0 or abs(x) <= abs(self.crutch_mm):
            return
        e, on_sheath = self.end, abs(x) > self.cut_mm
        if on_sheath and self.fold and self.fold[0] <= x <= self.fold[1]:
            yield Circle(kind="armour", od_mm=e.folded_mm, inside_mm=e.sheath.greatest_mm)
        if on_sheath:
            yield Circle(kind="sheath", od_mm=e.sheath.greatest_mm)
            if e.armour:
                wide = e.armour.bedding.greatest_mm + 2 * e.armour.thickness_mm
                yield Circle(kind="armour", od_mm=wide)
        for layer in self.standing:
            if abs(x) > self.cut_mm - layer.to_mm:
                yield Circle(kind=layer.what, od_mm=layer.outside.greatest_mm)
        ods = tuple(c.insulation.greatest_mm for c in e.cores)
        for core, (cx, cy) in zip(e.cores, arrangement(ods), strict=True):
            at = {"core": core.name, "x_mm": round(cx, 3), "y_mm": round(cy, 3)}
            yield Circle(kind="insulation", colour=core.colour or "", od_mm=core.insulation.greatest_mm, **at)
            yield Circle(kind=conductor_kind(core.metal), od_mm=core.conductor.greatest_mm, **at)

    def edges(self) -> Iterable[float]:
        """Where its outside changes."""
        return self.inner.edges()


@dataclass(frozen=True)
class CoreDrawn:
    """A core between both crutches, joined: as both `ends` have it, with its `connector` and what insulates
    it again, where it goes (`axis`)."""

    ends: tuple[Core, Core]
    connector: Connector
    over: tuple[Put, ...]
    joined: Stage
    crutch_mm: Span

    def bodies(self) -> Iterator[Body]:
        """Insulation on both sides, then what is put on it."""
        c, bare = self.connector.centre_mm, self.connector.bare_mm
        spans = ((self.crutch_mm[0], c - bare), (c + bare, self.crutch_mm[1]))
        for n, (core, end, (x1, x2)) in enumerate(zip(self.ends, ("A", "B"), spans, strict=True), 1):
            name = self.connector.core
            yield Body(
                id=f"insulation-{name}-{n}",
                kind="insulation",
                core=name,
                end=end,
                colour=core.colour or self.ends[0].colour or "",
                depth_mm=self.joined.depth_mm,
                **self.joined.band(x1, x2, core.insulation.greatest_mm),
            )
        yield from self.connector.bodies(self.joined)
        for put in self.over:
            yield from put.bodies()

    def rings(self, x: float) -> Iterator[Circle]:
        """What insulates it again, connector or insulation, conductor."""
        at = self.joined.axis.at(x)
        if at is None:
            return
        name, offset = self.connector.core, abs(x - self.connector.centre_mm)
        for put in reversed(self.over):
            yield from put.rings(x)
        yield from self.connector.rings(self.joined, x)
        core = self.ends[0 if x < self.connector.centre_mm else 1]
        if offset >= self.connector.bare_mm:
            colour = core.colour or ""
            yield Circle(kind="insulation", colour=colour, core=name, od_mm=core.insulation.greatest_mm, **at)
        yield Circle(kind=conductor_kind(core.metal), core=name, od_mm=core.conductor.greatest_mm, **at)

    def edges(self) -> Iterable[float]:
        """Where the cores change their places."""
        return [x for x1, x2, _ in self.joined.axis.centres for x in (x1, x2)]


def _core(s: CableSolution, i: int, places: list[Place], connector: Connector, plain: set[Span]) -> CoreDrawn:
    """A core with what lies on it; what insulates it again is drawn as one, between metal and outside."""
    a, b = s.ends[0].cores[i], s.ends[1].cores[i]
    path = path_of(places, i, plain)
    centres = tuple((p.x1, p.x2, (round(p.centres[i][0], 3), round(p.centres[i][1], 3))) for p in places)
    axis, depth = Axis(tuple(path), centres), round(path[len(path) // 2][2], 3)
    c, bare = connector.centre_mm, connector.bare_mm
    cores = Profile.of_stretches(
        (x1, x2, d.greatest_mm, d.least_mm)
        for x1, x2, d in (
            (s.crutch_mm[0], c - bare, a.insulation),
            (c - bare, c, a.conductor),
            (c, c + bare, b.conductor),
            (c + bare, s.crutch_mm[1], b.insulation),
        )
    )
    metal, span = connector.apply(cores), (c - connector.half_mm, c + connector.half_mm)
    over = tuple(
        Put(x, Stage(metal, s.tracks[i], lies.span_mm, depth, axis=axis))
        for x in s.layers
        if x is not connector and (lies := x.lies()) and lies.core == connector.core
    )
    return CoreDrawn(
        (a, b), connector, over, Stage(cores, metal, span, depth, axis=axis), crutch_mm=s.crutch_mm
    )


def _dimensions(s: CableSolution, over: Sequence[Put], half: float) -> list[Dimension]:
    found = [
        Dimension(
            kind="gap", from_mm=-half, to_mm=half, value_mm=2 * half, label=f"between the {s.skin} cuts"
        )
    ]
    spans = [p.stage.span_mm for p in over]
    a, b = min(x for x, _ in spans), max(x for _, x in spans)
    found.append(Dimension(kind="whole", from_mm=a, to_mm=b, value_mm=b - a))
    outer = next((x for x in s.layers if x.id in (OUTER, SHELL)), None)
    lies = outer.lies() if outer else None
    if outer and lies:
        a, b = lies.span_mm
        what = "covered" if outer.id == OUTER else "in the shell"
        found.append(
            Dimension(kind="covered", from_mm=a, to_mm=b, value_mm=b - a, layer=outer.id, label=what)
        )
        found += [
            Dimension(
                kind="overlap", from_mm=p, to_mm=q, value_mm=q - p, layer=outer.id, label=f"on the {s.skin}"
            )
            for p, q in ((a, -half), (half, b))
        ]
    return found


def section(s: CableSolution) -> Section:
    """The drawing of a stack: finished cores, what covers them, and both cables."""
    assert s.inner is not None
    assert s.layout is not None
    half, over = s.layout.gap_mm / 2, covers(s.layers, s.inner, 99.0)
    places = places_of(s.tracks)
    plain = set.intersection(
        *({(p.x1, p.x2) for p in places if _plain(p, i, s.ends, t)} for i, t in enumerate(s.tracks))
    )
    low = min(p.stage.span_mm[0] for p in over) - BEYOND_MM
    high = max(p.stage.span_mm[1] for p in over) + BEYOND_MM
    held = next((x.holds for x in s.layers if isinstance(x, EarthBond)), ())
    folds = {h.end: h.span_mm for h in held if h.skin != "lead-sheath"}
    standing = {x.end.name: bared(x.end, x.rules) for x in s.layers if isinstance(x, Preparation)}
    cables = [
        CableDrawn(
            end,
            s.inner,
            side,
            half,
            crutch_mm=crutch,
            reach_mm=abs(far),
            fold=folds.get(end.name),
            standing=standing.get(end.name, ()),
        )
        for end, side, crutch, far in zip(s.ends, (-1, 1), s.crutch_mm, (low, high), strict=True)
    ]
    connectors = [x for x in s.layers if isinstance(x, Connector)]
    cores = [_core(s, i, places, x, plain=plain) for i, x in enumerate(connectors)]
    return draw(
        [*cables, *cores],
        over,
        (low, high),
        _dimensions(s, over, half),
        outside=outermost(over, s.inner),
    )


def _plain(p: Place, i: int, ends: tuple[CableEnd, CableEnd], track: Profile) -> bool:
    od = track.at((p.x1 + p.x2) / 2).greatest_mm
    return od in (ends[0].cores[i].insulation.greatest_mm, ends[1].cores[i].insulation.greatest_mm)
