"""Other ways to build a straight joint: staggers, connectors, closures; one joint or two. Each way is
worked through as a whole joint before it is offered."""

from collections.abc import Iterator
from functools import cache, partial
from typing import TYPE_CHECKING, Any

from tinknot.core.choosing.fitting import COMFORT
from tinknot.core.errors import InputError
from tinknot.core.families.contract import Recipe, Solution, Way
from tinknot.core.families.lowvoltage.job import CAST, Job
from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.families.offers import choice_out
from tinknot.core.figures import mm
from tinknot.core.joint.file import BuildIn, ConnectorIn, JointFile
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.ways import InsertOut, Remedy, StaggerWay
from tinknot.core.tolerance import at_least

if TYPE_CHECKING:
    from tinknot.core.families.straight.recipe import StraightRecipe

FAR_THINNER = 0.75  # of the wall of the layer that is replaced
MOST_CONNECTORS = 3  # other sets of connectors worth working through
CLOSURES = {
    "sleeve": "A closed sleeve",
    "wrap-around": "A wrap-around sleeve",
    "resin": "A resin joint",
    "sleeve-resin": "A closed sleeve, and resin cast over it",
}

WET = frozenset({"immersed", "oil"})  # where a joint is cast over its sleeve as well


def ways(recipe: "StraightRecipe", s: CableSolution) -> Iterator[Way]:
    """Every change worth working through, in the order of the domain's list of remedies; what only makes
    a pour possible is left out of a joint that fits, and what a kit sheet settles is not asked again."""
    joint, job = recipe.joint, recipe.job
    if not s.connectors:
        yield from _soldered(recipe)
        return
    own = {k: None for k, v in joint.choice.model_dump(exclude={"outer_parks_on"}).items() if v}
    if own and not s.fits:
        free = joint.model_copy(update={"choice": joint.choice.model_copy(update=own)})
        change = {"choice": {"core_sleeve": None, "outer_sleeve": None}}
        title = "Let the parts be chosen again"
        yield _way(recipe, "let-choose", title, change, joint=free, leads=True, of="parts")
    for k in range(1, len(job.a.cores) + 1):
        if k != joint.stagger_steps:
            title = "All connectors in line" if k == 1 else f"Stagger the connectors in {k} steps"
            yield Way(
                f"steps-{k}-connector-0",
                title,
                {"stagger_steps": k},
                worked=partial(_staggered, recipe, k),
                of="stagger",
            )
    for n in range(1, min(len(recipe.sets), MOST_CONNECTORS + 1)):
        c = recipe.sets[n][0]
        yield _way(
            recipe,
            f"steps-{joint.stagger_steps}-connector-{n}",
            f"Use {c.said}",
            {"stagger_steps": joint.stagger_steps, "connector": {"part_id": c.id}},
            joint=joint.model_copy(update={"connector": ConnectorIn(part_id=c.id)}),
            of="connector",
        )
    yield from _out_of_its_gland(recipe)
    for of, way_id, title, changes in _builds(recipe, s.fits):
        build = BuildIn.model_validate(joint.build.model_dump() | changes, strict=False)
        change = {"build": build.model_dump(mode="json", exclude_none=True)}
        yield _way(recipe, way_id, title, change, joint=joint.model_copy(update={"build": build}), of=of)


def _soldered(recipe: "StraightRecipe") -> Iterator[Way]:
    """Solder, where no barrel or bolt joins the cores and heat is allowed."""
    joint = recipe.joint
    if joint.connector is None and not recipe.job.build.cold_only:
        change = {"connector": {"kind": "soldered"}}
        other = joint.model_copy(update={"connector": ConnectorIn(kind="soldered")})
        yield _way(recipe, "soldered", "Solder the cores", change, joint=other, of="connector")


def _staggered(recipe: "StraightRecipe", steps: int) -> tuple["StraightRecipe", Solution]:
    """The same stack with its connectors in other positions."""
    return recipe, recipe.solve_with(steps, recipe.sets[0])


