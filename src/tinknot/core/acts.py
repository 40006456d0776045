"""What the hand does in a step, as typed acts: each with its place, its thing and its minutes. An act says
what is done and with what; what comes of it is worked out by `core/world`, by geometry and physics."""

from dataclasses import dataclass
from typing import Literal

from tinknot.core.formulas.sleeve import Tube

Skin = Literal[
    "sheath",
    "armour",
    "bedding",
    "lead-sheath",
    "inner-sheath",
    "insulation",
    "overlay",
    "conductor",
    "connector",
    "core",
    "screen",
    "foil",
    "jacket",
    "damage",
    "fitting",
    "",
]
# the layers of a cable round its cores, from outside in
OUTSIDE_IN: tuple[Skin, ...] = ("sheath", "armour", "bedding", "lead-sheath", "inner-sheath")
Span = tuple[float, float]


@dataclass(frozen=True)
class Place:
    """Where the hand is: an `end` of the cable (empty: at the joint, or wherever the core is), a `core`
    (empty: the whole cable, or every core), what lies there as a `skin`, and the stretch, mm on the joint's
    axis."""

    end: str = ""
    core: str = ""
    skin: Skin = ""
    span_mm: Span | None = None

    @property
    def said(self) -> str:
        """In words."""
        skin = self.skin.replace("-", " ")
        on = f"{skin} of core {self.core}" if self.core and skin else skin
        on = on or (f"core {self.core}" if self.core else "the joint")
        return f"{on} on {self.end}" if self.end else on


@dataclass(frozen=True)
class Thing:
    """A part or a stuff as it is taken to the work. `id`: its layer; `bore_mm`: the least it is open by as it
    waits, None for what is wound or wraps round; `tube`: the law by which it shrinks; `od_mm`: what it
    measures outside once it sits, of something stiff; `adds_mm`: what it adds to the diameter under it;
    `apart_mm`: what it keeps between the cores; `seals`: what holds water out by it, empty for what seals
    nothing; `shrinks_c`: what it must reach to shrink, °C; `metal`: it conducts; `of`: what it is called on
    the list of materials or tools."""

    id: str
    name: str
    bore_mm: float | None = None
    tube: Tube | None = None
    od_mm: float | None = None
    adds_mm: float = 0.0
    apart_mm: float = 0.0
    shrinks_c: float | None = None
    seals: Literal["adhesive", "mastic", "tape", "resin", ""] = ""
    metal: bool = False
    of: str = ""


NOTHING = Thing("", "")


@dataclass(frozen=True, kw_only=True)
class Act:
    """One thing the hand does, `at` a place, with a `thing`; `minutes` of hands, 0 where the layer's own are
    shared out evenly. `uses`: what else it takes, by its name on the lists of materials and tools."""

    at: Place = Place()
    thing: Thing = NOTHING
    minutes: float = 0.0
    uses: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Attest(Act):
    """Somebody says that something is so: isolated, free of gas, measured, counted, proved."""

    what: Literal[
        "isolated", "gas-free", "screen-dead", "measured", "counted", "covered", "proved", "released"
    ]


@dataclass(frozen=True, kw_only=True)
class Remove(Act):
    """A layer of the cable is taken off, or a core cut to its length; `mm` from the `datum`."""

    what: Skin
    mm: float | None
    datum: Literal["cable-end", "sheath-cut", "core-end"]


@dataclass(frozen=True, kw_only=True)
class Mark(Act):
    """A mark round the wires, which later cuts are measured from as from a sheath cut."""


@dataclass(frozen=True, kw_only=True)
class FoldBack(Act):
    """Armour, braid or foil laid back over what it came out of, `mm` long."""

    what: Skin
    mm: float | None


@dataclass(frozen=True, kw_only=True)
class Wipe(Act):
    """A surface made clean, with `solvent`, which flashes off in `flash_min`, or dry."""

    solvent: bool = False
    flash_min: float = 0.0


