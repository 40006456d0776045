"""The braid of a screened cable made good: folds, donor braid, and what holds it on them."""

from itertools import pairwise
from math import cos, radians

from tinknot.core.families.choice import Pick, pick_of
from tinknot.core.families.screened.file import Fixing
from tinknot.core.families.screened.job import ScreenedJob
from tinknot.core.figures import LEAST, MOST, mm
from tinknot.core.formulas.braid import Braid
from tinknot.core.formulas.conductor import RESISTIVITY_OHM_MM2_KM, circle_mm2, resistance_uohm
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.screen import Held
from tinknot.core.layers.screened.screens import DonorBraid
from tinknot.core.layers.solder_sleeve import SolderSleeve
from tinknot.core.parts.clamp import StockClamp
from tinknot.core.parts.donor import StockDonor
from tinknot.core.parts.ring import StockRing
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.parts.stocked import closest
from tinknot.core.tolerance import at_least, whole_up

FIXED: dict[Fixing, str] = {
    "solder": "solder sleeves",
    "spring": "constant-force springs",
    "ring": "crimp rings",
}


def donor_for(
    job: ScreenedJob,
    under: Profile,
    seat: tuple[float, float],
) -> tuple[Pick, DonorBraid | None]:
    """The donor braid that covers best of those that go over the bulge and both folds, off a reel before
    from equal cable."""
    lies = under.between(*seat)
    bulge, thin = lies.greatest(), lies.least()
    layers, least = (2 if job.joint.second else 1), job.rules.number("screen.coverage_pct")
    spare, more = (job.rules.number(f"screen.{k}_mm") for k in ("donor_spare", "harvest"))

    def covers(d: StockDonor) -> float:
        return 100 * (1 - (1 - d.braid.thinnest(thin, bulge)[1] / 100) ** layers)

    def where(d: StockDonor) -> str:
        return f"{covers(d):.0f} % over {mm(d.braid.thinnest(thin, bulge)[0], LEAST):.1f} mm"

    def cut(d: StockDonor) -> int:
        return whole_up(drawn_mm(d.braid, under.between(*seat)) + spare)

    def booked(d: StockDonor) -> int:
        return whole_up(cut(d) + more) if d.harvested else cut(d)

    def fault(d: StockDonor) -> str:
        if d.free(job.today) == 0:
            return "none on hand in date"
        if not d.braid.reaches(bulge):
            most = 0.0 if d.braid.jam is None else d.braid.most_under_mm
            return f"jams: it goes over {mm(most):.1f} mm at most, the bulge has {mm(bulge):.1f} mm"
        if not at_least(covers(d), least):
            return f"covers {where(d)}, {least:g} % are asked for"
        have = d.free(job.today)
        if have is not None and not at_least(have * d.roll_mm, booked(d) * layers):
            return f"{mm(have * d.roll_mm, MOST):.0f} mm on hand, {mm(booked(d) * layers, LEAST)} mm needed"
        return ""

    def cost(d: StockDonor) -> str:
        return f", takes {mm(booked(d) * layers)} mm of equal cable" if d.harvested else ""

    need = f"at least {least:g} % over {mm(thin, LEAST):.1f} to {mm(bulge, LEAST):.1f} mm"
    advice = f"Order wider donor braid, {need}; or lay two layers of it, or take it from equal cable."
    pick, best = pick_of(
        "donor",
        "donor braid",
        need,
        advice,
        parts=job.joint.stock.donors,
        fault=fault,
        worth=lambda d: (d.harvested, -covers(d), d.id),
        said=lambda d: f"covers {where(d)}, where it covers least{cost(d)}",
    )
    if best is None:
        return pick, None
    lot = best.first_lot(job.today)
    return pick, DonorBraid(
        "donor",
        "donor braid",
        job.rules,
        best,
        lot=lot,
        span_mm=seat,
        cut_mm=cut(best),
        cable_mm=booked(best) if best.harvested else 0,
        coverage=where(best),
        layers=layers,
        end="A",
    )


