"""Braid, donor, paste, hot-melt tape and moulded parts: worked examples, other methods, edges."""

from math import asin, atan, ceil, cos, degrees, hypot, pi, radians, sin, sqrt
from typing import Any

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from tests.core.test_calculators import calc
from tinknot.core.errors import InputError

MADE = {"carriers": 24, "ends_per_carrier": 7, "strand_mm": 0.15, "under_mm": 7, "lay_mm": 40}


def test_a_braid_by_hand():
    """Dm = 7.3, tan α = π·7.3/40; one way 24·7·0.15/(2π·7.3·cos α); the worked figures of the requirement."""
    found = calc("braid", **MADE)
    angle = atan(pi * 7.3 / 40)
    one_way = 24 * 7 * 0.15 / (2 * pi * 7.3 * cos(angle))
    assert found["angle_deg"] == pytest.approx(degrees(angle))
    assert found["coverage_pct"] == pytest.approx(100 * (2 * one_way - one_way**2))
    assert found["coverage_pct"] == pytest.approx(86.6, abs=0.05)
    assert found["thickness_mm"] == 0.3
    assert (found["on_angle_deg"], found["on_coverage_pct"], found["length_factor"]) == (None, None, None)
    over = calc("braid", **MADE, over_mm=10)
    assert over["on_coverage_pct"] == pytest.approx(79.4, abs=0.05)
    assert over["length_factor"] == pytest.approx(0.821, abs=5e-4)
    assert over["reason"] is None
    far = calc("braid", **MADE, over_mm=14)
    assert far["length_factor"] is None
    assert "13.77" in far["reason"]


def test_picks_say_the_same_as_the_lay():
    by_picks = {k: v for k, v in MADE.items() if k != "lay_mm"} | {"picks_per_mm": 24 / (2 * 40)}
    assert calc("braid", **by_picks, over_mm=9) == pytest.approx(calc("braid", **MADE, over_mm=9))


@given(
    st.sampled_from([8, 16, 24, 32]),
    st.integers(2, 9),
    st.floats(0.08, 0.3),
    st.floats(2, 30),
    st.floats(10, 90),
    st.floats(0.5, 2.5),
)
def test_the_strand_of_a_turn_keeps_its_length(
    c: int, n: int, d: float, under: float, lay: float, wider: float
):
    made = {"carriers": c, "ends_per_carrier": n, "strand_mm": d, "under_mm": under, "lay_mm": lay}
    found = calc("braid", **made, over_mm=under * wider)
    assume(found["length_factor"] is not None)
    strand = hypot(pi * (under + 2 * d), lay)
    new_lay = lay * found["length_factor"]
    assert hypot(pi * (under * wider + 2 * d), new_lay) == pytest.approx(strand, rel=1e-9)
    assert found["on_angle_deg"] == pytest.approx(degrees(asin(pi * (under * wider + 2 * d) / strand)))
    assert 0 < found["on_coverage_pct"] <= 100
    back = calc("braid", **(made | {"under_mm": under * wider, "lay_mm": new_lay}), over_mm=under)
    if back["length_factor"] is not None:
        assert back["length_factor"] * found["length_factor"] == pytest.approx(1, rel=1e-6)


def test_it_goes_up_to_where_its_carriers_close_up_and_no_further():
    strand = hypot(pi * 7.3, 40)
    angle = asin(pi * 7.3 / strand)
    one_way = 24 * 7 * 0.15 / (2 * pi * 7.3 * cos(angle))
    jam = asin(one_way * sin(2 * angle)) / 2
    widest = strand * sin(radians(90) - jam) / pi - 0.3
    thinnest = strand * sin(jam) / pi - 0.3
    for edge, outward in ((widest, 1e-3), (thinnest, -1e-3)):
        assert calc("braid", **MADE, over_mm=edge)["on_coverage_pct"] == pytest.approx(100, abs=1e-6)
        assert calc("braid", **MADE, over_mm=edge + outward)["length_factor"] is None
        assert calc("braid", **MADE, over_mm=edge - outward)["length_factor"] is not None
    told = calc("braid", **MADE, over_mm=40)["reason"]
    assert f"{thinnest:.2f}" in told
    assert f"{widest:.2f}" in told


def test_one_closed_up_at_every_angle_goes_over_nothing_else():
    full = MADE | {"ends_per_carrier": 14, "lay_mm": 30}
    found = calc("braid", **full, over_mm=8)
    assert found["coverage_pct"] == 100
    assert found["length_factor"] is None
    assert "every angle" in found["reason"]


@pytest.mark.parametrize(
    ("change", "path"),
    [
        ({"carriers": 25}, "/carriers"),
        ({"carriers": 2}, "/carriers"),
        ({"lay_mm": None}, "/lay_mm"),
        ({"picks_per_mm": 0.3}, "/lay_mm"),
        ({"strand_mm": 0}, "/strand_mm"),
    ],
)
def test_a_braid_that_cannot_be_is_refused_at_its_field(change: dict[str, Any], path: str):
    with pytest.raises(InputError) as fault:
        calc("braid", **(MADE | change))
    assert fault.value.errors[0].path == path


def test_a_donor_is_cut_longer_by_what_it_shortens():
    assert calc("donor", gap_mm=120, overlap_mm=15) == {"on_cable_mm": 150, "cut_length_mm": 155}
    found = calc("donor", gap_mm=120, overlap_mm=15, length_factor=0.821, spare_mm=5)
    assert found["cut_length_mm"] == ceil(150 / 0.821 + 5)
    exact = calc("donor", gap_mm=8.1, overlap_mm=0.45, length_factor=0.1, spare_mm=0)
    assert exact["cut_length_mm"] == 90  # exact stays, whatever the last digits say


