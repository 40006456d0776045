"""What the covers go over: sheath, folded armour, bedding, the bundle of cores, and back to the sheath."""

from collections.abc import Sequence
from itertools import pairwise

from tinknot.core.families.lowvoltage.job import Job, circle
from tinknot.core.families.recipe import overlap_mm
from tinknot.core.families.straight.cores import Cores
from tinknot.core.families.straight.lead import BEGUN, screened
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile, beside, merged
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.tapes import PlainWrap, passes_for

TAIL_MM = 600.0  # of cable that may lie in a shell or carry a part


def held_mm(job: Job, cores: Cores) -> dict[str, tuple[float, float]]:
    """Where something is clamped on the sheath, by end, mm on the joint's axis: armour folded back, or
    the end of a mesh where there is no armour."""
    half, found = cores.layout.gap_mm / 2, {}
    fold, mesh = job.rules.number("armour.fold_mm"), job.rules.number("mesh.end_mm")
    meshed = screened(job) and not job.made.began_without(BEGUN)
    for end, e in zip("AB", job.ends, strict=True):
        reach = fold if e.armour else mesh if meshed else 0.0
        if reach:
            found[end] = (-half - reach, -half) if end == "A" else (half, half + reach)
    return found


def over_sheath_mm(job: Job) -> tuple[float, float]:
    """Overlap of the outer seal onto each sheath, mm, behind the folded armour where there is some."""
    fold = job.rules.number("armour.fold_mm")
    if all(e.is_wire for e in job.ends):  # as a sleeve lies on a core
        return tuple(overlap_mm(job.rules, "core", e.sheath.greatest_mm) for e in job.ends)  # type: ignore[return-value]
    return tuple(
        overlap_mm(job.rules, "outer", e.sheath.greatest_mm) + (fold if e.armour else 0.0) for e in job.ends
    )  # type: ignore[return-value]  # two ends


def inner_profile(job: Job, cores: Cores) -> Profile:
    """From sheath to sheath, before any cover."""
    flat = all(e.flat and not e.armour for e in job.ends)
    bundle = beside(cores.tracks) if flat and len(cores.tracks) > 1 else merged(cores.tracks, circle)
    if job.joint.bundle_od_mm is not None:  # a measured bundle wins over the calculated circle
        scale = job.joint.bundle_od_mm / bundle.greatest()
        bundle = Profile.of_stretches(
            (p.x_mm, q.x_mm, p.greatest_mm * scale, p.least_mm * scale)
            for p, q in zip(bundle.stations[::2], bundle.stations[1::2], strict=True)
        )
    half, tail = cores.layout.gap_mm / 2, max(over_sheath_mm(job)) + TAIL_MM
    fold = job.rules.number("armour.fold_mm")
    a = _end(job.a, -half - tail, -half, cores.crutch_mm[0], fold=fold)
    b = [
        (-x2, -x1, g, n)
        for x1, x2, g, n in reversed(_end(job.b, -half - tail, -half, -cores.crutch_mm[1], fold=fold))
    ]
    before = Profile.of_stretches(a, flat=job.a.flat and not job.a.armour)
    after = Profile.of_stretches(b, flat=job.b.flat and not job.b.armour)
    return Profile((*before.stations, *bundle.stations, *after.stations))


def _end(
    end: CableEnd, start: float, sheath_cut: float, crutch: float, fold: float
) -> list[tuple[float, float, float, float]]:
    """Stretches of one end as seen on A: sheath, folded armour on it, bedding."""
    s = end.sheath
    if end.armour is None:
        return [(start, sheath_cut, s.greatest_mm, s.least_mm)]
    grown = 2 * end.armour.thickness_mm
    bed = end.bed
    return [
        (start, sheath_cut - fold, s.greatest_mm, s.least_mm),
        (sheath_cut - fold, sheath_cut, s.greatest_mm + grown, s.least_mm + grown),
        (sheath_cut, crutch, bed.greatest_mm, bed.least_mm),
    ]


def shoulders(job: Job, under: Profile, span: tuple[float, float]) -> list[float]:
    """Places inside `span` where the profile steps by more than the rule book's ratio, mm."""
    ratio = job.rules.number("sleeve.shoulder_ratio")
    found = []
    for p, q in pairwise(under.stations):
        low, high = sorted((p.greatest_mm, q.greatest_mm))
        if span[0] < p.x_mm < span[1] and q.x_mm - p.x_mm < 1e-6 and high > ratio * low * (1 + 1e-9):
            found.append(p.x_mm)
    return found


def fill(job: Job, under: Profile, span: tuple[float, float]) -> tuple[list[Layer], list[str]]:
    """Mastic on the thin side of every shoulder under a cover; a warning where there is none."""
    places = shoulders(job, under, span)
    if not places:
        return [], []
    tape = job.tape("mastic")
    if tape is None:
        return [], [
            "A step steeper than 2 to 1 lies under the outer sleeve: fill it with mastic; none is in stock."
        ]
    wide, found = job.rules.number("tape.mastic_over_mm"), []
    for n, x in enumerate(places, 1):
        left, right = under.at(x, "left").greatest_mm, under.at(x, "right").greatest_mm
        stretch = (x - wide, x) if left < right else (x, x + wide)
        thick = (max(left, right) / job.rules.number("sleeve.shoulder_ratio") - min(left, right)) / 2
        found.append(
            PlainWrap(
                f"mastic-{n}",
                "mastic over the step",
                tape,
                tape.first_lot(job.today),
                span_mm=stretch,
                passes=passes_for(tape, thick),
                substrate_mm=min(left, right),
                rules=job.rules,
                text="Press it into the corner; no edge may stand out.",
                with_next=n < len(places),
            )
        )
    return list(found), []


def ends_of(job: Job, names: Sequence[str]) -> tuple[CableEnd, ...]:
    """The ends named."""
    return tuple(e for e in job.ends if e.name in names)
