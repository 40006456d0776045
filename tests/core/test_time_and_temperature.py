"""Pot life and cure: hand derivations, an independent integration, and what must always hold."""

from math import exp, log

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_calculators import calc
from tinknot.core.errors import InputError
from tinknot.core.formulas.curing import CureClock, LogEntry
from tinknot.core.formulas.timelaw import TimeLaw, TimePoint, pour_window

TWO = [{"temperature_c": 10, "minutes": 240}, {"temperature_c": 30, "minutes": 60}]
LAW = TimeLaw((TimePoint(10, 240), TimePoint(30, 60)))


def arrhenius(t: float) -> float:
    """The line through TWO, written out: ln t = ln 240 + (1/T − 1/283.15)·B."""
    b = log(240 / 60) / (1 / 283.15 - 1 / 303.15)
    return 240 * exp(b * (1 / (t + 273.15) - 1 / 283.15))


def test_between_the_points_arrhenius():
    assert LAW.cure_min(20) == pytest.approx(arrhenius(20), rel=1e-12)
    assert LAW.pot_life_min(20) == pytest.approx(arrhenius(20), rel=1e-12)
    assert arrhenius(20) == pytest.approx(117.20, abs=0.01)


def test_beyond_the_points_the_cautious_law():
    line, doubled = arrhenius(-10), 240 * 2**2
    assert line > doubled  # quadrupling over 20 °C is doubling each 10 °C; 1/T bends it upward in the cold
    assert LAW.cure_min(-10) == pytest.approx(line)
    assert LAW.pot_life_min(-10) == pytest.approx(doubled)
    assert LAW.cure_min(60) == 60
    assert LAW.pot_life_min(50) == pytest.approx(min(arrhenius(50), 60 / 2**2))


def test_one_point_doubles_in_the_cold():
    law = TimeLaw((TimePoint(20, 120),))
    assert (law.cure_min(0), law.cure_min(35)) == (480, 120)
    assert (law.pot_life_min(0), law.pot_life_min(40)) == (480, 30)


def test_points_must_make_sense():
    for points, path in (
        ([TWO[0], TWO[0]], "/points/1/temperature_c"),
        ([{"temperature_c": 10, "minutes": 5}, {"temperature_c": 20, "minutes": 6}], "/points/1/minutes"),
        ([], "/points"),
    ):
        with pytest.raises(InputError) as fault:
            calc("pot-life", points=points, temperature_c=20, mix_minutes=1)
        assert fault.value.errors[0].path == path


def test_pour_window():
    found = calc("pot-life", points=[{"temperature_c": 20, "minutes": 30}], temperature_c=30, mix_minutes=5)
    assert found == {"pot_life_min": 15, "pour_window_min": 10, "refused": False}
    late = calc("pot-life", points=[{"temperature_c": 20, "minutes": 30}], temperature_c=30, mix_minutes=15)
    assert late["refused"]
    assert late["pour_window_min"] == 0


def test_cure_at_one_temperature_by_hand():
    """Half an hour at 20 °C of two, then half an hour at 10 °C of four: a quarter and an eighth."""
    points = [{"temperature_c": 20, "minutes": 120}]
    log_ = [
        {"at_min": 0, "temperature_c": 20},
        {"at_min": 30, "temperature_c": 20},
        {"at_min": 30.000001, "temperature_c": 10},
        {"at_min": 60.000001, "temperature_c": 10},
    ]
    found = calc("cure", points=points, least_temperature_c=5, log=log_)
    assert found["fraction"] == pytest.approx(0.25 + 0.125, rel=1e-5)
    assert found["remaining_min"] == pytest.approx((1 - 0.375) * 240, rel=1e-5)
    assert found["full_at_min"] == pytest.approx(60 + 150, rel=1e-5)


def test_nothing_counts_below_the_least_temperature():
    points = [{"temperature_c": 20, "minutes": 120}]
    cold = [{"at_min": 0, "temperature_c": 4}, {"at_min": 600, "temperature_c": 4}]
    found = calc("cure", points=points, least_temperature_c=5, log=cold)
    assert found == {"fraction": 0, "full_at_min": None, "remaining_min": None}
    # from 0 to 10 °C in 100 min the upper half counts: T = t/10, rate = 2^((T − 20)/10)/120
    ramp = [{"at_min": 0, "temperature_c": 0}, {"at_min": 100, "temperature_c": 10}]
    found = calc("cure", points=points, least_temperature_c=5, log=ramp)
    by_hand = 100 / 120 / log(2) * (2**-1 - 2**-1.5)
    assert found["fraction"] == pytest.approx(by_hand, rel=1e-4)


def test_full_inside_the_log_and_on_its_clock():
    points = [{"temperature_c": 20, "minutes": 100}]
    log_ = [{"at_min": 50, "temperature_c": 20}, {"at_min": 400, "temperature_c": 20}]
    found = calc("cure", points=points, least_temperature_c=5, log=log_)
    assert found == {"fraction": 1, "full_at_min": pytest.approx(150), "remaining_min": 0}


@given(
    st.lists(st.tuples(st.floats(0.1, 500), st.floats(-20, 60)), min_size=1, max_size=6),
    st.floats(-10, 30),
)
def test_cure_equals_a_plain_sum(steps: list[tuple[float, float]], least: float):
    """Against the trapezoid rule on a fine grid, and the degree never falls."""
    clock, at, log_ = CureClock(LAW, least), 0.0, [LogEntry(0.0, 15.0)]
    for minutes, temperature in steps:
        at += minutes
        log_.append(LogEntry(at, temperature))
    found = clock.degree(log_)
    fine = np.linspace(0, at, 20001)
    temperatures = np.interp(fine, [e.at_min for e in log_], [e.temperature_c for e in log_])
    rates = np.array([1 / LAW.cure_min(t) if t >= least else 0.0 for t in temperatures])
    plain = min(1.0, float(np.trapezoid(rates, fine)))
    assert found.fraction == pytest.approx(plain, rel=2e-3, abs=2 * at / 20000 * rates.max())
    earlier = clock.degree(log_[:-1])
    assert found.fraction >= earlier.fraction - 1e-12
    if found.full_at_min is not None and found.full_at_min <= at:
        assert found.fraction == 1


@given(st.floats(-60, 90), st.floats(0, 20))
def test_colder_is_never_faster(temperature: float, colder_by: float):
    assert LAW.cure_min(temperature - colder_by) >= LAW.cure_min(temperature) * (1 - 1e-12)
    assert LAW.pot_life_min(temperature - colder_by) >= LAW.pot_life_min(temperature) * (1 - 1e-12)


@given(st.floats(-60, 90))
def test_the_cautious_laws_bound_each_other(temperature: float):
    assert LAW.pot_life_min(temperature) <= LAW.cure_min(temperature) * (1 + 1e-12)
    window = pour_window(LAW, temperature, 5)
    assert window.refused == (window.pour_window_min <= window.pot_life_min * 1e-9)