def held(
    job: ScreenedJob,
    fixed: Fixing,
    parts: list[StockSolderSleeve],
    under: Profile,
    gap_mm: float,
    folds: tuple[float, float],
) -> tuple[list[Layer], list[Pick]]:
    """What holds the donor braid on both folds."""
    found: list[Layer] = []
    picks: list[Pick] = []
    for side, end in enumerate("AB"):
        sign, middle = (-1, 1)[side], (gap_mm + folds[side]) / 2
        if fixed == "solder":
            if len(parts) < 2:
                continue
            found.append(_soldered(job, parts[side], end, sign * middle, sign=sign, under=under))
            continue
        on = under.at(sign * middle).greatest_mm
        pick, part = _holder(job, fixed, end, on)
        picks.append(pick)
        if part is not None:
            half = min(part.width_mm, folds[side]) / 2
            held = Held(
                f"{fixed}-{end}",
                FIXED[fixed].removesuffix("s"),
                job.rules,
                part,
                lot=part.first_lot(job.today),
                span_mm=(sign * middle - half, sign * middle + half),
                on_mm=on,
                joins="fold and donor braid",
                on=end,
                order=2,
            )
            found.append(held)
    return found, picks


def _soldered(
    job: ScreenedJob, part: StockSolderSleeve, end: str, at: float, sign: int, under: Profile
) -> SolderSleeve:
    """A solder sleeve with its ring in the middle of the fold, its wide mouth on the sheath."""

    def here(a: float, b: float) -> tuple[float, float]:
        x, y = sorted((at - sign * a, at - sign * b))
        return x, y

    wide, solder, other = part.rings
    span = here(*part.reach_mm)
    gun = job.rules.number("heat.solder_c")
    return SolderSleeve(
        f"solder-{end}",
        f"solder sleeve on {end}",
        job.rules,
        part,
        lot=part.first_lot(job.today),
        span_mm=span,
        solder_mm=here(solder.from_mm, solder.to_mm),
        seals_mm=(here(wide.from_mm, wide.to_mm), here(other.from_mm, other.to_mm)),
        window=False,
        gun_c=gun,
        cool_min=job.cool(part.tube("").od_mm(under.between(*span).greatest())),
        joins="fold and donor braid",
        where="the fold",
        led=False,
        on=end,
        order=2,
    )


def _holder(
    job: ScreenedJob, fixed: Fixing, end: str, on_mm: float
) -> tuple[Pick, "StockClamp | StockRing | None"]:
    """The constant-force spring or crimp ring on one fold; a ring is slid over all of it."""
    stock, title = job.joint.stock, FIXED[fixed].removesuffix("s")
    parts: list[StockClamp | StockRing] = list(stock.rings if fixed == "ring" else stock.clamps)

    def fault(c: StockClamp | StockRing) -> str:
        if isinstance(c, StockRing):
            return c.not_on(on_mm, job.today) or c.not_over(on_mm, job.margins)
        return c.not_on(on_mm, job.today) if c.kind == "spring" else "is a clamp"

    need = f"{mm(on_mm):.1f} mm over fold and donor braid"
    advice = f"Order a {title} for {mm(on_mm):.1f} mm."
    layer, on = f"{fixed}-{end}", f"{title} on {end}"
    return pick_of(
        layer, on, need, advice, parts=parts, fault=fault, worth=closest, said=lambda c: c.range_said
    )


def screen_uohm(job: ScreenedJob, donor: DonorBraid, length_mm: float) -> float:
    """The most the screen may read: its own length, estimated from the donor's strands, and contacts."""
    b = donor.part.braid
    copper = b.carriers * b.ends * circle_mm2(b.strand_mm) * cos(radians(b.as_made.angle_deg)) ** 2
    own = RESISTIVITY_OHM_MM2_KM / copper * length_mm
    factor, contact = (job.rules.number(f"screen.{k}") for k in ("resistance_factor", "contact_mohm"))
    return factor * own + 2 * 1000 * contact


def drain_uohm(job: ScreenedJob, length_mm: float) -> float:
    """The most that foil reads by its drain wires, as thick as the thinnest core (an estimate), over the
    joint, and their contacts."""
    own = resistance_uohm(min(u.area_mm2 for u in job.cable.members), length_mm)
    factor, contact = (job.rules.number(f"screen.{k}") for k in ("resistance_factor", "contact_mohm"))
    return factor * own + 2 * 1000 * contact


def drawn_mm(braid: Braid, under: Profile) -> float:
    """The length of braid as made that lies over a profile, mm: ∫ dx / factor(x). Where the profile is
    thinner than the braid closes on, it lies as on the least it closes on."""
    total = 0.0
    for p, q in pairwise(under.stations):
        middle = max((p.greatest_mm + q.greatest_mm) / 2, braid.least_under_mm)
        total += (q.x_mm - p.x_mm) / braid.length_factor(middle)
    return total
