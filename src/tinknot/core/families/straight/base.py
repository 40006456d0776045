"""What the covers go over: sheath, folded armour, bedding, the bundle of cores, and back to the sheath."""

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

from tinknot.core.acts import Skin
from tinknot.core.families.lowvoltage.job import Job, circle
from tinknot.core.families.recipe import overlap_mm
from tinknot.core.families.straight.cores import Cores
from tinknot.core.families.straight.lead import BEGUN, screened
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile, beside, merged
from tinknot.core.layers.bond import Hold
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.preparation import bared
from tinknot.core.layers.tapes import PlainWrap, passes_for
from tinknot.core.parts.tape import StockTape
from tinknot.core.rulebook import RuleBook

TAIL_MM = 600.0  # of cable that may lie in a shell or carry a part


def in_front(end: str, half_mm: float, near_mm: float, far_mm: float) -> tuple[float, float]:
    """A stretch of an end on the joint's axis, from its distances in front of the sheath cut, mm; behind it
    they are below 0."""
    return (near_mm - half_mm, far_mm - half_mm) if end == "A" else (half_mm - far_mm, half_mm - near_mm)


def wound_once(
    job: Job,
    layer: str,
    tape: StockTape,
    span_mm: tuple[float, float],
    *,
    where: str,
    over: Profile,
    text: str,
    **more: Any,
) -> PlainWrap:
    """One pass of tape over what lies there so far; `where`, in words; `more` as a wrap takes it."""
    return PlainWrap(
        layer,
        f"{tape.kind.replace('-', ' ')} {where}",
        tape,
        tape.first_lot(job.today),
        span_mm=span_mm,
        passes=1,
        substrate_mm=over.between(*span_mm).greatest(),
        rules=job.rules,
        text=text,
        **more,
    )


def holds(job: Job, cores: Cores) -> tuple[Hold, ...]:
    """Where something is clamped, of each end from outside in: armour folded back on its sheath, its lead
    left bare, or the end of a mesh on the sheath where there is no metal."""
    half, found = cores.layout.gap_mm / 2, list[Hold]()
    fold, mesh = job.rules.number("armour.fold_mm"), job.rules.number("mesh.end_mm")
    meshed = screened(job) and not job.made.began_without(BEGUN)
    for e in job.ends:
        here: list[tuple[Skin, float, float]] = [("armour", -fold, 0.0)] if e.armour else []
        sealed = job.rules.number("lead_sheath.sealed_mm")
        lead = (x for x in bared(e, job.rules) if x.what == "lead-sheath")
        here += [(x.what, x.from_mm, x.to_mm - sealed) for x in lead]
        if not here and meshed:
            here = [("screen", -mesh, 0.0)]
        found += [Hold(e.name, skin, in_front(e.name, half, near, far)) for skin, near, far in here]
    return tuple(found)


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
    a = _end(job.a, -half - tail, -half, fold, rules=job.rules)
    b = [
        (-x2, -x1, g, n) for x1, x2, g, n in reversed(_end(job.b, -half - tail, -half, fold, rules=job.rules))
    ]
    before = Profile.of_stretches(a, flat=job.a.flat and not job.a.armour)
    after = Profile.of_stretches(b, flat=job.b.flat and not job.b.armour)
    return Profile((*before.stations, *bundle.stations, *after.stations))


def _end(
    end: CableEnd, start: float, sheath_cut: float, fold: float, rules: RuleBook
) -> list[tuple[float, float, float, float]]:
    """Stretches of one end as seen on A: sheath, folded armour on it, what stands in front of its cut."""
    s = end.sheath
    found = [(start, sheath_cut, s.greatest_mm, s.least_mm)]
    if end.armour:
        grown = 2 * end.armour.thickness_mm
        found = [
            (start, sheath_cut - fold, s.greatest_mm, s.least_mm),
            (sheath_cut - fold, sheath_cut, s.greatest_mm + grown, s.least_mm + grown),
        ]
    standing = bared(end, rules)
    return found + [
        (sheath_cut + x.from_mm, sheath_cut + x.to_mm, x.outside.greatest_mm, x.outside.least_mm)
        for x in standing
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
