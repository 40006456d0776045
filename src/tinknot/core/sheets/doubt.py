"""A doubt about a kit sheet."""

from tinknot.core.model import Result


class Doubt(Result):
    """What does not add up, and where; JSON Pointer into the sheet."""

    path: str
    message: str
