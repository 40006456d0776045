"""A plan played: its steps in the order shown, or each as early or as late as its needs allow, in the world
that the joint file describes."""

from collections.abc import Iterator, Sequence

from tinknot.core.layers.contract import Step
from tinknot.core.world.found import Found
from tinknot.core.world.laws import LAWS, Broken
from tinknot.core.world.world import World


def play(steps: Sequence[Step], found: Found) -> list[Broken]:
    """Every law that the steps break in this order, once for each step and place."""
    told: dict[tuple[int, str, str], Broken] = {}
    for b in (b for _, broken, _ in moments(steps, found) for b in broken):
        told.setdefault((b.law, b.step, b.place), b)
    return list(told.values())


def moments(steps: Sequence[Step], found: Found) -> Iterator[tuple[Step, list[Broken], World]]:
    """Step by step: the step, the laws it breaks, and the world after it."""
    world = World(found)
    began: dict[str, float] = {}
    for step in steps:
        yield step, list(dict.fromkeys(_step(step, world, began))), world


def _step(step: Step, world: World, began: dict[str, float]) -> Iterator[Broken]:
    ready = [began[t.after] + (t.least_min or 0.0) for t in step.timers if t.after in began]
    world.now = max([world.now, *ready])
    for act in step.acts:
        for number, law in LAWS.items():
            for place, words, mend in law(world, act):
                yield Broken(number, step.id, place, words[0].upper() + words[1:] + ".", mend)
        world.do(act)
    began[step.id] = world.now


def orders(steps: Sequence[Step]) -> Iterator[list[Step]]:
    """The order shown, then for every step the orders in which it comes as early, and as late, as what steps
    wait for allows; the rest as shown."""
    yield list(steps)
    needs = {s.id: set(s.needs) for s in steps}
    before = {s.id: _closure(s.id, needs) for s in steps}
    for step in steps:
        first = [s for s in steps if s.id in before[step.id]]
        rest = [s for s in steps if s.id not in before[step.id] and s.id != step.id]
        yield [*first, step, *rest]
        after = [s for s in steps if step.id in before[s.id]]
        yield [*(s for s in steps if s.id != step.id and s not in after), step, *after]


def _closure(name: str, needs: dict[str, set[str]]) -> set[str]:
    found: set[str] = set()
    look = [name]
    while look:
        for n in needs[look.pop()] - found:
            found.add(n)
            look.append(n)
    return found