def _way(
    recipe: "StraightRecipe",
    way_id: str,
    title: str,
    change: dict[str, Any],
    *,
    joint: JointFile,
    of: str,
    leads: bool = False,
) -> Way:
    """A way that changes the file, worked through as a joint of its own, once however often it is asked."""
    job = recipe.job

    @cache
    def worked() -> tuple["StraightRecipe", Solution]:
        from tinknot.core.families.straight.settle import settled  # it settles on recipes, which have ways

        other = settled(joint, job.given_rules, job.today, job.made)
        return other, other.solve()

    return Way(way_id, title, change, worked, leads=leads, of=of)


def _out_of_its_gland(recipe: "StraightRecipe") -> Iterator[Way]:
    """Where both ends sit in glands: one of them taken out, so that closed parts can be threaded again."""
    joint = recipe.joint
    if not all(recipe.job.landed) or (recipe.job.build.closure or "sleeve") == "wrap-around":
        return
    for name in ("A", "B"):
        ends = joint.ends.model_copy(
            update={name: getattr(joint.ends, name).model_copy(update={"landed": False})}
        )
        change = {"ends": ends.model_dump(mode="json", by_alias=True, exclude_none=True)}
        title = f"Take {name} out of its gland, and land it again afterwards"
        other = joint.model_copy(update={"ends": ends})
        yield _way(recipe, f"unland-{name}", title, change, joint=other, of="gland")


def unserved(recipe: "StraightRecipe", s: CableSolution) -> list[Remedy]:
    """Of a joint between two glands: why a wrap-around, a resin joint or a remake does not serve."""
    if not all(recipe.job.landed) or not s.connectors:
        return []
    found = []
    for way in recipe.ways(s):
        if way.of not in ("closure", "gland"):
            continue
        try:
            maker, other = way.worked()
        except InputError as fault:
            why = fault.errors[0].message
        else:
            if other.fits:
                continue
            why = _lacking(maker, other)
        found.append(Remedy(id=f"not-{way.id}", title=f"Does not serve: {way.title}", why=why, change={}))
    if not recipe.joint.stock.shells:
        why = "No shell is in stock: a split one closes round the cable."
        found.append(
            Remedy(id="not-closure-resin", title="Does not serve: A resin joint", why=why, change={})
        )
    return found


def _lacking(maker: Recipe[Any], s: Solution) -> str:
    """The first thing a stack lacks, in words, and what would serve."""
    for c in s.choices:
        if not c.picked:
            if c.barred:
                return c.barred.capitalize() + "."
            look_for = choice_out(c, maker.margins, maker.sleeves).advice
            return f"No {c.title} in stock fits. {look_for}".rstrip()
    for p in s.picks:
        if not p.picked:
            return p.advice
    return "There is no room to park what must be threaded on."


def _builds(recipe: "StraightRecipe", fits: bool) -> Iterator[tuple[str, str, str, dict[str, Any]]]:
    """(what it changes, id, title, changes) of every other way to build: thin side, closure, pour, cores."""
    joint, job = recipe.joint, recipe.job
    settled = {k for k in ("closure", "core_insulation") if joint.sheet and getattr(joint.sheet, k)}
    closure = job.build.closure or "sleeve"
    if closure != "resin" and job.build.thin_side is None and job.a.sheath != job.b.sheath:
        yield (
            "thin-side",
            "end-piece",
            "Step down with an end piece on the thinner side",
            {"thin_side": "end-piece"},
        )
        yield "thin-side", "build-up", "Build the thinner side up with tape", {"thin_side": "tape"}
    taped = {"core_insulation": "tape"} if job.build.cold_only else {}
    for other, title in CLOSURES.items():
        if other == "sleeve-resin" and (all(job.landed) or not (closure == "resin" or WET & {*joint.duties})):
            continue
        if other != closure and "closure" not in settled and (other not in CAST or joint.stock.shells):
            yield "closure", f"closure-{other}", title, {"closure": other, "thin_side": None, **taped}
    if job.casts and not fits:
        for c in (20.0, 10.0):
            if job.build.resin_c != c and (job.build.resin_c is not None or joint.ambient_c != c):
                yield "pour", f"resin-{c:g}", f"Bring the packs to {c:g} °C before mixing", {"resin_c": c}
        if job.build.persons < 2:
            yield "pour", "second-person", "A second person mixes while the first pours", {"persons": 2}
    if job.build.core_insulation != "tape" and "core_insulation" not in settled and joint.stock.tapes:
        yield "cores", "core-tape", "Insulate the cores with tape", {"core_insulation": "tape"}


