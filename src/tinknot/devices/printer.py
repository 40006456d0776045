"""A label printer, and its stand-in that lays the label in a tray folder."""

from pathlib import Path
from typing import Protocol

from tinknot.devices.calliper import InstrumentFault


class Printer(Protocol):
    """Prints a page."""

    def put(self, name: str, page: bytes) -> str:
        """Print `page`; returns what to look for at the printer. Raises InstrumentFault."""
        ...


class TrayPrinter:
    """A stand-in that writes each page as a file into `tray`. `fault` makes it misbehave."""

    def __init__(self, tray: Path, fault: str | None = None) -> None:
        self.tray, self.fault = tray, fault

    def put(self, name: str, page: bytes) -> str:
        """The file's name in the tray; pages of one name are numbered, never overwritten."""
        if self.fault:
            raise InstrumentFault(
                "The label printer does not answer. Check its tape and battery, then print again."
            )
        self.tray.mkdir(parents=True, exist_ok=True)
        number = 1 + sum(1 for _ in self.tray.glob(f"{name}-*.pdf"))
        target = self.tray / f"{name}-{number}.pdf"
        target.write_bytes(page)
        return target.name
