"""The drawing of a ground lead: the cable laid bare, the lead on it, what holds and covers it."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from tinknot.core.drawing.loop import Put, covers, draw, widest
from tinknot.core.drawing.model import Appearance, Body, Circle, CrossSection, Dimension, Section
from tinknot.core.drawing.stage import level
from tinknot.core.families.ground.place import Place
from tinknot.core.families.ground.solution import GroundSolution
from tinknot.core.families.moulded.looks import LOOKS as MOULDED_LOOKS

BEYOND_MM = 25.0  # of cable drawn beyond what is put on
LOOKS = MOULDED_LOOKS | {
    "screen": Appearance(material="braid", said="bare screen", role="screen"),
    "inside": Appearance(material="bedding", said="what lies under the screen", role="cable"),
    "lead": Appearance(material="overlay", said="lead"),
    "lead-bare": Appearance(material="strand", said="bare lead"),
    "solder-sleeve": Appearance(
        material="sleeve", form="hollow", said="solder sleeve", see_through=0.4, sealed=True
    ),
    "solder": Appearance(material="metal", form="hollow", said="solder"),
    "seal-ring": Appearance(material="resin", form="hollow", said="sealing ring"),
    "cover": Appearance(material="sleeve", form="hollow", said="cover sleeve", sealed=True),
    "build-up": Appearance(material="tape", form="hollow", said="tape"),
}


@dataclass(frozen=True)
class BareCable:
    """The cable laid bare."""

    place: Place
    reach: tuple[float, float]

    def bodies(self) -> Iterator[Body]:
        """Sheath, screen, and sheath again or what lies under the screen."""
        (a, b), (low, high), p = self.reach, self.place.bare, self.place
        j = p.joint
        front = p.sheath.greatest_mm if p.window else j.inside_od_mm
        cut = high if j.fold else low
        under = (low, high) if j.fold else (low - 3, high + (3 if p.window else 0))
        yield level("screen", under, p.screen_mm[0], id="screen", depth_mm=-97 if j.fold else -99)
        yield level("sheath", (a, cut), p.sheath.greatest_mm, id="sheath-A", end="A", depth_mm=-98)
        kind = "sheath" if p.window else "inside"
        yield level(kind, (high, b), front, id="front", end="B", depth_mm=-98 if p.window else -99.5)

    def rings(self, x: float) -> Iterator[Circle]:
        """Sheath, screen and what lies in it, as far as they go."""
        low, high = self.place.bare
        j = self.place.joint
        if j.fold and low <= x <= high:
            yield Circle(
                kind="screen", od_mm=self.place.screen_mm[0], inside_mm=self.place.sheath.greatest_mm
            )
        if x < low or (x > high and self.place.window) or (j.fold and x <= high):
            yield Circle(kind="sheath", od_mm=self.place.sheath.greatest_mm)
        if x <= high or self.place.window:
            yield Circle(kind="screen", od_mm=j.screen_od_mm)
        yield Circle(kind="inside", od_mm=j.inside_od_mm)

    def edges(self) -> Iterable[float]:
        """Those of the bare screen."""
        return self.place.bare


@dataclass(frozen=True)
class OverLead:
    """A layer over cable and lead: in a cut its circle goes round both, in the length it is as thick as their
    girth makes it."""

    put: Put
    place: Place

    def bodies(self) -> Iterable[Body]:
        """Those of the layer."""
        return self.put.bodies()

    def rings(self, x: float) -> Iterator[Circle]:
        """Those of the layer, round both."""
        cable, lead = self.place.beside(x)
        for c in self.put.rings(x):
            more = cable + lead - self.place.with_lead(cable, lead) if lead else 0.0
            inside = None if c.inside_mm is None else c.inside_mm + more
            yield c.model_copy(update={"od_mm": c.od_mm + more, "inside_mm": inside, "y_mm": lead / 2})

    def edges(self) -> Iterable[float]:
        """Those of the layer."""
        return self.put.edges()


def section(s: GroundSolution, place: Place) -> Section:
    """To scale, mm: x = 0 in the middle of the bare screen, the sheath on the negative side."""
    low, high = s.seat or place.bare
    reach = (
        max(low - BEYOND_MM, place.cable.start_mm),
        min(high + BEYOND_MM, place.cable.end_mm),
    )
    a, b = place.bare
    dimensions = [Dimension(kind="gap", from_mm=a, to_mm=b, value_mm=b - a, label="bare screen")]
    if s.seat:
        dimensions.append(
            Dimension(kind="covered", from_mm=low, to_mm=high, value_mm=high - low, label="covered")
        )
    cable = BareCable(place, reach)
    puts = covers(s.layers, place.cable, 100.0)
    over = [OverLead(p, place) if n else p for n, p in enumerate(puts)]  # the first is the lead
    drawn = draw([cable], over, reach, dimensions, outside=widest(place.sheath.greatest_mm), looks=LOOKS)
    return drawn.model_copy(update={"crossings": [_centred(c, place) for c in drawn.crossings]})


def _centred(cut: CrossSection, place: Place) -> CrossSection:
    """A cut with the middle of cable and lead together in its middle."""
    cable, lead = place.beside((cut.from_mm + cut.to_mm) / 2)
    circles = [c.model_copy(update={"y_mm": c.y_mm - lead / 2}) for c in cut.circles]
    thick = max((c.od_mm for c in circles if abs(c.y_mm) < 1e-9), default=0.0)
    return cut.model_copy(update={"circles": circles, "outside_mm": max(thick, cable + lead)})
