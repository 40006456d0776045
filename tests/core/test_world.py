"""What is true on the cable, whoever orders the work: plans are replayed in a small world of tails, parts and
heat that knows nothing of the needs of steps (domain 21)."""

from collections.abc import Iterator, Sequence
from functools import cache
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import FULL, cases
from tests.contracts.test_layers import ALL
from tests.core.world import Impossible, reached, replayed
from tinknot.core.families.file import file_of
from tinknot.core.families.registry import family_of
from tinknot.core.layers.contract import Layer
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook

RULES = RuleBook.of()
EXAMPLES = {p.stem: p for p in sorted(Path("examples").glob("*.json"))}
EVERY = sorted(EXAMPLES.keys() | ALL.keys())
NAMES = EVERY if FULL else EVERY[::3]


@cache
def solved(name: str) -> tuple[Plan, Sequence[Layer]]:
    """A joint's plan and the layers it is made from, worked out when it is first asked for."""
    joint = ALL.get(name) or file_of(EXAMPLES[name].read_text())
    layers = family_of(joint).recipe(joint, RULES, None, None).solve().layers
    plan = plan_joint(joint, RULES)
    if plan.verdict != "planned":
        pytest.skip("nothing fits")
    return plan, layers


def without_one(plan: Plan) -> Iterator[tuple[str, str, Plan]]:
    """(step, need, the plan without it) for every need that is not said by another one too."""
    for n, step in enumerate(plan.steps):
        for need in step.needs:
            loose = step.model_copy(update={"needs": [x for x in step.needs if x != need]})
            if need not in reached(plan, loose):
                steps = [*plan.steps[:n], loose, *plan.steps[n + 1 :]]
                yield step.id, need, plan.model_copy(update={"steps": steps})


@pytest.mark.parametrize("name", NAMES)
@cases(12)
@given(data=st.data())
def test_any_order_that_is_allowed_can_be_done(name: str, data):
    replayed(*solved(name), lambda ready: data.draw(st.sampled_from(ready), label="next"))


@pytest.mark.parametrize("name", NAMES)
def test_the_order_that_is_shown_can_be_done(name: str):
    replayed(*solved(name), lambda ready: ready[0])


@pytest.mark.parametrize("name", NAMES)
def test_without_any_one_need_somebody_comes_to_grief(name: str):
    """Each need is dropped in turn, and what it names is put off as long as the others allow."""
    missed = []
    whole, layers = solved(name)
    for step, need, plan in without_one(whole):

        def late(ready: list[StepOut], last: str = need) -> StepOut:
            return next((s for s in ready if s.id != last), ready[0])

        try:
            replayed(plan, layers, late)
        except Impossible:
            continue
        missed.append(f"{step} without {need}")
    assert missed == []


def test_there_are_needs_to_be_dropped():
    assert sum(1 for name in ALL for _ in without_one(solved(name)[0])) > 1500


@pytest.mark.parametrize("name", NAMES)
def test_words_follow_the_joint(name: str):
    """What a step or an inspection speaks of is there, and what it takes is in the materials."""
    plan, _ = solved(name)
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
    for plan, _ in map(solved, ALL):
        spacers = next((m.quantity for m in plan.materials if m.what == "spacer"), None)
        if spacers is not None and plan.closure != "sleeve-resin":  # there the cores lie under one sleeve
            assert spacers >= sum(1 for s in plan.steps if s.kind == "join")
