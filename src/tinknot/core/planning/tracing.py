"""A heat-trace connection's plan: the stack written out, the cable's arithmetic, what else could be done."""

from datetime import date
from math import pi

from tinknot.core.errors import InputError
from tinknot.core.formulas.slack import fixings, slack, trace_length_m
from tinknot.core.joint.flat_section import flat_section, prepared_end
from tinknot.core.joint.parts import StockSleeve
from tinknot.core.joint.tracefile import TraceFile
from tinknot.core.layers.preparation import said_mm
from tinknot.core.layers.trace.closing import Moulded, TraceTube
from tinknot.core.planning.compiling import HAZARDOUS, HOT, SAFETY, fault_out, materials_of, steps_of
from tinknot.core.planning.partlist import choice_out
from tinknot.core.planning.plan import (
    ChoiceOut,
    CircuitOut,
    CoreOut,
    CutOut,
    LoopOut,
    MinutesOut,
    ParkedOut,
    ParkPlan,
    PartOut,
    Plan,
    Refusal,
    Remedy,
    SettingOut,
    TraceOut,
    ZoneCutOut,
)
from tinknot.core.planning.tracecircuit import (
    bend_radius_mm,
    circuit_check,
    cold_tail_mm,
    loop_fits,
    zone_cut,
)
from tinknot.core.recipes.solution import Choice
from tinknot.core.recipes.trace import TraceRecipe, TraceSolution
from tinknot.core.recipes.trace_tubes import as_sleeve
from tinknot.core.rulebook import RuleBook

TRACE_SAFETY = (
    "A heat-trace circuit is live over its whole length, wet and on metal: residual-current protection,"
    " always."
)


def plan_trace(joint: TraceFile, rules: RuleBook, today: date | None = None) -> Plan:
    """The plan of a heat-trace connection. Raises InputError for a sheet that does not serve the cable or
    does not add up; a tube that does not fit, a loop bent too tight or a circuit too long make it
    `nothing-fits`."""
    recipe = TraceRecipe(joint, rules, today)
    solution = recipe.solve()
    trace = _trace(recipe, solution)
    plan = _plan(recipe, solution, trace)
    if plan.verdict == "planned":
        return plan
    return plan.model_copy(update={"remedies": _remedies(recipe, solution, trace)})


def _plan(recipe: TraceRecipe, s: TraceSolution, trace: TraceOut) -> Plan:
    joint, rules, layers = recipe.joint, recipe.rules, s.layers
    tubes = [x for x in layers if isinstance(x, TraceTube)]
    low, high = _seat(s)
    finished = s.outside.between(low, high)
    used = [m for x in layers for m in x.consumes()]
    steps = steps_of(layers)
    warm = [SAFETY[0], TRACE_SAFETY, *SAFETY[1:3]]
    if any(x.hot for x in steps):
        warm.append(HOT)
    if "hazardous" in joint.duties:
        warm.append(HAZARDOUS)
    return Plan(
        verdict="planned" if s.fits and not trace.stops else "nothing-fits",
        family=joint.family,
        closure="kit",
        sheet=f"{recipe.sheet.name}, revision {recipe.sheet.revision}",
        stagger_steps=1,
        gap_mm=None,
        joint_length_mm=high - low,
        greatest_diameter_mm=finished.greatest(),
        profile=[(round(x, 6), od) for x, od in finished.points()],
        cuts=[CutOut(**vars(c)) for x in layers for c in x.cuts()],
        cores=_cores(recipe, s),
        choices=[_choice(recipe, s, c, tubes) for c in s.choices],
        parts=_parts(recipe, s),
        park=_park(recipe, s),
        steps=steps,
        materials=materials_of(used),
        tools=list(dict.fromkeys([*recipe.leaflet.tools, *(t for x in layers for t in x.tools())])),
        settings=[SettingOut(**vars(x)) for x in dict.fromkeys(y for x in layers for y in x.settings())],
        minutes=MinutesOut(
            hands=sum(x.minutes().hands for x in layers),
            waiting=min(1e7, sum(x.minutes().waiting for x in layers)),
        ),
        remedies=[],
        faults=[fault_out(x.id, f) for x in layers for f in x.faults()],
        warnings=[*trace.stops, *s.refused, *s.warnings, *_warned(trace, s)],
        safety=[*warm, *recipe.sheet.cautions],
        section=flat_section(s, recipe.cable),
        slack_mm={x.end: None if x.loop_mm is None else x.loop_mm - x.least_loop_mm for x in trace.loops},
        remake_spare_mm=rules.number("trace.spare_mm"),
        cable_length_m=joint.cable_length_m,
        ambient_c=joint.ambient_c,
        trace=trace,
        cost=s.kit.price_each if s.kit else None,
    )


