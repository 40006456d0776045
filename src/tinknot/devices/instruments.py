"""Instruments that give one figure, and their simulated stand-ins."""

import random
from dataclasses import dataclass
from math import exp, log
from typing import Protocol

from tinknot.core.formulas.conductor import resistance_uohm
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import GateOut, StepOut
from tinknot.devices.calliper import InstrumentFault

FAULTS = ("timeout", "nonsense", "battery")
_NAMES = {
    "tape": "tape",
    "calliper": "calliper",
    "insulation-tester": "insulation tester",
    "low-ohm-meter": "low-resistance meter",
    "thermometer": "surface thermometer",
    "torque-driver": "torque driver",
}
LEAD_M = 30.0  # a cable whose length nobody entered
CABLE_MOHM_KM = 400.0  # a sound low-voltage cable at 20 °C
SEALED_SHARE = 0.93  # a joint with its seal on reads a little less


class Instrument(Protocol):
    """Reads one figure in the unit of what is measured."""

    def read(self) -> float:
        """A reading. Raises InstrumentFault."""
        ...


@dataclass(frozen=True)
class Truth:
    """What an ideal instrument would read, the spread of a real one, and the decimals it shows."""

    value: float
    spread: float
    decimals: int


@dataclass(frozen=True)
class SimulatedInstrument:
    """A stand-in that reads `truth` with noise; the same `seed` reads the same. `fault` makes it
    misbehave."""

    kind: str
    truth: Truth
    seed: str
    fault: str | None = None

    def read(self) -> float:
        """A reading, rounded as its display shows it."""
        name = _NAMES.get(self.kind, self.kind)
        if self.fault in ("timeout", "battery"):
            raise InstrumentFault(f"The {name} does not answer. Check its battery, or type the reading.")
        if self.fault == "nonsense":
            raise InstrumentFault(f"The {name} sent no sensible figure. Zero it and read again.")
        noisy = random.Random(f"{self.kind}:{self.seed}").gauss(self.truth.value, self.truth.spread)
        return max(0.0, round(noisy, self.truth.decimals)) if self.kind != "thermometer" else round(noisy, 1)


def truth_of(plan: Plan, step: StepOut, gate: GateOut, minutes_since: dict[str, float]) -> Truth:
    """What is there to be read at a gate of this joint; `minutes_since` tells how long each step is done."""
    area = next((c.area_mm2 for c in plan.cores if gate.id.endswith(f"-{c.core}")), 0.0)
    length_m = plan.cable_length_m or LEAD_M
    match gate.instrument:
        case "thermometer" if gate.id == "resin" and plan.resin:
            return Truth(plan.resin.resin_c, 0.3, 1)
        case "thermometer":
            return Truth(_temperature(plan, step, minutes_since), 0.3, 1)
        case "insulation-tester":
            share = SEALED_SHARE if step.taken == "after" else 1.0
            at_temperature = CABLE_MOHM_KM / (length_m / 1000) * 2 ** ((20 - plan.ambient_c) / 10) * share
            return Truth(at_temperature, at_temperature * 0.02, 0)
        case "low-ohm-meter" if gate.unit == "µΩ":
            value = 0.55 * (gate.most or 0.0)
            return Truth(value, value * 0.05, 0)
        case "low-ohm-meter" if gate.id == "earth":
            return Truth(0.3 * (gate.most or 0.0), 0.015 * (gate.most or 0.0), 4)
        case "low-ohm-meter":
            ohm = resistance_uohm(area, length_m * 1000, 2, plan.ambient_c) / 1e6 if area else 0.0
            return Truth(ohm, 0.002, 3)
        case "tape":
            return Truth(gate.target or 0.0, 0.5, 0)
        case _:
            return Truth(gate.target or 0.0, 0.15, 1)


def _temperature(plan: Plan, step: StepOut, minutes_since: dict[str, float]) -> float:
    """The surface cools from 110 °C to reach 40 °C when the step's cooling timer says."""
    for timer in step.timers:
        elapsed = minutes_since.get(timer.after)
        if elapsed is not None and timer.least_min and plan.ambient_c < 40:
            start = 110.0 - plan.ambient_c
            share = (40.0 - plan.ambient_c) / start
            return float(plan.ambient_c + start * exp(elapsed / timer.least_min * log(share)))
    return plan.ambient_c
