"""The stack of a screened cable's joint: units spliced, foil and braid made good, a sleeve over all."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

from tinknot.core.choosing.park import Parking, ParkItem
from tinknot.core.families.recipe import away_from, parked
from tinknot.core.families.screened.braiding import donor_for, drain_uohm, held, screen_uohm
from tinknot.core.families.screened.closing import breakout, chosen, covers_of
from tinknot.core.families.screened.foiling import foil_for, needed_mm
from tinknot.core.families.screened.job import ScreenedJob
from tinknot.core.families.screened.layout import Layout
from tinknot.core.families.screened.soldering import Holding, held_by
from tinknot.core.families.screened.solution import ScreenedSolution
from tinknot.core.families.screened.splicing import cap_picks, caps_of, markers_of, ring_out, units_of
from tinknot.core.families.stack import Stack
from tinknot.core.formulas.conductor import resistance_uohm
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import gates
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.cooling import cooling_together
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.moulded.part import MouldedPart
from tinknot.core.layers.procedure import OFF, Joined, joint_procedure, rung_through, screen_through
from tinknot.core.layers.proofs import Proofs
from tinknot.core.layers.screen import fold_mm
from tinknot.core.layers.screened.end import ScreenedEnd
from tinknot.core.layers.screened.screens import DonorBraid, Drains, FoilMadeGood
from tinknot.core.layers.screened.units import UnitSpliced
from tinknot.core.layers.solder_sleeve import SolderSleeve
from tinknot.core.tolerance import whole_up

BRIDGED = " Bridge it across the place before it is cut."
TAIL_MM = 200.0  # of sheath drawn on either side
FOIL_MM = 0.1  # what a half-lapped wrap of foil adds to a radius; estimated, it is seldom measured


@dataclass(frozen=True)
class Laid:
    """The splices where they stand, and how far the braid is folded back on A and on B, mm."""

    layout: Layout
    folds: tuple[float, float]
    held: Holding = field(default_factory=lambda: Holding("spring"))

    @property
    def half_mm(self) -> float:
        """Half of the gap."""
        return self.layout.gap_mm / 2

    @property
    def folded_mm(self) -> tuple[float, float]:
        """From fold to fold, mm on the joint's axis."""
        return -self.half_mm - self.folds[0], self.half_mm + self.folds[1]


def solved(job: ScreenedJob) -> ScreenedSolution:
    """With the places asked for; else the thinnest joint that can be built, of these the shortest."""
    if job.joint.forbids and not job.joint.owner:
        return ScreenedSolution(stops=("Its papers forbid a joint: ask for a larger entry or a box.",))
    if stop := next((x for s in job.splices if (x := s.stop())), "") or _own_braids(job):
        return ScreenedSolution(stops=(stop,))
    if not job.splice_of:
        choices, picks = job.spliced_by
        return ScreenedSolution(choices=choices, picks=picks)
    return min((_with(job, _laid(job, x)) for x in job.layouts.values()), key=_worth)


def _laid(job: ScreenedJob, layout: Layout) -> Laid:
    """The splices where they stand, with what holds the donor braid that is taken there, and the folds that
    find room in it."""
    if not job.braided:
        return Laid(layout, (0.0, 0.0))
    most = Laid(layout, (fold_mm(job.rules, job.sheath[0]), fold_mm(job.rules, job.sheath[1])))
    s = _foiled(job, most, Stack(_inner(job, most)))
    donor = donor_for(job, s.outside, most.folded_mm)[1]
    over = donor.apply(s.outside) if donor else s.outside
    held = held_by(job, donor, over, most.half_mm)
    folds = (held.fold_mm(job.rules, job.sheath[0], 0), held.fold_mm(job.rules, job.sheath[1], 1))
    return Laid(layout, folds, held)


def _own_braids(job: ScreenedJob) -> str:
    """Why units with braids of their own are not joined here; empty where there are none."""
    if not (own := job.cable.screened_by("braid")):
        return ""
    one = job.cable.members[own[0]].kind
    return (
        f"{one.capitalize()} {job.cable.number(own[0])} has a braid of its own: that is a screened cable"
        f" inside this one. Join each such {one} as a joint of its own first, then the cable round them."
    )


def _with(job: ScreenedJob, at: Laid) -> ScreenedSolution:
    """With the splices laid like this; as far as it goes where something is missing."""
    choices, picks = job.spliced_by
    s = _foiled(job, at, Stack(_inner(job, at)).chosen(choices, picks))
    if job.braided and not s.stuck:
        s = _braided(job, at, s)
    if not s.stuck:
        s = _closed(job, at, s)
    if s.stuck:
        return ScreenedSolution(
            choices=s.choices,
            picks=s.picks,
            layout=at.layout,
            steps=at.layout.positions,
            fixed=at.held.fixed,
        )
    return _whole(job, at, s)


