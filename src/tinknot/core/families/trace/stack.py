"""A heat-trace connection made by a kit's sheet: its leaflet's layers, in their order, over a flat cable."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby

from tinknot.core.acts import Wait
from tinknot.core.choosing.park import Parking, ParkItem, Side, park, tail
from tinknot.core.errors import InputError
from tinknot.core.families.contract import Solution
from tinknot.core.families.trace.circuit import bend_radius_mm
from tinknot.core.families.trace.putting import BEFORE_SQUARE, SAID_ANYWAY, Putting, joins_wires
from tinknot.core.families.trace.tubes import Axis
from tinknot.core.joint.flatend import LaidOpen
from tinknot.core.joint.leaflet import BRAIDS, CUTS, WIRES, LeafletLayer, Wire
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Material, Step
from tinknot.core.layers.trace.kit import Kit
from tinknot.core.layers.trace.opening import told
from tinknot.core.layers.trace.procedure import TraceProcedure
from tinknot.core.layers.trace.sealing import Sealant
from tinknot.core.parts.kit import StockKit
from tinknot.core.plan.trace import TraceOut

UNSAID = ("surface", "inspect", "test", "wait")
# rows that are made at each end by itself, all for one end before the next
BY_END = (*CUTS, *BRAIDS, "bus-stagger", "sealant", "boot", "cap")


@dataclass(frozen=True, kw_only=True)
class TraceSolution(Solution):
    """The stack over a flat cable: `opened` and `axes` by end; `inner`: the cable before anything is put
    on it; `trace`: the cable's arithmetic."""

    opened: Mapping[str, LaidOpen]
    axes: Mapping[str, Axis]
    inner: Profile
    kit: StockKit | None
    trace: TraceOut | None = None


def _held(step: Step) -> bool:
    """Whether it waits for as long as the leaflet says: a pinch held, a minute before going on."""
    return any(isinstance(a, Wait) and a.until == "set" for a in step.acts)


