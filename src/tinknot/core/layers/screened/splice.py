"""How one core of a screened cable is joined to its partner, whatever does it."""

from dataclasses import dataclass
from typing import Literal

from tinknot.core.formulas.sleeve import Tube
from tinknot.core.layers.contract import Material, ToolKind

Method = Literal["sealed", "barrel", "lap", "hook"]
TITLES: dict[Method, str] = {
    "sealed": "sealed splices",
    "barrel": "crimp barrels with their own sleeves",
    "lap": "soldered laps with their own sleeves",
    "hook": "soldered hooks with their own sleeves",
}


@dataclass(frozen=True)
class Splice:
    """A splice of one core. `metal_mm`, `metal_od_mm`: the metal it joins by; `length_mm`: all of it, shrunk;
    `strip_mm`: bare conductor on each side; `tube`: its sleeve, which of a sealed splice holds the metal;
    `threaded_mm`: how long a sleeve of its own is that must be on the core before it is joined, None for a
    sealed splice; `used`: what one takes; `part_id`, `lot`: what the work says was used."""

    method: Method
    said: str
    how: str
    action: str
    strip_mm: float
    metal_mm: float
    metal_od_mm: float
    length_mm: float
    tube: Tube
    used: tuple[Material, ...]
    part_id: str
    lot: str = ""
    sleeve_id: str = ""
    threaded_mm: float | None = None
    shrink_c: float | None = None
    scorch_c: float | None = None
    die: str = ""
    tools: tuple[ToolKind, ...] = ("crimp-tool",)

    @property
    def soldered(self) -> bool:
        """Whether solder joins it."""
        return self.method in ("lap", "hook")
