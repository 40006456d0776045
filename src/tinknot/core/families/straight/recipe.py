"""A straight joint of round low-voltage cables, 1 to 5 cores: sleeved, taped or cast, armoured or not."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import islice, product
from math import ceil, inf
from typing import Any

from tinknot.core.choosing.choose import Ranked
from tinknot.core.choosing.fitting import Option
from tinknot.core.choosing.park import Parking, ParkItem, Side, park
from tinknot.core.choosing.whole import best, fewest, greedy, least_comfort, option, worth
from tinknot.core.drawing.model import Section
from tinknot.core.families.choice import Choice, Pick
from tinknot.core.families.contract import LONGEST_MIN, Way
from tinknot.core.families.lowvoltage.connectors import (
    NoConnector,
    Set,
    connector_pick,
    connectors_for,
    none_pick,
)
from tinknot.core.families.lowvoltage.job import Job, circle
from tinknot.core.families.lowvoltage.recipe import CableRecipe, CableSolution
from tinknot.core.families.straight import base, earth, pouring
from tinknot.core.families.straight.cores import Cores, Groups, join, sleeve_groups
from tinknot.core.families.straight.covers import OUTER, SHELL, Cover, Other, inside_out, sealed_mm, thin
from tinknot.core.families.straight.inside import Inside, OpenCores, Sleeved
from tinknot.core.families.straight.section import section
from tinknot.core.families.straight.ways import insert_of, staggers_of, unserved, ways
from tinknot.core.formulas.conductor import resistance_uohm
from tinknot.core.formulas.proof import bend
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.connectors import Connector
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.crutch import CrutchFill, between_mm2
from tinknot.core.layers.marker import MarkerSleeve
from tinknot.core.layers.preparation import Preparation
from tinknot.core.layers.procedure import Procedure
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.sleeves import CoverSleeve
from tinknot.core.layers.tapes import PlainWrap, grows_mm
from tinknot.core.plan import PackTime, PackUse, Plan, Remedy, ResinOut, StaggerWay
from tinknot.core.tolerance import at_least

WEIGHED = 6  # ways to sleeve the cores that are weighed with the shell round them


@dataclass(frozen=True)
class Covered:
    """The covers put on so far: their layers inside out, choices, picks, the profile over them, and the
    steps the next cover waits for. `pending` is the cover whose part is to be named next, at place `at` of
    the order; None when all are on, or when something is missing (`stuck`)."""

    outside: Profile
    layers: tuple[Layer, ...] = ()
    choices: tuple[Choice, ...] = ()
    picks: tuple[Pick, ...] = ()
    after: tuple[str, ...] = ("before-closing",)
    warnings: tuple[str, ...] = ()
    pending: CoverSleeve | None = None
    at: int = 0
    stuck: bool = False

    def on(self, layer: Layer) -> "Covered":
        """With one more layer over all."""
        return replace(
            self, layers=(*self.layers, layer), outside=layer.apply(self.outside), after=(layer.last,)
        )


class StraightRecipe(CableRecipe):
    """One joint file worked through with one rule book, on one day. `end_layer`, `procedure_layer` and
    `sleeve_layer` are the layers it is made of; `first_after`: what the first cover waits for."""

    end_layer: type[Preparation] = Preparation
    procedure_layer: type[Procedure] = Procedure
    sleeve_layer: type[CoverSleeve] = CoverSleeve
    first_after: tuple[str, ...] = ("before-closing",)

    def __init__(self, job: Job) -> None:
        super().__init__(job)
        self.order = self.inside_out()
        self.covers = [x for x in self.order if isinstance(x, Cover)]
        self._solved: dict[tuple[int, tuple[str, ...]], CableSolution] = {}

    def inside_out(self) -> list[Cover | Other]:
        """The covers, and what goes on between them."""
        return inside_out(self.job)

    def groups_of(self, connectors: Set) -> Groups:
        """The choices of the cores' sleeves."""
        return sleeve_groups(self.job, connectors)

    def joined(self, steps: int, connectors: Set, groups: Groups, picks: Sequence[str]) -> Cores:
        """The cores joined and insulated."""
        return join(self.job, steps, connectors, groups, picks)

    @cached_property
    def sets(self) -> list[Set]:
        """Sets of connectors, best first. Raises InputError when none joins the cores."""
        return connectors_for(self.job)

    def solve(self) -> CableSolution:
        """The stack with the positions of the file and the best set of connectors; nothing but the choice of
        a connector where none in stock joins the cores."""
        try:
            best = self.sets[0]
        except NoConnector as fault:
            pick = none_pick(self.job, fault.errors[0].message)
            return CableSolution(ends=self.job.ends, connectors=(), picks=(pick,))
        return self.solve_with(self.joint.stagger_steps, best)

    def solve_with(self, steps: int, connectors: Set) -> CableSolution:
        """The stack for one stagger and one set of connectors, all sleeves chosen together; where nothing
        fits, as far as choosing layer by layer goes. Asked again, it answers at once."""
        key = (steps, tuple(c.id for c in connectors))
        if key not in self._solved:
            self._solved[key] = self._solve(steps, connectors)
        return self._solved[key]

    def _solve(self, steps: int, connectors: Set) -> CableSolution:
        groups = self.groups_of(connectors)
        core_cache: dict[tuple[str, ...], Cores] = {}
        seen: dict[tuple[str, ...], Covered] = {}

        def cores_of(picks: tuple[str, ...]) -> Cores:
            if picks not in core_cache:
                core_cache[picks] = self.joined(steps, connectors, groups, picks)
            return core_cache[picks]

        def covered(picks: tuple[str, ...]) -> Covered:
            if picks not in seen:
                cores = cores_of(picks[: len(groups)])
                if len(picks) == len(groups):
                    bare = Covered(base.inner_profile(self.job, cores), after=self.first_after)
                    seen[picks] = self._go_on(cores, bare)
                else:
                    seen[picks] = self._put_on(cores, covered(picks[:-1]), picks[-1])
            return seen[picks]

        def following(chosen: tuple[Option, ...]) -> Iterable[Option]:
            if len(chosen) < len(groups):
                return self.job.options(groups[len(chosen)][1])
            found = covered(tuple(o.id for o in chosen))
            if found.pending is None:
                return []
            choice = found.choices[-1]
            if len(chosen) < layers - 1:
                return self.job.options(choice)
            options = self.job.options(choice, least_comfort(chosen))
            return islice(
                (o for o in options if parks(found, choice, o)), 1
            )  # of the last layer only the best can win

        def parks(found: Covered, choice: Choice, o: Option) -> bool:
            part = choice.fitting(o.id)
            return part is not None and self._parking(found, part).fits

        def first(chosen: tuple[Option, ...]) -> Option | None:
            """What is ranked first on its own; of the last layer, what is best of those that can be
            parked."""
            if len(chosen) == layers - 1 and len(chosen) >= len(groups):
                return next(iter(following(chosen)), None)
            last = groups[len(chosen)][1] if len(chosen) < len(groups) else None
            if last is None:
                found = covered(tuple(o.id for o in chosen))
                last = found.choices[-1] if found.pending is not None else None
            allowed = self.job.allowed(last) if last is not None else []
            return option(allowed[0], last.window.pieces) if last is not None and allowed else None

        def packs(chosen: tuple[Option, ...]) -> float:
            """How many packs are poured round what is chosen; infinite where it is not all chosen or cannot
            be poured."""
            shell = _shell_of(covered(tuple(o.id for o in chosen)).layers) if len(chosen) == layers else None
            return shell.pour.pack_count if shell else inf

        layers = len(groups) + len(self.covers)
        together, by_layer = best(layers, following), greedy(layers, first)
        fewer = ""
        if self.job.casts and together is not None:
            others = product(*(islice(self.job.options(g[1]), WEIGHED) for g in groups))
            whole = (greedy(layers, first, o) for o in islice(others, WEIGHED))
            alone = packs(together)
            together = fewest(together, whole, packs)
            fewer = _saves(together, now, alone) if (now := packs(together)) < alone else ""
        picks = tuple(o.id for o in (together if together is not None else by_layer))
        if together is None and len(groups) <= len(picks) == layers - 1 and covered(picks).pending:
            # one that fits but cannot be parked shows by how much
            picks = (*picks, *[r.candidate.id for r in self.job.allowed(covered(picks).choices[-1])][:1])
        cores = cores_of(picks[: len(groups)])
        over = covered(picks) if len(picks) >= len(groups) else None
        solution = self._solution(steps, connectors, cores, over)
        return replace(solution, greedy=fewer or self._where_greedy_fails(together, by_layer, layers))

    def _where_greedy_fails(
        self, together: tuple[Option, ...] | None, by_layer: tuple[Option, ...], layers: int
    ) -> str:
        """What choosing layer by layer would have come to, where it is worse."""
        if together is None or by_layer == together:
            return ""
        names = ", ".join(self.job.sleeves[o.id].name or o.id for o in by_layer)
        if len(by_layer) < layers:
            return (
                f"Layer by layer {names} would have been taken first, and then no outer sleeve fits over it."
            )
        theirs, ours = worth(by_layer), worth(together)
        if theirs[1] != ours[1]:
            return (
                f"Layer by layer it would have been {names}: {theirs[1]} layers with too thin a wall instead"
                f" of {ours[1]}."
            )
        if theirs[2] != ours[2]:
            return (
                f"Layer by layer it would have been {names}: {theirs[2]} layers that only just fit instead of"
                f" {ours[2]}."
            )
        if theirs[3] != ours[3]:
            return (
                f"Layer by layer it would have been {names}: {theirs[3]:.0f} mm wasted instead of"
                f" {ours[3]:.0f}."
            )
        return ""

    def _go_on(self, cores: Cores, c: Covered) -> Covered:
        """Everything up to the next sleeve that has to be chosen: earth bond, shell, mastic, build-up."""
        for at in range(c.at, len(self.order)):
            put = self.order[at]
            if isinstance(put, Cover):
                return self._choose_next(cores, replace(c, at=at), put)
            c = PUT_ON[put](self, cores, c)
            if c.stuck:
                return c
        return c

    def _fill_crutch(self, cores: Cores, c: Covered) -> Covered:
        """Mastic, or else self-amalgamating tape, where the cores part."""
        job = self.job
        if len(job.a.cores) < 2 or job.made.began_without("wrap.crutch.A"):
            return c
        tape = job.tape("mastic") or job.tape("self-amalgamating")
        if tape is None:
            words = "The crutches are to be filled: neither mastic nor self-amalgamating tape is in stock."
            return replace(c, warnings=(*c.warnings, words))
        cores_mm = {e.name: tuple(x.insulation.greatest_mm for x in e.cores) for e in job.ends}
        at = {
            end: (x, between_mm2(circle(cores_mm[end]), cores_mm[end]))
            for end, x in zip(("A", "B"), cores.crutch_mm, strict=True)
        }
        fill = CrutchFill(
            "crutch", "crutch filled", tape, tape.first_lot(job.today), at, job.rules, after=c.after
        )
        return replace(c.on(fill), after=tuple(s.id for s in fill.steps()))

    def _cast(self, cores: Cores, c: Covered) -> Covered:
        """The shell with its pour."""
        closed = next((x for x in c.layers if x.id == OUTER), None)
        within: Inside
        if closed is None:
            within = OpenCores(self.job, cores, [y for x in c.layers for y in x.solids()])
        else:
            spans = [x.closes_mm() or (0.0, 0.0) for x in c.layers]
            within = Sleeved(self.job, c.outside, (min(a for a, _ in spans), max(b for _, b in spans)))
        shell, picks = pouring.poured(self.job, within, c.after, c.outside)
        c = replace(c, picks=(*c.picks, *picks), stuck=shell is None)
        return c.on(shell) if shell else c

    def _bond(self, cores: Cores, c: Covered) -> Covered:
        """The earth bond over all there is so far, where armour is to be earthed."""
        if not earth.needed(self.job):
            return c
        around = c.outside.between(*cores.crutch_mm).greatest()
        bond, picks = earth.bond(self.job, cores, c.after, around)
        warnings = list(c.warnings)
        if not self.job.build.earth:
            warnings.append("No fault current on the card: the strap is only the rule book's least.")
        if bond and bond.mesh is None and earth.restores(self.job):
            warnings.append("No metal mesh in stock: the strap joins the armour, its screen stays open.")
        c = replace(c, picks=(*c.picks, *picks), warnings=tuple(warnings), stuck=bond is None)
        if bond is None:
            return c
        c = c.on(bond)
        over, words = earth.over_springs(self.job, bond, c.outside)
        for wrap in over:
            c = c.on(wrap)
        after = tuple(w.last for w in over) or c.after
        return replace(c, after=after, warnings=(*c.warnings, *words))

    def _choose_next(self, cores: Cores, c: Covered, cover: Cover) -> Covered:
        """The choice of the next sleeve, on what lies under it."""
        job = self.job
        if cover.closes:
            filled, words = base.fill(job, c.outside, cover.lies(job, cores), c.after)
            c = replace(c, warnings=(*c.warnings, *words))
            built, picks = self._build_up(cores, c)
            c = replace(c, picks=(*c.picks, *picks))
            for wrap in (*filled, *built):
                c = c.on(wrap)
        sleeve = self._sleeve(cores, cover, c.after)
        way = sleeve.span_mm
        if cover.slides:
            low, high = sealed_mm(job, cores)
            way = min(way[0], low), max(way[1], high)
        window = sleeve.requires(c.outside, c.outside.between(*way))
        assert window is not None
        limp = any(e.flat for e in job.ends) and cover.drawn != "barrier"
        choice = job.sleeve_choice(cover.id, cover.title, window, cover.form, cover.slot, limp=limp)
        if cover.form != "wrap-around" and all(job.landed):
            choice = _none_closed(choice)
        return replace(c, choices=(*c.choices, choice), pending=sleeve)

    def _put_on(self, cores: Cores, c: Covered, part_id: str) -> Covered:
        """The pending sleeve with its part named, and on to the next."""
        pending = c.pending
        assert pending is not None
        choice = c.choices[-1].with_part(part_id)
        c = replace(c, choices=(*c.choices[:-1], choice))
        if choice.picked is None:
            return replace(c, pending=None, stuck=True)
        cover: CoverSleeve = replace(
            pending,
            part=self.job.sleeves[part_id],
            lot=self.job.lots[part_id],
            cut_length_mm=choice.picked.cut_length_mm,
        )
        if cover.hot:
            over = cover.apply(c.outside).between(*cover.span_mm).greatest()
            cover = replace(
                cover, cool_min=self.job.cool_min(over, sum(x.area_mm2 for x in self.job.a.cores))
            )
        return self._go_on(cores, replace(c.on(cover), pending=None, at=c.at + 1))

    def _sleeve(self, cores: Cores, cover: Cover, after: tuple[str, ...]) -> CoverSleeve:
        """The layer of a cover, its part still to be named."""
        job = self.job
        return self.sleeve_layer(
            cover.id,
            cover.title,
            cover.lies(job, cores),
            job.rules,
            properties=cover.properties(job),
            voltage_v=job.joint.rated_voltage_v if cover.bears else None,
            ends=cover.ends(job),
            overlap_mm=cover.overlaps_mm(job, cores),
            least_wall_mm=min(self.replaced_wall_mm(e) for e in job.ends) if cover.closes else 0.0,
            after=after,
            seals=cover.seals,
            over=cover.over,
            closes=cover.closes,
            drawn=cover.drawn,
            flexes="moving" in job.joint.duties and not {"buried", "immersed"} & {*job.joint.duties},
        )

    def replaced_wall_mm(self, e: CableEnd) -> float:
        """The wall that the closing sleeve takes over, mm: the sheath's."""
        if e.flat:  # the cores lie beside each other
            return max(0.0, (e.sheath.least_mm - max(c.insulation.greatest_mm for c in e.cores)) / 2)
        inner = (
            e.armour.bedding.least_mm + 2 * e.armour.thickness_mm
            if e.armour
            else circle(tuple(c.insulation.greatest_mm for c in e.cores))
        )
        return max(0.0, (e.sheath.least_mm - inner) / 2)

    def _build_up(self, cores: Cores, c: Covered) -> tuple[list[PlainWrap], list[Pick]]:
        """Tape on the thinner sheath until the best sleeve that passes grips it."""
        job = self.job
        if job.build.thin_side != "tape":
            return [], []
        pick = job.tape_pick(
            "build-up", "tape on the thin side", "self-amalgamating", "up to what a sleeve grips"
        )
        tape = job.tape("self-amalgamating")
        thinner = thin(job.ends)
        half, over = cores.layout.gap_mm / 2, base.over_sheath_mm(job)
        spot = (-half - over[0] - 10, -half) if thinner.name == "A" else (half, half + over[1] + 10)
        need = job.margins.needed_expanded_mm(c.outside.between(*sealed_mm(job, cores)).greatest())
        passing = [
            x.tube.recovered_id_mm
            for form, x in job.candidates
            if form == "tube" and at_least(x.tube.expanded_id_mm, need) and job.properties <= x.properties
        ]
        if tape is None or not passing:
            return [], [pick]
        wanted = min(passing) / (1 - job.margins.grip_pct / 100)
        passes = ceil(max(0.0, wanted - thinner.sheath.least_mm) / grows_mm(tape) * (1 - 1e-9))
        if passes < 1:
            return [], [pick]
        wrap = PlainWrap(
            "build-up",
            f"tape on the thinner sheath, {thinner.name}",
            tape,
            tape.first_lot(job.today),
            spot,
            passes,
            thinner.sheath.greatest_mm,
            job.rules,
            after=c.after,
            text="Roughen and degrease the sheath first. Wind it even: the sleeve grips on it.",
        )
        return [wrap], [pick]

    def _parking(self, covered: Covered, last: Ranked | None = None) -> Parking:
        """Where everything that goes over a whole cable waits, with the pending sleeve cut as `last` says;
        what is seated first waits nearest."""
        job = self.job
        layers = covered.layers
        if last is not None and covered.pending is not None:
            part = job.sleeves[last.candidate.id]
            layers = (*layers, replace(covered.pending, part=part, cut_length_mm=last.cut_length_mm))
        items = []
        for order, x in enumerate((x for x in layers if x.threads()), 1):
            (t,) = x.threads()
            landed: Side = "b" if job.a.landed else "a" if job.b.landed else "either"
            was = (job.made.sides or {}).get(x.id)
            side: Side = "a" if was == "a" else "b" if was == "b" else x.waits_on(job.choice.outer_parks_on)
            items.append(ParkItem(x.id, t.length_mm, landed if side == "either" else side, order))
        return park(
            items,
            job.a.free_mm,
            job.b.free_mm,
            between_mm=job.rules.number("park.between_mm"),
            keep_away_mm=job.rules.number("park.keep_away_crimp_mm"),
        )

    def _connector_uohm(self, c: Connector) -> float:
        """The greater of both conductors' resistance over the made connector's length."""
        return max(
            resistance_uohm(core.area_mm2, 2 * c.half_mm, core.flexibility)
            for core in (e.core(c.core) for e in self.job.ends)
        )

    def _solution(self, steps: int, connectors: Set, cores: Cores, covered: Covered | None) -> CableSolution:
        job = self.job
        choices = (*cores.choices, *(covered.choices if covered else ()))
        picks = (connector_pick(job, connectors[0]), *cores.picks, *(covered.picks if covered else ()))
        inner = base.inner_profile(job, cores)
        found = CableSolution(
            ends=job.ends,
            connectors=tuple(connectors),
            steps=steps,
            layout=cores.layout,
            choices=choices,
            tracks=cores.tracks,
            inner=inner,
            kept=cores.kept,
            picks=picks,
            crutch_mm=cores.crutch_mm,
            warnings=(*(covered.warnings if covered else ()), *([w] if (w := self._mandrel()[1]) else [])),
        )
        if (
            covered is None
            or covered.stuck
            or covered.pending is not None
            or not covered.layers
            or not cores.complete
        ):
            return found
        parking = self._parking(covered)
        orders = {x.id: n for n, x in enumerate((x for x in covered.layers if x.threads()), 1)}
        covers = tuple(_parked(x, parking, orders) for x in covered.layers)
        closed = [span for x in covers if (span := x.closes_mm())]
        return replace(
            found,
            layers=self._stack(cores, covers),
            outside=covered.outside,
            seat=(min(a for a, _ in closed), max(b for _, b in closed)),
            parking=parking,
        )

    # --- how it is told -------------------------------------------------------------------------------------

    def connector_layer(self, s: CableSolution, core: str) -> str:
        """Crimp, bolt or solder joint of a core."""
        return next(x.id for x in s.layers if isinstance(x, Connector) and x.core == core)

    def draw(self, s: CableSolution) -> Section | None:
        """The section along the joint, and every cut across it."""
        return section(s) if s.inner else None

    def ways(self, s: CableSolution) -> Iterable[Way]:
        """Other staggers, connectors, closures, core insulation."""
        return ways(self, s)

    def orders(self, s: CableSolution) -> list[Remedy]:
        """What to order; between two glands also what does not serve, and why."""
        return [*super().orders(s), *unserved(self, s)]

    def staggers(self) -> list[StaggerWay]:
        """In line and every number of steps side by side."""
        return staggers_of(self)

    def arithmetic(self, plan: Plan) -> dict[str, Any]:
        """One joint or two, once the damage is out."""
        return {"insert": insert_of(self, plan)}

    def why(self, plan: Plan) -> str:
        """What closes it and how thick it is then; of a pour, its packs and its cure."""
        if plan.resin:
            packs = " + ".join(f"{p.count} × {p.part_id}" for p in plan.resin.packs)
            shell = next(p for p in plan.parts if p.layer == SHELL)
            return (
                f"{shell.name} with {packs} at {plan.resin.resin_c:g} °C; cured after"
                f" {plan.resin.full_min / 60:.1f} h."
            )
        outer = next((p for p in plan.parts if p.layer == OUTER), plan.parts[-1])
        cut = f", cut {outer.cut_length_mm:g}" if outer.cut_length_mm is not None else ""
        return f"{outer.name} then fits{cut}; greatest diameter {plan.greatest_diameter_mm or 0:.1f}."

    def extras(self, s: CableSolution) -> dict[str, Any]:
        """The pour, where it is cast."""
        return super().extras(s) | {"resin": _resin(shell) if (shell := _shell_of(s.layers)) else None}

    def cold(self, s: CableSolution) -> list[str]:
        """Packs, joint and sheath to warm."""
        shell = _shell_of(s.layers)
        if shell is None:
            return super().cold(s)
        words = []
        least, now = shell.pour.resin.least_temperature_c, pouring.expected(self.job)[0].temperature_c
        if shell.pour.resin_c > now + 1:
            words.append(
                f"Warm the packs to {shell.pour.resin_c:g} °C before mixing; it is {now:g} °C there."
            )
        if now < least + 5:
            words.append(f"Cold: shelter and warm the joint; under {least:g} °C the cure stands still.")
        return words

    def _mandrel(self) -> tuple[float | None, str]:
        """Mandrel of the flex proof in mm for a joint that moves; else None, with words where it is
        refused."""
        r, radius = self.job.rules, self.job.build.bend_radius_mm
        if "moving" not in self.job.joint.duties:
            return None, ""
        if radius is None:
            return None, _FLEX_MISSING
        od = max(e.sheath.greatest_mm for e in self.job.ends)
        steps = [10.0 * n for n in range(1, int(r.number("flex.largest_mm") / 10) + 1)]
        found = bend(od, r.number("flex.multiple"), steps)
        if found.mandrel_mm is None:
            return (
                None,
                (
                    f"No flex proof: a mandrel of {found.least_mandrel_mm:.0f} mm is needed, the largest is"
                    f" {steps[-1]:g}."
                ),
            )
        if not at_least(found.mandrel_mm / 2, radius):
            return (
                None,
                (
                    f"No flex proof: a mandrel of {found.mandrel_mm:g} mm bends to {found.mandrel_mm / 2:g}"
                    f" mm, the cable's least bend radius is {radius:g}."
                ),
            )
        return found.mandrel_mm, ""

    def _stack(self, cores: Cores, covers: tuple[Layer, ...]) -> tuple[Layer, ...]:
        job, layout = self.job, cores.layout
        names = [c.name for c in job.a.cores]
        half = layout.gap_mm / 2
        strip = {c.core: c.strip_mm for c in cores.connectors}
        ends = [
            self.end_layer(
                f"preparation-{e.name}",
                f"end {e.name} prepared",
                e,
                {
                    n: c.cut_a_mm if e.name == "A" else c.cut_b_mm
                    for n, c in zip(names, layout.cores, strict=True)
                },
                strip,
                job.rules,
                (-half - 45, half + 5) if e.name == "A" else (-half - 5, half + 45),
                (job.made.setback_mm or {}).get(e.name, 0.0),
                _threaded_mm(covers, e.name),
            )
            for e in job.ends
        ]
        markers = [
            MarkerSleeve(f"marker-{a.name}", f"marker on core {a.name}", a.name, a.colour or "", job.rules)
            for a, b in zip(job.a.cores, job.b.cores, strict=True)
            if (a.colour and b.colour and a.colour != b.colour) or b.partner
        ]
        insulated = [x for x in cores.layers if not isinstance(x, Connector)]
        proofs = tuple(x.last for x in insulated if not isinstance(x, PlainWrap))
        parked = [t for x in (*markers, *cores.layers, *covers) for t in x.threads()]
        procedure = self.procedure_layer(
            "procedure",
            "gates and proofs",
            job.rules,
            tuple(names),
            job.joint.rated_voltage_v,
            parked=tuple(f"park.{t.layer}" for t in parked),
            joined=cores.joined,
            core_proofs=proofs,
            outer_done=(covers[-1].last,),
            insulated="taped" if job.build.core_insulation == "tape" else "sleeved",
            state="cured and hard" if any(isinstance(x, ResinShell) for x in covers) else "cold",
            connector_uohm={c.core: self._connector_uohm(c) for c in cores.connectors},
            hazardous="hazardous" in job.joint.duties,
            mandrel_mm=self._mandrel()[0],
            sheath=all(e.armour for e in job.ends)
            and bool({"buried", "immersed"} & {*job.joint.duties})
            and not job.made.began_without("test.after.sheath"),
        )
        return (procedure, *ends, *markers, *cores.layers, *covers, *job.plain_steps())


