"""Names of the calculators and the one way to run them."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from tinknot.core.calc import cable, curing, layout, materials, proof, sizes, sleeves
from tinknot.core.joint.anyjoint import AnyJoint
from tinknot.core.model import Result, parse
from tinknot.core.plan import Plan
from tinknot.core.planning import plan_file


@dataclass(frozen=True)
class Calculator:
    """A calculator: its name, models and function."""

    name: str
    takes: type[BaseModel]
    gives: type[Result]
    compute: Callable[[Any], Result]

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
    c.name: c
    for c in (
        Calculator("length", sizes.LengthIn, sizes.LengthOut, sizes.length),
        Calculator("conductor", sizes.ConductorIn, sizes.ConductorOut, sizes.conductor_size),
        Calculator("flat", sizes.FlatIn, sizes.FlatOut, sizes.flat),
        Calculator("bundle", sizes.BundleIn, sizes.BundleOut, sizes.bundle_of),
        Calculator("sleeve-fit", sleeves.SleeveFitIn, sleeves.SleeveFitOut, sleeves.sleeve_fit),
        Calculator("sleeve-length", sleeves.SleeveLengthIn, sleeves.SleeveLengthOut, sleeves.sleeve_length),
        Calculator("sleeve-choose", sleeves.SleeveChooseIn, sleeves.SleeveChooseOut, sleeves.sleeve_choose),
        Calculator("stagger", layout.StaggerIn, layout.StaggerOut, layout.stagger_cores),
        Calculator("tape-wrap", materials.TapeWrapIn, materials.TapeWrapOut, materials.tape_wrap),
        Calculator("resin-fill", materials.ResinFillIn, materials.ResinFillOut, materials.resin_fill),
        Calculator("pot-life", curing.PotLifeIn, curing.PotLifeOut, curing.pot_life),
        Calculator("cure", curing.CureIn, curing.CureOut, curing.cure),
        Calculator("flex", proof.FlexIn, proof.FlexOut, proof.flex),
        Calculator("insulation", proof.InsulationIn, proof.InsulationOut, proof.insulation_verdict),
        Calculator("earth-strap", proof.EarthStrapIn, proof.EarthStrapOut, proof.earth_strap),
        Calculator("heat-trace-length", cable.TraceLengthIn, cable.TraceLengthOut, cable.heat_trace_length),
        Calculator("slack", cable.SlackIn, cable.SlackOut, cable.slack_left),
        Calculator("gun-setting", materials.GunSettingIn, materials.GunSettingOut, materials.gun_dial),
        Calculator("park", layout.ParkIn, layout.ParkOut, layout.park_parts),
        Calculator("plan", AnyJoint, Plan, plan_file),
    )
}


def run(name: str, data: bytes | str) -> Result:
    """Run calculator `name` on a JSON text. Raises KeyError for a name, InputError for an input."""
    calculator = CALCULATORS[name]
    result: Result = calculator.compute(parse(calculator.takes, data))
    return result
