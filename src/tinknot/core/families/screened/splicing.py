"""What goes on the cores of a screened cable: splices, markers, caps on spare cores; and how they are told
apart."""

from math import ceil

from tinknot.core.families.choice import Pick
from tinknot.core.families.moulded.bedding import SHRINKS_C
from tinknot.core.families.moulded.capping import cap_for
from tinknot.core.families.recipe import rest_min
from tinknot.core.families.screened.job import ScreenedJob
from tinknot.core.families.screened.layout import Layout
from tinknot.core.layers.marker import Mark, MarkerSleeve
from tinknot.core.layers.moulded.caps import Caps
from tinknot.core.layers.ringing import RingOut
from tinknot.core.layers.screened.units import UnitSpliced
from tinknot.core.layers.sleeve import gun_c
from tinknot.core.parts.boot import StockBoot
from tinknot.core.parts.marker import marker_for


def units_of(job: ScreenedJob, layout: Layout) -> list[UnitSpliced]:
    """Every unit with its splices."""
    rules, ambient = job.rules, job.joint.ambient_c
    found = []
    for n, (name, centres) in enumerate(layout.centres_mm.items()):
        splice, unit = job.splice_of[n], job.cable.members[n]
        turns, stays_mm = job.turns(layout, name)
        rest = rest_min(rules, ambient, layout.sizes[name].spliced_mm, unit.area_mm2)
        made = UnitSpliced(
            f"unit-{name}",
            f"{unit.kind} {name}",
            name,
            rules,
            part=splice,
            centres_mm=centres,
            turns=turns,
            stays_mm=stays_mm,
            cool_min=float(ceil(rest)),
            gun_c=None if splice.shrink_c is None else gun_c(rules, splice.shrink_c),
            partners=job.partners[n],
        )
        found.append(made)
    return found


def markers_of(job: ScreenedJob, units: list[UnitSpliced]) -> list[MarkerSleeve]:
    """On the long side of every core that is called otherwise on the other."""
    found = []
    for u, ods in zip(units, job.insulation, strict=True):
        on_a = u.long_side == "A"
        marks = tuple(
            _mark(job, a if on_a else b, b if on_a else a, ods[0 if on_a else 1])
            for a, b in u.partners.items()
            if a != b
        )
        if marks:
            title = f"markers of unit {u.unit}" if len(marks) > 1 else f"marker of core {marks[0].name}"
            found.append(
                MarkerSleeve(f"marker-{u.unit}", title, u.unit, marks, rules=job.rules, end=u.long_side)
            )
    return found


def _mark(job: ScreenedJob, name: str, says: str, od_mm: float) -> Mark:
    part = marker_for(job.joint.stock.markers, od_mm, says, job.today)
    return Mark(name, says, part, part.first_lot(job.today) if part else "")


def cap_picks(job: ScreenedJob) -> list[tuple[Pick, StockBoot | None]]:
    """The cap of each end's spare cores; none where nothing is spare or nobody counts caps."""
    stock, spare = job.joint.stock.boots, job.joined.spare
    if not any(len(b.openings) == 1 for b in stock):
        return []
    return [
        cap_for(f"caps-{end}", f"caps on {end}", stock, job.core[n], margins=job.margins, today=job.today)
        for n, end in enumerate("AB")
        if spare[n]
    ]


def caps_of(job: ScreenedJob) -> list[Caps]:
    """Every spare core sealed, once all others are joined."""
    found = {p.layer: part for p, part in cap_picks(job)}
    r = job.rules
    return [
        Caps(
            f"caps-{end}",
            f"caps on {end}",
            r,
            end,
            cores=cores,
            part=part,
            lot=part.first_lot(job.today) if part else "",
            gun_c=gun_c(r, (part and part.shrink_c) or SHRINKS_C),
        )
        for end, cores in zip("AB", job.joined.spare, strict=True)
        if cores
        for part in [found.get(f"caps-{end}")]
    ]


def ring_out(job: ScreenedJob) -> RingOut | None:
    """The cores of side B told apart, where their marks are not to be trusted."""
    if job.joint.marks is None:
        return None
    b = job.cables[1]
    units = tuple(job.cable.number(n) for n in range(job.cable.units))
    screened = bool(b.overall or any(u.screens for u in b.members))
    return RingOut(
        "ring-out", "cores of side B", job.rules, b.cores, units=units, by=job.joint.marks, screened=screened
    )
