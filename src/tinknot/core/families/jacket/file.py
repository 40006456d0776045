"""The joint file of a jacket repair: one place on a through cable, with two edges."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.errors import InputError
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.measured import Measured
from tinknot.core.model import Diameter, Length, Name, PositiveLength

Grade = Literal["scratch", "cut", "bedding", "core"]
HOLED = ("cut", "bedding")


class JacketFile(JointHead):
    """A damaged jacket. `grade`: how deep it goes; `length_mm`: of the damage along the cable;
    `jacket_mm`: the jacket's thickness; `clear_mm`: straight, clear cable beside the damage on the shorter
    side; `method`: what closes it, where that is not left to the planner; `sleeve`: the sleeve settled on."""

    family: Literal["jacket"]
    grade: Grade
    length_mm: Annotated[PositiveLength, Field(le=2000)]
    sheath_od_mm: Diameter
    sheath_od_across_mm: Diameter | None = None
    jacket_mm: Length | None = None
    clear_mm: Length
    material: Literal["pvc", "rubber", "halogen-free", "polyethylene"]
    armoured: bool = False
    wet: bool = False
    cold_only: bool = False
    method: Literal["sleeve", "tape"] | None = None
    sleeve: Name | None = None

    @property
    def holed(self) -> bool:
        """Whether the jacket is through."""
        return self.grade in HOLED

    def check(self) -> None:
        """What single fields cannot say. Raises InputError."""
        super().check()
        if self.holed and self.jacket_mm is None:
            raise InputError.at("/jacket_mm", "is missing")
        if self.jacket_mm is not None and 2 * self.jacket_mm >= self.sheath_od_mm:
            raise InputError.at("/jacket_mm", "is half the cable or more; read both again")

    def measured(self) -> list[Measured]:
        """The jacket, and the damage in it."""
        return list(_measured(self))


def _measured(file: JacketFile) -> Iterator[Measured]:
    across = file.sheath_od_across_mm
    yield Measured(end="", what="jacket", value_mm=file.sheath_od_mm, across_mm=across)
    if file.jacket_mm is not None:
        yield Measured(end="", what="jacket, thickness", value_mm=file.jacket_mm, across_mm=None)
    yield Measured(end="", what="damage along the cable", value_mm=file.length_mm, across_mm=None)
