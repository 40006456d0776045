"""The worked example of the trade: four cores of 6 mm², 5.3 mm insulation, 7.6 mm barrels, 15.4 mm sheath.

Expected figures are hand derivations from the formulas in docs/method.md, to 0.01 mm.
"""

import json
from typing import Any

import pytest

from tinknot.core.calc import run

SLEEVE = {
    "expanded_id_mm": 9.5,
    "recovered_id_mm": 4.6,
    "recovered_wall_mm": 0.9,
    "longitudinal_change_pct": -6,
}
MM = 0.01


def calc(name: str, **given: Any) -> dict[str, Any]:
    return run(name, json.dumps(given)).model_dump(mode="json")


def test_core_sleeve_on_core_and_barrel():
    on_core = calc("sleeve-fit", sleeve=SLEEVE, pass_od_mm=7.6, seal_od_mm=5.3)
    assert on_core["verdict"] == "fits"
    assert on_core["ratio_needed"] == pytest.approx(1.698, abs=0.001)
    assert on_core["recovery_at_seal"] == pytest.approx(0.857, abs=0.001)
    on_barrel = calc("sleeve-fit", sleeve=SLEEVE, pass_od_mm=7.6, seal_od_mm=7.6)
    assert on_barrel["wall_at_seal_mm"] == pytest.approx(0.582, abs=0.001)
    assert on_barrel["od_at_seal_mm"] == pytest.approx(8.764, abs=MM)


def test_four_in_line_bundle():
    assert calc("bundle", diameters_mm=[8.7644] * 4)["enclosing_diameter_mm"] == pytest.approx(21.159, abs=MM)


@pytest.mark.parametrize(
    ("expanded", "recovered", "verdict", "pass_short", "grip_short"),
    [(22, 7, "will-not-pass", 0.22, 0), (30, 15, "will-not-grip", 0, 1.14), (28, 9, "fits", 0, 0)],
)
def test_outer_sleeve(expanded: float, recovered: float, verdict: str, pass_short: float, grip_short: float):
    sleeve = {"expanded_id_mm": expanded, "recovered_id_mm": recovered, "recovered_wall_mm": 2}
    found = calc("sleeve-fit", sleeve=sleeve, pass_od_mm=21.159, seal_od_mm=15.4)
    assert found["verdict"] == verdict
    assert found["ratio_needed"] == pytest.approx(1.603, abs=0.001)
    assert found["pass_short_by_mm"] == pytest.approx(pass_short, abs=MM)
    assert found["grip_short_by_mm"] == pytest.approx(grip_short, abs=MM)


def test_core_sleeve_is_cut_at_62():
    profile = [[0, 5.3], [10, 5.3], [10, 7.6], [48, 7.6], [48, 5.3], [58, 5.3]]
    assert calc("sleeve-length", sleeve=SLEEVE, profile=profile) == {"covered_mm": 58, "cut_length_mm": 62}


def test_four_in_line_need_a_gap_of_136():
    found = calc(
        "stagger",
        cores=4,
        connector_length_mm=38,
        core_sleeve_length_mm=58,
        strip_mm=20,
        keep_away_mm=10,
        core_sleeve_supplied_mm=62,
    )
    assert found["gap_mm"] == pytest.approx(136)
    assert {(c["centre_mm"], c["cut_a_mm"], c["cut_b_mm"]) for c in found["cores"]} == {(44, 44, 92)}
