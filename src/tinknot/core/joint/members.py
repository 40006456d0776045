"""A screened cable's end as a list of its members: units with their own screens, and what lies over all."""

from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.bundle import bundle
from tinknot.core.joint.file import CoreIn
from tinknot.core.joint.makeup import UNIT, MakeUp
from tinknot.core.model import Diameter, Length, Name, Strict

UnitKind = Literal["core", "pair", "triple", "quad"]
SIZES = {name: n for n, name in UNIT.items()}
UNIT_SCREENS: dict[str, tuple[str, ...]] = {"none": (), "foil-drain": ("foil", "drain"), "braid": ("braid",)}
OVER_ALL = UNIT_SCREENS | {"both": ("foil", "drain", "braid")}


class UnitIn(Strict):
    """A core, or a pair, triple or quad of cores twisted together, with the screen that is its own."""

    name: Name
    kind: UnitKind = "core"
    screen: Literal["none", "foil-drain", "braid"] = "none"
    jacket_od_mm: Diameter | None = None
    cores: Annotated[list[CoreIn], Field(min_length=1, max_length=4)]


class MembersIn(Strict):
    """What lies under the sheath: the units, and the screen over all of them."""

    units: Annotated[list[UnitIn], Field(min_length=1, max_length=61)]
    screen: Literal["none", "foil-drain", "braid", "both"] = "none"


class ScreenedEndIn(Strict):
    """One end of a screened cable; `members` in place of the cores of a power cable."""

    label: Annotated[str, Field(max_length=80)] | None = None
    sheath_od_mm: Diameter
    sheath_od_across_mm: Diameter | None = None
    free_mm: Length
    members: MembersIn

    def make_up(self, path: str) -> MakeUp:
        """Its make-up. Raises InputError under `path` for units that are not all of one kind, screen and
        section: all cores alike are joined in one go."""
        units = self.members.units
        first = units[0]
        area = first.cores[0].area_mm2
        names: list[str] = []
        for n, u in enumerate(units):
            at = f"{path}/members/units/{n}"
            if len(u.cores) != SIZES[u.kind]:
                raise InputError.at(f"{at}/cores", f"must be {SIZES[u.kind]}: it is a {u.kind}")
            if (u.kind, u.screen) != (first.kind, first.screen):
                raise InputError.at(at, "is of another kind or screen than the first unit: join these apart")
            for i, c in enumerate(u.cores):
                if c.area_mm2 != area:
                    raise InputError.at(f"{at}/cores/{i}/area_mm2", f"must be {area:g} as all others")
                if c.name in names:
                    raise InputError.at(f"{at}/cores/{i}/name", f"stands twice: {c.name}")
                names.append(c.name)
        return MakeUp(
            len(units),
            SIZES[first.kind],
            area,
            UNIT_SCREENS[first.screen],
            OVER_ALL[self.members.screen],
            tuple(tuple(c.name for c in u.cores) for u in units),
        )

    @property
    def insulation_mm(self) -> float:
        """The thickest core's insulation, mm."""
        cores = [c for u in self.members.units for c in u.cores]
        return max(max(c.insulation_od_mm, c.insulation_od_across_mm or 0.0) for c in cores)

    @property
    def inside_mm(self) -> float:
        """The circle round all units, mm: estimated, it is seldom measured."""
        ods = [
            u.jacket_od_mm or bundle([c.insulation_od_mm for c in u.cores]).enclosing_diameter_mm
            for u in self.members.units
        ]
        return bundle(ods).enclosing_diameter_mm
