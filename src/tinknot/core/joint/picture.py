"""A cable's make-up as a picture: every core where it may lie in the cable."""

from math import pi, sqrt

from tinknot.core.formulas.bundle import bundle
from tinknot.core.joint.makeup import UNIT, MakeUp
from tinknot.core.model import Result

INSULATION = 2.0  # times the conductor, of a core that nobody measured: an estimate
FOIL_MM, BRAID_MM = 0.15, 0.5  # what a unit's own screen adds to its diameter: estimates


class CorePicture(Result):
    """A core: its `number` in the cable, what it is `called`, its middle in mm from the cable's."""

    number: str
    called: str
    x_mm: float
    y_mm: float


class UnitPicture(Result):
    """A unit of cores and the circle round it, mm; `screens` of its own, inside out."""

    number: int
    kind: str
    spare: bool
    x_mm: float
    y_mm: float
    od_mm: float
    screens: list[str]
    cores: list[CorePicture]


class MakeUpPicture(Result):
    """A line as it was read: in words, as it is written, and to scale. `core_mm`: diameter of a core, which
    is `estimated` where its insulation was not measured; `inside_mm`: the circle round all units; `screens`
    over all, inside out; `colours`: what the site calls cores by."""

    line: str
    said: str
    core_mm: float
    estimated: bool
    inside_mm: float
    screens: list[str]
    units: list[UnitPicture]
    colours: list[str]


def picture(
    found: MakeUp, insulation_mm: float | None, colours: tuple[str, ...], path: str = "/line"
) -> MakeUpPicture:
    """Units packed, and in each its cores. Raises InputError under `path` where there are fewer colours
    than cores named by them."""
    core = insulation_mm or INSULATION * sqrt(4 * found.area_mm2 / pi)
    named = found.named(colours, path)
    own = bundle([core] * found.per_unit)
    more = {"foil": FOIL_MM, "braid": BRAID_MM}
    unit_mm = own.enclosing_diameter_mm + sum(more.get(s, 0.0) for s in found.each)
    whole = bundle([unit_mm] * found.units)
    units = [
        UnitPicture(
            number=n + 1,
            kind=UNIT[found.per_unit],
            spare=n + 1 in found.spare,
            x_mm=x,
            y_mm=y,
            od_mm=unit_mm,
            screens=list(found.each),
            cores=[
                CorePicture(number=label, called=name, x_mm=x + cx, y_mm=y + cy)
                for label, name, (cx, cy) in zip(found.labels(n), named.unit(n), own.centres_mm, strict=True)
            ],
        )
        for n, (x, y) in enumerate(whole.centres_mm)
    ]
    return MakeUpPicture(
        line=found.written,
        said=found.said,
        core_mm=core,
        estimated=insulation_mm is None,
        inside_mm=whole.enclosing_diameter_mm,
        screens=list(found.overall),
        units=units,
        colours=list(colours),
    )
