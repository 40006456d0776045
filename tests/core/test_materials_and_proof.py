"""Tape, resin, earth strap, gun, bend, insulation, slack: known answers, and resin against every order."""

from itertools import product
from math import hypot, pi, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_calculators import calc
from tinknot.core.errors import InputError
from tinknot.core.formulas.resin import Pack, order


def test_tape_by_hand():
    """Half-lap, stretched to double: width 25/√2, pitch half of it, two thicknesses a pass."""
    found = calc(
        "tape-wrap",
        substrate_od_mm=20,
        wrapped_length_mm=150,
        tape_width_mm=25,
        tape_thickness_mm=0.76,
        stretch=2,
        passes=2,
    )
    pitch, grows = 25 / sqrt(2) / 2, 2 * 0.76 / sqrt(2) * 2
    turns = 150 / pitch
    laid = sum(turns * hypot(pi * d, pitch) for d in (20 + grows / 2, 20 + 1.5 * grows))
    assert found["turns_per_pass"] == pytest.approx(turns)
    assert found["od_after_mm"] == pytest.approx(20 + 2 * grows)
    assert found["tape_length_mm"] == pytest.approx(laid / 2)


@pytest.mark.parametrize(("field", "value"), [("stretch", 0.9), ("overlap_pct", 100), ("tape_width_mm", 0)])
def test_tape_refuses(field: str, value: float):
    good = {"substrate_od_mm": 20, "wrapped_length_mm": 150, "tape_width_mm": 25, "tape_thickness_mm": 0.76}
    with pytest.raises(InputError) as fault:
        calc("tape-wrap", **(good | {field: value}))
    assert fault.value.errors[0].path == f"/{field}"


SHELL = [{"length_mm": 300, "inside_diameter_mm": 60}]
INSIDE = [{"length_mm": 300, "od_mm": 10, "count": 4}]


def test_resin_by_hand():
    found = calc(
        "resin-fill",
        shell=SHELL,
        inside=INSIDE,
        packs=[{"id": "big", "volume_ml": 500}, {"id": "small", "volume_ml": 300}],
    )
    net = pi / 4 * 300 * (60**2 - 4 * 10**2) / 1000
    assert found["shell_ml"] == pytest.approx(pi / 4 * 300 * 3600 / 1000)
    assert found["net_ml"] == pytest.approx(net)
    assert found["required_ml"] == pytest.approx(net * 1.08)  # 814.3: two packs, and 500 + 300 is too little
    assert found["packs"] == [{"id": "big", "count": 2}]
    assert found["left_over_ml"] == pytest.approx(1000 - net * 1.08)


def test_resin_says_what_is_missing():
    with pytest.raises(InputError, match="314 ml are missing of 814 ml"):
        calc("resin-fill", shell=SHELL, inside=INSIDE, packs=[{"id": "a", "volume_ml": 500, "stock": 1}])
    with pytest.raises(InputError, match="nothing is left to fill"):
        calc("resin-fill", shell=SHELL, inside=[{"length_mm": 300, "od_mm": 60}], packs=[])


def test_resin_equal_orders_by_input_order():
    assert order(400, [Pack("a", 100), Pack("b", 300), Pack("c", 200)]) == [1, 1, 0]
    assert order(400, [Pack("c", 200), Pack("a", 100), Pack("b", 300)]) == [2, 0, 0]
    assert order(400, [Pack("c", 200, 1), Pack("d", 200), Pack("b", 300)]) == [1, 1, 0]
    assert order(0.3, [Pack("a", 0.1)]) == [3]


