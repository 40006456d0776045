"""A joint as far as it is filled in: anything may be missing, nothing may be misspelt."""

from collections.abc import Mapping
from datetime import datetime
from typing import Annotated, Any

from pydantic import AfterValidator, Field

from tinknot.core.errors import FieldError, InputError
from tinknot.core.families.asks import Asked
from tinknot.core.families.contract import Family
from tinknot.core.families.file import file_of
from tinknot.core.families.registry import FAMILIES, USUAL, family
from tinknot.core.files.numbers import DRAFT
from tinknot.core.joint.drafted import drafted
from tinknot.core.joint.file import (
    ArmourIn,
    BuildIn,
    ChoiceIn,
    ConnectorIn,
    CoreIn,
    EndIn,
    EndsIn,
    LeadSheathIn,
)
from tinknot.core.joint.head import Duty, JointHead
from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.joint.tracedraft import DraftTrace
from tinknot.core.model import Strict, Whole


def _known(name: str) -> str:
    """Raises ValueError for a family there is not."""
    if name not in FAMILIES:
        raise ValueError(f"must be one of {', '.join(FAMILIES)}")
    return name


FamilyName = Annotated[
    str, Field(max_length=40, json_schema_extra={"enum": list(FAMILIES)}), AfterValidator(_known)
]
Measured = Annotated[float, Field(ge=0, le=1e6, description="mm, kept as typed")]


class DraftCard(Strict):
    """What cable, where, why, and what it will live in."""

    where: Annotated[str, Field(max_length=200)] = ""
    why: Annotated[str, Field(max_length=1000)] = ""
    cable: Annotated[str, Field(max_length=200)] = ""
    permit: Annotated[str, Field(max_length=80)] = ""
    permit_until: Annotated[datetime, Field(strict=False)] | None = None
    cable_length_m: Annotated[float, Field(gt=0, le=1e6)] | None = None
    duties: list[Duty] = []
    rated_voltage_v: Annotated[float, Field(ge=0, le=1e6)] | None = None
    ambient_c: Annotated[float, Field(ge=-60, le=80)] | None = None


DraftCore = drafted(CoreIn, "DraftCore", "A core, as far as it is read.", needed=["name"])
DraftArmour = drafted(ArmourIn, "DraftArmour", "Armour, as far as it is read.")
DraftLeadSheath = drafted(LeadSheathIn, "DraftLeadSheath", "A sheath of lead, as far as it is read.")
DraftEnd = drafted(
    EndIn,
    "DraftEnd",
    "An end, as far as it is read.",
    {CoreIn: DraftCore, ArmourIn: DraftArmour, LeadSheathIn: DraftLeadSheath},
)
DraftEnds = drafted(EndsIn, "DraftEnds", "Both ends.", {EndIn: DraftEnd})


class Draft(Strict):
    """Everything the electrician has entered so far. `simulated` names the readings (JSON Pointers,
    without their unit) that a stand-in gave."""

    format: Annotated[Whole, Field(ge=1)] = DRAFT.number
    card: DraftCard = DraftCard()
    ends: DraftEnds = DraftEnds()  # type: ignore[valid-type]  # drafted from its file's model
    connector: ConnectorIn | None = None
    stagger_steps: Annotated[Whole, Field(ge=1, le=5)] = 1
    bundle_od_mm: Measured | None = None
    choice: ChoiceIn = ChoiceIn()
    family: FamilyName = USUAL
    sheet: Annotated[str, Field(max_length=80)] | None = None
    build: BuildIn = BuildIn()
    trace: DraftTrace = DraftTrace()  # type: ignore[valid-type]
    asked: Asked = {}
    simulated: Annotated[list[Annotated[str, Field(max_length=120)]], Field(max_length=100)] = []

    def dump(self) -> dict[str, Any]:
        """As JSON, without what is not filled in; a family's own part only where there is one."""
        own = family(self.family).place.removeprefix("/")
        empty = {"trace": DraftTrace(), "asked": {}, "simulated": []}
        none = {k for k, nothing in empty.items() if k != own and getattr(self, k) == nothing}
        return self.model_dump(mode="json", by_alias=True, exclude_none=True, exclude=none)


EDITED = tuple(f for f in Draft.model_fields if f != "format")  # what a person fills in
# what may be tried without being kept
TRIED = ("stagger_steps", "connector", "choice", "build", "sheet", "trace", "asked")


_CARD = {"rated_voltage_v": "the rated voltage is missing on the card", "ambient_c": "", "cable_length_m": ""}


def joint_file(
    draft: Draft, stock: Mapping[str, Any], ref: str = "", title: str = "", sheet: KitSheet | None = None
) -> JointHead:
    """The joint file a draft makes with a stock. Raises InputError naming what is still missing."""
    kind, data = family(draft.family), draft.dump()
    card = data["card"]
    head = {
        "format": "tinknot-joint",
        "version": 1,
        "family": draft.family,
        "ref": ref or None,
        "title": title or None,
        "duties": card.get("duties", []),
        "stock": stock,
    }
    head |= {k: card[k] for k in _CARD if k in card}
    try:
        found = file_of(kind.body(data) | head)
        found.check()
    except InputError as fault:
        raise InputError(*(_in_words(e, kind) for e in fault.errors)) from None
    return found.model_copy(update={"sheet": sheet}) if sheet else found


def _in_words(e: FieldError, kind: Family) -> FieldError:
    """A fault of the file, at its place in the draft."""
    last = e.path.rsplit("/", 1)[-1]
    path = f"/card{e.path}" if last in _CARD else f"{kind.place}{e.path}"
    words = _CARD.get(last) or kind.words.get(last)
    if words and (e.message == "is missing" or last == "cores"):
        return FieldError(path, words)
    return FieldError(path, e.message)


def missing_of(draft: Draft) -> dict[str, list[FieldError]]:
    """What card and measure still lack, by station; empty lists when they are complete."""
    found: dict[str, list[FieldError]] = {"card": [], "measure": []}
    try:
        joint_file(draft, {})
    except InputError as fault:
        for e in fault.errors:
            found["card" if e.path.startswith("/card") else "measure"].append(e)
    if not draft.card.where:
        found["card"].append(FieldError("/card/where", "say where the joint is"))
    return found
