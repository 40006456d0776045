"""The order of the work: every step with what it needs, and one order in which all of them can be worked."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise

from tinknot.core.errors import InputError
from tinknot.core.families.choice import Made
from tinknot.core.layers.contract import Layer, Step, Threaded
from tinknot.core.planning.waiting import Facts, threading, without_implied

STATIONS = {name: n for n, name in enumerate(("card", "measure", "cut", "park", "build", "prove", "sign"))}


def ordered(layers: Sequence[Layer], made: Made) -> list[Step]:
    """All steps in an order in which they can be worked: needs first, then by station, an end spread last,
    layer order kept, a batch never torn apart where it need not be. `made`: what is done already.

    Raises InputError for a sheet that names a step this joint does not have, or whose steps run in a
    circle."""
    steps = _as_begun(_waiting(layers, made), made)
    unknown = {n for s in steps.values() for n in s.after} - steps.keys()
    assert not unknown, f"steps wait for what nobody does: {unknown}"
    done: list[Step] = []
    placed: set[str] = set()
    left = sorted(steps.values(), key=lambda s: (STATIONS[s.station], s.spreads))
    while left:
        ready_now = [s for s in left if placed.issuperset(s.after)]
        if not ready_now:
            raise _circle(steps, placed, {b.step: b.path for x in layers for b in x.between()})
        batch = done[-1].batch if done else None
        same = (s for s in ready_now if batch and s.batch and s.batch.id == batch.id)
        ready = next(same, ready_now[0])
        done.append(ready)
        placed.add(ready.id)
        left.remove(ready)
    return without_implied(done)


def _circle(steps: Mapping[str, Step], placed: set[str], put: Mapping[str, str]) -> InputError:
    """What to say of steps that wait for each other: two of them by name, and the mend. `put`: where a sheet
    puts its own steps."""
    walk = [min((s.id for s in steps.values() if s.id not in placed), key=lambda i: (i not in put, i))]
    while walk[-1] not in walk[:-1]:
        waits = [n for n in steps[walk[-1]].after if n not in placed]
        walk.append(min(waits, key=lambda i: (i not in put, i)))
    ring = walk[walk.index(walk[-1]) : -1]
    own = next((n for n, i in enumerate(ring) if i in put), 0)
    one, other = ring[own], ring[(own + 1) % len(ring)]
    path = f"{put[one]}/after" if one in put else "/sheet/steps"
    return InputError.at(
        path,
        f"runs in a circle: “{steps[one].title}” comes after “{steps[other].title}” ({other}), and that waits"
        f" for “{steps[one].title}”. Put it after something earlier, or leave out what it must come before",
    )


def _behind(whole: Sequence[Threaded], threads: Mapping[str, str]) -> dict[str, str]:
    """By step, what threading a part over the whole cable waits for: what lies next further from the joint on
    the same tail. What goes on a core waits for its core's cut, and that for all of these."""
    found: dict[str, str] = {}
    for end in dict.fromkeys(t.end for t in whole):
        mine = sorted((t for t in whole if t.end == end), key=lambda t: -t.order)
        found |= {threads[t.layer]: threads[behind.layer] for behind, t in pairwise(mine)}
    return found


def _waiting(layers: Sequence[Layer], made: Made) -> dict[str, Step]:
    """Every step by id with those it waits for: by what must be so before it; parts are threaded from the
    outermost in and before the end is spread; and what a sheet puts before a step, for that. Raises
    InputError for a sheet that names a step this joint does not have. Parts that are there already wait for
    nothing, and nothing waits for them."""
    steps = {s.id: s for s in Facts(layers).steps()}
    if "parked" not in steps:  # nothing is threaded, and a leaflet's steps wait for no count of it
        steps |= {s.id: replace(s, after=tuple(n for n in s.after if n != "parked")) for s in steps.values()}
    there, threads = made.parts or {}, threading(steps.values())
    whole = [t for x in layers for t in x.threads() if t.track == "sheath" and t.layer not in there]
    for name, behind in _behind(whole, threads).items():
        steps[name] = replace(steps[name], after=(*steps[name].after, behind))
    for s in [s for s in steps.values() if s.spreads and s.id not in made.done]:
        mine = (threads[t.layer] for t in whole if steps[threads[t.layer]].end == s.end)
        steps[s.id] = replace(s, after=(*s.after, *mine))
    for b in (b for x in layers for b in x.between()):
        for key, name in (("after", b.after), ("before", b.before)):
            if name and name not in steps:
                raise InputError.at(f"{b.path}/{key}", f"names {name}, which is no step of this joint")
        last = b.before or "sealed-and-proved"
        steps[last] = replace(steps[last], after=(*steps[last].after, b.step))
    return steps


def _as_begun(steps: Mapping[str, Step], made: Made) -> dict[str, Step]:
    """The steps of work that was begun by earlier rules of order: what is done needed what it needed then,
    and what only later rules ask for before it is left out. Nobody is sent back."""
    if not made.asked:
        return dict(steps)
    done, past = set(made.done), set[str]()
    to_look_at = [n for name in done & steps.keys() for n in steps[name].after]
    while to_look_at:
        name = to_look_at.pop()
        if name not in past:
            past.add(name)
            to_look_at += steps[name].after
    past -= made.asked.keys()
    left = {s.id: s for s in steps.values() if s.id not in past}
    return {
        s.id: replace(s, after=tuple(n for n in (made.asked[s.id] if s.id in done else s.after) if n in left))
        for s in left.values()
    }