@given(
    st.lists(st.tuples(st.integers(50, 900), st.integers(0, 3)), min_size=1, max_size=4),
    st.integers(60, 2500),
)
def test_resin_order_is_the_best_of_all(packs: list[tuple[int, int]], required: int):
    """Against every order there is."""
    given_packs = [Pack(str(i), float(v), n) for i, (v, n) in enumerate(packs)]
    every = [
        (sum(c), sum(n * v for n, (v, _) in zip(c, packs, strict=True)), tuple(-n for n in c))
        for c in product(*(range(n + 1) for _, n in packs))
    ]
    reaching = [e for e in every if e[1] >= required]
    if not reaching:
        with pytest.raises(InputError):
            order(required, given_packs)
        return
    assert tuple(-n for n in order(required, given_packs)) == min(reaching)[2]


def test_earth_strap():
    """IEC 60364-5-54: 5 kA for 0.4 s in copper insulated with PVC, k 143: 22.1 mm²."""
    found = calc("earth-strap", fault_current_a=5000, clearing_time_s=0.4, k=143)
    assert found["least_area_mm2"] == pytest.approx(22.114, abs=0.001)
    for t, words in ((0.05, "let-through"), (6, "leaves the strap")):
        with pytest.raises(InputError, match=words):
            calc("earth-strap", fault_current_a=5000, clearing_time_s=t, k=143)


def test_gun():
    points = [
        {"dial": 3, "temperature_c": 250},
        {"dial": 1, "temperature_c": 90},
        {"dial": 6, "temperature_c": 420},
    ]
    assert calc("gun-setting", calibration=points, target_c=170)["dial"] == pytest.approx(2)
    assert calc("gun-setting", calibration=points, target_c=420)["dial"] == 6
    outside = calc("gun-setting", calibration=points, target_c=500)
    assert outside["dial"] is None
    assert "420" in outside["reason"]
    with pytest.raises(InputError) as fault:
        calc("gun-setting", calibration=[*points, {"dial": 7, "temperature_c": 400}], target_c=300)
    assert fault.value.errors[0].path == "/calibration/3/temperature_c"


def test_flex():
    found = calc("flex", cable_od_mm=12, multiple=8, mandrels_mm=[100, 96, 60])
    assert found["mandrel_mm"] == 96
    assert found["outer_strain_pct"] == pytest.approx(100 / 9)
    none = calc("flex", cable_od_mm=12, multiple=8, mandrels_mm=[])
    assert none["mandrel_mm"] is None
    assert none["outer_strain_pct"] == pytest.approx(100 / 9)


def test_insulation():
    found = calc("insulation", reading_mohm=80, temperature_c=0, length_m=250, limit_mohm=80)
    assert found["at_20c_mohm"] == pytest.approx(20)
    assert found["mohm_km"] == pytest.approx(5)
    assert found["verdict"] == "pass"  # equal passes
    assert (
        calc("insulation", reading_mohm=79, temperature_c=60, length_m=1, limit_mohm=80)["verdict"] == "fail"
    )
    with pytest.raises(InputError):
        calc("insulation", reading_mohm=0, temperature_c=20, length_m=1, limit_mohm=1)


def test_slack_and_trace_length():
    assert calc("slack", loop_mm=500, least_loop_mm=100, per_remake_mm=150) == {
        "remakes_left": 2,
        "left_after_mm": 200,
    }
    assert calc("slack", loop_mm=50, least_loop_mm=100, per_remake_mm=150) == {
        "remakes_left": 0,
        "left_after_mm": 50,
    }
    assert calc("slack", loop_mm=0.7, least_loop_mm=0.1, per_remake_mm=0.1)["remakes_left"] == 6
    ends = [{"loop_mm": 300, "connection_mm": 200, "termination_mm": 100}]
    found = calc(
        "heat-trace-length",
        run_m=32.7,
        spiral_extra=0.1,
        ends=ends,
        fixing_spacing_mm=300,
        allowances=[{"what": "valve", "each_mm": 450, "count": 2}],
    )
    assert found == {"cable_m": pytest.approx(32.7 * 1.1 + 0.6 + 0.9), "fixings": 110}
    with pytest.raises(InputError):
        calc("heat-trace-length", run_m=1, spiral_extra=1, ends=[], allowances=[], fixing_spacing_mm=300)
