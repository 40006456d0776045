"""A small world of a joint: cables, tails, cores, parts and heat. It is told one step after the other and
says what nobody could have done, or would do to their harm. It knows nothing of the needs of steps: what it
knows is what lies over what (the stack), what kind of thing a step does, at which end and on which core."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

from tinknot.core.layers.contract import Layer
from tinknot.core.layers.trace.joining import Grommet
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut

OPENED = (
    "cut.square",
    "cut.outer-jacket",
    "braid",
    "cut.braid",
    "cut.inner-jacket",
    "cut.core",
    "cut.matrix",
    "cut.overlay",
    "strip",
    "clear",
    "cut.bus",
    "tape",
)  # how a flat end is laid open, from outside in
SPREADS = (OPENED.index("braid"), OPENED.index("strip"))
PREPARES = ("cut", "armour")
FOLDED = ("armour", "screen")  # laid back over the sheath, where they are not put on again
LATER = (".nozzle-2", ".last")  # adhesive that is laid on once the first mouth is shrunk
COVERS = ("surface", "wrap", "bond", "screen", "fit", "mix", "seal")


class Impossible(AssertionError):
    """Nobody could have done that, or somebody came to harm."""


def order_of_opening(step: StepOut) -> int:
    """How deep into a flat end a step goes; -1 for what does not open one."""
    found = [
        n for n, name in enumerate(OPENED) if step.id.startswith(f"{name}.") or step.id.startswith(f"{name}-")
    ]
    return found[-1] if found and step.end and not step.core else -1


@dataclass
class World:
    """What is done so far. `tails`: parts that lie on them, from the one put on first; `stack`: the layers
    inside out."""

    plan: Plan
    stack: Sequence[Layer]
    done: list[StepOut] = field(default_factory=list)
    tails: dict[str, list[str]] = field(default_factory=lambda: defaultdict(list))
    hot: dict[str, tuple[str, str]] = field(default_factory=dict)  # by layer: its core and end, empty for all

    def __post_init__(self) -> None:
        self.place = {x.id: n for n, x in enumerate(self.stack)}
        self.entries = {x.id for x in self.stack if isinstance(x, Grommet)}
        self.of = {
            x.id: [s for s in self.plan.steps if s.layer == x.id and s.station != "park"] for x in self.stack
        }

    # --- asked ----------------------------------------------------------------------------------------------

    def is_done(self, wanted: Callable[[StepOut], bool]) -> bool:
        """Whether every step of that sort is done."""
        ids = {s.id for s in self.done}
        return all(s.id in ids for s in self.plan.steps if wanted(s))

    def begun(self, wanted: Callable[[StepOut], bool]) -> bool:
        """Whether any step of that sort is done."""
        return any(wanted(s) for s in self.done)

    def must(self, step: StepOut, why: str, wanted: Callable[[StepOut], bool]) -> None:
        """Raises Impossible unless every step of that sort is done."""
        if not self.is_done(wanted):
            raise Impossible(f"{step.title}: {why}")

    def must_not(self, step: StepOut, why: str, wanted: Callable[[StepOut], bool]) -> None:
        """Raises Impossible when any step of that sort is done."""
        if self.begun(wanted):
            raise Impossible(f"{step.title}: {why}")

    # --- told -----------------------------------------------------------------------------------------------

    def do(self, step: StepOut) -> None:
        """One step of the hands. Raises Impossible."""
        self._safe(step)
        self._touch(step)
        if step.kind == "park":
            self._thread(step)
        elif step.hold == "measured" or (step.station == "measure" and step.kind == "inspect"):
            self.must_not(step, "the cable is cut already", lambda s: s.kind in PREPARES)
        elif step.kind in PREPARES or step.id.startswith("fold.") or order_of_opening(step) >= 0:
            self._open(step)
        elif step.kind == "join":
            self._join(step)
        elif step.kind in COVERS and step.station == "build":
            self._cover(step)
        elif step.kind == "identify":
            self._own(step)
        elif step.kind in ("adhesive", "orient"):
            self._mould(step)
        if step.kind in ("inspect", "wait") and not step.hold and step.layer in self.of:
            self._own(step)
        if step.id.startswith("look."):
            self._bare_end(step)
        if step.kind == "test":
            self._test(step)
        if step.hold:
            self._hold(step)
        if step.kind == "inspect" and step.station == "prove" and not step.hold:
            self.must(step, "it is energised for that, and not proved", lambda s: s.taken == "after")
        if step.kind in ("label", "sign"):
            self.must(step, "it is not proved", lambda s: s.hold == "sealed-and-proved")
        if step.hot:
            self.hot[step.layer] = (step.core, step.end)
        if step.kind == "wait" and step.id.startswith("cool."):
            heated = {t.after for t in step.timers}
            for layer in {s.layer for s in self.plan.steps if s.id in heated}:
                looks = {s.id for s in self.plan.steps if s.layer == layer and s.kind in ("seal", "inspect")}
                self.must(step, "nobody looked at it while it was hot", lambda s, looks=looks: s.id in looks)
                self.hot.pop(layer, None)
        self.done.append(step)

    def _safe(self, step: StepOut) -> None:
        if step.hold != "isolated":
            self.must(step, "it may be live", lambda s: s.hold == "isolated")
            if step.kind != "gate":
                self.must(step, "there may be gas", lambda s: s.kind == "gate")
        if step.station in ("cut", "park", "build"):
            self.must(step, "nobody knows that it is this cable", lambda s: s.hold == "measured")
        if step.kind == "fit" and step.station == "card":
            self.must_not(step, "half the kit is used up", lambda s: s.kind in PREPARES)

    def _touch(self, step: StepOut) -> None:
        """Nothing that was heated is wiped, taped, closed over or measured before it is cool."""
        if step.kind not in (*COVERS, "test", "bond") and step.hold not in ("connectors", "before-closing"):
            return
        for layer, (core, end) in self.hot.items():
            apart = (core and step.core and core != step.core) or (end and step.end and end != step.end)
            beside = step.hold == "connectors" and layer not in {
                s.layer for s in self.plan.steps if s.kind == "join"
            }
            first = step.taken == "before" or step.hold == "before-closing"
            by_itself = first and any(s.id == f"look.{end}" for s in self.plan.steps)
            if layer != step.layer and not apart and not beside and not by_itself:
                raise Impossible(f"{step.title}: {layer} is hot")

    def _thread(self, step: StepOut) -> None:
        assert self.plan.park is not None
        end, entry = next((end, e) for end, e in self.plan.park.parts() if e.step == step.id)
        self.must_not(step, "the end is joined", lambda s: s.kind == "join" and s.end in ("", end))
        if entry.track == "sheath":
            self._thread_whole(step, end)
        else:
            here = (f"cut.core.{end}.{entry.track}", f"strip.{end}.{entry.track}")
            self.must(step, "its core is not to length, or not bare", lambda s: s.id in here)
        self.tails[end].append(entry.layer)

    def _thread_whole(self, step: StepOut, end: str) -> None:
        assert self.plan.park is not None
        on_cores = [e.layer for _, e in self.plan.park.parts() if e.track != "sheath"]
        if over := [x for x in self.tails[end] if x in on_cores]:
            raise Impossible(f"{step.title}: it would have to pass {over}, which wait expanded")

        def here(s: StepOut) -> bool:
            return s.end == end

        def bare(s: StepOut) -> bool:  # strands that catch in it
            return s.id.startswith("strip.") and bool(s.core)

        self.must_not(
            step,
            "armour is folded back in its way",
            lambda s: here(s) and s.station == "cut" and s.kind in FOLDED,
        )
        self.must_not(
            step,
            "the end is spread in its way",
            lambda s: here(s) and (s.id.startswith("cut.core.") or order_of_opening(s) in SPREADS or bare(s)),
        )
        if step.layer not in self.entries:  # what the whole end is pushed through comes before its square cut
            self.must(
                step,
                "nobody knows yet how far back, or it would come off with the end",
                lambda s: here(s) and s.id.startswith(("cut.sheath.", "cut.square.")),
            )
        self.must(step, "it takes the dirt along", lambda s: here(s) and s.id.startswith("clean."))

    def _open(self, step: StepOut) -> None:
        self.must(
            step, "nobody knows how it was found", lambda s: s.taken == "found" or s.station == "measure"
        )
        at = [s for s in self.plan.steps if s.end == step.end]
        before = {
            "cut.armour": ("cut.sheath",),
            "fold": ("cut.armour",),
            "cut.bedding": ("cut.armour", "fold"),
            "cut.core": ("cut.sheath", "cut.bedding", "fold"),
        }
        if step.id.startswith("cut.sheath."):
            self.must(step, "nobody tried how deep", lambda s: s.id == "cut.scrap")
        stem = step.id.removesuffix(f".{step.core}").removesuffix(f".{step.end}")
        over = [f"{name}.{step.end}" for name in before.get(stem, ())]
        over += [f"cut.core.{step.end}.{step.core}"] if stem == "strip" and step.core else []
        self.must(step, "what lies over it is still on", lambda s: s.id in over)
        deep = order_of_opening(step)
        if deep >= 0:
            mine = {s.id for s in at if 0 <= order_of_opening(s) < deep}
            self.must(step, "what lies over it is still on", lambda s: s.id in mine)
            if step.id.startswith("cut.square."):
                pushed = {s.id for s in at if s.kind == "park" and s.layer in self.entries}
                self.must(step, "it would come off again", lambda s: s.id in pushed)

    def _mould(self, step: StepOut) -> None:
        """A part tried dry, what makes it tight laid on, what was squeezed out wiped off."""
        self.must(step, "what it goes over is not made", lambda s: s.layer in ("under", "screen"))
        if step.kind == "orient":
            self.must(step, "it was never threaded", lambda s: s.kind == "park" and s.layer == step.layer)
            return
        self.must(step, "it is hidden, and nobody looked", lambda s: s.hold == "before-closing")
        if step.id.startswith("wipe."):
            heated = {
                s.id for s in self.plan.steps if s.layer == step.layer and s.kind in ("seal", "inspect")
            }
            self.must(step, "it is not closed, or not looked at", lambda s: s.id in heated)
            return
        self.must(step, "it is not clean", lambda s: s.kind == "surface")
        turn = [".open", ".nozzle", ".bands"]
        before = [
            f"adhesive.{step.layer}{x}"
            for x in turn[: next((turn.index(x) for x in turn if step.id.endswith(x)), 0)]
        ]
        self.must(step, "it does not flow yet", lambda s: s.id in before)
        if step.id.endswith(LATER):
            self.must(step, "the first mouth is not shrunk", lambda s: s.id.endswith(".first"))
            again = f"adhesive.{step.layer}.nozzle-2"
            self.must(step, "the nozzle is an old one", lambda s: s.id == again and s.id != step.id)

    def _join(self, step: StepOut) -> None:
        ends = {step.end} if step.end else {s.end for s in self.plan.steps if s.end}
        mine = {s.id for s in self.plan.steps if s.end in ends and order_of_opening(s) >= 0}
        bare = {
            s.id for s in self.plan.steps if s.id.endswith(f".{step.core}") and s.kind == "cut" and s.core
        }
        self.must(step, "it is not laid open yet", lambda s: s.id in mine | bare)
        self.must(step, "nobody has counted what is threaded", lambda s: s.hold == "parked")
        self.must(step, "nobody knows which core is which", lambda s: s.id.startswith("identify."))
        self._under(step)

    def _under(self, step: StepOut) -> None:
        """What lies under it, on its core or its end, must be finished, looked at and cool."""
        here = self.place.get(step.layer)
        if here is None:
            return
        for other, n in self.place.items():
            mine = self.of[other]
            if step.kind == "surface" and any(s.kind == "adhesive" for s in mine):
                continue  # it is laid on what is made ready here
            if n >= here or not any(
                s.kind in (*COVERS, "join", "adhesive") and s.station == "build" for s in mine
            ):
                continue
            if step.core and any(s.core and s.core != step.core for s in mine):
                continue
            if len(own := self._ends(step.layer)) == 1 and not own & self._ends(other):
                continue
            onward = step.kind == "seal" and step.id != f"seal.{step.layer}"
            ids = {s.id for s in mine if s.station == "build" and (onward or not s.id.endswith(LATER))}
            self.must(step, f"{other} under it is not finished", lambda s, ids=ids: s.id in ids)

    def _cover(self, step: StepOut) -> None:
        self._under(step)
        self._own(step)
        self.must(step, "it was never threaded", lambda s: s.kind == "park" and s.layer == step.layer)
        cores = any(s.core and s.kind in COVERS for s in self.plan.steps)
        hold = "connectors" if step.core and cores else "before-closing"
        lands = {s.end for s in self.plan.steps if s.kind == "join" and s.end}
        opens = step.end in lands and not self.begun(lambda s: s.kind == "join" and s.end == step.end)
        alone = f"look.{step.end}"  # the end is looked at by itself
        own = any(s.id == alone for s in self.plan.steps)
        inside = step.layer == "under"  # a braid on its fitting, which the part goes over
        if not (opens or inside or self._beside(step)):  # sealed before an end is landed it hides nothing
            self.must(
                step,
                "nobody can look under it any more",
                lambda s: s.id == alone if own else s.hold == hold,
            )

    def _ends(self, layer: str) -> set[str]:
        """The ends a layer is on; more than one where any step of it is on none or on both."""
        return {e for s in self.of[layer] for e in ([s.end] if s.end else "AB")}

    def _beside(self, step: StepOut) -> bool:
        """Whether a layer on a core leaves its connector to be seen."""
        own = self.stack[self.place[step.layer]].lies() if step.core and step.layer in self.place else None
        joins = {s.layer for s in self.plan.steps if s.kind == "join" and s.core == step.core}
        spans = [y.span_mm for x in self.stack if x.id in joins and (y := x.lies())]
        return bool(own) and all(own.span_mm[1] <= a or b <= own.span_mm[0] for a, b in spans)

    def _own(self, step: StepOut) -> None:
        """Of one layer: turned and cleaned before it is closed, closed before it is looked at, then left
        alone."""
        if step.id.startswith("earth."):
            turn = ["earth.dead", "earth.clamp", "earth.cores", "earth.look"]
            self.must(step, "the proof is too old by then", lambda s: s.hold == "connectors")
            before = turn[: turn.index(step.id)]
            self.must(step, "a free end would be live", lambda s: s.id in before)
            return
        if step.id == "map.cores":
            self.must(
                step, "it is not joined and insulated yet", lambda s: bool(s.core) and s.station == "build"
            )
            self.must(step, "it may still give way", lambda s: s.id.startswith("cool.cores"))
            return
        if step.id.startswith("identify."):
            turn = ["identify.here", "identify.far", "identify.back"]
            before = turn[: turn.index(step.id)] if step.id in turn else []
            self.must(step, "nothing is tied yet", lambda s: s.id in before)
            self.must(step, "it is not bare", lambda s: s.end == "B" and s.kind == "cut" and bool(s.core))
            return
        if self._is_pour(step) or (step.kind == "mix" and step.id != "mix.resin"):
            self._pour(step)
        for s in self.of.get(step.layer, ()) if step.layer != "procedure" else ():
            elsewhere = s.core not in ("", step.core) or (bool(step.end) and s.end not in ("", step.end))
            packs = step.kind in ("mix", "seal") and (s.kind == "mix" or self._is_pour(s))
            held = step.id.startswith("hold.") and s.kind == "inspect"
            held |= step.id.endswith(".first") and s.kind == "seal" and s.id != f"seal.{step.layer}"
            sample = s.kind == "inspect" and step.cure is not None and s.layer == "cure"
            if s.id == step.id or elsewhere or packs or held or sample:
                continue
            pinched = step.id.startswith("pinch.") and s.id.startswith("seal.")
            let_go = step.kind == "inspect" and s.id.startswith("hold.")
            onward = step.kind == "seal" and step.id != f"seal.{step.layer}" and s.id.endswith(".first")
            soft = step.kind == "inspect" and s.cure is not None and s.layer == "cure"
            if self._rank(s) < self._rank(step) or pinched or let_go or onward or soft:
                self.must(step, f"{s.title} comes first", lambda d, s=s: d.id == s.id)

    @staticmethod
    def _rank(step: StepOut) -> int:
        """What comes first on one layer."""
        ranks = {
            "cut": 1,
            "surface": 1,
            "wrap": 2,
            "bond": 3,
            "screen": 3,
            "fit": 2,
            "mix": 3,
            "seal": 4,
            "inspect": 5,
        }
        apart = {"turn.": 0, "shell.lid": 6}  # turned before it is closed, closed above once it is topped up
        named = next((n for name, n in apart.items() if step.id.startswith(name)), None)
        return ranks.get(step.kind, 7) if named is None else named

    @staticmethod
    def _is_pour(step: StepOut) -> bool:
        return step.id.startswith(("pour.resin", "seal.resin"))

    def _pour(self, step: StepOut) -> None:
        """Packs one by one: none poured unmixed, none on one that is not in."""
        packs = [s for s in self.plan.steps if s.kind == "mix"]
        pours = [s for s in self.plan.steps if self._is_pour(s)]
        n = next(i for i, s in enumerate(packs if step.kind == "mix" else pours) if s.id == step.id)
        if step.kind == "seal":
            self.must(step, "it is not mixed", lambda s: s.id == packs[n].id)
        before = pours[:n] if step.kind == "seal" or "Open it only now" in step.text else []
        self.must(step, "the pack before it is not in", lambda s: s.id in {p.id for p in before})
        if step.kind == "mix":
            self.must(step, "the pack before it is not mixed", lambda s: s.id in {p.id for p in packs[:n]})

    def _test(self, step: StepOut) -> None:
        if step.taken == "found":
            self.must_not(step, "it is no longer as it was found", lambda s: s.kind in PREPARES)
        elif step.taken == "before":
            self.must(
                step,
                "the cores are not insulated yet",
                lambda s: (bool(s.core) and s.station == "build") or s.hold == "connectors",
            )
            self.must(step, "the place is not dressed", lambda s: s.layer in ("damage", "screen", "under"))
        elif step.taken == "after":
            self._closed(step)
        elif step.end:
            self._bare_end(step)
        else:
            self._own(step)
        if step.id == "test.before.continuity":
            self.must(step, "nobody knows which core is which", lambda s: s.id == "map.cores")
        if step.id.endswith(".insulation"):
            first = step.id.replace("insulation", "continuity")
            self.must(step, "nobody knows yet which core is which", lambda s: s.id == first)

    def _bare_end(self, step: StepOut) -> None:
        """A test or a look at one end by itself: all of it laid open, nothing of it landed or closed."""
        opens = {s.id for s in self.plan.steps if s.end == step.end and order_of_opening(s) >= 0}
        self.must(step, "it is not laid open", lambda s: s.id in opens)
        if step.kind == "inspect":
            tests = {s.id for s in self.plan.steps if s.kind == "test" and s.end == step.end}
            self.must(step, "it is not tested", lambda s: s.id in tests)
        landed = any(s.kind == "join" and s.end == step.end for s in self.plan.steps)
        shut = {"join"} if landed else {"join", *COVERS}
        self.must_not(
            step,
            "it is landed or closed: the reading tells something else",
            lambda s: s.end == step.end and s.kind in shut and s.station == "build",
        )

    def _closed(self, step: StepOut) -> None:
        self.must(
            step,
            "it is not closed, or not cold or hard yet",
            lambda s: s.station == "build" or s.kind == "wait",
        )

    def _hold(self, step: StepOut) -> None:
        if step.hold == "parked":
            self.must(step, "not everything is threaded", lambda s: s.kind == "park")
        elif step.hold == "connectors":
            self.must(step, "not all is joined", lambda s: s.kind == "join")
            joined = {s.end for s in self.plan.steps if s.kind == "join"}
            ends = {e for e in joined if e} or {s.end for s in self.plan.steps}
            opens = {
                s.id
                for s in self.plan.steps
                if s.end in ends and (order_of_opening(s) >= 0 or s.kind in PREPARES)
            }
            self.must(step, "an end is not laid open", lambda s: s.id in opens)
        elif step.hold == "before-closing":
            self.must(step, "it is not tested", lambda s: s.taken == "before")
            self.must(step, "nobody looked at the connectors", lambda s: s.hold == "connectors")
            self.must(step, "nobody knows which way round it lies", lambda s: s.kind == "orient")
        elif step.hold == "sealed-and-proved":
            self._closed(step)
            self.must(step, "it is not proved", lambda s: s.station == "prove" and not s.hold)
        elif step.hold == "released":
            self.must(step, "something is left to do", lambda s: s.hold != "released")

    def end(self) -> None:
        """All done: what lies on a tail lies in the order in which it comes off again. Raises Impossible."""
        if self.plan.park is None:
            return
        for tail in self.plan.park.by_end:
            whole = [e.layer for e in tail.parts if e.track == "sheath"]
            lies = [x for x in self.tails[tail.end] if x in whole]
            if lies != whole:
                raise Impossible(f"on {tail.end} lie {lies}; they come off as {whole}")


def replayed(plan: Plan, stack: Sequence[Layer], pick: Callable[[list[StepOut]], StepOut]) -> None:
    """The whole work in an order that the steps' needs allow. Raises Impossible."""
    world, done, left = World(plan, stack), set[str](), list(plan.steps)
    while left:
        step = pick([s for s in left if done.issuperset(s.needs)])
        world.do(step)
        done.add(step.id)
        left.remove(step)
    world.end()


def reached(plan: Plan, step: StepOut) -> set[str]:
    """Every step that must be done before `step`, by needs of needs."""
    by_id, found, look = {s.id: s for s in plan.steps}, set[str](), list(step.needs)
    while look:
        name = look.pop()
        if name not in found:
            found.add(name)
            look += by_id[name].needs
    return found
