"""A shell and its resin for one joint: what clears, what it takes, whether it can be poured and cures."""

from collections.abc import Sequence
from itertools import pairwise
from math import inf

import numpy as np

from tinknot.core.errors import InputError
from tinknot.core.families.choice import Offer, Pick
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.straight.inside import Inside, Stretch
from tinknot.core.figures import mm
from tinknot.core.formulas.curing import LogEntry
from tinknot.core.formulas.pour import pour_packs, too_late
from tinknot.core.formulas.resin import Fill, Pack, fill
from tinknot.core.formulas.timelaw import pour_window
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.pour import CutShell, Pour
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.sleeve import COLD
from tinknot.core.parts.resin import StockResin
from tinknot.core.parts.shell import StockShell
from tinknot.core.tolerance import at_least, short_by


def until_pour_min(job: Job) -> float:
    """Work until the first pack is opened, min, by the rule book's times."""
    r = job.rules
    ends = 2 * r.number("time.end_min")
    bond = r.number("time.bond_min") if any(e.metal for e in job.ends) else 0.0
    cores = len(job.a.cores) * r.number("time.core_min")
    over = r.number("time.outer_min") if job.build.closure == "sleeve-resin" else 0.0
    return r.number("time.base_min") + ends + cores + bond + over + r.number("time.shell_min")


def expected(job: Job) -> list[LogEntry]:
    """The temperatures expected from the pour on, °C by min from it: as forecast, linear between; without a
    forecast as it is now."""
    begun = until_pour_min(job)
    told = {0.0: job.joint.ambient_c} | {f.at_h * 60: f.temperature_c for f in job.build.forecast}
    at = sorted(told)
    then = float(np.interp(begun, at, [told[t] for t in at]))
    return [LogEntry(0, then), *(LogEntry(t - begun, told[t]) for t in at if t > begun)]


def resin_c(job: Job) -> float:
    """Temperature of the mixed resin, °C: as told, else as cold as the place is expected to be then."""
    return job.build.resin_c if job.build.resin_c is not None else expected(job)[0].temperature_c


def poured(job: Job, inside: Inside, under: Profile) -> tuple[ResinShell | None, list[Pick]]:
    """The filled shell, None where nothing fits, and the choices: every shell and every resin with its
    reason. `inside`: what the resin goes round."""
    shells: list[tuple[StockShell, CutShell | None, str]] = []
    for s in job.joint.stock.shells:
        cut, why = _cut(job, inside, s, under)
        shells.append((s, cut, why))
    fitting = [c for _, c, _ in shells if c]
    displaced = {c.shell.id: inside.displaced(c) for c in fitting}
    pours = {c.shell.id: _pours(job, c, displaced[c.shell.id]) for c in fitting}
    judged = {k: [p for p, _, why in found if p and not why] for k, found in pours.items()}
    ready = [c for c in fitting if judged[c.shell.id]]
    wanted = job.choice.shell or (job.made.parts or {}).get("shell")
    settled = job.choice.shell
    pool = [c for c in ready if c.shell.id == wanted] or ([] if settled else ready)
    pool = pool or [c for c in fitting if settled in (None, c.shell.id)]
    best = min(pool, key=lambda c: (_worth(displaced[c.shell.id], c), c.shell.id), default=None)
    offers = tuple(Offer(s.id, s.said, not w, w or _shell_words(c)) for s, c, w in shells)
    need = (
        f"{inside.needs()}, sheaths of {mm(job.a.sheath.greatest_mm):g} and"
        f" {mm(job.b.sheath.greatest_mm):g} mm"
    )
    advice = "Order a shell that clears the sheaths and the connectors."
    picks = [
        Pick("shell", "resin shell", need, offers, picked=best.shell.id if best else None, advice=advice)
    ]
    found = (
        pours[best.shell.id]
        if best
        else [(None, r, "no shell is chosen for it") for r in job.joint.stock.resins]
    )
    good = [p for p, _, why in found if p and not why]
    pour = min(good, key=lambda p: (p.pack_count, p.fill.left_over_ml, p.resin.id), default=None)
    resin_offers = tuple(Offer(r.id, r.said, not why, why or _pour_words(p)) for p, r, why in found)
    cold = [
        r.least_temperature_c
        for p, r, w in found
        if p and w and not at_least(p.resin_c, r.least_temperature_c)
    ]
    need = (
        f"{pour.fill.required_ml:.0f} ml at {pour.resin_c:g} °C" if pour else f"poured at {resin_c(job):g} °C"
    )
    picks.append(
        Pick(
            "resin",
            "resin",
            need,
            resin_offers,
            picked=pour.resin.id if pour else None,
            advice=_resin_advice(cold),
            buys=not cold,
        )
    )
    if best is None or pour is None:
        return None, picks
    a, b = best.reach_mm
    return (
        ResinShell(
            "shell",
            "resin shell",
            best,
            best.shell.first_lot(job.today),
            pour=pour,
            ends=job.ends,
            sheath_in_mm=(-a - inside.rough_mm[0], b - inside.rough_mm[1]),
            spacers=inside.spacers,
            spacers_said=inside.spacers_said,
            rules=job.rules,
            persons=job.build.persons,
            at_once=job.made.at_once,
            sleeved=inside.sleeved,
        ),
        picks,
    )


