"""A heat-trace connection made by a kit's sheet: its leaflet's layers, in their order, over a flat cable."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date
from itertools import pairwise
from typing import Any

from tinknot.core.choosing.park import Parking, ParkItem, Side, park
from tinknot.core.errors import InputError
from tinknot.core.families.choice import Choice, Made
from tinknot.core.families.contract import Solution
from tinknot.core.families.recipe import margins_of
from tinknot.core.families.trace.tubes import Axis, Tubes
from tinknot.core.formulas.hull import side_by_side_mm
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.flatend import LaidOpen, back_mm, front_mm, laid_open, overlap_mm
from tinknot.core.joint.kitsheet import TRACE_ENDS
from tinknot.core.joint.leaflet import BRAIDS, LeafletCut, LeafletLayer
from tinknot.core.joint.profile import Profile
from tinknot.core.joint.tracefile import TraceFile, TraceSideIn
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.trace.closing import Moulded, PlainWork, Sealant, Taped, TraceTube
from tinknot.core.layers.trace.joining import Box, BusCrimps, Grommet, Terminals
from tinknot.core.layers.trace.kit import Kit
from tinknot.core.layers.trace.opening import Braid, BusStagger, FlatCut, SquareEnd, StripCore
from tinknot.core.layers.trace.procedure import TraceProcedure
from tinknot.core.parts.kit import StockKit
from tinknot.core.plan import TraceOut
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets import doubts
from tinknot.core.sheets.lengths import recovered_length_mm
from tinknot.core.tolerance import at_least, at_most

TAIL_MM = 400.0  # of cable behind the deepest part
APART_MM = 120.0  # between two ends that are not joined, on the drawing


@dataclass(frozen=True, kw_only=True)
class TraceSolution(Solution):
    """The stack over a flat cable: `opened` and `axes` by end; `inner`: the cable before anything is put
    on it; `trace`: the cable's arithmetic."""

    opened: Mapping[str, LaidOpen]
    axes: Mapping[str, Axis]
    inner: Profile
    kit: StockKit | None
    trace: TraceOut | None = None


