"""The layers of a leaflet put on a flat cable, each at its ends and against what lies under it."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from tinknot.core.families.choice import Choice
from tinknot.core.families.trace.cables import TraceCables
from tinknot.core.families.trace.fits import pigtail_mm, shrinks_on, takes_jacket
from tinknot.core.figures import MOST, mm
from tinknot.core.joint.flatend import back_mm, front_mm
from tinknot.core.joint.leaflet import BRAIDS, LeafletCut, LeafletLayer, LeafletPart
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.trace.boxing import WORKS, Box, BoxWork
from tinknot.core.layers.trace.joining import BusCrimps, Grommet, Terminals
from tinknot.core.layers.trace.moulded import Moulded
from tinknot.core.layers.trace.opening import Braid, FlatCut, SquareEnd
from tinknot.core.layers.trace.sealing import PlainWork, Sealant, Taped
from tinknot.core.layers.trace.stripping import BareWires, BusStagger, StripCore
from tinknot.core.layers.trace.tube import TraceTube
from tinknot.core.layers.trace.wires import ON_WIRE, BraidForward, Ferrules, WireSleeve, wires_of
from tinknot.core.sheets.lengths import recovered_length_mm
from tinknot.core.tolerance import at_least, at_most


def last_of(layer: Layer) -> str:
    """The step that ends a layer: of sealant its look, for what goes over it goes on while it is open."""
    return layer.last if isinstance(layer, Sealant) else layer.steps()[-1].id


def joins_wires(x: LeafletLayer) -> bool:
    """Whether a row joins or lands the bus wires; the braid alone may be joined over what seals them."""
    return x.kind == "terminals" or bool({"bus-1", "bus-2"} & {*x.joined})


class Putting(TraceCables):
    """The stack while it grows: `after`, by end, the steps that what comes next waits for; `row_of`, by
    layer, the leaflet's row it is of, but for what is `unsaid` there; `open`, by end, sealant that is open
    and for how long; `landing`: what landing an end waits for; `parks`: what is threaded first; `bend_mm`:
    how tight the cable may be bent today; `long_on`: the ends over whose whole cable something is threaded;
    `squares`, by end, its square cut."""

    after: dict[str, tuple[str, ...]]
    squares: dict[str, SquareEnd]
    row_of: dict[str, int]
    unsaid: set[str]
    layers: list[Layer]
    choices: list[Choice]
    refused: list[str]
    landing: dict[str, tuple[str, ...]]
    open: dict[str, tuple[str, float | None]]
    parks: list[str]
    long_on: set[str]
    bend_mm: float | None
    crimped: bool
    outside: Profile

    def _layers_of(self) -> list[LeafletLayer]:
        """The layers for any of the cables, in their order."""
        return [x for x in self.leaflet.layers if any(self._for(x, e) for e in self.ends)]

    def _for(self, x: LeafletLayer, end: str) -> bool:
        """Whether a layer is made on the cable that comes in at an end."""
        return not x.constructions or self.cables[end].construction in x.constructions

    def _places(self, x: LeafletLayer) -> list[tuple[str, ...]]:
        late = self.crimped and x.kind in ("step", "tape", "sealant")
        once = self.joined and (x.kind == "crimp" or x.kind in OF_THE_BOX or late)
        if x.at == "joint" or (x.at is None and once):
            return [self.ends]
        return [(e,) for e in self.ends if x.at in (None, e) and self._for(x, e)]

    def _must_park(self, x: LeafletLayer, i: int, layers: list[LeafletLayer]) -> bool:
        """A closed part goes on before its end is joined or landed, when it closes after that or stays
        there."""
        mine = self._ends_of(x)
        later = any(joins_wires(y) and mine & self._ends_of(y) for y in layers[:i])
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
            self.after[e] = (last_of(layer),)

    def _need(self, ends: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(dict.fromkeys(s for e in ends for s in self.after.get(e, ("measured",))))

    def _focus(self, end: str) -> tuple[float, float]:
        return self.axes[end].span(self.opened[end].jacket_mm + 30, -30)

    def _cut_of(self, end: str, layer: str) -> LeafletCut | None:
        mine = self.leaflet.cuts_for(self.cables[end].construction, end)
        return next((c for c in mine if c.layer == layer), None)

    def _square(self, end: str) -> None:
        """Cut square before the first row that works on the end itself."""
        square = SquareEnd(
            f"square-{end}",
            f"end {end} cut square",
            end,
            self.rules,
            threaded=end in self.long_on,
            after=self._need((end,)),
            focus_mm=self._focus(end),
        )
        self.squares[end] = square
        self._take((end,), square)

    def _cut(self, at: "At") -> None:
        """A cut of the leaflet."""
        end, layer = at.end or "A", at.x.layer
        if layer == "bus-insulation":
            self._bare(end)
        elif cut := self._cut_of(end, layer or ""):
            self._cut_off(end, cut)

    def _cut_off(self, end: str, cut: LeafletCut) -> None:
        o = self.opened[end]
        removed = {
            "outer-jacket": o.jacket_mm,
            "braid": o.jacket_mm - o.braid_mm,
            "inner-jacket": o.inner_mm,
            "bus-1": o.bus_mm[0],
            "bus-2": o.bus_mm[1],
        }.get(cut.layer, o.core_mm)
        said = cut.layer.replace("-", " ")
        self._take(
            (end,),
            FlatCut(
                f"cut-{cut.layer}-{end}",
                f"{said} cut, end {end}",
                end,
                self.rules,
                cut=cut,
                removed_mm=removed,
                zone=self.zone(end),
                after=self._need((end,)),
                focus_mm=self._focus(end),
            ),
        )

    def _said(self, x: LeafletLayer, otherwise: str = "") -> str:
        part = self.leaflet.part(x.part)
        return (part.name or f"{part.what} {part.id}") if part else otherwise

    def _put_on(self, x: LeafletLayer, ends: tuple[str, ...]) -> None:
        """One layer of the leaflet at its place."""
        end = ends[0] if len(ends) == 1 else ""
        layer_id = f"{x.id}-{end}" if end and len(self.ends) > 1 else x.id
        at = At(x, ends, end, layer_id, title=x.title or self._said(x, x.kind.replace("-", " ")))
        if own := OWN.get(x.kind):
            own(self, at)
        else:
            made = MADE.get(x.kind, Putting._plain)(self, at)
            self.outside = made.apply(self.outside)
            self._take(ends, made)

    def _where(self, at: "At") -> dict[str, Any]:
        """What every layer is told: its name, its end, what it waits for, the stretch to show."""
        return {
            "id": at.id,
            "title": at.title,
            "end": at.end or "A",
            "rules": self.rules,
            "leaf": at.x,
            "after": self._need(at.ends),
            "focus_mm": self._focus(at.end or "A"),
        }

    def _braid(self, at: "At") -> Layer:
        return Braid(**self._where(at), part_said=self._said(at.x))

    def _strip(self, at: "At") -> None:
        """The core stripped, to the mark where the leaflet says how far."""
        zone = self.zone(at.end)
        cut = self._cut_of(at.end, "overlay" if zone else "matrix")
        if cut:
            self._cut_off(at.end, cut)
        self._take(at.ends, StripCore(**self._where(at), zone=zone, cut=cut))

    def _grommet(self, at: "At") -> Layer:
        """Threaded on; cut at 45° first where the end is still as it came."""
        self._moulded_fits(at.x, at.ends)
        return Grommet(
            **self._where(at),
            part_id=at.x.part or "",
            part_said=self._said(at.x, "grommet"),
            entry=self.joint.mounting.entry,
            squared=at.end in self.squares,
        )

    def _bares(self, ends: tuple[str, ...]) -> None:
        """Bus wires that no row bares, before they are joined or landed."""
        for end in ends:
            if self.zone(end) and not self._cut_of(end, "bus-insulation"):
                self._bare(end)
                self.unsaid.add(f"bare-{end}")

    def _bare(self, end: str) -> None:
        """A zone cable's bus wires have an insulation of their own: off."""
        cut, o = self._cut_of(end, "bus-insulation"), self.opened[end]
        given = cut.length.value_mm if cut else 0.0
        self._take(
            (end,),
            BareWires(
                f"bare-{end}",
                f"bus wires bared, end {end}",
                end,
                self.rules,
                bare_mm=given or self.rules.number("trace.bare_mm"),
                shorter=(o.bus_mm[0] > 0, o.bus_mm[1] > 0),
                caution=cut.caution if cut else "",
                after=self._need((end,)),
                focus_mm=self._focus(end),
            ),
        )

    def _roots(self) -> dict[str, tuple[float, float]]:
        """By end, where its braid comes out from under the jacket, mm on the axis."""
        near = {e: self.opened[e].jacket_mm for e in self.ends}
        return {e: self.axes[e].span(x, x - 1.0) for e, x in near.items()}

    def _crimps(self, at: "At") -> None:
        """Bus wires or braid joined, once all that waits is counted."""
        if joins_wires(at.x):
            self._bares(at.ends)
        part = self.leaflet.part(at.x.part)
        made = BusCrimps(
            **self._where(at),
            part_said=self._said(at.x, "crimp"),
            joins=at.x.joined,
            ends=self.ends if self.joined else at.ends,
            roots=self._roots(),
            twisted=part is not None and part.what == "twist-on",
        )
        after = made.after if self.joined else self._landed(at)
        made = replace(made, after=(*after, *self._parked_hold()))
        self.layers.append(made)
        self.crimped = self.crimped or joins_wires(at.x)
        for e in at.ends:
            self.after[e] = tuple(s.id for s in made.steps())

    def _landed(self, at: "At") -> tuple[str, ...]:
        """What landing waits for: the braid read while it is off the earth. Once for each end."""
        end = at.end or "A"
        if end in self.landing:
            return self._need(at.ends)
        self.landing[end] = self._need(at.ends)
        return (f"test.braid.{end}",)

    def _terminals(self, at: "At") -> Layer:
        self._bares(at.ends)
        after = (*self._landed(at), *self._parked_hold())
        return Terminals(**self._where(at) | {"after": after, "end": at.end or "A"})

    def _supply(self, at: "At") -> Layer:
        return Terminals(**self._where(at), supply=True)

    def _box_work(self, at: "At") -> Layer:
        return BoxWork(
            **self._where(at),
            part_said=self._said(at.x),
            entry=self.joint.mounting.entry,
            bend_mm=self.bend_mm,
            prepares=not self.squares.keys() & {*at.ends},
            both=not at.end,
        )

    def _wire_sleeve(self, at: "At") -> Layer:
        part = self.leaflet.part(at.x.part)
        if part and part.shrinks:
            self._passes_wires(at, part)
        return WireSleeve(
            **self._where(at), part_said=self._said(at.x, "sleeve"), shrinks=bool(part and part.shrinks)
        )

    def _passes_wires(self, at: "At", part: LeafletPart) -> None:
        """A tube over a wire against that wire: it passes it and grips it."""
        cable, said = self.cables[at.end or "A"], self._said(at.x)
        for wire in wires_of(at.x):
            if wire == "supply":
                continue  # nobody measured them
            od = pigtail_mm(cable) if wire == "braid" else cable.bus_od_mm
            passed, gripped = self.margins.needed_expanded_mm(od), self.margins.allowed_recovered_mm(od)
            self.refused += shrinks_on(said, part, passed, gripped, over=ON_WIRE[wire], on=ON_WIRE[wire])

    def _ferrules(self, at: "At") -> Layer:
        self._bares(at.ends)
        where = self._where(at)
        where["after"] = (*where["after"], *self._parked_hold())
        return Ferrules(**where, part_said=self._said(at.x, "ferrule"))

    def _forward(self, at: "At") -> Layer:
        return BraidForward(**self._where(at), part_said=self._said(at.x, "tape"))

    def _nothing(self, at: "At") -> None:
        """Told by a step that is there anyway: the kit received, the label fixed."""

    def _moulded(self, at: "At") -> Layer:
        self._moulded_fits(at.x, at.ends)
        self._takes(at)
        side = at.end or "A"
        return Moulded(
            **self._where(at),
            part_said=self._said(at.x, at.x.kind),
            span_mm=self._span(at.x, at.ends),
            wall_mm=self._wall(at.x, "trace.moulded_mm"),
            parked=side if at.x.id in self.parks else "",
            sealant=self.open.pop(side, None),
            heat_min=self._heat_min(at.x, at.ends),
        )

    def _sealant(self, at: "At") -> Layer:
        part, air_c = self.leaflet.part(at.x.part), self.joint.ambient_c
        skin, cures = (part.skin_law(), part.cure_law()) if part else (None, None)
        skins = skin.pot_life_min(air_c) if skin else None
        cure = at.x.minutes if at.x.minutes is not None else cures.cure_min(air_c) if cures else None
        if part and part.least_c is not None and not at_least(air_c, part.least_c):
            self.refused.append(
                f"{self._said(at.x)}: is laid from {part.least_c:g} °C on, and it is {air_c:g} °C: warm the"
                " place, or take another hour"
            )
        self.open[at.end or "A"] = (f"seal.{at.id}", skins)
        return Sealant(
            **self._where(at),
            part_said=self._said(at.x, "sealant"),
            cure_min=cure or 0.0,
            span_mm=self._span(at.x, at.ends),
        )

    def _taped(self, at: "At") -> Layer:
        return Taped(
            **self._where(at),
            part_said=self._said(at.x, "tape"),
            span_mm=self._span(at.x, at.ends),
            wall_mm=self._wall(at.x, "trace.tape_mm"),
        )

    def _staggered(self, at: "At") -> Layer:
        return BusStagger(**self._where(at) | {"end": at.end}, part_said=self._said(at.x, "tape"))

    def _boxed(self, at: "At") -> Layer:
        turned = any(y.kind == "turn" and self._ends_of(y) & self._ends_of(at.x) for y in self.leaflet.layers)
        entry = self.joint.mounting.entry
        return Box(**self._where(at), entry=entry, turned=turned, both=not at.end)

    def _plain(self, at: "At") -> Layer:
        return PlainWork(**self._where(at))

    def _heat_min(self, x: LeafletLayer, ends: tuple[str, ...]) -> float | None:
        """How long a cap or boot that shrinks stays hot, min; None for one that is pushed on."""
        part = self.leaflet.part(x.part)
        over = max(self.cables[e].outer_jacket.girth_od_mm for e in ends)
        return self.tubes.cool_min(over) if part and part.shrinks else None

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
            self.refused += takes_jacket(self._said(x), p, jacket, of)

    def _takes(self, at: "At") -> None:
        """A boot or cap against what stands in it: one that shrinks passes all of it and grips the jacket,
        one that is pushed on takes what is widest in it, a pinched tube too."""
        p, (low, high) = self.leaflet.part(at.x.part), self._span(at.x, at.ends)
        if p is None or high - low < 1e-6:
            return
        inside, said = self.outside.between(low, high), self._said(at.x)
        if not p.shrinks:
            widest = max(s.greatest_mm for s in inside.stations)
            if p.width_most_mm is not None and not at_most(widest, p.width_most_mm):
                self.refused.append(
                    f"{said}: takes a width up to {mm(p.width_most_mm, MOST):g} mm, and what stands in it has"
                    f" {mm(widest):.1f} mm"
                )
            return
        passed = self.margins.needed_expanded_mm(inside.passed(p.stiff))
        gripped = self.margins.allowed_recovered_mm(
            min(self.cables[e].outer_jacket.girth_od_mm for e in at.ends)
        )
        self.refused += shrinks_on(said, p, passed, gripped, over="what stands in it", on="this jacket")

    def _tube(self, x: LeafletLayer, ends: tuple[str, ...], layer_id: str, title: str) -> None:
        part = self.leaflet.part(x.part)
        assert part is not None
        span = self._span(x, ends, recovered_length_mm(part) if part.length and part.length.given else None)
        both = x.at == "joint" and len(ends) > 1
        parked = ("A" if both else ends[0]) if x.id in self.parks else ""
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
                    leaf=x.model_copy(update={"title": title}),
                    after=self._need(ends),
                ),
            )
            return
        self.outside = found.apply(under)
        self._take(ends, found)

    # --- the rest -------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class At:
    """A row of a leaflet at its place: the ends it is made on, and the one where it is one only."""

    x: LeafletLayer
    ends: tuple[str, ...]
    end: str
    id: str
    title: str


