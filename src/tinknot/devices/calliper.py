"""A calliper, and its simulated stand-in."""

import random
from typing import Protocol

from tinknot.core.errors import TinKnotError


class InstrumentFault(TinKnotError):
    """The instrument gave no usable reading; the text says what to do."""

    title = "No reading"


class Calliper(Protocol):
    """Reads a diameter twice, at 90°."""

    def read_across(self) -> tuple[float, float]:
        """Two readings in mm. Raises InstrumentFault."""
        ...


class SimulatedCalliper:
    """A stand-in over a cable of `true_mm`, slightly out of round, with noise; the same `seed` reads the
    same. `fault` makes it misbehave: timeout, nonsense or battery."""

    def __init__(self, true_mm: float, seed: str = "", fault: str | None = None) -> None:
        self.true_mm, self.fault = true_mm, fault
        self._random = random.Random(f"{seed}:{true_mm:.3f}")

    def read_across(self) -> tuple[float, float]:
        """Two readings in mm, to 0.1."""
        if self.fault in ("timeout", "battery"):
            raise InstrumentFault("The calliper does not answer. Check its battery, or type the reading.")
        if self.fault == "nonsense":
            raise InstrumentFault("The calliper sent no sensible figure. Zero it and read again.")
        out_of_round = self._random.uniform(0, 0.02) * self.true_mm
        readings = sorted((self.true_mm + out_of_round / 2, self.true_mm - out_of_round / 2), reverse=True)
        noisy = [round(r + self._random.gauss(0, 0.03), 1) for r in readings]
        return noisy[0], noisy[1]
