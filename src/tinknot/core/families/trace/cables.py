"""The flat cables of a heat-trace connection as its sheet lays them open, and where they lie."""

from datetime import date
from itertools import pairwise

from tinknot.core.errors import InputError
from tinknot.core.families.choice import Made
from tinknot.core.families.recipe import margins_of
from tinknot.core.families.trace.tubes import Axis, Tubes
from tinknot.core.figures import mm
from tinknot.core.formulas.hull import side_by_side_mm
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.flatend import laid_open, overlap_mm
from tinknot.core.joint.kitsheet import TRACE_ENDS
from tinknot.core.joint.profile import Profile
from tinknot.core.joint.tracefile import TraceFile, TraceSideIn
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets import doubts
from tinknot.core.tolerance import at_most

TAIL_MM = 400.0  # of cable behind the deepest part
APART_MM = 120.0  # between two ends that are not joined, on the drawing


class TraceCables:
    """One file worked through on one day. Raises InputError for a sheet that is missing, does not serve the
    cable or does not add up."""

    def __init__(
        self, joint: TraceFile, rules: RuleBook, today: date | None = None, made: Made | None = None
    ) -> None:
        joint.check()
        self.made = made or Made()
        sheet = joint.sheet
        if sheet is None:
            raise InputError.at(
                "/sheet", "no kit is chosen yet: a heat-trace connection takes its figures from a kit's sheet"
            )
        if words := sheet.why_not(joint):
            raise InputError.at("/sheet", f"{sheet.name} does not serve this: {'; '.join(words)}")
        if not at_most(joint.rated_voltage_v, rules.number("voltage.ceiling_v")):
            raise InputError.at(
                "/rated_voltage_v", f"is above {rules.number('voltage.ceiling_v'):g} V: beyond this tool"
            )
        if found := doubts(sheet, rules):
            raise InputError.at("/sheet", f"{sheet.name} does not add up: {found[0].message}")
        assert sheet.leaflet is not None
        self.joint, self.sheet, self.leaflet = joint, sheet, sheet.leaflet
        self.given_rules, self.rules, self.today = rules, sheet.over(rules), today
        self.ends = TRACE_ENDS[sheet.recipe]
        self.joined = sheet.recipe in ("trace-splice", "trace-tee")
        self.fed = "A" if sheet.recipe in ("trace-power", "trace-power-end") else ""  # the end that is fed
        self.legs = self.ends[1:] if sheet.recipe == "trace-tee" else ()  # leave it beside each other
        self.cables = {e: joint.cable_at(e) for e in self.ends}
        self.opened = {e: laid_open(self.leaflet, c.construction, e) for e, c in self.cables.items()}
        self._wires_meet()
        self.axes = self._axes()
        self.margins: Margins = margins_of(self.rules)
        self.tubes = Tubes(joint, self.rules, self.margins, today)

    def _wires_meet(self) -> None:
        """Cables of unlike construction are cut by lines of their own: their bus wires must still meet."""
        first, *others = self.opened.values() if self.joined else [self.opened["A"]]
        for end, other in zip(self.ends[1:], others, strict=False):
            one, two = (first.bus_mm[n] + other.bus_mm[n] for n in (0, 1))
            if abs(one - two) > 1e-9:
                raise InputError.at(
                    f"/ends/{end}/cable/construction",
                    f"does not go with the cable of A by {self.sheet.name}: its cuts take {mm(one):g} mm"
                    f" off bus wires 1 and {mm(two):g} mm off bus wires 2, they cannot both meet. Take a"
                    " sheet that is written for both",
                )

    @property
    def unlike(self) -> bool:
        """Whether not all of its cables are of one kind and size."""
        first, *others = (c.model_copy(update={"name": ""}) for c in self.cables.values())
        return any(c != first for c in others)

    def off_mm(self, end: str) -> float:
        """How far off the middle an end lies: the legs of a tee beside each other, jacket on jacket."""
        if end not in self.legs:
            return 0.0
        b, c = (self.cables[e].outer_jacket.width_mm for e in self.legs)
        return c / 2 if end == self.legs[0] else -b / 2

    def zone(self, end: str) -> bool:
        """Whether a zone cable comes in at an end."""
        return self.cables[end].construction == "zone"

    def side(self, end: str) -> TraceSideIn:
        """What is known of an end; one nobody described is taken as it comes."""
        return getattr(self.joint.ends, end) or TraceSideIn()

    def _axes(self) -> dict[str, Axis]:
        if len(self.ends) == 1:
            return {"A": Axis(0.0, -1)}
        half = overlap_mm([self.opened[e] for e in self.ends[:2]]) / 2 if self.joined else -APART_MM / 2
        return {e: Axis(half, -1) if e == "A" else Axis(-half, 1) for e in self.ends}

    # --- the cable before anything is put on it -------------------------------------------------------------

    def inner(self) -> Profile:
        """Flat stretches from tail to tail; the legs of a tee leave it side by side."""
        found = self._stretches("A")
        if len(self.ends) > 1:
            b = self._side_by_side() if self.legs else self._stretches("B")
            low, high = found[-1][1], b[0][0]
            bare = found[-1]
            if high > low:
                found.append((low, high, bare[2], bare[3]))
            elif low > high:  # the wires pass each other
                found[-1] = (bare[0], max(high, bare[0]), bare[2], bare[3])
                b = [(max(x1, found[-1][1]), x2, w, t) for x1, x2, w, t in b]
            found += b
        return Profile.of_stretches(found, flat=True)

    def _stretches(self, end: str) -> list[tuple[float, float, float, float]]:
        o, axis, c = self.opened[end], self.axes[end], self.cables[end]
        backs = [
            (o.jacket_mm + TAIL_MM, o.jacket_mm, c.outer_jacket.width_mm, c.outer_jacket.thickness_mm),
            (o.jacket_mm, o.inner_mm, c.inner_jacket.width_mm, c.inner_jacket.thickness_mm),
            (o.inner_mm, o.core_mm, c.core.width_mm, c.core.thickness_mm),
            (o.core_mm, 0.0, c.spacing_mm + c.bus_od_mm, c.bus_od_mm),
        ]
        pieces = [(*axis.span(far, near), w, t) for far, near, w, t in backs if far - near > 1e-9]
        return pieces if axis.side < 0 else pieces[::-1]

    def _side_by_side(self) -> list[tuple[float, float, float, float]]:
        """The legs of a tee as one flat thing: where one ends before the other, that stretch has less."""
        tracks = [(self.off_mm(e), self._stretches(e)) for e in self.legs]
        edges = sorted({x for _, track in tracks for x1, x2, *_ in track for x in (x1, x2)})
        found = []
        for x1, x2 in pairwise(edges):
            here = [(y, w, t) for y, track in tracks for a, b, w, t in track if a <= (x1 + x2) / 2 <= b]
            if here:
                found.append((x1, x2, *side_by_side_mm(here)))
        return found

    # --- the stack ------------------------------------------------------------------------------------------
