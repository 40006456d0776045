"""The families there are. Nothing else in the program names one."""

from tinknot.core.errors import InputError
from tinknot.core.families.boot import BOOT
from tinknot.core.families.contract import Family
from tinknot.core.families.ground import GROUND
from tinknot.core.families.jacket import JACKET
from tinknot.core.families.screened import SCREENED
from tinknot.core.families.straight import STRAIGHT
from tinknot.core.families.tap import TAP
from tinknot.core.families.trace import TRACE
from tinknot.core.joint.head import JointHead

FAMILIES: dict[str, Family] = {f.name: f for f in (STRAIGHT, TAP, TRACE, JACKET, GROUND, SCREENED, BOOT)}

USUAL = STRAIGHT.name  # what a new joint is until somebody says otherwise


def family(name: str) -> Family:
    """The family called `name`. Raises InputError at `/family` for one there is not."""
    if name not in FAMILIES:
        raise InputError.at("/family", f"must be one of {', '.join(FAMILIES)}")
    return FAMILIES[name]


def family_of(joint: JointHead) -> Family:
    """The family of a joint file."""
    return family(joint.family)
