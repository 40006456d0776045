"""What was measured of the cables, as a list to hold against them."""

from tinknot.core.model import Result


class Measured(Result):
    """A reading that a plan was made from, mm: of a round cable the diameter and, where it was read, the
    one at 90°; of a flat one width and thickness. `end` is empty where it is the same on every end."""

    end: str
    what: str
    value_mm: float
    across_mm: float | None
    flat: bool = False
