"""What must hold for any sleeve, bundle, stagger and park (hypothesis)."""

from itertools import combinations
from math import hypot, pi, sqrt

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.conftest import cases
from tinknot.core.choosing.park import ParkItem, park
from tinknot.core.choosing.place import stagger
from tinknot.core.families.recipe import away_from
from tinknot.core.formulas.bundle import LOST, bundle, bundle_near
from tinknot.core.formulas.sleeve import Margins, Tube, cut_length_mm, fit, supplied_length_mm
from tinknot.core.formulas.sleeve_columns import supplied_lengths_mm
from tinknot.core.rulebook import RuleBook

# Best published ratios R/r of n equal circles in a circle, n = 1 … 20 (Graham et al. 1998, rounded up)
BEST_EQUAL = (
    1,
    2,
    2.1548,
    2.4143,
    2.7014,
    3,
    3,
    3.3048,
    3.6132,
    3.8131,
    3.9239,
    4.0297,
    4.2361,
    4.3285,
    4.5214,
    4.6155,
    4.7921,
    4.8638,
    4.8638,
    5.1224,
)
# Best published enclosing radii of circles with radii 1 … n, n = 5 … 10 (rounded up)
BEST_UNEQUAL = {5: 9.0014, 6: 11.0571, 7: 13.4622, 8: 16.2218, 9: 19.2332, 10: 22.0002}


@pytest.mark.parametrize("n", range(1, 21))
def test_equal_bundles_within_half_a_percent(n: int):
    assert bundle([2.0] * n).enclosing_diameter_mm / 2 <= BEST_EQUAL[n - 1] * 1.005


@pytest.mark.parametrize("n", BEST_UNEQUAL)
def test_unequal_bundles_within_two_percent(n: int):
    assert bundle([2.0 * (i + 1) for i in range(n)]).enclosing_diameter_mm / 2 <= BEST_UNEQUAL[n] * 1.02


def test_third_circle_beside_two_in_line():
    # radii 1, 1: a third of up to 2/3 fits beside them in the circle of radius 2 (Descartes)
    assert bundle([2, 2, 4 / 3]).enclosing_diameter_mm == pytest.approx(4)
    assert bundle([2, 2, 1.4]).enclosing_diameter_mm > 4


@cases(60)
@given(st.lists(st.floats(0.5, 40), min_size=1, max_size=7))
def test_bundle_holds_every_circle_without_overlap(ods: list[float]):
    found = bundle(ods)
    r = found.enclosing_diameter_mm / 2
    for (x, y), d in zip(found.centres_mm, ods, strict=True):
        assert hypot(x, y) + d / 2 <= r * (1 + 1e-6)
    for (i, p), (j, q) in combinations(enumerate(found.centres_mm), 2):
        assert hypot(p[0] - q[0], p[1] - q[1]) >= (ods[i] + ods[j]) / 2 * (1 - 1e-6)
    assert r >= sqrt(sum(d * d for d in ods)) / 2 * (1 - 1e-9)
    assert bundle(list(reversed(ods))).enclosing_diameter_mm == pytest.approx(
        found.enclosing_diameter_mm, rel=1e-9
    )


@st.composite
def tubes(draw: st.DrawFn) -> Tube:
    r = draw(st.floats(1, 40))
    x = r * draw(st.floats(1.1, 6))
    return Tube(x, r, draw(st.floats(0.2, 4)), draw(st.floats(-15, 5)))


