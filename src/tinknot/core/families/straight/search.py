"""The whole straight joint chosen together: the sleeves on its cores and every cover over them."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from functools import cached_property
from itertools import islice, product
from math import inf

from tinknot.core.choosing.fitting import ANYTHING, Option
from tinknot.core.choosing.whole import around, best, fewest, greedy, option, worth
from tinknot.core.families.choice import Choice
from tinknot.core.families.lowvoltage.connectors import (
    NoConnector,
    Set,
    connectors_for,
    none_pick,
)
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.families.straight import base
from tinknot.core.families.straight.cores import Cores, Groups, join, sleeve_groups
from tinknot.core.families.straight.covered import Covered, shell_of
from tinknot.core.families.straight.covering import Covering
from tinknot.core.families.straight.covers import Span
from tinknot.core.figures import mm

WEIGHED = 6  # ways to sleeve the cores that are weighed with the shell round them


class Search(Covering):
    """One joint file worked through with one rule book, on one day."""

    def __init__(self, job: Job) -> None:
        super().__init__(job)
        self._solved: dict[tuple[int, tuple[str, ...]], CableSolution] = {}

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
                    seen[picks] = self._over(cores)
                else:
                    seen[picks] = self._put_on(cores, covered(picks[:-1]), picks[-1])
            return seen[picks]

        def following(chosen: tuple[Option, ...]) -> Iterable[Option]:
            others = around(chosen, at_best)
            if len(chosen) < len(groups):
                return self.job.options(groups[len(chosen)][1], others)
            found = covered(tuple(o.id for o in chosen))
            if found.pending is None:
                return []
            choice = found.choices[-1]
            options = self.job.options(choice, others)
            if len(chosen) < layers - 1:
                return options
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
            shell = shell_of(covered(tuple(o.id for o in chosen)).layers) if len(chosen) == layers else None
            return shell.pour.pack_count if shell else inf

        layers = len(groups) + len(self.covers)
        at_best = [choice.at_best for _, choice in groups] + self._at_best(cores_of(()))
        together, by_layer = best(at_best, following), greedy(layers, first)
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

    def _over(self, cores: Cores) -> Covered:
        """Up to the first cover."""
        return self._go_on(cores, Covered(base.inner_profile(self.job, cores)))

    def _at_best(self, bare: Cores) -> list[Option]:
        """What each cover is at best: as if nothing lay on the cores and no cover under it. Only of those
        that seal on the cable itself: whatever is inside makes them pass more and grip the same."""
        found = [ANYTHING] * len(self.covers)
        inside: list[Span] = []
        at: Covered | None = None
        for n, cover in enumerate(self.covers):
            lies = cover.lies(self.job, bare)
            on_sleeve = any(low <= edge <= high for low, high in inside for edge in lies)
            if on_sleeve or not cover.slides or self.job.build.thin_side:
                break
            inside.append(lies)
            at = self._go_on(bare, replace(at, pending=None, at=at.at + 1)) if at else self._over(bare)
            if at.pending is None:
                break
            found[n] = at.choices[-1].at_best
        return found

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
                f"Layer by layer it would have been {names}: {mm(theirs[3]):.0f} mm wasted instead of"
                f" {ours[3]:.0f}."
            )
        return ""


def _saves(chosen: tuple[Option, ...], packs: float, instead: float) -> str:
    """Why it is chosen rather than what would be without the shell."""
    names = ", ".join(o.id for o in chosen)
    why = f"takes {packs:g} packs instead of {instead:g}" if instead < inf else "lets a shell close round it"
    return f"Weighed with the shell: {names} {why}."
