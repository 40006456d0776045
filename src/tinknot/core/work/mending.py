"""What may be done about a fault, and what each way costs: length, parts, time. Pure."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tinknot.core.figures import mm
from tinknot.core.model import Result, Told
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut
from tinknot.core.plan.ways import MendOut
from tinknot.core.planning.lasting import SAID

FREE_MENDS = (
    MendOut(words="Put right on the spot, nothing lost", kind="mended"),
    MendOut(words="Do this step again", kind="again"),
    MendOut(words="Cut the joint out and start again", kind="remake"),
)  # for a fault in somebody's own words


class Again(Result):
    """A part that is needed once more, and whether it is there."""

    part_id: str
    name: str
    lot: str
    quantity: float
    unit: str
    layer: str


class Consequence(Told):
    """What a way of mending costs: cable lost and slack left by end in mm (left is null where no slack
    was measured), minutes of hands, parts needed again, steps to do again; `why_not` when it cannot be,
    `planned` when it can be once the plan is made anew."""

    kind: str
    words: str
    why_not: str
    lost_mm: dict[str, float]
    slack_left_mm: dict[str, float | None]
    minutes: float
    again: list[Again]
    reopens: list[str]
    planned: bool = False


JOINED = "the ends are joined already; the joint has to be cut out"


@dataclass(frozen=True)
class Place:
    """Where a fault was seen: its catalogue id ('' for own words), step and layer."""

    fault: str
    step: str
    layer: str


def dependents(plan: Plan, step_ids: set[str]) -> set[str]:
    """Every step that needs one of `step_ids`, directly or not."""
    found: set[str] = set()
    frontier = set(step_ids)
    while frontier:
        frontier = {s.id for s in plan.steps if frontier & set(s.needs)} - found
        found |= frontier
    return found


def mends_of(plan: Plan, place: Place) -> Sequence[MendOut]:
    """The ways the catalogue allows for this fault."""
    found = next((f for f in plan.faults if f.id == place.fault and f.layer == place.layer), None)
    return found.mends if found else FREE_MENDS


def consequence(
    plan: Plan, place: Place, mend: MendOut, counted: set[str], lost_mm: Mapping[str, float]
) -> Consequence:
    """What `mend` would cost now, with the steps in `counted` done and `lost_mm` lost before, by end."""
    step = plan.step(place.step)
    roots, lost, why_not = _roots(plan, place, step, mend, counted=counted)
    why_not = why_not or _shut(plan, place, mend, roots, counted=counted)
    reopened = _reopened(plan, place.layer, mend, roots, counted=counted)
    used = used_parts(plan, counted)
    scrapped = [p for p in used if _thrown_away(plan, p, mend, place, counted=counted, reopened=reopened)]
    left = {
        end: None if slack is None else round(slack - lost_mm.get(end, 0.0) - lost.get(end, 0.0), 3)
        for end, slack in plan.slack_mm.items()
    }
    short = [end for end, over in left.items() if over is not None and over < 0 and lost.get(end)]
    if short and not why_not:
        missing = -min(left[e] or 0.0 for e in short)
        why_not = (
            f"the cable no longer reaches: {mm(missing):.0f} mm of slack are missing on"
            f" {' and '.join(short)}; an insert with two joints is needed"
        )
    total = sum(1 for s in plan.steps if s.kind not in ("sign", "gate"))
    return Consequence(
        kind=mend.kind,
        words=mend.words,
        why_not=why_not,
        lost_mm=lost,
        slack_left_mm=left,
        minutes=float(round(plan.minutes.hands * len(reopened | roots & counted) / max(1, total))),
        again=scrapped,
        reopens=[s.id for s in plan.steps if s.id in reopened],
        planned=mend.planned,
    )


def _roots(
    plan: Plan, place: Place, step: StepOut | None, mend: MendOut, counted: set[str]
) -> tuple[set[str], dict[str, float], str]:
    """The steps a way of mending begins again at, the cable it loses by end, and why it cannot be."""
    joined = {s.id for s in plan.steps if s.kind == "join"} & counted
    if mend.planned and any(s.kind == "park" and s.layer == place.layer for s in plan.steps):
        return set(), {}, "this plan still threads it on; settle it under Choose and plan anew first"
    if mend.kind == "again" and _is_forgotten(plan, place):
        parks = {s.id for s in plan.steps if s.kind == "park" and s.layer == place.layer}
        return parks, {}, _in_its_way(plan, joined)
    if mend.kind == "remake":
        cuts = {s.id for s in plan.steps if s.kind == "cut"}
        if not cuts and _tells_once(plan):  # nothing of the cable is cut: all of the work begins anew
            cuts = {s.id for s in plan.steps if s.kind not in SAID}
        return cuts, _remake_loss(plan, bool(joined)), ""
    if mend.kind == "end-again":
        end = step.end if step else ""
        why_not = JOINED if joined else ""
        return (
            {s.id for s in plan.steps if s.kind == "cut" and s.end == end},
            {end: _taken_mm(plan, end)},
            why_not,
        )
    if mend.kind == "new-part":
        mine = [s for s in plan.steps if s.layer == place.layer]
        roots = {s.id for s in mine if s.kind == "park"}
        why_not = _in_its_way(plan, joined) if roots else ""
        roots = roots or {s.id for s in mine[:1]}  # what is not threaded begins with its first step
        return roots, {}, why_not
    if mend.kind == "again":
        return _done_again(plan, place, step), {}, JOINED if mend.stays and joined else ""
    return set(), {}, ""


def _tells_once(plan: Plan) -> bool:
    """Whether its steps say which of them cannot be done a second time; plans of before do not, and what was
    mended by them stays as it was taken."""
    return any(s.once for s in plan.steps)


def _reopened(plan: Plan, layer: str, mend: MendOut, roots: set[str], counted: set[str]) -> set[str]:
    """The steps done so far that a way of mending asks for again: what it begins at and all that was built on
    that, but for what lasts and is sound; of what was only said or proved, itself and the release."""
    if mend.kind == "mended":
        return set()
    on = dependents(plan, roots)
    if not _tells_once(plan):
        return (roots | on) & counted
    if all(s.kind in SAID for s in plan.steps if s.id in roots):
        on = {s.id for s in plan.steps if s.id in on and s.kind == "sign"}
    if mend.kind in ("again", "new-part"):  # what lasts stays as it is
        own = {s.id for s in plan.steps if s.layer == layer} if mend.kind == "new-part" else roots
        stays = {s.id for s in plan.steps if s.once and s.id in counted and s.id not in own}
        on = {s.id for s in plan.steps if s.id in on - stays and not _lies_under(s, stays)}
    return (roots | on) & counted


def _lies_under(step: StepOut, stays: set[str]) -> bool:
    """Whether something sound lies over a step's work, so that it stays too; what looks or reads is looked at
    and read again as far as it is seen."""
    return step.kind not in ("inspect", "test") and bool(stays & {*step.shut_by})


def _shut(plan: Plan, place: Place, mend: MendOut, roots: set[str], counted: set[str]) -> str:
    """Why no hand gets there any more, or not to do it a second time; empty where it does."""
    if mend.kind in ("remake", "end-again") or mend.stays:
        return ""
    steps = {s.id: s for s in plan.steps}
    own = {
        "mended": {place.step},
        "new-part": {s.id for s in plan.steps if s.layer == place.layer},
    }.get(mend.kind, roots)
    for mine in (steps[r] for r in sorted(own) if r in steps and r in counted):
        if mend.kind == "again" and not place.fault and mine.once:
            return f"“{mine.title}” cannot be done a second time"
        for over in (steps[o] for o in mine.shut_by if o in counted and o not in own):
            return f"“{over.title}” is done since, and nobody takes that back"
        goes_first = mend.kind == "new-part" and mine.kind == "join"  # the neutral of a tap
        for on in plan.steps if goes_first else ():
            if on.kind == "join" and on.id in counted - own and mine.id in on.needs:
                return f"“{on.title}” is done since, and that one goes on after it: take it off first"
    return ""


def _is_forgotten(plan: Plan, place: Place) -> bool:
    """Whether the fault is a part that should have been threaded on."""
    return any(f.forgotten for f in plan.faults if f.id == place.fault and f.layer == place.layer)


def _in_its_way(plan: Plan, joined: set[str]) -> str:
    """Why nothing can be threaded on any more; empty as long as nothing is joined."""
    first = next((s for s in plan.steps if s.id in joined), None)
    if first is None:
        return ""
    done = "the cores are joined" if first.core else f"“{first.title}” is done"
    return f"it can no longer be threaded on: {done}"


def again_from(plan: Plan) -> dict[str, list[str]]:
    """For a fault seen at each step, the steps that doing it again begins at; nothing else of the plan
    changes by it."""
    return {s.id: sorted(_done_again(plan, Place("", s.id, s.layer), s)) for s in plan.steps}


def _done_again(plan: Plan, place: Place, step: StepOut | None) -> set[str]:
    """The step itself; for one that only looks or waits, the work of its layer that it looks at."""
    if place.fault == "surface-late":
        mine = [s for s in plan.steps if s.layer == place.layer]
        clocks = {t.after for s in mine for t in s.timers if t.most_min is not None}
        return {s.id for s in mine if s.kind == "surface" and s.id in clocks}
    if step is None:
        return set()
    if step.kind in ("inspect", "wait"):
        work = [s for s in plan.steps if s.layer == step.layer and s.kind == "seal"]
        wound = _tells_once(plan) and not any(s.once for s in work)  # off with it, and on clean ground again
        clean = {s.id for s in plan.steps if s.layer == step.layer and s.kind == "surface"}
        return {s.id for s in work} | (clean if work and wound else set()) or {step.id}
    return {step.id}


def _remake_loss(plan: Plan, joined: bool) -> dict[str, float]:
    """Cable lost by end when both ends are prepared anew: what their sheath cuts took."""
    spare = plan.remake_spare_mm if joined else 0.0
    return {end: round(_taken_mm(plan, end) + spare, 3) for end in sorted({c.end for c in plan.cuts})}


def _taken_mm(plan: Plan, end: str) -> float:
    """How much of an end its preparation takes: its longest cut from the cable's end, mm."""
    return max((c.distance_mm for c in plan.cuts if c.end == end and c.datum == "cable-end"), default=0.0)


