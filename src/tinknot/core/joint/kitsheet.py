"""A kit sheet: the figures of a leaflet, written by users as data. It fills a recipe's slots."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal, Protocol

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


class Served(Protocol):
    """What a sheet must know of a joint file."""

    @property
    def rated_voltage_v(self) -> float:
        """V."""
        ...

    @property
    def duties(self) -> Sequence[str]:
        """What it will live in."""
        ...

    def not_served_by(self, sheet: "KitSheet") -> list[str]:
        """In words, what of the cable the sheet does not serve."""
        ...


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
    closure: Literal["sleeve", "wrap-around", "resin", "sleeve-resin"] | None = None
    core_insulation: Literal["sleeve", "tape"] | None = None
    cores_shrunk: Literal["in-turn", "together"] | None = None
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

    @property
    def warns(self) -> list[str]:
        """Its cautions, without those that are not written yet."""
        return [c for c in self.cautions if c.strip()]

    def over(self, rules: RuleBook) -> RuleBook:
        """The rule book with this sheet's figures laid over it."""
        return RuleBook({**rules.own, **self.figures})

    def why_not(self, joint: Served) -> list[str]:
        """In words, why this kit does not serve `joint` (a joint file); empty when it does."""
        words = []
        if self.state == "retired":
            words.append("the sheet is retired")
        words += joint.not_served_by(self)
        if self.serves.voltage_most_v is not None and not at_most(
            joint.rated_voltage_v, self.serves.voltage_most_v
        ):
            words.append(f"it is for up to {self.serves.voltage_most_v:g} V")
        if "hazardous" in joint.duties and not self.certified:
            words.append("it is not certified for a hazardous area")
        return words


def outside(
    what: str, least: float, most: float, low: float | None, high: float | None, unit: str
) -> list[str]:
    """In words, whether least to greatest of what is asked lies outside what a kit serves; else nothing."""
    words = []
    if low is not None and not at_least(least, low):
        words.append(f"it takes {what} from {low:g} {unit}, here is {least:g} {unit}")
    if high is not None and not at_most(most, high):
        words.append(f"it takes {what} up to {high:g} {unit}, here is {most:g} {unit}")
    return words