@dataclass(frozen=True, kw_only=True)
class Roughen(Act):
    """A surface roughened over `mm` from its datum; `inside`: that of the thing itself."""

    mm: float | None = None
    inside: bool = False


@dataclass(frozen=True, kw_only=True)
class Drill(Act):
    """A hole made in a box: chips fly."""


@dataclass(frozen=True, kw_only=True)
class Sticking(Act):
    """What lays or closes something sticky; `seals_on`: the surfaces that its stickiness meets."""

    seals_on: tuple[Place, ...] = ()


@dataclass(frozen=True, kw_only=True)
class LayOn(Sticking):
    """Tape, mastic, mesh, foil, braid or paste laid on."""


@dataclass(frozen=True, kw_only=True)
class ThreadOn(Act):
    """A part goes over the end of the cable, or of a core, and waits on the tail."""


@dataclass(frozen=True, kw_only=True)
class SlideTo(Act):
    """A part that waits is slid to its seat, which is the place's stretch; `from_end`: the tail it waits
    on."""

    from_end: str


@dataclass(frozen=True, kw_only=True)
class Shrink(Sticking):
    """A part closes on what it lies on, by heat (`hot`) or as its core is drawn out."""

    hot: bool = True


@dataclass(frozen=True, kw_only=True)
class Close(Act):
    """A shell, a wrap-around or a lid is closed round what lies there."""


@dataclass(frozen=True, kw_only=True)
class Mix(Act):
    """Two parts of a stuff made one: from now on it must be used within `within_min`."""

    within_min: float


@dataclass(frozen=True, kw_only=True)
class PourIn(Sticking):
    """What was mixed is poured in; `last`: it is full then."""

    last: bool = True


@dataclass(frozen=True, kw_only=True)
class Join(Act):
    """Conducting things joined: each a place whose metal must lie bare."""

    ends: tuple[Place, ...]
    how: Literal["crimped", "bolted", "soldered", "pierced", "clamped"]


@dataclass(frozen=True, kw_only=True)
class Bridge(Act):
    """Conductors joined for a while; `called` says which bridge, tie, clip or earth it is; `stays`: it is
    what the work is for, or was there before."""

    called: str
    ends: tuple[Place, ...] = ()
    stays: bool = False


@dataclass(frozen=True, kw_only=True)
class TakeOff(Act):
    """What was put on for a while comes off again."""

    called: str


@dataclass(frozen=True, kw_only=True)
class Read(Act):
    """A reading between places. `what` is read; `leads`: where bare metal must be reached here; `far`: it
    asks that the far ends are off and apart; `most_mohm`: up to what a conducting path passes, mΩ."""

    what: Literal["continuity", "insulation", "resistance", "voltage"]
    between: tuple[Place, ...] = ()
    leads: tuple[Place, ...] = ()
    far: bool = False
    most_mohm: float | None = None


@dataclass(frozen=True, kw_only=True)
class Look(Act):
    """Something is looked at: a surface, a connector, a thing."""


@dataclass(frozen=True, kw_only=True)
class Try(Act):
    """A part held to its place before it is closed there; `on`: each of its mouths with the diameter that it
    is to grip there, mm."""

    on: tuple[tuple[Place, float], ...] = ()


@dataclass(frozen=True, kw_only=True)
class Tug(Act):
    """A join pulled by hand: it holds."""


@dataclass(frozen=True, kw_only=True)
class Wait(Act):
    """Nothing is done until it is so; `under_c`: it is cool from this temperature on, °C."""

    until: Literal["cool", "cured", "set"]
    under_c: float | None = None


@dataclass(frozen=True, kw_only=True)
class Bend(Act):
    """The finished joint is bent over a mandrel."""


@dataclass(frozen=True, kw_only=True)
class Note(Act):
    """Something that changes nothing at the joint: a label, a picture, a coupon kept."""
