"""A heat-trace connection made by a kit's sheet: its leaflet's layers, in their order, over a flat cable."""

from collections.abc import Mapping
from dataclasses import dataclass

from tinknot.core.choosing.park import Parking, ParkItem, Side, park, tail
from tinknot.core.errors import InputError
from tinknot.core.families.contract import Solution
from tinknot.core.families.trace.putting import Putting, joins_wires
from tinknot.core.families.trace.tubes import Axis
from tinknot.core.joint.flatend import LaidOpen
from tinknot.core.joint.leaflet import BRAIDS, WIRES, LeafletLayer, Wire
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.trace.kit import Kit
from tinknot.core.layers.trace.opening import SquareEnd
from tinknot.core.layers.trace.procedure import TraceProcedure
from tinknot.core.layers.trace.sealing import Sealant
from tinknot.core.parts.kit import StockKit
from tinknot.core.plan.trace import TraceOut


@dataclass(frozen=True, kw_only=True)
class TraceSolution(Solution):
    """The stack over a flat cable: `opened` and `axes` by end; `inner`: the cable before anything is put
    on it; `trace`: the cable's arithmetic."""

    opened: Mapping[str, LaidOpen]
    axes: Mapping[str, Axis]
    inner: Profile
    kit: StockKit | None
    trace: TraceOut | None = None


class TraceStack(Putting):
    """The whole stack with where it waits, its kit and its proofs."""

    def build(self) -> TraceSolution:
        """The stack, layer by layer in the sheet's order; every tube against its window."""
        layers_of = self._layers_of()
        worked = {e: self._last_work(e, layers_of) for e in self.ends}
        landed = {e for e in self.ends for x in layers_of if x.kind == "terminals" and e in self._ends_of(x)}
        # the holds are those of the ends that are joined or landed; another end closes by itself
        held = self.ends if self.joined else tuple(e for e in self.ends if e in landed) or self.ends[:1]
        self.after = {}
        self.squares = {}
        self.layers = []
        self.choices = []
        self.refused = []
        self.crimped = False
        self.landing = {}
        self.open = {}
        self.outside = inner = self.inner()
        self.parks = [x.id for i, x in enumerate(layers_of) if self._must_park(x, i, layers_of)]
        for end in self.ends:
            square = SquareEnd(
                f"square-{end}",
                f"end {end} cut square",
                end,
                self.rules,
                threaded=end in self._threaded_on(layers_of),
                focus_mm=self._focus(end),
            )
            self.squares[end] = square
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
        if self.leaflet.note:
            warnings.append(self.leaflet.note)
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
        mine = [(i, x) for i, x in enumerate(layers) if end in self._ends_of(x)]
        joins = [i for i, x in mine if joins_wires(x)]
        opens = [i for i, x in mine if x.kind in ("strip-core", "bus-stagger", *BRAIDS)]
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

    def _park(self) -> Parking | None:
        threads = [t for x in self.layers for t in x.threads()]
        if not threads:
            return None
        between, keep_away = (
            self.rules.number("park.between_mm"),
            self.rules.number("park.keep_away_crimp_mm"),
        )

        def waiting(end: str) -> list[ParkItem]:
            side: Side = "a" if end == "A" else "b"
            return [ParkItem(t.layer, t.length_mm, side, t.order) for t in threads if t.end == end]

        free = self.free_mm()
        more = {
            end: tail(waiting(end), free[end], between_mm=between, keep_away_mm=keep_away)
            for end in self.ends[2:]
        }
        return park(
            [*waiting("A"), *waiting("B")],
            free["A"],
            free.get("B", 0.0),
            between_mm=between,
            keep_away_mm=keep_away,
        ).with_more(more)

    def free_mm(self) -> dict[str, float]:
        """By end, what of its tail is free to wait on, mm."""
        return {end: self.side(end).free_mm for end in self.ends}

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
            on_hand=kit.free(self.today) if kit else none,
            packing=packing or "The parts of the leaflet.",
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

    def _through(self) -> tuple[Wire, ...]:
        """What is joined while both sides lie bare, and so is read across itself then; work that was begun
        when the braid was joined with the wires has it among them."""
        rows = [x for x in self.leaflet.layers if x.kind == "crimp"]
        early = {w for x in rows if joins_wires(x) for w in x.joined}
        begun = {"braid"} & {w for w in WIRES if f"join.{w}" in self.made.done}
        return tuple(w for w in WIRES if w in early | begun)

    def _procedure(
        self, ready: Mapping[str, tuple[str, ...]], held: tuple[str, ...], closed: tuple[str, ...]
    ) -> TraceProcedure:
        clear = {s.end: s.id for x in self.layers for s in x.steps() if s.id.startswith("clear.")}
        parked = tuple(s.id for x in self.layers for s in x.steps() if s.kind == "park")
        return TraceProcedure(
            "procedure",
            "gates and proofs",
            self.rules,
            parked=parked,
            joined=tuple(dict.fromkeys(s for e in held for s in ready[e])),
            core_proofs=tuple(clear[e] for e in held if e in clear),
            outer_done=closed,
            hazardous="hazardous" in self.joint.duties,
            mounted_first=self.leaflet.mounted_first and not self.joint.mounting.mounted,
            test_v=self.test_v(),
            live=bool(self.fed),
            through=self._through() if self.joined else (),
            ends=self.ends,
            landing=self.landing,
            braid_always=bool(self.landing)
            and self.made.began_without(f"test.braid.{next(iter(self.landing))}"),
            apart={e: (*ready[e], *([clear[e]] if e in clear else [])) for e in self.ends if e not in held},
        )
