"""Names of the calculators and the one way to run them. A calculator's module is loaded when it is asked
for, so that one of them costs only what it needs: SciPy, the planner or the whole catalogue of parts are
no part of `length`."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from importlib import import_module
from typing import Any, get_type_hints

from pydantic import BaseModel

from tinknot.core.model import Result, parse


@dataclass(frozen=True)
class Calculator:
    """A calculator by its name and the function that computes it, `module:function` beside this one. The
    function takes one model and gives one; its signature says which."""

    name: str
    place: str

    @cached_property
    def compute(self) -> Callable[[Any], Result]:
        """The function itself."""
        module, _, function = self.place.partition(":")
        found: Callable[[Any], Result] = getattr(import_module(f"tinknot.core.calc.{module}"), function)
        return found

    @cached_property
    def _hints(self) -> dict[str, Any]:
        return get_type_hints(self.compute)

    @property
    def takes(self) -> type[BaseModel]:
        """The model of its input."""
        found: type[BaseModel] = self._hints["given"]
        return found

    @property
    def gives(self) -> type[Result]:
        """The model of its output."""
        found: type[Result] = self._hints["return"]
        return found

    @property
    def title(self) -> str:
        """The first line of its description."""
        return (self.compute.__doc__ or "").strip().splitlines()[0]

    def schema(self) -> dict[str, Any]:
        """JSON Schema of input and output."""
        return {
            "input": self.takes.model_json_schema(),
            "output": self.gives.model_json_schema(mode="serialization"),
        }


CALCULATORS: dict[str, Calculator] = {
    name: Calculator(name, place)
    for name, place in {
        "length": "sizes:length",
        "conductor": "sizes:conductor_size",
        "flat": "sizes:flat",
        "bundle": "bundles:bundle_of",
        "sleeve-fit": "sleeves:sleeve_fit",
        "sleeve-length": "sleeves:sleeve_length",
        "sleeve-choose": "choice:sleeve_choose",
        "stagger": "layout:stagger_cores",
        "tape-wrap": "materials:tape_wrap",
        "resin-fill": "materials:resin_fill",
        "pot-life": "curing:pot_life",
        "cure": "curing:cure",
        "flex": "proof:flex",
        "insulation": "proof:insulation_verdict",
        "earth-strap": "proof:earth_strap",
        "heat-trace-length": "cable:heat_trace_length",
        "slack": "cable:slack_left",
        "gun-setting": "materials:gun_dial",
        "park": "layout:park_parts",
        "braid": "screens:braid",
        "donor": "screens:donor",
        "identify": "screens:identify",
        "bead": "adhesives:bead",
        "hot-melt-tape": "adhesives:tape_ring",
        "boot-fit": "adhesives:boot_fit",
        "plan": "joints:plan",
    }.items()
}


def run(name: str, data: bytes | str) -> Result:
    """Run calculator `name` on a JSON text. Raises KeyError for a name, InputError for an input."""
    calculator = CALCULATORS[name]
    return calculator.compute(parse(calculator.takes, data))
