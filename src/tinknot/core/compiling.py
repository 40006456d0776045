"""A solved stack written out as a plan: parts, park list, steps, materials, warnings."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace
from math import ceil, floor

from tinknot.core.choose import COMFORT, Ranked
from tinknot.core.errors import InputError
from tinknot.core.joint.parts import Counted, StockIn, StockSleeve
from tinknot.core.joint.section import section
from tinknot.core.joint.tap_section import tap_section
from tinknot.core.layers.bond import EarthBond
from tinknot.core.layers.connectors import Connector
from tinknot.core.layers.contract import Fault, Layer, Material, PlainLayer, Step
from tinknot.core.layers.preparation import said_mm
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.sleeves import CoverSleeve, Sleeve
from tinknot.core.layers.tapes import TapeWrap
from tinknot.core.layers.taps import Piercing
from tinknot.core.plan import (
    CandidateOut,
    ChoiceOut,
    CoreOut,
    CureLaw,
    CutOut,
    FaultOut,
    GateOut,
    MaterialOut,
    MendOut,
    MinutesOut,
    OfferOut,
    PackUse,
    ParkedOut,
    ParkPlan,
    PartOut,
    PickOut,
    Plan,
    Refusal,
    ResinOut,
    SettingOut,
    StepOut,
    TimerOut,
    stamp,
)
from tinknot.core.recipes.job import Job
from tinknot.core.recipes.solution import Choice, Solution
from tinknot.core.sleeve import Margins

SAFETY = (
    "Not a substitute for local codes or a licensed person.",
    "Identify the cable, isolate every feed at both ends, lock, prove dead and prove the prover. Discharge before touching.",
    "Discharge after every DC test.",
    "Green-yellow is never re-marked as a live conductor.",
)
HOT = "Hot air: permit where one is needed, shield what is near, gloves. Solvent away from heat, ventilate."
CAST = (
    "Resin: gloves and eye protection, ventilate, wash skin at once. Some resins need trained people by law."
)
HAZARDOUS = (
    "Hazardous area: gas test before and during the work; not gas-free means no heat source of any kind."
)


def compile_plan(job: Job, solution: Solution, brief: bool = False) -> Plan:
    """A solution as a plan; `brief` leaves out the drawing and what was not taken, as another way is told."""
    joint, rules, layers, layout = job.joint, job.rules, solution.layers, solution.layout
    spans = [x.span_mm for x in layers if isinstance(x, (CoverSleeve, ResinShell))]
    if layers and not spans:
        spans = [solution.crutch_mm]  # a tap: from the first connector to the last
    seat = (min(a for a, _ in spans), max(b for _, b in spans)) if spans else None
    finished = solution.outside.between(*seat) if solution.outside and seat else None
    hands = sum(x.minutes().hands for x in layers) + (solution.steps - 1) * rules.number("time.position_min")
    materials = [m for x in layers for m in x.consumes()]
    steps = _steps(layers)
    return Plan(
        verdict="planned" if solution.fits else "nothing-fits",
        family=joint.family,
        closure=job.build.closure or "sleeve",
        sheet=f"{joint.sheet.name}, revision {joint.sheet.revision}" if joint.sheet else "",
        stagger_steps=solution.steps,
        gap_mm=layout.gap_mm if layout else None,
        joint_length_mm=seat[1] - seat[0] if seat else None,
        greatest_diameter_mm=finished.greatest() if finished else None,
        profile=[(round(x, 6), od) for x, od in finished.points()] if finished else [],
        cuts=[CutOut(**vars(c)) for x in layers for c in x.cuts()],
        cores=[
            CoreOut(core=n.name, centre_mm=c.centre_mm, cut_a_mm=c.cut_a_mm, cut_b_mm=c.cut_b_mm, area_mm2=n.area_mm2)
            for n, c in zip(job.a.cores, layout.cores if layout else (), strict=bool(layout))
        ],
        choices=[] if brief else [choice_out(c, job.margins, job.sleeves) for c in solution.choices],
        picks=[PickOut(layer=p.layer, title=p.title, need=p.need, offers=[OfferOut(**asdict(o)) for o in p.offers], picked=p.picked, advice=p.advice) for p in solution.picks],
        parts=_parts(job, solution, brief),
        park=_park(job, solution) if solution.parking and layers else None,
        steps=steps,
        materials=_materials(materials),
        tools=list(dict.fromkeys(t for x in layers for t in x.tools())),
        settings=[SettingOut(**vars(s)) for s in dict.fromkeys(s for x in layers for s in x.settings())],
        minutes=MinutesOut(hands=hands, waiting=_finite(sum(x.minutes().waiting for x in layers))),
        remedies=[],
        faults=[_fault(x.id, f) for x in layers for f in x.faults()],
        warnings=_warnings(job, solution, materials),
        safety=_safety(job, steps),
        chosen_together=solution.greedy,
        section=(section(solution) if solution.inner else tap_section(solution)) if layers and not brief else None,
        slack_mm={"A": joint.ends.A.slack_mm, "B": joint.ends.B.slack_mm}, remake_spare_mm=rules.number("remake.spare_mm"),
        cable_length_m=joint.cable_length_m, ambient_c=joint.ambient_c,
        resin=next((_resin(x) for x in layers if isinstance(x, ResinShell)), None),
        cost=cost_of(joint.stock, materials),
    )  # fmt: skip


def _finite(minutes: float) -> float:
    return min(minutes, 1e7)


def _safety(job: Job, steps: Sequence[StepOut]) -> list[str]:
    found = list(SAFETY)
    if any(s.hot for s in steps):
        found.insert(2, HOT)
    if any(s.kind == "mix" for s in steps):
        found.append(CAST)
    if "hazardous" in job.joint.duties:
        found.append(HAZARDOUS)
    return [*found, *(job.joint.sheet.cautions if job.joint.sheet else ())]


def _resin(shell: ResinShell) -> ResinOut:
    p, f = shell.pour, shell.pour.fill
    return ResinOut(
        resin_c=p.resin_c, shell_ml=f.shell_ml, displaced_ml=f.displaced_ml, net_ml=f.net_ml, required_ml=f.required_ml,
        left_over_ml=f.left_over_ml, packs=[PackUse(part_id=p, count=n) for p, n in f.packs], pot_life_min=p.pot_life_min, mix_min=p.mix_min, pour_window_min=p.window_min,
        pour_min=p.pour_min, handle_min=_finite(p.handle_min), full_min=_finite(p.full_min), shell=list(shell.cut.inside),
    )  # fmt: skip


def choice_out(choice: Choice, margins: Margins, sleeves: Mapping[str, StockSleeve]) -> ChoiceOut:
    """A choice with every candidate on it: those that fit first, then the rejected, nearest first."""
    w = choice.window
    need, allow = (
        margins.needed_expanded_mm(w.pass_od_mm),
        margins.allowed_recovered_mm(w.seal_od_mm),
    )
    rows = [(r.candidate, r.fit, "", r.cut_length_mm, r.waste_mm) for r in choice.ranked]
    refused = sorted(
        choice.rejected(), key=lambda r: (r.fit.pass_short_by_mm + r.fit.grip_short_by_mm, r.candidate.id)
    )
    rows += [(r.candidate, r.fit, r.reason, None, None) for r in refused]  # type: ignore[misc]  # no cut where refused
    found = [
        CandidateOut(
            part_id=c.id, name=sleeves[c.id].name or c.id, expanded_id_mm=c.tube.expanded_id_mm,
            recovered_id_mm=c.tube.recovered_id_mm, lined=c.lined, stiff=sleeves[c.id].stiff,
            verdict=f.verdict if not reason or f.verdict != "fits" else "refused", reason=reason, comfort=f.comfort, pass_short_by_mm=f.pass_short_by_mm,
            grip_short_by_mm=f.grip_short_by_mm,
            cut_length_mm=cut, waste_mm=waste, on_hand_mm=c.on_hand_mm,
        )
        for c, f, reason, cut, waste in rows
    ]  # fmt: skip
    return ChoiceOut(
        layer=choice.layer, title=choice.title, pass_od_mm=w.pass_od_mm, seal_od_mm=w.seal_od_mm, needed_expanded_mm=need,
        allowed_recovered_mm=allow, ratio_needed=need / allow, covered_mm=w.profile[-1][0] - w.profile[0][0],
        least_wall_mm=w.least_wall_mm, picked=choice.picked.candidate.id if choice.picked else None,
        advice="" if choice.ranked else what_to_order(need, allow, w.need_lined), candidates=found,
    )  # fmt: skip


def what_to_order(need_mm: float, allow_mm: float, lined: bool) -> str:
    """The sleeve to look for, limits rounded to the safe side: 22.217 → 22.3, 13.86 → 13.8."""
    step = 10 if allow_mm >= 1 else 1000
    opens, closes = ceil(need_mm * step - 1e-6) / step, floor(allow_mm * step + 1e-6) / step
    ratio = ceil(need_mm / allow_mm * 100 - 1e-6) / 100
    kind = "an adhesive-lined sleeve" if lined else "a sleeve"
    return f"Look for {kind} that opens past {opens:g} mm and closes under {closes:g} mm: a ratio of at least {ratio:.2f} to 1."


def _reason(r: Ranked, layer: str) -> str:
    c, f = r.candidate, r.fit
    opens, closes = (
        c.tube.expanded_id_mm - f.needed_expanded_mm,
        f.allowed_recovered_mm - c.tube.recovered_id_mm,
    )
    grips = (
        "held by springs at both ends"
        if layer == "barrier"
        else f"closes {closes:.1f} inside what it must grip"
    )
    words = [f"Opens {opens:.1f} past what it must pass, {grips}."]
    if c.stock_length_mm:
        words.append(
            f"Pieces of {said_mm(c.stock_length_mm)}"
            + (f", {said_mm(r.waste_mm)} wasted." if r.waste_mm else ".")
        )
    elif c.on_hand_mm is not None:
        words.append(f"{c.on_hand_mm / 1000:.1f} m on hand.")
    if r.wall_short_mm > 0:
        words.append(
            f"Its wall is {r.wall_mm:.2f} at the thickest place, the layer it replaces {r.wall_mm + r.wall_short_mm:.2f}."
        )
    if f.comfort < COMFORT:
        words.append("It only just fits: measure again.")
    return " ".join(words)


def _parts(job: Job, solution: Solution, brief: bool) -> list[PartOut]:
    found: list[PartOut] = []
    for core, connector in zip(
        job.b.cores, solution.connectors, strict=True
    ):  # under A's names; a tap's may be fewer
        main = job.a.core(core.name)
        layer = next(
            (x for x in solution.layers if isinstance(x, (Connector, Piercing)) and x.core == core.name), None
        )
        found.append(
            PartOut(
                layer=layer.id if layer else f"{connector.kind}-{core.name}", title=f"connector on core {core.name}", part_id=connector.id,
                name=connector.said, lot=connector.first_lot(job.today), cut_length_mm=None, pass_od_mm=None, seal_od_mm=None,
                od_after_mm=connector.od_mm, reason=f"Takes {main.area_mm2:g} to {core.area_mm2:g} mm².", rejected=[],
            )
        )  # fmt: skip
    by_layer = {x.id: x for x in solution.layers if isinstance(x, Sleeve)}
    for choice in solution.choices:
        r = choice.picked
        if r is None:
            continue
        part, w = job.sleeves[r.candidate.id], choice.window
        rejected = [] if brief else choice.rejected()
        at = w.wall_od_mm or w.seal_od_mm
        for layer_id in [f"{choice.layer.rsplit('-', 1)[0]}-{c}" for c in choice.cores] or [choice.layer]:
            sleeve = by_layer.get(layer_id)
            found.append(
                PartOut(
                    layer=layer_id, title=sleeve.title if sleeve else choice.title, part_id=part.id, name=part.name or part.id,
                    lot=sleeve.lot if sleeve else "", cut_length_mm=r.cut_length_mm, pass_od_mm=w.pass_od_mm, seal_od_mm=w.seal_od_mm,
                    od_after_mm=r.candidate.tube.od_mm(at), reason=_reason(r, choice.layer),
                    rejected=[Refusal(part_id=x.candidate.id, reason=x.reason) for x in rejected],
                    expanded_id_mm=part.expanded_id_mm, recovered_id_mm=part.recovered_id_mm, wall_mm=r.candidate.tube.wall_mm(at),
                )
            )  # fmt: skip
    return found + [p for x in solution.layers for p in _counted(job, solution, x)]


def _counted(job: Job, solution: Solution, layer: Layer) -> list[PartOut]:
    """Parts of a layer that are counted in pieces or wound off a roll."""
    if not isinstance(layer, (TapeWrap, EarthBond, ResinShell)):
        return []
    offers = {o.id: o.reason for p in solution.picks for o in p.offers if o.serves}
    rejected = {
        p.picked: [Refusal(part_id=o.id, reason=o.reason) for o in p.offers if not o.serves]
        for p in solution.picks
    }
    after = (
        layer.wound.od_after_mm
        if isinstance(layer, TapeWrap)
        else layer.cut.bore().greatest() + 2 * layer.cut.shell.wall_mm
        if isinstance(layer, ResinShell)
        else 0.0
    )
    rolls = rolls_of(job.joint.stock)
    found = []
    for m in layer.consumes():
        if not m.part_id:
            continue
        pieces = m.quantity if m.unit == "piece" else m.quantity / rolls[m.part_id]
        found.append(
            PartOut(
                layer=layer.id, title=layer.title, part_id=m.part_id, name=m.what, lot=m.lot, cut_length_mm=None, pass_od_mm=None, seal_od_mm=None,
                od_after_mm=after, reason=offers.get(m.part_id, ""), rejected=rejected.get(m.part_id, []), quantity=pieces,
            )
        )  # fmt: skip
    return found


def _park(job: Job, solution: Solution) -> ParkPlan:
    threads = [t for x in solution.layers for t in x.threads()]
    sides: dict[str, list[ParkedOut]] = {"a": [], "b": []}
    for t in sorted(threads, key=lambda t: (t.track != "sheath", -t.order)):
        sides[t.side].append(
            ParkedOut(
                layer=t.layer, part_id=t.part_id, track=t.track, length_mm=t.length_mm, step=f"park.{t.layer}"
            )
        )
    assert solution.parking is not None
    ends = job.joint.ends
    return ParkPlan(
        a=sides["a"], b=sides["b"], used_a_mm=solution.parking.used_a_mm, used_b_mm=solution.parking.used_b_mm,
        free_a_mm=ends.A.free_mm, free_b_mm=ends.B.free_mm,
    )  # fmt: skip


def _fault(layer: str, f: Fault) -> FaultOut:
    mends = [MendOut(words=m.words, kind=m.kind) for m in f.mends]
    return FaultOut(layer=layer, id=f.id, seen=f.seen, causes=list(f.causes), mends=mends)


def _needing(layers: Sequence[Layer]) -> dict[str, Step]:
    """Every step by id, with the needs that cross layers: heat waits for the gas test, and what a sheet puts
    before a step, for that. Raises InputError for a sheet that names a step this joint does not have."""
    steps = {s.id: s for x in layers for s in x.steps()}
    if "gas-test" in steps:
        steps |= {s.id: replace(s, needs=(*s.needs, "gas-test")) for s in steps.values() if s.hot}
    for x in (x for x in layers if isinstance(x, PlainLayer)):
        for n, (own, _, _, after, before) in enumerate(x.plain):
            for key, name in (("after", after), ("before", before)):
                if name and name not in steps:
                    raise InputError.at(
                        f"/sheet/steps/{n}/{key}", f"names {name}, which is no step of this joint"
                    )
            last = before or "sealed-and-proved"
            steps[last] = replace(steps[last], needs=(*steps[last].needs, f"sheet.{own}"))
    return steps


def _steps(layers: Sequence[Layer]) -> list[StepOut]:
    """All steps in an order in which they can be worked: needs first, then by station, layer order kept."""
    steps = _needing(layers)
    unknown = {n for s in steps.values() for n in s.needs} - steps.keys()
    assert not unknown, f"steps need what nobody does: {unknown}"
    order = {name: i for i, name in enumerate(("card", "measure", "cut", "park", "build", "prove", "sign"))}
    done: list[Step] = []
    placed: set[str] = set()
    left = sorted(steps.values(), key=lambda s: order[s.station])
    while left:
        ready_now = [s for s in left if placed.issuperset(s.needs)]
        if not ready_now:
            raise InputError.at("/sheet/steps", "run in a circle: a step waits for one that waits for it")
        batch = done[-1].batch if done else ""
        ready = next((s for s in ready_now if batch and s.batch == batch), ready_now[0])
        done.append(ready)
        placed.add(ready.id)
        left.remove(ready)
    return [
        StepOut(
            **{k: v for k, v in vars(s).items() if k not in ("needs", "gates", "timers", "tools", "cure")},
            needs=list(s.needs), gates=[GateOut(**vars(g)) for g in s.gates], stamp=stamp(s),
            timers=[TimerOut(**vars(t)) for t in s.timers], tools=list(s.tools),
            cure=CureLaw(**(vars(s.cure) | {"points": list(s.cure.points)})) if s.cure else None,
        )
        for s in done
    ]  # fmt: skip


def _materials(used: Sequence[Material]) -> list[MaterialOut]:
    found: dict[tuple[str, str, str], MaterialOut] = {}
    for m in used:
        key = (m.what, m.part_id, m.lot)
        quantity = m.quantity + (found[key].quantity if key in found else 0)
        found[key] = MaterialOut(**(vars(m) | {"quantity": quantity}))
    return list(found.values())


def rolls_of(stock: StockIn) -> dict[str, float]:
    """Length of a roll of what is wound, mm by part."""
    return {t.id: t.roll_mm for t in stock.tapes} | {m.id: m.roll_mm for m in stock.meshes}


def cost_of(stock: StockIn, used: Sequence[Material]) -> float | None:
    """What the parts cost, of those whose price is known; None when no price is."""
    per_mm = {s.id: s.price_per_m / 1000 for s in stock.sleeves if s.price_per_m is not None}
    counted: list[Counted] = [
        p for kind in type(stock).model_fields if kind != "sleeves" for p in getattr(stock, kind)
    ]
    each = {p.id: p.price_each for p in counted if p.price_each is not None}
    rolls = rolls_of(stock)
    known = []
    for m in used:
        if m.part_id in per_mm and m.unit == "mm":
            known.append(m.quantity * per_mm[m.part_id])
        elif m.part_id in each:
            known.append(
                each[m.part_id] * m.quantity / (rolls.get(m.part_id, 1.0) if m.unit == "mm" else 1.0)
            )
    return round(sum(known), 2) if known else None


def _warnings(job: Job, solution: Solution, used: Sequence[Material]) -> list[str]:
    words = list(solution.warnings)
    for end in solution.ends:
        for core in end.cores:
            if core.conductor_source == "estimate":
                words.append(
                    f"Conductor of core {core.name} on {end.name} is an estimate, {core.conductor.greatest_mm:.1f} mm; measure it."
                )
    parking = solution.parking
    if parking and not parking.fits:
        side, over = ("A", parking.over_a_mm) if parking.over_a_mm else ("B", parking.over_b_mm)
        words.append(f"No room to park the covers: they overrun the tail on {side} by {over:.0f} mm.")
    if job.made.gap_mm is not None and solution.layout and not solution.kept:
        words += _recuts(job, solution)
    had = job.made.parts or {}
    for choice in solution.choices:
        part = had.get(choice.layer)
        if part and choice.picked and choice.picked.candidate.id != part:
            words.append(
                f"{part} is already cut for the {choice.title} and no longer fits; it goes back to stock as a piece."
            )
    for material in _materials(used):
        if material.in_stock is not None and material.quantity > material.in_stock * (1 + 1e-9):
            words.append(
                f"{material.what}: {material.quantity:g} {material.unit} needed, {material.in_stock:g} on hand."
            )
    if "fire" in job.joint.duties and job.build.fire is None and solution.layers:
        words.append(
            "Fire duty: the parts are free of halogen. Where the circuit must live on in a fire, choose a barrier or mica."
        )
    return words + _cold(job, solution)


def _cold(job: Job, solution: Solution) -> list[str]:
    """What to warm."""
    shell = next((x for x in solution.layers if isinstance(x, ResinShell)), None)
    if shell is not None:
        words = []
        least, now = shell.pour.resin.least_temperature_c, job.joint.ambient_c
        if shell.pour.resin_c > now + 1:
            words.append(
                f"Warm the packs to {shell.pour.resin_c:g} °C before mixing; it is {now:g} °C there."
            )
        if now < least + 5:
            words.append(f"Cold: shelter and warm the joint; under {least:g} °C the cure stands still.")
        return words
    if (
        job.joint.ambient_c < 5
        and solution.layers
        and job.build.closure != "resin"
        and not job.build.cold_only
    ):
        return ["Cold: warm the sheath before the sleeve goes on, or the adhesive will not wet it."]
    return []


def _recuts(job: Job, solution: Solution) -> list[str]:
    """What cuts already made mean under a plan that wants others."""
    assert solution.layout is not None
    words = []
    for core, centre, now in zip(job.a.cores, job.made.centres_mm, solution.layout.cores, strict=False):
        was = (centre, (job.made.gap_mm or 0) - centre)
        for end, before, wanted in (("A", was[0], now.cut_a_mm), ("B", was[1], now.cut_b_mm)):
            if before - wanted > 0.05:
                words.append(
                    f"Core {core.name} on {end} was cut at {said_mm(before)}: trim {said_mm(before - wanted)} more."
                )
            elif wanted - before > 0.05:
                words.append(
                    f"Core {core.name} on {end} was cut at {said_mm(before)}, {said_mm(wanted - before)} too short: cut the sheath on {end} back by as much."
                )
    return words
