"""Each law on scenes written by hand: what keeps it passes, what breaks it is named, the world goes on."""

from dataclasses import replace

import pytest

from tests.world import scenes as s
from tinknot.core import acts
from tinknot.core.acts import Attest, Place, Thing
from tinknot.core.layers.contract import Heat, Step, Timer
from tinknot.core.world.found import Found
from tinknot.core.world.laws import LAWS

STRAP = acts.Join(
    at=Place(span_mm=(-90, 90)),
    thing=s.STRAP,
    ends=(Place("A", skin="armour"), Place("B", "protective", "conductor", s.SEAT)),
    how="clamped",
)
BRAID = acts.Join(
    at=Place(core="braid"),
    thing=Thing("crimp", "the braid", metal=True),
    ends=(Place("A", skin="screen"), Place("B", skin="screen")),
    how="crimped",
)
MESH = acts.LayOn(at=s.WHOLE, thing=s.MESH)
POUR = acts.PourIn(at=s.WHOLE, thing=Thing("mix", "resin"))
MIX = acts.Mix(thing=Thing("mix", "resin"), within_min=10)
TO_METAL = acts.Read(what="insulation", between=(Place(skin="conductor"), Place(skin="screen")))
BRIDGE = acts.Bridge(called="screen bridge", ends=(Place("A", skin="screen"),))
THROUGH = acts.Read(what="resistance", between=(Place("A", skin="screen"), Place("B", skin="screen")))
SQUARE = acts.Remove(at=Place("A", "1"), what="insulation", mm=20, datum="core-end")
NARROW = replace(s.OUTER, bore_mm=11.9)
CAP = Place("A", "2", "insulation", (-10, 0))
MASTIC = acts.LayOn(at=CAP, thing=Thing("mastic", "mastic", seals="mastic"), seals_on=(CAP,))
WET = acts.Wipe(at=CAP, solvent=True, flash_min=5.0)
UNARMOURED = Found((replace(s.A, armour_mm=0.0, skins={"sheath": 12.0}), s.B))
THROUGH_CABLE = Found((replace(s.A, through=True), s.B))
NETWORK = replace(s.JOINT, network=True)
EARTH = acts.Read(
    what="resistance", between=(Place("A", skin="armour"), Place("B", "protective", "conductor"))
)
METALLED = Found((replace(s.ARMOURED, mohm_per_m={"armour": 5.0}), replace(s.B, mohm_per_m={"2": 1.8})))
NEAR = replace(s.JOINT, waits_mm={"outer": (-260.0, -45.0)})

