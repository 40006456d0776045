"""The joint file: the application's open JSON format, version 1."""

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, model_validator

from tinknot.core.errors import InputError
from tinknot.core.figures import mm2
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.kitsheet import KitSheet, outside
from tinknot.core.joint.measured import Measured
from tinknot.core.model import Diameter, Length, Name, PositiveLength, Strict, Temperature, Whole, integral
from tinknot.core.parts.connector import ConnectorKind, Metal
from tinknot.core.parts.stocked import Area
from tinknot.core.tolerance import at_most

EndName = Literal["A", "B"]
Family = Literal["straight-lv", "tap-lv"]


class CoreIn(Strict):
    """A core as measured; the second reading is taken at 90° to the first. `joins`: the core of end A it is
    joined to, where the names differ."""

    name: Name
    joins: Name | None = None
    colour: Annotated[str, Field(max_length=40)] | None = None
    insulation_od_mm: Diameter
    insulation_od_across_mm: Diameter | None = None
    area_mm2: Area
    flexibility: Annotated[Literal[1, 2, 5], BeforeValidator(integral), Field(alias="class")] = 2
    conductor_od_mm: Diameter | None = None
    shape: Literal["round", "sector"] = "round"
    metal: Metal = "copper"


class ArmourIn(Strict):
    """Armour of one end: how thick its layer is, what it lies on, and its metal section where known."""

    kind: Literal["wire", "tape", "braid"] = "wire"
    thickness_mm: Annotated[float, Field(ge=0.05, le=20, description="mm, one layer: a wire's diameter")]
    bedding_od_mm: Diameter
    bedding_od_across_mm: Diameter | None = None
    area_mm2: Area | None = None
    metal: Literal["steel", "aluminium", "copper"] = "steel"


class LeadSheathIn(Strict):
    """A sheath of lead: how thick it is, and the inner sheath or belt it lies on."""

    wall_mm: Annotated[float, Field(ge=0.3, le=6, description="mm, wall of the lead")]
    inner_od_mm: Diameter
    inner_od_across_mm: Diameter | None = None


class EndIn(Strict):
    """One cable end: sheath, cores, and the free straight tail behind the sheath cut. `landed`: it sits in
    a gland already, so nothing closed can be threaded on it. `unsheathed`: a single insulated wire, or on a
    tap covered conductors with nothing round them; their insulation stands for the sheath. `flat`: the
    sheath's two readings are width and thickness."""

    label: Annotated[str, Field(max_length=80)] | None = None
    sheath_od_mm: Diameter
    sheath_od_across_mm: Diameter | None = None
    cores: Annotated[list[CoreIn], Field(min_length=1, max_length=5)]
    free_mm: Length
    slack_mm: Length | None = None
    armour: ArmourIn | None = None
    lead_sheath: LeadSheathIn | None = None
    landed: bool = False
    unsheathed: bool = False
    flat: bool = False

    @model_validator(mode="before")
    @classmethod
    def _of_a_wire(cls, data: Any) -> Any:
        """Without a sheath the insulation is the outside."""
        if not isinstance(data, dict) or data.get("unsheathed") is not True:
            return data
        cores = data.get("cores")
        every = [c for c in cores if isinstance(c, dict)] if isinstance(cores, list) else []
        if not every or not all(isinstance(c.get("insulation_od_mm"), int | float) for c in every):
            return data
        thick = max(every, key=lambda c: c["insulation_od_mm"])
        own = {"sheath_od_mm": thick["insulation_od_mm"]}
        if thick.get("insulation_od_across_mm") is not None:
            own["sheath_od_across_mm"] = thick["insulation_od_across_mm"]
        return data | own


class ConnectorIn(Strict):
    """A connector: by its part in stock, by its figures, or only by its kind."""

    part_id: Name | None = None
    kind: ConnectorKind | None = None
    od_mm: Diameter | None = None
    length_mm: PositiveLength | None = None
    insertion_mm: PositiveLength | None = None
    growth_mm: Length | None = None


class ChoiceIn(Strict):
    """Parts the electrician settled on; what is absent is chosen."""

    core_sleeve: Name | None = None
    outer_sleeve: Name | None = None
    inner_sleeve: Name | None = None
    barrier: Name | None = None
    shell: Name | None = None
    outer_parks_on: Literal["a", "b", "either"] = "either"


