"""The drawing of a tap: the main's cores side by side, connectors on them, the tap's cores beneath."""

from itertools import pairwise

from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.joint.drawing import Body, Circle, CrossSection, Dimension, Section
from tinknot.core.layers.taps import EndCap, Piercing

BEYOND_MM = 400.0  # cable drawn on either side


def tap_section(s: CableSolution) -> Section:
    """To scale, in mm: each core at its own height, x along the main, the tap running off on side B."""
    taps = [x for x in s.layers if isinstance(x, Piercing)]
    caps = {x.core: x for x in s.layers if isinstance(x, EndCap)}
    low, high = s.crutch_mm[0] - BEYOND_MM, s.crutch_mm[1] + BEYOND_MM
    pitch = max(t.connector.od_mm for t in taps) * 1.3
    heights = {t.core: (len(taps) - 1) * pitch / 2 - n * pitch for n, t in enumerate(taps)}
    bodies: list[Body] = []
    for t in taps:
        bodies += _bodies(t, caps.get(t.core), heights[t.core], low, high)
    edges = sorted(
        {
            low,
            high,
            *(
                x
                for t in taps
                for x in (t.centre_mm - t.connector.length_mm / 2, t.centre_mm + t.connector.length_mm / 2)
            ),
        }
    )
    crossings = [_crossing(taps, heights, a, b) for a, b in pairwise(edges)]
    a, b = s.crutch_mm
    return Section(
        from_mm=low,
        to_mm=high,
        bodies=bodies,
        crossings=crossings,
        dimensions=[Dimension(kind="covered", from_mm=a, to_mm=b, value_mm=b - a, label="along the main")],
    )


def _drop(t: Piercing) -> float:
    """How far the tap lies under the main, centre to centre, mm."""
    return (t.main.insulation.greatest_mm + t.tap.insulation.greatest_mm) / 2 + 2


def _bodies(t: Piercing, cap: EndCap | None, y: float, low: float, high: float) -> list[Body]:
    half = t.connector.length_mm / 2

    def band(kind: str, x1: float, x2: float, middle: float, od: float, depth: float, **more: str) -> Body:
        return Body(
            id=f"{kind}-{t.core}-{x1:.0f}",
            kind=kind,
            core=t.core,
            depth_mm=depth,
            top=[(x1, middle + od / 2), (x2, middle + od / 2)],
            bottom=[(x1, middle - od / 2), (x2, middle - od / 2)],
            **more,
        )

    under = y - _drop(t)
    start = t.centre_mm - half
    found = [
        band(
            "insulation", low, high, y, t.main.insulation.greatest_mm, 0, end="A", colour=t.main.colour or ""
        ),
        band(
            "insulation",
            start - 5,
            high,
            under,
            t.tap.insulation.greatest_mm,
            0.1,
            end="B",
            colour=t.tap.colour or "",
        ),
        band("connector", start, t.centre_mm + half, y - _drop(t) / 2, t.connector.od_mm, 1, layer=t.id),
    ]
    if cap is not None:
        found.append(
            band(
                "end-cap",
                start - 8,
                start - 0.5,
                under,
                cap.tube.od_mm(t.tap.insulation.greatest_mm),
                0.5,
                layer=cap.id,
            )
        )
    return found


def _crossing(taps: list[Piercing], heights: dict[str, float], x1: float, x2: float) -> CrossSection:
    x, circles = (x1 + x2) / 2, []
    for t in taps:
        y = heights[t.core]
        if abs(x - t.centre_mm) < t.connector.length_mm / 2:
            circles.append(
                Circle(
                    kind="connector", layer=t.id, core=t.core, y_mm=y - _drop(t) / 2, od_mm=t.connector.od_mm
                )
            )
        circles.append(
            Circle(
                kind="insulation",
                core=t.core,
                colour=t.main.colour or "",
                y_mm=y,
                od_mm=t.main.insulation.greatest_mm,
            )
        )
        circles.append(Circle(kind="conductor", core=t.core, y_mm=y, od_mm=t.main.conductor.greatest_mm))
        if x > t.centre_mm - t.connector.length_mm / 2:
            circles.append(
                Circle(
                    kind="insulation",
                    core=t.core,
                    colour=t.tap.colour or "",
                    y_mm=y - _drop(t),
                    od_mm=t.tap.insulation.greatest_mm,
                )
            )
            circles.append(
                Circle(kind="conductor", core=t.core, y_mm=y - _drop(t), od_mm=t.tap.conductor.greatest_mm)
            )
    outside = max(abs(c.y_mm) + c.od_mm / 2 for c in circles) * 2
    return CrossSection(from_mm=x1, to_mm=x2, outside_mm=outside, circles=circles)
