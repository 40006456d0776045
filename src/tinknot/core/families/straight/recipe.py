"""A straight joint of round low-voltage cables, 1 to 5 cores: sleeved, taped or cast, armoured or not."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from functools import cached_property
from typing import Any

from tinknot.core.drawing.model import Section
from tinknot.core.families.contract import LONGEST_MIN, Way
from tinknot.core.families.lowvoltage.connectors import NoConnector, Set, connectors_for, none_pick
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.recipe import CableRecipe, CableSolution
from tinknot.core.families.straight import pouring
from tinknot.core.families.straight.assembly import shell_of
from tinknot.core.families.straight.cores import join, sleeve_groups
from tinknot.core.families.straight.covering import sheath_wall_mm
from tinknot.core.families.straight.covers import OUTER, SHELL, inside_out
from tinknot.core.families.straight.search import Search
from tinknot.core.families.straight.section import section
from tinknot.core.families.straight.ways import insert_of, staggers_of, unserved, ways
from tinknot.core.families.straight.work import Kind, Work
from tinknot.core.figures import mm
from tinknot.core.layers.connectors import Connector
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.preparation import Preparation
from tinknot.core.layers.shell import ResinShell
from tinknot.core.plan.parts import PackTime, PackUse, ResinOut
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.ways import Remedy, StaggerWay

CABLE = Kind(
    inside_out, Preparation, CoverSleeve, groups=sleeve_groups, join=join, wall_mm=sheath_wall_mm
)  # of one to five cores under a sheath


class StraightRecipe(CableRecipe):
    """One joint file worked through with one rule book, on one day, and how it is told."""

    _ways_of: CableSolution | None = None
    _ways: Sequence[Way] = ()

    def __init__(self, job: Job, kind: Kind = CABLE) -> None:
        super().__init__(job)
        self.work = Work(job, kind)
        self._solved: dict[tuple[int, tuple[str, ...]], CableSolution] = {}

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
        """The stack for one stagger and one set of connectors; asked again, it answers at once."""
        key = (steps, tuple(c.id for c in connectors))
        if key not in self._solved:
            self._solved[key] = Search(self.work, steps, connectors).solution()
        return self._solved[key]

    @property
    def waits_from(self) -> str:
        """Where the end laid open begins."""
        return self.work.kind.sleeve.edge

    @property
    def skin(self) -> str:
        """What its outside is called."""
        return self.work.kind.skin

    def connector_layer(self, s: CableSolution, core: str) -> str:
        """Crimp, bolt or solder joint of a core."""
        return next(x.id for x in s.layers if isinstance(x, Connector) and x.core == core)

    def draw(self, s: CableSolution) -> Section | None:
        """The section along the joint, and every cut across it."""
        return section(replace(s, skin=self.skin)) if s.inner else None

    def ways(self, s: CableSolution) -> Iterable[Way]:
        """Other staggers, connectors, closures, core insulation; the same again for the same solution."""
        if self._ways_of is not s:
            only = self.work.kind.ways
            self._ways_of = s
            self._ways = [w for w in ways(self, s) if not only or w.of in only]
        return self._ways

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
        cut = f", cut {mm(outer.cut_length_mm):g} mm" if outer.cut_length_mm is not None else ""
        return f"{outer.name} then fits{cut}; greatest diameter {mm(plan.greatest_diameter_mm or 0):.1f} mm."

    def extras(self, s: CableSolution) -> dict[str, Any]:
        """The pour, where it is cast."""
        return super().extras(s) | {"resin": _resin(shell) if (shell := shell_of(s.layers)) else None}

    def cold(self, s: CableSolution) -> list[str]:
        """Packs, joint and sheath to warm."""
        shell = shell_of(s.layers)
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