class EarthIn(Strict):
    """The fault the earth path must carry: prospective current and the time until it is cleared."""

    fault_current_a: Annotated[float, Field(gt=0, le=1e6, description="A")]
    clearing_time_s: Annotated[float, Field(gt=0, le=1e4, description="s")]


class ForecastIn(Strict):
    """Weather as forecast: hours from now, °C."""

    at_h: Annotated[float, Field(ge=0, le=1000, description="h")]
    temperature_c: Annotated[float, Field(ge=-60, le=80, description="°C")]


class BuildIn(Strict):
    """How the joint is built, where that is not left to the planner.

    `closure` is what closes it (`sleeve-resin`: an outer sleeve, then cast over it); `cores_shrunk`: one
    core's sleeve after the other, or all together in turns, two schools; `cold_only`: no heat source of any
    kind; `springs`: what covers those that hold the armour; `thin_side`: what brings the thinner sheath up to
    the sleeve; `end_wraps`: ends of the outer sleeve that get a wrap-around piece over them; `resin_c`:
    temperature of the mixed resin; `removed_mm`: length of damaged cable taken out."""

    closure: Literal["sleeve", "wrap-around", "resin", "sleeve-resin"] | None = None
    core_insulation: Literal["sleeve", "tape"] | None = None
    cores_shrunk: Literal["in-turn", "together"] | None = None
    cold_only: bool = False
    springs: Literal["mastic", "tape"] | None = None
    fire: Literal["barrier", "mica"] | None = None
    thin_side: Literal["tape", "end-piece"] | None = None
    end_wraps: Annotated[list[EndName], Field(max_length=2)] = []
    resin_c: Temperature | None = None
    persons: Annotated[Whole, Field(ge=1, le=4)] = 1
    forecast: Annotated[list[ForecastIn], Field(max_length=200)] = []
    earth: EarthIn | None = None
    removed_mm: Length | None = None
    bend_radius_mm: PositiveLength | None = None
    purpose: Literal["tap", "earthing"] = "tap"


class EndsIn(Strict):
    A: EndIn
    B: EndIn


class JointFile(JointHead):
    """A joint of round low-voltage cable, 1 to 5 cores: straight between A and B, or a tap B on the main
    A."""

    family: Family
    ends: EndsIn
    connector: ConnectorIn | None = None
    stagger_steps: Annotated[Whole, Field(ge=1, le=5)] = 1
    bundle_od_mm: Diameter | None = None
    choice: ChoiceIn = ChoiceIn()
    build: BuildIn = BuildIn()

    def check(self) -> None:
        """What single fields cannot say: cores that pair up, ids that are unique."""
        a, b = self.ends.A.cores, self.ends.B.cores
        for end, cores in (("A", a), ("B", b)):
            names = [c.name for c in cores]
            for i, name in enumerate(names):
                if name in names[:i]:
                    raise InputError.at(
                        f"/ends/{end}/cores/{i}/name",
                        f"core {name} stands twice; every core needs its own name",
                    )
        if self.family == "tap-lv":
            _tapped(a, b)
        else:
            _paired([c.name for c in a], [c.joins or c.name for c in b])
        _colours(self.ends)
        if self.stagger_steps > len(a):
            raise InputError.at("/stagger_steps", f"must be at most the number of cores, {len(a)}")
        for name, given in (("A", self.ends.A), ("B", self.ends.B)):
            several = len(given.cores) > 1 and self.family != "tap-lv"
            if given.unsheathed and (several or given.armour or given.lead_sheath):
                raise InputError.at(
                    f"/ends/{name}/unsheathed",
                    "is for a single insulated wire, one core and no armour, or for the covered conductors of"
                    " a tap",
                )
            if given.flat and given.sheath_od_across_mm is None:
                raise InputError.at(
                    f"/ends/{name}/sheath_od_across_mm",
                    "is missing: a flat cable has a width and a thickness",
                )
            _inside_out(name, given)
        self.stock.check()

    def not_served_by(self, sheet: KitSheet) -> list[str]:
        """Family, cores, conductors, sheaths and armour."""
        if sheet.recipe != self.family:
            return super().not_served_by(sheet)
        words: list[str] = []
        s = sheet.serves
        ends = (self.ends.A, self.ends.B)
        count = len(self.ends.A.cores)
        if not s.cores_least <= count <= s.cores_most:
            words.append(f"it serves {s.cores_least} to {s.cores_most} cores, the cable has {count}")
        areas = [c.area_mm2 for e in ends for c in e.cores]
        words += outside(
            "conductors", min(areas), max(areas), s.area_least_mm2, high=s.area_most_mm2, unit="mm²"
        )
        sheaths = [e.sheath_od_mm for e in ends]
        words += outside(
            "sheaths", min(sheaths), max(sheaths), s.sheath_least_mm, high=s.sheath_most_mm, unit="mm"
        )
        armoured = any(e.armour for e in ends)
        if s.armoured is not None and s.armoured != armoured:
            words.append(
                "it serves armoured cable only" if s.armoured else "it does not serve armoured cable"
            )
        return words

    def measured(self) -> list[Measured]:
        """Every reading of the cables, from outside in."""
        return list(_round(self))