def staggers_of(recipe: "StraightRecipe") -> list[StaggerWay]:
    """In line and every number of steps side by side; empty where there is no stagger to choose."""
    job = recipe.job
    if len(job.a.cores) < 2 or not recipe.solve().connectors:
        return []
    rows: list[tuple[StaggerWay, CableSolution]] = []
    for k in range(1, len(job.a.cores) + 1):
        try:
            s = recipe.solve_with(k, recipe.sets[0])
        except InputError:
            continue
        outer = [c for c in s.choices if c.layer == "outer-sleeve"]
        minutes, finished = s.minutes(recipe.rules), s.finished
        rows.append(
            (
                StaggerWay(
                    steps=k,
                    fits=s.fits,
                    gap_mm=s.layout.gap_mm if s.layout else None,
                    joint_length_mm=s.length_mm,
                    cores_diameter_mm=s.inner.between(*s.crutch_mm).greatest() if s.inner else None,
                    greatest_diameter_mm=finished.greatest() if finished else None,
                    minutes=minutes.hands + minutes.waiting if s.fits else None,
                    sleeves=[
                        job.sleeves[r.candidate.id].name or r.candidate.id for c in outer for r in c.ranked
                    ],
                    shells=[o.name for p in s.picks if p.layer == "shell" for o in p.offers if o.serves],
                    recommended=False,
                    why="",
                    profile=[(round(x, 6), od) for x, od in finished.points()] if finished else [],
                ),
                s,
            )
        )
    return _recommend(rows)


def _recommend(rows: list[tuple[StaggerWay, CableSolution]]) -> list[StaggerWay]:
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
                f"{mm(best.greatest_diameter_mm - r.greatest_diameter_mm):.1f} mm slimmer,"
                f" {mm((r.joint_length_mm or 0) - (best.joint_length_mm or 0)):.0f} mm longer."
            )
        else:
            more = (r.joint_length_mm or 0) - (best.joint_length_mm or 0) if best else 0.0
            why = (
                f"{mm(more):.0f} mm longer and no slimmer."
                if more >= 0.5
                else "No shorter, no slimmer, and more work."
            )
        found.append(r.model_copy(update={"recommended": r is best, "why": why}))
    return found


def insert_of(recipe: "StraightRecipe", plan: Plan) -> InsertOut | None:
    """One joint or two, once `removed_mm` of damaged cable is out; None where nothing is said of damage.

    The ends meet when slack reaches what is removed and what both ends lose to a fresh square cut."""
    joint, rules = recipe.joint, recipe.job.given_rules
    removed = joint.build.removed_mm
    if removed is None:
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
            words=(
                f"One joint: {mm(slack):.0f} mm of slack, {mm(needed):.0f} mm are used,"
                f" {mm(slack - needed):.0f} mm stay."
            ),
        )
    length = plan.joint_length_mm or 0.0
    insert = max(needed + spare - slack, length + rules.number("between.joints_mm"))
    checked = [_twin(recipe, end, insert) for end in ("A", "B")]
    return InsertOut(
        removed_mm=removed,
        slack_mm=slack,
        needed_mm=needed,
        short_mm=needed - slack,
        joints=2,
        insert_mm=insert,
        checked=checked,
        words=(
            f"Two joints: the ends are {mm(needed - slack):.0f} mm apart. Put in {mm(insert):.0f} mm of the"
            " same cable; take out more of the old where the insert is longer."
        ),
    )


def _twin(recipe: "StraightRecipe", end: str, insert_mm: float) -> str:
    """The joint between one old end and the insert, which is cable like that end, checked."""
    joint = recipe.joint
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
        solution = type(recipe)(Job(twin, recipe.job.given_rules), recipe.work.kind).solve()
    except InputError as fault:
        return f"{end} to insert: {fault.errors[0].message}"
    if not solution.fits:
        return f"{end} to insert: nothing in stock fits"
    return f"{end} to insert: fits, {mm(solution.length_mm):.0f} mm long"
