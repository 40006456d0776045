"""A label printer, and its stand-in that lays the label in a tray folder."""

from itertools import count
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
        self.tray.mkdir(mode=0o700, parents=True, exist_ok=True)
        for number in count(1):
            target = self.tray / f"{name}-{number}.pdf"
            try:
                with target.open("xb") as file:
                    file.write(page)
            except FileExistsError:
                continue
            except OSError:
                target.unlink(missing_ok=True)  # nothing half-printed lies in the tray
                raise
            return target.name
        raise AssertionError("numbers do not run out")
