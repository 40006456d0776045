"""Scenes for the laws: a small joint of two cores told act by act, without any recipe."""

from dataclasses import replace

from tinknot.core import acts
from tinknot.core.acts import Act, Attest, Place, Thing
from tinknot.core.figures import mm
from tinknot.core.formulas.sleeve import Tube
from tinknot.core.layers.contract import Step
from tinknot.core.world.found import Found, FoundEnd
from tinknot.core.world.laws import Broken
from tinknot.core.world.play import play

CORES = {"1": 4.0, "2": 4.0}
A = FoundEnd("A", {"sheath": 12.0}, CORES, -50.0, away=-1, protective="2")
ARMOURED = FoundEnd(
    "A",
    {"sheath": 12.0, "armour": 12.0, "bedding": 9.5},
    CORES,
    -50.0,
    away=-1,
    protective="2",
    armour_mm=1.0,
)
B = FoundEnd("B", {"sheath": 11.0}, CORES, 50.0, away=1, protective="2")
JOINT, WITH_ARMOUR = Found((A, B)), Found((ARMOURED, B))
OUTER = Thing("outer", "outer sleeve", 30.0, Tube(30, 9, 2.5), seals="adhesive")
SLEEVE = Thing("sleeve-1", "sleeve on core 1", 9.0, Tube(9, 3, 1.0))
BARREL = Thing("barrel-1", "connector on core 1", od_mm=7.0, metal=True, of="barrel")
MESH = Thing("mesh", "mesh", adds_mm=1.5, metal=True)
STRAP = Thing("strap", "earth strap", adds_mm=2.0, metal=True)
SEAT, SPAN = (-20.0, 20.0), (-130.0, 130.0)
CORE, WHOLE = Place(core="1", span_mm=(-30.0, 30.0)), Place(span_mm=SPAN)
BARE_A, BARE_B = Place("A", "1", "conductor", SEAT), Place("B", "1", "conductor", SEAT)
SHEATHS = tuple(Place(e, skin="sheath", span_mm=SPAN) for e in "AB")

ready = (Attest(what="isolated"), Attest(what="measured"))
swept = tuple(acts.Wipe(at=Place(e, skin="sheath")) for e in "AB")
opened = tuple(
    act
    for e in "AB"
    for act in (
        acts.Remove(at=Place(e), what="sheath", mm=50, datum="cable-end"),
        acts.Remove(at=Place(e, "1"), what="core", mm=50, datum="sheath-cut"),
        acts.Remove(at=Place(e, "1"), what="insulation", mm=20, datum="core-end"),
    )
)
threaded = (acts.ThreadOn(at=Place("A"), thing=OUTER), acts.ThreadOn(at=Place("B", "1"), thing=SLEEVE))
counted = (Attest(what="counted"),)
joined = (acts.Join(at=Place(core="1", span_mm=SEAT), thing=BARREL, ends=(BARE_A, BARE_B), how="crimped"),)
proved = (acts.Tug(at=Place(core="1")), acts.Look(at=Place(core="1", skin="connector")))
insulated = (
    acts.SlideTo(at=CORE, thing=SLEEVE, from_end="B"),
    acts.Shrink(at=CORE, thing=SLEEVE),
    acts.Look(at=CORE, thing=SLEEVE),
    acts.Wait(until="cool"),
)
read = (acts.Read(what="continuity"), acts.Read(what="insulation"))
covered = (Attest(what="covered"),)
wiped = tuple(acts.Wipe(at=p, solvent=True, flash_min=1.0, minutes=2.0) for p in SHEATHS)
flashed = (acts.Note(minutes=3.0),)
closed = (
    acts.SlideTo(at=WHOLE, thing=OUTER, from_end="A"),
    acts.Shrink(at=WHOLE, thing=OUTER, seals_on=SHEATHS),
    acts.Look(at=WHOLE, thing=OUTER),
    acts.Wait(until="cool"),
)
again = (acts.Read(what="continuity", minutes=1.0), acts.Read(what="insulation", minutes=1.0))
label = (acts.Note(thing=Thing("label", "label")),)
released = (Attest(what="proved"), *label, Attest(what="released"))
GOOD: tuple[Act, ...] = (
    *ready, *swept, *opened, *threaded, *counted, *joined, *proved, *insulated, *read, *covered, *wiped,
    *flashed, *closed, *again, *released
)  # fmt: skip


def told(*what: Act | Step, found: Found = JOINT) -> list[Broken]:
    """The laws that these acts break, one after the other."""
    return play([a if isinstance(a, Step) else saying(f"{n}", a) for n, a in enumerate(what)], found)


def saying(name: str, act: Act) -> Step:
    """An act as a step that says its figure."""
    far = getattr(act, "mm", None)
    text = f"{mm(far)} mm" if far is not None else ""
    return Step(name, type(act).__name__, "inspect", "build", text=text, acts=(act,))


def laws(*what: Act | Step, found: Found = JOINT) -> set[int]:
    """Their numbers."""
    return {b.law for b in told(*what, found=found)}


def without(part: tuple[Act, ...]) -> tuple[Act, ...]:
    """The good joint without a part of its work."""
    return tuple(a for a in GOOD if a not in part)


def before(part: tuple[Act, ...], what: tuple[Act, ...]) -> tuple[Act, ...]:
    """The good joint with `what` done before `part`."""
    rest = tuple(a for a in GOOD if a not in what)
    at = rest.index(part[0])
    return (*rest[:at], *what, *rest[at:])


def instead(old: Act, **changes: object) -> tuple[Act, ...]:
    """The good joint with one act changed."""
    return tuple(replace(a, **changes) if a is old else a for a in GOOD)  # type: ignore[arg-type]


def had(**pieces: float) -> Found:
    """The joint with a list of what there is."""
    return replace(JOINT, had=dict(pieces))
