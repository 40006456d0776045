"""The covers of a straight joint put on one after the other, inside out, each chosen for what is under it."""

from collections.abc import Callable
from dataclasses import replace
from math import ceil

from tinknot.core.families.choice import Choice, Pick
from tinknot.core.families.lowvoltage.job import Job, circle
from tinknot.core.families.stack import Stack
from tinknot.core.families.straight import base, earth, lead, pouring
from tinknot.core.families.straight.cores import Cores
from tinknot.core.families.straight.covers import INNER, Cover, Other, sealed_mm, thin
from tinknot.core.families.straight.inside import Inside, OpenCores, Sleeved
from tinknot.core.families.straight.work import Work
from tinknot.core.figures import mm
from tinknot.core.joint.cable import CableEnd
from tinknot.core.layers import batches
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.crutch import CrutchFill, between_mm2
from tinknot.core.layers.preparation import bared
from tinknot.core.layers.tapes import PlainWrap, grows_mm
from tinknot.core.parts.tape import StockTape
from tinknot.core.tolerance import at_least


def begun(work: Work, cores: Cores) -> Stack:
    """The joined cores with all up to the first sleeve that has to be chosen."""
    return go_on(work, cores, Stack(base.inner_profile(work.job, cores)))


def go_on(work: Work, cores: Cores, s: Stack) -> Stack:
    """Everything up to the next sleeve that has to be chosen: earth bond, shell, mastic, build-up."""
    for at in range(s.at, len(work.order)):
        put = work.order[at]
        if isinstance(put, Cover):
            return _choose_next(work, cores, replace(s, at=at), put)
        s = PUT_ON[put](work, cores, s)
        if s.stuck:
            return s
    return s


def put_on(work: Work, cores: Cores, s: Stack, part_id: str) -> Stack:
    """The pending sleeve with its part named, and on to the next."""
    pending, job = s.pending, work.job
    assert pending is not None
    choice = s.choices[-1].with_part(part_id)
    s = replace(s, choices=(*s.choices[:-1], choice), pending=None)
    if choice.picked is None:
        return replace(s, stuck=True)
    cover: CoverSleeve = replace(
        pending,
        part=job.sleeves[part_id],
        lot=job.lots[part_id],
        cut_length_mm=choice.picked.cut_length_mm,
    )
    if cover.hot:
        over = cover.apply(s.outside).between(*cover.span_mm).greatest()
        cover = replace(cover, cool_min=job.cool_min(over, sum(x.area_mm2 for x in job.a.cores)))
    return go_on(work, cores, replace(s.on(cover), at=s.at + 1))


def _fill_crutch(work: Work, cores: Cores, s: Stack) -> Stack:
    """Mastic, or else self-amalgamating tape, where the cores part."""
    job = work.job
    parts = len(job.a.cores) > 1 and not job.made.began_without("wrap.crutch.A")
    if not parts and not any(e.lead for e in job.ends):
        return s
    tape = job.filler
    if tape is None:
        return s.warned(
            "The crutches are to be filled: neither mastic nor self-amalgamating tape is in stock."
        )
    s = s.on(*_over_lead_edges(job, cores, s, tape))
    if not parts:
        return s
    cores_mm = {e.name: tuple(x.insulation.greatest_mm for x in e.cores) for e in job.ends}
    at = {
        end: (x, between_mm2(circle(cores_mm[end]), cores_mm[end]))
        for end, x in zip(("A", "B"), cores.crutch_mm, strict=True)
    }
    lot = tape.first_lot(job.today)
    return s.on(CrutchFill("crutch", "crutch filled", tape, lot, at=at, rules=job.rules))


def _over_lead_edges(job: Job, cores: Cores, s: Stack, tape: StockTape) -> list[PlainWrap]:
    """Mastic from the inner sheath on to the lead, where its edge is."""
    half, found = cores.layout.gap_mm / 2, list[PlainWrap]()
    back, on = job.rules.number("lead_sheath.sealed_mm"), job.rules.number("tape.mastic_over_mm")
    leaden = [(e, x.to_mm) for e in job.ends for x in bared(e, job.rules) if x.what == "lead-sheath"]
    for e, edge in leaden:
        found.append(
            base.wound_once(
                job,
                f"lead-{e.name}",
                tape,
                base.in_front(e.name, half, edge - back, edge + on),
                where=f"from the inner sheath on to the lead of {e.name}",
                over=s.outside,
                text=f"{mm(back):g} mm of it on the bright lead, the rest on the inner sheath; press it in.",
                end=e.name,
                batch=batches.LEAD_EDGES,
                with_next=e is not leaden[-1][0],
            )
        )
    return found


def _cast(work: Work, cores: Cores, s: Stack) -> Stack:
    """The shell with its pour."""
    within: Inside
    if not any(x.closes for x in work.covers):
        within = OpenCores(work.job, cores, [y for x in s.layers for y in x.solids()])
    else:
        spans = [x.closes_mm() or (0.0, 0.0) for x in s.layers]
        within = Sleeved(work.job, s.outside, (min(a for a, _ in spans), max(b for _, b in spans)))
    shell, picks = pouring.poured(work.job, within, s.outside)
    s = s.chosen(picks=picks, stuck=shell is None)
    return s.on(shell) if shell else s


def _bond(work: Work, cores: Cores, s: Stack) -> Stack:
    """The earth bond over all there is so far, where armour is to be earthed."""
    job = work.job
    if not lead.needed(job):
        return s
    around = s.outside.between(*cores.crutch_mm).greatest()
    bond, picks = earth.bond(job, cores, around, _inside_mm(work, cores))
    s = s.chosen(picks=picks, stuck=bond is None)
    if not job.build.earth:
        s = s.warned("No fault current on the card: the strap is only the rule book's least.")
    if bond is None:
        return s
    if bond.mesh is None and earth.restores(job):
        s = s.warned("No metal mesh in stock: the strap joins the armour, its screen stays open.")
    s = s.on(bond)
    over, words = earth.over_springs(job, bond, s.outside)
    return s.on(*over).warned(*words)


