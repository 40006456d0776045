"""One contract over every instrument: near the truth, the same seed the same, and clear words when it
fails."""

from pathlib import Path

import pytest

from tests.joints import joint
from tinknot.core.planning.solve import plan_joint
from tinknot.devices.calliper import InstrumentFault, SimulatedCalliper
from tinknot.devices.camera import made_up_picture
from tinknot.devices.instruments import FAULTS, SimulatedInstrument, Truth, truth_of
from tinknot.devices.printer import TrayPrinter

KINDS = ("tape", "calliper", "insulation-tester", "low-ohm-meter", "thermometer", "torque-driver")
PLAN = plan_joint(joint(cable_length_m=120))


@pytest.mark.parametrize("kind", KINDS)
def test_reads_near_the_truth(kind: str):
    readings = [SimulatedInstrument(kind, Truth(50, 0.5, 1), f"s{i}").read() for i in range(60)]
    assert readings[0] == SimulatedInstrument(kind, Truth(50, 0.5, 1), "s0").read()
    assert len(set(readings)) > 5
    assert all(abs(r - 50) < 3 for r in readings)
    assert abs(sum(readings) / 60 - 50) < 0.3


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("fault", FAULTS)
def test_misbehaves_in_words(kind: str, fault: str):
    with pytest.raises(InstrumentFault, match=r"type the reading|Zero it"):
        SimulatedInstrument(kind, Truth(50, 0.5, 1), "s", fault).read()


def test_every_gate_that_names_an_instrument_can_be_read_and_passes():
    for step in PLAN.steps:
        for gate in step.gates:
            if not gate.instrument:
                continue
            value = SimulatedInstrument(gate.instrument, truth_of(PLAN, step, gate, {}), "x").read()
            assert gate.least is None or value >= gate.least, (step.id, gate.id)
            assert gate.most is None or value <= gate.most, (step.id, gate.id)
            if gate.target is not None:
                assert value == pytest.approx(gate.target, abs=3)


def test_a_hot_surface_cools_to_its_limit_when_its_timer_says():
    step = PLAN.step("cool.outer-sleeve")
    gate, wait = step.gates[0], step.timers[0].least_min

    def at(minutes: float) -> float:
        return truth_of(PLAN, step, gate, {"seal.outer-sleeve": minutes}).value

    assert at(0) == pytest.approx(110)
    assert at(wait) == pytest.approx(40)
    assert at(10 * wait) == pytest.approx(PLAN.ambient_c, abs=0.1)
    assert at(wait / 2) > at(wait)


def test_colder_reads_more_insulation_and_sealing_takes_a_little():
    before, after = PLAN.step("test.before.insulation"), PLAN.step("test.after.insulation")
    cold = plan_joint(joint(cable_length_m=120, ambient_c=2))
    now = truth_of(PLAN, before, before.gates[0], {}).value
    assert truth_of(cold, before, before.gates[0], {}).value == pytest.approx(2 * now)  # ten degrees colder
    assert truth_of(PLAN, after, after.gates[0], {}).value < now


def test_calliper_reads_twice_across():
    first, across = SimulatedCalliper(15.4, "A").read_across()
    assert first >= across > 15
    with pytest.raises(InstrumentFault):
        SimulatedCalliper(15.4, "A", "battery").read_across()


def test_printer_numbers_its_pages(tmp_path: Path):
    tray = TrayPrinter(tmp_path / "tray")
    assert [tray.put("J-1-label", b"a"), tray.put("J-1-label", b"b"), tray.put("J-2-label", b"c")] == [
        "J-1-label-1.pdf",
        "J-1-label-2.pdf",
        "J-2-label-1.pdf",
    ]
    assert (tmp_path / "tray" / "J-1-label-1.pdf").read_bytes() == b"a"


def test_camera_makes_the_same_picture_for_the_same_place():
    assert made_up_picture("a", "x") == made_up_picture("a", "x") != made_up_picture("a", "y")
    assert made_up_picture("a", "x").startswith(b"\xff\xd8\xff")