@given(
    st.lists(tubes(), min_size=1, max_size=5),
    st.lists(st.tuples(st.floats(0, 80), st.floats(0.05, 0.99)), min_size=2, max_size=8),
)
def test_cut_lengths_of_many_are_those_of_each(many: list[Tube], steps: list[tuple[float, float]]):
    """Slopes, steps and level stretches, all narrower than the narrowest sleeve."""
    narrowest = min(t.expanded_id_mm for t in many)
    points, x = [], 0.0
    for dx, share in steps:
        x += dx if len(points) % 3 else 0.0
        points.append(
            (x, share * narrowest if len(points) % 2 else points[-1][1] if points else share * narrowest)
        )
    columns = (
        np.array([getattr(t, k) for t in many])
        for k in ("expanded_id_mm", "recovered_id_mm", "longitudinal_change_pct")
    )
    found = supplied_lengths_mm(*columns, points)
    for t, length in zip(many, found, strict=True):
        assert length == pytest.approx(supplied_length_mm(t, points), rel=1e-9, abs=1e-9)


@given(tubes(), st.floats(0, 1))
def test_wall_keeps_its_volume(tube: Tube, f: float):
    d = tube.expanded_id_mm - f * (tube.expanded_id_mm - tube.recovered_id_mm)
    w = tube.wall_mm(d)
    volume = pi * w * (d + w) * tube.length_factor(d)  # per supplied length
    free = (
        pi
        * tube.recovered_wall_mm
        * (tube.recovered_id_mm + tube.recovered_wall_mm)
        * (1 + tube.longitudinal_change_pct / 100)
    )
    assert volume == pytest.approx(free, rel=1e-9)


@given(tubes(), st.floats(1, 200), st.floats(1, 200))
def test_fit_is_exactly_the_two_edges(tube: Tube, passed: float, sealed: float):
    m = Margins()
    f = fit(tube, passed, sealed, m)
    assert (f.verdict in ("fits", "will-not-grip")) == (f.pass_short_by_mm == 0)
    assert (f.verdict in ("fits", "will-not-pass")) == (f.grip_short_by_mm == 0)
    if f.verdict == "fits":  # a sleeve of less than the ratio needed never fits
        assert f.ratio_of_sleeve >= f.ratio_needed * (1 - 1e-8)


@given(tubes(), st.floats(0, 1), st.floats(0, 1), st.floats(1, 500))
def test_supplied_length_matches_summing_small_pieces(tube: Tube, u: float, v: float, length: float):
    span = tube.expanded_id_mm - tube.recovered_id_mm * 0.8
    a, b = tube.expanded_id_mm - u * span, tube.expanded_id_mm - v * span
    n = 4000  # midpoint rule, an independent method
    summed = sum(length / n / tube.length_factor(a + (b - a) * (i + 0.5) / n) for i in range(n))
    assert supplied_length_mm(tube, ((0, a), (length, b))) == pytest.approx(summed, rel=1e-5)
    assert cut_length_mm(tube, ((0, a), (length, b)), 2) >= summed


@given(
    st.integers(1, 5),
    st.integers(1, 5),
    st.floats(5, 90),
    st.floats(10, 150),
    st.floats(0, 60),
    st.floats(0, 6),
)
def test_stagger_is_buildable_and_least(
    cores: int, steps: int, connector: float, sleeve: float, more: float, butt: float
):
    assume(steps <= cores)
    needed, s = sleeve + more, max(sleeve, connector)
    found = stagger(
        cores,
        connector,
        sleeve,
        clear_core_mm=15,
        between_mm=5,
        butt_gap_mm=butt,
        steps=steps,
        side_needed_mm=needed,
    )
    for c in found.cores:
        assert c.cut_a_mm + c.cut_b_mm == pytest.approx(found.gap_mm - butt)
        assert max(c.cut_a_mm, c.cut_b_mm) >= needed - 1e-6
        assert c.centre_mm >= 15 + s / 2 - 1e-6
        assert found.gap_mm - c.centre_mm >= 15 + s / 2 - 1e-6
    # an exhaustive walk over shifts finds no shorter gap
    bases = [15 + s / 2 + i * (s + 5) for i in range(steps)]
    reach = needed + butt / 2
    for step in range(int(needed) + 2):
        shift = float(step)
        gap = max(
            [steps * s + (steps - 1) * 5 + 30 + shift]
            + [reach + b + shift for b in bases if b + shift < reach - 1e-6]
        )
        assert found.gap_mm <= gap + 1e-6


