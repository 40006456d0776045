"""The joint's longitudinal section and its cross-sections, in mm: what every drawing is made from."""

from collections.abc import Iterator, Sequence

from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.families.straight.crossings import crossings_of
from tinknot.core.families.straight.laying import Place, band, bridged, follow, path_of, places_of, rounded
from tinknot.core.families.straight.stages import Insulation, Stage, over_core, stages_of
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.drawing import Body, Dimension, Section
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.bond import EarthBond
from tinknot.core.layers.connectors import Connector, Crimp, ShearBolt
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.sleeves import CoreSleeve, CoverSleeve

BEYOND_MM = 60.0  # of cable drawn beyond the last cover


def _core_bodies(
    i: int,
    s: CableSolution,
    joint: Connector,
    over: Sequence[Insulation],
    path: list[tuple[float, float, float]],
) -> Iterator[Body]:
    """Insulation, connector, conductors, and what insulates the core again."""
    name, colour = joint.core, s.ends[0].cores[i].colour or ""
    depth, c = path[len(path) // 2][2], joint.centre_mm
    bare = joint.half_mm + joint.rules.number("cut.strip_extra_mm")
    number = 0

    def piece(kind: str, x1: float, x2: float, od: float, **more: str) -> Body:
        nonlocal number
        number += 1
        top, bottom = band(path, x1, x2, od)
        return Body(
            id=f"{kind}-{name}-{number}",
            kind=kind,
            core=name,
            depth_mm=round(depth, 3),
            top=rounded(top),
            bottom=rounded(bottom),
            **more,
        )

    for end, x1, x2 in ((s.ends[0], s.crutch_mm[0], c - bare), (s.ends[1], c + bare, s.crutch_mm[1])):
        yield piece(
            "insulation",
            x1,
            x2,
            end.cores[i].insulation.greatest_mm,
            end=end.name,
            colour=end.cores[i].colour or colour,
        )
    yield piece("connector", c - joint.half_mm, c + joint.half_mm, joint.connector.od_mm, layer=joint.id)
    for side, end in ((-1, s.ends[0]), (1, s.ends[1])):
        yield piece(
            "conductor",
            min(c, c + side * bare),
            max(c, c + side * bare),
            end.cores[i].conductor.greatest_mm,
            end=end.name,
            layer=joint.id,
        )
        for at, width in _marks(joint, side):
            yield piece(
                "press",
                at - width / 2,
                at + width / 2,
                joint.connector.od_mm * 0.8,
                end=end.name,
                layer=joint.id,
            )
    track = s.tracks[i]
    for x in over:
        top, bottom = follow(path, track.between(*x.span_mm))
        kind = (
            "core-sleeve" if isinstance(x, CoreSleeve) else "mica" if x.tape.kind == "mica" else "core-tape"
        )
        yield Body(
            id=x.id,
            kind=kind,
            core=name,
            layer=x.id,
            depth_mm=round(depth, 3),
            top=rounded(top),
            bottom=rounded(bottom),
        )


def _marks(joint: Connector, side: int) -> list[tuple[float, float]]:
    """Presses or bolts on one side, (x, width) in mm."""
    count = (
        joint.connector.presses
        if isinstance(joint, Crimp)
        else joint.connector.bolts
        if isinstance(joint, ShearBolt)
        else 0
    )
    pitch = joint.connector.insertion_mm / (count + 1)
    reach = joint.half_mm - joint.connector.growth_mm
    return [(joint.centre_mm + side * (reach - pitch * (n + 1)), min(5.0, pitch * 0.6)) for n in range(count)]


def _end_bodies(s: CableSolution, end: CableEnd, side: int, low: float) -> Iterator[Body]:
    """Sheath, folded armour and bedding of one end; `side` −1 is A."""
    assert s.layout is not None
    cut, crutch = s.layout.gap_mm / 2, abs(s.crutch_mm[0] if side < 0 else s.crutch_mm[1])

    def level(kind: str, x1: float, x2: float, od: float, depth: float) -> Body:
        a, b = sorted((side * x1, side * x2))
        return Body(
            id=f"{kind}-{end.name}",
            kind=kind,
            end=end.name,
            depth_mm=depth,
            top=[(a, od / 2), (b, od / 2)],
            bottom=[(a, -od / 2), (b, -od / 2)],
        )

    if end.armour:
        yield level("bedding", crutch, low, end.bed.greatest_mm, -99.5)
        fold = next(x.folds[end.name] for x in s.layers if isinstance(x, EarthBond))
        yield level("armour", abs(fold[0]), abs(fold[1]), end.folded_mm, -98.5)
    yield level("sheath", cut, low, end.sheath.greatest_mm, -99)


def _hollow(stage: Stage, kind: str, depth: float) -> Body:
    """A cover cut open: upper wall from its outside to its bore; the lower one mirrors it."""
    over = stage.over.between(*stage.span)
    if isinstance(stage.layer, ResinShell):
        bore = stage.layer.cut.bore()
        top = [(p.x_mm, p.greatest_mm / 2) for p in over.stations]
        bottom = [(p.x_mm, p.greatest_mm / 2) for p in bore.stations]
    else:
        free = stage.layer.tube.recovered_id_mm if isinstance(stage.layer, CoverSleeve) else 0.0
        seat = stage.under.between(*stage.span)
        top = bridged([(p.x_mm, p.greatest_mm / 2) for p in over.stations])
        bottom = bridged([(p.x_mm, max(p.greatest_mm, free) / 2) for p in seat.stations])
    return Body(
        id=stage.layer.id,
        kind=kind,
        layer=stage.layer.id,
        depth_mm=depth,
        top=rounded(top),
        bottom=rounded(bottom),
    )


def _cover_bodies(stage: Stage, depth: float) -> Iterator[Body]:
    x = stage.layer
    if isinstance(x, EarthBond):
        if x.mesh:
            yield _hollow(stage, "mesh", depth)
        seat = stage.under.between(*stage.span)
        under = bridged([(p.x_mm, p.greatest_mm / 2) for p in seat.stations])
        thick = x.strap.thickness_mm
        yield Body(
            id=f"{x.id}-strap",
            kind="strap",
            layer=x.id,
            depth_mm=depth,
            top=rounded([(a, r + thick) for a, r in under]),
            bottom=rounded(under),
        )
        for end, (clamp, _) in x.clamps.items():
            middle, half = sum(x.folds[end]) / 2, clamp.width_mm / 2
            r = stage.over.at(middle).greatest_mm / 2
            yield Body(
                id=f"{x.id}-clamp-{end}",
                kind="clamp",
                layer=x.id,
                end=end,
                depth_mm=depth + 0.1,
                top=[(middle - half, r), (middle + half, r)],
                bottom=[(middle - half, -r), (middle + half, -r)],
            )
    elif isinstance(x, ResinShell):
        bore = x.cut.bore()
        edge = [(p.x_mm, p.greatest_mm / 2) for p in bore.stations]
        yield Body(
            id=f"{x.id}-resin",
            kind="resin",
            layer=x.id,
            depth_mm=depth - 0.1,
            top=rounded(edge),
            bottom=rounded([(p, -r) for p, r in edge]),
        )
        yield _hollow(stage, "shell", depth)
    elif isinstance(x, CoverSleeve):
        yield _hollow(stage, "end-piece" if x.id.startswith("end-") else x.id, depth)
    else:
        yield _hollow(stage, "mastic" if x.tape.kind == "mastic" else "build-up", depth)


def _dimensions(s: CableSolution, stages: Sequence[Stage]) -> list[Dimension]:
    assert s.layout is not None
    half = s.layout.gap_mm / 2
    found = [
        Dimension(kind="gap", from_mm=-half, to_mm=half, value_mm=2 * half, label="between the sheath cuts")
    ]
    a, b = min(g.span[0] for g in stages), max(g.span[1] for g in stages)
    found.append(Dimension(kind="whole", from_mm=a, to_mm=b, value_mm=b - a))
    outer = next((g for g in stages if g.layer.id in ("outer-sleeve", "shell")), None)
    if outer:
        a, b = outer.span
        what = "covered" if outer.layer.id == "outer-sleeve" else "in the shell"
        over = ((a, -half), (half, b))
        found.append(
            Dimension(kind="covered", from_mm=a, to_mm=b, value_mm=b - a, layer=outer.layer.id, label=what)
        )
        found += [
            Dimension(
                kind="overlap",
                from_mm=p,
                to_mm=q,
                value_mm=q - p,
                layer=outer.layer.id,
                label="on the sheath",
            )
            for p, q in over
        ]
    return found


def section(s: CableSolution) -> Section:
    """The drawing of a stack: finished cores, what covers them, and both cables."""
    inner = s.inner
    assert inner is not None
    joints = [x for x in s.layers if isinstance(x, Connector)]
    stages = stages_of(s)
    places = places_of(s.tracks)
    plain = set.intersection(
        *({(p.x1, p.x2) for p in places if _plain(p, i, s.ends, t)} for i, t in enumerate(s.tracks))
    )
    low = min(g.span[0] for g in stages) - BEYOND_MM
    high = max(g.span[1] for g in stages) + BEYOND_MM
    bodies = [
        b
        for end, side, far in ((s.ends[0], -1, -low), (s.ends[1], 1, high))
        for b in _end_bodies(s, end, side, far)
    ]
    for i, joint in enumerate(joints):
        bodies += _core_bodies(i, s, joint, over_core(s.layers, joint.core), path_of(places, i, plain))
    for n, stage in enumerate(stages):
        bodies += _cover_bodies(stage, 99.0 + n)
    return Section(
        from_mm=low,
        to_mm=high,
        bodies=bodies,
        crossings=crossings_of(s, stages, joints, places, (low, high)),
        dimensions=_dimensions(s, stages),
    )


def _plain(p: Place, i: int, ends: tuple[CableEnd, CableEnd], track: Profile) -> bool:
    od = track.at((p.x1 + p.x2) / 2).greatest_mm
    return od in (ends[0].cores[i].insulation.greatest_mm, ends[1].cores[i].insulation.greatest_mm)
