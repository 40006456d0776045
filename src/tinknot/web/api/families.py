"""The kinds of joint there are, and what each asks."""

from flask import Blueprint

from tinknot.core.families.asks import Ask
from tinknot.core.families.registry import FAMILIES
from tinknot.core.joint.picture import MakeUpPicture
from tinknot.core.model import Result
from tinknot.services import makeups
from tinknot.web.http import endpoint

bp = Blueprint("families", __name__)


class SheetKind(Result):
    """What a kit sheet can be for: its recipe, and what it makes in words."""

    recipe: str
    makes: str


class FamilyOut(Result):
    """A kind of joint: its name, how the card calls it, which form asks its readings, its questions, what
    kit sheets for it make, and whether its B branches off A."""

    name: str
    title: str
    form: str
    needs_sheet: bool
    branches: bool
    sheets: list[SheetKind]
    asks: list[Ask]
    cautions: list[str]


class Families(Result):
    items: list[FamilyOut]


@endpoint(bp, "GET", "/families", out=Families)
def listed() -> Families:
    """Every kind of joint, in the order in which they are offered."""
    return Families(
        items=[
            FamilyOut(
                name=f.name,
                title=f.title,
                form=f.form,
                needs_sheet=f.needs_sheet,
                branches=f.branches,
                sheets=[SheetKind(recipe=r, makes=words) for r, words in f.sheets.items()],
                asks=list(f.asks),
                cautions=list(f.cautions),
            )
            for f in FAMILIES.values()
        ]
    )


@endpoint(bp, "POST", "/make-up", body=makeups.LineIn, out=MakeUpPicture)
def make_up(body: makeups.LineIn) -> MakeUpPicture:
    """A make-up line as it was read, in words and to scale, with what is changed of one core."""
    return makeups.read_back(body)