KEPT = {
    "the whole joint": s.GOOD,
    "mesh, read, poured": (*s.ready, MESH, TO_METAL, MIX, POUR),
    "a bridge that comes off before its screen is read": (
        *s.ready, BRIDGE, acts.TakeOff(called="screen bridge"), THROUGH
    ),
    "mastic on what flashed off": (*s.ready, WET, acts.Note(minutes=6.0), MASTIC),
}  # fmt: skip
BROKEN = [
    (0, "nobody isolated it", s.without(s.ready[:1])),
    (0, "cut before it is measured", s.without(s.ready[1:])),
    (0, "joined before anybody counted", s.without(s.counted)),
    (0, "roughened to be closed before anybody looked", s.before(s.covered, tuple(
        acts.Roughen(at=p, mm=60) for p in s.SHEATHS))),
    (2, "a core sleeve shrunk under a mesh", s.before(s.insulated, (MESH,))),
    (7, "insulation read while a sleeve is hot", s.without(s.insulated[3:])),
    (0, "a joint of no open core covered before it is read", (*s.ready, Attest(what="covered"))),
    (1, "the outer sleeve is narrower than the sheath", s.instead(s.closed[0], thing=NARROW)),
    (1, "a core sleeve that does not pass its connector", s.instead(
        s.insulated[0], thing=replace(s.SLEEVE, bore_mm=6.9))),
    (1, "a tube under a braid that is joined", (
        *s.ready, *s.threaded, *s.counted, BRAID, acts.SlideTo(
            at=Place(skin="bedding", span_mm=s.SPAN), thing=replace(s.OUTER, bore_mm=None), from_end="A"))),
    (2, "a strap to a conductor that is sleeved in", (
        *s.ready, acts.Shrink(at=Place(core="2", span_mm=(-30, 30)), thing=s.SLEEVE), STRAP)),
    (2, "a connector looked at under its sleeve", s.before(s.wiped, s.proved)),
    (2, "the sheath wiped under the outer sleeve", s.before(s.released, s.wiped)),
    (3, "a sleeve on a sheath that nobody wiped", s.without(s.wiped)),
    (3, "mastic on wet solvent", (*s.ready, WET, MASTIC)),
    (3, "mastic wiped off again", (*s.ready, WET, acts.Note(minutes=6.0), MASTIC, WET)),
    (3, "roughened after it was wiped", s.before(
        s.closed, tuple(acts.Roughen(at=p, mm=60) for p in s.SHEATHS))),
    (4, "a sleeve looked at before it is on", s.before(s.insulated, s.closed[2:3])),
    (4, "a breakout tried before the sleeve it lies on", (
        *s.ready, acts.Try(thing=s.OUTER, on=((Place("A", skin="sheath", span_mm=(-90, -60)), 16.0),)))),
    (4, "connectors looked at before there are any", s.before(s.joined, s.proved)),
    (4, "armour looked at where there is none", (*s.ready, acts.Look(at=Place("B", skin="armour")))),
    (5, "armour measured from an end that is gone", (
        *s.ready, s.opened[0], s.opened[1],
        acts.Remove(at=Place("A"), what="armour", mm=40, datum="cable-end"))),
    (5, "a core measured from a cut that is not made", s.without(s.opened[:1])),
    (5, "a core stripped before it is cut", s.without(s.opened[1:2])),
    (6, "a sheath taken off twice", (*s.ready, s.opened[0], s.opened[0])),
    (6, "armour taken off where there is none", (
        *s.ready, acts.Remove(at=Place("B"), what="armour", mm=40, datum="cable-end"))),
    (7, "a screen read through its bridge", (*s.ready, BRIDGE, THROUGH)),
    (7, "resin over a mesh that nobody read the cores against", (*s.ready, MESH, MIX, POUR)),
    (8, "a bridge that never comes off", (*s.ready, BRIDGE, Attest(what="released"))),
    (8, "what was never put on is taken off", (*s.ready, acts.TakeOff(called="ties here"))),
    (9, "wiped while it is hot", s.without(s.insulated[3:])),
    (9, "poured after it has gelled", (*s.ready, MIX, acts.Note(minutes=30), POUR)),
    (11, "a cut without a figure", s.instead(s.opened[0], mm=None)),
    (12, "the inside roughened on the cable", (
        *s.ready, *s.threaded, acts.Roughen(thing=s.OUTER, inside=True))),
    (9, "a window that has run out", (
        *s.ready, Step("a", "wipe", "surface", "build", acts=(WET,)), acts.Note(minutes=90),
        Step("b", "shrink", "seal", "build", timers=(Timer("open", "clean", "a", None, most_min=60.0),)))),
    (9, "a cut while resin waits to be poured", (*s.ready, MIX, s.opened[0])),
    (9, "a gun whose air does not shrink it", (*s.ready, Step(
        "a", "Shrink it", "seal", "build", heat=Heat(178.0), acts=(
            acts.Shrink(at=s.CORE, thing=replace(s.SLEEVE, shrinks_c=120.0)),)))),
    (11, "a figure in the cut that its words do not have", (
        *s.ready, Step("a", "Take the sheath off", "cut", "cut", text="To its mark.", acts=s.opened[:1]))),
    (17, "roughened beside mastic that lies open", (
        *s.ready, WET, acts.Note(minutes=6.0), replace(MASTIC, at=s.WHOLE), acts.Roughen(at=s.SHEATHS[0]))),
    (17, "roughened beside a bare connector", (
        *s.ready, *s.opened, *s.counted, *s.joined, acts.Roughen(at=s.SHEATHS[0]))),
    (15, "slid on, never threaded", s.without(s.threaded[:1])),
    (15, "threaded after joining", s.before(s.wiped, s.threaded[:1])),
    (16, "covered before anybody looked", s.without(s.proved[1:])),
    (16, "covered before anybody pulled", s.without(s.proved[:1])),
]  # fmt: skip
IN_ANOTHER_WORLD = [
    (0, "work where nobody measured the gas", replace(s.JOINT, hazardous=True), s.GOOD),
    (0, "a screen opened that nobody proved dead", Found((
        replace(s.A, skins={"sheath": 12.0, "screen": 11.0}), s.B)), s.GOOD),
    (4, "armour on an unarmoured cable", UNARMOURED, (*s.ready, acts.Look(at=Place("A", skin="armour")))),
    (7, "tested against ends that nobody isolates", NETWORK, (
        *s.ready, acts.Read(what="insulation", far=True))),
    (7, "a limit that lets a bad path pass", METALLED, (
        *s.ready, replace(EARTH, most_mohm=100.0))),
    (9, "a wait that cannot end", replace(s.JOINT, air_c=42.0), (
        *s.ready, acts.Wait(until="cool", under_c=40.0))),
    (12, "a sleeve that waits beside the iron", NEAR, (
        *s.ready, *s.opened, *s.threaded, replace(s.joined[0], how="soldered"))),
    (17, "heat where nothing is clear", replace(s.JOINT, clear_mm=40.0), s.GOOD),
    (18, "buried, and only tape seals it", replace(s.JOINT, wet=True), s.instead(
        s.closed[1], thing=replace(s.OUTER, seals="tape"))),
    (7, "a heating cable read through its element", replace(s.JOINT, heating=True), (
        *s.ready, *s.threaded, *s.wiped, *s.flashed, *s.closed, acts.Read(
            what="continuity", between=(s.BARE_A, s.BARE_B)))),
    (0, "a screen proved dead where there is none", s.JOINT, (*s.ready, Attest(what="screen-dead"))),
    (10, "a part on no list", s.had(tape=1.0), s.GOOD),
    (10, "a strap to armour that is not there", UNARMOURED, (*s.ready, STRAP)),
    (10, "a protective conductor that is not there", Found((s.A, replace(s.B, protective=""))), (
        *s.ready, STRAP)),
    (13, "three barrels for two", s.had(barrel=0.0), s.GOOD),
    (14, "the only insulation of a cable that runs on", THROUGH_CABLE, (*s.ready, SQUARE)),
]  # fmt: skip


