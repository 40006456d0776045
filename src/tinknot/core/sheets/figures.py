"""The figures of a leaflet: mm against inch."""

import re
from collections.abc import Iterator

from tinknot.core.errors import InputError
from tinknot.core.figures import mm
from tinknot.core.joint.leaflet import Figure, Leaflet
from tinknot.core.sheets.doubt import Doubt
from tinknot.core.tolerance import at_most

MM_PER_INCH = 25.4


def agrees(figure: Figure) -> bool:
    """Whether mm and inch are one the rounding of the other: mm to its last printed figure, inches to the
    fraction printed (never coarser than 1/8), or the trade's 25 mm for an inch.

    >>> [agrees(Figure(mm=mm, inch=inch)) for mm, inch in ((90, '3 1/2"'), (100, '4"'), (10, '1/2"'))]
    [True, True, False]
    """
    inch = figure.inch_mm
    if figure.mm is None or inch is None:
        return True
    half = 0.5 * _step(f"{figure.mm:.6f}".rstrip("0"))
    apart = abs(figure.mm - inch)
    if at_most(apart, half) or at_most(apart, 0.5 * MM_PER_INCH * min(_step(figure.inch or ""), 1 / 8)):
        return True
    return at_most(abs(figure.mm - inch / MM_PER_INCH * 25), half)


def _step(text: str) -> float:
    """The finest step a printed figure shows: 1/16 for `1 3/16"`, 0.1 for `0.5`, 1 for a whole number."""
    if found := re.search(r"/\s*(\d+)", text):
        return 1 / max(1, int(found[1]))
    found = re.search(r"[.,](\d+)", text)
    return float(10 ** -len(found[1])) if found else 1.0


def figures_agree(leaflet: Leaflet) -> Iterator[Doubt]:
    """Every figure printed in both units, and every inch text that is no length."""
    for path, figure in _all_figures(leaflet):
        try:
            ok = agrees(figure)
        except InputError as fault:
            yield Doubt(path=f"{path}/inch", message=fault.errors[0].message)
            continue
        if figure.to_mm is not None and not at_most(figure.value_mm, figure.to_mm):
            yield Doubt(path=path, message="is a range that runs backward: the lesser figure first")
        if not ok:
            inch = figure.inch_mm or 0.0
            yield Doubt(
                path=path,
                message=(
                    f"{mm(figure.mm):g} mm and {figure.inch} are not the same: {figure.inch} is"
                    f" {mm(inch):.1f} mm"
                ),
            )


def _all_figures(leaflet: Leaflet) -> Iterator[tuple[str, Figure]]:
    for key in ("per_remake", "least_loop", "lead", "node_most"):
        figure = getattr(leaflet, key)
        if figure is not None:
            yield f"/leaflet/{key}", figure
    for group, keys in (
        ("parts", ("opens", "closes", "length")),
        ("layers", ("length", "reach")),
    ):
        for i, item in enumerate(getattr(leaflet, group)):
            for key in keys:
                if (figure := getattr(item, key)) is not None:
                    yield f"/leaflet/{group}/{i}/{key}", figure
