"""The calculators of the contract: one model in, one model out, the same for command line and HTTP."""

from tinknot.core.calc.registry import CALCULATORS, Calculator, run

__all__ = ["CALCULATORS", "Calculator", "run"]