PUT_ON: dict[Other, Callable[[StraightRecipe, Cores, Covered], Covered]] = {
    "crutch": StraightRecipe._fill_crutch,
    "bond": StraightRecipe._bond,
    "cast": StraightRecipe._cast,
}
_FLEX_MISSING = "Moving: the cable's least bend radius is not on the card, so no flex proof is planned."


def _saves(chosen: tuple[Option, ...], packs: float, instead: float) -> str:
    """Why it is chosen rather than what would be without the shell."""
    names = ", ".join(o.id for o in chosen)
    why = f"takes {packs:g} packs instead of {instead:g}" if instead < inf else "lets a shell close round it"
    return f"Weighed with the shell: {names} {why}."


def _none_closed(choice: Choice) -> Choice:
    return replace(choice, ranked=(), barred="both ends sit in glands: nothing closed can be threaded on")


def _parked(x: Layer, parking: Parking, orders: dict[str, int]) -> Layer:
    """A cover with the tail it waits on."""
    if x.id not in orders:
        return x
    side: Side = "a" if x.id in parking.a else "b"
    if isinstance(x, CoverSleeve):
        return replace(x, park_on=side, park_order=orders[x.id])
    return replace(x, park_on=side) if isinstance(x, ResinShell) else x


def _threaded_mm(covers: Iterable[Layer], end: str) -> float:
    """What of a tail is taken by parts that go over the whole cable, mm."""
    return sum(t.length_mm for x in covers for t in x.threads() if t.side == end.lower())


def _shell_of(layers: Iterable[Layer]) -> ResinShell | None:
    return next((x for x in layers if isinstance(x, ResinShell)), None)


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
        handle_min=min(p.handle_min, LONGEST_MIN),
        full_min=min(p.full_min, LONGEST_MIN),
        shell=list(shell.cut.inside),
        timeline=[PackTime(**vars(t)) for t in p.timeline],
    )
