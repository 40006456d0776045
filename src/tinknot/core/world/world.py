"""The world at one moment, and what an act makes of it. It works effects out by geometry and physics from
the act's place, span and thing, and goes on after a broken law."""

from collections.abc import Iterable, Iterator
from copy import copy
from dataclasses import dataclass, field, replace
from functools import lru_cache

from tinknot.core import acts
from tinknot.core.acts import Act, Place, Span, Thing
from tinknot.core.formulas.bundle import bundle
from tinknot.core.formulas.earth import sound_path_mohm
from tinknot.core.world.found import Found, FoundEnd

HOT_MM = 30.0  # beyond the edge of what is hot
HERE_MM = 60.0  # of an end, what lies in reach beside its sheath cut where no stretch is said
Key = tuple[str, str, str]  # a surface: end, core, skin


@lru_cache(maxsize=4096)
def _round(diameters: tuple[float, ...]) -> float:
    return bundle(diameters).enclosing_diameter_mm


@dataclass(frozen=True)
class Surface:
    """A surface: whether it is clean, from which minute of the work it is dry, and what was laid on it."""

    clean: bool = False
    dry_at: float = 0.0
    laid: str = ""


@dataclass(frozen=True)
class Laid:
    """A thing that sits: where, on which core (empty: round all), whether what lies under it is out of reach,
    and whether it was closed there (shrunk, wrapped round, shut) and not only laid on."""

    thing: Thing
    core: str
    span: Span
    hides: bool
    shut: bool = False

    def at(self, x: float) -> bool:
        """Whether it lies there."""
        return self.span[0] <= x <= self.span[1]

    def outside(self, od: float, x: float) -> float:
        """The diameter over it where that under it is `od`, mm."""
        if not self.at(x):
            return od
        if self.thing.tube is not None:
            return self.thing.tube.od_mm(od)
        return max(od, self.thing.od_mm) if self.thing.od_mm else od + self.thing.adds_mm


