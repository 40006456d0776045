"""The cores: where the connectors lie, and the insulation over each."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from tinknot.core.choosing.choose import Window
from tinknot.core.choosing.park import Side
from tinknot.core.choosing.place import CoreCut, Stagger, place_cores, stagger
from tinknot.core.families.choice import Choice, Pick
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.recipe import overlap_mm
from tinknot.core.families.straight import lead as leads
from tinknot.core.figures import LEAST, mm
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.connectors import Connector, butt_mm, connector_layer
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.cooling import CoresCool, cooling_together
from tinknot.core.layers.core_sleeve import CoreSleeve
from tinknot.core.layers.lead import EarthLead
from tinknot.core.layers.preparation import bared
from tinknot.core.layers.tapes import PlainWrap, TapeWrap, passes_for, wound_mm
from tinknot.core.parts.connector import StockConnector
from tinknot.core.tolerance import at_least

Groups = Sequence[tuple[tuple[int, ...], Choice]]


@dataclass(frozen=True)
class Cores:
    """The cores joined and insulated: layout from the sheath cuts, layers inside out, finished tracks from
    crutch to crutch. `complete`: every core has its insulation."""

    layout: Stagger
    kept: bool
    connectors: tuple[Connector, ...]
    layers: tuple[Layer, ...]
    tracks: tuple[Profile, ...]
    choices: tuple[Choice, ...]
    picks: tuple[Pick, ...]
    complete: bool
    crutch_mm: tuple[float, float]
    lead: EarthLead | None = None


def bed_mm(job: Job) -> tuple[float, float]:
    """Layers left standing between sheath cut and crutch on A and B, mm; 0 where the cores come out of the
    sheath."""
    return tuple(max((x.to_mm for x in bared(e, job.rules)), default=0.0) for e in job.ends)  # type: ignore[return-value]  # two ends


def half_mm(job: Job, c: StockConnector) -> float:
    """Half of the connector made, with what may stay bare beside it, mm."""
    return c.length_mm / 2 + c.growth_mm + job.rules.number("cut.strip_extra_mm")


def strip_mm(job: Job, c: StockConnector) -> float:
    """Bare conductor a connector asks for, mm."""
    return c.insertion_mm + c.growth_mm + job.rules.number("cut.strip_extra_mm")


def _overlap(job: Job, i: int) -> float:
    return overlap_mm(job.rules, "core", max(e.cores[i].insulation.greatest_mm for e in job.ends))


def core_sleeve(job: Job, i: int, connector: StockConnector, centre: float) -> CoreSleeve:
    """The sleeve of core i, its part not chosen yet."""
    core, half = job.a.cores[i], half_mm(job, connector) + _overlap(job, i)
    return CoreSleeve(
        f"core-sleeve-{core.name}",
        f"sleeve on core {core.name}",
        (centre - half, centre + half),
        job.rules,
        least_wall_mm=wall_mm(job, i),
        properties=job.properties - {"lined"},
        voltage_v=job.joint.rated_voltage_v,
        core=core.name,
        made_mm=connector.length_mm + 2 * connector.growth_mm,
        heat_caution=(
            "Keep the gun moving. Shield the sheath."
            if job.build.closure in ("resin", "wrap-around")  # nothing over the cable waits beside it
            else "Keep the gun moving. Shield the sheath and the parked sleeve."
        ),
    )


def wall_mm(job: Job, i: int) -> float:
    """The thicker insulation of core i, mm."""
    return max(e.cores[i].insulation_wall_mm for e in job.ends)


def taped_mm(job: Job, i: int) -> float:
    """How thick tape is wound over core i, mm: by its insulation and the voltage."""
    return wound_mm(job.rules, wall_mm(job, i), job.joint.rated_voltage_v)


def bare_track(
    job: Job, i: int, connector: StockConnector, centre: float, ends: tuple[float, float]
) -> Profile:
    """Core i from crutch to crutch: insulation, bare conductor, insulation."""
    a, b = job.a.cores[i], job.b.cores[i]
    half = half_mm(job, connector)
    return Profile.of_stretches(
        [
            (ends[0], centre - half, a.insulation.greatest_mm, a.insulation.least_mm),
            (centre - half, centre, a.conductor.greatest_mm, a.conductor.least_mm),
            (centre, centre + half, b.conductor.greatest_mm, b.conductor.least_mm),
            (centre + half, ends[1], b.insulation.greatest_mm, b.insulation.least_mm),
        ]
    )


def sleeve_groups(job: Job, connectors: Sequence[StockConnector]) -> Groups:
    """The choice of each group of cores that are sleeved alike; none where cores are taped."""
    if job.build.core_insulation == "tape":
        return []
    found = []
    for cores, window in _windows(job, connectors):
        names = tuple(job.a.cores[i].name for i in cores)
        title = f"sleeve on core {names[0]}" if len(cores) == 1 else f"sleeves on cores {', '.join(names)}"
        choice = job.sleeve_choice(
            f"core-sleeve-{names[0]}", title, window, "tube", slot="core_sleeve", cores=names
        )
        found.append((cores, choice))
    return found


def _windows(job: Job, connectors: Sequence[StockConnector]) -> list[tuple[tuple[int, ...], Window]]:
    """Cores that ask for the same window are sleeved alike; the window asks for one piece each."""
    groups: dict[tuple[object, ...], list[int]] = {}
    windows: dict[tuple[object, ...], Window] = {}
    for i, connector in enumerate(connectors):
        layer = core_sleeve(job, i, connector, 0.0)
        reach = layer.span_mm[1] + 1
        track = connector_layer(connector, "", "", 0.0, rules=job.rules).apply(
            bare_track(job, i, connector, 0.0, ends=(-reach, reach))
        )
        for wrap in _mica(job, i, connector, 0.0):
            track = wrap.apply(track)
        window = layer.requires(track, track)
        assert window is not None
        key = (window.pass_od_mm, window.seal_od_mm, window.profile, window.least_wall_mm)
        groups.setdefault(key, []).append(i)
        windows[key] = window
    return [(tuple(cores), replace(windows[k], pieces=len(cores))) for k, cores in groups.items()]


def _mica(job: Job, i: int, connector: StockConnector, centre: float) -> list[PlainWrap]:
    """Mica over the bare metal of core i, for fire duty."""
    tape = job.tape("mica") if job.build.fire == "mica" else None
    if tape is None:
        return []
    core, half = job.a.cores[i].name, half_mm(job, connector)
    return [
        PlainWrap(
            f"mica-{core}",
            f"mica on core {core}",
            tape,
            tape.first_lot(job.today),
            span_mm=(centre - half, centre + half),
            passes=int(job.rules.number("tape.mica_passes")),
            substrate_mm=connector.od_mm,
            rules=job.rules,
            core=core,
        )
    ]


def _taped(job: Job, i: int, connector: StockConnector, centre: float) -> TapeWrap | None:
    core, half = job.a.cores[i].name, half_mm(job, connector) + _overlap(job, i)
    on = (f"core-tape-{core}", f"tape on core {core}")
    return _wound(job, i, on, (centre - half, centre + half), substrate_mm=connector.od_mm)


def _wound(
    job: Job,
    i: int,
    named: tuple[str, str],
    span_mm: tuple[float, float],
    *,
    substrate_mm: float,
    own: str = "",
) -> TapeWrap | None:
    """Tape in place of insulation on core i, by its id and title; `own`: what it is on, where that is not the
    core's connector. None where no tape serves."""
    tape = job.tape("self-amalgamating", job.properties & {"zero-halogen"})
    if tape is None:
        return None
    return TapeWrap(
        *named,
        tape,
        tape.first_lot(job.today),
        span_mm=span_mm,
        passes=passes_for(tape, taped_mm(job, i)),
        substrate_mm=substrate_mm,
        rules=job.rules,
        core=job.a.cores[i].name,
        own=own,
    )


