"""A kit sheet: the figures of a leaflet, written by users as data. It fills a recipe's slots."""

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from tinknot.core.errors import FieldError, InputError
from tinknot.core.files.numbers import SHEET
from tinknot.core.joint.leaflet import Construction, Leaflet
from tinknot.core.model import Diameter, Length, Name, Strict, Whole
from tinknot.core.rulebook import DEFAULTS, RuleBook
from tinknot.core.tolerance import at_least, at_most

Area = Annotated[float, Field(ge=0.1, le=1000, description="mm²")]
Recipe = Literal[
    "straight-lv", "tap-lv", "trace-power", "trace-splice", "trace-tee", "trace-end", "trace-power-end"
]
TRACE_ENDS: dict[str, tuple[str, ...]] = {
    "trace-power": ("A",),
    "trace-splice": ("A", "B"),
    "trace-tee": ("A", "B", "C"),
    "trace-end": ("A",),
    "trace-power-end": ("A", "B"),
}  # the ends each heat-trace recipe works on
Slot = Literal["core_sleeve", "outer_sleeve", "inner_sleeve", "barrier", "shell"]


class Serves(Strict):
    """The cables a kit serves; what is absent is no limit."""

    cores_least: Annotated[Whole, Field(ge=1, le=5)] = 1
    cores_most: Annotated[Whole, Field(ge=1, le=5)] = 5
    area_least_mm2: Area | None = None
    area_most_mm2: Area | None = None
    sheath_least_mm: Length | None = None
    sheath_most_mm: Length | None = None
    armoured: bool | None = None
    voltage_most_v: Annotated[float, Field(gt=0, le=1e5)] | None = None
    constructions: list[Construction] = []
    width_least_mm: Diameter | None = None
    width_most_mm: Diameter | None = None
    thickness_least_mm: Diameter | None = None
    thickness_most_mm: Diameter | None = None
    bus_least_mm2: Area | None = None
    bus_most_mm2: Area | None = None


class PlainStep(Strict):
    """A step the leaflet adds: something to do or to look at, after a step of the recipe."""

    id: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")]
    title: Annotated[str, Field(min_length=1, max_length=60)]
    text: Annotated[str, Field(max_length=300)] = ""
    after: Name
    before: Name | None = None


class KitSheet(Strict):
    """Figures win over the rule book, except over its safety gates. `certified`: the kit is certified for
    hazardous areas, so a sheet of one's own never stands in for it. `approval`: who released it, where."""

    format: Annotated[Whole, Field(ge=1)] = SHEET.number
    id: Annotated[str, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]{0,79}$")]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    revision: Annotated[Whole, Field(ge=1, le=10000)] = 1
    state: Literal["draft", "checked", "retired"] = "draft"
    approval: Annotated[str, Field(max_length=120)] = ""
    certified: bool = False
    recipe: Recipe
    author: Annotated[str, Field(max_length=80)] = ""
    checked_by: Annotated[str, Field(max_length=80)] = ""
    serves: Serves = Serves()
    closure: Literal["sleeve", "wrap-around", "resin"] | None = None
    core_insulation: Literal["sleeve", "tape"] | None = None
    leaflet: Leaflet | None = None
    figures: dict[Name, float] = {}
    parts: dict[Slot, Name] = {}
    steps: Annotated[list[PlainStep], Field(max_length=40)] = []
    cautions: Annotated[list[Annotated[str, Field(max_length=300)]], Field(max_length=20)] = []

    @model_validator(mode="before")
    @classmethod
    def _of_an_earlier_format(cls, data: Any) -> Any:
        """Sheets come in from files, the database and joint files of any age."""
        return SHEET.upgraded(data) if isinstance(data, dict) else data

    def check(self) -> None:
        """Raises InputError naming each figure that a sheet may not set, or that cannot be."""
        faults = [
            FieldError(
                f"/figures/{key}",
                (
                    "is a safety gate of the rule book; a sheet may not change it"
                    if key in DEFAULTS
                    else "is no rule of the rule book"
                ),
            )
            for key in self.figures
            if key not in DEFAULTS or not DEFAULTS[key].sheet
        ]
        if faults:
            raise InputError(*faults)
        try:
            RuleBook.of(self.figures)
        except InputError as fault:
            raise fault.under("/figures") from None

    def over(self, rules: RuleBook) -> RuleBook:
        """The rule book with this sheet's figures laid over it."""
        return RuleBook({**rules.own, **self.figures})

    def why_not(self, joint: Any) -> list[str]:
        """In words, why this kit does not serve `joint` (a joint file); empty when it does."""
        words = []
        if self.state == "retired":
            words.append("the sheet is retired")
        if joint.family == "heat-trace":
            words += self._why_not_trace(joint)
        elif self.recipe != joint.family:
            words.append(f"it is a sheet for {self.recipe}")
        else:
            words += self._why_not_lv(joint)
        if self.serves.voltage_most_v is not None and not at_most(
            joint.rated_voltage_v, self.serves.voltage_most_v
        ):
            words.append(f"it is for up to {self.serves.voltage_most_v:g} V")
        if "hazardous" in joint.duties and not self.certified:
            words.append("it is not certified for a hazardous area")
        return words

    def _why_not_trace(self, joint: Any) -> list[str]:
        s, cable, words = self.serves, joint.cable, []
        if self.recipe not in TRACE_ENDS:
            return [f"it is a sheet for {self.recipe}, not for heat-trace cable"]
        if s.constructions and cable.construction not in s.constructions:
            words.append(f"it serves {' and '.join(s.constructions)} cable, this is {cable.construction}")
        jacket = cable.outer_jacket
        words += _outside("widths", jacket.width_mm, jacket.width_mm, s.width_least_mm, s.width_most_mm, "mm")
        thick = jacket.thickness_mm
        words += _outside("thicknesses", thick, thick, s.thickness_least_mm, s.thickness_most_mm, "mm")
        bus = cable.bus_area_mm2
        words += _outside("bus wires", bus, bus, s.bus_least_mm2, s.bus_most_mm2, "mm²")
        return words

    def _why_not_lv(self, joint: Any) -> list[str]:
        s, words = self.serves, []
        ends = (joint.ends.A, joint.ends.B)
        count = len(joint.ends.A.cores)
        if not s.cores_least <= count <= s.cores_most:
            words.append(f"it serves {s.cores_least} to {s.cores_most} cores, the cable has {count}")
        areas = [c.area_mm2 for e in ends for c in e.cores]
        words += _outside("conductors", min(areas), max(areas), s.area_least_mm2, s.area_most_mm2, "mm²")
        sheaths = [e.sheath_od_mm for e in ends]
        words += _outside("sheaths", min(sheaths), max(sheaths), s.sheath_least_mm, s.sheath_most_mm, "mm")
        armoured = any(e.armour for e in ends)
        if s.armoured is not None and s.armoured != armoured:
            words.append(
                "it serves armoured cable only" if s.armoured else "it does not serve armoured cable"
            )
        return words


def _outside(
    what: str, least: float, most: float, low: float | None, high: float | None, unit: str
) -> list[str]:
    words = []
    if low is not None and not at_least(least, low):
        words.append(f"it takes {what} from {low:g} {unit}, here is {least:g}")
    if high is not None and not at_most(most, high):
        words.append(f"it takes {what} up to {high:g} {unit}, here is {most:g}")
    return words