@dataclass
class World:
    """What is so at this moment of the work, `now` minutes after it began."""

    found: Found
    now: float = 0.0
    said: set[str] = field(default_factory=set)  # what was attested
    gone: set[Key] = field(default_factory=set)  # taken off, by end, core and what
    rung: set[Place] = field(default_factory=set)  # where a ring of it was taken out by itself
    marked: set[str] = field(default_factory=set)  # ends with a cut or a mark to measure from
    folded: set[tuple[str, str]] = field(default_factory=set)
    surfaces: dict[Key, Surface] = field(default_factory=dict)
    waiting: dict[str, str] = field(default_factory=dict)  # things on a tail, by id: its end
    laid: list[Laid] = field(default_factory=list)
    joined: dict[str, acts.Join] = field(default_factory=dict)  # by thing
    swept: set[str] = field(default_factory=set)  # ends whose cable was wiped for what is threaded over it
    looked: set[str] = field(default_factory=set)  # joins and things that were looked at
    tugged: set[str] = field(default_factory=set)
    bridged: dict[str, acts.Bridge] = field(
        default_factory=lambda: {"armour earth": acts.Bridge(called="armour earth", stays=True)}
    )
    hot: dict[str, Place] = field(default_factory=dict)  # by thing: where
    mixed: dict[str, float] = field(default_factory=dict)  # by thing: until when it must be in
    read: set[str] = field(default_factory=set)  # what was read since the last thing was laid or closed
    against: set[str] = field(default_factory=set)  # metal round the cores that they were read against
    uncured: bool = False  # what was poured is not hard yet
    filled: bool = False  # it was poured full
    closed: set[str] = field(default_factory=set)  # ends over which something was closed
    names: dict[str, str] = field(default_factory=dict)  # what things are called, by id
    noted: set[str] = field(default_factory=set)  # labels fixed
    gun_c: float | None = None  # what the gun is set to in the step under way
    figures: frozenset[float] = frozenset()  # that the step under way says, in its words and readings
    used: dict[str, float] = field(default_factory=dict)  # pieces, by what they are called

    # --- asked ----------------------------------------------------------------------------------------------

    def end(self, name: str) -> FoundEnd | None:
        """The end as found."""
        return next((e for e in self.found.ends if e.name == name), None)

    def keys(self, place: Place) -> Iterator[Key]:
        """The surfaces a place speaks of: one core's or every core's, of one end or of both."""
        if place.end and self.end(place.end) is None:  # a mouth, a fitting
            yield place.end, place.core, place.skin
        for e in self.found.ends:
            if place.end in ("", e.name):
                cores = [place.core] if place.core else list(e.cores) if place.skin == "insulation" else [""]
                yield from ((e.name, core, place.skin) for core in cores)

    def surface(self, key: Key) -> Surface:
        """A surface as it is now."""
        return self.surfaces.setdefault(key, Surface())

    def stretch(self, place: Place) -> Span:
        """Where a place lies, mm on the joint's axis."""
        if place.span_mm is not None:
            return place.span_mm
        if place.core and (joined := [x.span for x in self.laid if x.core == place.core and x.thing.metal]):
            return joined[0]
        end = self.end(place.end)
        if end is None:
            return (0.0, 0.0)
        return tuple(sorted((end.edge_mm, end.edge_mm + end.away * HERE_MM)))  # type: ignore[return-value]  # two of them

    def point(self, place: Place) -> float:
        """The x by which it is judged whether a place is hidden, mm: of a sheath or insulation near the outer
        edge of what is worked there, else the middle."""
        a, b = self.stretch(place)
        end = self.end(place.end)
        if place.skin in ("sheath", "insulation") and end is not None:
            outer = a if end.away < 0 else b
            inner = end.edge_mm if place.skin == "sheath" else (a + b) / 2
            return outer + 0.1 * (inner - outer)
        return (a + b) / 2

    def over(self, place: Place) -> list[Laid]:
        """What hides a place: it lies round it and is closed. Of the cores together only what lies round all
        hides them, and metal on metal hides nothing; what has no skin is the outside of what is there."""
        outermost = not place.core and not place.skin
        if outermost or (place.end and self.end(place.end) is None):  # a mouth lies on what is outermost
            return []
        inside = self.point(place)
        metal = place.skin in ("armour", "lead-sheath", "screen")
        return [
            x
            for x in self.laid
            if x.hides
            and x.at(inside)
            and (not x.core or x.core == place.core)
            and not (metal and x.thing.metal)
        ]

    def core_od(self, core: str, x: float) -> float:
        """A core's diameter with all that sits on it, mm."""
        here = [e.cores[core] for e in self.found.ends if core in e.cores and (x - e.edge_mm) * e.away <= 0]
        od = max(here, default=0.0)
        for thing in (t for t in self.laid if t.core == core):
            od = thing.outside(od, x)
        return od

    def od(self, x: float) -> float:
        """The diameter of everything there, mm: sheath, folded armour, the cores between the cuts, and what
        lies round all of them."""
        own = 0.0
        for e in self.found.ends:
            if (x - e.edge_mm) * e.away >= 0:
                own = max(e.skins.values(), default=0.0)
                if (e.name, "armour") in self.folded and abs(x - e.edge_mm) <= HERE_MM:
                    own += 2 * e.armour_mm
        if own == 0.0:
            names = dict.fromkeys(c for e in self.found.ends for c in e.cores)
            cores = tuple(d for c in names if (d := self.core_od(c, x)) > 0) or (0.001,)
            gap = (
                max((t.thing.apart_mm for t in self.laid if t.at(x)), default=0.0) if len(cores) > 1 else 0.0
            )
            own = _round(tuple(d + gap for d in cores)) - gap
        for thing in (t for t in self.laid if not t.core):
            own = thing.outside(own, x)
        return own

    def has_cable(self, x: float) -> bool:
        """Whether the cable or its cores are known to lie there; a fitting beyond them is not told."""
        cores = any(e.cores for e in self.found.ends)
        return cores or any((x - e.edge_mm) * e.away >= 0 for e in self.found.ends)

    def places(self, between: Span) -> list[float]:
        """Where something begins or ends in a stretch."""
        a, b = between
        edges = {a, b, *(x for t in self.laid for x in t.span), *(e.edge_mm for e in self.found.ends)}
        return sorted(x for near in edges for x in (near - 0.01, near + 0.01) if a <= x <= b)

    def way(self, act: acts.SlideTo) -> Span:
        """What a part passes, from the tail it waits on to the far edge of its seat."""
        a, b = self.stretch(act.at)
        end = self.end(act.from_end)
        if end is None:
            return a, b
        return (min(a, end.edge_mm - HERE_MM), b) if end.away < 0 else (a, max(b, end.edge_mm + HERE_MM))

    def thickest(self, act: acts.SlideTo) -> tuple[float, float]:
        """The most it must pass on its way, mm, and where."""
        size = (lambda x: self.core_od(act.at.core, x)) if act.at.core else self.od
        return max((size(x), x) for x in self.places(self.way(act)))

    def apart(self, one: Place, other: Place) -> bool:
        """Whether what is hot at one place leaves the other alone: other cores, other ends, or far enough."""
        if one.end and other.end and one.end != other.end:
            return True
        if one.core and other.core:
            return one.core != other.core
        if one.span_mm is None or other.span_mm is None:
            return False
        gap = max(one.span_mm[0] - other.span_mm[1], other.span_mm[0] - one.span_mm[1])
        return gap >= HOT_MM

    def path_mohm(self, between: tuple[Place, ...]) -> float | None:
        """The most that a sound path between places of two ends has, mΩ: 1.1 × its metal from lead to lead,
        and 1 mΩ for each contact. None where what lies on it is not known."""
        ends = [(p, e) for p in between if (e := self.end(p.end)) is not None]
        if len({e.name for _, e in ends}) < 2:
            return None
        own = [
            e.mohm_per_m.get(e.protective if p.core == "protective" else p.core or p.skin) for p, e in ends
        ]
        core = any(p.core for p, _ in ends) and all(p.core for p, _ in ends)
        edges = [e.edge_mm for _, e in ends]
        metres = self.found.length_m if core else (max(edges) - min(edges) + 2 * HERE_MM) / 1000
        if metres is None or any(r is None for r in own):
            return None
        return sound_path_mohm(max(r or 0.0 for r in own), 1000 * metres, 2 * len(ends) + 2)

    # --- told -----------------------------------------------------------------------------------------------

    def do(self, act: Act) -> None:
        """The act is done."""
        self.now += act.minutes
        if act.thing.id:
            self.names[act.thing.id] = act.thing.name
        if act.thing.of and isinstance(act, (acts.Join, acts.Mix)):
            self.used[act.thing.of] = self.used.get(act.thing.of, 0.0) + 1
        self._told(act)
        self._worked(act)
        self._put(act)

    def _told(self, act: Act) -> None:
        """What is said, seen, read or waited for."""
        match act:
            case acts.Attest():
                self.said.add(act.what)
            case acts.Look():
                self.looked |= set(self.seen(act))
            case acts.Tug():
                self.tugged |= {name for name, join in self.joined.items() if _meets(join.ends, act.at)}
            case acts.Read():
                self.read.add(act.what)
                if act.what == "insulation":
                    self.against |= {x.thing.id for x in self.laid if x.thing.metal and not x.core}
            case acts.Note():
                self.noted.add(act.thing.id)
            case acts.Wait(until="cured"):
                self.uncured = False
            case acts.Wait(until="cool"):
                self.hot = {
                    k: at for k, at in self.hot.items() if act.at.end and at.end and at.end != act.at.end
                }

    def _worked(self, act: Act) -> None:
        """What is done to the cable."""
        match act:
            case acts.Remove():
                self._remove(act)
            case acts.Mark():
                self.marked.add(act.at.end)
            case acts.FoldBack():
                self.folded.add((act.at.end, act.what))
            case acts.Wipe():
                self._sweep(act.at)
                for key in self.keys(act.at):
                    self.surfaces[key] = Surface(True, self.now + act.flash_min)
            case acts.Roughen():
                for key in self.keys(act.at):
                    self.surfaces[key] = Surface()
            case acts.Bridge():
                self.bridged[act.called] = act
            case acts.TakeOff():
                self.bridged.pop(act.called, None)

    def _put(self, act: Act) -> None:
        """What is put on the cable."""
        match act:
            case acts.ThreadOn():
                self.waiting[act.thing.id] = act.at.end
            case acts.SlideTo():
                self.waiting.pop(act.thing.id, None)
            case acts.LayOn():
                self.mixed.pop(act.thing.id, None)
                self._lay(act.thing, act.at, hides=act.thing.metal or act.thing.seals in ("mastic", "tape"))
                self._stick(act.seals_on, act.thing)
            case acts.Shrink() | acts.Close():
                self._shut(act)
            case acts.Mix():
                self.mixed[act.thing.id] = self.now + act.within_min
            case acts.PourIn():
                self.mixed.pop(act.thing.id, None)
                self.uncured = True
                self.filled |= act.last
            case acts.Join():
                self.joined[act.thing.id] = act
                self._lay(act.thing, act.at, hides=False)

    def _shut(self, act: acts.Shrink | acts.Close) -> None:
        self._lay(act.thing, act.at, hides=True, shut=True)
        if not act.at.core:  # a sleeve on one wire leaves its end bare
            self.closed.add(act.at.end)
        if isinstance(act, acts.Shrink):
            if act.hot:
                self.hot[act.thing.id] = act.at
            self._stick(act.seals_on, act.thing)

    def seen(self, act: acts.Look) -> Iterable[str]:
        """What a look sees: the thing it names, or the joins that lie there."""
        if act.thing.id:
            return [act.thing.id]
        return [name for name, join in self.joined.items() if _meets(join.ends, act.at)]

    def _sweep(self, at: Place) -> None:
        """A cable wiped as far back as something is slid, not only where something seals; of a mouth, what it
        lies on."""
        if at.skin == "sheath" and not self.end(at.end):
            self.swept |= {e.name for e in self.found.ends}
        elif at.skin == "sheath" and at.span_mm is None:
            self.swept.add(at.end)

    def _remove(self, act: acts.Remove) -> None:
        self.gone.add((act.at.end, act.at.core, act.what))
        if act.at.span_mm:
            self.rung.add(act.at)
        if act.what == "sheath":
            self.marked.add(act.at.end)
        for key in [k for k in self.surfaces if k[0] == act.at.end and k[1] == act.at.core]:
            if key[2] == act.what:
                del self.surfaces[key]

    def _lay(self, thing: Thing, at: Place, *, hides: bool, shut: bool = False) -> None:
        if at.span_mm is None:
            return
        self.laid = [x for x in self.laid if x.thing.id != thing.id]
        self.against.discard(thing.id)
        self.laid.append(Laid(thing, at.core, at.span_mm, hides, shut=shut))
        by_itself = bool(at.end)  # such an end is read apart
        if hides and not by_itself and (thing.metal or thing.tube or not at.core):
            self.read -= {"insulation", "continuity"}

    def _stick(self, places: Iterable[Place], thing: Thing) -> None:
        for place in places:
            for key in self.keys(place):
                self.surfaces[key] = replace(self.surface(key), laid=thing.id)


def _meets(ends: tuple[Place, ...], at: Place) -> bool:
    if at.core:
        return any(e.core == at.core and at.end in ("", e.end) for e in ends)
    return any((e.skin, e.end) == (at.skin, at.end) for e in ends)


def copied(w: World) -> World:
    """The same world, to go on from another way; what was told to it is shared as long as it stays."""
    new = copy(w)
    for name, value in vars(w).items():
        if isinstance(value, (set, list)):
            setattr(new, name, value.copy())
    new.surfaces, new.waiting = dict(w.surfaces), dict(w.waiting)
    new.joined, new.bridged = dict(w.joined), dict(w.bridged)
    new.hot, new.mixed, new.used = dict(w.hot), dict(w.mixed), dict(w.used)
    return new
