"""A moulded part to be put on: what it goes on, and how it is made tight there."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.errors import FieldError, InputError
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.measured import Measured
from tinknot.core.model import Diameter, Length, Name, PositiveLength
from tinknot.core.parts.boot import MOST_LEGS, Angle
from tinknot.core.tolerance import at_most

Job = Literal["fitting", "breakout", "straight", "cap"]
Sheath = Literal["pvc", "rubber", "polyurethane", "polyolefin", "fluoropolymer"]
System = Literal["lined", "hot-melt", "paste", "sealant"]
CureWay = Literal["room", "warm", "oven"]
Service = Annotated[float, Field(ge=-100, le=300, description="°C")]
NEEDED: dict[Job, tuple[str, ...]] = {
    "fitting": ("fitting_od_mm", "to_sheath_mm", "between_od_mm"),
    "breakout": ("legs", "crutch_mm"),
    "straight": ("between_od_mm", "between_mm"),
    "cap": (),
}


class MouldedJob(JointHead):
    """A moulded part. `job`: from a fitting to its cable, from a cable to its legs, over a step or a repaired
    jacket, or a cap on an end; `landed`: neither end (a fitting is built on once the part is threaded), here
    only, or both; `hot_c`, `cold_c`: what it lives in. Of a fitting: the diameter the part slides over, its
    groove, `to_sheath_mm` from the groove to sound sheath, the most that lies between, what holds a braid on
    it. `crutch_mm`: from the sheath's end to where the legs' own jackets are sound. `other_od_mm`: the cable
    on the far side of a step, `between_*` what lies between. The rest is what was settled: the part, what
    makes it tight, how surfaces are made ready, when paste is laid on at the cable, how it is cured, and
    within how many hours it must be ready."""

    job: Job
    landed: Literal["no", "here", "both"]
    cable_od_mm: Diameter
    cable_od_across_mm: Diameter | None = None
    sheath: Sheath
    treated: bool = False
    bend_mm: PositiveLength | None = None
    clear_mm: Length
    hot_c: Service
    cold_c: Service
    fitting_od_mm: Diameter | None = None
    groove_od_mm: Diameter | None = None
    groove_mm: PositiveLength | None = None
    to_sheath_mm: Length | None = None
    surface: Literal["plated", "composite"] = "plated"
    braid: Literal["none", "band", "spring"] = "none"
    angle: Angle = "0"
    legs: Literal["2", "3", "4"] | None = None
    leg_1_od_mm: Diameter | None = None
    leg_2_od_mm: Diameter | None = None
    leg_3_od_mm: Diameter | None = None
    leg_4_od_mm: Diameter | None = None
    crutch_mm: Length | None = None
    before_od_mm: Diameter | None = None
    before_mm: PositiveLength | None = None
    other_od_mm: Diameter | None = None
    between_od_mm: Diameter | None = None
    between_mm: Length | None = None
    adhesive: System | None = None
    boot: Name | None = None
    abrade: Literal["along", "round"] = "round"
    wipe: Literal["dry", "solvent"] = "dry"
    paste_at: Literal["both", "later"] = "both"
    cure: CureWay | None = None
    within_h: Annotated[float, Field(gt=0, le=2000, description="h")] | None = None
    later_c: Annotated[float, Field(ge=-60, le=80, description="°C")] | None = None
    later_h: Annotated[float, Field(gt=0, le=2000, description="h")] | None = None

    @property
    def leg_ods_mm(self) -> tuple[float, ...]:
        """Over the jackets of the legs, mm."""
        found = (getattr(self, f"leg_{n}_od_mm") for n in range(1, int(self.legs or 0) + 1))
        return tuple(od or 0.0 for od in found)

    def check(self) -> None:
        """What single fields cannot say. Raises InputError."""
        super().check()
        if faults := list(self._faults()):
            raise InputError(*faults)

    def _faults(self) -> Iterator[FieldError]:
        wanted = list(NEEDED[self.job])
        if self.job == "breakout":
            wanted += [f"leg_{n}_od_mm" for n in range(1, min(MOST_LEGS, int(self.legs or 0)) + 1)]
        for name in wanted:
            if getattr(self, name) is None:
                yield FieldError(f"/{name}", "is missing")
        if (self.groove_od_mm is None) != (self.groove_mm is None):
            name = "groove_mm" if self.groove_mm is None else "groove_od_mm"
            yield FieldError(f"/{name}", "is missing: a groove has a diameter and a width")
        if self.groove_od_mm and self.fitting_od_mm and not at_most(self.groove_od_mm, self.fitting_od_mm):
            yield FieldError(
                "/groove_od_mm", "must not be more than what the part slides over; read both again"
            )
        if (self.before_od_mm is None) != (self.before_mm is None):
            name = "before_mm" if self.before_mm is None else "before_od_mm"
            yield FieldError(f"/{name}", "is missing: what lies before the legs has a diameter and a length")
        if (self.later_c is None) != (self.later_h is None):
            name = "later_h" if self.later_h is None else "later_c"
            yield FieldError(f"/{name}", "is missing: air to come has a temperature and a time")
        if self.cold_c > self.hot_c:
            yield FieldError("/cold_c", "must not be over the highest temperature")

    def measured(self) -> list[Measured]:
        """Cable, fitting and legs."""
        rows: list[tuple[str, float | None, float | None]] = [
            ("sheath", self.cable_od_mm, self.cable_od_across_mm)
        ]
        if self.job == "fitting":
            rows += [("fitting", self.fitting_od_mm, None), ("groove", self.groove_od_mm, None)]
        if self.job == "straight":
            rows += [("other side", self.other_od_mm, None), ("between", self.between_od_mm, None)]
        rows += [(f"leg {n}", od, None) for n, od in enumerate(self.leg_ods_mm, 1) if self.job == "breakout"]
        return [Measured(end="", what=w, value_mm=v, across_mm=x) for w, v, x in rows if v is not None]