def _inside_out(name: str, given: EndIn) -> None:
    """Each layer of a cable goes into the one round it. Raises InputError."""
    armour, lead = given.armour, given.lead_sheath
    if armour and not at_most(armour.bedding_od_mm + 2 * armour.thickness_mm, given.sheath_od_mm):
        raise InputError.at(
            f"/ends/{name}/armour/bedding_od_mm",
            "with the armour on it is thicker than the sheath; read them again",
        )
    around, said = (armour.bedding_od_mm, "bedding") if armour else (given.sheath_od_mm, "sheath")
    if lead and not at_most(lead.inner_od_mm + 2 * lead.wall_mm, around):
        raise InputError.at(
            f"/ends/{name}/lead_sheath/inner_od_mm",
            f"with the lead on it is thicker than the {said}; read them again",
        )


def _paired(names_a: list[str], names_b: list[str]) -> None:
    """The core map must be one to one. Raises InputError."""
    for i, name in enumerate(names_b):
        if name in names_b[:i]:
            raise InputError.at(
                f"/ends/B/cores/{i}/joins",
                f"core {name} of A is joined twice; the core map must be one to one",
            )
    if set(names_a) != set(names_b):
        lone = sorted(set(names_a) ^ set(names_b))
        raise InputError.at(
            "/ends/B/cores", f"must have the same cores as end A; without a partner: {', '.join(lone)}"
        )


def _tapped(main: list[CoreIn], tap: list[CoreIn]) -> None:
    """Each core of the tap goes to one core of the main. Raises InputError."""
    names, seen = {c.name for c in main}, set()
    for i, core in enumerate(tap):
        to = core.joins or core.name
        if to not in names:
            raise InputError.at(
                f"/ends/B/cores/{i}/joins", f"must be a core of the main, A: {', '.join(sorted(names))}"
            )
        if to in seen:
            raise InputError.at(f"/ends/B/cores/{i}/joins", f"core {to} of the main is tapped twice")
        seen.add(to)


def _colours(ends: EndsIn) -> None:
    """Green-yellow is joined to green-yellow only. Raises InputError."""
    by_name = {c.name: c.colour for c in ends.A.cores}
    for i, core in enumerate(ends.B.cores):
        colours = {by_name.get(core.joins or core.name), core.colour}
        if "green-yellow" in colours and len(colours) > 1 and None not in colours:
            raise InputError.at(
                f"/ends/B/cores/{i}/joins",
                "would join a green-yellow core to another colour: green-yellow is never a live conductor",
            )


def _round(file: JointFile) -> Iterator[Measured]:
    for name, end in (("A", file.ends.A), ("B", file.ends.B)):
        yield Measured(end=name, what="sheath", value_mm=end.sheath_od_mm, across_mm=end.sheath_od_across_mm)
        if end.armour:
            a = end.armour
            yield Measured(
                end=name,
                what="bedding under the armour",
                value_mm=a.bedding_od_mm,
                across_mm=a.bedding_od_across_mm,
            )
        if lead := end.lead_sheath:
            yield Measured(
                end=name,
                what="inner sheath under the lead",
                value_mm=lead.inner_od_mm,
                across_mm=lead.inner_od_across_mm,
            )
        for core in end.cores:
            what = f"core {core.name}, {mm2(core.area_mm2):g} mm²"
            yield Measured(
                end=name, what=what, value_mm=core.insulation_od_mm, across_mm=core.insulation_od_across_mm
            )
