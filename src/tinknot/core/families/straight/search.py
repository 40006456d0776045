"""The whole straight joint chosen together: the sleeves on its cores and every cover over them."""

from collections.abc import Iterable
from dataclasses import replace
from itertools import islice, product
from math import inf

from tinknot.core.choosing.fitting import ANYTHING, Option
from tinknot.core.choosing.whole import around, best, fewest, greedy, option, worth
from tinknot.core.families.lowvoltage.connectors import Set
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.families.stack import Stack
from tinknot.core.families.straight.assembly import parking_of, shell_of, solution_of
from tinknot.core.families.straight.cores import Cores
from tinknot.core.families.straight.covering import begun, go_on, put_on
from tinknot.core.families.straight.covers import Span
from tinknot.core.families.straight.work import Work
from tinknot.core.figures import mm

WEIGHED = 6  # ways to sleeve the cores that are weighed with the shell round them
Names = tuple[str, ...]  # of the parts picked: one for each group of cores, then one for each cover


class Search:
    """All sleeves of one stagger with one set of connectors. What was put on for the same names is kept, so
    that a branch costs one cover."""

    def __init__(self, work: Work, steps: int, connectors: Set) -> None:
        self.work, self.job, self.steps, self.connectors = work, work.job, steps, connectors
        self.groups = work.kind.groups(work.job, connectors)
        self.layers = len(self.groups) + len(work.covers)
        self._joined: dict[Names, Cores] = {}
        self._covered: dict[Names, Stack] = {}
        self.at_best = [choice.at_best for _, choice in self.groups] + at_best(work, self.cores(()))

    def cores(self, picks: Names) -> Cores:
        """The cores with the sleeves named."""
        if picks not in self._joined:
            named = [
                (cores, choice.with_part(picks[n] if n < len(picks) else None))
                for n, (cores, choice) in enumerate(self.groups)
            ]
            self._joined[picks] = self.work.kind.join(self.job, self.steps, self.connectors, named)
        return self._joined[picks]

    def covered(self, picks: Names) -> Stack:
        """What is on with the parts named."""
        if picks not in self._covered:
            cores = self.cores(picks[: len(self.groups)])
            if len(picks) == len(self.groups):
                self._covered[picks] = begun(self.work, cores)
            else:
                self._covered[picks] = put_on(self.work, cores, self.covered(picks[:-1]), picks[-1])
        return self._covered[picks]

    def following(self, chosen: tuple[Option, ...]) -> Iterable[Option]:
        """What may come next, best first."""
        others = around(chosen, self.at_best)
        if len(chosen) < len(self.groups):
            return self.job.options(self.groups[len(chosen)][1], others)
        found = self.covered(_names(chosen))
        if found.pending is None:
            return []
        options = self.job.options(found.choices[-1], others)
        if len(chosen) < self.layers - 1:
            return options
        # of the last layer only the best can win
        cores = self.cores(_names(chosen[: len(self.groups)]))
        return islice((o for o in options if self._parks(cores, found, o)), 1)

    def _parks(self, cores: Cores, found: Stack, o: Option) -> bool:
        part = found.choices[-1].fitting(o.id)
        return part is not None and parking_of(self.job, cores, found, part).fits

    def first(self, chosen: tuple[Option, ...]) -> Option | None:
        """What is ranked first on its own; of the last layer, what is best of those that can be parked."""
        if len(chosen) == self.layers - 1 and len(chosen) >= len(self.groups):
            return next(iter(self.following(chosen)), None)
        last = self.groups[len(chosen)][1] if len(chosen) < len(self.groups) else None
        if last is None:
            found = self.covered(_names(chosen))
            last = found.choices[-1] if found.pending is not None else None
        allowed = self.job.allowed(last) if last is not None else []
        return option(allowed[0], last.window.pieces) if last is not None and allowed else None

    def packs(self, chosen: tuple[Option, ...]) -> float:
        """How many packs are poured round what is chosen; infinite where it is not all chosen or cannot be
        poured."""
        shell = shell_of(self.covered(_names(chosen)).layers) if len(chosen) == self.layers else None
        return shell.pour.pack_count if shell else inf

    def solution(self) -> CableSolution:
        """All sleeves chosen together; where nothing fits, as far as choosing layer by layer goes."""
        by_layer = greedy(self.layers, self.first)
        together, fewer = self._with_fewest_packs(best(self.at_best, self.following))
        picks = _names(together if together is not None else by_layer)
        if together is None and len(self.groups) <= len(picks) == self.layers - 1:
            # one that fits but cannot be parked shows by how much
            found = self.covered(picks)
            allowed = self.job.allowed(found.choices[-1]) if found.pending else []
            picks = (*picks, *[r.candidate.id for r in allowed][:1])
        cores = self.cores(picks[: len(self.groups)])
        over = self.covered(picks) if len(picks) >= len(self.groups) else None
        solution = solution_of(self.work, self.steps, self.connectors, cores, covered=over)
        why = fewer or _where_greedy_fails(self.job, together, by_layer, self.layers)
        return replace(solution, greedy=why)

    def _with_fewest_packs(
        self, together: tuple[Option, ...] | None
    ) -> tuple[tuple[Option, ...] | None, str]:
        """Of a joint that is cast, the sleeves that take the fewest packs, and why they are taken."""
        if not self.job.casts or together is None:
            return together, ""
        others = product(*(islice(self.job.options(g[1]), WEIGHED) for g in self.groups))
        whole = (greedy(self.layers, self.first, o) for o in islice(others, WEIGHED))
        alone = self.packs(together)
        together = fewest(together, whole, self.packs)
        now = self.packs(together)
        return together, _saves(together, now, alone) if now < alone else ""


def _names(chosen: Iterable[Option]) -> Names:
    return tuple(o.id for o in chosen)


def at_best(work: Work, bare: Cores) -> list[Option]:
    """What each cover is at best: as if nothing lay on the cores and no cover under it. Only of those that
    seal on the cable itself: whatever is inside makes them pass more and grip the same."""
    found = [ANYTHING] * len(work.covers)
    inside: list[Span] = []
    at: Stack | None = None
    for n, cover in enumerate(work.covers):
        lies = cover.lies(work.job, bare)
        on_sleeve = any(low <= edge <= high for low, high in inside for edge in lies)
        if on_sleeve or not cover.slides or work.job.build.thin_side:
            break
        inside.append(lies)
        at = go_on(work, bare, replace(at, pending=None, at=at.at + 1)) if at else begun(work, bare)
        if at.pending is None:
            break
        found[n] = at.choices[-1].at_best
    return found


def _where_greedy_fails(
    job: Job, together: tuple[Option, ...] | None, by_layer: tuple[Option, ...], layers: int
) -> str:
    """What choosing layer by layer would have come to, where it is worse."""
    if together is None or by_layer == together:
        return ""
    names = ", ".join(job.sleeves[o.id].name or o.id for o in by_layer)
    if len(by_layer) < layers:
        return f"Layer by layer {names} would have been taken first, and then no outer sleeve fits over it."
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