def used_parts(plan: Plan, counted: set[str]) -> list[Again]:
    """Parts that the steps done so far have used up."""
    found = []
    using = {layer: [s for s in plan.steps if s.layer == layer] for layer in {p.layer for p in plan.parts}}
    for p in plan.parts:
        if any(s.id in counted for s in using[p.layer] if _uses(s, p.part_id)):
            found.append(
                Again(
                    part_id=p.part_id,
                    name=p.name,
                    lot=p.lot,
                    quantity=p.taken,
                    unit="piece" if p.cut_length_mm is None else "mm",
                    layer=p.layer,
                )
            )
    return found


def takes_parts(step: StepOut) -> bool:
    """Whether a step takes parts off the shelf: threads, joins, winds, fits, clamps, mixes, lays on,
    makes a screen good."""
    return step.kind in ("park", "join", "wrap", "fit", "bond", "mix") or (
        step.kind in ("seal", "adhesive", "screen") and bool(step.part_id)
    )


def _uses(step: StepOut, part_id: str) -> bool:
    """Whether a step takes this part of its layer: all of it, or the part it names."""
    whole = step.kind in ("park", "join", "bond", "mix")
    return takes_parts(step) and (whole or step.part_id == part_id)


def _thrown_away(
    plan: Plan, part: Again, mend: MendOut, place: Place, counted: set[str], reopened: set[str]
) -> bool:
    """A new part replaces the layer's own; a remake, or an end cut back, loses what is crimped, shrunk, wound
    or fitted there, what is only threaded on slides off."""
    if mend.kind == "new-part":
        return part.layer == place.layer
    ends = mend.kind == "end-again" and _tells_once(plan)
    if mend.kind != "remake" and not ends:
        return False
    gone = reopened if ends else counted
    work = {s.kind for s in plan.steps if s.layer == part.layer and s.id in gone}
    return bool(work & {"join", "seal", "mix", "wrap", "bond", "fit", "adhesive"})