def _seat(s: TraceSolution) -> tuple[float, float]:
    """From edge to edge of what is put on, mm on the axis; of two ends that are not joined, the longer
    one."""
    by_end: dict[str, list[tuple[float, float]]] = {}
    for x in s.layers:
        if isinstance(x, (TraceTube, Moulded)):
            by_end.setdefault(x.end, []).append(x.span_mm)
    bare = [a.span(s.opened[e].jacket_mm, 0) for e, a in s.axes.items()]
    groups = list(by_end.values()) or [[b] for b in bare]
    found = [(min(a for a, _ in g), max(b for _, b in g)) for g in groups]
    return max(found, key=lambda f: f[1] - f[0])


def _choice(recipe: TraceRecipe, s: TraceSolution, c: Choice, tubes: list[TraceTube]) -> ChoiceOut:
    """A tube on the fit ruler; one of the kit is used as it comes, so nothing is said of a cut."""
    known = recipe.tubes.sleeves | {t.part.id: t.part for t in tubes if t.part} | _own(recipe)
    found = choice_out(c, recipe.margins, known)
    if c.layer not in s.from_kit:
        return found
    return found.model_copy(
        update={"candidates": [x.model_copy(update={"cut_length_mm": None}) for x in found.candidates]}
    )


def _own(recipe: TraceRecipe) -> dict[str, StockSleeve]:
    return {
        p.id: as_sleeve(p)
        for p in recipe.leaflet.parts
        if p.what == "tube" and p.opens and p.closes and p.opens.given and p.closes.given and p.supplied
    }


def _cores(recipe: TraceRecipe, s: TraceSolution) -> list[CoreOut]:
    """Bus wires through a splice, by their lengths from each jacket's cut; their sum is the same for both."""
    if not recipe.joined:
        return []
    a, b = s.opened["A"], s.opened["B"]
    return [
        CoreOut(
            core=f"bus-{n + 1}",
            centre_mm=s.axes["A"].at_mm - a.bus_mm[n],
            cut_a_mm=a.jacket_mm - a.bus_mm[n],
            cut_b_mm=b.jacket_mm - b.bus_mm[n],
            area_mm2=recipe.cable.bus_area_mm2,
        )
        for n in (0, 1)
    ]


