"""What must be true before a step, as facts of a place and a thing, and what the hand makes true and untrue.

A step says which facts it needs, and what its acts make so follows from them. Which steps it waits for is
worked out from both (`core/planning/waiting.py`): nobody names another step."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal, TypeVar

from tinknot.core import acts
from tinknot.core.acts import Act, Place

T = TypeVar("T")
What = Literal[
    # said by a hold
    "isolated",
    "gas-free",
    "screen-dead",
    "measured",
    "counted",
    "covered",
    "proved",
    "released",
    # of the cable
    "cut",
    "rung",
    "folded",
    "rough",
    "clean",
    "named",
    # of a thing
    "threaded",
    "seated",
    "laid",
    "closed",
    "joined",
    "bonded",
    "bridged",
    "wound-in",
    "mixed",
    "full",
    "made",
    # seen, read, waited for
    "tried",
    "looked",
    "read",
    "hot",
    "cold",
    "cured",
    "noted",
    # all of the work
    "ready",
    "done",
]
EVERY = "*"  # every core there is
CORES = ("conductor", "connector", "insulation", "core")  # skins that every core has
AS_FOUND: frozenset[What] = frozenset(
    {"gas-free", "screen-dead", "counted", "cold", "cured", "named", "tried", "rough"}
)  # what is so before the work, unless a step of the plan is what makes it so

ANYWHERE = Place()


@dataclass(frozen=True)
class Fact:
    """Something that is so: `what`, `at` a place, of a `thing` (its layer's id). Of a need an empty end,
    core, skin or thing stands for any, the core `*` for every core. `when`: when a reading was taken.

    `cut`: what lies there is taken off; `rung`: a ring of it is; `ready`: all that lies inside of a place is
    on and good; `done`: so is all of a layer, or all there is; `made`: what no act tells of is made; `hot`:
    it was heated; `bonded`: something is joined on to what goes on."""

    what: What
    at: Place = ANYWHERE
    thing: str = ""
    when: str = ""

    @property
    def said(self) -> str:
        """In words, for whoever looks why a plan cannot be ordered."""
        words = [self.thing, self.at.said if self.at != ANYWHERE else "", self.when]
        return " ".join([self.what, *(w for w in words if w)])

    def meets(self, need: "Fact") -> bool:
        """Whether this, made so, is what is needed."""
        mine, asked = self.at, need.at
        return (
            self.what == need.what
            and need.thing in ("", self.thing)
            and need.when in ("", self.when)
            and (not asked.end or not mine.end or asked.end == mine.end)
            and asked.skin in ("", mine.skin)
            and _core_meets(mine, asked.core)
            and (self.what != "clean" or overlap(mine.span_mm, asked.span_mm))
        )


def _core_meets(mine: Place, asked: str) -> bool:
    every = not mine.core and mine.skin in CORES
    return asked in ("", mine.core) or every or (asked == EVERY and bool(mine.core))


def overlap(made: acts.Span | None, asked: acts.Span | None) -> bool:
    """Whether what was made along one stretch serves another; what has no stretch is everywhere, and only
    that serves where everywhere is asked for."""
    if made is None:
        return True
    return asked is not None and made[0] <= asked[1] and asked[0] <= made[1]


ISOLATED, GAS_FREE, SCREEN_DEAD, MEASURED = (
    Fact("isolated"),
    Fact("gas-free"),
    Fact("screen-dead"),
    Fact("measured"),
)
COUNTED, COVERED, PROVED, DONE = Fact("counted"), Fact("covered"), Fact("proved"), Fact("done")

CONNECTED = Fact("made", thing="connectors")  # every one of them, and looked at


def taken_off(end: str, skin: acts.Skin, core: str = "") -> Fact:
    """A layer of the cable taken off, or a core cut to its length."""
    return Fact("cut", Place(end, core, skin))


def of(what: What, thing: str) -> Fact:
    """A fact of a thing, wherever it is."""
    return Fact(what, thing=thing)


def over_core(core: str) -> tuple[Fact, ...]:
    """What goes over a joined core needs it looked at, and all that lies inside on it."""
    return Fact("looked", Place(core=core, skin="connector")), Fact("ready", Place(core=core))


def over_all(span_mm: acts.Span | None = None, end: str = "") -> tuple[Fact, ...]:
    """What goes over all cores needs the last look at them, and all that lies inside there."""
    return COVERED, Fact("ready", Place(end, span_mm=span_mm))


def makers(need: Fact, made: Iterable[tuple[Fact, T]]) -> list[T]:
    """Of what is made so, by whom, those who make what is needed."""
    return [by for fact, by in made if fact.meets(need)]


def made_by(does: Sequence[Act], taken: str = "") -> tuple[list[Fact], list[Fact]]:
    """What is so once all acts of a step are done, and not made untrue again in it; and what they make
    untrue. `taken`: when its readings are taken."""
    found: list[Fact] = []
    gone: list[Fact] = []
    for act in does:
        now = list(_unmade(act))
        gone += now
        found = [f for f in found if not any(f.meets(u) for u in now)]
        found += _made(act, taken)
    return ([*found, Fact("read", when=taken)] if taken else found), gone


PLAIN: dict[type[Act], What] = {
    acts.Wipe: "clean",
    acts.Roughen: "rough",
    acts.ThreadOn: "threaded",
    acts.SlideTo: "seated",
    acts.LayOn: "laid",
    acts.PourIn: "laid",
    acts.Shrink: "closed",
    acts.Close: "closed",
    acts.Mix: "mixed",
    acts.Look: "looked",
    acts.Try: "tried",
    acts.Note: "noted",
}  # what an act makes so at its place, of its thing


def _made(act: Act, taken: str) -> Iterator[Fact]:
    """What an act makes so."""
    at, thing = act.at, act.thing.id
    if what := PLAIN.get(type(act)):
        yield Fact(what, at, thing)
    if isinstance(act, (acts.Join, acts.Remove)):
        yield _joined_or_off(act)
    if (isinstance(act, acts.Shrink) and act.hot) or (isinstance(act, acts.Join) and act.how == "soldered"):
        yield Fact("hot", at, thing)
    match act:
        case acts.Attest():
            yield Fact(act.what)
        case acts.Mark():
            yield taken_off(at.end, "sheath")
        case acts.FoldBack():
            yield Fact("folded", Place(at.end, skin=act.what))
        case acts.Shrink():
            yield from (Fact("closed", place, thing) for place in act.seals_on)
        case acts.Bridge():
            yield of("bridged", act.called)
        case acts.PourIn(last=True):
            yield Fact("full", at)
        case acts.Read():
            yield Fact("read", at, act.what, taken)
        case acts.Wait():
            yield Fact("cold" if act.until == "cool" else "cured", at, thing)


def _joined_or_off(act: acts.Join | acts.Remove) -> Fact:
    """A core to its partner, or something on to a core that goes on; a layer off, or a ring of it."""
    if isinstance(act, acts.Remove):
        ring = act.at.span_mm and act.what == "insulation"
        return Fact("rung", act.at) if ring else taken_off(act.at.end, act.what, act.at.core)
    on = len(act.ends) == 1 and act.ends[0].skin == "conductor" and act.how != "pierced"
    return Fact("bonded" if on else "joined", act.at, act.thing.id)


def _unmade(act: Act) -> Iterator[Fact]:
    """What an act makes untrue."""
    if isinstance(act, acts.SlideTo):
        yield of("threaded", act.thing.id)
    elif isinstance(act, acts.Roughen):
        yield Fact("clean", act.at, act.thing.id)
