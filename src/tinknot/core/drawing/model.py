"""What a drawing of a joint is made of: bodies, cross-sections, dimensions, all in mm."""

from collections.abc import Iterable
from typing import Literal

from pydantic import model_validator

from tinknot.core.model import Result

Point = tuple[float, float]
Material = Literal[
    "sheath",
    "bedding",
    "core",
    "strand",
    "grey-strand",
    "copper",
    "metal",
    "dark-metal",
    "armour",
    "braid",
    "sleeve",
    "barrier",
    "tape",
    "mica",
    "shell",
    "resin",
    "matrix",
    "overlay",
]
Form = Literal["solid", "ring", "hollow", "band", "veil"]
Role = Literal["cable", "core", "conductor", "connector", "core-cover", "screen", ""]


class Appearance(Result):
    """How bodies and circles of a kind are drawn and called, so that a drawing needs to know no kind.

    `form`: `solid`; a `ring` close round one core, seen through; `hollow`, cut open over the whole joint,
    its lower wall mirrored; a `band` over part of the way round; a `veil` over what lies in it. `role`:
    `cable` is labelled with its diameter, a `core` with its name; `connector`, its `conductor`, a
    `core-cover` and a bare `screen` are looked at by the inspections. `see_through`: how much of it is seen,
    1 where nothing shines through; `sealed`: adhesive at its ends."""

    material: Material
    form: Form = "solid"
    said: str = ""
    role: Role = ""
    see_through: float = 1.0
    sealed: bool = False


LOOKS: dict[str, Appearance] = {
    "sheath": Appearance(material="sheath", said="sheath", role="cable"),
    "bedding": Appearance(material="bedding", said="bedding"),
    "lead-sheath": Appearance(material="dark-metal", said="lead"),
    "inner-sheath": Appearance(material="bedding", said="inner sheath"),
    "armour": Appearance(material="armour", said="armour"),
    "insulation": Appearance(material="core", said="cores", role="core"),
    "conductor": Appearance(material="strand", role="conductor", see_through=0.85),
    "conductor-aluminium": Appearance(material="grey-strand", role="conductor", see_through=0.85),
    "connector": Appearance(material="metal", said="connector", role="connector", see_through=0.72),
    "press": Appearance(material="dark-metal", see_through=0.35),
    "core-sleeve": Appearance(
        material="sleeve", form="ring", said="core sleeve", role="core-cover", see_through=0.38
    ),
    "core-tape": Appearance(
        material="tape", form="ring", said="core tape", role="core-cover", see_through=0.45
    ),
    "mica": Appearance(material="mica", form="ring", said="mica", role="core-cover", see_through=0.5),
    "mastic": Appearance(material="tape", form="hollow", said="mastic"),
    "build-up": Appearance(material="tape", form="hollow", said="tape on the sheath"),
    "inner-sleeve": Appearance(material="sleeve", form="hollow", said="inner sleeve"),
    "end-piece": Appearance(material="sleeve", form="hollow", said="end piece", sealed=True),
    "outer-sleeve": Appearance(material="sleeve", form="hollow", said="outer sleeve", sealed=True),
    "end-cap": Appearance(material="sleeve", said="end cap", see_through=0.8),
    "barrier": Appearance(material="barrier", form="hollow", said="fire barrier"),
    "strap": Appearance(material="copper", form="band", said="earth strap"),
    "mesh": Appearance(material="metal", form="hollow", said="mesh", see_through=0.5),
    "clamp": Appearance(material="dark-metal", form="band", said="clamp"),
    "shell": Appearance(material="shell", form="hollow", said="shell"),
    "resin": Appearance(material="resin", form="veil", said="resin", see_through=0.3),
    "outer-jacket": Appearance(material="sheath", said="outer jacket"),
    "braid": Appearance(material="braid", said="braid"),
    "inner-jacket": Appearance(material="bedding", said="inner jacket"),
    "matrix": Appearance(material="matrix", said="matrix"),
    "overlay": Appearance(material="overlay", said="overlay"),
    "bus": Appearance(material="copper", said="bus wires"),
    "trace-tube": Appearance(material="sleeve", form="hollow", said="shrink tube"),
    "trace-tape": Appearance(material="tape", form="hollow", said="tape"),
    "moulded": Appearance(material="shell", form="hollow", said="moulded part"),
    "sealant": Appearance(material="resin", form="hollow", said="sealant"),
}  # of the kinds that more than one drawing knows; a drawing may bring its own


def looks_of(kinds: Iterable[str], own: dict[str, Appearance]) -> dict[str, Appearance]:
    """The looks of all `kinds`, those of a drawing before the common ones."""
    return {k: own.get(k) or LOOKS[k] for k in sorted(set(kinds)) if k in own or k in LOOKS}


def conductor_kind(metal: str) -> str:
    """The kind of body or circle that a conductor of this metal is drawn as."""
    return "conductor-aluminium" if metal == "aluminium" else "conductor"


class Body(Result):
    """A part of the drawing: its upper and lower edge, [x, y] in mm, y up; `depth_mm` toward the eye."""

    id: str
    kind: str
    layer: str = ""
    end: str = ""
    core: str = ""
    colour: str = ""
    depth_mm: float = 0.0
    top: list[Point]
    bottom: list[Point]


class Circle(Result):
    """A circle of a cross-section, outermost first; `inside_mm` is its bore when it has one, `width_mm` how
    much of the circumference it takes when it does not go all round. Flat with rounded edges where
    `thickness_mm` is given: then `od_mm` is its width."""

    kind: str
    layer: str = ""
    core: str = ""
    colour: str = ""
    x_mm: float = 0.0
    y_mm: float = 0.0
    od_mm: float
    inside_mm: float | None = None
    width_mm: float | None = None
    thickness_mm: float | None = None


class CrossSection(Result):
    """What a cut across the joint shows anywhere between two places."""

    from_mm: float
    to_mm: float
    outside_mm: float
    circles: list[Circle]


class Dimension(Result):
    """A length or diameter to write on the drawing; `whole` is what the drawing must show."""

    kind: str
    from_mm: float
    to_mm: float
    value_mm: float
    layer: str = ""
    label: str = ""


class Section(Result):
    """The whole drawing. x = 0 is the joint's centre, A on the negative side. `looks`: how each kind in it
    is drawn."""

    from_mm: float
    to_mm: float
    bodies: list[Body]
    crossings: list[CrossSection]
    dimensions: list[Dimension]
    looks: dict[str, Appearance] = {}

    @model_validator(mode="after")
    def _every_kind_has_its_look(self) -> "Section":
        """Also in a drawing that was stored before looks were part of it."""
        kinds = [b.kind for b in self.bodies] + [c.kind for x in self.crossings for c in x.circles]
        object.__setattr__(self, "looks", looks_of(kinds, self.looks))
        return self
