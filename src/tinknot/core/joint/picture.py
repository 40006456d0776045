"""A cable's make-up as a picture: every core where it may lie in the cable."""

from math import pi, sqrt

from tinknot.core.formulas.bundle import bundle
from tinknot.core.joint.makeup import MakeUp, insulated
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
    """A unit of cores, `core_mm` over each one's insulation, and the circle round it, mm; `screens` of its
    own, inside out."""

    number: int
    kind: str
    spare: bool
    x_mm: float
    y_mm: float
    od_mm: float
    core_mm: float
    screens: list[str]
    cores: list[CorePicture]


class MakeUpPicture(Result):
    """A line as it was read: in words, as it is written, and to scale. `estimated`: nobody measured a core's
    insulation; `differ`: not all cores are of one section; `inside_mm`: the circle round all units; `screens`
    over all, inside out; `colours`: what the site calls cores by."""

    line: str
    said: str
    estimated: bool
    differ: bool
    inside_mm: float
    screens: list[str]
    units: list[UnitPicture]
    colours: list[str]


def picture(
    found: MakeUp,
    insulation_mm: float | None,
    colours: tuple[str, ...],
    path: str = "/line",
    thinnest_mm: float | None = None,
) -> MakeUpPicture:
    """Units packed, and in each its cores; `insulation_mm`: of the thickest, `thinnest_mm` where they differ.
    Raises InputError under `path` where there are fewer colours than cores named by them."""
    bare = [sqrt(4 * u.area_mm2 / pi) for u in found.members]
    thick = insulation_mm or INSULATION * max(bare)
    ods = insulated(found, thick, thinnest_mm or thick * min(bare) / max(bare))
    named = found.named(colours, path)
    more = {"foil": FOIL_MM, "braid": BRAID_MM}
    own = [bundle([od] * u.cores) for od, u in zip(ods, found.members, strict=True)]
    round_mm = [
        b.enclosing_diameter_mm + sum(more.get(s, 0.0) for s in u.screens)
        for b, u in zip(own, found.members, strict=True)
    ]
    whole = bundle(round_mm)
    units = [
        UnitPicture(
            number=n + 1,
            kind=found.members[n].kind,
            spare=n + 1 in found.spare,
            x_mm=x,
            y_mm=y,
            od_mm=round_mm[n],
            core_mm=ods[n],
            screens=list(found.members[n].screens),
            cores=[
                CorePicture(number=label, called=name, x_mm=x + cx, y_mm=y + cy)
                for label, name, (cx, cy) in zip(
                    found.labels(n), named.unit(n), own[n].centres_mm, strict=True
                )
            ],
        )
        for n, (x, y) in enumerate(whole.centres_mm)
    ]
    return MakeUpPicture(
        line=found.written,
        said=found.said,
        estimated=insulation_mm is None,
        differ=found.sections > 1,
        inside_mm=whole.enclosing_diameter_mm,
        screens=list(found.overall),
        units=units,
        colours=list(colours),
    )
