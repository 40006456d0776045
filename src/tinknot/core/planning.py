"""From a joint file to a plan: solve the stack, compile its steps, compute the remedies."""

from collections.abc import Mapping, Sequence
from datetime import date
from math import ceil, floor

from tinknot.core.choose import COMFORT, Ranked
from tinknot.core.errors import InputError
from tinknot.core.joint.file import JointFile, StockSleeve
from tinknot.core.joint.section import section
from tinknot.core.layers.contract import Fault, Layer, Step
from tinknot.core.layers.preparation import said_mm
from tinknot.core.layers.sleeves import CoreSleeve, OuterSleeve
from tinknot.core.plan import (
    CandidateOut,
    ChoiceOut,
    CoreOut,
    CutOut,
    FaultOut,
    GateOut,
    MaterialOut,
    MendOut,
    MinutesOut,
    ParkedOut,
    ParkPlan,
    PartOut,
    Plan,
    Refusal,
    Remedy,
    SettingOut,
    StepOut,
    TimerOut,
    stamp,
)
from tinknot.core.recipes.connectors import connectors_for
from tinknot.core.recipes.solution import Choice, Made, Solution
from tinknot.core.recipes.straight_lv import Recipe
from tinknot.core.rulebook import RuleBook
from tinknot.core.sleeve import Margins

SAFETY = (
    "Not a substitute for local codes or a licensed person.",
    "Identify the cable, isolate every feed at both ends, lock, prove dead and prove the prover. Discharge before touching.",
    "Hot air: permit where one is needed, shield what is near, gloves. Solvent away from heat, ventilate.",
    "Discharge after every DC test.",
    "Green-yellow is never re-marked as a live conductor.",
)


def plan_joint(
    joint: JointFile, rules: RuleBook | None = None, today: date | None = None, made: Made | None = None
) -> Plan:
    """The whole plan of a joint.

    Raises InputError for a joint that contradicts itself or is beyond
    the tool; when nothing fits the plan says so and carries the remedies."""
    rules = rules or RuleBook.of()
    recipe = Recipe(joint, rules, today, made)
    sets = connectors_for(joint, recipe.a, recipe.b)
    solution = recipe.solve(joint.stagger_steps, sets[0])
    plan = compile_plan(joint, recipe, solution, rules)
    if not solution.fits:
        plan = plan.model_copy(update={"remedies": _remedies(joint, recipe, solution, sets, rules)})
    return plan


def ways(joint: JointFile, rules: RuleBook, today: date | None = None) -> list[Remedy]:
    """The other staggers and connectors of a joint that fits, each complete, quickest first."""
    recipe = Recipe(joint, rules, today)
    sets = connectors_for(joint, recipe.a, recipe.b)
    return _variants(joint, recipe, sets, rules, joint.stagger_steps)


