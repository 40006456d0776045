"""Solder sleeves: a shrinking tube with a ring of solder inside it and a sealing ring at each mouth."""

from dataclasses import dataclass
from typing import ClassVar, Literal, get_args

from tinknot.core.errors import InputError
from tinknot.core.model import PositiveLength
from tinknot.core.parts.kind import PartFigure, PartKind, choice, length, number
from tinknot.core.parts.stocked import Area
from tinknot.core.parts.whole import Celsius, UsedWhole
from tinknot.core.tolerance import at_least, at_most

Exit = Literal["front", "rear"]


@dataclass(frozen=True)
class Ring:
    """A ring of solder or a sealing ring inside a part, mm from the middle of the solder."""

    what: Literal["solder", "seal"]
    from_mm: float
    to_mm: float


class StockSolderSleeve(UsedWhole):
    """A solder sleeve, which is used whole. Lengths in mm as it is supplied: `solder_at_mm` from its wide
    mouth to the middle of the ring of solder, `solder_mm` that ring's width, `seal_mm` each sealing ring's,
    at the mouths. `lead_mm2`: the section of a lead fixed in it, which leaves it by `exit`."""

    part: ClassVar[PartKind] = PartKind(
        name="solder-sleeve",
        heading="Solder sleeves",
        own=(
            length("expanded_id_mm", "Inside as supplied, at least"),
            length("recovered_id_mm", "Inside when free, at most"),
            length("recovered_wall_mm", "Wall when free"),
            number("longitudinal_change_pct", "Length change when free", "%", "Minus when it gets shorter"),
            length("length_mm", "Length"),
            length("solder_at_mm", "Solder, from the wide mouth", "To the middle of its ring"),
            length("solder_mm", "Solder ring, width"),
            length("seal_mm", "Sealing ring, width", "At each mouth"),
            number("melts_c", "Solder melts at", "°C"),
            number("shrink_c", "Shrinks from", "°C"),
            number("scorch_c", "Scorches at", "°C"),
            PartFigure(key="for_nickel", label="solders nickel", form="flag", hint="its flux does"),
            PartFigure(
                key="indicator", label="shows when hot enough", form="flag", hint="its colour changes"
            ),
            number("lead_mm2", "Lead in it", "mm²", "Empty where it has none"),
            choice("exit", "Its lead leaves to the", get_args(Exit)),
            number("price_each", "Price", "each"),
        ),
        size="{expanded_id_mm} → {recovered_id_mm}",
        facts=("{length_mm} long", "melts at {melts_c}", "lead {lead_mm2}"),
        order="expanded_id_mm",
    )

    solder_at_mm: PositiveLength
    solder_mm: PositiveLength
    seal_mm: PositiveLength
    melts_c: Celsius
    for_nickel: bool = False
    indicator: bool = False
    lead_mm2: Area | None = None
    exit: Exit = "front"

    def check(self, path: str) -> None:
        """Ring and seals lie apart inside its length. Raises InputError under `path`."""
        self.tube(path)
        ring = self.solder_mm / 2 + self.seal_mm
        if not (at_most(ring, self.solder_at_mm) and at_most(ring, self.length_mm - self.solder_at_mm)):
            raise InputError.at(
                f"{path}/solder_at_mm", "must leave room for the solder and a sealing ring on both sides"
            )
        if self.scorch_c is not None and self.scorch_c <= self.melts_c:
            raise InputError.at(f"{path}/scorch_c", "must be above what its solder melts at")

    @property
    def fold_room_mm(self) -> float:
        """The longest fold of a braid whose middle lies under its solder without reaching into the sealing
        ring of its wide mouth."""
        return 2 * (self.solder_at_mm - self.seal_mm)

    def too_short_for_fold(self, least_mm: float) -> str:
        """Why a fold of `least_mm` finds no room in it; empty where it does."""
        if at_least(self.fold_room_mm, least_mm):
            return ""
        room = f"has room for {self.fold_room_mm:.1f} mm of fold, {least_mm:g} mm are the least"
        return f"{room}: the sealing ring of its wide mouth would lie on the fold"

    @property
    def reach_mm(self) -> tuple[float, float]:
        """Its mouths, from the middle of the ring of solder."""
        return -self.solder_at_mm, self.length_mm - self.solder_at_mm

    @property
    def rings(self) -> tuple[Ring, Ring, Ring]:
        """The sealing ring of its wide mouth, the solder, the other sealing ring."""
        (a, b), half = self.reach_mm, self.solder_mm / 2
        return (
            Ring("seal", a, a + self.seal_mm),
            Ring("solder", -half, half),
            Ring("seal", b - self.seal_mm, b),
        )