def _inner(job: ScreenedJob, at: Laid) -> Profile:
    """Sheath, fold, bundle, fold, sheath."""
    layout, folds, half, more = at.layout, at.folds, at.half_mm, 2 * job.braid_mm
    a, b = job.sheath
    bundle = [(x1, x2, d, d) for x1, x2 in pairwise(layout.edges) for d in [layout.bundle_mm((x1 + x2) / 2)]]
    far = half + max(folds) + job.overlap(0) + TAIL_MM
    return Profile.of_stretches(
        [
            (-far, -half - folds[0], a, a),
            (-half - folds[0], -half, a + more, a + more),
            *bundle,
            (half, half + folds[1], b + more, b + more),
            (half + folds[1], far, b, b),
        ]
    )


def _foiled(job: ScreenedJob, at: Laid, s: Stack) -> Stack:
    """Drain wires joined, foil of the units and over all made good."""
    cable, layout, half = job.cable, at.layout, at.half_mm
    drains = [cable.number(n) for n in cable.screened_by("drain")]
    drains += ["all"] if "drain" in cable.overall else []
    if drains:
        s = s.on(Drains("drains", "drain wires", job.rules, tuple(drains), span_mm=(-half, half)))
    own, over_all = cable.screened_by("foil"), "foil" in cable.overall
    if not (own or over_all):
        return s
    beyond, harvest = (job.rules.number(f"screen.{k}_mm") for k in ("foil_beyond", "harvest"))
    missing = min(layout.edges[-2] - layout.edges[1] + 2 * beyond, layout.gap_mm)
    ods = tuple(layout.unit_mm(cable.number(n)) for n in own)
    ods += (layout.greatest_mm,) if over_all else ()
    foils = job.joint.stock.foils
    pick, part = foil_for(foils, ods, missing, harvest, today=job.today)
    if foils:
        s = s.chosen(picks=[pick], stuck=part is None)
    thick = part.thickness_mm / (1 - part.overlap_pct / 100) * (bool(own) + over_all) if part else FOIL_MM
    return s.on(
        FoilMadeGood(
            "foil",
            "foil",
            job.rules,
            len(own),
            over_all=over_all,
            span_mm=(-half, half),
            thick_mm=2 * thick,
            part=part,
            lot=part.first_lot(job.today) if part else "",
            used_mm=needed_mm(part, ods, missing, harvest) if part else whole_up(missing + harvest),
        )
    )


def _braided(job: ScreenedJob, at: Laid, s: Stack) -> Stack:
    """Donor braid over both folds, and what holds it there."""
    fixed, parts = at.held.fixed, []
    if fixed == "solder":
        s = s.chosen([c for c, _ in at.held.solder])
        parts = [p for _, p in at.held.solder if p]
    pick, donor = donor_for(job, s.outside, at.folded_mm)
    s = s.chosen(picks=[pick], stuck=donor is None)
    if donor is None:
        return s
    s = s.on(donor)
    holders, picks = held(job, fixed, parts, s.outside, gap_mm=at.layout.gap_mm, folds=at.folds)
    s = s.chosen(picks=picks, stuck=len(holders) < 2)
    if s.stuck and not job.joint.fixed:  # neither: solder sleeves are what was wanted first
        s = s.chosen([c for c, part in at.held.solder if not part])
    return s if s.stuck else s.on(*holders)


def _closed(job: ScreenedJob, at: Laid, s: Stack) -> Stack:
    """The outer sleeve over all of it and onto both sheaths, and what closes its ends."""
    spans = [at.folded_mm, *(y for x in s.layers if (y := x.closes_mm()))]
    span = (min(a for a, _ in spans) - job.overlap(0), max(b for _, b in spans) + job.overlap(1))
    for cover in covers_of(job, span, at.half_mm):
        choice, made = chosen(job, cover, s.outside)
        s = s.chosen([choice], stuck=made is None)
        if made is None:
            return s
        s = s.on(made)
    if job.wires:
        found = breakout(job, at.layout, span, s.outside)
        s = s.chosen(found.choices, found.picks, stuck=found.made is None)
        if found.made:
            s = s.on(*found.made.layers)
    return s


