"""A plan played: its steps in the order shown, or each as early or as late as its needs allow, in the world
that the joint file describes."""

from collections.abc import Iterable, Iterator, Sequence
from math import inf

from tinknot.core.acts import Attest, Note
from tinknot.core.figures import capital, lengths_in
from tinknot.core.layers.contract import Step
from tinknot.core.world.found import Found
from tinknot.core.world.laws import Broken, breaks
from tinknot.core.world.world import World, copied

IN_TIME = "Leave less work in between, work cooler, or take what can be worked longer."


def play(steps: Sequence[Step], found: Found, shown: bool = True) -> list[Broken]:
    """Every law that the steps break in this order, once for each step and place; `shown`: it is the order in
    which the plan shows them."""
    return _once(b for _, broken, _ in moments(steps, found, shown) for b in broken)


def _once(broken: Iterable[Broken]) -> list[Broken]:
    """Each law once for a step and place, as it was told first."""
    told: dict[tuple[int, str, str], Broken] = {}
    for b in broken:
        told.setdefault((b.law, b.step, b.place), b)
    return list(told.values())


def judged(steps: Sequence[Step], found: Found) -> list[Broken]:
    """What the steps break in the order shown; and what they would break in the orders that their needs allow
    besides, of which only those are tried in which a step comes before another that touches the same thing or
    place, and only as far as the two are apart."""
    before, touched = _before(steps), [_touched(s) for s in steps]
    turns: dict[int, list[int]] = {}  # by where a step could come instead, which
    for j in range(len(steps)):
        free = (i for i in range(j) if touched[i] & touched[j] and steps[i].id not in before[j])
        if (early := next(free, None)) is not None:
            turns.setdefault(early, []).append(j)
    world, began = World(found), dict[object, float]()
    told: list[Broken] = []
    other: list[Broken] = []
    for i, shown in enumerate(steps):
        for j in turns.get(i, ()):
            own = [s for s in steps[i:j] if s.id in before[j]]
            rest = [s for s in steps[i:j] if s.id not in before[j]]
            there, then = copied(world), dict(began)
            other += (b for s in (*own, steps[j], *rest) for b in _step(s, there, then, shown=False))
        told += _step(shown, world, began)
    return _once([*told, *other])


def _touched(step: Step) -> frozenset[tuple[str, str]]:
    """What a step has in hand: things by name, and surfaces."""
    found = set()
    for act in step.acts:
        if isinstance(act, (Attest, Note)):
            continue
        if act.thing.id:
            found.add(("thing", act.thing.id))
        if act.at.skin or act.at.core:
            found.add((f"{act.at.end}/{act.at.skin}", act.at.core))
    return frozenset(found)


def moments(
    steps: Sequence[Step], found: Found, shown: bool = True
) -> Iterator[tuple[Step, list[Broken], World]]:
    """Step by step: the step, the laws it breaks, and the world after it."""
    world = World(found)
    began: dict[object, float] = {}
    for step in steps:
        yield step, list(dict.fromkeys(_step(step, world, began, shown))), world


def _step(step: Step, world: World, began: dict[object, float], shown: bool = True) -> Iterator[Broken]:
    """What a step breaks. Windows are set against the work in the order shown; in another one the clock that
    runs beside the work tells of them."""
    ready = [began[t.after] + (t.least_min or 0.0) for t in step.timers if t.after in began]
    world.now = max([world.now, *ready])
    world.figures = figures_of(step)
    world.gun_c = step.heat.gun_c if step.heat else None
    for t in step.timers if shown else ():
        late = world.now - (began.get(t.after, world.now) + (t.most_min if t.most_min is not None else inf))
        if late > 1e-6:
            words = f"“{t.label}” has run out {late:.0f} min before this is begun."
            yield Broken(9, step.id, step.title, words, mend=IN_TIME)
    for act in step.acts:
        for number, (place, words, mend) in breaks(world, act):
            yield Broken(number, step.id, place, capital(words) + ".", mend=mend)
        world.do(act)
    began[step.id] = world.now


def figures_of(step: Step) -> frozenset[float]:
    """The lengths that the hand finds in a step, mm: in its words, and to work to in its readings."""
    said = (step.title, step.text, step.caution, step.look, step.batch.text if step.batch else "")
    return frozenset(
        lengths_in(said) + [g.target for g in step.gates if g.unit == "mm" and g.target is not None]
    )


def orders(steps: Sequence[Step]) -> Iterator[list[Step]]:
    """The order shown, then for every step the orders in which it comes as early, and as late, as what steps
    wait for allows; the rest as shown."""
    yield list(steps)
    before = {s.id: b for s, b in zip(steps, _before(steps), strict=True)}
    for step in steps:
        first = [s for s in steps if s.id in before[step.id]]
        rest = [s for s in steps if s.id not in before[step.id] and s.id != step.id]
        yield [*first, step, *rest]
        after = [s for s in steps if step.id in before[s.id]]
        yield [*(s for s in steps if s.id != step.id and s not in after), step, *after]


def _before(steps: Sequence[Step]) -> list[set[str]]:
    """For each step all that it waits for, directly or not; they stand in an order in which they can be
    worked."""
    known: dict[str, set[str]] = {}
    for s in steps:
        known[s.id] = set(s.after).union(*(known[n] for n in s.after if n in known))
    return [known[s.id] for s in steps]
