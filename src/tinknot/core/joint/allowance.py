"""Extra cable for what stands in the way of a straight run."""

from typing import Annotated

from pydantic import Field

from tinknot.core.model import Length, Name, Strict, Whole


class AllowanceIn(Strict):
    """More cable on valves, flanges, supports."""

    what: Name
    each_mm: Length
    count: Annotated[Whole, Field(ge=0, le=1_000_000)]