@given(
    st.lists(st.tuples(st.integers(10, 300), st.sampled_from(["a", "b", "either"])), max_size=7),
    st.integers(0, 900),
    st.integers(0, 900),
)
def test_park_equals_trying_everything(parts: list[tuple[int, str]], free_a: int, free_b: int):
    items = [ParkItem(f"p{i}", float(x), on, i) for i, (x, on) in enumerate(parts)]
    found = park(items, free_a, free_b, between_mm=10, keep_away_mm=5)

    def used(on: list[ParkItem]) -> float:
        return sum(i.length_mm for i in on) + 10 * (len(on) - 1) + 5 if on else 0

    best = None
    for mask in range(2 ** len(items)):
        a = [i for k, i in enumerate(items) if mask >> k & 1]
        b = [i for k, i in enumerate(items) if not mask >> k & 1]
        if any(i.on == "b" for i in a) or any(i.on == "a" for i in b):
            continue
        over = max(0, used(a) - free_a) + max(0, used(b) - free_b)
        key = (over, abs(used(a) - used(b)), [i.id for i in reversed(a)])
        best = min(best, key) if best else key
    assert best is not None
    assert (found.over_a_mm + found.over_b_mm, abs(found.used_a_mm - found.used_b_mm), list(found.a)) == best
    assert found.fits == (best[0] == 0)


@given(st.lists(st.floats(1, 20), min_size=2, max_size=5), st.floats(0.3, 3), st.integers(0, 4))
def test_places_drawn_next_to_each_other_never_lose_their_way(
    diameters: list[float], factor: float, which: int
):
    """One circle of a bundle swells or shrinks, as a core does at its connector: the places found from
    those before are no wider than pushing the old ones apart would be, and nothing overlaps."""
    before = bundle(diameters).centres_mm
    now = [d * (factor if i == which % len(diameters) else 1.0) for i, d in enumerate(diameters)]
    found = bundle_near(now, before)
    pairs = list(combinations(range(len(now)), 2))
    for i, j in pairs:
        apart = hypot(found[i][0] - found[j][0], found[i][1] - found[j][1])
        assert apart >= (now[i] + now[j]) / 2 * (1 - 1e-6)
    gaps = [hypot(before[i][0] - before[j][0], before[i][1] - before[j][1]) for i, j in pairs]
    spread = max((now[i] + now[j]) / 2 / gap for (i, j), gap in zip(pairs, gaps, strict=True))
    pushed = max(hypot(x * spread, y * spread) + d / 2 for (x, y), d in zip(before, now, strict=True))
    assert max(hypot(x, y) + d / 2 for (x, y), d in zip(found, now, strict=True)) <= pushed * LOST * (
        1 + 1e-6
    )


@given(
    st.lists(
        st.tuples(
            st.tuples(st.floats(-200, 0), st.floats(0, 200)), st.sampled_from(("crimp", "heat", "air"))
        ),
        max_size=5,
    ),
    st.floats(0, 200),
)
def test_the_nearest_part_is_as_far_from_all_that_is_worked_as_the_rule_book_has_it(worked, half):
    """Law 12: 10 mm from a crimping tool, 30 from an iron, 50 from hot air with reflector and shield."""
    a, b = away_from(RuleBook.of(), worked, half)
    reach = {"crimp": 10, "heat": 30, "air": 50}
    assert min(a, b) >= 10
    for (low, high), how in worked:
        assert low - (-half - a) >= reach[how] - 1e-9
        assert half + b - high >= reach[how] - 1e-9


def test_a_part_waits_farther_where_heat_works_near_its_cut():
    """A solder sleeve up to 4 mm past the cut on B: 54 mm behind it; on A a crimp's 10 mm are enough."""
    assert away_from(RuleBook.of(), [((-20, 74), "air"), ((-60, -40), "crimp")], 70) == (10, 54)
