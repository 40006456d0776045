"""Calculators of moulded parts and what makes them tight: `bead`, `hot-melt-tape`, `boot-fit`."""

from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.calc.materials import PackIn, PackOut
from tinknot.core.calc.sleeves import MarginsIn
from tinknot.core.errors import InputError, refuse_twice
from tinknot.core.formulas.adhesive import Band, bands_ml, hot_melt_tape
from tinknot.core.formulas.resin import Pack, order
from tinknot.core.formulas.sleeve import Tube, fit
from tinknot.core.model import Diameter, Length, Name, PositiveLength, Result, Strict, Whole
from tinknot.core.tolerance import at_most

NO_WALL_MM = 1.0  # whether a mouth passes and grips does not depend on its wall


class BandIn(Strict):
    od_mm: Diameter
    band_mm: PositiveLength
    count: Annotated[Whole, Field(ge=1, le=1000)] = 1


class BeadIn(Strict):
    bands: Annotated[list[BandIn], Field(min_length=1, max_length=1000)]
    thickness_mm: Diameter = 0.5
    waste_pct: Annotated[float, Field(ge=0, le=1000, description="%")] = 20.0
    nozzles: Annotated[Whole, Field(ge=0, le=1000)] = 1
    nozzle_ml: Annotated[float, Field(ge=0, le=1e6, description="ml")] = 0.0
    packs: Annotated[list[PackIn], Field(max_length=1000)] = []


class BeadOut(Result):
    net_ml: float
    required_ml: float
    packs: list[PackOut]
    left_over_ml: float


def bead(given: BeadIn) -> BeadOut:
    """Paste for bands round fitting and cable, with what the nozzles keep, and the fewest packs for it."""
    refuse_twice([p.id for p in given.packs], "/packs/{}/id")
    net = bands_ml([Band(b.od_mm, b.band_mm, b.count) for b in given.bands], given.thickness_mm)
    required = net * (1 + given.waste_pct / 100) + given.nozzles * given.nozzle_ml
    packs = [Pack(p.id, p.volume_ml, p.stock) for p in given.packs]
    counts = order(required, packs) if packs else []
    total = sum(p.volume_ml * n for p, n in zip(packs, counts, strict=True))
    return BeadOut(
        net_ml=net,
        required_ml=required,
        packs=[PackOut(id=p.id, count=n) for p, n in zip(packs, counts, strict=True) if n],
        left_over_ml=total - required if packs else 0.0,
    )


class HotMeltTapeIn(Strict):
    seal_od_mm: Diameter
    tape_thickness_mm: Diameter
    turns: Annotated[Whole, Field(ge=1, le=1000)] = 1
    overlap_mm: Length = 5.0


class HotMeltTapeOut(Result):
    length_mm: int
    od_after_mm: float


def tape_ring(given: HotMeltTapeIn) -> HotMeltTapeOut:
    """Hot-melt tape to cut for a mouth, and the diameter over it."""
    found = hot_melt_tape(given.seal_od_mm, given.tape_thickness_mm, given.turns, given.overlap_mm)
    return HotMeltTapeOut(length_mm=found.length_mm, od_after_mm=found.od_after_mm)


class OpeningIn(Strict):
    name: Name
    expanded_id_mm: Diameter
    recovered_id_mm: Diameter
    pass_od_mm: Diameter
    seal_od_mm: Diameter


class BootFitIn(MarginsIn):
    openings: Annotated[list[OpeningIn], Field(min_length=1, max_length=1000)]


class OpeningOut(Result):
    name: str
    verdict: Literal["fits", "will-not-pass", "will-not-grip", "neither"]
    ratio_needed: float
    pass_short_by_mm: float
    grip_short_by_mm: float


class BootFitOut(Result):
    openings: list[OpeningOut]
    fits: bool


def boot_fit(given: BootFitIn) -> BootFitOut:
    """Whether every opening of a moulded part passes what it must and grips what it seals on."""
    margins, judged = given.margins(), []
    refuse_twice([o.name for o in given.openings], "/openings/{}/name", "names")
    for i, o in enumerate(given.openings):
        if at_most(o.expanded_id_mm, o.recovered_id_mm):
            raise InputError.at(
                f"/openings/{i}/expanded_id_mm",
                "must be more than recovered_id_mm: an opening shrinks when heated",
            )
        tube = Tube(o.expanded_id_mm, o.recovered_id_mm, NO_WALL_MM, 0.0)
        found = fit(tube, o.pass_od_mm, o.seal_od_mm, margins)
        judged.append(
            OpeningOut(
                name=o.name,
                verdict=found.verdict,
                ratio_needed=found.ratio_needed,
                pass_short_by_mm=found.pass_short_by_mm,
                grip_short_by_mm=found.grip_short_by_mm,
            )
        )
    return BootFitOut(openings=judged, fits=all(o.verdict == "fits" for o in judged))
