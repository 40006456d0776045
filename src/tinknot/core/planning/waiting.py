"""Facts worked out: by what steps need, and what others make so, which steps wait for which.

A step waits for all that make its fact in its own layer and in those inside of it; gates and proofs stand
around all layers, and see and are seen by all. What is so as found needs nobody; what nobody makes is a
fault of the layers, named with its step and place."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from tinknot.core.acts import Place, Span, ThreadOn
from tinknot.core.facts import AS_FOUND, GAS_FREE, Fact, What, made, overlap, unmade
from tinknot.core.layers.contract import Layer, Step


class NobodyMakes(RuntimeError):
    """A step needs what no step of this joint makes so."""


@dataclass(frozen=True)
class _Worked:
    """A step where it stands: `depth`, how many layers lie inside of its own, None around all of them."""

    step: Step
    depth: int | None
    makes: tuple[Fact, ...]


class Facts:
    """What the steps of some layers make so."""

    def __init__(self, layers: Sequence[Layer]) -> None:
        self.worked = [
            _Worked(s, None if x.around else depth, tuple(made_by(s)))
            for depth, x in zip(_depths(layers), layers, strict=True)
            for s in x.steps()
        ]
        self._beside = {s.id for x in layers if x.beside for s in x.steps()}
        self._makers: dict[What, list[tuple[Fact, _Worked]]] = defaultdict(list)
        for w in self.worked:
            for fact in w.makes:
                self._makers[fact.what].append((fact, w))

    def makers(self, need: Fact, depth: int | None) -> list[Step]:
        """The steps that make it so, as seen from a layer, in the order of the layers."""
        if need.what == "ready":
            return [w.step for w in self._inside(depth) if _lies(w.step, need.at)]
        if need.what == "done":
            return [w.step for w in self._inside(None) if need.thing in ("", w.step.layer)]
        return _once(
            w.step
            for fact, w in self._makers[need.what]
            if (depth is None or w.depth is None or w.depth <= depth) and fact.meets(need)
        )

    def _inside(self, depth: int | None) -> Iterator[_Worked]:
        """What is worked inside of a layer, or inside of gates and proofs; nothing that a sheet adds."""
        for w in self.worked:
            if w.depth is not None and (depth is None or w.depth < depth) and w.step.id not in self._beside:
                yield w

    def steps(self) -> Iterator[Step]:
        """Every step with the ids of those it waits for, and its clocks with the ids of theirs."""
        for w in self.worked:
            s, needs = w.step, (*w.step.needs, *((GAS_FREE,) if w.step.heat else ()))
            after = dict.fromkeys(s.after)
            for need in needs:
                found = [m.id for m in self.makers(need, w.depth) if m.id != s.id]
                if not found and need.what not in AS_FOUND and need.what != "ready":
                    raise NobodyMakes(f"“{s.title}” ({s.id}) needs {need.said}, which no step makes so")
                after |= dict.fromkeys(found)
            cure = s.cure and replace(s.cure, since=self._since(s.cure.since, w))
            timers = tuple(replace(t, after=self._since(t.after, w)) for t in s.timers)
            yield replace(s, after=tuple(after), timers=timers, cure=cure)

    def _since(self, fact: Fact | str, w: _Worked) -> str:
        """The last step that makes so what a clock runs from."""
        if isinstance(fact, str):
            return fact
        found = [m.id for m in self.makers(fact, w.depth) if m.id != w.step.id]
        if not found:
            raise NobodyMakes(f"a clock of “{w.step.title}” runs from {fact.said}, which no step makes so")
        return found[-1]


def _depths(layers: Sequence[Layer]) -> list[int]:
    """How deep each layer lies; what is worked as one, equally deep."""
    return [next(d for d in range(n, len(layers)) if not layers[d].with_next) for n in range(len(layers))]


def made_by(step: Step) -> list[Fact]:
    """What is so when a step is done, and not made untrue again in it."""
    found: list[Fact] = []
    for act in step.acts:
        gone = list(unmade(act))
        found = [f for f in found if not any(f.meets(u) for u in gone)]
        found += made(act, step.reading.taken)
    if step.reading.taken:
        found.append(Fact("read", when=step.reading.taken))
    return [*found, *step.makes]


def _lies(step: Step, at: Place) -> bool:
    """Whether a step works where a place is: on its core and end or on all of them, along
    its stretch."""
    if (at.core and step.core not in ("", at.core)) or (at.end and step.end not in ("", at.end)):
        return False
    spans: list[Span] = [a.at.span_mm for a in step.acts if a.at.span_mm is not None]
    return at.span_mm is None or not spans or any(overlap(s, at.span_mm) for s in spans)


def _once(steps: Iterable[Step]) -> list[Step]:
    return list({s.id: s for s in steps}.values())


def seen_at(facts: Sequence[Fact], layer: str, steps: Sequence[Step]) -> list[str]:
    """The steps of a layer that make facts so, in the order of the facts."""
    mine = [s for s in steps if s.layer == layer] if facts else []
    return [s.id for s in _once(s for f in facts for s in mine if any(m.meets(f) for m in made_by(s)))]


def threading(steps: Iterable[Step]) -> dict[str, str]:
    """By layer, the step that threads its part on."""
    return {a.thing.id: s.id for s in steps if s.kind == "park" for a in s.acts if isinstance(a, ThreadOn)}


def without_implied(steps: Sequence[Step]) -> list[Step]:
    """The same with none of what follows from the rest of what a step waits for; they stand in an order in
    which they can be worked."""
    known: dict[str, int] = {}  # all that a step waits for, a bit each
    bit = {s.id: 1 << n for n, s in enumerate(steps)}
    found = []
    for s in steps:
        before = 0
        for n in s.after:
            before |= known[n]
        own = tuple(n for n in s.after if not bit[n] & before)
        known[s.id] = before | sum(bit[n] for n in own)
        found.append(s if own == s.after else replace(s, after=own))
    return found
