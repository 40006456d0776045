"""Calculator of the circle round several circles."""

from typing import Annotated

from pydantic import Field

from tinknot.core.formulas.bundle import bundle
from tinknot.core.model import Diameter, Result, Strict


class BundleIn(Strict):
    diameters_mm: Annotated[list[Diameter], Field(min_length=1, max_length=1000)]


class BundleOut(Result):
    enclosing_diameter_mm: float
    centres_mm: list[tuple[float, float]]
    method: str


def bundle_of(given: BundleIn) -> BundleOut:
    """The smallest circle round circles of given diameters."""
    found = bundle(given.diameters_mm)
    return BundleOut(
        enclosing_diameter_mm=found.enclosing_diameter_mm,
        centres_mm=list(found.centres_mm),
        method=found.method,
    )
