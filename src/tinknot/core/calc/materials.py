"""Calculators of what is wound on, poured and heated: `tape-wrap`, `resin-fill`, `gun-setting`."""

from typing import Annotated

from pydantic import Field

from tinknot.core.errors import refuse_twice
from tinknot.core.formulas.heat import DialPoint, gun_setting
from tinknot.core.formulas.resin import Pack, fill
from tinknot.core.formulas.tape import wrap
from tinknot.core.model import Diameter, Name, Percent, PositiveLength, Result, Strict, Temperature, Whole


class TapeWrapIn(Strict):
    substrate_od_mm: Diameter
    wrapped_length_mm: PositiveLength
    tape_width_mm: PositiveLength
    tape_thickness_mm: PositiveLength
    overlap_pct: Percent = 50.0
    stretch: Annotated[float, Field(ge=1, le=100, description="stretched/relaxed length")] = 1.0
    passes: Annotated[Whole, Field(ge=1, le=1000)] = 1


class TapeWrapOut(Result):
    turns_per_pass: float
    tape_length_mm: float
    od_after_mm: float


def tape_wrap(given: TapeWrapIn) -> TapeWrapOut:
    """Turns, tape used and the finished diameter of a wrapping."""
    found = wrap(
        given.substrate_od_mm,
        given.wrapped_length_mm,
        given.tape_width_mm,
        given.tape_thickness_mm,
        overlap_pct=given.overlap_pct,
        stretch=given.stretch,
        passes=given.passes,
    )
    return TapeWrapOut(**vars(found))


class ShellPieceIn(Strict):
    length_mm: PositiveLength
    inside_diameter_mm: Diameter


class InsideIn(Strict):
    length_mm: PositiveLength
    od_mm: Diameter
    count: Annotated[Whole, Field(ge=1, le=1000)] = 1


class PackIn(Strict):
    id: Name
    volume_ml: Annotated[float, Field(ge=1e-6, le=1e9, description="ml")]
    stock: Annotated[Whole, Field(ge=0, le=1_000_000)] | None = None


class ResinFillIn(Strict):
    shell: Annotated[list[ShellPieceIn], Field(min_length=1, max_length=1000)]
    inside: Annotated[list[InsideIn], Field(max_length=1000)]
    waste_pct: Annotated[float, Field(ge=0, le=1000, description="%")] = 8.0
    packs: Annotated[list[PackIn], Field(max_length=1000)]


class PackOut(Result):
    id: str
    count: int


class ResinFillOut(Result):
    shell_ml: float
    displaced_ml: float
    net_ml: float
    required_ml: float
    packs: list[PackOut]
    left_over_ml: float


def resin_fill(given: ResinFillIn) -> ResinFillOut:
    """Resin that a shell takes and the fewest packs for it."""
    refuse_twice([p.id for p in given.packs], "/packs/{}/id")
    found = fill(
        [(p.length_mm, p.inside_diameter_mm) for p in given.shell],
        [(p.length_mm, p.od_mm, p.count) for p in given.inside],
        given.waste_pct,
        [Pack(p.id, p.volume_ml, p.stock) for p in given.packs],
    )
    return ResinFillOut(
        shell_ml=found.shell_ml,
        displaced_ml=found.displaced_ml,
        net_ml=found.net_ml,
        required_ml=found.required_ml,
        packs=[PackOut(id=i, count=n) for i, n in found.packs],
        left_over_ml=found.left_over_ml,
    )


class DialPointIn(Strict):
    dial: Annotated[float, Field(ge=-1e6, le=1e6)]
    temperature_c: Temperature


class GunSettingIn(Strict):
    calibration: Annotated[list[DialPointIn], Field(min_length=1, max_length=1000)]
    target_c: Temperature


class GunSettingOut(Result):
    dial: float | None
    reason: str


def gun_dial(given: GunSettingIn) -> GunSettingOut:
    """The heat gun's dial for a temperature, from its own calibration."""
    found = gun_setting([DialPoint(p.dial, p.temperature_c) for p in given.calibration], given.target_c)
    return GunSettingOut(dial=found.dial, reason=found.reason)