def _cut(job: Job, inside: Inside, s: StockShell, under: Profile) -> tuple[CutShell | None, str]:
    """The shell with its ends cut where they just clear, or why it cannot be used."""
    if s.free(job.today) == 0:
        return None, "none on hand in date"
    lacking = sorted((job.properties - {"lined", COLD}) - frozenset(s.properties))
    if lacking:
        return None, f"is not {', not '.join(lacking)}"
    if s.form == "tube" and all(job.landed):
        return None, "both ends sit in glands: a tube cannot be threaded on"
    r = job.rules
    clear, widest = r.number("resin.end_clear_mm"), r.number("resin.end_most_mm")
    stages, slid = [], inside.passes_mm() if s.form == "tube" else 0.0
    for e in job.ends:
        need = max(e.sheath.greatest_mm + clear, slid)  # a tube is slid over all that it goes round
        widths = [x.inside_diameter_mm for x in s.stages] + [s.body_inside_mm]
        n = next((i for i, d in enumerate(widths) if at_least(d, need)), None)
        if n is None:
            over = "joint" if slid >= need else f"sheath on {e.name}"
            return None, f"does not clear the {over}: {mm(short_by(s.body_inside_mm, need)):.1f} mm short"
        if s.form != "tube" and widths[n] - e.sheath.least_mm > widest * (1 + 1e-9):
            return (
                None,
                (
                    f"its end on {e.name} is {mm(widths[n] - e.sheath.least_mm):.1f} mm wider than the"
                    " sheath: it cannot be taped tight"
                ),
            )
        stages.append(n)
    cut = CutShell(s, (stages[0], stages[1]))
    a, b = cut.reach_mm
    for e, reach, covered in zip(job.ends, (-a, b), inside.cut_mm, strict=True):
        if short := short_by(reach - covered, r.number("resin.sheath_in_mm")):
            return None, f"{mm(short):.0f} mm too short on {e.name}"
    return (None, why) if (why := _tight(inside, cut, under)) else (cut, "")


def _tight(inside: Inside, cut: CutShell, under: Profile) -> str:
    """Where something comes too near to the shell; empty when nothing does."""
    bore = cut.bore()
    for x1, x2 in pairwise(sorted({*bore.edges(), *inside.edges()})):
        x = (x1 + x2) / 2
        if not bore.start_mm <= x <= bore.end_mm:
            continue
        need, what = inside.need_mm(x)
        if short := short_by(bore.at(x).greatest_mm, need):
            return f"{what}: {mm(short):.1f} mm short at {mm(abs(x)):.0f} mm from the centre"
    within = under.between(max(under.start_mm, bore.start_mm), min(under.end_mm, bore.end_mm))
    for x1, x2 in pairwise(within.edges()):
        x = (x1 + x2) / 2
        if short := short_by(bore.at(x).greatest_mm, within.at(x).greatest_mm):
            return f"armour or strap does not clear it: {mm(short):.1f} mm short"
    return ""


def _worth(inside: Sequence[Stretch], cut: CutShell) -> float:
    """The less resin the better."""
    return sum(n * d * d for n, d in cut.inside) - sum(n * d * d for n, d, _ in inside)


def _pours(job: Job, cut: CutShell, inside: Sequence[Stretch]) -> list[tuple[Pour | None, StockResin, str]]:
    """Each resin in stock: what it comes to in this shell with the other packs of its system, and why not."""
    usable: dict[str, list[StockResin]] = {}
    why: dict[str, str] = {}
    for r in job.joint.stock.resins:
        lacking = sorted((job.properties - {"lined", COLD}) - frozenset(r.properties))
        why[r.id] = (
            "none on hand in date"
            if r.free(job.today) == 0
            else f"is not {', not '.join(lacking)}"
            if lacking
            else ""
        )
        if not why[r.id]:
            usable.setdefault(r.system or r.id, []).append(r)
    pours: dict[str, Pour] = {}
    for packs in usable.values():
        try:
            volume = fill(
                cut.inside,
                inside,
                job.rules.number("resin.waste_pct"),
                [Pack(r.id, r.volume_ml, _whole(r.free(job.today))) for r in packs],
            )
        except InputError as fault:
            why |= dict.fromkeys((r.id for r in packs), fault.errors[0].message)
            continue
        pour = _pour(job, packs, volume)
        pours |= dict.fromkeys((r.id for r in packs), pour)
        why |= dict.fromkeys((r.id for r in packs), _why_not(job, pour))
    return [(pours.get(r.id), r, why[r.id]) for r in job.joint.stock.resins]


