"""A catalogue judged all at once: the same as judging every line by itself, in the order of the domain."""

from datetime import date
from math import inf

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tinknot.core.choosing.choose import Candidate, Catalogue, Ranked, Window, _judge
from tinknot.core.choosing.fitting import COMFORT, Others
from tinknot.core.choosing.whole import last_worth, option
from tinknot.core.formulas.sleeve import Margins, Tube
from tinknot.core.tolerance import at_least

MARGINS = Margins()
TUBE = st.builds(
    lambda r, ratio, wall, change: Tube(r * ratio, r, wall, change),
    st.sampled_from([3.0, 5.0, 8.0, 13.86, 20.0]),
    st.sampled_from([1.5, 2.0, 3.0, 4.0]),
    st.sampled_from([0.6, 1.0, 2.5]),
    st.sampled_from([-12.0, -5.0, 0.0, 3.0]),
)
CANDIDATES = st.lists(
    st.builds(
        Candidate,
        id=st.uuids().map(str),
        tube=TUBE,
        lined=st.booleans(),
        stock_length_mm=st.sampled_from([None, 60.0, 300.0, 1000.0, 1220.0]),
        price_per_m=st.sampled_from([None, 2.0, 7.5]),
        opened=st.booleans(),
        use_by=st.sampled_from([None, date(2027, 1, 1), date(2028, 1, 1)]),
        on_hand_mm=st.sampled_from([None, 0.0, 250.0, 5000.0]),
        voltage_v=st.sampled_from([None, 400.0, 1000.0]),
        properties=st.sampled_from([frozenset(), frozenset({"lined"}), frozenset({"lined", "uv-resistant"})]),
    ),
    max_size=25,
    unique_by=lambda c: c.id,
)
WINDOWS = st.builds(
    lambda seat, step, covered, lined, properties, volts, wall, pieces: Window(
        seat + step,
        seat,
        ((0.0, seat), (covered / 2, seat), (covered / 2, seat + step), (covered, seat + step)),
        lined,
        properties=properties,
        voltage_v=volts,
        least_wall_mm=wall,
        wall_od_mm=seat,
        pieces=pieces,
    ),
    st.sampled_from([5.3, 8.0, 15.4]),
    st.sampled_from([0.0, 2.0, 6.0]),
    st.sampled_from([40.0, 180.0, 400.0]),
    st.booleans(),
    st.sampled_from([frozenset(), frozenset({"lined"})]),
    st.sampled_from([None, 690.0]),
    st.sampled_from([0.0, 1.0]),
    st.integers(1, 5),
)


def in_order(r: Ranked, pieces: int) -> tuple[object, ...]:
    """Domain 5: wall, comfort of 0.05, waste, opened or earliest lot, price, most comfort, id."""
    o = option(r, pieces)
    return (
        o.thin,
        o.tight,
        round(o.waste_mm, 6),
        not r.candidate.opened,
        r.candidate.use_by or date.max,
        round(o.price, 9),
        -o.comfort,
        o.id,
    )


@given(CANDIDATES, WINDOWS)
def test_all_at_once_is_one_by_one(candidates: list[Candidate], window: Window):
    judged = [_judge(c, window, MARGINS) for c in candidates]
    fit = sorted((r for r in judged if isinstance(r, Ranked)), key=lambda r: in_order(r, window.pieces))
    catalogue = Catalogue(candidates, MARGINS)
    found = catalogue.ranked(window)
    assert list(found) == fit
    assert len(found) == len(fit)
    assert found[:2] == fit[:2]
    assert bool(found) == bool(fit)
    assert {r.candidate.id for r in catalogue.rejected(window)} == {c.id for c in candidates} - {
        r.candidate.id for r in fit
    }
    for c in candidates:
        one = catalogue.found(window, c.id)
        assert one == next((r for r in fit if r.candidate.id == c.id), None)
    assert catalogue.found(window, "nobody") is None


@given(CANDIDATES, WINDOWS, st.sampled_from([Others(), Others(2.0, 0.3), Others(inf, 0.04)]))
def test_options_come_in_the_order_the_whole_joint_weighs_them(
    candidates: list[Candidate], window: Window, others: Others
):
    fit = Catalogue(candidates, MARGINS).ranked(window)
    expected = sorted((option(r, window.pieces) for r in fit), key=lambda o: last_worth(o, others))
    found = list(fit.options(others))
    assert [o.id for o in found] == [o.id for o in expected]
    for a, b in zip(found, expected, strict=True):
        assert (a.thin, a.tight) == (b.thin, b.tight)
        assert a.comfort == b.comfort
        assert a.waste_mm == pytest.approx(b.waste_mm)
        assert a.tight == (not at_least(a.comfort, COMFORT))


def test_what_was_found_is_forgotten_on_demand():
    catalogue = Catalogue([Candidate("a", Tube(30, 5, 1))], MARGINS)
    window = Window(10, 8, ((0.0, 8.0), (100.0, 8.0)))
    first = catalogue.ranked(window)
    assert catalogue.ranked(window) is first
    catalogue.forget()
    assert catalogue.ranked(window) is not first
