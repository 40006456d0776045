"""The drawing of a jacket repair: the cable with its damage, what fills it and what closes it."""

from itertools import pairwise

from tinknot.core.families.jacket.solution import JacketSolution
from tinknot.core.joint.cable import Round
from tinknot.core.joint.drawing import Appearance, Body, Circle, CrossSection, Dimension, Section
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer

BEYOND_MM = 60.0  # of cable drawn beyond the repair
KINDS = {"fill": "mastic", "repair-sleeve": "repair-sleeve", "wrap": "repair-tape"}  # by what a layer is here
LOOKS = {
    "repair-sleeve": Appearance(material="sleeve", form="hollow", said="repair sleeve", sealed=True),
    "repair-tape": Appearance(material="tape", form="hollow", said="tape"),
    "sheath": Appearance(material="sheath", said="jacket", role="cable"),
    "damage": Appearance(material="bedding", said="what lies under the jacket"),
    "scratch": Appearance(material="sheath", said="jacket"),
}


def _band(name: str, kind: str, end: str, x1: float, x2: float, od: float) -> Body:
    return Body(
        id=name,
        kind=kind,
        end=end,
        depth_mm=-99.0,
        top=[(x1, od / 2), (x2, od / 2)],
        bottom=[(x1, -od / 2), (x2, -od / 2)],
    )


def _covers(s: JacketSolution) -> list[tuple[Layer, tuple[float, float], Profile, Profile]]:
    """What is put on, inside out: layer, span, profile under it and over it."""
    found, under = [], s.inner
    for x in s.layers:
        if x.id in KINDS:
            span = s.hole if x.id == "fill" else (s.seat or s.hole)
            over = x.apply(under)
            found.append((x, span, under, over))
            under = over
    return found


def section(s: JacketSolution, sheath: Round) -> Section:
    """To scale, mm: x = 0 in the middle of the damage, A on the negative side."""
    a, b = s.hole
    seat = s.seat or s.hole
    low, high = seat[0] - BEYOND_MM, seat[1] + BEYOND_MM
    under = s.inner.at(0.0).greatest_mm
    bodies = [
        _band("sheath-A", "sheath", "A", low, a, sheath.greatest_mm),
        _band("damage", "damage" if under < sheath.greatest_mm else "scratch", "", a, b, under),
        _band("sheath-B", "sheath", "B", b, high, sheath.greatest_mm),
    ]
    covers = _covers(s)
    for n, (layer, span, below, over) in enumerate(covers, 1):
        bodies.append(
            Body(
                id=layer.id,
                kind=KINDS[layer.id],
                layer=layer.id,
                depth_mm=99.0 + n,
                top=[(p.x_mm, p.greatest_mm / 2) for p in over.between(*span).stations],
                bottom=[(p.x_mm, p.greatest_mm / 2) for p in below.between(*span).stations],
            )
        )
    edges = sorted({low, high, a, b, *(x for _, span, _, _ in covers for x in span)})
    crossings = []
    for x1, x2 in pairwise(edges):
        x = (x1 + x2) / 2
        circles = [
            Circle(
                kind=KINDS[layer.id],
                layer=layer.id,
                od_mm=over.at(x).greatest_mm,
                inside_mm=below.at(x).greatest_mm,
            )
            for layer, span, below, over in reversed(covers)
            if span[0] <= x <= span[1]
        ]
        bare = s.inner.at(x).greatest_mm
        circles.append(Circle(kind="damage" if bare < sheath.greatest_mm else "sheath", od_mm=bare))
        crossings.append(CrossSection(from_mm=x1, to_mm=x2, outside_mm=circles[0].od_mm, circles=circles))
    dimensions = [Dimension(kind="gap", from_mm=a, to_mm=b, value_mm=b - a, label="damaged")]
    if s.seat:
        dimensions.append(
            Dimension(
                kind="covered", from_mm=seat[0], to_mm=seat[1], value_mm=seat[1] - seat[0], label="covered"
            )
        )
        dimensions += [
            Dimension(kind="overlap", from_mm=p, to_mm=q, value_mm=q - p, label="on the jacket")
            for p, q in ((seat[0], a), (b, seat[1]))
        ]
    return Section(
        from_mm=low, to_mm=high, bodies=bodies, crossings=crossings, dimensions=dimensions, looks=LOOKS
    )
