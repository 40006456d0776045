"""What cannot be done a second time, and after what a step cannot be reached any more: cut off, joined for
good, shrunk, closed or poured over."""

from collections.abc import Iterator, Sequence

from tinknot.core.acts import Act, Attest, Close, Join, Place, PourIn, Read, Remove, Shrink
from tinknot.core.layers.contract import Step
from tinknot.core.planning.waiting import all_before

SAID = ("gate", "measure", "sign")  # kinds of steps in which the hand does nothing


def _lasts(act: Act) -> bool:
    """Whether no hand takes it back: a clamp can be opened, a crimp cannot."""
    return isinstance(act, (Remove, Shrink, Close, PourIn)) or (
        isinstance(act, Join) and act.how != "clamped"
    )


def once(step: Step) -> bool:
    """Whether a step cannot be done a second time: what it did lasts."""
    return any(_lasts(a) for a in step.acts)


def since_made(layer: str, steps: Sequence[Step]) -> list[str]:
    """The steps of a layer from the first of them on in which something lasting is done: before it, nothing
    of that is to be seen. Empty where it does nothing that lasts."""
    mine = [s for s in steps if s.layer == layer]
    first = next((n for n, s in enumerate(mine) if once(s)), len(mine))
    return [s.id for s in mine[first:]]


def _touched(step: Step) -> Iterator[Place]:
    """Where the hand of a step must get to."""
    for act in step.acts:
        yield act.at
        if isinstance(act, Join):
            yield from act.ends
        elif isinstance(act, Read):
            yield from act.leads


def _same(one: str, other: str) -> bool:
    """Whether two ends or cores meet; one that is not named is every one."""
    return not one or not other or one == other


def _shuts(act: Act, step: Step) -> bool:
    """Whether something lasting keeps the hand from a step: it is closed over its place, was made of its
    core, or took off what it works on."""
    if step.kind == "park":  # as long as the end is open: `core/work/mending` asks whether it is
        return False
    at = act.at
    if isinstance(act, Remove):
        return any(
            _same(p.end, at.end) and p.skin == act.what and _same(p.core, at.core) for p in _touched(step)
        )
    if isinstance(act, Join):
        return any(p.core and p.core == at.core for p in _touched(step))
    if at.core:  # closed over one core, it leaves the others and the cable open to the hand
        return any(p.core == at.core and _same(p.end, at.end) for p in _touched(step))
    return any(_same(p.end, at.end) for p in _touched(step))


def shut_by(steps: Sequence[Step]) -> dict[str, list[str]]:
    """For each step that a hand has something to do with, the first of those that shut it off once they are
    done, by id. The steps stand in an order in which they can be worked."""
    before, bit = all_before(steps), {s.id: 1 << n for n, s in enumerate(steps)}
    lasting = [(s.id, [a for a in s.acts if _lasts(a)]) for s in steps if once(s)]
    found: dict[str, list[str]] = {}
    for s in (s for s in steps if s.kind not in SAID):
        waits = all(isinstance(a, Attest) for a in s.acts)
        over = [
            t
            for t, acts in lasting
            if t != s.id
            and not before[s.id] & bit[t]
            and (before[t] & bit[s.id] if waits else any(_shuts(a, s) for a in acts))
        ]
        every = sum(bit[t] for t in over)
        found[s.id] = [t for t in over if not before[t] & every]
    return found
