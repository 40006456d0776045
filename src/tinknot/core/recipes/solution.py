"""What solving a stack comes to: choices, work that is done, and the stack itself."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from tinknot.core.choose import Ranked, Rejected, Window
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.file import StockConnector
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer
from tinknot.core.park import Parking
from tinknot.core.stagger import Stagger


@dataclass(frozen=True)
class Choice:
    """One layer's choice: its window, what fits best first, what does not, and what was picked."""

    layer: str
    title: str
    window: Window
    ranked: tuple[Ranked, ...]
    rejected: tuple[Rejected, ...]
    picked: Ranked | None
    wanted: str | None = None

    def with_part(self, part_id: str | None) -> "Choice":
        """The same with the part picked, None for none."""
        return replace(self, picked=next((r for r in self.ranked if r.candidate.id == part_id), None))


@dataclass(frozen=True)
class Made:
    """Work that is done and stays a fact: the gap and centres cut to, parts already cut, sheath cuts
    moved back (mm by end). `attempt` counts the joints cut out before this one."""

    gap_mm: float | None = None
    centres_mm: tuple[float, ...] = ()
    parts: Mapping[str, str] | None = None
    outer_side: str | None = None
    setback_mm: Mapping[str, float] | None = None
    attempt: int = 0


@dataclass(frozen=True)
class Solution:
    """The stack with its choices; `layers` is empty of a sleeve for which nothing fits."""

    ends: tuple[CableEnd, CableEnd]
    connectors: tuple[StockConnector, ...]
    steps: int
    layout: Stagger | None
    layers: tuple[Layer, ...]
    choices: tuple[Choice, ...]
    tracks: tuple[Profile, ...]
    inner: Profile | None
    outside: Profile | None
    parking: Parking | None
    kept: bool = False
    greedy: str = ""

    @property
    def fits(self) -> bool:
        """Whether every choice found a part and everything can be parked."""
        return (
            bool(self.choices)
            and all(c.picked for c in self.choices)
            and bool(self.parking and self.parking.fits)
        )