def _whole(job: ScreenedJob, at: Laid, made: Stack) -> ScreenedSolution:
    """The whole stack, with where its parts wait and its proofs."""
    layout, folds, j, half = at.layout, at.folds, job.joint, at.half_mm
    units = units_of(job, layout)
    markers = markers_of(job, units)
    caps = caps_of(job)
    longest = max(u.cool_min for u in units)
    cools = cooling_together("cores-cool", [(x.id, longest) for x in (*units, *caps)], "core", job.rules)
    parking = _parking(job, units, made.layers, half)
    over, reach = _roughened(job, [_parked(x, parking) for x in made.layers])
    ends = [
        ScreenedEnd(
            f"end-{name}",
            f"end {name}",
            name,
            job.rules,
            cut_mm=layout.cut_mm(name),
            strip_mm={u.unit: u.part.strip_mm for u in units},
            fold_mm=folds[n],
            foil="foil" in job.cable.overall,
            span_mm=((-half - folds[0], 0.0), (0.0, half + folds[1]))[n],
            wires=job.wires and name == "B",
            alone=job.wires,
            rough_mm=reach.get(name, 0.0),
            flexes="moving" in j.duties,
        )
        for n, name in enumerate("AB")
    ]
    cores = tuple(c for of_unit in layout.centres_mm.values() for c in of_unit)
    of_core = tuple(str(u) for u, of_unit in layout.centres_mm.items() for _ in of_unit)
    donor = next((x for x in over if isinstance(x, DonorBraid)), None)
    drained = any(isinstance(x, Drains) for x in over)
    uohm = drain_uohm(job, layout.gap_mm) if drained else 0.0
    uohm = screen_uohm(job, donor, layout.gap_mm + sum(folds)) if donor else uohm
    procedure = joint_procedure(
        Joined(
            proofs=Proofs(job.rules, j.rated_voltage_v, cores, own_ohm=_own_ohm(job)),
            places=tuple(dict.fromkeys(of_core)),
            threads=any(x.threads() for x in (*over, *units, *markers)),
            hazardous="hazardous" in j.duties,
            screen=(gates.screen_dead(BRIDGED),) if job.screened else (),
            named=rung_through(cores, of_core),
            more=screen_through(uohm, "sound screen" if donor else "drain wire"),
            off=OFF if job.screened and not uohm else "",
        )
    )
    rung = ring_out(job)
    known = [rung] if rung else []
    layers: tuple[Layer, ...] = (procedure, *ends, *known, *markers, *units, *caps, *cools, *over)
    closed = [x.span_mm for x in over if isinstance(x, (CoverSleeve, MouldedPart))]
    last = (min(a for a, _ in closed), max(b for _, b in closed))
    return ScreenedSolution(
        layers=layers,
        choices=made.choices,
        picks=(*made.picks, *(p for p, _ in cap_picks(job))),
        outside=made.outside,
        seat=last,
        parking=parking,
        steps=layout.positions,
        layout=layout,
        inner=_inner(job, at),
        fixed=at.held.fixed,
    )


def _roughened(job: ScreenedJob, over: Sequence[Layer]) -> tuple[list[Layer], dict[str, float]]:
    """The layers with the sheaths that the outer sleeve seals on roughened before anything lies open; how far
    from each sheath cut, mm."""
    beyond, reach = job.rules.number("surface.beyond_mm"), dict[str, float]()
    found: list[Layer] = []
    for x in over:
        if isinstance(x, CoverSleeve) and x.closes and x.seals and not job.late:
            each = zip(x.ends, x.overlap_mm, strict=True)
            reach |= {e.name: mm + beyond for e, mm in each if e.name not in x.open_ends}
            found.append(replace(x, roughened=True))
        else:
            found.append(x)
    return found, reach


def _parking(
    job: ScreenedJob, units: Sequence[UnitSpliced], layers: Sequence[Layer], half_mm: float
) -> Parking:
    """What is threaded, each part on the tail its layer wants, behind what splices and solder sleeves are
    shrunk with."""
    items = [
        ParkItem(t.layer, t.length_mm, x.waits_on("either"), t.order) for x in layers for t in x.threads()
    ]
    last = max((n for n, x in enumerate(layers) if x.threads()), default=0)
    hot = [u.span_mm for u in units]
    hot += [x.span_mm for x in layers[:last] if isinstance(x, SolderSleeve)]
    hot += [x.span_mm for x in layers[:last] if isinstance(x, CoverSleeve) and x.hot]
    near = away_from(job.rules, [(span, "air") for span in hot], half_mm)
    return parked(job.rules, items, job.joint.free_a_mm, job.joint.free_b_mm, away=near)


def _own_ohm(job: ScreenedJob) -> dict[str, float]:
    """What each core reads from end to end, Ω: thin ones read much."""
    metres = job.joint.cable_length_m or job.rules.number("continuity.length_m")
    factor = job.rules.number("screen.resistance_factor")
    a, b = job.joined.a, job.joined.b
    least = [min(x.area_mm2, y.area_mm2) for x, y in zip(a.members, b.members, strict=True)]
    return {
        core: round(factor * resistance_uohm(area, metres * 1000) / 1e6, 2)
        for n, area in enumerate(least)
        for core in a.unit(n)
    }


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
