"""A straight joint put together: where its parts wait, its layers from the first gate to the last cover."""

from collections.abc import Iterable, Sequence
from dataclasses import replace

from tinknot.core.choosing.choose import Ranked
from tinknot.core.choosing.park import Parking, ParkItem, Side
from tinknot.core.families.lowvoltage.connectors import (
    Set,
    connector_pick,
)
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.metal import mohm_per_m
from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.families.recipe import Reach, away_from, flex_mandrel, parked
from tinknot.core.families.stack import Stack
from tinknot.core.families.straight import base
from tinknot.core.families.straight.cores import Cores
from tinknot.core.families.straight.earth import CONTACTS
from tinknot.core.families.straight.work import Work
from tinknot.core.figures import mm
from tinknot.core.formulas.conductor import resistance_uohm
from tinknot.core.formulas.earth import sound_path_mohm
from tinknot.core.joint.cable import Core
from tinknot.core.layers.bond import EarthBond
from tinknot.core.layers.connectors import Connector
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.core_sleeve import CoreSleeve
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.marker import Mark, MarkerSleeve
from tinknot.core.layers.procedure import Joined, joint_procedure
from tinknot.core.layers.proofs import Proofs
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.under_resin import CoresApart, MeshRead
from tinknot.core.parts.marker import marker_for
from tinknot.core.tolerance import at_least

Span = tuple[float, float]
_FLEX_MISSING = "Moving: the cable's least bend radius is not on the card, so no flex proof is planned."


def _worked(job: Job, cores: Cores, covers: Sequence[Layer]) -> list[tuple[Span, Reach]]:
    """Where a tool or heat works while parts still wait; what is parked already stays."""
    if job.made.parts:
        return []
    worked: list[tuple[Span, Reach]] = [
        (c.seat_mm, "heat" if c.heated else "crimp") for c in cores.connectors
    ]
    hot = [x.span_mm for x in cores.layers if isinstance(x, CoreSleeve) and x.hot]
    last = max((n for n, x in enumerate(covers) if x.threads()), default=0)
    hot += [x.span_mm for x in covers[:last] if isinstance(x, CoverSleeve) and x.hot]
    return [*worked, *((span, "air") for span in hot)]


def parking_of(job: Job, cores: Cores, covered: Stack, last: Ranked | None = None) -> Parking:
    """Where everything that goes over a whole cable waits, with the pending sleeve cut as `last` says;
    what is seated first waits nearest."""
    layers = covered.layers
    if last is not None and covered.pending is not None:
        part = job.sleeves[last.candidate.id]
        layers = (*layers, replace(covered.pending, part=part, cut_length_mm=last.cut_length_mm))
    items = []
    for order, x in enumerate((x for x in layers if x.threads()), 1):
        (t,) = x.threads()
        landed: Side = "b" if job.a.landed else "a" if job.b.landed else "either"
        was = (job.made.sides or {}).get(x.id)
        side: Side = "a" if was == "a" else "b" if was == "b" else x.waits_on(job.choice.outer_parks_on)
        items.append(ParkItem(x.id, t.length_mm, landed if side == "either" else side, order))
    near = away_from(job.rules, _worked(job, cores, layers), cores.layout.gap_mm / 2)
    return parked(job.rules, items, job.a.free_mm, job.b.free_mm, away=near)


def _connector_uohm(job: Job, c: Connector) -> float:
    """The greater of both conductors' resistance over the made connector's length."""
    return max(
        resistance_uohm(core.area_mm2, 2 * c.half_mm, core.flexibility)
        for core in (e.core(c.core) for e in job.ends)
    )


def _through_ohm(job: Job) -> dict[str, float]:
    """Up to what each core of copper passes from end to end, Ω, where the cable's length is known."""
    metres = job.joint.cable_length_m
    if metres is None or job.made.began_before:
        return {}
    known = [mohm_per_m(e) for e in job.ends]
    return {
        core: round(sound_path_mohm(max(k[core] for k in known), 1000 * metres, CONTACTS) / 1000, 4)
        for core in known[0]
        if core != "armour" and all(core in k for k in known)
    }