def _parts(recipe: TraceRecipe, s: TraceSolution) -> list[PartOut]:
    found = []
    if s.kit:
        found.append(
            PartOut(
                layer="kit",
                title="the kit",
                part_id=s.kit.id,
                name=s.kit.said,
                lot=s.kit.first_lot(recipe.today),
                cut_length_mm=None,
                pass_od_mm=None,
                seal_od_mm=None,
                od_after_mm=0.0,
                reason=f"Its sheet serves {recipe.cable.construction} cable of this size.",
                rejected=[],
            )
        )
    by_layer = {x.id: x for x in s.layers if isinstance(x, TraceTube)}
    for c in s.choices:
        r, tube = c.picked, by_layer.get(c.layer)
        if r is None or tube is None or tube.part is None or c.layer in s.from_kit:
            continue
        w = c.window
        found.append(
            PartOut(
                layer=c.layer,
                title=c.title,
                part_id=tube.part.id,
                name=tube.part_name,
                lot=tube.lot,
                cut_length_mm=float(tube.cut_length_mm),
                pass_od_mm=w.pass_od_mm,
                seal_od_mm=w.seal_od_mm,
                od_after_mm=r.candidate.tube.od_mm(w.seal_od_mm),
                reason=(
                    f"Passes {w.pass_od_mm:.1f} and grips {w.seal_od_mm:.1f}, by the girth of the flat cable."
                ),
                rejected=[Refusal(part_id=x.candidate.id, reason=x.reason) for x in c.rejected()],
                expanded_id_mm=tube.part.expanded_id_mm,
                recovered_id_mm=tube.part.recovered_id_mm,
                wall_mm=r.candidate.tube.wall_mm(w.seal_od_mm),
            )
        )
    return found


def _park(recipe: TraceRecipe, s: TraceSolution) -> ParkPlan | None:
    if s.parking is None:
        return None
    sides: dict[str, list[ParkedOut]] = {"a": [], "b": []}
    titles = {x.id: x.title for x in s.layers}
    for t in sorted((t for x in s.layers for t in x.threads()), key=lambda t: -t.order):
        sides[t.side].append(
            ParkedOut(
                layer=t.layer,
                part_id=t.part_id,
                track=t.track,
                length_mm=t.length_mm,
                step=f"park.{t.layer}",
                title=titles[t.layer],
            )
        )
    a, b = recipe.side("A"), recipe.side("B")
    return ParkPlan(
        a=sides["a"],
        b=sides["b"],
        used_a_mm=s.parking.used_a_mm,
        used_b_mm=s.parking.used_b_mm,
        free_a_mm=a.free_mm,
        free_b_mm=b.free_mm if len(recipe.ends) > 1 else 0.0,
    )


def _warned(trace: TraceOut, s: TraceSolution) -> list[str]:
    words = [x.words for x in trace.loops if x.remakes_left == 0]
    for x in trace.loops:
        turn = (x.loop_mm or 0.0) / (2 * pi)  # laid as one full turn
        if x.loop_mm and x.radius_mm is None and x.least_radius_mm is not None and turn < x.least_radius_mm:
            words.append(
                f"Loop at {x.end}: {said_mm(x.loop_mm)} mm laid as one turn would bend to {turn:.0f} mm,"
                f" {x.least_radius_mm:g} is the least today: lay it as a wave."
            )
    if s.parking and not s.parking.fits:
        words.append("No room to park what must be threaded on: leave more free cable behind the end.")
    if trace.zone and trace.zone.cut_mm:
        words.append(trace.zone.words)
    return words


# --- arithmetic of the cable --------------------------------------------------------------------------------


