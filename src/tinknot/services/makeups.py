"""A make-up line read back, and changed core by core."""

from typing import Annotated

from pydantic import Field

from tinknot.core.joint.makeline import make_up
from tinknot.core.joint.members import UNIT_SCREENS, UnitScreen
from tinknot.core.joint.picture import MakeUpPicture, picture
from tinknot.core.model import Diameter, Name, Strict, Whole
from tinknot.services.site import rule_book


class Otherwise(Strict):
    """What is otherwise of one core, by its number: what it is called, empty for its number; or of one unit,
    from 1: spare or not, or the screen of its own."""

    core: Name | None = None
    called: Annotated[str, Field(max_length=40)] = ""
    unit: Whole | None = None
    spare: bool = False
    screen: UnitScreen | None = None


class LineIn(Strict):
    """A make-up line, the thickest and the thinnest core over its insulation in mm where they were measured,
    and what to change of the line."""

    line: Annotated[str, Field(min_length=1, max_length=1500)]
    insulation_mm: Diameter | None = None
    thinnest_mm: Diameter | None = None
    change: Otherwise | None = None


def read_back(given: LineIn) -> MakeUpPicture:
    """The line read, with the change in it. Raises InputError where it cannot be."""
    found = make_up(given.line, "/line")
    if (change := given.change) is not None:
        if change.core is not None:
            found = found.calling(change.core, change.called.strip().replace(" ", "-").replace(",", "-"))
        if change.unit is not None and change.screen is not None:
            found = found.screening(change.unit, UNIT_SCREENS[change.screen])
        elif change.unit is not None:
            found = found.sparing(change.unit, change.spare)
        found = make_up(found.written, "/line")
    return picture(
        found, given.insulation_mm, rule_book().names("screen.colours"), thinnest_mm=given.thinnest_mm
    )