class TraceStack:
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
                    f"does not go with the cable of A by {self.sheet.name}: its cuts take {one:g} mm off bus"
                    f" wires 1 and {two:g} mm off bus wires 2, they cannot both meet. Take a sheet that is"
                    " written for both",
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

    def build(self) -> TraceSolution:
        """The stack, layer by layer in the sheet's order; every tube against its window."""
        layers_of = self._layers_of()
        worked = {e: self._last_work(e, layers_of) for e in self.ends}
        landed = {e for e in self.ends for x in layers_of if x.kind == "terminals" and e in self._ends_of(x)}
        # the holds are those of the ends that are joined or landed; another end closes by itself
        held = self.ends if self.joined else tuple(e for e in self.ends if e in landed) or self.ends[:1]
        self.after: dict[str, tuple[str, ...]] = {}
        self.layers: list[Layer] = []
        self.choices: list[Choice] = []
        self.refused: list[str] = []
        self.crimped = False
        self.landing: dict[str, tuple[str, ...]] = {}
        self.open: dict[str, tuple[str, float] | None] = {}
        self.outside = inner = self.inner()
        self.parks = [x.id for i, x in enumerate(layers_of) if self._must_park(x, i, layers_of)]
        for end in self.ends:
            square = SquareEnd(
                f"square-{end}",
                f"end {end} cut square",
                end,
                self.rules,
                end in self._threaded_on(layers_of),
                focus_mm=self._focus(end),
            )
            self._take((end,), square)
        ready: dict[str, tuple[str, ...]] = {}
        for i, x in enumerate(layers_of):
            for e in self.ends:
                if i > worked[e] and e not in ready:
                    self._ready(e, ready, e in held)
            for ends in self._places(x):
                self._put_on(x, ends)
        for e in self.ends:
            if e not in ready:
                self._ready(e, ready, e in held)
        parking = self._park()
        cured = [s for x in self.layers if isinstance(x, Sealant) for s in x.cured]
        closed = tuple(dict.fromkeys([*(s for e in self.ends for s in self.after[e]), *cured]))
        kit = self._kit()
        procedure = self._procedure(ready, held, closed)
        warnings = (
            []
            if kit or not self.joint.stock.kits
            else [f"No kit of the sheet {self.sheet.name} is in stock."]
        )
        if self.unlike:
            warnings.append(
                "Unlike cables on one circuit: length and breaker go by the one that allows less, and each"
                " must be made for this voltage, temperature and pipe. Bend radius and loop are the sheet's."
            )
        if self.sheet.state == "draft":
            warnings.append(f"{self.sheet.name} is a draft: nobody has checked it yet.")
        if self.leaflet.companion:
            warnings.append(f"A companion kit is needed: {self.leaflet.companion}")
        layers = (procedure, self._box(kit), *self.layers)
        return TraceSolution(
            layers=layers,
            choices=tuple(self.choices),
            outside=self.outside,
            seat=self._seat(),
            parking=parking,
            stops=tuple(self.refused),
            warnings=tuple(warnings),
            opened=self.opened,
            axes=self.axes,
            inner=inner,
            kit=kit,
        )

    def _last_work(self, end: str, layers: list[LeafletLayer]) -> int:
        """The place of the last layer at an end that joins or lands it, else of the last that lays it open;
        -1 where none does."""
        mine = [(i, x.kind) for i, x in enumerate(layers) if end in self._ends_of(x)]
        joins = [i for i, kind in mine if kind in ("crimp", "terminals")]
        opens = [i for i, kind in mine if kind in ("strip-core", "bus-stagger", *BRAIDS)]
        return max(joins or opens, default=-1)

    def _ready(self, end: str, ready: dict[str, tuple[str, ...]], held: bool) -> None:
        """An end is laid open, joined or landed: what closes it waits until it was looked at and tested."""
        ready[end] = self.after[end]
        self.after[end] = ("before-closing",) if held else (f"look.{end}",)

    def _seat(self) -> tuple[float, float]:
        """From edge to edge of what is put on, mm on the axis; of two ends that are not joined, the longer
        one."""
        by_end: dict[str, list[tuple[float, float]]] = {}
        for x in self.layers:
            if span := x.closes_mm():
                by_end.setdefault(getattr(x, "end", ""), []).append(span)
        bare = [a.span(self.opened[e].jacket_mm, 0) for e, a in self.axes.items()]
        groups = list(by_end.values()) or [[b] for b in bare]
        found = [(min(a for a, _ in g), max(b for _, b in g)) for g in groups]
        return max(found, key=lambda f: f[1] - f[0])

    def _layers_of(self) -> list[LeafletLayer]:
        """The layers for any of the cables, in their order."""
        return [x for x in self.leaflet.layers if any(self._for(x, e) for e in self.ends)]

    def _for(self, x: LeafletLayer, end: str) -> bool:
        """Whether a layer is made on the cable that comes in at an end."""
        return not x.constructions or self.cables[end].construction in x.constructions

    def _places(self, x: LeafletLayer) -> list[tuple[str, ...]]:
        once = x.kind == "crimp" or (self.crimped and x.kind in ("step", "tape", "sealant"))
        if x.at == "joint" or (x.at is None and once):
            return [self.ends]
        return [(e,) for e in self.ends if x.at in (None, e) and self._for(x, e)]

    def _must_park(self, x: LeafletLayer, i: int, layers: list[LeafletLayer]) -> bool:
        """A closed part goes on before its end is joined or landed, when it closes after that or stays
        there."""
        mine = self._ends_of(x)
        later = any(y.kind in ("crimp", "terminals") and mine & self._ends_of(y) for y in layers[:i])
        return x.kind == "grommet" or (x.kind in ("tube", "boot") and later)

    def _threaded_on(self, layers: list[LeafletLayer]) -> set[str]:
        """The ends over whose whole cable a tube or boot is threaded; one over both sides waits on A."""
        waiting = [x for x in layers if x.id in self.parks and x.kind != "grommet"]
        return {"A" if x.at == "joint" else e for x in waiting for e in self._ends_of(x)}

    def _ends_of(self, x: LeafletLayer) -> set[str]:
        if x.at == "joint":
            return set(self.ends)
        return {e for e in self.ends if x.at in (None, e) and self._for(x, e)}

    def _take(self, ends: tuple[str, ...], layer: Layer) -> None:
        self.layers.append(layer)
        for e in ends:
            self.after[e] = (layer.last,)

    def _need(self, ends: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(dict.fromkeys(s for e in ends for s in self.after.get(e, ("measured",))))

    def _focus(self, end: str) -> tuple[float, float]:
        return self.axes[end].span(self.opened[end].jacket_mm + 30, -30)

    def _cut(self, end: str, layer: str) -> None:
        """The cut of a layer, where the leaflet has one."""
        cut: LeafletCut | None = next(
            (c for c in self.leaflet.cuts_for(self.cables[end].construction, end) if c.layer == layer), None
        )
        if cut is None:
            return
        o = self.opened[end]
        removed = {
            "outer-jacket": o.jacket_mm,
            "braid": o.jacket_mm - o.braid_mm,
            "inner-jacket": o.inner_mm,
            "bus-1": o.bus_mm[0],
            "bus-2": o.bus_mm[1],
        }.get(layer, o.core_mm)
        said = layer.replace("-", " ")
        self._take(
            (end,),
            FlatCut(
                f"cut-{layer}-{end}",
                f"{said} cut, end {end}",
                end,
                self.rules,
                cut,
                removed,
                self.zone(end),
                after=self._need((end,)),
                focus_mm=self._focus(end),
            ),
        )

    def _said(self, x: LeafletLayer, otherwise: str = "") -> str:
        part = self.leaflet.part(x.part)
        return (part.name or f"{part.what} {part.id}") if part else otherwise

    def _put_on(self, x: LeafletLayer, ends: tuple[str, ...]) -> None:
        """One layer of the leaflet at its place."""
        end, r = (ends[0] if len(ends) == 1 else ""), self.rules
        layer_id = f"{x.id}-{end}" if end and len(self.ends) > 1 else x.id
        title = x.title or self._said(x, x.kind.replace("-", " "))
        if x.kind in BRAIDS:
            self._cut(end, "outer-jacket")
            self._take(
                (end,),
                Braid(
                    layer_id,
                    title,
                    end,
                    r,
                    x,
                    self._said(x),
                    after=self._need((end,)),
                    focus_mm=self._focus(end),
                ),
            )
            self._cut(end, "braid")
            self._cut(end, "inner-jacket")
            self._cut(end, "core")
            return
        where: dict[str, Any] = {"after": self._need(ends), "focus_mm": self._focus(end or "A")}
        if x.kind == "strip-core":
            zone = self.zone(end)
            self._cut(end, "overlay" if zone else "matrix")
            strip = StripCore(
                layer_id, title, end, r, x, zone, after=self._need(ends), focus_mm=where["focus_mm"]
            )
            self._take(ends, strip)
            for bus in ("bus-1", "bus-2"):
                self._cut(end, bus)
            return
        if x.kind == "tube":
            self._tube(x, ends, layer_id, title)
            return
        made: Layer | None = None
        match x.kind:
            case "bus-stagger":
                made = BusStagger(layer_id, title, end, r, x, self._said(x, "tape"), **where)
            case "grommet":
                self._moulded_fits(x, ends)
                made = Grommet(
                    layer_id,
                    title,
                    end,
                    r,
                    x,
                    x.part or "",
                    self._said(x, "grommet"),
                    self.joint.mounting.entry,
                    after=("measured",),
                    focus_mm=self._focus(end),
                )
                self.layers.append(made)
                self.after[end] = (*self._need((end,)), made.last)
                self.layers = [
                    replace(y, after=(made.last,)) if isinstance(y, SquareEnd) and y.end == end else y
                    for y in self.layers
                ]
                return
            case "crimp":
                made = BusCrimps(
                    layer_id,
                    title,
                    end or "A",
                    r,
                    x,
                    self._said(x, "crimp"),
                    ("bus-1", "bus-2", "braid"),
                    " and ".join(self.ends),
                    **where,
                )
                made = replace(made, after=(*made.after, *self._parked_hold()))
                self.layers.append(made)
                self.crimped = True
                for e in ends:
                    self.after[e] = tuple(s.id for s in made.steps())
                return
            case "terminals":
                self.landing[end] = self._need(ends)
                made = replace(
                    Terminals(layer_id, title, end, r, x, **where),
                    after=(f"test.braid.{end}", *self._parked_hold()),
                )
            case "box":
                made = Box(layer_id, title, end or "A", r, x, self.joint.mounting.entry, **where)
            case "boot" | "cap":
                self._moulded_fits(x, ends)
                side: Side | None = ("b" if end == "B" else "a") if x.id in self.parks else None
                made = Moulded(
                    layer_id,
                    title,
                    end or "A",
                    r,
                    x,
                    self._said(x, x.kind),
                    self._span(x, ends),
                    self._wall(x, "trace.moulded_mm"),
                    parked=side,
                    skin=self.open.pop(end or "A", None),
                    heat_min=self._heat_min(x, ends),
                    **where,
                )
            case "sealant":
                part = self.leaflet.part(x.part)
                cure = x.minutes if x.minutes is not None else (part.cure_min if part else None)
                self.open[end or "A"] = (
                    (f"seal.{layer_id}", part.skin_min) if part and part.skin_min else None
                )
                made = Sealant(
                    layer_id,
                    title,
                    end or "A",
                    r,
                    x,
                    self._said(x, "sealant"),
                    cure or 0.0,
                    self._span(x, ends),
                    **where,
                )
            case "tape":
                made = Taped(
                    layer_id,
                    title,
                    end or "A",
                    r,
                    x,
                    self._said(x, "tape"),
                    self._span(x, ends),
                    self._wall(x, "trace.tape_mm"),
                    **where,
                )
            case _:
                made = PlainWork(layer_id, title, end or "A", r, x, **where)
        self.outside = made.apply(self.outside)
        self._take(ends, made)

    def _heat_min(self, x: LeafletLayer, ends: tuple[str, ...]) -> float | None:
        """How long a cap or boot that shrinks stays hot, min; None for one that is pushed on."""
        part = self.leaflet.part(x.part)
        shrinks = part and part.opens and part.closes and part.opens.given and part.closes.given
        over = max(self.cables[e].outer_jacket.girth_od_mm for e in ends)
        return self.tubes.cool_min(over) if shrinks else None

    def _wall(self, x: LeafletLayer, rule: str) -> float:
        part = self.leaflet.part(x.part)
        return part.wall_mm if part and part.wall_mm is not None else self.rules.number(rule)

    def _parked_hold(self) -> tuple[str, ...]:
        return ("parked",) if self.parks else ()

    def _span(
        self, x: LeafletLayer, ends: tuple[str, ...], length: float | None = None
    ) -> tuple[float, float]:
        """What a layer covers, mm on the axis."""
        first = ends[0]
        if x.at == "joint" and len(ends) > 1:
            spans = [self.axes[e].x(back_mm(x, self.opened[e])) for e in ends[:2]]
            return min(spans), max(spans)
        part = self.leaflet.part(x.part)
        long = (
            length
            if length is not None
            else (
                part.length.value_mm
                if part and part.length and part.length.given
                else back_mm(x, self.opened[first])
            )
        )
        return self.axes[first].span(back_mm(x, self.opened[first]), front_mm(x, self.opened[first], long))

    # --- parts against the cable ----------------------------------------------------------------------------

    def _moulded_fits(self, x: LeafletLayer, ends: tuple[str, ...]) -> None:
        """A boot's, cap's or grommet's opening against the jackets it goes over."""
        p = self.leaflet.part(x.part)
        if p is None:
            return
        jackets = {self.cables[e].outer_jacket: e for e in reversed(ends)}
        for jacket, end in reversed(jackets.items()):
            of = f" of {end}" if end in self.joint.ends.unlike() else ""
            for key, value in (("width", jacket.width_mm), ("thickness", jacket.thickness_mm)):
                low, high = getattr(p, f"{key}_least_mm"), getattr(p, f"{key}_most_mm")
                if low is not None and not at_least(value, low):
                    self.refused.append(
                        f"{self._said(x)}: takes a {key} from {low:g} mm, the jacket{of} has {value:g}"
                    )
                if high is not None and not at_most(value, high):
                    self.refused.append(
                        f"{self._said(x)}: takes a {key} up to {high:g} mm, the jacket{of} has {value:g}"
                    )

    def _tube(self, x: LeafletLayer, ends: tuple[str, ...], layer_id: str, title: str) -> None:
        part = self.leaflet.part(x.part)
        assert part is not None
        span = self._span(x, ends, recovered_length_mm(part) if part.length and part.length.given else None)
        both = x.at == "joint" and len(ends) > 1
        parked: Side | None = None
        if x.id in self.parks:
            parked = "a" if both else ("b" if ends[0] == "B" else "a")
        under = self.outside
        tube = TraceTube(
            layer_id,
            title,
            span,
            self.rules,
            after=self._need(ends),
            leaf=x,
            end="" if both else ends[0],
            parked=parked,
            park_order=self.parks.index(x.id) + 1 if x.id in self.parks else 1,
            legs=both and bool(self.legs),
            heat_caution=(
                "Keep the gun moving. Shield the jacket and what is parked."
                if parked
                else "Keep the gun moving. Shield the jacket."
            ),
        )
        axis = None if both else self.axes[ends[0]]
        choice, found = self.tubes.fitted(tube, part, under, axis)
        self.choices.append(choice)
        if found is None:
            self._take(
                ends,
                PlainWork(
                    layer_id,
                    title,
                    ends[0],
                    self.rules,
                    x.model_copy(update={"title": title}),
                    after=self._need(ends),
                ),
            )
            return
        self.outside = found.apply(under)
        self._take(ends, found)

    # --- the rest -------------------------------------------------------------------------------------------

    def _park(self) -> Parking | None:
        threads = [t for x in self.layers for t in x.threads()]
        if not threads:
            return None
        free_b = self.side("B").free_mm if len(self.ends) > 1 else 0.0
        r = self.rules
        return park(
            [ParkItem(t.layer, t.length_mm, t.side, t.order) for t in threads],
            self.joint.ends.A.free_mm,
            free_b,
            between_mm=r.number("park.between_mm"),
            keep_away_mm=r.number("park.keep_away_crimp_mm"),
        )

    def _kit(self) -> StockKit | None:
        """The box to take: of this sheet, in stock and in date."""
        mine = [k for k in self.joint.stock.kits if k.sheet == self.sheet.id]
        return min(
            (k for k in mine if k.free(self.today) != 0),
            key=lambda k: (k.price_each if k.price_each is not None else 1e9, k.id),
            default=None,
        )

    def _box(self, kit: StockKit | None) -> Kit:
        packing = ", ".join(
            f"{p.count} × {p.name or p.what} ({p.id})" for p in self.leaflet.parts if p.supplied
        )
        none = 0.0 if self.joint.stock.kits else None
        return Kit(
            "kit",
            kit.said if kit else self.sheet.name,
            kit.id if kit else "",
            kit.first_lot(self.today) if kit else "",
            kit.free(self.today) if kit else none,
            packing or "The parts of the leaflet.",
        )

    def test_v(self) -> float:
        """Test voltage, V DC: what the rule book asks for as far as the cable's data allow."""
        of_cables = [c.test_most_v for c in self.cables.values()]
        known = [v for v in (*of_cables, self.leaflet.test_most_v) if v is not None]
        most = min(known) if known else self.rules.number("trace.test_least_v")
        volts = min(self.rules.number("trace.test_v"), most)
        if volts < self.rules.number("trace.test_least_v"):
            raise InputError.at(
                "/cable/test_most_v",
                f"is under the least test voltage of {self.rules.number('trace.test_least_v'):g} V",
            )
        return volts

    def _procedure(
        self, ready: Mapping[str, tuple[str, ...]], held: tuple[str, ...], closed: tuple[str, ...]
    ) -> TraceProcedure:
        clear = {s.end: s.id for x in self.layers for s in x.steps() if s.id.startswith("clear.")}
        parked = tuple(s.id for x in self.layers for s in x.steps() if s.kind == "park")
        return TraceProcedure(
            "procedure",
            "gates and proofs",
            self.rules,
            ("bus-1", "bus-2"),
            self.joint.rated_voltage_v,
            parked=parked,
            joined=tuple(dict.fromkeys(s for e in held for s in ready[e])),
            core_proofs=tuple(clear[e] for e in held if e in clear),
            outer_done=closed,
            hazardous="hazardous" in self.joint.duties,
            mounted_first=self.leaflet.mounted_first and not self.joint.mounting.mounted,
            test_v=self.test_v(),
            live=self.sheet.recipe in ("trace-power", "trace-power-end"),
            through=("bus-1", "bus-2", "braid") if self.joined else (),
            landing=self.landing,
            braid_always=bool(self.landing)
            and self.made.began_without(f"test.braid.{next(iter(self.landing))}"),
            apart={e: (*ready[e], *([clear[e]] if e in clear else [])) for e in self.ends if e not in held},
        )
