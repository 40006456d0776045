"""A screened cable's end as a list of its members: units with their own screens, and what lies over all."""

from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.formulas.bundle import bundle
from tinknot.core.joint.file import CoreIn
from tinknot.core.joint.makeup import UNIT, MakeUp, Unit
from tinknot.core.model import Diameter, Length, Name, Strict

UnitKind = Literal["core", "pair", "triple", "quad"]
UnitScreen = Literal["none", "foil-drain", "braid"]
SIZES = {name: n for n, name in UNIT.items()}
UNIT_SCREENS: dict[UnitScreen, tuple[str, ...]] = {
    "none": (),
    "foil-drain": ("foil", "drain"),
    "braid": ("braid",),
}
OVER_ALL: dict[str, tuple[str, ...]] = dict(UNIT_SCREENS) | {"both": ("foil", "drain", "braid")}


class UnitIn(Strict):
    """A core, or a pair, triple or quad of cores twisted together, with the screen that is its own."""

    name: Name
    kind: UnitKind = "core"
    screen: UnitScreen = "none"
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
        """Its make-up. Raises InputError under `path` where a unit has not as many cores as its kind, its
        cores differ in section, or a name stands twice."""
        units = self.members.units
        names: list[str] = []
        for n, u in enumerate(units):
            at = f"{path}/members/units/{n}"
            if len(u.cores) != SIZES[u.kind]:
                raise InputError.at(f"{at}/cores", f"must be {SIZES[u.kind]}: it is a {u.kind}")
            area = u.cores[0].area_mm2
            for i, c in enumerate(u.cores):
                if c.area_mm2 != area:
                    raise InputError.at(f"{at}/cores/{i}/area_mm2", f"must be {area:g} as its unit's others")
                if c.name in names:
                    raise InputError.at(f"{at}/cores/{i}/name", f"stands twice: {c.name}")
                names.append(c.name)
        return MakeUp(
            tuple(Unit(len(u.cores), u.cores[0].area_mm2, UNIT_SCREENS[u.screen]) for u in units),
            OVER_ALL[self.members.screen],
            tuple(tuple(c.name for c in u.cores) for u in units),
        ).settled

    @property
    def core_mm(self) -> tuple[float, ...]:
        """Each unit's thickest core over its insulation, mm."""
        return tuple(
            max(max(c.insulation_od_mm, c.insulation_od_across_mm or 0.0) for c in u.cores)
            for u in self.members.units
        )

    @property
    def inside_mm(self) -> float:
        """The circle round all units, mm: estimated, it is seldom measured."""
        ods = [
            u.jacket_od_mm or bundle([c.insulation_od_mm for c in u.cores]).enclosing_diameter_mm
            for u in self.members.units
        ]
        return bundle(ods).enclosing_diameter_mm
