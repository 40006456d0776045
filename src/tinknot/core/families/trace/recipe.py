"""The recipe of a heat-trace connection: the stack its sheet asks for, told as every other joint is."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace
from functools import partial
from typing import Any

from tinknot.core.acts import Skin
from tinknot.core.choosing.choose import Ranked
from tinknot.core.drawing.model import Section
from tinknot.core.families.choice import Choice
from tinknot.core.families.contract import Way
from tinknot.core.families.safety import HAZARDOUS, HOT, SAFETY
from tinknot.core.families.trace.arithmetic import arithmetic, warned
from tinknot.core.families.trace.circuit import loop_fits
from tinknot.core.families.trace.section import section
from tinknot.core.families.trace.stack import TraceSolution, TraceStack
from tinknot.core.families.trace.tubes import as_sleeve
from tinknot.core.figures import mm
from tinknot.core.joint.tracefile import TraceFile
from tinknot.core.layers.contract import Mend
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.plan.parts import CoreOut, PartOut
from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import StepOut
from tinknot.core.plan.trace import TraceOut
from tinknot.core.plan.ways import Remedy, StaggerWay
from tinknot.core.world.found import Found, FoundEnd

TRACE_SAFETY = (
    "A heat-trace circuit is live over its whole length, wet and on metal: residual-current protection,"
    " always."
)


class TraceRecipe(TraceStack):
    """One file worked through on one day. Raises InputError for a sheet that is missing, does not serve the
    cable or does not add up."""

    at_last: Mend | None = None  # its faults say it themselves
    waits_from = ""

    def solve(self) -> TraceSolution:
        """The stack with the cable's arithmetic; a loop bent too tight or a circuit too long stops it."""
        found, trace = self.build(), arithmetic(self)
        cuts = {z.end: z.words for z in (trace.zone, *trace.node_cuts) if z}
        told = {x.id: replace(x, zone=cuts.get(end, "")) for end, x in self.squares.items()}
        layers = tuple(told.get(x.id, x) for x in found.layers)
        return replace(found, layers=layers, trace=trace, stops=(*trace.stops, *found.stops))

    def as_found(self, s: TraceSolution) -> Found:
        """Every end of it, its jackets and both bus wires by their width."""
        ends = []
        for n, e in enumerate(self.ends):
            cable = self.joint.cable
            skins: dict[Skin, float] = {
                "sheath": cable.outer_jacket.width_mm,
                "bedding": cable.inner_jacket.width_mm,
            }
            wires = dict.fromkeys(("bus-1", "bus-2"), cable.core.width_mm / 2)
            ends.append(FoundEnd(e, skins, wires, 0.0, away=1 if n else -1))
        return Found(tuple(ends), heating=True, apart=len(ends) > 1 and not self.joined)

    @property
    def sleeves(self) -> Mapping[str, StockSleeve]:
        """Sleeves in stock, and the kit's own tubes."""
        supplied = {
            p.id: as_sleeve(p) for p in self.leaflet.parts if p.what == "tube" and p.shrinks and p.supplied
        }
        return self.tubes.sleeves | self.tubes.own | supplied

    def ways(self, s: TraceSolution) -> Iterator[Way]:
        """A wider loop, a tube from stock; a connection that fits needs neither."""
        if s.fits:
            return
        joint, trace = self.joint, _trace(s)
        tight = [
            x
            for x in trace.loops
            if x.radius_mm is not None
            and x.least_radius_mm is not None
            and not loop_fits(x.radius_mm, x.least_radius_mm)
        ]
        if tight:
            wider = {
                x.end: self.side(x.end).model_copy(update={"loop_radius_mm": x.least_radius_mm})
                for x in tight
            }
            other = joint.model_copy(update={"ends": joint.ends.model_copy(update=wider)})
            title = f"Lay the loop with {mm(tight[0].least_radius_mm):g} mm"
            yield self._way("wider-loop", title, "The cable bends no tighter at this temperature.", other)
        failed = {c.layer for c in s.choices if c.picked is None}
        parts = {
            x.part
            for x in self.leaflet.layers
            if x.kind == "tube" and any(f == x.id or f.startswith(f"{x.id}-") for f in failed)
        }
        for sleeve in joint.stock.sleeves if parts else []:
            other = joint.model_copy(update={"choice": joint.choice | {p: sleeve.id for p in parts if p}})
            title = f"Use {sleeve.name or sleeve.id} from stock instead"
            yield self._way(
                f"stock-{sleeve.id}", title, "The kit's own tube does not suit this cable.", other
            )

    def _way(self, way_id: str, title: str, why: str, other: TraceFile) -> Way:
        own = {"cable", "ends", "circuit", "mounting", "choice"}  # what of a file is the draft's own part
        body = other.model_dump(mode="json", exclude_none=True, include=own)
        return Way(way_id, title, {"trace": body}, partial(self._worked, other), why=why, leads=True)

    def _worked(self, other: TraceFile) -> tuple["TraceRecipe", TraceSolution]:
        again = TraceRecipe(other, self.given_rules, self.today, self.made)
        return again, again.solve()

    def orders(self, s: TraceSolution) -> list[Remedy]:
        """The kit decides; what else would do is among the ways."""
        return []

    def why(self, plan: Plan) -> str:
        """Every way says it itself."""
        return ""

    def staggers(self) -> list[StaggerWay]:
        """The sheet says where the bus wires are joined."""
        return []

    def cores(self, s: TraceSolution) -> list[CoreOut]:
        """Bus wires through a splice, by their lengths from each jacket's cut; their sum is the same for
        both."""
        if not self.joined:
            return []
        a, b = s.opened["A"], s.opened["B"]
        return [
            CoreOut(
                core=f"bus-{n + 1}",
                centre_mm=s.axes["A"].at_mm - a.bus_mm[n],
                cut_a_mm=a.jacket_mm - a.bus_mm[n],
                cut_b_mm=b.jacket_mm - b.bus_mm[n],
                area_mm2=min(c.bus_area_mm2 for c in self.cables.values()),
                by_end={e: o.jacket_mm - o.bus_mm[n] for e, o in s.opened.items()},
            )
            for n in (0, 1)
        ]

    def first_parts(self, s: TraceSolution) -> list[PartOut]:
        """The box of the kit."""
        if s.kit is None:
            return []
        kinds = " and ".join(dict.fromkeys(c.construction for c in self.cables.values()))
        return [
            PartOut(
                layer="kit",
                title="the kit",
                part_id=s.kit.id,
                name=s.kit.said,
                lot=s.kit.first_lot(self.today),
                cut_length_mm=None,
                pass_od_mm=None,
                seal_od_mm=None,
                od_after_mm=0.0,
                reason=f"Its sheet serves {kinds} cable of this size.",
                rejected=[],
            )
        ]

    def why_picked(self, choice: Choice, picked: Ranked) -> str:
        """By the girth of the flat cable."""
        w = choice.window
        return f"Passes {w.pass_od_mm:.1f} and grips {w.seal_od_mm:.1f}, by the girth of the flat cable."

    @property
    def skin(self) -> str:
        """A flat cable has a jacket."""
        return "jacket"

    def slack_mm(self, s: TraceSolution) -> dict[str, float | None]:
        """What the loops can lose, mm."""
        loops = _trace(s).loops
        return {x.end: None if x.loop_mm is None else x.loop_mm - x.least_loop_mm for x in loops}

    @property
    def remake_spare_mm(self) -> float:
        """A square cut, mm an end."""
        return self.rules.number("trace.spare_mm")

    def tools(self) -> Sequence[str]:
        """Those the leaflet names."""
        return self.leaflet.tools

    def safety(self, steps: Sequence[StepOut]) -> list[str]:
        """The usual cautions, and those of a live wet circuit."""
        found = [SAFETY[0], TRACE_SAFETY, *SAFETY[1:3]]
        if any(x.hot for x in steps):
            found.append(HOT)
        if "hazardous" in self.joint.duties:
            found.append(HAZARDOUS)
        return [*found, *self.sheet.warns]

    def warnings(self, s: TraceSolution) -> list[str]:
        """Of the kit, the loops, the tail and the zone cut."""
        return [*s.warnings, *warned(_trace(s), s.parking)]

    def cost(self, s: TraceSolution) -> float | None:
        """What the box costs."""
        return s.kit.price_each if s.kit else None

    def draw(self, s: TraceSolution) -> Section:
        """Seen on the flat."""
        return section(s, self.cables, {e: self.off_mm(e) for e in self.ends})

    def extras(self, s: TraceSolution) -> dict[str, Any]:
        """The cable's arithmetic."""
        return {"closure": "kit", "gap_mm": None, "trace": s.trace}

    def arithmetic(self, plan: Plan) -> dict[str, Any]:
        """It stands in the plan already."""
        return {}


def _trace(s: TraceSolution) -> TraceOut:
    assert s.trace is not None, "a stack is solved with its arithmetic"
    return s.trace
