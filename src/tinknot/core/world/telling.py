"""The world told step by step, in words: what the hand did, what is so now, which laws broke."""

from collections.abc import Iterator

from tinknot.core import acts
from tinknot.core.acts import Act
from tinknot.core.figures import mm
from tinknot.core.world.world import World

DONE: dict[type[Act], str] = {
    acts.Attest: "said that it is so",
    acts.Remove: "taken off",
    acts.Mark: "marked",
    acts.FoldBack: "folded back",
    acts.Wipe: "wiped",
    acts.Roughen: "roughened",
    acts.Drill: "drilled",
    acts.LayOn: "laid on",
    acts.ThreadOn: "threaded on",
    acts.SlideTo: "slid to its place",
    acts.Shrink: "closed on what lies under it",
    acts.Close: "closed",
    acts.Mix: "mixed",
    acts.PourIn: "poured in",
    acts.Join: "joined",
    acts.Bridge: "put on",
    acts.TakeOff: "taken off again",
    acts.Read: "read",
    acts.Look: "looked at",
    acts.Try: "tried dry",
    acts.Tug: "pulled by hand",
    acts.Wait: "waited for",
    acts.Bend: "bent",
    acts.Note: "noted",
}  # what became of the thing or the place, by the kind of act


def act_words(act: Act) -> str:
    """One act: its thing, what became of it, and where."""
    what = act.thing.name
    match act:
        case acts.Attest(what=said):
            return f"{said.replace('-', ' ')}: {DONE[acts.Attest]}"
        case acts.Remove(what=skin, mm=far_mm):
            far = f", {mm(far_mm):g} mm" if far_mm is not None else ""
            return f"{skin} {DONE[acts.Remove]}{far}: {act.at.said}"
        case acts.Bridge(called=name) | acts.TakeOff(called=name):
            return f"{name} {DONE[type(act)]}"
        case acts.Wait(until=until):
            return f"{DONE[acts.Wait]} until {until}"
        case acts.Read(what=read):
            return f"{read} {DONE[acts.Read]}"
        case _:
            return f"{what or act.at.said} {DONE[type(act)]}" + (f": {act.at.said}" if what else "")


def world_words(w: World) -> Iterator[str]:
    """What is so now: what waits, what is hot, what is only put on for a while, what must be poured yet."""
    if w.waiting:
        yield "waits on the cable: " + ", ".join(
            f"{name} on {end}" for name, end in sorted(w.waiting.items())
        )
    if w.hot:
        yield "hot: " + ", ".join(sorted(w.hot))
    if bridges := [name for name, b in w.bridged.items() if not b.stays]:
        yield "put on for a while: " + ", ".join(bridges)
    if w.mixed:
        yield "must be in: " + ", ".join(f"{n} within {t - w.now:.0f} min" for n, t in w.mixed.items())
    if closed := [x.thing.name for x in w.laid if x.hides and not x.core]:
        yield "lies round all of it: " + ", ".join(closed)
