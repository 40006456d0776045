"""Facts worked out: by what steps need, and what others make so and untrue, which steps wait for which.

A step waits for all that make its fact in its own layer and in those inside of it; what makes it untrue comes
before that where it lies further in, else after the step. Gates and proofs stand around all layers, and see
and are seen by all. What is so as found needs nobody; what nobody makes is a fault of the layers, named with
its step and place."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from tinknot.core.acts import Place, Span, ThreadOn
from tinknot.core.facts import AS_FOUND, GAS_FREE, Fact, What, made_by, makers, overlap
from tinknot.core.layers.contract import Layer, Step


class NobodyMakes(RuntimeError):
    """A step needs what no step of this joint makes so."""


@dataclass(frozen=True, eq=False)
class Worked:
    """A step where it stands: `depth`, how many layers lie inside of its own, None around all of them."""

    step: Step
    depth: int | None

    @property
    def needs(self) -> tuple[Fact, ...]:
        """What must be so before it; before heat, that no gas is there."""
        return (*self.step.needs, GAS_FREE) if self.step.heat else self.step.needs

    def sees(self, other: "Worked") -> bool:
        """Whether it knows of another: one of its own layer, of one inside of it, or around all."""
        return self.depth is None or other.depth is None or other.depth <= self.depth

    def within(self, other: "Worked") -> bool:
        """Whether it lies further in than another."""
        return self.depth is not None and other.depth is not None and self.depth < other.depth


Known = dict[What, list[tuple[Fact, Worked]]]


class Facts:
    """What the steps of some layers make so."""

    def __init__(self, layers: Sequence[Layer]) -> None:
        self.worked = [
            Worked(s, None if x.around else depth)
            for depth, x in zip(_depths(layers), layers, strict=True)
            for s in x.steps()
        ]
        self._beside = {s.id for x in layers if x.beside for s in x.steps()}
        self._made: Known = defaultdict(list)
        self._unmade: Known = defaultdict(list)
        for w in self.worked:
            made, unmade = made_by(w.step.acts, w.step.reading.taken)
            for fact in (*made, *w.step.makes):
                self._made[fact.what].append((fact, w))
            for fact in unmade:
                self._unmade[fact.what].append((fact, w))

    def makers(self, need: Fact, of: Worked) -> list[Worked]:
        """The other steps that make so what a step needs, in the order of the layers."""
        if need.what == "ready":
            return [w for w in self._inside(of) if w.within(of) and _lies(w.step, need.at)]
        if need.what == "done":
            return [w for w in self._inside(of) if need.thing in ("", w.step.layer)]
        found = dict.fromkeys(makers(need, self._made[need.what]))
        return [w for w in found if w is not of and of.sees(w)]

    def _inside(self, of: Worked) -> Iterator[Worked]:
        """What is worked on the cable, but for what a sheet adds."""
        return (w for w in self.worked if w.depth is not None and w.step.id not in self._beside)

    def steps(self) -> Iterator[Step]:
        """Every step with the ids of those it waits for, and its clocks with the ids of theirs."""
        waits = self._waits()
        for w in self.worked:
            cure = w.step.cure and replace(w.step.cure, since=self._since(w.step.cure.since, w))
            timers = tuple(replace(t, after=self._since(t.after, w)) for t in w.step.timers)
            yield replace(w.step, after=tuple(waits[w.step.id]), timers=timers, cure=cure)

    def _waits(self) -> dict[str, dict[str, None]]:
        """By step, those it waits for."""
        waits = {w.step.id: dict.fromkeys(w.step.after) for w in self.worked}
        for w in self.worked:
            for need in w.needs:
                found = self.makers(need, w)
                if not found and need.what not in AS_FOUND and need.what != "ready":
                    told = f"“{w.step.title}” ({w.step.id})"
                    raise NobodyMakes(f"{told} needs {need.said}, which no step makes so")
                waits[w.step.id] |= {m.step.id: None for m in found}
                against = self._unmade.get(need.what)
                for x in makers(need, against) if against else ():
                    if x is not w and x not in found:
                        first, then = ([x], found) if x.within(w) else ([w], [x])
                        for m in then:
                            waits[m.step.id] |= {y.step.id: None for y in first}
        return waits

    def _since(self, fact: Fact | str, of: Worked) -> str:
        """The last step that makes so what a clock runs from."""
        if isinstance(fact, str):
            return fact
        found = self.makers(fact, of)
        if not found:
            raise NobodyMakes(f"a clock of “{of.step.title}” runs from {fact.said}, which no step makes so")
        return found[-1].step.id


def _depths(layers: Sequence[Layer]) -> list[int]:
    """How deep each layer lies; what is worked as one, equally deep."""
    return [next(d for d in range(n, len(layers)) if not layers[d].with_next) for n in range(len(layers))]


def _made_by(step: Step) -> list[Fact]:
    """What is so when a step is done."""
    return [*made_by(step.acts, step.reading.taken)[0], *step.makes]


def _lies(step: Step, at: Place) -> bool:
    """Whether a step works where a place is: on its core and end or on all of them, along its stretch."""
    if (at.core and step.core not in ("", at.core)) or (at.end and step.end not in ("", at.end)):
        return False
    spans: list[Span] = [a.at.span_mm for a in step.acts if a.at.span_mm is not None]
    return at.span_mm is None or not spans or any(overlap(s, at.span_mm) for s in spans)


def seen_at(facts: Sequence[Fact], layer: str, steps: Iterable[Step]) -> list[str]:
    """The steps of a layer that make facts so, in the order of the facts."""
    made = [(fact, s.id) for s in steps if facts and s.layer == layer for fact in _made_by(s)]
    return list(dict.fromkeys(s for need in facts for s in makers(need, made)))


def threading(steps: Iterable[Step]) -> dict[str, str]:
    """By layer, the step that threads its part on."""
    return {a.thing.id: s.id for s in steps if s.kind == "park" for a in s.acts if isinstance(a, ThreadOn)}


def all_before(steps: Sequence[Step]) -> dict[str, int]:
    """All that each step waits for, directly or not, as bits: one a step, in the order in which they stand.
    In that order they can be worked."""
    bit = {s.id: 1 << n for n, s in enumerate(steps)}
    known: dict[str, int] = {}
    for s in steps:
        known[s.id] = 0
        for n in s.after:
            known[s.id] |= known[n] | bit[n]
    return known


def without_implied(steps: Sequence[Step]) -> list[Step]:
    """The same with none of what follows from the rest of what a step waits for, but for the gas test, which
    every heat says; they stand in an order in which they can be worked."""
    known, bit = all_before(steps), {s.id: 1 << n for n, s in enumerate(steps)}
    gas = {s.id for s in steps if s.kind == "gate" and GAS_FREE in _made_by(s)}
    found = []
    for s in steps:
        before = 0
        for n in s.after:
            before |= known[n]
        own = tuple(n for n in s.after if not bit[n] & before or (s.heat and n in gas))
        found.append(s if own == s.after else replace(s, after=own))
    return found