def _length_unknown(job: Job) -> str:
    """What the proof of continuity cannot tell where nobody says how long the cable is."""
    if job.joint.cable_length_m is not None or job.made.began_before:
        return ""
    most = job.rules.number("continuity.limit_ohm")
    return (
        "The cable's length is not on the card: each core's continuity is judged by the rule book's"
        f" {most:g} Ω for any cable. Type the length, and the limit follows from the conductor."
    )


def solution_of(
    work: Work, steps: int, connectors: Set, cores: Cores, covered: Stack | None
) -> CableSolution:
    """The joint as far as its covers go: the whole stack where all are on, with where its parts wait."""
    job = work.job
    choices = (*cores.choices, *(covered.choices if covered else ()))
    picks = (connector_pick(job, connectors[0]), *cores.picks, *(covered.picks if covered else ()))
    inner = base.inner_profile(job, cores)
    found = CableSolution(
        ends=job.ends,
        connectors=tuple(connectors),
        steps=steps,
        layout=cores.layout,
        choices=choices,
        tracks=cores.tracks,
        inner=inner,
        kept=cores.kept,
        picks=picks,
        crutch_mm=cores.crutch_mm,
        warnings=(
            *(covered.warnings if covered else ()),
            *(w for w in (_mandrel(job)[1], _length_unknown(job)) if w),
        ),
    )
    if (
        covered is None
        or covered.stuck
        or covered.pending is not None
        or not covered.layers
        or not cores.complete
    ):
        return found
    parking = parking_of(job, cores, covered)
    orders = {x.id: n for n, x in enumerate((x for x in covered.layers if x.threads()), 1)}
    covers = tuple(_parked(x, parking, orders) for x in covered.layers)
    closed = [span for x in covers if (span := x.closes_mm())]
    return replace(
        found,
        layers=_stack(work, cores, covers),
        outside=covered.outside,
        seat=(min(a for a, _ in closed), max(b for _, b in closed)),
        parking=parking,
    )


def _mandrel(job: Job) -> tuple[float | None, str]:
    """Mandrel of the flex proof in mm for a joint that moves; else None, with words where it is
    refused."""
    r, radius = job.rules, job.build.bend_radius_mm
    if "moving" not in job.joint.duties:
        return None, ""
    if radius is None:
        return None, _FLEX_MISSING
    od = max(e.sheath.greatest_mm for e in job.ends)
    mandrel, why = flex_mandrel(r, od, r.number("flex.multiple"))
    if mandrel is not None and not at_least(mandrel / 2, radius):
        bends = f"a mandrel of {mm(mandrel):g} mm bends to {mm(mandrel / 2):g} mm"
        return None, f"No flex proof: {bends}, the cable's least bend radius is {radius:g}."
    return mandrel, why


def _mark(job: Job, a: Core, b: Core) -> Mark:
    """What the core of B is marked with."""
    stock, says = job.joint.stock.markers, a.colour or a.name
    part = marker_for(stock, b.insulation.greatest_mm, says, job.today)
    return Mark(a.name, a.colour or "", part, part.first_lot(job.today) if part else "")


def _roughened(job: Job, covers: tuple[Layer, ...]) -> tuple[tuple[Layer, ...], dict[str, float]]:
    """The covers with their sheaths roughened before anything lies open that dust would fall on; how far from
    each sheath cut, mm. What goes over the outer sleeve is roughened with it; work that began
    by earlier rules goes on by them."""
    if any(job.made.began_without(f"wipe.sheath.{e}") for e in "AB"):
        return covers, {}
    beyond, reach, closed = job.rules.number("surface.beyond_mm"), dict[str, float](), False
    found: list[Layer] = []
    for x in covers:
        if isinstance(x, CoverSleeve) and x.seals and not closed:
            mine = {e.name: over + beyond for e, over in zip(x.ends, x.overlap_mm, strict=True)}
            closed = x.closes
        elif isinstance(x, ResinShell) and not closed:
            mine, closed = {e.name: mm for e, mm in zip(x.ends, x.sheath_in_mm, strict=True)}, True
        else:
            found.append(x)
            continue
        reach = {e: max(reach.get(e, 0.0), mine.get(e, 0.0)) for e in {**reach, **mine}}
        found.append(replace(x, roughened=True))
    return tuple(found), reach


