"""The joint file of a ground lead: one place on one cable, its screen and the lead on it."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import Field

from tinknot.core.errors import FieldError, InputError
from tinknot.core.families.moulded.job import Sheath
from tinknot.core.joint.head import JointHead
from tinknot.core.joint.measured import Measured
from tinknot.core.model import Diameter, Length, Name, PositiveLength
from tinknot.core.parts.bonding import Service
from tinknot.core.parts.stocked import Area
from tinknot.core.tolerance import at_least

Method = Literal["solder", "spring", "ring"]


class GroundFile(JointHead):
    """A lead on a screen. `strip`: the screen is laid bare at the cable's end or in a window; `fold`: its
    braid is folded back over the sheath; `ahead_mm`: from the cable's end to the bare screen; `bears_c`: what
    lies under the screen bears for a short time; `lead`: a wire or a flat braid of one's own, or the lead of
    a solder sleeve; `exit`: it leaves toward the cable's end or back along the sheath; `earthed`: where the
    screen is earthed once it is made; `method`: what holds the lead, where that is not left to the planner;
    `cover`: what goes over a lead that is held, and for a boot the material of the sheath (`jacket`) and the
    heat and cold it lives in; `sleeve`, `boot`: the part settled on."""

    family: Literal["screen-ground"]
    strip: Literal["end", "window"]
    screen: Literal["braid", "foil"]
    plating: Literal["tin", "silver", "nickel", "bare"] = "tin"
    fold: bool = False
    method: Method | None = None
    cover: Literal["sleeve", "boot"] | None = None
    jacket: Sheath | None = None
    hot_c: Service | None = None
    cold_c: Service | None = None
    boot: Name | None = None
    cold_only: bool = False
    sheath_od_mm: Diameter
    sheath_od_across_mm: Diameter | None = None
    screen_od_mm: Diameter
    inside_od_mm: Diameter
    bears_c: Annotated[float, Field(ge=40, le=600, description="°C")]
    ahead_mm: Length
    clear_mm: Length
    landed: bool = False
    lead: Literal["wire", "braid", "in-sleeve"]
    lead_od_mm: Diameter | None = None
    lead_width_mm: PositiveLength | None = None
    lead_thickness_mm: PositiveLength | None = None
    lead_area_mm2: Area
    lead_length_mm: PositiveLength
    exit: Literal["front", "rear"]
    earthed: Literal["here", "far", "both", "capacitor"]
    owner: Annotated[str, Field(max_length=200)] | None = None
    sleeve: Name | None = None

    def check(self) -> None:
        """What single fields cannot say. Raises InputError."""
        super().check()
        if faults := list(self._faults()):
            raise InputError(*faults)

    def _faults(self) -> Iterator[FieldError]:
        sheath = min(self.sheath_od_mm, self.sheath_od_across_mm or self.sheath_od_mm)
        if at_least(self.screen_od_mm, sheath):
            yield FieldError("/screen_od_mm", "must be less than the sheath's diameter; read both again")
        if at_least(self.inside_od_mm, self.screen_od_mm):
            yield FieldError(
                "/inside_od_mm", "must be less than the diameter over the screen; read both again"
            )
        if self.fold and (self.strip, self.screen) != ("end", "braid"):
            yield FieldError("/fold", "must be left out: only braid at the cable's end can be folded back")
        if self.cover == "boot":
            for name in ("jacket", "hot_c", "cold_c"):
                if getattr(self, name) is None:
                    yield FieldError(f"/{name}", "is missing: what makes a boot tight is chosen by it")
            if self.exit != "front" or self.lead == "in-sleeve":
                yield FieldError("/cover", "must be left out: a boot needs a lead that leaves to the front")
        needed = {"wire": ("lead_od_mm",), "braid": ("lead_width_mm", "lead_thickness_mm"), "in-sleeve": ()}
        for name in needed[self.lead]:
            if getattr(self, name) is None:
                yield FieldError(f"/{name}", "is missing")
        width, thick = self.lead_width_mm or 0.0, self.lead_thickness_mm or 0.0
        if self.lead == "braid" and width < thick:
            yield FieldError("/lead_width_mm", "must not be under the braid's thickness")
        if self.earthed in ("both", "capacitor") and not (self.owner or "").strip():
            yield FieldError("/owner", "is missing: say who decided where the screen is earthed")

    def measured(self) -> list[Measured]:
        """Sheath, screen, what lies under it, and the lead."""
        rows = [
            ("sheath", self.sheath_od_mm, self.sheath_od_across_mm, False),
            ("over the bare screen", self.screen_od_mm, None, False),
            ("under the screen", self.inside_od_mm, None, False),
        ]
        if self.lead == "wire" and self.lead_od_mm is not None:
            rows.append(("lead", self.lead_od_mm, None, False))
        if self.lead == "braid" and self.lead_width_mm is not None:
            rows.append(("flat braid", self.lead_width_mm, self.lead_thickness_mm, True))
        return [Measured(end="", what=w, value_mm=v, across_mm=x, flat=f) for w, v, x, f in rows]