def _whole(free: float | None) -> int | None:
    return None if free is None else int(free)


def _pour(job: Job, packs: Sequence[StockResin], volume: Fill) -> Pour:
    by_id = {r.id: r for r in packs}
    taken = []
    for part_id, count in volume.packs:
        taken.append((by_id[part_id], by_id[part_id].first_lot(job.today), count))
    r, warm = taken[0][0], resin_c(job)
    window = pour_window(r.pot_law(), warm, r.mix_minutes)
    each = [by_id[part_id].volume_ml for part_id, count in volume.packs for _ in range(count)]
    # two pour one pack together; of several one pours while the other mixes
    rate = job.rules.number("resin.pour_ml_min") * (min(job.build.persons, 2) if len(each) == 1 else 1)
    timeline = pour_packs(
        each,
        volume.required_ml,
        mix_min=r.mix_minutes,
        pot_life_min=window.pot_life_min,
        ml_per_min=rate,
        persons=job.build.persons,
    )
    log, clock = expected(job), r.clock()
    handle, full = (
        clock.degree(log, job.rules.number("cure.handle")),
        clock.degree(log, job.rules.number("cure.energise")),
    )
    return Pour(
        volume,
        tuple(taken),
        warm,
        window.pot_life_min,
        mix_min=r.mix_minutes,
        pour_min=min(max(x.volume_ml for x, *_ in taken), volume.required_ml) / rate,
        handle_min=inf if handle.full_at_min is None else handle.full_at_min,
        full_min=inf if full.full_at_min is None else full.full_at_min,
        timeline=timeline,
    )


def _why_not(job: Job, p: Pour) -> str:
    """Why it cannot be poured or will not cure; empty when it can."""
    least = p.resin.least_temperature_c
    if not at_least(p.resin_c, least):
        return (
            f"at {p.resin_c:g} °C it is {least - p.resin_c:.0f} °C under its least: warm the pack to"
            f" {least:g} °C or more and shelter the joint"
        )
    if p.window_min <= 0:
        return (
            f"mixing takes {p.mix_min:g} min and its pot life at {p.resin_c:g} °C is {p.pot_life_min:.0f}"
            " min: a cooler pack"
        )
    if late := too_late(p.timeline):
        opened = p.timeline[max(0, late.pack - 2)]
        which = f"pack {late.pack} of {len(p.timeline)} is in" if late.pack > 1 else "it is mixed and poured"
        since = f"after pack {opened.pack} was opened" if late.pack > 1 else "after it was opened"
        second = ", or a second person" if job.build.persons < 2 and len(p.timeline) > 1 else ""
        return (
            f"{which} {late.pour_to_min - opened.mix_from_min:.0f} min {since}, its pot life at"
            f" {p.resin_c:g} °C is {p.pot_life_min:.0f} min: cooler packs, packs of another size{second}"
        )
    if p.full_min == inf:
        return f"it never cures there: under {least:g} °C nothing counts; warm and shelter the joint"
    return ""


def _shell_words(cut: CutShell | None) -> str:
    if cut is None:
        return ""
    return (
        f"body {mm(cut.shell.body_length_mm):g} × {mm(cut.shell.body_inside_mm):g} mm, cut to"
        f" {mm(cut.reach_mm[1] - cut.reach_mm[0]):.0f} mm"
    )


def _pour_words(p: Pour | None) -> str:
    if p is None:
        return ""
    packs = " and ".join(f"{n} of {r.volume_ml:g} ml" for r, _, n in p.packs)
    return (
        f"{packs}, {p.fill.left_over_ml:.0f} ml left; poured within {p.window_min:.0f} min of mixing, cured"
        f" after {p.full_min / 60:.1f} h"
    )


def _resin_advice(cold: Sequence[float]) -> str:
    """Warmth where it is too cold for what is in stock, °C at least; else resin."""
    if cold:
        return f"Warm the pack to at least {min(cold):g} °C and shelter the joint."
    return "Order resin."
