"""Each calculator on known answers and on bad input."""

import json
from typing import Any

import pytest

from tinknot.core.calc import CALCULATORS, run
from tinknot.core.errors import InputError


def calc(name: str, **given: Any) -> dict[str, Any]:
    return run(name, json.dumps(given)).model_dump(mode="json")


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ('1 3/8"', 34.925),
        ("35 mm", 35),
        ("2ft 4in", 711.2),
        ("0.5 in", 12.7),
        ("7/16 in", 11.1125),
        ("5,3 mm", 5.3),
        ("1-3/8 in", 34.925),
        ("3 m", 3000),
        ("2' 4\"", 711.2),
    ],
)
def test_length_reads(text: str, mm: float):
    assert calc("length", text=text)["mm"] == pytest.approx(mm, rel=1e-12)


@pytest.mark.parametrize(
    "text", ["35", "1 3/8", "x", "3/0 in", "1.2.3 mm", "-4 mm", "1e9 mm", "2 mm 3", "2000 m"]
)
def test_length_refuses(text: str):
    with pytest.raises(InputError) as fault:
        calc("length", text=text)
    assert fault.value.errors[0].path == "/text"


def test_length_carries_the_fraction():
    found = calc("length", text="25.3 mm")
    assert found["inch_text"] == '1"'
    assert found["inch_error_mm"] == pytest.approx(0.1)
    assert calc("length", text="1/32 in")["inch_text"] == '1/16"'  # halves go up


@pytest.mark.parametrize(
    ("given", "area", "diameter", "source", "metric"),
    [
        ({"awg": "12", "class": 1}, 3.309, 2.053, "formula", 4),  # ASTM B258: 12 AWG is 0.0808 in
        ({"awg": "4/0", "class": 1}, 107.2, 11.684, "formula", 120),  # 4/0 is 0.4600 in
        ({"area_mm2": 6}, 6, 3.3, "table", 6),
        ({"area_mm2": 6, "class": 5}, 6, 3.9, "table", 6),
        ({"kcmil": 250}, 126.7, 15.75, "estimate", 120),
    ],
)
def test_conductor(given: dict[str, Any], area: float, diameter: float, source: str, metric: float):
    found = calc("conductor", **given)
    assert found["area_mm2"] == pytest.approx(area, rel=1e-3)
    assert found["diameter_mm"] == pytest.approx(diameter, rel=1e-3)
    assert (found["source"], found["nearest_metric_mm2"]) == (source, metric)


def test_flat():
    found = calc("flat", width_mm=11, thickness_mm=5)
    assert found["girth_mm"] == pytest.approx(2 * 6 + 3.14159265 * 5)


def test_sleeve_below_its_recovered_diameter_hangs_free():
    sleeve = {"expanded_id_mm": 9.5, "recovered_id_mm": 4.6, "recovered_wall_mm": 0.9}
    found = calc("sleeve-fit", sleeve=sleeve, pass_od_mm=3, seal_od_mm=3)
    assert (found["recovery_at_seal"], found["wall_at_seal_mm"]) == (1, pytest.approx(0.9))
    assert found["od_at_seal_mm"] == pytest.approx(6.4)
    wide = calc("sleeve-fit", sleeve=sleeve, pass_od_mm=3, seal_od_mm=12)
    assert wide["recovery_at_seal"] is wide["wall_at_seal_mm"] is wide["od_at_seal_mm"] is None


def test_exact_fit_is_a_fit():
    sleeve = {"expanded_id_mm": 6, "recovered_id_mm": 2.97, "recovered_wall_mm": 0.5}
    assert calc("sleeve-fit", sleeve=sleeve, pass_od_mm=3, seal_od_mm=3.3)["verdict"] == "fits"


def test_choose_ranks_and_says_why_not():
    def sleeve(name: str, **more: Any) -> dict[str, Any]:
        return {"id": name, "expanded_id_mm": 28, "recovered_id_mm": 9, "recovered_wall_mm": 2} | more

    catalogue = [
        sleeve("piece", stock_length_mm=300),  # offcut of 82 mm: waste
        sleeve("dear", price_per_m=9),
        sleeve("cheap", price_per_m=4),
        sleeve("dated", price_per_m=20, use_by="2027-01-31"),
        sleeve("opened", price_per_m=30, opened=True),
        sleeve("snug", expanded_id_mm=22.3),
        sleeve("short", stock_length_mm=200),
        sleeve("narrow", expanded_id_mm=22),
        sleeve("plain"),
    ]
    for s in catalogue:
        s["lined"] = s["id"] != "plain"
    found = calc(
        "sleeve-choose",
        pass_od_mm=21.159,
        seal_od_mm=15.4,
        covered_mm=216,
        catalogue=catalogue,
        need_lined=True,
    )
    assert [r["id"] for r in found["ranked"]] == ["opened", "dated", "cheap", "dear", "piece", "snug"]
    reasons = {r["id"]: r["reason"] for r in found["rejected"]}
    assert reasons["narrow"] == "0.22 mm short to pass"
    assert "shorter than the cut" in reasons["short"]
    assert "no adhesive" in reasons["plain"]