def _lead_out(work: Work, cores: Cores, s: Stack) -> Stack:
    """The strap on the protective conductor, led out from under the inner sleeve."""
    inside = _inside_mm(work, cores)
    return s if inside is None else earth.led_out(work.job, cores, inside, s)


def _inside_mm(work: Work, cores: Cores) -> tuple[float, float] | None:
    """What lies under the inner sleeve, mm on the joint's axis; None without one."""
    inner = next((x for x in work.covers if x.id == INNER), None)
    return inner.lies(work.job, cores) if inner else None


def _choose_next(work: Work, cores: Cores, s: Stack, cover: Cover) -> Stack:
    """The choice of the next sleeve, on what lies under it."""
    job = work.job
    if cover.closes:
        filled, words = base.fill(job, s.outside, cover.lies(job, cores))
        built, picks = _build_up(job, cores, s)
        s = s.warned(*words).chosen(picks=picks).on(*filled, *built)
    sleeve = _sleeve(work, cores, cover)
    way = sleeve.span_mm
    if cover.slides:
        low, high = sealed_mm(job, cores)
        way = min(way[0], low), max(way[1], high)
    window = sleeve.requires(s.outside, s.outside.between(*way))
    assert window is not None
    limp = any(e.flat for e in job.ends) and cover.drawn != "barrier"
    choice = job.sleeve_choice(cover.id, cover.title, window, cover.form, slot=cover.slot, limp=limp)
    if cover.form == "wrap-around":
        lined = "an adhesive-lined" if window.need_lined else "a"
        choice = replace(choice, called=f"{lined} wrap-around sleeve")
    elif all(job.landed):
        choice = _none_closed(choice)
    return replace(s.chosen([choice]), pending=sleeve)


def _sleeve(work: Work, cores: Cores, cover: Cover) -> CoverSleeve:
    """The layer of a cover, its part still to be named."""
    job = work.job
    return work.kind.sleeve(
        cover.id,
        cover.title,
        cover.lies(job, cores),
        job.rules,
        properties=cover.properties(job),
        voltage_v=job.joint.rated_voltage_v if cover.bears else None,
        ends=cover.ends(job),
        overlap_mm=cover.overlaps_mm(job, cores),
        edges_mm=(-cores.layout.gap_mm / 2, cores.layout.gap_mm / 2),
        least_wall_mm=min(work.kind.wall_mm(e) for e in job.ends) if cover.closes else 0.0,
        seals=cover.seals,
        over=cover.over,
        closes=cover.closes,
        drawn=cover.drawn,
        flexes="moving" in job.joint.duties and not {"buried", "immersed"} & {*job.joint.duties},
    )


def sheath_wall_mm(e: CableEnd) -> float:
    """The wall of a cable's sheath, mm."""
    if e.flat:  # the cores lie beside each other
        return max(0.0, (e.sheath.least_mm - max(c.insulation.greatest_mm for c in e.cores)) / 2)
    inner = (
        e.armour.bedding.least_mm + 2 * e.armour.thickness_mm
        if e.armour
        else e.lead.outside.least_mm
        if e.lead
        else circle(tuple(c.insulation.greatest_mm for c in e.cores))
    )
    return max(0.0, (e.sheath.least_mm - inner) / 2)


def _build_up(job: Job, cores: Cores, s: Stack) -> tuple[list[PlainWrap], list[Pick]]:
    """Tape on the thinner sheath until the best sleeve that passes grips it."""
    if job.build.thin_side != "tape":
        return [], []
    pick = job.tape_pick(
        "build-up", "tape on the thin side", "self-amalgamating", "up to what a sleeve grips"
    )
    tape = job.tape("self-amalgamating")
    thinner = thin(job.ends)
    half, over = cores.layout.gap_mm / 2, base.over_sheath_mm(job)
    spot = (-half - over[0] - 10, -half) if thinner.name == "A" else (half, half + over[1] + 10)
    need = job.margins.needed_expanded_mm(s.outside.between(*sealed_mm(job, cores)).greatest())
    passing = [
        x.tube.recovered_id_mm
        for form, x in job.candidates
        if form == "tube" and at_least(x.tube.expanded_id_mm, need) and job.properties <= x.properties
    ]
    if tape is None or not passing:
        return [], [pick]
    wanted = job.margins.least_gripped_mm(min(passing))
    passes = ceil(max(0.0, wanted - thinner.sheath.least_mm) / grows_mm(tape) * (1 - 1e-9))
    if passes < 1:
        return [], [pick]
    wrap = PlainWrap(
        "build-up",
        f"tape on the thinner sheath, {thinner.name}",
        tape,
        tape.first_lot(job.today),
        span_mm=spot,
        passes=passes,
        substrate_mm=thinner.sheath.greatest_mm,
        rules=job.rules,
        text="Roughen and degrease the sheath first. Wind it even: the sleeve grips on it.",
    )
    return [wrap], [pick]


PUT_ON: dict[Other, Callable[[Work, Cores, Stack], Stack]] = {
    "crutch": _fill_crutch,
    "strap": _lead_out,
    "bond": _bond,
    "cast": _cast,
}


def _none_closed(choice: Choice) -> Choice:
    return replace(choice, ranked=(), barred="both ends sit in glands: nothing closed can be threaded on")
