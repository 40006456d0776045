"""Shrink tubes on a flat cable: each against its window, from the kit or chosen from stock."""

from dataclasses import dataclass, replace
from datetime import date

from tinknot.core.choosing.choose import Candidate, Catalogue, Window
from tinknot.core.families.choice import Choice
from tinknot.core.families.recipe import rest_min
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.leaflet import LeafletPart
from tinknot.core.joint.profile import Profile
from tinknot.core.joint.tracefile import TraceFile
from tinknot.core.layers.trace.tube import TraceTube
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least


@dataclass(frozen=True)
class Axis:
    """An end on the joint's axis: its square end lies at `at_mm`, the cable runs off to `side` (−1 or 1)."""

    at_mm: float
    side: int

    def x(self, back: float) -> float:
        """The place `back` mm behind the square end."""
        return self.at_mm + self.side * back

    def span(self, back: float, front: float) -> tuple[float, float]:
        """From edge to edge, rising."""
        a, b = sorted((self.x(back), self.x(front)))
        return a, b


def as_sleeve(part: LeafletPart) -> StockSleeve:
    """A tube of the kit with the figures of its leaflet."""
    assert part.opens is not None
    assert part.closes is not None
    return StockSleeve(
        id=part.id,
        name=part.name or f"tube {part.id}",
        expanded_id_mm=part.opens.value_mm,
        recovered_id_mm=part.closes.value_mm,
        recovered_wall_mm=part.wall_mm or 1.0,
        longitudinal_change_pct=part.longitudinal_change_pct,
        lined=part.lined,
        stiff=part.stiff,
        shrink_c=part.shrink_c,
        scorch_c=part.scorch_c,
    )


class Tubes:
    """The tubes of one joint file on one day."""

    def __init__(self, joint: TraceFile, rules: RuleBook, margins: Margins, today: date | None) -> None:
        self.joint, self.rules, self.margins, self.today = joint, rules, margins, today
        self.sleeves: dict[str, StockSleeve] = {s.id: s for s in joint.stock.sleeves}
        self.own: dict[str, StockSleeve] = {}  # those of the kit, as far as they were looked at

    def fitted(
        self, tube: TraceTube, part: LeafletPart, under: Profile, axis: Axis | None
    ) -> tuple[Choice, TraceTube | None]:
        """The choice for a tube over `under`, and the tube with its part; None when nothing fits. `axis`
        is the end it sits on, None over both sides of a splice."""
        wanted = self.joint.choice.get(part.id)
        kit = as_sleeve(part) if part.supplied and wanted is None else None
        if kit:
            self.own[kit.id] = kit
        window = self._window(replace(tube, part=kit) if kit else tube, under, axis)
        choice = self._from_kit(tube, kit, window) if kit else self._from_stock(tube, window, under, wanted)
        if choice.picked is None:
            return choice, None
        if kit:
            own, lot, cut = kit, "", round(part.length.value_mm if part.length else 0)
        else:
            own = self.sleeves[choice.picked.candidate.id]
            lot, cut = own.first_lot(self.today), choice.picked.cut_length_mm
        found = replace(tube, part=own, lot=lot, cut_length_mm=cut, from_kit=kit is not None)
        return choice, replace(found, cool_min=self._cool(found.apply(under), tube.span_mm))

    def _from_kit(self, tube: TraceTube, kit: StockSleeve, window: Window) -> Choice:
        own = Catalogue(
            [Candidate(kit.id, kit.tube("/leaflet/parts"), kit.lined, stock_length_mm=1e6)], self.margins
        )
        ranked = tuple(replace(r, waste_mm=0.0) for r in own.ranked(window))
        return Choice(
            tube.id,
            tube.title,
            window,
            ranked,
            catalogue=own,
            picked=ranked[0] if ranked else None,
            as_it_comes=True,
        )

    def _from_stock(self, tube: TraceTube, window: Window, under: Profile, wanted: str | None) -> Choice:
        """Limp sleeves pass by the girth; a stiff one only where it passes the width too."""
        wide = self.margins.needed_expanded_mm(under.between(*tube.span_mm).passed(True))
        stock = Catalogue(
            [
                s.candidate(f"/stock/sleeves/{i}", self.today)
                for i, s in enumerate(self.joint.stock.sleeves)
                if s.form == "tube" and (not s.stiff or at_least(s.expanded_id_mm, wide))
            ],
            self.margins,
        )
        found = stock.ranked(window)
        picked = next((r for r in found if wanted in (None, r.candidate.id)), None)
        return Choice(
            tube.id, tube.title, window, tuple(found), catalogue=stock, picked=picked, wanted=wanted
        )

    def _window(self, tube: TraceTube, under: Profile, axis: Axis | None) -> Window:
        seat = under.between(*tube.span_mm)
        window = tube.requires(under, seat)
        assert window is not None
        if axis is None:
            return window
        back = seat.stations[0] if axis.side < 0 else seat.stations[-1]
        past = tube.span_mm[1] >= axis.at_mm - 1e-9 if axis.side < 0 else tube.span_mm[0] <= axis.at_mm + 1e-9
        return replace(window, seal_od_mm=back.gripped_mm) if tube.leaf.pinched or past else window

    def _cool(self, on: Profile, span: tuple[float, float]) -> float:
        return self.cool_min(max(s.girth_od_mm for s in on.between(*span).stations))

    def cool_min(self, outside_mm: float) -> float:
        """Minutes until what was just shrunk to `outside_mm` may be touched."""
        cables = (self.joint.cable, *self.joint.ends.unlike().values())
        copper = 2 * max(c.bus_area_mm2 for c in cables)
        return rest_min(self.rules, self.joint.ambient_c, outside_mm, copper)