@pytest.mark.parametrize("name", sorted(KEPT))
def test_what_keeps_the_laws_passes(name: str):
    assert s.told(*KEPT[name]) == []


@pytest.mark.parametrize(("law", "name", "work"), BROKEN, ids=[f"{n} {w}" for n, w, _ in BROKEN])
def test_what_breaks_a_law_is_named(law: int, name: str, work):
    found = s.told(*work)
    assert law in {b.law for b in found}
    assert all(b.words.endswith(".") and b.mend.endswith(".") for b in found)


@pytest.mark.parametrize(
    ("law", "name", "world", "work"), IN_ANOTHER_WORLD, ids=[f"{n} {w}" for n, w, *_ in IN_ANOTHER_WORLD]
)
def test_what_the_world_cannot_do_is_named(law: int, name: str, world: Found, work):
    assert law in s.laws(*work, found=world)


def test_a_limit_by_what_lies_on_the_path_passes():
    assert s.told(*s.ready, replace(EARTH, most_mohm=7.0), found=METALLED) == []


def test_every_law_has_a_scene():
    assert {n for n, *_ in (*BROKEN, *IN_ANOTHER_WORLD)} == set(LAWS)


def test_the_world_goes_on_after_a_broken_law():
    """One fault is one fault: what comes after it is judged by what is there."""
    found = s.told(*s.instead(s.opened[0], mm=None))
    assert [b.law for b in found] == [11]
