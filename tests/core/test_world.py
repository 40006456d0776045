"""What is true on the cable, whoever orders the work: plans are replayed in a small world of tails and parts
that knows nothing of the needs of steps (domain 21)."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import cases
from tests.contracts.test_layers import ALL
from tinknot.core.plan import Plan, StepOut
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook

PLANS = {name: plan_joint(joint, RuleBook.of()) for name, joint in ALL.items()}
THREADED = [name for name, p in PLANS.items() if any(s.kind == "park" for s in p.steps)]


class Impossible(AssertionError):
    """Nobody could have done that."""


@dataclass
class World:
    """Tails with the parts that lie on them, from the one put on first; what is joined, what is folded."""

    plan: Plan
    tails: dict[str, list[str]] = field(default_factory=lambda: {"a": [], "b": []})
    joined: bool = False
    folded: set[str] = field(default_factory=set)

    def do(self, step: StepOut) -> None:
        """One step of the hands. Raises Impossible."""
        if step.kind == "park":
            self._thread(step)
        elif step.kind == "join":
            self.joined = True
        elif step.kind == "armour":
            self.folded.add(step.end.lower())

    def _thread(self, step: StepOut) -> None:
        assert self.plan.park is not None
        side, entry = next(
            (side, e)
            for side, tail in (("a", self.plan.park.a), ("b", self.plan.park.b))
            for e in tail
            if e.step == step.id
        )
        if self.joined:
            raise Impossible(f"{step.title}: the cable is joined, it has no end any more")
        if entry.track == "sheath":
            on = [e.layer for e in (*self.plan.park.a, *self.plan.park.b) if e.track != "sheath"]
            over = [x for x in self.tails[side] if x in on]
            if over:
                raise Impossible(f"{step.title}: it would have to pass {over}, which wait expanded")
            if side in self.folded:
                raise Impossible(f"{step.title}: the armour is folded back in its way")
        self.tails[side].append(entry.layer)

    def end(self) -> None:
        """All done: what lies on a tail lies in the order in which it comes off again. Raises Impossible."""
        assert self.plan.park is not None
        for side, tail in (("a", self.plan.park.a), ("b", self.plan.park.b)):
            whole = [e.layer for e in tail if e.track == "sheath"]
            lies = [x for x in self.tails[side] if x in whole]
            if lies != whole:
                raise Impossible(f"on {side} lie {lies}; they come off as {whole}")


def replayed(plan: Plan, pick: Callable[[list[StepOut]], StepOut]) -> None:
    """The whole work in an order that the steps' needs allow. Raises Impossible."""
    world, done, left = World(plan), set[str](), list(plan.steps)
    while left:
        step = pick([s for s in left if done.issuperset(s.needs)])
        world.do(step)
        done.add(step.id)
        left.remove(step)
    world.end()


def needs_between(plan: Plan, kind: str) -> Iterator[tuple[int, str]]:
    """(index of a step, what it needs) where both are of a kind."""
    of = {s.id for s in plan.steps if s.kind == kind}
    yield from ((n, need) for n, s in enumerate(plan.steps) if s.id in of for need in s.needs if need in of)


@pytest.mark.parametrize("name", THREADED)
@cases(12)
@given(data=st.data())
def test_any_order_that_is_allowed_can_be_done(name: str, data):
    replayed(PLANS[name], lambda ready: data.draw(st.sampled_from(ready), label="next"))


@pytest.mark.parametrize("name", THREADED)
def test_the_order_that_is_shown_can_be_done(name: str):
    replayed(PLANS[name], lambda ready: ready[0])


@pytest.mark.parametrize("name", THREADED)
def test_without_any_one_need_of_threading_somebody_comes_to_grief(name: str):
    plan = PLANS[name]
    for n, need in needs_between(plan, "park"):
        step = plan.steps[n]
        loose = step.model_copy(update={"needs": [x for x in step.needs if x != need]})
        without = plan.model_copy(update={"steps": [*plan.steps[:n], loose, *plan.steps[n + 1 :]]})

        def late(ready: list[StepOut], last: str = need) -> StepOut:
            return next((s for s in ready if s.id != last), ready[0])

        with pytest.raises(Impossible):
            replayed(without, late)


def test_there_are_needs_of_threading_to_be_dropped():
    assert sum(1 for name in THREADED for _ in needs_between(PLANS[name], "park")) > 20


@pytest.mark.parametrize("name", sorted(PLANS))
def test_words_follow_the_joint(name: str):
    """What a step or an inspection speaks of is there, and what it takes is in the materials."""
    plan = PLANS[name]
    said = " ".join(f"{s.text} {s.look} {s.caution}" for s in plan.steps).lower()
    things = (
        " ".join(m.what for m in plan.materials).lower() + " " + " ".join(p.name for p in plan.parts).lower()
    )
    for thing in ("spring", "mesh", "spacer"):
        assert (thing in said) <= (thing in things), thing
    taped = not any(s.kind == "seal" and s.core for s in plan.steps)
    assert not (taped and "every core sleeved" in said)
    for end in ("A", "B"):
        lengths = {round(c.distance_mm, 3) for c in plan.cuts if c.end == end and c.kind == "core"}
        if not lengths:
            continue
        told = any(s.end == end and ("long one" in s.text or "short one" in s.text) for s in plan.steps)
        assert told == (len(lengths) > 1 and max(lengths) - min(lengths) >= 0.5)


def test_a_shell_has_a_spacer_beside_every_connector():
    for plan in PLANS.values():
        spacers = next((m.quantity for m in plan.materials if m.what == "spacer"), None)
        if spacers is not None:
            assert spacers >= sum(1 for s in plan.steps if s.kind == "join")