def join(job: Job, steps: int, connectors: Sequence[StockConnector], groups: Groups) -> Cores:
    """The cores with the sleeves picked by group; a group without one stays bare."""
    choices = [choice for _, choice in groups]
    picked = {core: choice for cores, choice in groups for core in cores}
    taped = not groups
    covered = max(2 * (half_mm(job, c) + _overlap(job, i)) for i, c in enumerate(connectors))
    supplied = (
        0.0 if taped else max((float(c.picked.cut_length_mm) for c in choices if c.picked), default=covered)
    )
    end = leads.leads_on(job)
    earthed = leads.protective(job, end) if end else None
    layout, kept = _layout(job, connectors, covered, supplied, steps=steps)
    if earthed is not None:
        own = 2 * (half_mm(job, connectors[earthed]) + _overlap(job, earthed))
        if leads.short_of_room_mm(job, layout, own, end, core=earthed):
            layout, kept = _layout(job, connectors, covered, supplied, steps=steps, turned=True)
        if more := leads.short_of_room_mm(job, layout, own, end, core=earthed):
            before = (more, 0.0) if end == "A" else (0.0, more)
            layout, kept = _layout(job, connectors, covered, supplied, steps=steps, before_mm=before)
    bed, half_gap = bed_mm(job), layout.gap_mm / 2
    crutch = (bed[0] - half_gap, half_gap - bed[1])
    lead = None if earthed is None else leads.lead(job, earthed, end, half_gap)
    led: list[Layer] = []
    made: list[Connector] = []
    layers: list[Layer] = []
    tracks: list[Profile] = []
    complete = True
    for i, connector in enumerate(connectors):
        core, centre = job.a.cores[i], layout.cores[i].centre_mm - half_gap
        layer = connector_layer(
            connector,
            core.name,
            connector.first_lot(job.today),
            centre,
            rules=job.rules,
            metals=(job.a.cores[i].metal, job.b.cores[i].metal),
            partner=job.b.cores[i].partner,
            cool_min=job.cool_min(connector.od_mm, core.area_mm2),
            alone=len(connectors) == 1,
            area_mm2=min(e.cores[i].area_mm2 for e in job.ends),
        )
        made.append(layer)
        track = layer.apply(bare_track(job, i, connector, centre, ends=crutch))
        over: list[Layer] = list(_mica(job, i, connector, centre))
        for wrap in over:
            track = wrap.apply(track)
        insulation: Layer | None = None
        if taped:
            insulation = _taped(job, i, connector, centre)
        elif (found := picked[i].picked) is not None:
            long: Side = (
                "a" if at_least(layout.cores[i].cut_a_mm - bed[0], layout.cores[i].cut_b_mm - bed[1]) else "b"
            )
            part = found.candidate.id
            insulation = replace(
                core_sleeve(job, i, connector, centre),
                part=job.sleeves[part],
                lot=job.lots[part],
                cut_length_mm=found.cut_length_mm,
                park_on=long,
                pieces=picked[i].window.pieces,
                over_mica=bool(over),
                together=job.build.cores_shrunk == "together" and len(connectors) > 1,
            )
        if insulation is None:
            complete = False
        else:
            track = insulation.apply(track)
            if isinstance(insulation, CoreSleeve):
                thick = track.between(*insulation.span_mm).greatest()
                cool = job.cool_min(thick, core.area_mm2)
                insulation = replace(insulation, cool_min=cool)
            over.append(insulation)
        if lead and i == earthed:
            own_tape = _wound(
                job,
                i,
                ("lead-tape", "tape over the earth strap"),
                lead.covered_mm,
                substrate_mm=lead.od_mm,
                own=f"the earth strap on core {core.name}",
            )
            led = [lead, own_tape] if own_tape else [lead]  # under resin it may stay bare
            for x in led:
                track = x.apply(track)
        layers += over
        tracks.append(track)
    sleeves = [(x.id, x.cool_min) for x in layers if isinstance(x, CoreSleeve) and x.hot]
    rest = cooling_together("cores-cool", sleeves, "core", job.rules)
    return Cores(
        layout,
        kept,
        tuple(made),
        (*made, *made_and_cooled(job, made), *layers, *rest, *led),
        tracks=tuple(tracks),
        choices=tuple(choices),
        picks=tuple(_picks(job, taped)),
        complete=complete,
        crutch_mm=crutch,
        lead=lead,
    )


