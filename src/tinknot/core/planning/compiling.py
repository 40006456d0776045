"""A solved stack written out as a plan: parts, park list, steps, materials, warnings."""

from collections.abc import Sequence
from dataclasses import asdict, replace

from tinknot.core.errors import InputError
from tinknot.core.joint.parts import Counted, StockIn
from tinknot.core.joint.section import section
from tinknot.core.joint.tap_section import tap_section
from tinknot.core.layers.contract import Fault, Layer, Material, PlainLayer, Step
from tinknot.core.layers.preparation import said_mm
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.sleeves import CoverSleeve
from tinknot.core.planning.partlist import choice_out, parts_of, rolls_of
from tinknot.core.planning.plan import (
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
    PickOut,
    Plan,
    ResinOut,
    SettingOut,
    StepOut,
    TimerOut,
    stamp,
)
from tinknot.core.recipes.job import Job
from tinknot.core.recipes.solution import Solution

SAFETY = (
    "Not a substitute for local codes or a licensed person.",
    (
        "Identify the cable, isolate every feed at both ends, lock, prove dead and prove the prover."
        " Discharge before touching."
    ),
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
    steps = steps_of(layers)
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
            CoreOut(
                core=n.name,
                centre_mm=c.centre_mm,
                cut_a_mm=c.cut_a_mm,
                cut_b_mm=c.cut_b_mm,
                area_mm2=n.area_mm2,
            )
            for n, c in zip(job.a.cores, layout.cores if layout else (), strict=bool(layout))
        ],
        choices=[] if brief else [choice_out(c, job.margins, job.sleeves) for c in solution.choices],
        picks=[
            PickOut(
                layer=p.layer,
                title=p.title,
                need=p.need,
                offers=[OfferOut(**asdict(o)) for o in p.offers],
                picked=p.picked,
                advice=p.advice,
            )
            for p in solution.picks
        ],
        parts=parts_of(job, solution, brief),
        park=_park(job, solution) if solution.parking and layers else None,
        steps=steps,
        materials=materials_of(materials),
        tools=list(dict.fromkeys(t for x in layers for t in x.tools())),
        settings=[SettingOut(**vars(s)) for s in dict.fromkeys(s for x in layers for s in x.settings())],
        minutes=MinutesOut(hands=hands, waiting=_finite(sum(x.minutes().waiting for x in layers))),
        remedies=[],
        faults=[fault_out(x.id, f) for x in layers for f in x.faults()],
        warnings=_warnings(job, solution, materials),
        safety=_safety(job, steps),
        chosen_together=solution.greedy,
        section=(
            (section(solution) if solution.inner else tap_section(solution)) if layers and not brief else None
        ),
        slack_mm={"A": joint.ends.A.slack_mm, "B": joint.ends.B.slack_mm},
        remake_spare_mm=rules.number("remake.spare_mm"),
        cable_length_m=joint.cable_length_m,
        ambient_c=joint.ambient_c,
        resin=next((_resin(x) for x in layers if isinstance(x, ResinShell)), None),
        cost=cost_of(joint.stock, materials),
    )


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
        resin_c=p.resin_c,
        shell_ml=f.shell_ml,
        displaced_ml=f.displaced_ml,
        net_ml=f.net_ml,
        required_ml=f.required_ml,
        left_over_ml=f.left_over_ml,
        packs=[PackUse(part_id=p, count=n) for p, n in f.packs],
        pot_life_min=p.pot_life_min,
        mix_min=p.mix_min,
        pour_window_min=p.window_min,
        pour_min=p.pour_min,
        handle_min=_finite(p.handle_min),
        full_min=_finite(p.full_min),
        shell=list(shell.cut.inside),
    )


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
        a=sides["a"],
        b=sides["b"],
        used_a_mm=solution.parking.used_a_mm,
        used_b_mm=solution.parking.used_b_mm,
        free_a_mm=ends.A.free_mm,
        free_b_mm=ends.B.free_mm,
    )


def fault_out(layer: str, f: Fault) -> FaultOut:
    """A fault as the plan carries it."""
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


def steps_of(layers: Sequence[Layer]) -> list[StepOut]:
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
            needs=list(s.needs),
            gates=[GateOut(**vars(g)) for g in s.gates],
            stamp=stamp(s),
            timers=[TimerOut(**vars(t)) for t in s.timers],
            tools=list(s.tools),
            cure=CureLaw(**(vars(s.cure) | {"points": list(s.cure.points)})) if s.cure else None,
        )
        for s in done
    ]


def materials_of(used: Sequence[Material]) -> list[MaterialOut]:
    """What is used up, the same things added together."""
    found: dict[tuple[str, str, str], MaterialOut] = {}
    for m in used:
        key = (m.what, m.part_id, m.lot)
        quantity = m.quantity + (found[key].quantity if key in found else 0)
        found[key] = MaterialOut(**(vars(m) | {"quantity": quantity}))
    return list(found.values())


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
                    f"Conductor of core {core.name} on {end.name} is an estimate,"
                    f" {core.conductor.greatest_mm:.1f} mm; measure it."
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
                f"{part} is already cut for the {choice.title} and no longer fits; it goes back to stock as a"
                " piece."
            )
    for material in materials_of(used):
        if material.in_stock is not None and material.quantity > material.in_stock * (1 + 1e-9):
            words.append(
                f"{material.what}: {material.quantity:g} {material.unit} needed, {material.in_stock:g} on"
                " hand."
            )
    if "fire" in job.joint.duties and job.build.fire is None and solution.layers:
        words.append(
            "Fire duty: the parts are free of halogen. Where the circuit must live on in a fire, choose a"
            " barrier or mica."
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
                    f"Core {core.name} on {end} was cut at {said_mm(before)}: trim {said_mm(before - wanted)}"
                    " more."
                )
            elif wanted - before > 0.05:
                words.append(
                    f"Core {core.name} on {end} was cut at {said_mm(before)}, {said_mm(wanted - before)} too"
                    f" short: cut the sheath on {end} back by as much."
                )
    return words
