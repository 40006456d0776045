"""The laws of the work, one function each: what an act would break in the world as it is. The numbers are
those of the requirements' list of laws; 0 stands for the gates: isolated, free of gas, measured, counted."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from tinknot.core import acts
from tinknot.core.acts import Act, Place
from tinknot.core.figures import mm, plain
from tinknot.core.world.world import Laid, World


@dataclass(frozen=True)
class Broken:
    """A law that a step breaks: which, where, what is wrong and what mends it, in sentences."""

    law: int
    step: str
    place: str
    words: str
    mend: str


EDITION = 6  # goes up when a law sees more than before; what was played by an earlier one is played anew
CRIMP_MM, IRON_MM, SHIELDED_MM, HOT_AIR_MM = 10.0, 30.0, 50.0, 100.0  # from what waits on the cable
AIR_K = 130.0  # at the nozzle above what the wall must reach
CLEAR_MM = 100.0  # all round, for heat
GRIPPED = 0.9  # of what a mouth grips, what must be there at least when it is tried
ROUNDED_MOHM = 0.1  # as near as a limit is given
INSIDE = ("core", "insulation", "overlay")  # of what is taken off: under sheath, armour and bedding
SAID_MM = 0.11  # as near as a sentence says a length
Found = tuple[str, str, str]  # place, what is wrong, what mends it
Law = Callable[[World, Act], Iterator[Found]]
TOUCHES = (acts.Wipe, acts.Roughen, acts.LayOn, acts.Join, acts.Shrink, acts.Close, acts.SlideTo)


def gates(w: World, act: Act) -> Iterator[Found]:
    """0: nothing before it is isolated, no work before it is measured, no join before it is counted; a hold
    says only what is so."""
    if isinstance(act, acts.Attest):
        yield from _attested(w, act)
        return
    if "isolated" not in w.said:
        yield act.at.said, "it may be live: nobody has isolated it yet", "Isolate and prove dead first."
    if w.found.hazardous and "gas-free" not in w.said:
        yield act.at.said, "there may be gas: nobody has measured it yet", "Measure it free of gas first."
    worked = (acts.Remove, acts.FoldBack, acts.ThreadOn, acts.Join, acts.Shrink)
    if isinstance(act, worked) and "measured" not in w.said:
        yield act.at.said, "nobody has held the readings against the cable yet", "Check the readings first."
    screened = any("screen" in e.skins for e in w.found.ends) and not w.found.heating
    if isinstance(act, acts.Remove) and act.what == "sheath" and screened and "screen-dead" not in w.said:
        yield act.at.said, "its screen may carry another place's voltage", "Prove the screen dead first."
    if isinstance(act, acts.Join) and w.waiting and "counted" not in w.said:
        yield act.at.said, "nobody has counted what waits on the cable", "Touch and count every part first."
    closing = not act.at.core and _closes(act)
    sheathed = any("sheath" in e.skins and e.cores for e in w.found.ends)
    here = [p for join in w.joined.values() for p in join.ends if act.at.end in ("", p.end)]
    if closing and sheathed and here and "covered" not in w.said:
        yield act.at.said, "nobody took a last look before it is closed", "Look at the cores, then close it."


def _closes(act: Act) -> bool:
    """Whether an act closes what lies there, or makes ready for it."""
    if isinstance(act, (acts.Shrink, acts.Close)):
        return bool(act.thing.seals)
    if isinstance(act, acts.LayOn):
        return act.thing.metal or act.thing.seals in ("mastic", "tape")
    return isinstance(act, acts.Roughen) and not act.inside


def _attested(w: World, act: acts.Attest) -> Iterator[Found]:
    """What a hold says that is not so."""
    if act.what != "isolated" and "isolated" not in w.said:
        yield "the joint", "nobody has isolated it yet", "Isolate and prove dead first."
    if act.what == "screen-dead" and not any("screen" in e.skins for e in w.found.ends):
        yield "the joint", "there is no screen to prove dead", "Leave it out."
    if act.what == "covered":
        yield from _not_read(w, "before it is covered")
    if act.what == "proved":
        yield from _not_read(w, "since it was closed")
        shut = [x for x in w.laid if x.shut and x.thing.id not in w.looked and x.thing.seals]
        for name in dict.fromkeys(x.thing.name for x in shut):
            yield "the joint", f"nobody looked at the {name}", "Look at it when it is on."
        bare = [x for x in w.laid if x.core and (j := w.joined.get(x.thing.id)) and j.how != "pierced"]
        for name in [x.thing.name for x in bare if not _hidden(w, x)]:
            yield "the joint", f"the {name} lies bare", "Insulate it before the joint is proved."
        if w.uncured:
            yield "the joint", "what was poured has not cured", "Wait until it is cured."
        if w.mixed:
            yield "the joint", "what was mixed was never poured", "Pour it."
    if act.what == "released":
        if "proved" not in w.said:
            yield "the joint", "nobody has said that it is sealed and proved", "Prove it first."
        if "label" not in w.noted:
            yield "the joint", "it has no label", "Fix the label."


def _not_read(w: World, when: str) -> Iterator[Found]:
    through = [j for j in w.joined.values() if len({p.end for p in j.ends if p.core}) > 1]
    cores = bool(through) and not w.found.network
    if w.found.earthing:
        return
    told_else = w.found.heating and when.startswith("since")  # closed in, it would read its element
    if cores and not told_else and "continuity" not in w.read:
        yield "the joint", f"no core was read through {when}", "Read continuity, core by core."
    if not w.found.network and "insulation" not in w.read:
        yield "the joint", f"its insulation was not read {when}", "Read the insulation."
    screens = any(x.thing.metal and not x.core and not x.thing.seals for x in w.laid)
    bonded = screens or any(x.thing.adds_mm and x.thing.id in w.joined for x in w.laid)
    if bonded and "resistance" not in w.read:
        yield "the joint", "what is bonded was never read", "Read its resistance."


def _hidden(w: World, x: Laid) -> bool:
    middle, later = sum(x.span) / 2, w.laid[w.laid.index(x) + 1 :]
    return any(y.hides and y.at(middle) and y.core in ("", x.core) for y in later)


def passes(w: World, act: Act) -> Iterator[Found]:
    """1: nothing passes what is thicker, as both are then; and nothing comes under what is joined over its
    place."""
    across = [n for n, j in w.joined.items() if {p.end for p in j.ends if p.skin == "screen"} >= {"A", "B"}]
    if isinstance(act, acts.SlideTo) and act.at.skin in ("bedding", "core") and across:
        name = w.joined[across[0]].thing.name
        yield act.at.said, f"{name} is joined over its place already", f"Slide it there before {name}."
    if isinstance(act, acts.SlideTo) and act.thing.bore_mm is not None:
        most, x = w.thickest(act)
        if act.thing.bore_mm < most - 1e-6:
            yield (
                act.at.said,
                (
                    f"the {act.thing.name} is {mm(act.thing.bore_mm):.1f} mm open, and {mm(most):.1f} mm lie"
                    " in its way"
                ),
                f"Take one that passes {mm(most):.1f} mm, or put it on before what lies at {mm(x):.0f} mm.",
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
    if isinstance(act, acts.Join) and act.how != "pierced":
        yield from _not_bare(w, act)
    if isinstance(act, acts.Remove) and act.what in INSIDE and (end := w.end(act.at.end)):
        skins = [k for k in acts.OUTSIDE_IN if k in end.skins]
        for name in [k for k in skins if (act.at.end, "", k) not in w.gone]:
            yield act.at.said, f"the {name} is still on", f"Take the {name} off first."
    for place in touched:
        at = _protective(w, place)
        if at is not None:
            yield from _under(place, w.over(at))
    if isinstance(act, (acts.Shrink, acts.SlideTo)) and act.at.core:
        yield from _under(act.at, [x for x in w.over(act.at) if not x.core])


def _not_bare(w: World, act: acts.Join) -> Iterator[Found]:
    """Metal that is joined and is not laid open; something on a core that goes on asks for a ring of it."""
    for place in act.ends:
        off = {(place.end, place.core, "insulation"), (place.end, "", "insulation")}
        bare = place.core == "protective" or bool(off & w.gone)
        if len(act.ends) == 1 and place.core and place.span_mm:
            bare = any((r.end, r.core) == (place.end, place.core) for r in w.rung)
        if place.skin == "conductor" and not bare:
            yield place.said, "its insulation is still on", "Strip it first."
        armoured = (end := w.end(place.end)) is not None and end.armour_mm > 0
        if place.skin == "armour" and armoured and (place.end, "armour") not in w.folded:
            yield place.said, "the armour is not laid bare yet", "Bend it back first."
        if place.skin == "lead-sheath" and end is not None:
            outer = [k for k in acts.OUTSIDE_IN[: acts.OUTSIDE_IN.index("lead-sheath")] if k in end.skins]
            on = [k for k in outer if (place.end, "", k) not in w.gone]
            for name in on:
                yield place.said, f"the {name} is still on it", f"Take the {name} off first."
            if not on and not w.surface((place.end, "", "lead-sheath")).clean:
                yield place.said, "the lead is dull", "Rub it bright before."


def _under(place: Place, over: list[Laid]) -> Iterator[Found]:
    if over:
        name = over[-1].thing.name
        yield place.said, f"the {name} lies over it already", f"Do it before the {name} is put on."


def meets_clean(w: World, act: Act) -> Iterator[Found]:
    """3: adhesive meets clean and dry, and nothing wipes off what was laid."""
    sticks = bool(act.thing.seals) or act.thing.tube is not None
    if isinstance(act, acts.ThreadOn) and sticks and not act.at.core and act.at.end not in w.swept:
        yield act.at.said, f"the {act.thing.name} takes the dirt along", "Wipe the cable clean before."
    if isinstance(act, acts.Wipe):
        for key in w.keys(act.at):
            on = [x for x in w.laid if x.thing.id == w.surface(key).laid and x.at(w.point(act.at))]
            if on and not on[-1].thing.tube:
                name = on[-1].thing.name
                yield act.at.said, f"the wipe takes the {name} off again", "Wipe first, then lay it on."
    for place in act.seals_on if isinstance(act, acts.Sticking) else ():
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
    """4: a look sees what is there, and a part is tried on what it will lie on."""
    for place, od in act.on if isinstance(act, acts.Try) else ():
        x = sum(place.span_mm or (0.0, 0.0)) / 2
        if place.skin != "fitting" and w.has_cable(x) and w.od(x) < GRIPPED * od:
            yield place.said, f"what the {act.thing.name} lies on is not there yet", "Try it when that is on."
    if not isinstance(act, acts.Look):
        return
    if act.thing.id and not any(x.thing.id == act.thing.id for x in w.laid):
        yield act.at.said, f"the {act.thing.name} is not on yet", "Look at it when it is on."
    elif act.at.skin == "connector" and not list(w.seen(act)):
        yield act.at.said, "there is no connector yet", "Join it first."
    elif act.at.skin == "fitting" and w.end(act.at.end) and act.at.end not in w.closed:
        yield act.at.said, "the part is not on yet", "Look when it is pushed on."
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
    if act.datum == "sheath-cut" and end not in w.marked:
        yield act.at.said, "it is measured from a sheath cut that is not made yet", "Cut the sheath first."
    if act.datum == "core-end" and (end, act.at.core, "core") not in w.gone:
        yield act.at.said, "it is measured from the end of a core that is not cut yet", "Cut the core first."


def is_there_once(w: World, act: Act) -> Iterator[Found]:
    """6: nothing is taken off twice, and nothing that is not there."""
    if not isinstance(act, acts.Remove):
        return
    key = (act.at.end, act.at.core, act.what)
    if act.at in w.rung if act.at.span_mm else key in w.gone:
        yield act.at.said, f"the {act.what} is off already", "Take it off once."
    end = w.end(act.at.end)
    if end and act.what in acts.OUTSIDE_IN and act.what not in end.skins:
        yield act.at.said, f"there is no {act.what} on {end.name}", "Leave it out."


def reads_true(w: World, act: Act) -> Iterator[Found]:
    """7: a reading can be taken, means something, and harms nothing."""
    if isinstance(act, acts.Read):
        skins = {p.skin for p in act.between if act.what in ("resistance", "continuity")}
        if on := [n for n, b in w.bridged.items() if not b.stays and skins & {p.skin for p in b.ends}]:
            yield act.at.said, f"the {on[0]} is still on, so it reads that", f"Take the {on[0]} off first."
        if act.what in ("insulation", "continuity") and act.far and w.found.network:
            yield (
                act.at.said,
                "it is tested against far ends that nobody can isolate",
                "Test the tap's own cable alone, both ends apart, before it is connected.",
            )
        if act.what == "insulation" and w.hot and not w.found.heating:
            name = w.names[next(iter(w.hot))]
            yield act.at.said, f"the {name} is still hot, and hot insulation reads low", "Let it cool first."
        wires = {p.core for p in act.between if p.skin == "conductor"}
        if w.found.heating and act.what == "continuity" and wires and "" in w.closed:
            yield (
                act.at.said,
                "its wires are closed in, and from the far ends it reads the heating element",
                "Read across the join itself while both sides are bare.",
            )
        own = w.path_mohm(act.between)
        if act.most_mohm is not None and own is not None and act.most_mohm > own + ROUNDED_MOHM:
            yield (
                act.at.said,
                f"it passes {plain(act.most_mohm, 3)} mΩ, and a sound path has {plain(own, 3)} mΩ at most",
                f"Set its limit by what lies on the path: {plain(own, 3)} mΩ.",
            )
    if isinstance(act, acts.PourIn) and act.last:
        metal = [x for x in w.laid if x.thing.metal and x.hides and not x.core]
        if {x.thing.id for x in metal} - w.against:
            yield act.at.said, "the cores were never read against the mesh", "Read them before the resin."


def comes_off(w: World, act: Act) -> Iterator[Found]:
    """8: what is put on for a while comes off, and nothing that was not put on."""
    if isinstance(act, acts.TakeOff) and act.called not in w.bridged:
        yield act.at.said, f"the {act.called} was never put on", "Put it on, or leave this out."
    if isinstance(act, acts.Attest) and act.what == "released":
        for name in [n for n, b in w.bridged.items() if not b.stays]:
            yield "the joint", f"the {name} was never taken off", "Take it off before the release."


def is_cold(w: World, act: Act) -> Iterator[Found]:
    """9: between hot layers it cools, every wait can end, and what is mixed is in before it gels."""
    if isinstance(act, TOUCHES):
        for name, at in w.hot.items():
            beside = at.core and isinstance(act, acts.Shrink)  # core sleeves are shrunk one after the other
            if name != act.thing.id and not beside and not w.apart(at, act.at):
                yield act.at.said, f"the {w.names[name]} is still hot", "Let it cool first."
    if w.hot and (isinstance(act, acts.Bend) or (isinstance(act, acts.Attest) and act.what == "proved")):
        yield act.at.said, f"the {w.names[next(iter(w.hot))]} is still hot", "Let it cool first."
    if isinstance(act, acts.Wait) and act.under_c is not None and act.under_c <= w.found.air_c:
        yield (
            act.at.said,
            f"it never gets under {act.under_c:g} °C in air of {w.found.air_c:g} °C",
            "Wait until it is as warm as the air and 5 °C, or shade it.",
        )
    hot = isinstance(act, acts.Shrink) and act.hot and w.gun_c is not None
    if hot and act.thing.shrinks_c is not None and (w.gun_c or 0.0) < act.thing.shrinks_c + AIR_K:
        yield (
            act.at.said,
            f"air of {w.gun_c:.0f} °C does not bring its wall to {act.thing.shrinks_c:g} °C",
            f"Set the gun to {act.thing.shrinks_c + AIR_K:.0f} °C or more, and keep it moving.",
        )
    used = isinstance(act, (acts.PourIn, acts.LayOn))
    if used and w.now > w.mixed.get(act.thing.id, w.now) + 1e-6:
        late = w.now - w.mixed[act.thing.id]
        yield act.at.said, f"it gels {late:.0f} min before it is in", "Mix when everything else is done."
    begun = (acts.Remove, acts.Roughen, acts.ThreadOn, acts.Join, acts.Shrink, acts.Read, acts.Close)
    if w.mixed and isinstance(act, begun):
        yield act.at.said, "it is begun while what was mixed waits to be poured", "Pour first."


def is_had(w: World, act: Act) -> Iterator[Found]:
    """10: everything named is had, is made, or is on the cable."""
    had = w.found.had
    for name in (*((act.thing.of,) if act.thing.of else ()), *act.uses):
        if had and name not in had:
            yield act.at.said, f"{name} is on no list of materials or tools", "Have it at hand besides."
    if isinstance(act, acts.PourIn) and act.thing.id not in w.mixed:
        yield act.at.said, "it is poured before it is mixed", "Mix it first."
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
    """11: the hand finds its figure in the step, in its words or as what it works to."""
    if not isinstance(act, (acts.Remove, acts.FoldBack)) or act.what == "damage":
        return
    if act.mm is None:
        yield act.at.said, "the step does not say how far", "Take it from Cut, in mm."
    elif act.mm > 0 and not any(abs(act.mm - said) < SAID_MM for said in w.figures):
        yield act.at.said, f"the step does not say how far: {mm(act.mm):.4g} mm", "Take it from Cut, in mm."


def has_room(w: World, act: Act) -> Iterator[Found]:
    """12: the inside of a part is made ready before it is on the cable, and what waits on the cable waits far
    enough from heat and tool."""
    if isinstance(act, acts.Roughen) and act.inside and act.thing.id in w.waiting:
        yield act.at.said, f"the {act.thing.name} waits on the cable already", "Make its inside ready first."
    need = _hurts_within(w, act)
    if need and (act.at.span_mm or act.at.core):
        low, high = w.stretch(act.at)
        for name, (a, b) in w.found.waits_mm.items():
            if w.found.apart and act.at.end and w.waiting.get(name, act.at.end) != act.at.end:
                continue
            away = max(a - high, low - b)
            if name in w.waiting and name != act.thing.id and 0 <= away < need - 1e-6:
                yield (
                    act.at.said,
                    f"the {w.names[name]} waits {mm(away):.0f} mm from it, and {mm(need):g} mm are needed",
                    f"Let it wait {mm(need - away):.0f} mm further back, or shield it.",
                )


def _hurts_within(w: World, act: Act) -> float:
    """How far what an act does reaches, mm: the tool that presses, the iron, the gun."""
    if isinstance(act, acts.Join):
        return {"crimped": CRIMP_MM, "soldered": IRON_MM}.get(act.how, 0.0)
    if isinstance(act, acts.Shrink) and act.hot:
        return SHIELDED_MM if _at_hand(w, "reflector") else HOT_AIR_MM
    return 0.0


def counts(w: World, act: Act) -> Iterator[Found]:
    """13: each piece is used as often as it is there."""
    on = act.thing.id in w.waiting or any(x.thing.id == act.thing.id for x in w.laid)
    if (isinstance(act, acts.ThreadOn) and on) or (isinstance(act, acts.Join) and act.thing.id in w.joined):
        yield act.at.said, f"the {act.thing.name} is on already", "Put it on once."
    if isinstance(act, (acts.Join, acts.Mix)) and act.thing.of:
        had = w.found.had.get(act.thing.of)
        if had is not None and w.used.get(act.thing.of, 0.0) + 1 > had + 1e-6:
            yield act.at.said, f"only {had:g} × {act.thing.of} are there", "Count once more what it takes."


def harms_nobody(w: World, act: Act) -> Iterator[Found]:
    """14: nothing is taken off a cable that runs on, what earthed it is joined again, on a tap the neutral
    goes on first."""
    if isinstance(act, acts.Attest) and act.what == "proved":
        bonded = {(p.end, p.skin) for join in w.joined.values() for p in join.ends}
        metal = any(x.thing.metal and not x.core for x in w.laid)
        round_all = [x.thing.name for x in w.laid if x.thing.metal and x.hides and not x.core]
        if round_all and not {"armour", "lead-sheath", "screen"} & {skin for _, skin in bonded}:
            yield "the joint", f"the {round_all[0]} is earthed nowhere", "Clamp it to what is earthed."
        leaden = {(e, "lead-sheath") for e, _, what in w.gone if what == "lead-sheath"}
        for name, skin in sorted(w.folded | leaden):
            if (name, skin) not in bonded and not (skin == "screen" and metal):
                said = skin.replace("-", " ")
                yield f"{said} on {name}", f"the {said} is not joined again", "Join it across the joint."
    if isinstance(act, acts.Remove) and (end := w.end(act.at.end)) and end.through and act.what != "damage":
        yield act.at.said, "the cable is not cut here, and this is its only insulation", "Leave it on."
    first = w.found.first
    on = {join.at.core for join in w.joined.values()}
    if isinstance(act, acts.Join) and act.how == "pierced" and not {"", act.at.core, *on} & {first}:
        yield act.at.said, f"core {first} is the neutral, and is not on yet", "Connect it before all others."


def right_way(w: World, act: Act) -> Iterator[Found]:
    """15: what is slid to its seat was threaded on before."""
    if isinstance(act, acts.SlideTo) and act.thing.id not in w.waiting:
        yield act.at.said, f"the {act.thing.name} was never threaded on", "Thread it on before joining."
    if isinstance(act, (acts.Shrink, acts.Close)) and act.thing.id in w.waiting:
        yield act.at.said, f"the {act.thing.name} still waits on the tail", "Slide it to its place first."
    through = any(len({p.end for p in join.ends}) > 1 for join in w.joined.values())
    if isinstance(act, acts.ThreadOn) and act.at.core == "" and through:
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
        if w.joined[x.thing.id].how == "crimped" and x.thing.id not in w.tugged:
            yield act.at.said, f"nobody pulled at the {x.thing.name}", "Pull at it before it is covered."


def has_room_for_dirt(w: World, act: Act) -> Iterator[Found]:
    """17: nothing is drilled or roughened while bare metal, mesh or mastic lies open beside it, and heat has
    room."""
    if isinstance(act, acts.Drill):
        for name in sorted({k[0] for k in w.gone if k[2] == "insulation" and act.at.end in ("", k[0])}):
            yield act.at.said, f"its chips fall on the bare wires of {name}", "Drill before they are bare."
    if isinstance(act, acts.Roughen) and not act.inside:
        open_ = [x for x in w.laid if not x.core and (x.thing.metal or x.thing.seals == "mastic")]
        bare = [x for x in w.laid if x.core and x.thing.id in w.joined and x.thing.metal]
        for x in (x for x in (*open_, *bare) if not _hidden(w, x)):
            yield act.at.said, f"its dust falls on the {x.thing.name}", "Roughen before that lies open."
        for end in (e for e in w.found.ends if (e.name, "screen") in w.folded and act.at.end in ("", e.name)):
            if not any(x.hides and x.at(end.edge_mm + end.away) for x in w.laid):
                yield act.at.said, "its dust falls on the screen laid back", "Roughen before it is laid back."
        off = [(end, core) for end, core, what in w.gone if what == "insulation" and core]
        stripped = {core for end, core in off if act.at.end in ("", end)}
        for core in sorted(stripped - {x.core for x in w.laid}):
            yield (
                act.at.said,
                f"its dust falls on the bare copper of core {core}",
                "Roughen before it is bare.",
            )
    near = w.found.clear_mm
    close = isinstance(act, acts.Shrink) and act.hot and near is not None and near < CLEAR_MM
    if close and not (_at_hand(w, "reflector") or _at_hand(w, "shield")):
        yield act.at.said, f"only {mm(near):g} mm are clear round it", "Use a reflector and a shield."


def holds_what_is_asked(w: World, act: Act) -> Iterator[Found]:
    """18: the weakest seal decides, and it must hold what the card asks."""
    if not (isinstance(act, acts.Attest) and act.what == "proved" and w.found.wet):
        return
    for end in (e for e in w.found.ends if "sheath" in e.skins):
        x = end.edge_mm + end.away * 5.0
        over = [t for t in w.laid if not t.core and t.at(x) and t.thing.seals]
        if not any(t.thing.seals in ("adhesive", "mastic", "resin") for t in over) and not w.filled:
            what = over[-1].thing.name if over else "nothing"
            yield (
                f"end {end.name}",
                f"it will lie wet, and {what} seals it there",
                "Close it with what has adhesive, mastic or resin at this end.",
            )


def _at_hand(w: World, tool: str) -> bool:
    """Whether the lists name a tool of that kind."""
    return any(tool in name for name in w.found.had)


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
    17: has_room_for_dirt,
    18: holds_what_is_asked,
}


def breaks(w: World, act: Act) -> list[tuple[int, Found]]:
    """Every law that an act would break, by its number."""
    return [(number, found) for number, law in LAWS.items() for found in law(w, act)]


def _protective(w: World, place: Place) -> Place | None:
    """The protective conductor by its own name; None where the cable has none."""
    if place.core != "protective":
        return place
    end = w.end(place.end)
    return Place(place.end, end.protective, place.skin, place.span_mm) if end and end.protective else None
