"""Packs of resin against the clock: a pair of hands does one thing at a time, and nothing is in too late."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_power import stocked
from tests.power import BUILDS, RESIN, file
from tinknot.core.formulas.pour import pour_packs, too_late
from tinknot.core.plan.plan import Plan
from tinknot.core.planning.solve import plan_joint

CAST = BUILDS["armoured to plain, cast, wet"]
times = st.floats(0.5, 8)


def planned(**build) -> Plan:
    found = plan_joint(file(CAST | {"build": CAST.get("build", {}) | build}))
    assert found.verdict == "planned"
    assert found.resin is not None
    return found


@given(st.lists(st.floats(50, 2000), min_size=1, max_size=8), times, st.floats(3, 60), st.integers(1, 3))
def test_hands_do_one_thing_at_a_time(volumes, mix_min, pot_life_min, persons):
    required = sum(volumes) - volumes[-1] / 2
    packs = pour_packs(
        volumes, required, mix_min=mix_min, pot_life_min=pot_life_min, ml_per_min=300, persons=persons
    )
    poured = sum(p.pour_to_min - p.pour_from_min for p in packs) * 300
    assert poured == pytest.approx(required)
    for p in packs:
        assert p.mix_to_min - p.mix_from_min == pytest.approx(mix_min)
        assert p.pour_from_min >= p.mix_to_min - 1e-9
        assert p.gels_at_min == pytest.approx(p.mix_from_min + pot_life_min)
    for one, two in pairwise(packs):
        assert two.pour_from_min >= one.pour_to_min - 1e-9  # one spout
        free = one.mix_to_min if persons > 1 else one.pour_to_min
        assert two.mix_from_min >= free - 1e-9
    if too_late(packs) is None:
        assert all(p.pour_to_min <= p.gels_at_min * (1 + 1e-9) for p in packs)
        assert all(two.pour_to_min <= one.gels_at_min * (1 + 1e-9) for one, two in pairwise(packs))


def test_seven_packs_are_kneaded_one_by_one():
    """Kneaded together they take 7 × 3 min, longer than a pot life of 15; one by one each is in 8 min after
    the one before was opened. With a pot life of 7.5 that is too late, unless two share the work."""
    made = {"mix_min": 3, "ml_per_min": 400}
    volumes, required = [400] * 7, 2800
    assert too_late(pour_packs(volumes, required, pot_life_min=15, persons=1, **made)) is None
    late = too_late(pour_packs(volumes, required, pot_life_min=7.5, persons=1, **made))
    assert late is not None
    assert (late.pack, late.pour_to_min) == (2, 8)
    assert too_late(pour_packs(volumes, required, pot_life_min=7.5, persons=2, **made)) is None


@pytest.mark.parametrize("persons", [1, 2])
def test_each_pack_has_its_own_mixing_pour_and_clock(persons):
    plan = planned(persons=persons)
    many = sum(p.count for p in plan.resin.packs)
    mixes = [s for s in plan.steps if s.kind == "mix"]
    pours = [s for s in plan.steps if s.action == "Poured"]
    assert (len(mixes), len(pours), len(plan.resin.timeline)) == (many, many, many)
    assert many > 1
    for n, (mix, pour) in enumerate(zip(mixes, pours, strict=True)):
        own = {t.after: t.most_min for t in pour.timers}
        assert own[mix.id] == pytest.approx(plan.resin.pour_window_min)
        if n:
            assert own[mixes[n - 1].id] == pytest.approx(plan.resin.pour_window_min)
            assert mix.needs == [pours[n - 1].id if persons == 1 else mixes[n - 1].id]
    cure = next(s.cure for s in plan.steps if s.cure)
    assert cure.since == pours[-1].id


def test_one_pack_is_mixed_and_poured_in_two_steps():
    plan = plan_joint(file(stocked(CAST, resins=[RESIN | {"volume_ml": 2500}])))
    assert plan.resin is not None
    assert [p.count for p in plan.resin.packs] == [1]
    assert [s.title for s in plan.steps if s.kind == "mix" or s.action == "Poured"] == [
        "Mix the resin",
        "Pour",
    ]