def made_and_cooled(job: Job, made: Sequence[Connector]) -> tuple[CoresCool, ...]:
    """The wait after soldering; none where nothing is soldered."""
    hot = [(x.id, x.cool_min) for x in made if x.heated]
    return cooling_together("solder-cool", hot, "connector", job.rules)


def _picks(job: Job, taped: bool) -> list[Pick]:
    found = []
    if leads.leads_on(job) and not taped and job.build.closure != "resin":
        need = "over the earth strap on the protective conductor"
        title = "tape over the earth strap"
        found.append(
            job.tape_pick(
                "lead-tape", title, "self-amalgamating", need, properties=job.properties & {"zero-halogen"}
            )
        )
    if taped:
        thick = max(taped_mm(job, i) for i in range(len(job.a.cores)))
        found.append(
            job.tape_pick(
                "core-tape",
                "tape on the cores",
                "self-amalgamating",
                f"wound at least {mm(thick, LEAST):.1f} mm thick",
                properties=job.properties & {"zero-halogen"},
            )
        )
    if job.build.fire == "mica":
        found.append(
            job.tape_pick("mica", "mica on the cores", "mica", "over every connector, under its insulation")
        )
    return found


def _layout(
    job: Job,
    connectors: Sequence[StockConnector],
    covered: float,
    supplied: float,
    *,
    steps: int,
    turned: bool = False,
    before_mm: tuple[float, float] = (0.0, 0.0),
) -> tuple[Stagger, bool]:
    """Where the connectors lie, from the sheath cuts. Work already cut is kept wherever it still serves.
    `turned`: with A and B changed about; `before_mm`: core in front of the sheath for something else, on A
    and B."""
    r = job.rules
    bed = (bed_mm(job)[0] + before_mm[0], bed_mm(job)[1] + before_mm[1])
    strip = max(strip_mm(job, c) for c in connectors)
    length = max(c.length_mm + 2 * c.growth_mm for c in connectors)
    hot = any(c.kind == "soldered" for c in connectors)
    away = r.number("park.keep_away_heat_mm" if hot else "park.keep_away_crimp_mm")
    needed = strip + supplied + away if supplied else strip
    butt = butt_mm(connectors[0], r)
    clear, between = r.number("stagger.clear_core_mm"), r.number("stagger.between_mm")
    fresh = stagger(
        len(connectors),
        length,
        covered,
        clear_core_mm=clear,
        between_mm=between,
        butt_gap_mm=butt,
        steps=steps,
        side_needed_mm=needed,
    )
    if turned:
        fresh = _turned(fresh)
    gap, centres = job.made.gap_mm, job.made.centres_mm
    if gap is None or len(centres) != len(connectors):
        return _from_sheath(fresh, bed), False
    inner_gap, inner = gap - sum(bed), [c - bed[0] for c in centres]
    kept = place_cores(inner_gap, inner, butt)
    places = sorted(set(inner))
    s = max(covered, length)
    apart = all(at_least(q - p, s + between) for p, q in pairwise(places))
    room = at_least(places[0], clear + s / 2) and at_least(inner_gap - places[-1], clear + s / 2)
    reach = all(at_least(max(c.cut_a_mm, c.cut_b_mm), needed) for c in kept.cores)
    found, still = (kept, True) if apart and room and reach and len(places) == steps else (fresh, False)
    return _from_sheath(found, bed), still


def _turned(s: Stagger) -> Stagger:
    """The same with A and B changed about."""
    cores = (CoreCut(c.core, s.gap_mm - c.centre_mm, c.cut_b_mm, c.cut_a_mm) for c in s.cores)
    return Stagger(s.gap_mm, tuple(cores))


def _from_sheath(s: Stagger, bed: tuple[float, float]) -> Stagger:
    """The same measured from the sheath cuts, the bedding left bare in front of them."""
    if not any(bed):
        return s
    cores = (CoreCut(c.core, c.centre_mm + bed[0], c.cut_a_mm + bed[0], c.cut_b_mm + bed[1]) for c in s.cores)
    return Stagger(s.gap_mm + sum(bed), tuple(cores))
