"""What else could be done: complete alternatives, staggers side by side, one joint or two."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from tinknot.core.choosing.fitting import COMFORT
from tinknot.core.errors import InputError
from tinknot.core.joint.file import BuildIn, ConnectorIn, JointFile
from tinknot.core.joint.parts import StockConnector
from tinknot.core.layers.sleeves import COLD
from tinknot.core.planning.compiling import compile_plan
from tinknot.core.planning.partlist import choice_out
from tinknot.core.planning.plan import InsertOut, Plan, Remedy, StaggerWay
from tinknot.core.recipes.job import Job
from tinknot.core.recipes.of_joint import Recipes, recipe_of
from tinknot.core.recipes.solution import Solution
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least

Sets = Sequence[tuple[StockConnector, ...]]
FAR_THINNER = 0.75  # of the wall of the layer that is replaced
MOST_CONNECTORS = 3  # other sets of connectors worth working through


@dataclass(frozen=True)
class _Way:
    """A change to try: what it is called, what it changes in the draft, and the joint with it."""

    id: str
    title: str
    change: dict[str, Any]
    joint: JointFile
    set_number: int = 0
    same_stack: bool = False  # only another stagger of the same recipe


def _built(joint: JointFile, **changes: Any) -> BuildIn:
    return BuildIn.model_validate(joint.build.model_dump() | changes, strict=False)


def _build_way(joint: JointFile, way_id: str, title: str, **changes: Any) -> _Way:
    build = _built(joint, **changes)
    change = {"build": build.model_dump(mode="json", exclude_none=True)}
    return _Way(way_id, title, change, joint.model_copy(update={"build": build}))


def _tries(joint: JointFile, recipe: Recipes, sets: Sets, fits: bool) -> Iterator[_Way]:
    """Every change worth working through, in the order of the domain's list of remedies; what only makes
    a pour possible is left out of a joint that fits, and what a kit sheet settles is not asked again."""
    job = recipe.job
    settled = {k for k in ("closure", "core_insulation") if joint.sheet and getattr(joint.sheet, k)}
    if joint.family != "straight-lv":
        return
    for k in range(1, len(job.a.cores) + 1):
        if k != joint.stagger_steps:
            title = "All connectors in line" if k == 1 else f"Stagger the connectors in {k} steps"
            again = joint.model_copy(update={"stagger_steps": k})
            yield _Way(f"steps-{k}-connector-0", title, {"stagger_steps": k}, again, same_stack=True)
    for n in range(1, min(len(sets), MOST_CONNECTORS + 1)):
        c = sets[n][0]
        changed = joint.model_copy(update={"connector": ConnectorIn(part_id=c.id)})
        yield _Way(
            f"steps-{joint.stagger_steps}-connector-{n}",
            f"Use {c.said}",
            {"stagger_steps": joint.stagger_steps, "connector": {"part_id": c.id}},
            changed,
        )
    closure = job.build.closure or "sleeve"
    if closure != "resin" and job.build.thin_side is None and job.a.sheath != job.b.sheath:
        yield _build_way(
            joint, "end-piece", "Step down with an end piece on the thinner side", thin_side="end-piece"
        )
        yield _build_way(joint, "build-up", "Build the thinner side up with tape", thin_side="tape")
    for other, title in (
        ("sleeve", "A closed sleeve"),
        ("wrap-around", "A wrap-around sleeve"),
        ("resin", "A resin joint"),
    ):
        if other != closure and "closure" not in settled and (other != "resin" or job.joint.stock.shells):
            taped = {"core_insulation": "tape"} if job.build.cold_only else {}
            yield _build_way(joint, f"closure-{other}", title, closure=other, thin_side=None, **taped)
    if closure == "resin" and not fits:
        yield from _warmer(joint, job)
    if job.build.core_insulation != "tape" and "core_insulation" not in settled and job.joint.stock.tapes:
        yield _build_way(joint, "core-tape", "Insulate the cores with tape", core_insulation="tape")


def _warmer(joint: JointFile, job: Job) -> Iterator[_Way]:
    """Resin: a pack at another temperature, a second person."""
    for c in (20.0, 10.0):
        if job.build.resin_c != c and (job.build.resin_c is not None or joint.ambient_c != c):
            yield _build_way(joint, f"resin-{c:g}", f"Bring the packs to {c:g} °C before mixing", resin_c=c)
    if job.build.persons < 2:
        yield _build_way(joint, "second-person", "A second person mixes while the first pours", persons=2)


def _complete(way: _Way, recipe: Recipes, rules: RuleBook) -> Remedy | None:
    """A way worked through; None where it does not fit either."""
    try:
        other = (
            recipe if way.same_stack else recipe_of(Job(way.joint, rules, recipe.job.today, recipe.job.made))
        )
        solution = other.solve(way.joint.stagger_steps, other.sets()[way.set_number])
    except InputError:
        return None
    if not solution.fits:
        return None
    plan = compile_plan(other.job, solution, brief=True)
    return Remedy(
        id=way.id,
        title=way.title,
        change=way.change,
        why=_why(plan),
        joint_length_mm=plan.joint_length_mm,
        greatest_diameter_mm=plan.greatest_diameter_mm,
        minutes=plan.minutes,
        parts=plan.parts,
        cost=plan.cost,
        park=plan.park,
        cores=plan.cores,
    )


def _why(plan: Plan) -> str:
    if plan.resin:
        packs = " + ".join(f"{p.count} × {p.part_id}" for p in plan.resin.packs)
        shell = next(p for p in plan.parts if p.layer == "shell")
        return (
            f"{shell.name} with {packs} at {plan.resin.resin_c:g} °C; cured after"
            f" {plan.resin.full_min / 60:.1f} h."
        )
    outer = next((p for p in plan.parts if p.layer == "outer-sleeve"), plan.parts[-1])
    cut = f", cut {outer.cut_length_mm:g}" if outer.cut_length_mm is not None else ""
    return f"{outer.name} then fits{cut}; greatest diameter {plan.greatest_diameter_mm or 0:.1f}."


def _quickest(r: Remedy) -> tuple[float, float, float, str]:
    minutes = r.minutes.hands + r.minutes.waiting if r.minutes else 0.0
    return minutes, r.cost if r.cost is not None else float("inf"), r.joint_length_mm or 0.0, r.id


def variants(
    joint: JointFile, recipe: Recipes, sets: Sets, rules: RuleBook, fits: bool = True
) -> list[Remedy]:
    """The other ways that fit, each complete, quickest and then cheapest first."""
    found = [_complete(way, recipe, rules) for way in _tries(joint, recipe, sets, fits)]
    return sorted((r for r in found if r), key=_quickest)


def remedies(
    joint: JointFile, recipe: Recipes, solution: Solution, sets: Sets, rules: RuleBook
) -> list[Remedy]:
    """Complete alternatives first, then what to order."""
    found: list[Remedy] = []
    settled = {k: None for k, v in joint.choice.model_dump(exclude={"outer_parks_on"}).items() if v}
    if settled:
        free = joint.model_copy(update={"choice": joint.choice.model_copy(update=settled)})
        freed = _complete(
            _Way(
                "let-choose",
                "Let the parts be chosen again",
                {"choice": {"core_sleeve": None, "outer_sleeve": None}},
                free,
            ),
            recipe,
            rules,
        )
        found += [freed] if freed else []
    found += variants(joint, recipe, sets, rules, fits=False)
    for choice in solution.choices:
        if not choice.ranked:
            out = choice_out(choice, recipe.job.margins, recipe.job.sleeves)
            cold = " It must be applied cold." if COLD in recipe.job.properties else ""
            found.append(
                Remedy(
                    id=f"order-{choice.layer}",
                    title=f"Order a part: {choice.title}",
                    why=out.advice + cold,
                    change={},
                )
            )
    for pick in solution.picks:
        if pick.picked is None:
            title = (
                f"Order a part: {pick.title}" if pick.advice.startswith("Order") else pick.title.capitalize()
            )
            found.append(Remedy(id=f"order-{pick.layer}", title=title, why=pick.advice, change={}))
    if solution.parking and not solution.parking.fits:
        found.append(
            Remedy(
                id="free-tail",
                title="Free more of the cable's tail",
                change={},
                why=(
                    "Undo the next fixing, or use a wrap-around sleeve or a resin joint where the rule book"
                    " allows it."
                ),
            )
        )
    return found


def staggers_of(
    joint: JointFile, recipe: Recipes, connectors: tuple[StockConnector, ...]
) -> list[StaggerWay]:
    """In line and every number of steps side by side; empty where there is no stagger to choose."""
    job = recipe.job
    if joint.family != "straight-lv" or len(job.a.cores) < 2:
        return []
    rows: list[tuple[StaggerWay, Solution]] = []
    for k in range(1, len(job.a.cores) + 1):
        try:
            solution = recipe.solve(k, connectors)
        except InputError:
            continue
        plan = compile_plan(job, solution, brief=True)
        outer = [c for c in solution.choices if c.layer == "outer-sleeve"]
        shells = [o.name for p in solution.picks if p.layer == "shell" for o in p.offers if o.serves]
        bundle = solution.inner.between(*solution.crutch_mm).greatest() if solution.inner else None
        rows.append(
            (
                StaggerWay(
                    steps=k,
                    fits=solution.fits,
                    gap_mm=plan.gap_mm,
                    joint_length_mm=plan.joint_length_mm,
                    cores_diameter_mm=bundle,
                    greatest_diameter_mm=plan.greatest_diameter_mm,
                    minutes=plan.minutes.hands + plan.minutes.waiting if solution.fits else None,
                    sleeves=[
                        job.sleeves[r.candidate.id].name or r.candidate.id for c in outer for r in c.ranked
                    ],
                    shells=shells,
                    recommended=False,
                    why="",
                    profile=plan.profile,
                ),
                solution,
            )
        )
    return _recommend(rows)


def _recommend(rows: list[tuple[StaggerWay, Solution]]) -> list[StaggerWay]:
    """The shortest that fits with comfort, else the shortest that fits; each row says what speaks for it."""
    fitting = [(r, s) for r, s in rows if r.fits]
    roomy = [
        r for r, s in fitting if all(c.picked and at_least(c.picked.fit.comfort, COMFORT) for c in s.choices)
    ]
    thin = [
        r
        for r, s in fitting
        if any(c.picked and c.picked.wall_mm < FAR_THINNER * c.window.least_wall_mm for c in s.choices)
    ]
    easy = [r for r in roomy if r not in thin]
    pool = easy or [r for r, _ in fitting]
    best = min(pool, key=lambda r: (round(r.joint_length_mm or 0.0), r.steps), default=None)
    found = []
    for r, s in rows:
        if not r.fits:
            lacking = [c.title for c in s.choices if not c.picked] + [
                p.title for p in s.picks if not p.picked
            ]
            why = (
                f"Nothing in stock: {lacking[0]}." if lacking else "No room to park what must be threaded on."
            )
        elif r is best:
            why = (
                "Shortest, and fits with room to spare."
                if r in easy
                else (
                    "Shortest, but a wall is far thinner than the layer it replaces."
                    if r in thin
                    else "Shortest of those that only just fit."
                )
            )
            if any(x.steps < r.steps and not x.fits for x, _ in rows):
                why = "Fewer steps are too thick for what is in stock."
            elif any(x.steps < r.steps and x.fits and x not in roomy for x, _ in rows):
                why = "Fewer steps only just fit."
        elif (
            best
            and r.greatest_diameter_mm
            and best.greatest_diameter_mm
            and r.greatest_diameter_mm < best.greatest_diameter_mm - 0.05
        ):
            why = (
                f"{best.greatest_diameter_mm - r.greatest_diameter_mm:.1f} mm slimmer,"
                f" {(r.joint_length_mm or 0) - (best.joint_length_mm or 0):.0f} mm longer."
            )
        else:
            more = (r.joint_length_mm or 0) - (best.joint_length_mm or 0) if best else 0.0
            why = (
                f"{more:.0f} mm longer and no slimmer."
                if more >= 0.5
                else "No shorter, no slimmer, and more work."
            )
        found.append(r.model_copy(update={"recommended": r is best, "why": why}))
    return found


def insert_of(joint: JointFile, plan: Plan, rules: RuleBook) -> InsertOut | None:
    """One joint or two, once `removed_mm` of damaged cable is out; None where nothing is said of damage.

    The ends meet when slack reaches what is removed and what both ends lose to a fresh square cut."""
    removed = joint.build.removed_mm
    if removed is None or joint.family != "straight-lv":
        return None
    spare = 2 * rules.number("cut.spare_mm")
    slack = (joint.ends.A.slack_mm or 0.0) + (joint.ends.B.slack_mm or 0.0)
    needed = removed + spare
    if at_least(slack, needed):
        return InsertOut(
            removed_mm=removed,
            slack_mm=slack,
            needed_mm=needed,
            short_mm=0.0,
            joints=1,
            insert_mm=None,
            checked=[],
            words=f"One joint: {slack:.0f} mm of slack, {needed:.0f} are used, {slack - needed:.0f} stay.",
        )
    length = plan.joint_length_mm or 0.0
    insert = max(needed + spare - slack, length + rules.number("between.joints_mm"))
    checked = [_twin(joint, rules, "A", insert), _twin(joint, rules, "B", insert)]
    return InsertOut(
        removed_mm=removed,
        slack_mm=slack,
        needed_mm=needed,
        short_mm=needed - slack,
        joints=2,
        insert_mm=insert,
        checked=checked,
        words=(
            f"Two joints: the ends are {needed - slack:.0f} mm apart. Put in {insert:.0f} mm of the same"
            " cable; take out more of the old where the insert is longer."
        ),
    )


def _twin(joint: JointFile, rules: RuleBook, end: str, insert_mm: float) -> str:
    """The joint between one old end and the insert, which is cable like that end, checked."""
    own = getattr(joint.ends, end)
    new = own.model_copy(
        update={"free_mm": insert_mm / 2, "slack_mm": None, "landed": False, "label": "insert"}
    )
    ends = joint.ends.model_copy(update={"A": own, "B": new} if end == "A" else {"A": new, "B": own})
    twin = joint.model_copy(
        update={"ends": ends, "build": joint.build.model_copy(update={"removed_mm": None})}
    )
    twin = (
        twin.model_copy(
            update={"ends": ends.model_copy(update={"B": ends.B.model_copy(update={"cores": ends.A.cores})})}
        )
        if end == "A"
        else twin
    )
    try:
        recipe = recipe_of(Job(twin, rules))
        solution = recipe.solve(twin.stagger_steps, recipe.sets()[0])
    except InputError as fault:
        return f"{end} to insert: {fault.errors[0].message}"
    if not solution.fits:
        return f"{end} to insert: nothing in stock fits"
    return (
        f"{end} to insert: fits, {compile_plan(recipe.job, solution, brief=True).joint_length_mm:.0f} mm long"
    )