class TraceStack(Putting):
    """The whole stack with where it waits, its kit and its proofs."""

    def build(self) -> TraceSolution:
        """The stack, layer by layer in the sheet's order; every tube against its window."""
        layers_of = self._layers_of()
        lands = [x for x in layers_of if x.kind == "terminals" or (joins_wires(x) and not self.joined)]
        landed = {e for e in self.ends for x in lands if e in self._ends_of(x)}
        # the holds are those of the ends that are joined or landed; another end closes by itself
        held = self.ends if self.joined else tuple(e for e in self.ends if e in landed) or self.ends[:1]
        inner = self._begin(layers_of)
        ready = self._rows_done(layers_of, held)
        parking = self._park()
        cured = [s for x in self.layers if isinstance(x, Sealant) for s in x.cured]
        closed = tuple(dict.fromkeys([*(s for e in self.ends for s in self.after[e]), *cured]))
        kit = self._kit()
        layers = (self._procedure(ready, held, closed), self._box(kit), *self.layers)
        return TraceSolution(
            layers=layers,
            choices=tuple(self.choices),
            outside=self.outside,
            seat=self._seat(),
            parking=parking,
            stops=tuple(self.refused),
            warnings=tuple(self._warned(kit)),
            opened=self.opened,
            axes=self.axes,
            inner=inner,
            kit=kit,
            rows=self._rows(),
        )

    def _rows(self) -> dict[str, int]:
        """By step, the row of the leaflet it is of: what its hand does, not the wipes, looks and waits that
        leaflets leave unsaid."""
        found: dict[str, int] = {
            x.kind: n for n, x in enumerate(self.leaflet.layers, 1) if x.kind in SAID_ANYWAY
        }
        for layer in (x for x in self.layers if x.id in self.row_of):
            steps = layer.steps()
            own = [s for s in steps if s.kind not in UNSAID or _held(s)] or steps[:1]
            found |= dict.fromkeys((s.id for s in own), self.row_of[layer.id])
        return found

    def _begin(self, layers_of: list[LeafletLayer]) -> Profile:
        """Nothing is put on yet; the cable as it is laid open."""
        self.after = {}
        self.row_of = {}
        self.unsaid = set()
        self.squares = {}
        self.layers = []
        self.choices = []
        self.refused = []
        self.crimped = False
        self.landing = {}
        self.bend_mm = self._bend_mm()
        self.open = {}
        self.outside = inner = self.inner()
        self.parks = [x.id for i, x in enumerate(layers_of) if self._must_park(x, i, layers_of)]
        self.long_on = self._threaded_on(layers_of)
        return inner

    def _rows_done(self, layers_of: list[LeafletLayer], held: Sequence[str]) -> dict[str, tuple[str, ...]]:
        """Every row put on in its turn; by end, the steps with which it is laid open, joined or landed."""
        worked = {e: self._last_work(e, layers_of) for e in self.ends}
        before = {e: self._last_before(e, layers_of) for e in self.ends}
        ready: dict[str, tuple[str, ...]] = {}
        for run in self._end_by_end(layers_of):
            for i, end in run:
                for e in [e for e in self.ends if end in ("", e)]:
                    self._reached(e, i, before, worked, ready=ready, held=held)
                known = len(self.layers)
                for ends in [x for x in self._places(layers_of[i]) if end in ("", *x)]:
                    self._put_on(layers_of[i], ends)
                row = self.leaflet.layers.index(layers_of[i]) + 1
                self.row_of |= {x.id: row for x in self.layers[known:] if x.id not in self.unsaid}
        for e in self.ends:
            self._reached(e, len(layers_of), before, worked, ready=ready, held=held)
        return ready

    def _reached(
        self,
        end: str,
        row: int,
        before: Mapping[str, int],
        worked: Mapping[str, int],
        *,
        ready: dict[str, tuple[str, ...]],
        held: Sequence[str],
    ) -> None:
        """What an end needs before a row: cut square once box and entry are ready, looked at and tested once
        it is laid open, joined or landed."""
        if row > before[end] and end not in self.squares:
            self._square(end)
        if row > worked[end] and end not in ready:
            self._ready(end, ready, end in held)

    def _warned(self, kit: StockKit | None) -> Iterator[str]:
        """What to mind of kit and sheet."""
        if not kit and self.joint.stock.kits:
            yield f"No kit of the sheet {self.sheet.name} is in stock."
        if self.unlike:
            yield (
                "Unlike cables on one circuit: length and breaker go by the one that allows less, and each"
                " must be made for this voltage, temperature and pipe. Bend radius and loop are the sheet's."
            )
        if self.sheet.state == "draft":
            yield f"{self.sheet.name} is a draft: nobody has checked it yet."
        if self.leaflet.note:
            yield self.leaflet.note
        if self.leaflet.companion:
            yield f"A companion kit is needed: {self.leaflet.companion}"

    def _end_by_end(self, layers: list[LeafletLayer]) -> Iterator[list[tuple[int, str]]]:
        """The rows by their number, in their order; of those that follow each other and are made at each end
        by itself, all for one end before the next, so that nothing skins while another end is filled."""
        for alone, run in groupby(enumerate(layers), lambda row: row[1].kind in BY_END):
            rows = list(run)
            if alone and any(x.at is None for _, x in rows):
                yield [(i, e) for e in self.ends for i, x in rows if x.at in (None, e)]
            else:
                yield [(i, "") for i, _ in rows]

    def _last_before(self, end: str, layers: list[LeafletLayer]) -> int:
        """The place of the last row that readies box and entry before the end itself is worked on; -1 where
        none does."""
        mine = [(i, x) for i, x in enumerate(layers) if end in self._ends_of(x)]
        work = next((i for i, x in mine if x.kind not in (*BEFORE_SQUARE, "step")), len(layers))
        return max((i for i, x in mine if i < work and x.kind in BEFORE_SQUARE), default=-1)

    def _last_work(self, end: str, layers: list[LeafletLayer]) -> int:
        """The place of the last layer at an end that joins or lands it, else of the last that lays it open;
        -1 where none does."""
        mine = [(i, x) for i, x in enumerate(layers) if end in self._ends_of(x)]
        joins = [i for i, x in mine if joins_wires(x)]
        opens = [i for i, x in mine if x.kind in (*CUTS, "bus-stagger", *BRAIDS)]
        return max(joins or opens, default=-1)

    def _ready(self, end: str, ready: dict[str, tuple[str, ...]], held: bool) -> None:
        """An end is laid open, joined or landed: what closes it waits until it was looked at and tested."""
        ready[end] = self.after[end]
        self.after[end] = ("before-closing",) if held else (f"look.{end}",)

    def _bend_mm(self) -> float | None:
        try:
            return bend_radius_mm(self.leaflet.bend, self.joint.ambient_c)
        except InputError:
            return None  # told where bends are judged

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
        supplied = [p for p in self.leaflet.parts if p.supplied]
        packing = ", ".join(f"{p.count} × {p.name or p.what} ({p.id})" for p in supplied)
        packing = packing or "The parts of the leaflet."
        none = 0.0 if self.joint.stock.kits else None
        said = next((x.text for x in self.leaflet.layers if x.kind == "receive"), "")
        return Kit(
            "kit",
            kit.said if kit else self.sheet.name,
            kit.id if kit else "",
            kit.first_lot(self.today) if kit else "",
            on_hand=kit.free(self.today) if kit else none,
            packing=told(f"{packing.rstrip('.')}.", said) if said else packing,
            besides=tuple(self._besides()),
        )

    def _besides(self) -> Iterator[Material]:
        """What the leaflet says is not in the box, as far as it is chosen by no window; counted where the
        stock lists it under the same name or mark."""
        listed = self.joint.stock.counted()
        for p in self.leaflet.parts:
            if p.supplied or p.what == "tube":
                continue
            said = p.name or f"{p.what} {p.id}"
            mine = next((q for q in listed if said in (q.id, q.name)), None)
            have = mine.free(self.today) if mine else None
            yield Material(said, p.count, "piece", have, part_id=mine.id if mine else "")

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
            twisted=bool(self.fed) and not any(x.kind == "terminals" for x in self.leaflet.layers),
            through=self._through() if self.joined else (),
            ends=self.ends,
            landing=self.landing,
            label=next((x.text for x in self.leaflet.layers if x.kind == "label"), ""),
            braid_always=bool(self.landing)
            and self.made.began_without(f"test.braid.{next(iter(self.landing))}"),
            apart={e: (*ready[e], *([clear[e]] if e in clear else [])) for e in self.ends if e not in held},
        )