def test_stagger_single_core_of_the_contract():
    found = calc(
        "stagger", cores=1, connector_length_mm=38, core_sleeve_length_mm=90, strip_mm=25, keep_away_mm=10
    )
    assert (found["gap_mm"], found["cores"][0]["centre_mm"]) == (185, 60)


def test_park_balances_and_overruns():
    items = [
        {"id": i, "length_mm": x, "on": "either", "order": n}
        for n, (i, x) in enumerate((("p", 240), ("q", 100), ("r", 90)))
    ]
    found = calc("park", items=items, free_a_mm=300, free_b_mm=300)
    assert (found["a"], found["b"], found["fits"]) == (["p"], ["r", "q"], True)
    tight = calc("park", items=items, free_a_mm=200, free_b_mm=200)
    assert tight["fits"] is False
    assert tight["over_a_mm"] + tight["over_b_mm"] == pytest.approx(40)


@pytest.mark.parametrize(
    ("name", "given", "path"),
    [
        ("flat", {"width_mm": 3, "thickness_mm": 5}, "/thickness_mm"),
        ("conductor", {"area_mm2": 6, "awg": "10"}, ""),
        ("conductor", {"area_mm2": 6, "class": 3}, "/class"),
        ("conductor", {"awg": "5/0"}, "/awg"),
        ("bundle", {"diameters_mm": []}, "/diameters_mm"),
        ("bundle", {"diameters_mm": [1, 0]}, "/diameters_mm/1"),
        ("sleeve-fit", {"pass_od_mm": 1, "seal_od_mm": 1}, "/sleeve"),
        (
            "sleeve-fit",
            {
                "sleeve": {"expanded_id_mm": 4, "recovered_id_mm": 4, "recovered_wall_mm": 1},
                "pass_od_mm": 1,
                "seal_od_mm": 1,
            },
            "/sleeve/expanded_id_mm",
        ),
        (
            "sleeve-length",
            {
                "sleeve": {"expanded_id_mm": 8, "recovered_id_mm": 4, "recovered_wall_mm": 1},
                "profile": [[0, 9], [5, 5]],
            },
            "/profile/0",
        ),
        (
            "sleeve-length",
            {
                "sleeve": {"expanded_id_mm": 8, "recovered_id_mm": 4, "recovered_wall_mm": 1},
                "profile": [[5, 5], [0, 5]],
            },
            "/profile/1/0",
        ),
        (
            "stagger",
            {"cores": 2, "connector_length_mm": 10, "core_sleeve_length_mm": 20, "steps": 3},
            "/steps",
        ),
        (
            "park",
            {"items": [{"id": "a", "length_mm": 1, "on": "c", "order": 1}], "free_a_mm": 1, "free_b_mm": 1},
            "/items/0/on",
        ),
        ("length", {"text": "3 mm", "denominatr": 4}, "/denominatr"),
    ],
)
def test_bad_input_names_the_field(name: str, given: dict[str, Any], path: str):
    with pytest.raises(InputError) as fault:
        calc(name, **given)
    assert path in [e.path for e in fault.value.errors]


@pytest.mark.parametrize(
    "text",
    [
        "",
        "{",
        "[]",
        "3",
        '{"width_mm": NaN, "thickness_mm": 1}',
        '{"width_mm": 1e999, "thickness_mm": 1}',
        '{"width_mm": "3", "thickness_mm": 1}',
        '{"width_mm": true, "thickness_mm": 1}',
    ],
)
def test_malformed_json_is_an_input_error(text: str):
    with pytest.raises(InputError):
        run("flat", text)


def test_null_in_an_optional_field_is_absent():
    given = {"cores": 1.0, "connector_length_mm": 38, "core_sleeve_length_mm": 90, "steps": None}
    assert calc("stagger", **given)["gap_mm"] == calc("stagger", **{**given, "steps": 1})["gap_mm"]


@pytest.mark.parametrize("name", list(CALCULATORS))
def test_every_calculator_has_a_schema_and_a_title(name: str):
    schema = CALCULATORS[name].schema()
    given = schema["input"]
    kinds = (
        [given["$defs"][x["$ref"].rsplit("/", 1)[-1]] for x in given["oneOf"]]
        if "oneOf" in given
        else [given]
    )
    assert all(kind["additionalProperties"] is False for kind in kinds)
    assert CALCULATORS[name].title.endswith(".")
