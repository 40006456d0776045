"""A doubt about a kit sheet."""

from tinknot.core.model import Told


class Doubt(Told):
    """What does not add up, and where; JSON Pointer into the sheet."""

    path: str
    message: str
