"""Whether a part of a leaflet goes where it is to go: what is refused of it, in words."""

from collections.abc import Iterator

from tinknot.core.figures import LEAST, MOST, mm
from tinknot.core.formulas.conductor import circle_mm
from tinknot.core.formulas.flat import flat_girth_mm
from tinknot.core.joint.leaflet import LeafletPart
from tinknot.core.joint.tracefile import FlatLayerIn, TraceCableIn
from tinknot.core.tolerance import at_least, at_most


def pigtail_mm(cable: TraceCableIn) -> float:
    """Diameter of a cable's braid twisted to a pigtail, mm: a circle of the area it lies in round the inner
    jacket, as twisted strands lie no denser than woven ones."""
    inner = cable.inner_jacket
    return circle_mm(flat_girth_mm(inner.width_mm, inner.thickness_mm) * cable.braid_mm)


def shrinks_on(
    said: str, part: LeafletPart, passed_mm: float, gripped_mm: float, *, over: str, on: str
) -> Iterator[str]:
    """A part that heat closes: `over` asks for at least so much open, and it grips `on` when it closes so
    far, mm."""
    assert part.opens is not None
    assert part.closes is not None
    if not at_least(part.opens.value_mm, passed_mm):
        yield (
            f"{said}: opens to {mm(part.opens.value_mm, MOST):g} mm, and {over} asks for"
            f" {mm(passed_mm, LEAST):.1f} mm"
        )
    if not at_most(part.closes.value_mm, gripped_mm):
        yield (
            f"{said}: closes to {mm(part.closes.value_mm, LEAST):g} mm, and grips {on} from"
            f" {mm(gripped_mm, MOST):.1f} mm down"
        )


def takes_jacket(said: str, part: LeafletPart, jacket: FlatLayerIn, of: str) -> Iterator[str]:
    """The opening of a boot, cap or grommet against a jacket it goes over, the one `of` an end."""
    for key, value in (("width", jacket.width_mm), ("thickness", jacket.thickness_mm)):
        low, high = getattr(part, f"{key}_least_mm"), getattr(part, f"{key}_most_mm")
        if low is not None and not at_least(value, low):
            yield f"{said}: takes a {key} from {mm(low, LEAST):g} mm, the jacket{of} has {value:g}"
        if high is not None and not at_most(value, high):
            yield f"{said}: takes a {key} up to {mm(high, MOST):g} mm, the jacket{of} has {value:g}"
