"""What every kind of layer knows about itself. Everything else is derived from it."""

from abc import ABC, abstractmethod
from dataclasses import dataclass, field
from typing import Literal

from tinknot.core.choose import Window
from tinknot.core.joint.profile import Profile
from tinknot.core.park import Side

Kind = Literal[
    "gate", "measure", "cut", "park", "join", "surface", "seal", "wait", "inspect", "test", "label", "sign"
]
Hold = Literal[
    "isolated", "measured", "parked", "connectors", "before-closing", "sealed-and-proved", "released"
]
Station = Literal["card", "measure", "cut", "park", "build", "prove", "sign"]


@dataclass(frozen=True)
class Gate:
    """A figure to work to: `target` ± `tolerance`, or a limit to reach (`least`) or stay under (`most`)."""

    id: str
    label: str
    unit: str
    target: float | None = None
    tolerance: float | None = None
    least: float | None = None
    most: float | None = None
    required: bool = True


@dataclass(frozen=True)
class Step:
    """One thing to do. `needs` are ids of steps that must be done first; `text` at most two sentences."""

    id: str
    title: str
    kind: Kind
    station: Station
    needs: tuple[str, ...] = ()
    text: str = ""
    caution: str = ""
    look: str = ""
    fails: str = ""
    hold: Hold | None = None
    second_person: bool = False
    batch: str = ""
    layer: str = ""
    end: str = ""
    core: str = ""
    gates: tuple[Gate, ...] = ()
    part_id: str = ""
    focus_mm: tuple[float, float] | None = None


@dataclass(frozen=True)
class Cut:
    """A cut: where, from which datum, how exactly, and what not to hurt. Distances in mm."""

    end: str
    layer: str
    datum: str
    distance_mm: float
    tolerance_mm: float
    caution: str
    removed_mm: float
    core: str = ""


@dataclass(frozen=True)
class Threaded:
    """A part that goes on before joining: on `sheath` or a core's name, `length_mm` as supplied."""

    layer: str
    part_id: str
    track: str
    length_mm: float
    side: Side
    order: int


@dataclass(frozen=True)
class Material:
    """What is used up; `in_stock` None where nobody counts it."""

    what: str
    quantity: float
    unit: str
    in_stock: float | None = None
    part_id: str = ""
    lot: str = ""


@dataclass(frozen=True)
class Minutes:
    """Time of hands and time of waiting."""

    hands: float = 0.0
    waiting: float = 0.0


@dataclass(frozen=True)
class Fault:
    """What can be seen to go wrong here, why, and what may be done about it."""

    id: str
    seen: str
    causes: tuple[str, ...]
    remedies: tuple[str, ...]


@dataclass(frozen=True)
class Setting:
    """A tool's setting and its reason."""

    tool: str
    setting: str
    why: str = ""


@dataclass(frozen=True)
class Layer(ABC):
    """One layer of the stack. Layer order is inside out; build order follows from the steps' needs."""

    id: str
    title: str

    def requires(self, under: Profile, path: Profile) -> Window | None:
        """The window its part must meet, on the profile `under` it, having come along `path`."""
        return None

    def apply(self, under: Profile) -> Profile:
        """The profile with this layer on it."""
        return under

    def threads(self) -> tuple[Threaded, ...]:
        """Parts of it that must be parked before joining."""
        return ()

    def cuts(self) -> tuple[Cut, ...]:
        """Cuts it asks for."""
        return ()

    @abstractmethod
    def steps(self) -> tuple[Step, ...]:
        """How it goes on, with what each step needs."""

    def proofs(self) -> tuple[str, ...]:
        """Ids of its steps that prove it."""
        return tuple(s.id for s in self.steps() if s.kind in ("inspect", "test"))

    def consumes(self) -> tuple[Material, ...]:
        """What it uses up."""
        return ()

    def minutes(self) -> Minutes:
        """Time it takes."""
        return Minutes()

    def faults(self) -> tuple[Fault, ...]:
        """What can go wrong with it."""
        return ()

    def tools(self) -> tuple[str, ...]:
        """Tools it needs."""
        return ()

    def settings(self) -> tuple[Setting, ...]:
        """Settings of those tools."""
        return ()


@dataclass(frozen=True)
class Part:
    """A part picked for a layer, from stock."""

    id: str
    name: str
    lot: str = ""
    properties: frozenset[str] = field(default_factory=frozenset)
