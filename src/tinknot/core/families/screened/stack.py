"""The stack of a screened cable's joint: units spliced, foil and braid made good, a sleeve over all."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from tinknot.core.choosing.park import Parking, ParkItem
from tinknot.core.families.choice import Choice, Pick
from tinknot.core.families.screened.closing import Closing
from tinknot.core.families.screened.foiling import foil_for, needed_mm
from tinknot.core.families.screened.layout import Layout
from tinknot.core.families.screened.solution import ScreenedSolution
from tinknot.core.formulas.conductor import resistance_uohm
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import gates
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.cooling import cooling_together
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.moulded.part import MouldedPart
from tinknot.core.layers.procedure import Joined, joint_procedure, rung_through, screen_through
from tinknot.core.layers.proofs import Proofs
from tinknot.core.layers.screened.end import ScreenedEnd
from tinknot.core.layers.screened.screens import DonorBraid, Drains, FoilMadeGood
from tinknot.core.tolerance import whole_up

BRIDGED = " Bridge it across the place before it is cut."
TAIL_MM = 200.0  # of sheath drawn on either side
FOIL_MM = 0.1  # what a half-lapped wrap of foil adds to a radius; estimated, it is seldom measured


@dataclass(frozen=True)
class Over:
    """What lies over the joined cores so far, inside out, with the choices made for it. `under`: the outside
    of it; `stuck`: something for it is missing; `donor`: the braid among it."""

    under: Profile
    layers: tuple[Layer, ...] = ()
    choices: tuple[Choice, ...] = ()
    picks: tuple[Pick, ...] = ()
    stuck: bool = False
    donor: DonorBraid | None = None

    def on(self, *layers: Layer) -> "Over":
        """With more layers over all."""
        under = self.under
        for x in layers:
            under = x.apply(under)
        return replace(self, under=under, layers=(*self.layers, *layers))


class Stacking(Closing):
    """All of it put on each other, for every number of places that is looked at."""

    def solve(self) -> ScreenedSolution:
        """With the places asked for; else the thinnest joint that can be built, of these the shortest."""
        if self.joint.forbids and not self.joint.owner:
            return ScreenedSolution(stops=("Its papers forbid a joint: ask for a larger entry or a box.",))
        if stop := next((x for s in self.splices if (x := s.stop())), "") or self._own_braids():
            return ScreenedSolution(stops=(stop,))
        if not self.splice_of:
            return ScreenedSolution(choices=self._splice_choices, picks=self._splice_picks)
        tried = [self._with(layout) for layout in self.layouts.values()]
        return min(tried, key=_worth)

    @property
    def _splice_choices(self) -> tuple[Choice, ...]:
        return tuple(c for f in self.spliced for c in f.choices)

    @property
    def _splice_picks(self) -> tuple[Pick, ...]:
        return tuple(p for f in self.spliced for p in f.picks)

    def _own_braids(self) -> str:
        """Why units with braids of their own are not joined here; empty where there are none."""
        if not (own := self.cable.screened_by("braid")):
            return ""
        one = self.cable.members[own[0]].kind
        return (
            f"{one.capitalize()} {self.cable.number(own[0])} has a braid of its own: that is a screened cable"
            f" inside this one. Join each such {one} as a joint of its own first, then the cable round them."
        )

    def _inner(self, layout: Layout, folds: tuple[float, float]) -> Profile:
        """Sheath, fold, bundle, fold, sheath."""
        half, more = layout.gap_mm / 2, 2 * self.braid_mm
        a, b = self.sheath
        bundle = [
            (x1, x2, d, d) for x1, x2 in pairwise(layout.edges) for d in [layout.bundle_mm((x1 + x2) / 2)]
        ]
        far = half + max(folds) + self._overlap(0) + TAIL_MM
        return Profile.of_stretches(
            [
                (-far, -half - folds[0], a, a),
                (-half - folds[0], -half, a + more, a + more),
                *bundle,
                (half, half + folds[1], b + more, b + more),
                (half + folds[1], far, b, b),
            ]
        )

    def _with(self, layout: Layout) -> ScreenedSolution:
        """With the splices laid like this; as far as it goes where something is missing."""
        folds = (self._fold(0), self._fold(1))
        inner = self._inner(layout, folds)
        over = self._foiled(layout, Over(inner, choices=self._splice_choices, picks=self._splice_picks))
        if self.braided and not over.stuck:
            over = self._braided(layout, folds, over)
        if not over.stuck:
            over = self._closed(layout, folds, over)
        if over.stuck:
            return ScreenedSolution(
                choices=over.choices, picks=over.picks, layout=layout, steps=layout.positions
            )
        return self._whole(layout, folds, inner, over)

    def _foiled(self, layout: Layout, over: Over) -> Over:
        """Drain wires joined, foil of the units and over all made good."""
        cable, half = self.cable, layout.gap_mm / 2
        drains = [cable.number(n) for n in cable.screened_by("drain")]
        drains += ["all"] if "drain" in cable.overall else []
        if drains:
            over = over.on(Drains("drains", "drain wires", self.rules, tuple(drains), (-half, half)))
        own, over_all = cable.screened_by("foil"), "foil" in cable.overall
        if not (own or over_all):
            return over
        beyond, harvest = (self.rules.number(f"screen.{k}_mm") for k in ("foil_beyond", "harvest"))
        missing = min(layout.edges[-2] - layout.edges[1] + 2 * beyond, layout.gap_mm)
        ods = tuple(layout.unit_mm(cable.number(n)) for n in own)
        ods += (layout.greatest_mm,) if over_all else ()
        foils = self.joint.stock.foils
        pick, part = foil_for(foils, ods, missing, harvest, self.today)
        if foils:
            over = replace(over, picks=(*over.picks, pick), stuck=part is None)
        used = needed_mm(part, ods, missing, harvest) if part else whole_up(missing + harvest)
        thick = part.thickness_mm / (1 - part.overlap_pct / 100) * (bool(own) + over_all) if part else FOIL_MM
        lot = part.first_lot(self.today) if part else ""
        foil = FoilMadeGood(
            "foil",
            "foil",
            self.rules,
            len(own),
            over_all,
            (-half, half),
            2 * thick,
            part,
            lot,
            used,
        )
        return over.on(foil)

    def _braided(self, layout: Layout, folds: tuple[float, float], over: Over) -> Over:
        """Donor braid over both folds, and what holds it there."""
        fixed, parts = self._fixed_by(), []
        if fixed == "solder":
            over = replace(over, choices=(*over.choices, *(c for c, _ in self.solder_choices)))
            parts = [p for _, p in self.solder_choices if p]
        pick, donor = self._donor(over.under, _folded(layout, folds))
        over = replace(over, picks=(*over.picks, pick), stuck=donor is None)
        if donor is None:
            return over
        over = replace(over.on(donor), donor=donor)
        held, picks = self._held(fixed, parts, over.under, layout.gap_mm, folds)
        over = replace(over, picks=(*over.picks, *picks), stuck=len(held) < 2)
        return over if over.stuck else over.on(*held)

    def _closed(self, layout: Layout, folds: tuple[float, float], over: Over) -> Over:
        """The outer sleeve over all of it and onto both sheaths, and what closes its ends."""
        half = layout.gap_mm / 2
        spans = [_folded(layout, folds), *(y for x in over.layers if (y := x.closes_mm()))]
        span = (min(a for a, _ in spans) - self._overlap(0), max(b for _, b in spans) + self._overlap(1))
        for cover in self._covers(span, half):
            choice, made = self._chosen(cover, over.under)
            over = replace(over, choices=(*over.choices, choice), stuck=made is None)
            if made is None:
                return over
            over = over.on(made)
        if self.wires:
            found = self._breakout(layout, span, over.under)
            over = replace(over, choices=(*over.choices, *found.choices), picks=(*over.picks, *found.picks))
            if found.made is None:
                return replace(over, stuck=True)
            over = over.on(*found.made.layers)
        return over

    # --- all of it --------------------------------------------------------------------------------------

    def _whole(
        self, layout: Layout, folds: tuple[float, float], inner: Profile, made: Over
    ) -> ScreenedSolution:
        j, half = self.joint, layout.gap_mm / 2
        units = self._units(layout)
        markers = self._markers(units)
        caps = self._caps()
        longest = max(u.cool_min for u in units)
        cools = cooling_together("cores-cool", [(x.id, longest) for x in (*units, *caps)], "core", self.rules)
        parking = self._parking(made.layers)
        over = [_parked(x, parking) for x in made.layers]
        ends = [
            ScreenedEnd(
                f"end-{name}",
                f"end {name}",
                name,
                self.rules,
                layout.cut_mm(name),
                {u.unit: u.part.strip_mm for u in units},
                folds[n],
                "foil" in self.cable.overall,
                ((-half - folds[0], 0.0), (0.0, half + folds[1]))[n],
                self.wires and name == "B",
                self.wires,
            )
            for n, name in enumerate("AB")
        ]
        cores = tuple(c for of_unit in layout.centres_mm.values() for c in of_unit)
        of_core = tuple(str(u) for u, of_unit in layout.centres_mm.items() for _ in of_unit)
        uohm = self._screen_uohm(made.donor, layout.gap_mm + sum(folds)) if made.donor else 0.0
        procedure = joint_procedure(
            Joined(
                proofs=Proofs(self.rules, j.rated_voltage_v, cores, own_ohm=self._own_ohm()),
                places=tuple(dict.fromkeys(of_core)),
                threads=any(x.threads() for x in (*over, *units, *markers)),
                hazardous="hazardous" in j.duties,
                screen=(gates.screen_dead(BRIDGED),),
                named=rung_through(cores, of_core),
                more=screen_through(uohm),
            )
        )
        outside = inner
        for x in over:
            outside = x.apply(outside)
        rung = self._ring_out()
        known = [rung] if rung else []
        layers: tuple[Layer, ...] = (procedure, *ends, *known, *markers, *units, *caps, *cools, *over)
        closed = [x.span_mm for x in over if isinstance(x, (CoverSleeve, MouldedPart))]
        last = (min(a for a, _ in closed), max(b for _, b in closed))
        return ScreenedSolution(
            layers=layers,
            choices=made.choices,
            picks=(*made.picks, *(p for p, _ in self._cap_picks)),
            outside=outside,
            seat=last,
            parking=parking,
            steps=layout.positions,
            layout=layout,
            inner=inner,
        )

    def _parking(self, layers: Sequence[Layer]) -> Parking:
        """What is threaded, each part on the tail its layer wants."""
        items = [
            ParkItem(t.layer, t.length_mm, x.waits_on("either"), t.order) for x in layers for t in x.threads()
        ]
        return self.parked(items, self.joint.free_a_mm, self.joint.free_b_mm)

    def _own_ohm(self) -> dict[str, float]:
        """What each core reads from end to end, Ω: thin ones read much."""
        metres = self.joint.cable_length_m or self.rules.number("continuity.length_m")
        factor = self.rules.number("screen.resistance_factor")
        a, b = self.joined.a, self.joined.b
        least = [min(x.area_mm2, y.area_mm2) for x, y in zip(a.members, b.members, strict=True)]
        return {
            core: round(factor * resistance_uohm(area, metres * 1000) / 1e6, 2)
            for n, area in enumerate(least)
            for core in a.unit(n)
        }


def _folded(layout: Layout, folds: tuple[float, float]) -> tuple[float, float]:
    """From fold to fold, mm on the joint's axis."""
    return -layout.gap_mm / 2 - folds[0], layout.gap_mm / 2 + folds[1]


def _worth(s: ScreenedSolution) -> tuple[bool, float, float]:
    """What is built first: least thickness, to a tenth of a mm, then least length."""
    thick = s.finished.greatest() if s.finished else (s.layout.greatest_mm if s.layout else 0.0)
    return not s.fits, round(thick, 1), s.layout.gap_mm if s.layout else 0.0


def _parked(layer: Layer, parking: Parking) -> Layer:
    """A layer told which tail its part waits on."""
    end = "A" if layer.id in parking.a else "B"
    if isinstance(layer, CoverSleeve):
        return replace(layer, park_on="a" if end == "A" else "b")
    return layer
