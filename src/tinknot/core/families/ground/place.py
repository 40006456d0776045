"""The place on the cable: where the screen lies bare, and what must be passed and gripped there."""

from dataclasses import dataclass, replace
from functools import cached_property
from math import pi, sqrt

from tinknot.core.choosing.choose import Window
from tinknot.core.families.ground.file import GroundFile
from tinknot.core.figures import mm, mm2
from tinknot.core.formulas.hull import hull_girth_mm
from tinknot.core.joint.cable import Round
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.screen import fold_mm
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least, at_most

FAR_MM = 120.0  # of cable drawn behind the place
LAID = 1.2  # how much thicker strands lie than a solid conductor of their section


@dataclass(frozen=True)
class Place:
    """x = 0 in the middle of the bare screen, the sheath on the negative side; mm. `room_mm`: the most a
    braid that is folded back may be long in the part over it, None where nothing limits it."""

    joint: GroundFile
    rules: RuleBook
    room_mm: float | None = None

    def within(self, part: StockSolderSleeve) -> "Place":
        """The place as it is made for a solder sleeve: a fold no longer than it has room for."""
        return replace(self, room_mm=part.fold_room_mm) if self.joint.fold else self

    @cached_property
    def sheath(self) -> Round:
        """The sheath, as read at two places round it."""
        return Round.of(self.joint.sheath_od_mm, self.joint.sheath_od_across_mm)

    @property
    def bare(self) -> tuple[float, float]:
        """The screen laid bare, or folded back."""
        half = (self.fold_mm if self.joint.fold else self.rules.number("screen.bare_mm")) / 2
        return -half, half

    @property
    def fold_mm(self) -> float:
        """How long a braid is folded back."""
        most = fold_mm(self.rules, self.sheath.greatest_mm)
        return most if self.room_mm is None else min(most, self.room_mm)

    @property
    def braid_mm(self) -> float:
        """How thick the screen is."""
        return (self.joint.screen_od_mm - self.joint.inside_od_mm) / 2

    @property
    def screen_mm(self) -> tuple[float, float]:
        """Over the bare screen, greatest and least: folded back it lies on the sheath."""
        more, s = 2 * self.braid_mm, self.sheath
        od = self.joint.screen_od_mm
        return (s.greatest_mm + more, s.least_mm + more) if self.joint.fold else (od, od)

    @property
    def window(self) -> bool:
        """Whether sheath lies on both sides."""
        return self.joint.strip == "window"

    @cached_property
    def cable(self) -> Profile:
        """The cable laid bare: sheath, screen, and sheath again or what lies under the screen."""
        s, j, (low, high) = self.sheath, self.joint, self.bare
        ahead = min(FAR_MM, max(j.ahead_mm, high + 1))
        front = (s.greatest_mm, s.least_mm) if self.window else (j.inside_od_mm, j.inside_od_mm)
        return Profile.of_stretches(
            [
                (low - FAR_MM, low, s.greatest_mm, s.least_mm),
                (low, high, *self.screen_mm),
                (high, high + ahead, *front),
            ]
        )

    @property
    def lead_od_mm(self) -> float:
        """How thick the lead lies on the cable where it leaves, mm."""
        j = self.joint
        if j.lead == "wire":
            return j.lead_od_mm or 0.0
        return (j.lead_thickness_mm or 0.0) if j.lead == "braid" else self.conductor_mm

    @property
    def conductor_mm(self) -> float:
        """The lead's bare strands, mm."""
        if self.joint.lead == "braid":
            return self.joint.lead_thickness_mm or 0.0
        return LAID * sqrt(4 * self.joint.lead_area_mm2 / pi)

    def with_lead(self, cable_mm: float, lead_mm: float) -> float:
        """Cable and lead as one, by the girth of the tight string round both, mm."""
        j = self.joint
        if j.lead != "braid":
            beside = (0.0, (cable_mm + lead_mm) / 2, lead_mm)
            return hull_girth_mm([(0.0, 0.0, cable_mm), beside]) / pi
        across = max(0.0, ((j.lead_width_mm or 0.0) - lead_mm) / 2)
        up = (cable_mm + lead_mm) / 2
        edges = [
            (side * min(across, up), sqrt(max(0.0, up**2 - min(across, up) ** 2)), lead_mm)
            for side in (-1, 1)
        ]
        return hull_girth_mm([(0.0, 0.0, cable_mm), *edges]) / pi

    @cached_property
    def leaves(self) -> tuple[float, float]:
        """Where the lead lies along the cable outside the bare screen, as far as it is drawn."""
        low, high = self.bare
        return (high, self.cable.end_mm) if self.joint.exit == "front" else (self.cable.start_mm, low)

    @cached_property
    def hulls(self) -> tuple[tuple[float, float, float], ...]:
        """Cable and lead together: on the bare screen and where the lead leaves (from, to, mm). A lead that
        comes in a solder sleeve takes room on the screen only."""
        on_screen = (*self.bare, self.with_lead(self.screen_mm[0], self.conductor_mm))
        if self.joint.lead == "in-sleeve":
            return (on_screen,)
        a, b = self.leaves
        under = self.cable.between(a, b).least()
        return on_screen, (a, b, self.with_lead(under, self.lead_od_mm))

    def beside(self, x: float) -> tuple[float, float]:
        """The cable and the lead beside it at x, mm; no lead where it does not lie."""
        low, high = self.bare
        a, b = self.leaves
        cable = self.cable.at(x).greatest_mm
        if low <= x <= high:
            return cable, self.conductor_mm
        return cable, self.lead_od_mm if a <= x <= b else 0.0

    @cached_property
    def under(self) -> Profile:
        """What a part over all lies on."""
        found = self.cable
        for a, b, od in self.hulls:
            found = found.covered(a, b, lambda _, od=od: od)  # type: ignore[misc]
        return found

    def asks(self, span: tuple[float, float]) -> Window:
        """What a solder sleeve over `span` must pass and grip: at the mouths it seals on the thinner."""
        seat = self.under.between(*span)
        a, b = seat.stations[0].gripped_mm, seat.stations[-1].gripped_mm
        return Window(
            max(seat.greatest(), self.sheath.greatest_mm if not self.joint.landed else 0.0),
            min(a, b),
            seat.points("least"),
            need_lined=True,
            properties=frozenset(),
            wall_od_mm=seat.greatest(),
            squareness_mm=0.0,
        )

    def against(self, part: StockSolderSleeve) -> str:
        """What besides its window speaks against a solder sleeve; empty where nothing does."""
        least = self.rules.number("screen.fold_min_mm")
        if self.joint.fold and (why := part.too_short_for_fold(least)):
            return why
        return self.within(part)._against(part)

    def _against(self, part: StockSolderSleeve) -> str:
        j, (low, high), (a, b) = self.joint, self.bare, part.reach_mm
        if (part.lead_mm2 is not None) != (j.lead == "in-sleeve"):
            return "has a lead in it" if part.lead_mm2 is not None else "has no lead in it"
        if part.lead_mm2 is not None and part.exit != j.exit:
            return f"its lead leaves to the {part.exit}"
        if part.lead_mm2 is not None and not at_least(part.lead_mm2, j.lead_area_mm2):
            return f"its lead has {mm2(part.lead_mm2):g} mm², {mm2(j.lead_area_mm2):g} mm² are asked for"
        if not at_most(part.melts_c, j.bears_c):
            return f"melts at {part.melts_c:g} °C, what lies under the screen bears {j.bears_c:g} °C"
        if j.plating == "nickel" and not part.for_nickel:
            return "its flux does not solder nickel"
        if not at_most(part.solder_mm, high - low):
            beside = "beside the screen" if self.window or j.fold else "over core insulation"
            return (
                f"its ring of solder is {mm(part.solder_mm):g} mm wide, the bare screen {mm(high - low):g}"
                f" mm: it would lie {beside}"
            )
        for mouth, reach in (("wide", -a), ("other", b)):
            if not at_least(reach - part.seal_mm, high):
                short = high - (reach - part.seal_mm)
                return f"the sealing ring of its {mouth} mouth would lie on bare screen by {mm(short):.2g} mm"
        return ""