def _trace(recipe: TraceRecipe, s: TraceSolution) -> TraceOut:
    joint, leaflet, c = recipe.joint, recipe.leaflet, recipe.joint.circuit
    stops: list[str] = []
    least = None
    try:
        least = bend_radius_mm(leaflet.bend, joint.ambient_c)
    except InputError as fault:
        stops.append(f"Temperature {fault.errors[0].message}.")
    loops = [_loop(recipe, s, e, least) for e in recipe.ends]
    stops += [x.words for x in loops if x.radius_mm is not None and not loop_fits(x.radius_mm, least)]
    zone = _zone(recipe, stops)
    check = None
    if c.circuit_m is not None and c.breaker_a is not None:
        found = circuit_check(
            leaflet.circuit,
            c.circuit_m + c.added_m,
            c.breaker_a,
            c.start_c if c.start_c is not None else joint.ambient_c,
        )
        if found is not None:
            bad = [f"Circuit: {w}." for w in found.why_not]
            stops += bad
            words = (
                " ".join(bad)
                or f"{found.length_m:g} m of {found.most_m:g} m, "
                f"starts with {found.start_up_a:.1f} A on {found.breaker_a:g} A."
            )
            check = CircuitOut(
                length_m=found.length_m,
                most_m=found.most_m,
                start_up_a=found.start_up_a,
                breaker_a=found.breaker_a,
                words=words,
            )
    ends_mm = [(recipe.side(e).loop_mm or 0.0) + c.connection_mm + s.opened[e].jacket_mm for e in recipe.ends]
    return TraceOut(
        construction=recipe.cable.construction,
        recipe=recipe.sheet.recipe,
        test_v=recipe.test_v(),
        bend_radius_mm=least,
        loops=loops,
        cable_m=(
            None
            if c.run_m is None
            else trace_length_m(c.run_m, c.spiral_extra, ends_mm, [a.each_mm * a.count for a in c.allowances])
        ),
        fixings=(
            None if c.run_m is None or c.fixing_spacing_mm is None else fixings(c.run_m, c.fixing_spacing_mm)
        ),
        fixing_tape=leaflet.fixing_tape,
        zone=zone,
        cold_tail_mm=(
            cold_tail_mm(c.felt_mm) if recipe.zone and zone is None and c.felt_mm is not None else None
        ),
        circuit=check,
        prepared=[prepared_end(leaflet, e, s.opened[e], recipe.cable) for e in recipe.ends],
        stops=stops,
    )


def per_remake_mm(recipe: TraceRecipe, end: str) -> float:
    """Cable a remake of this end uses, mm: as the sheet says, else what its cuts take and a square cut."""
    given = recipe.leaflet.per_remake
    if given is not None and given.given and given.value_mm > 0:
        return given.value_mm
    return recipe.opened[end].jacket_mm + recipe.rules.number("trace.spare_mm")


def _loop(recipe: TraceRecipe, s: TraceSolution, end: str, least: float | None) -> LoopOut:
    side, leaflet = recipe.side(end), recipe.leaflet
    keep = (
        leaflet.least_loop.value_mm
        if leaflet.least_loop and leaflet.least_loop.given
        else recipe.rules.number("trace.least_loop_mm")
    )
    each = per_remake_mm(recipe, end)
    left = slack(side.loop_mm, keep, each) if side.loop_mm is not None else None
    words = ""
    if left is not None and side.loop_mm is not None:
        n = left.remakes_left
        words = (
            f"Loop at {end}: {said_mm(side.loop_mm)} mm, {n} {'remake' if n == 1 else 'remakes'} left before"
            " a splice is needed."
        )
    if side.loop_radius_mm is not None and not loop_fits(side.loop_radius_mm, least):
        words = (
            f"Loop at {end}: drawn with {side.loop_radius_mm:g} mm, at {recipe.joint.ambient_c:g} °C the"
            f" cable bends to {least:g} mm at the tightest."
        )
    return LoopOut(
        end=end,
        loop_mm=side.loop_mm,
        radius_mm=side.loop_radius_mm,
        least_radius_mm=least,
        per_remake_mm=each,
        least_loop_mm=keep,
        remakes_left=left.remakes_left if left else None,
        left_after_mm=left.left_after_mm if left else None,
        words=words,
    )


def remakes_now(loop: LoopOut, lost_mm: float) -> int | None:
    """Remakes an end still allows after `lost_mm` of its loop are gone; None where no loop was measured."""
    if loop.loop_mm is None:
        return None
    return slack(max(0.0, loop.loop_mm - lost_mm), loop.least_loop_mm, loop.per_remake_mm).remakes_left


