"""What the world begins with: each end of the cable as the joint file says it was found."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from tinknot.core.acts import Skin


@dataclass(frozen=True)
class FoundEnd:
    """One end. `skins`: what lies there from outside in, by its outside diameter, mm; `cores`: each core's
    insulation, mm; `protective`: the core that is the protective conductor, empty where there is none;
    `edge_mm`: where its sheath is to be cut, mm on the joint's axis; `away`: -1 where its cable goes on
    toward lower places of the axis, else 1; `through`: the cable is not cut here; `armour_mm`: thickness of
    its armour, 0 without; `mohm_per_m`: what a metre of a core or of the armour has, mΩ, where known."""

    name: str
    skins: Mapping[Skin, float]
    cores: Mapping[str, float]
    edge_mm: float
    away: int
    protective: str = ""
    through: bool = False
    armour_mm: float = 0.0
    mohm_per_m: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Found:
    """Both ends, or the one there is. `network`: the cable hangs on a network that nobody isolates at its far
    ends; `earthing`: it is a line earthed for work; `had`: what the lists of materials and tools name, with
    how much of it there is, None for a tool; `waits_mm`: where each part that is threaded over the whole
    cable waits, mm on the joint's axis; `length_m`: of the whole cable, where it is known; `air_c`: the air,
    °C; `wet`: it will lie in the ground or under water; `clear_mm`: how far what lies beside it is away,
    where that was asked; `heating`: it is a heating cable, whose element joins its wires all along;
    `hazardous`: there may be gas; `apart`: its ends are never joined, and lie each by itself; `first`: the
    core connected before all others, the neutral or PEN of a tap."""

    ends: tuple[FoundEnd, ...]
    network: bool = False
    earthing: bool = False
    had: Mapping[str, float | None] = field(default_factory=dict)
    waits_mm: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    length_m: float | None = None
    air_c: float = 20.0
    wet: bool = False
    clear_mm: float | None = None
    heating: bool = False
    hazardous: bool = False
    apart: bool = False
    first: str = ""
