"""A tester's file: what is read in it, and what goes where."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tinknot.core.errors import InputError
from tinknot.core.plan.steps import GateOut
from tinknot.exchange.tester_csv import readings_in


def gate(gate_id: str, label: str, unit: str = "MΩ") -> GateOut:
    limits = {"target": None, "tolerance": None, "least": None, "most": None}
    return GateOut(id=gate_id, label=label, unit=unit, required=True, **limits)


GATES = [
    gate("rest-1", "core 1 to the rest"),
    gate("rest-2", "core 2 to the rest"),
    gate("earth-1", "core 1 to earth"),
    gate("ambient", "temperature", "°C"),
]


def taken(text: str, gates: list[GateOut] = GATES) -> dict[str, float]:
    return {r.gate: r.values[r.gate] for r in readings_in(text, gates) if r.gate}


def test_readings_go_by_their_names_in_the_unit_the_step_asks_for():
    assert taken(
        "Test;Value;Unit\n1 - PE;1,5;GΩ\ncore 2 / others;950;kΩ\n"
        "CORE 1 TO THE REST;220;MOhm\nTemperature;7,5;°C\n"
    ) == {"earth-1": 1500.0, "rest-2": 0.95, "rest-1": 220.0, "ambient": 7.5}


def test_a_unit_in_the_header_or_behind_the_figure_counts():
    assert taken("name,insulation [GΩ]\ncore 1 to earth,2\n") == {"earth-1": 2000.0}
    assert taken("core 1 to earth\t> 999 MΩ\n") == {"earth-1": 999.0}
    (over,) = readings_in("core 1 to earth\t> 999 MΩ\n", GATES)
    assert over.over


def test_what_nothing_says_is_left_to_the_person_and_says_why():
    rows = readings_in("point,value,unit\ncore 9,12,MΩ\nloop,0.3,V\ncore 1 to earth,OL,MΩ\n", GATES)
    assert [r.gate for r in rows] == ["", "", ""]
    assert rows[0].values == {"rest-1": 12.0, "rest-2": 12.0, "earth-1": 12.0}
    assert "another unit" in rows[1].why
    assert "no figure" in rows[2].why


def test_a_reading_taken_again_counts_as_it_was_taken_last():
    rows = readings_in("core 1 to earth,2 MΩ\ncore 1 to earth,450 MΩ\n", GATES)
    assert [(r.gate, r.why) for r in rows] == [("", "was taken again further down"), ("earth-1", "")]


def test_without_names_as_many_figures_as_asked_are_taken_in_order_and_marked():
    gates = GATES[:3]
    rows = readings_in("1,120\n2,130\n3,140\n", gates)
    assert [(r.gate, r.guessed) for r in rows] == [("rest-1", True), ("rest-2", True), ("earth-1", True)]
    assert [r.gate for r in readings_in("1,120\n2,130\n", gates)] == ["", ""]


@pytest.mark.parametrize("text", ["", "\n\n", "nothing here\n", "a,b\nc,d\n", "name,value\nx,\n"])
def test_a_file_without_readings_says_so(text: str):
    with pytest.raises(InputError) as fault:
        readings_in(text, GATES)
    assert fault.value.errors[0].path == "/text"


@given(st.text(max_size=300))
def test_any_text_is_read_or_refused(text: str):
    try:
        rows = readings_in(text, GATES)
    except InputError:
        return
    assert all(r.gate in ("", *r.values) for r in rows)
    gates = [r.gate for r in rows if r.gate]
    assert len(gates) == len(set(gates))


@given(st.floats(1e-3, 1e6), st.sampled_from(["k", "M", "G"]), st.sampled_from(",."))
def test_a_figure_keeps_its_size_whatever_its_prefix(value: float, prefix: str, point: str):
    written = f"{value:.3f}".replace(".", point)
    (row,) = readings_in(f"core 1 to earth;{written} {prefix}Ω\n", GATES[:3])
    ohm = float(f"{value:.3f}") * {"k": 1e3, "M": 1e6, "G": 1e9}[prefix]
    assert row.values["earth-1"] * 1e6 == pytest.approx(ohm, rel=1e-9)