def _cast_over_mesh(job: Job, covers: tuple[Layer, ...], proofs: Proofs) -> tuple[Layer, ...]:
    """Where resin goes over a mesh: spacers before it is wound, cores read against it before the pour."""
    shell = shell_of(covers)
    meshed = any(isinstance(x, EarthBond) and x.mesh for x in covers)
    if shell is None or not meshed or job.made.began_without("test.mesh"):
        return covers
    found: list[Layer] = []
    for x in covers:
        if isinstance(x, EarthBond) and not shell.sleeved:
            found.append(CoresApart("spacers", "spacers", shell.spacers_said, shell.spacers_laid))
        if x is shell:
            found.append(MeshRead("mesh-read", "mesh", proofs))
        found.append(replace(shell, spaced=not shell.sleeved) if x is shell else x)
    return tuple(found)


def _sheath_tells(job: Job) -> str:
    """The metal that a sheath test reads against the ground; empty where none lies under the whole sheath or
    nothing wet lies round it."""
    wet = bool({"buried", "immersed"} & {*job.joint.duties})
    begun = job.made.began_without("test.after.sheath")
    return job.a.metal if wet and not begun and all(e.metal for e in job.ends) else ""


def _stack(work: Work, cores: Cores, covers: tuple[Layer, ...]) -> tuple[Layer, ...]:
    job, layout = work.job, cores.layout
    covers, rough = _roughened(job, covers)
    names = [c.name for c in job.a.cores]
    proofs = Proofs(job.rules, job.joint.rated_voltage_v, tuple(names), through_ohm=_through_ohm(job))
    covers = _cast_over_mesh(job, covers, proofs)
    half = layout.gap_mm / 2
    strip = {c.core: c.strip_mm for c in cores.connectors}
    ends = [
        work.kind.end(
            f"preparation-{e.name}",
            f"end {e.name} prepared",
            e,
            {
                n: c.cut_a_mm if e.name == "A" else c.cut_b_mm
                for n, c in zip(names, layout.cores, strict=True)
            },
            strip_mm=strip,
            rules=job.rules,
            focus_mm=(-half - 45, half + 5) if e.name == "A" else (-half - 5, half + 45),
            setback_mm=(job.made.setback_mm or {}).get(e.name, 0.0),
            threaded_mm=_threaded_mm(covers, e.name),
            rough_mm=base.in_front(e.name, half, -rough[e.name], 0.0) if e.name in rough else None,
            flexes="moving" in job.joint.duties and not {"buried", "immersed"} & {*job.joint.duties},
        )
        for e in job.ends
    ]
    markers = [
        MarkerSleeve(
            f"marker-{a.name}",
            f"marker on core {a.name}",
            a.name,
            (_mark(job, a, b),),
            rules=job.rules,
        )
        for a, b in zip(job.a.cores, job.b.cores, strict=True)
        if (a.colour and b.colour and a.colour != b.colour) or b.partner
    ]
    procedure = joint_procedure(
        Joined(
            proofs=proofs,
            places=names,
            threads=any(x.threads() for x in (*markers, *cores.layers, *covers)),
            hazardous="hazardous" in job.joint.duties,
            insulated="taped" if job.build.core_insulation == "tape" else "sleeved",
            state="cured and hard" if any(isinstance(x, ResinShell) for x in covers) else "cold",
            connector_uohm={c.core: _connector_uohm(job, c) for c in cores.connectors},
            mandrel_mm=_mandrel(job)[0],
            sheath=_sheath_tells(job),
            covered=work.kind.covered,
        )
    )
    return (procedure, *ends, *markers, *cores.layers, *covers, *job.plain_steps())


def shell_of(layers: Iterable[Layer]) -> ResinShell | None:
    """The shell among layers, where there is one."""
    return next((x for x in layers if isinstance(x, ResinShell)), None)


def _parked(x: Layer, parking: Parking, orders: dict[str, int]) -> Layer:
    """A cover with the tail it waits on."""
    if x.id not in orders:
        return x
    side: Side = "a" if x.id in parking.a else "b"
    if isinstance(x, CoverSleeve):
        return replace(x, park_on=side, park_order=orders[x.id])
    return replace(x, park_on=side) if isinstance(x, ResinShell) else x


def _threaded_mm(covers: Iterable[Layer], end: str) -> float:
    """What of a tail is taken by parts that go over the whole cable, mm."""
    return sum(t.length_mm for x in covers for t in x.threads() if t.end == end)