def _zone(recipe: TraceRecipe, stops: list[str]) -> ZoneCutOut | None:
    """Where to cut a zone cable at its fed end."""
    c, leaflet = recipe.joint.circuit, recipe.leaflet
    if not recipe.zone or recipe.sheet.recipe not in ("trace-power", "trace-power-end") or c.felt_mm is None:
        return None
    lead = leaflet.lead.value_mm if leaflet.lead and leaflet.lead.given else recipe.opened["A"].jacket_mm
    lead += recipe.joint.ends.A.loop_mm or 0.0
    most = leaflet.node_most.value_mm if leaflet.node_most and leaflet.node_most.given else 0.0
    assert recipe.cable.node_mm is not None
    try:
        z = zone_cut(c.felt_mm, recipe.cable.node_mm, lead, most)
    except InputError as fault:
        stops.append(f"First connection point {fault.errors[0].message}.")
        return None
    where = (
        f"{said_mm(z.onto_pipe_mm)} mm onto the pipe"
        if z.onto_pipe_mm > 1e-9
        else "right at the pipe's entry"
    )
    first = f"Cut {said_mm(z.cut_mm)} mm off; the" if z.cut_mm else "Cut nothing off; the"
    return ZoneCutOut(
        cut_mm=z.cut_mm,
        node_at_mm=z.node_at_mm,
        onto_pipe_mm=z.onto_pipe_mm,
        cold_mm=z.cold_mm,
        words=(
            f"{first} first connection point lies {said_mm(z.node_at_mm)} mm from the end, {where}. What lies"
            " before it stays cold."
        ),
    )


# --- other ways ---------------------------------------------------------------------------------------------


def _remedies(recipe: TraceRecipe, s: TraceSolution, trace: TraceOut) -> list[Remedy]:
    """A wider loop, a tube from stock: each tried, and offered only when it fits."""
    joint, tries = recipe.joint, []
    tight = [
        x
        for x in trace.loops
        if x.radius_mm is not None
        and x.least_radius_mm is not None
        and not loop_fits(x.radius_mm, x.least_radius_mm)
    ]
    if tight:
        ends = joint.ends.model_copy(
            update={
                x.end: recipe.side(x.end).model_copy(update={"loop_radius_mm": x.least_radius_mm})
                for x in tight
            }
        )
        tries.append(
            (
                "wider-loop",
                f"Lay the loop with {tight[0].least_radius_mm:g} mm",
                "The cable bends no tighter at this temperature.",
                joint.model_copy(update={"ends": ends}),
            )
        )
    failed = {c.layer for c in s.choices if c.picked is None}
    parts = {
        x.part
        for x in recipe.leaflet.layers
        if x.kind == "tube" and any(f == x.id or f.startswith(f"{x.id}-") for f in failed)
    }
    for sleeve in joint.stock.sleeves if parts else []:
        choice = joint.choice | {p: sleeve.id for p in parts if p}
        tries.append(
            (
                f"stock-{sleeve.id}",
                f"Use {sleeve.name or sleeve.id} from stock instead",
                "The kit's own tube does not suit this cable.",
                joint.model_copy(update={"choice": choice}),
            )
        )
    found = []
    for way_id, title, why, other in tries:
        try:
            again = TraceRecipe(other, recipe.rules, recipe.today)
            solved = again.solve()
        except InputError:
            continue
        after = _trace(again, solved)
        if not solved.fits or after.stops:
            continue
        plan = _plan(again, solved, after)
        found.append(
            Remedy(
                id=way_id,
                title=title,
                why=why,
                change={"trace": trace_body(other)},
                joint_length_mm=plan.joint_length_mm,
                greatest_diameter_mm=plan.greatest_diameter_mm,
                minutes=plan.minutes,
                parts=plan.parts,
                cost=plan.cost,
                park=plan.park,
                cores=plan.cores,
            )
        )
    return found


def trace_body(joint: TraceFile) -> dict[str, object]:
    """What of a joint file is the heat-trace part of a draft."""
    return joint.model_dump(
        mode="json", exclude_none=True, include={"cable", "ends", "circuit", "mounting", "choice"}
    )
