"""What a drawing of a joint is made of: bodies, cross-sections, dimensions, all in mm."""

from tinknot.core.model import Result

Point = tuple[float, float]


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
    """The whole drawing. x = 0 is the joint's centre, A on the negative side."""

    from_mm: float
    to_mm: float
    bodies: list[Body]
    crossings: list[CrossSection]
    dimensions: list[Dimension]
