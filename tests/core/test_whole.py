"""The whole joint chosen together: equal to trying every choice, and where layer by layer goes wrong."""

from dataclasses import replace
from itertools import pairwise, product
from math import inf
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.joints import CORE_SLEEVE, OUTER_SLEEVES, joint, joint_dict
from tests.power import ARMOURED, BUILDS, PLAIN, file
from tinknot.core.choosing.fitting import ANYTHING, Option
from tinknot.core.choosing.whole import around, best, greedy, last_worth, worth
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.straight import search
from tinknot.core.families.straight.recipe import StraightRecipe
from tinknot.core.joint.file import JointFile
from tinknot.core.model import parse
from tinknot.core.planning.solve import plan_joint
from tinknot.core.rulebook import RuleBook

OPTION = st.builds(
    Option,
    id=st.sampled_from("abcdef"),
    thin=st.booleans(),
    tight=st.booleans(),
    waste_mm=st.sampled_from([0.0, 40.0, 149.0]),
    price=st.sampled_from([1.0, 2.0, 7.5, inf]),
    comfort=st.sampled_from([0.01, 0.06, 0.3]),
)


@given(st.lists(st.lists(OPTION, max_size=4), min_size=1, max_size=3), st.data())
def test_search_equals_trying_every_choice(layers: list[list[Option]], data: st.DataObject):
    """The outermost layer's options depend on what lies under it, as an outer sleeve's do; of some layers it
    is known what they are at best."""
    bounded = data.draw(st.lists(st.booleans(), min_size=len(layers), max_size=len(layers)))
    at_best = [
        replace(min(options, key=lambda o: worth((o,))), id="", waste_mm=0.0, price=0.0)
        if options and known
        else ANYTHING
        for options, known in zip(layers, bounded, strict=True)
    ]
    closed = data.draw(st.sets(st.tuples(st.sampled_from("abcdef"), st.sampled_from("abcdef")), max_size=12))

    def following(chosen: tuple[Option, ...]) -> list[Option]:
        options = sorted(layers[len(chosen)], key=lambda o: last_worth(o, around(chosen, at_best)))
        return [o for o in options if not chosen or (chosen[-1].id, o.id) not in closed]

    every = [c for c in product(*layers) if all((p.id, q.id) not in closed for p, q in pairwise(c))]
    found = best(at_best, following)
    assert (found is None) == (not every)
    if found is not None:
        assert worth(found) == min(worth(c) for c in every)
        by_layer = greedy(len(layers), lambda chosen: next(iter(following(chosen)), None))
        assert len(by_layer) < len(layers) or worth(by_layer) >= worth(found)


def test_worth_is_in_the_order_of_the_domain():
    plain = Option("m", False, False, 0.0, price=5.0, comfort=0.2)
    order = [
        (Option("a", False, False, 0.0, price=1.0, comfort=0.2), plain),  # price before comfort and id
        (plain, Option("a", False, False, 10.0, price=1.0, comfort=0.9)),  # waste before price
        (
            Option("z", False, False, 99.0, price=9.0, comfort=0.2),
            Option("a", False, True, 0.0, price=0.1, comfort=0.04),
        ),  # comfort of 0.05 before waste
        (
            Option("z", False, True, 99.0, price=9.0, comfort=0.01),
            Option("a", True, False, 0.0, price=0.1, comfort=0.9),
        ),  # wall before comfort
        (Option("m", False, False, 0.0, price=5.0, comfort=0.3), plain),  # the greater least comfort
        (Option("a", False, False, 0.0, price=5.0, comfort=0.2), plain),  # ids last
    ]
    for better, worse in order:
        assert worth((better,)) < worth((worse,))
    assert worth((plain, plain), unfit=1) > worth((Option("z", True, True, 500.0, price=99.0, comfort=0.0),))


def stocked(*sleeves: dict) -> JointFile:
    given = joint_dict()
    given["stock"]["sleeves"] = [*sleeves, *OUTER_SLEEVES]
    return parse(JointFile, given)


def test_a_core_sleeve_that_leaves_no_room_for_the_outer_is_passed_over():
    """A thick cheap core sleeve would be taken first; over it only 40 mm could pass, and that is not in
    stock."""
    thick = CORE_SLEEVE | {"id": "core-thick", "recovered_wall_mm": 3.2, "price_per_m": 0.1}
    alone = plan_joint(stocked(thick))
    assert alone.verdict == "nothing-fits"
    found = plan_joint(stocked(thick, CORE_SLEEVE))
    assert found.verdict == "planned"
    assert {p.part_id for p in found.parts if p.layer.startswith("core")} == {"core-9.5"}
    assert "core-thick would have been taken first, and then no outer sleeve fits" in found.chosen_together


def test_nothing_to_say_where_both_agree():
    assert plan_joint(joint()).chosen_together == ""


def test_a_part_settled_on_stays():
    given = joint_dict()
    other = CORE_SLEEVE | {"id": "core-other", "price_per_m": 9.0}
    given["stock"]["sleeves"].append(other)
    given["choice"] = {"core_sleeve": "core-other"}
    found = plan_joint(parse(JointFile, given))
    assert {p.part_id for p in found.parts if p.layer.startswith("core")} == {"core-other"}


@given(st.lists(OPTION, max_size=3), st.lists(OPTION, min_size=1, max_size=8))
def test_the_first_of_a_last_layer_makes_the_best_whole(inside: list[Option], last: list[Option]):
    first = min(last, key=lambda o: last_worth(o, around(inside, ())))
    assert worth((*inside, first)) == min(worth((*inside, o)) for o in last)


SLEEVE = st.fixed_dictionaries(
    {
        "recovered_id_mm": st.floats(1.0, 25.0),
        "ratio": st.floats(2.0, 6.0),
        "recovered_wall_mm": st.floats(0.4, 4.0),
        "longitudinal_change_pct": st.sampled_from([-10.0, -5.0, 0.0, 5.0]),
        "price_per_m": st.sampled_from([None, 2.0, 9.0]),
    }
)

SLEEVED = [
    "armoured both, sleeved",
    "five, two steps, fire barrier",
    "a piece over each end",
    "moving, soldered",
]


@given(st.lists(SLEEVE, min_size=25, max_size=40), st.sampled_from(SLEEVED))
def test_what_a_cover_is_at_best_passes_over_nothing_that_is_better(drawn: list[dict[str, Any]], kind: str):
    """The same sleeves are chosen as when nothing is known of what is to come."""
    sleeves = [
        {k: v for k, v in s.items() if k != "ratio" and v is not None}
        | {"id": f"s{i:02}", "expanded_id_mm": s["recovered_id_mm"] * s["ratio"], "lined": True}
        for i, s in enumerate(drawn)
    ]
    armoured = "armoured both, sleeved"
    build = BUILDS[armoured] | {"ends": {"A": ARMOURED, "B": PLAIN}} if kind == "one" else BUILDS[kind]
    job = Job(file({**build, "stock": {**build["stock"], "sleeves": sleeves}}), RuleBook.of())

    found = StraightRecipe(job).solve()
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(search, "at_best", lambda work, bare: [ANYTHING] * len(work.covers))
        without = StraightRecipe(job).solve()
    assert [(c.layer, c.picked) for c in found.choices] == [(c.layer, c.picked) for c in without.choices]