OF_THE_BOX = ("base", "strap", "turn", "spare-holes", "gasket", "box")  # once, where both sides lie in it
SAID_ANYWAY = ("receive", "label")
BEFORE_SQUARE = (*SAID_ANYWAY, *WORKS, "grommet")  # rows that may come before the end is cut square
OWN: dict[str, Callable[[Putting, At], None]] = {
    "cut": Putting._cut,
    "strip-core": Putting._strip,
    "tube": lambda self, at: self._tube(at.x, at.ends, at.id, at.title),
    "crimp": Putting._crimps,
    **dict.fromkeys(SAID_ANYWAY, Putting._nothing),
}  # rows that take their place in the order by themselves
MADE: dict[str, Callable[[Putting, At], Layer]] = {
    **dict.fromkeys(BRAIDS, Putting._braid),
    "grommet": Putting._grommet,
    **dict.fromkeys(WORKS, Putting._box_work),
    "braid-forward": Putting._forward,
    "wire-sleeve": Putting._wire_sleeve,
    "ferrule": Putting._ferrules,
    "supply": Putting._supply,
    "bus-stagger": Putting._staggered,
    "terminals": Putting._terminals,
    "box": Putting._boxed,
    "boot": Putting._moulded,
    "cap": Putting._moulded,
    "sealant": Putting._sealant,
    "tape": Putting._taped,
}  # rows that become one layer over what is there
