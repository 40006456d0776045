"""The laws of the work, one function each: what an act would break in the world as it is. The numbers are
those of the requirements' list of laws; 0 stands for the gates: isolated, free of gas, measured, counted."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from tinknot.core import acts
from tinknot.core.acts import Act, Place
from tinknot.core.world.world import World


@dataclass(frozen=True)
class Broken:
    """A law that a step breaks: which, where, what is wrong and what mends it, in sentences."""

    law: int
    step: str
    place: str
    words: str
    mend: str


Found = tuple[str, str, str]  # place, what is wrong, what mends it
Law = Callable[[World, Act], Iterator[Found]]
TOUCHES = (acts.Wipe, acts.Roughen, acts.LayOn, acts.Join, acts.Shrink, acts.Close, acts.SlideTo)


def gates(w: World, act: Act) -> Iterator[Found]:
    """0: nothing before it is isolated, no cut before it is measured, no join before it is counted."""
    if isinstance(act, acts.Attest):
        if act.what != "isolated" and "isolated" not in w.said:
            yield "the joint", "nobody has isolated it yet", "Isolate and prove dead first."
        return
    if "isolated" not in w.said:
        yield act.at.said, "it may be live: nobody has isolated it yet", "Isolate and prove dead first."
    if isinstance(act, (acts.Remove, acts.FoldBack)) and "measured" not in w.said:
        yield act.at.said, "nobody has held the readings against the cable yet", "Check the readings first."
    if isinstance(act, acts.Join) and w.waiting and "counted" not in w.said:
        yield act.at.said, "nobody has counted what waits on the cable", "Touch and count every part first."


def passes(w: World, act: Act) -> Iterator[Found]:
    """1: nothing passes what is thicker, as both are then."""
    if isinstance(act, acts.SlideTo) and act.thing.bore_mm is not None:
        most, x = w.thickest(act)
        if act.thing.bore_mm < most - 1e-6:
            yield (
                act.at.said,
                f"the {act.thing.name} is {act.thing.bore_mm:.1f} mm open, and {most:.1f} mm lie in its way",
                f"Take one that passes {most:.1f} mm, or put it on before what lies at {x:.0f} mm.",
            )


def reaches(w: World, act: Act) -> Iterator[Found]:
    """2: what is covered cannot be reached."""
    touched: list[Place] = []
    if isinstance(act, acts.Join):
        touched = list(act.ends)
    elif isinstance(act, acts.Read):
        touched = list(act.leads)
    elif (
        isinstance(act, (acts.Wipe, acts.Roughen, acts.Tug))
        or (isinstance(act, acts.LayOn) and (act.at.core or act.at.skin == "core"))
        or (isinstance(act, acts.Look) and not act.thing.id)
    ):
        touched = [act.at]
    for place in touched:
        at = _protective(w, place)
        if at is None:
            continue
        if over := w.over(at):
            name = over[-1].thing.name
            yield place.said, f"the {name} lies over it already", f"Do it before the {name} is put on."


def meets_clean(w: World, act: Act) -> Iterator[Found]:
    """3: adhesive meets clean and dry, and nothing wipes off what was laid."""
    if isinstance(act, acts.Wipe):
        for key in w.keys(act.at):
            on = [x for x in w.laid if x.thing.id == w.surface(key).laid and x.at(w.point(act.at))]
            if on and not on[-1].thing.tube:
                name = on[-1].thing.name
                yield act.at.said, f"the wipe takes the {name} off again", "Wipe first, then lay it on."
    for place in getattr(act, "seals_on", ()):
        for key in w.keys(place):
            here = w.surface(key)
            name = act.thing.name
            if not here.clean and not here.laid:
                yield (
                    place.said,
                    f"the {name} goes on a surface that nobody cleaned since it was last cut or roughened",
                    "Wipe it clean before.",
                )
            elif here.dry_at > w.now + 1e-6 and not (isinstance(act, acts.Shrink) and act.hot):
                yield (
                    place.said,
                    f"the {name} is laid on solvent that is still wet",
                    "Let it flash off first.",
                )


def sees(w: World, act: Act) -> Iterator[Found]:
    """4: a look sees what is there."""
    if not isinstance(act, acts.Look):
        return
    if act.thing.id and not any(x.thing.id == act.thing.id for x in w.laid):
        yield act.at.said, f"the {act.thing.name} is not on yet", "Look at it when it is on."
    elif act.at.skin == "connector" and not list(w.seen(act)):
        yield act.at.said, "there is no connector yet", "Join it first."
    elif act.at.skin == "armour" and (end := w.end(act.at.end)) and not end.armour_mm:
        yield act.at.said, "there is no armour on this end", "Ask for what is there."


def datum_is_there(w: World, act: Act) -> Iterator[Found]:
    """5: a datum exists when it is measured from."""
    if not isinstance(act, acts.Remove) or act.at.end == "":
        return
    end = act.at.end
    cut = [k for k in w.gone if k[0] == end and k[2] == "core"]
    if act.datum == "cable-end" and cut and act.what != "core":
        yield act.at.said, "it is measured from an end that is cut off already", "Measure from what stays."
    if act.datum == "sheath-cut" and (end, "", "sheath") not in w.gone:
        yield act.at.said, "it is measured from a sheath cut that is not made yet", "Cut the sheath first."
    if act.datum == "core-end" and (end, act.at.core, "core") not in w.gone:
        yield act.at.said, "it is measured from the end of a core that is not cut yet", "Cut the core first."


def is_there_once(w: World, act: Act) -> Iterator[Found]:
    """6: nothing is taken off twice, and nothing that is not there."""
    if not isinstance(act, acts.Remove):
        return
    if (act.at.end, act.at.core, act.what) in w.gone:
        yield act.at.said, f"the {act.what} is off already", "Take it off once."
    end = w.end(act.at.end)
    if end and act.what in ("sheath", "armour", "bedding") and act.what not in end.skins:
        yield act.at.said, f"there is no {act.what} on {end.name}", "Leave it out."


def reads_true(w: World, act: Act) -> Iterator[Found]:
    """7: a reading can be taken, means something, and harms nothing."""
    if isinstance(act, acts.Read):
        if on := [name for name, stays in w.bridged.items() if not stays]:
            yield act.at.said, f"the {on[0]} is still on, so it reads that", f"Take the {on[0]} off first."
        if act.what in ("insulation", "continuity") and act.far and w.found.network:
            yield (
                act.at.said,
                "it is tested against far ends that nobody can isolate",
                "Test the tap's own cable alone, both ends apart, before it is connected.",
            )
    if isinstance(act, acts.PourIn) and act.last:
        metal = [x for x in w.laid if x.thing.metal and x.hides and not x.core]
        if metal and "cores to metal" not in w.read:
            yield act.at.said, "the cores were never read against the mesh", "Read them before the resin."


def comes_off(w: World, act: Act) -> Iterator[Found]:
    """8: what is put on for a while comes off, and nothing that was not put on."""
    if isinstance(act, acts.TakeOff) and act.called not in w.bridged:
        yield act.at.said, f"the {act.called} was never put on", "Put it on, or leave this out."
    if isinstance(act, acts.Attest) and act.what == "released":
        for name in [n for n, stays in w.bridged.items() if not stays]:
            yield "the joint", f"the {name} was never taken off", "Take it off, with a step of its own."


def is_cold(w: World, act: Act) -> Iterator[Found]:
    """9: between hot layers it cools, and what is mixed is in before it gels."""
    if isinstance(act, TOUCHES):
        for name, (core, end) in w.hot.items():
            apart = (core and act.at.core and core != act.at.core) or (
                end and act.at.end and end != act.at.end
            )
            if name != act.thing.id and not apart and not (core and isinstance(act, acts.Shrink)):
                yield act.at.said, f"{name} is still hot", "Let it cool first."
    if isinstance(act, acts.PourIn) and w.now > w.mixed.get(act.thing.id, w.now) + 1e-6:
        late = w.now - w.mixed[act.thing.id]
        yield act.at.said, f"it gels {late:.0f} min before it is in", "Mix when everything else is done."


def is_had(w: World, act: Act) -> Iterator[Found]:
    """10: everything named is had, is made, or is on the cable."""
    had = w.found.had
    for name in (*((act.thing.of,) if act.thing.of else ()), *act.uses):
        if had and name not in had:
            yield act.at.said, f"{name} is on no list of materials or tools", "Put it on the list."
    if isinstance(act, (acts.Join, acts.Read)):
        between = act.ends if isinstance(act, acts.Join) else act.between
        for place in between:
            if place.skin == "armour" and (end := w.end(place.end)) and not end.armour_mm:
                yield place.said, f"the cable on {end.name} has no armour", "Say what is bonded instead."
            if place.core == "protective" and (end := w.end(place.end)) and not end.protective:
                yield (
                    place.said,
                    f"the cable on {end.name} has no protective conductor",
                    "Say what is bonded instead, or refuse it.",
                )


def says_its_figure(w: World, act: Act) -> Iterator[Found]:
    """11: the hand finds its figure in the step."""
    if isinstance(act, (acts.Remove, acts.FoldBack)) and act.mm is None:
        yield act.at.said, "the step does not say how far", "Say it in mm, from something that is seen."


def has_room(w: World, act: Act) -> Iterator[Found]:
    """12: the inside of a part is made ready before it is on the cable."""
    if isinstance(act, acts.Roughen) and act.inside and act.thing.id in w.waiting:
        yield act.at.said, f"the {act.thing.name} waits on the cable already", "Make its inside ready first."


def counts(w: World, act: Act) -> Iterator[Found]:
    """13: each piece is used as often as it is there."""
    if isinstance(act, (acts.Join, acts.Mix)) and act.thing.of:
        had = w.found.had.get(act.thing.of)
        if had is not None and w.used.get(act.thing.of, 0.0) + 1 > had + 1e-6:
            yield act.at.said, f"only {had:g} × {act.thing.of} are there", "Count once more what it takes."


def harms_nobody(w: World, act: Act) -> Iterator[Found]:
    """14: nothing is taken off a cable that runs on and stays live."""
    if isinstance(act, acts.Remove) and (end := w.end(act.at.end)) and end.through and act.what != "damage":
        yield act.at.said, "the cable is not cut here, and this is its only insulation", "Leave it on."


def right_way(w: World, act: Act) -> Iterator[Found]:
    """15: what is slid to its seat was threaded on before."""
    if isinstance(act, acts.SlideTo) and act.thing.id not in w.waiting:
        yield act.at.said, f"the {act.thing.name} was never threaded on", "Thread it on before joining."
    if isinstance(act, acts.ThreadOn) and act.at.core == "" and w.joined:
        yield act.at.said, f"the {act.thing.name} cannot be threaded on any more", "Thread it before joining."


def is_proved(w: World, act: Act) -> Iterator[Found]:
    """16: every join is looked at, and pulled by hand where it is pressed, before it is covered."""
    if not isinstance(act, (acts.Shrink, acts.Close, acts.LayOn)) or not act.at.span_mm or act.thing.metal:
        return
    for x in w.laid:
        if x.thing.id not in w.joined or not x.core or act.at.core not in ("", x.core):
            continue
        middle = sum(x.span) / 2
        if not act.at.span_mm[0] <= middle <= act.at.span_mm[1] or w.over(Place(core=x.core, span_mm=x.span)):
            continue
        if x.thing.id not in w.looked:
            yield act.at.said, f"nobody looked at the {x.thing.name}", "Look at it before it is covered."
        if w.pressed.get(x.thing.id) and x.thing.id not in w.tugged:
            yield act.at.said, f"nobody pulled at the {x.thing.name}", "Pull at it before it is covered."


LAWS: dict[int, Law] = {
    0: gates,
    1: passes,
    2: reaches,
    3: meets_clean,
    4: sees,
    5: datum_is_there,
    6: is_there_once,
    7: reads_true,
    8: comes_off,
    9: is_cold,
    10: is_had,
    11: says_its_figure,
    12: has_room,
    13: counts,
    14: harms_nobody,
    15: right_way,
    16: is_proved,
}


def _protective(w: World, place: Place) -> Place | None:
    """The protective conductor by its own name; None where the cable has none."""
    if place.core != "protective":
        return place
    end = w.end(place.end)
    return Place(place.end, end.protective, place.skin, place.span_mm) if end and end.protective else None