def test_paste_by_hand():
    """Two bands 25 wide on 20: π·20.5·0.5·25·2 mm³, a fifth more, and what stays in the nozzle."""
    bands = [{"od_mm": 20, "band_mm": 25, "count": 2}]
    found = calc("bead", bands=bands, nozzle_ml=3, packs=[{"id": "k", "volume_ml": 10, "stock": 3}])
    net = pi * 20.5 * 0.5 * 25 * 2 / 1000
    assert found["net_ml"] == pytest.approx(net)
    assert found["required_ml"] == pytest.approx(net * 1.2 + 3)
    assert found["packs"] == [{"id": "k", "count": 1}]
    assert found["left_over_ml"] == pytest.approx(10 - net * 1.2 - 3)
    assert calc("bead", bands=bands)["packs"] == []
    assert calc("bead", bands=bands, nozzles=2, nozzle_ml=3)["required_ml"] == pytest.approx(net * 1.2 + 6)
    with pytest.raises(InputError):
        calc("bead", bands=bands, nozzle_ml=40, packs=[{"id": "k", "volume_ml": 10, "stock": 3}])
    twice = [{"id": "k", "volume_ml": 10}, {"id": "k", "volume_ml": 5}]
    with pytest.raises(InputError) as fault:
        calc("bead", bands=bands, packs=twice)
    assert fault.value.errors[0].path == "/packs/1/id"


def test_hot_melt_tape_by_hand():
    """The first turn lies on 20.5, the second on 21.5."""
    found = calc("hot-melt-tape", seal_od_mm=20, tape_thickness_mm=0.5, turns=2)
    assert found == {"length_mm": ceil(pi * 42 + 5), "od_after_mm": 22}
    assert calc("hot-melt-tape", seal_od_mm=20, tape_thickness_mm=0.5, overlap_mm=0)["length_mm"] == 65


@given(st.floats(2, 100), st.floats(0.1, 2), st.integers(1, 6))
def test_the_tape_covers_the_ring_it_makes(od: float, t: float, turns: int):
    """Its volume is the ring's: length × thickness = π/4·(D² − d²), the overlap apart."""
    found = calc("hot-melt-tape", seal_od_mm=od, tape_thickness_mm=t, turns=turns, overlap_mm=0)
    ring = pi / 4 * (found["od_after_mm"] ** 2 - od**2)
    assert found["length_mm"] == pytest.approx(ring / t, abs=1)


OPENING = {"name": "cable", "expanded_id_mm": 30, "recovered_id_mm": 10, "pass_od_mm": 24, "seal_od_mm": 14}


def opening(**change: Any) -> dict[str, Any]:
    return OPENING | change


def test_every_opening_is_judged_as_a_sleeve_is():
    leg = opening(name="leg 1", expanded_id_mm=14, recovered_id_mm=5, pass_od_mm=11, seal_od_mm=6)
    found = calc("boot-fit", openings=[OPENING, leg])
    assert found["fits"]
    for given_one, judged in zip([OPENING, leg], found["openings"], strict=True):
        sleeve = {k: given_one[k] for k in ("expanded_id_mm", "recovered_id_mm")} | {"recovered_wall_mm": 2}
        alone = calc(
            "sleeve-fit",
            sleeve=sleeve,
            pass_od_mm=given_one["pass_od_mm"],
            seal_od_mm=given_one["seal_od_mm"],
        )
        assert {k: alone[k] for k in judged if k != "name"} == {
            k: v for k, v in judged.items() if k != "name"
        }


def test_a_leg_that_passes_bare_fails_with_its_tape_on():
    """A mouth of 12 must open past 5 % more than it passes: 11.4 goes through, two turns of tape do not."""
    leg = opening(name="leg", expanded_id_mm=12, recovered_id_mm=4, pass_od_mm=11.4, seal_od_mm=9)
    assert calc("boot-fit", openings=[leg])["fits"]
    taped = calc("hot-melt-tape", seal_od_mm=11.4, tape_thickness_mm=0.1)["od_after_mm"]
    found = calc("boot-fit", openings=[OPENING, leg | {"pass_od_mm": taped}])
    assert not found["fits"]
    assert [o["verdict"] for o in found["openings"]] == ["fits", "will-not-pass"]
    assert found["openings"][1]["pass_short_by_mm"] == pytest.approx(taped * 1.05 - 12)


def test_margins_stand_at_the_top_and_names_once():
    strict = calc("boot-fit", openings=[opening(pass_od_mm=28)], slide_clearance_pct=10)
    assert not strict["fits"]
    assert calc("boot-fit", openings=[opening(pass_od_mm=28)])["fits"]
    with pytest.raises(InputError) as fault:
        calc("boot-fit", openings=[OPENING, OPENING])
    assert fault.value.errors[0].path == "/openings/1/name"
    with pytest.raises(InputError) as fault:
        calc("boot-fit", openings=[opening(expanded_id_mm=10)])
    assert fault.value.errors[0].path == "/openings/0/expanded_id_mm"


def test_the_length_factor_of_a_plain_tube_of_braid():
    """Made at 45°, so s² = 2·(π·Dm)²: a fifth wider L'/L = √(2 − 1.2²); half as wide again is too much."""
    made = {"carriers": 16, "ends_per_carrier": 3, "strand_mm": 0.1, "under_mm": 9.8, "lay_mm": pi * 10}
    found = calc("braid", **made, over_mm=10 * 1.2 - 0.2)
    assert found["length_factor"] == pytest.approx(sqrt(2 - 1.44))
    assert calc("braid", **made, over_mm=10 * 1.5 - 0.2)["length_factor"] is None