def compile_plan(joint: JointFile, recipe: Recipe, solution: Solution, rules: RuleBook) -> Plan:
    """A solution as a plan."""
    layers = solution.layers
    layout, outside = solution.layout, solution.outside
    seat = next((x.span_mm for x in layers if isinstance(x, OuterSleeve)), None)
    finished = outside.between(*seat) if outside and seat else None
    hands = sum(x.minutes().hands for x in layers) + (solution.steps - 1) * rules.number("time.position_min")
    return Plan(
        verdict="planned" if solution.fits else "nothing-fits",
        family=joint.family,
        stagger_steps=solution.steps,
        gap_mm=layout.gap_mm if layout else None,
        joint_length_mm=seat[1] - seat[0] if seat else None,
        greatest_diameter_mm=finished.greatest() if finished else None,
        profile=[(round(x, 6), od) for x, od in finished.points()] if finished else [],
        cuts=[CutOut(**vars(c)) for x in layers for c in x.cuts()],
        cores=[
            CoreOut(core=n.name, centre_mm=c.centre_mm, cut_a_mm=c.cut_a_mm, cut_b_mm=c.cut_b_mm, area_mm2=n.area_mm2)
            for n, c in zip(recipe.a.cores, layout.cores if layout else (), strict=bool(layout))
        ],
        choices=[choice_out(c, recipe.margins, recipe.sleeves) for c in solution.choices],
        parts=_parts(recipe, solution),
        park=_park(joint, solution) if solution.parking and layers else None,
        steps=_steps(layers),
        materials=_materials(layers),
        tools=list(dict.fromkeys(t for x in layers for t in x.tools())),
        settings=[SettingOut(**vars(s)) for s in dict.fromkeys(s for x in layers for s in x.settings())],
        minutes=MinutesOut(hands=hands, waiting=sum(x.minutes().waiting for x in layers)),
        remedies=[],
        faults=[_fault(x.id, f) for x in layers for f in x.faults()],
        warnings=_warnings(joint, recipe, solution),
        safety=list(SAFETY),
        chosen_together=solution.greedy,
        section=section(solution.ends, layers, solution.tracks, solution.inner, layout.gap_mm)
        if layers and solution.inner and layout else None,
        slack_mm={"A": joint.ends.A.slack_mm, "B": joint.ends.B.slack_mm}, remake_spare_mm=rules.number("remake.spare_mm"),
        cable_length_m=joint.cable_length_m, ambient_c=joint.ambient_c,
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
        choice.rejected, key=lambda r: (r.fit.pass_short_by_mm + r.fit.grip_short_by_mm, r.candidate.id)
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


def _reason(r: Ranked) -> str:
    c, f = r.candidate, r.fit
    opens, closes = (
        c.tube.expanded_id_mm - f.needed_expanded_mm,
        f.allowed_recovered_mm - c.tube.recovered_id_mm,
    )
    words = [f"Opens {opens:.1f} past what it must pass, closes {closes:.1f} inside what it must grip."]
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


def _parts(recipe: Recipe, solution: Solution) -> list[PartOut]:
    found: list[PartOut] = []
    for i, (core, connector) in enumerate(zip(recipe.a.cores, solution.connectors, strict=True)):
        lot = min((x.id for x in connector.lots if x.on_hand), default="")
        found.append(
            PartOut(
                layer=f"crimp-{core.name}", title=f"connector on core {core.name}", part_id=connector.id,
                name=connector.name or connector.id, lot=lot, cut_length_mm=None, pass_od_mm=None, seal_od_mm=None,
                od_after_mm=connector.od_mm, reason=f"Takes {core.area_mm2:g} to {recipe.b.cores[i].area_mm2:g} mm².", rejected=[],
            )
        )  # fmt: skip
    by_layer = {x.id: x for x in solution.layers if isinstance(x, (CoreSleeve, OuterSleeve))}
    of_core = {}
    for choice in solution.choices[:-1]:
        for name in choice.title.split("core", 1)[1].removeprefix("s").strip().split(", "):
            of_core[f"core-sleeve-{name}"] = choice
    of_core["outer-sleeve"] = solution.choices[-1]
    for layer_id, choice in of_core.items():
        r = choice.picked
        if r is None:
            continue
        part, layer = recipe.sleeves[r.candidate.id], by_layer.get(layer_id)
        w = choice.window
        at = w.wall_od_mm or w.seal_od_mm
        found.append(
            PartOut(
                layer=layer_id, title=layer.title if layer else choice.title, part_id=part.id, name=part.name or part.id,
                lot=layer.lot if layer else "", cut_length_mm=r.cut_length_mm, pass_od_mm=w.pass_od_mm, seal_od_mm=w.seal_od_mm,
                od_after_mm=r.candidate.tube.od_mm(at), reason=_reason(r),
                rejected=[Refusal(part_id=x.candidate.id, reason=x.reason) for x in choice.rejected],
                expanded_id_mm=part.expanded_id_mm, recovered_id_mm=part.recovered_id_mm, wall_mm=r.candidate.tube.wall_mm(at),
            )
        )  # fmt: skip
    return found


def _park(joint: JointFile, solution: Solution) -> ParkPlan:
    threads = [t for x in solution.layers for t in x.threads()]
    sides: dict[str, list[ParkedOut]] = {"a": [], "b": []}
    for t in sorted(threads, key=lambda t: (t.track != "sheath", t.order)):
        sides[t.side].append(
            ParkedOut(
                layer=t.layer, part_id=t.part_id, track=t.track, length_mm=t.length_mm, step=f"park.{t.layer}"
            )
        )
    assert solution.parking is not None
    return ParkPlan(
        a=sides["a"], b=sides["b"], used_a_mm=solution.parking.used_a_mm, used_b_mm=solution.parking.used_b_mm,
        free_a_mm=joint.ends.A.free_mm, free_b_mm=joint.ends.B.free_mm,
    )  # fmt: skip


def _fault(layer: str, f: Fault) -> FaultOut:
    mends = [MendOut(words=m.words, kind=m.kind) for m in f.mends]
    return FaultOut(layer=layer, id=f.id, seen=f.seen, causes=list(f.causes), mends=mends)


def _steps(layers: Sequence[Layer]) -> list[StepOut]:
    """All steps in an order in which they can be worked: needs first, then by station, layer order kept."""
    steps: dict[str, Step] = {s.id: s for x in layers for s in x.steps()}
    unknown = {n for s in steps.values() for n in s.needs} - steps.keys()
    assert not unknown, f"steps need what nobody does: {unknown}"
    order = {name: i for i, name in enumerate(("card", "measure", "cut", "park", "build", "prove", "sign"))}
    done: list[Step] = []
    placed: set[str] = set()
    left = sorted(steps.values(), key=lambda s: order[s.station])
    while left:
        ready_now = [s for s in left if placed.issuperset(s.needs)]
        assert ready_now, "the steps run in a circle"
        batch = done[-1].batch if done else ""
        ready = next((s for s in ready_now if batch and s.batch == batch), ready_now[0])
        done.append(ready)
        placed.add(ready.id)
        left.remove(ready)
    return [
        StepOut(
            **{k: v for k, v in vars(s).items() if k not in ("needs", "gates", "timers", "tools")},
            needs=list(s.needs), gates=[GateOut(**vars(g)) for g in s.gates], stamp=stamp(s),
            timers=[TimerOut(**vars(t)) for t in s.timers], tools=list(s.tools),
        )
        for s in done
    ]  # fmt: skip


def _materials(layers: Sequence[Layer]) -> list[MaterialOut]:
    found: dict[tuple[str, str, str], MaterialOut] = {}
    for m in (m for x in layers for m in x.consumes()):
        key = (m.what, m.part_id, m.lot)
        quantity = m.quantity + (found[key].quantity if key in found else 0)
        found[key] = MaterialOut(**(vars(m) | {"quantity": quantity}))
    return list(found.values())


def _warnings(joint: JointFile, recipe: Recipe, solution: Solution) -> list[str]:
    words = []
    for end in solution.ends:
        for core in end.cores:
            if core.conductor_source == "estimate":
                words.append(
                    f"Conductor of core {core.name} on {end.name} is an estimate, {core.conductor.greatest_mm:.1f} mm; measure it."
                )
    parking = solution.parking
    if parking and not parking.fits:
        side, over = ("A", parking.over_a_mm) if parking.over_a_mm else ("B", parking.over_b_mm)
        words.append(f"No room to park the outer sleeve: it overruns the tail on {side} by {over:.0f} mm.")
    if recipe.made.gap_mm is not None and solution.layout and not solution.kept:
        words += _recuts(recipe, solution)
    used = recipe.made.parts or {}
    for choice in solution.choices:
        part = used.get(choice.layer)
        if part and choice.picked and choice.picked.candidate.id != part:
            words.append(
                f"{part} is already cut for the {choice.title} and no longer fits; it goes back to stock as a piece."
            )
    for material in _materials(solution.layers):
        if material.in_stock is not None and material.quantity > material.in_stock * (1 + 1e-9):
            words.append(
                f"{material.what}: {material.quantity:g} {material.unit} needed, {material.in_stock:g} on hand."
            )
    if joint.ambient_c < 5 and solution.layers:
        words.append("Cold: warm the sheath before the sleeve goes on, or the adhesive will not wet it.")
    return words


def _recuts(recipe: Recipe, solution: Solution) -> list[str]:
    """What cuts already made mean under a plan that wants others."""
    assert solution.layout is not None
    made = recipe.made
    words = []
    for core, centre, now in zip(recipe.a.cores, made.centres_mm, solution.layout.cores, strict=False):
        was = (centre, (made.gap_mm or 0) - centre)
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


def _variants(
    joint: JointFile,
    recipe: Recipe,
    sets: Sequence[Sequence[object]],
    rules: RuleBook,
    skip_steps: int | None,
) -> list[Remedy]:
    found: list[Remedy] = []
    tried = [(k, 0) for k in range(1, len(recipe.a.cores) + 1) if k != skip_steps]
    tried += [(joint.stagger_steps, n) for n in range(1, min(len(sets), 4))]
    for steps, n in tried:
        connectors = connectors_for(joint, recipe.a, recipe.b)[n]
        try:
            solution = recipe.solve(steps, connectors)
        except InputError:
            continue
        if not solution.fits:
            continue
        plan = compile_plan(joint, recipe, solution, rules)
        change: dict[str, object] = {"stagger_steps": steps}
        title = "All connectors in line" if steps == 1 else f"Stagger the connectors in {steps} steps"
        if n:
            change["connector"] = {"part_id": connectors[0].id}
            title = f"Use {connectors[0].name or connectors[0].id}"
        outer = plan.parts[-1]
        found.append(
            Remedy(
                id=f"steps-{steps}-connector-{n}", title=title, change=change, joint_length_mm=plan.joint_length_mm,
                why=f"{outer.name} then fits, cut {outer.cut_length_mm:g}; greatest diameter {plan.greatest_diameter_mm:.1f}.",
                greatest_diameter_mm=plan.greatest_diameter_mm, minutes=plan.minutes, parts=plan.parts,
            )
        )  # fmt: skip
    return sorted(
        found,
        key=lambda r: (r.minutes.hands + r.minutes.waiting if r.minutes else 0, r.joint_length_mm or 0, r.id),
    )


def _remedies(
    joint: JointFile, recipe: Recipe, solution: Solution, sets: Sequence[Sequence[object]], rules: RuleBook
) -> list[Remedy]:
    """Complete alternatives first, then what to order."""
    free = joint.model_copy(
        update={"choice": joint.choice.model_copy(update={"core_sleeve": None, "outer_sleeve": None})}
    )
    found: list[Remedy] = []
    if free != joint:
        again = Recipe(free, rules, None, recipe.made)
        again.candidates, again.lots = recipe.candidates, recipe.lots
        freed = again.solve(joint.stagger_steps, solution.connectors)
        if freed.fits:
            plan = compile_plan(free, again, freed, rules)
            found.append(
                Remedy(
                    id="let-choose", title="Let the parts be chosen again", change={"choice": {"core_sleeve": None, "outer_sleeve": None}},
                    why=f"{plan.parts[-1].name} fits.", joint_length_mm=plan.joint_length_mm, greatest_diameter_mm=plan.greatest_diameter_mm,
                    minutes=plan.minutes, parts=plan.parts,
                )
            )  # fmt: skip
    found += _variants(joint, recipe, sets, rules, joint.stagger_steps)
    for choice in solution.choices:
        if not choice.ranked:
            out = choice_out(choice, recipe.margins, recipe.sleeves)
            found.append(
                Remedy(
                    id=f"order-{choice.layer}",
                    title=f"Order a part: {choice.title}",
                    why=out.advice,
                    change={},
                )
            )
    if solution.parking and not solution.parking.fits:
        found.append(
            Remedy(id="free-tail", title="Free more of the cable's tail", change={},
                   why="Undo the next fixing, or use a wrap-around sleeve or a resin joint where the rule book allows it.")
        )  # fmt: skip
    return found
