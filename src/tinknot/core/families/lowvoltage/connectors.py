"""Which connectors join the cores of two ends."""

from dataclasses import replace

from tinknot.core.errors import InputError
from tinknot.core.families.choice import Offer, Pick
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.figures import capital, mm, mm2
from tinknot.core.joint.cable import Core
from tinknot.core.joint.file import ConnectorIn
from tinknot.core.layers.connectors import KINDS
from tinknot.core.parts.connector import StockConnector
from tinknot.core.tolerance import at_most

Set = tuple[StockConnector, ...]


class NoConnector(InputError):
    """No connector in stock takes the conductors."""


def connectors_for(job: Job) -> list[Set]:
    """Sets of connectors, one a core, best first. Raises InputError when none suits."""
    given = job.joint.connector
    if given and given.part_id:
        return [_one(job, given.part_id)]
    if given and not (given.kind and not (given.od_mm or given.length_mm)):
        return [(_by_figures(given),) * len(job.a.cores)]
    per_core: list[list[StockConnector]] = []
    for a, b in zip(job.a.cores, job.b.cores, strict=True):
        suited = [
            c
            for c in job.joint.stock.connectors
            if not _why_not(job, c, a, b, kind=given.kind if given else None)
        ]
        if not suited:
            raise NoConnector.at(
                "/connector",
                f"nothing in stock joins core {a.name}, {mm2(a.area_mm2):g} to {mm2(b.area_mm2):g} mm²",
            )
        per_core.append(sorted(suited, key=lambda c: (c.od_mm, c.length_mm, c.id)))
    sets = [
        tuple(options[min(i, len(options) - 1)] for options in per_core)
        for i in range(max(map(len, per_core)))
    ]
    found = [s for s in sets if all(_enough(job, c, s.count(c)) for c in s)]
    if not found:
        short = sets[0][0]
        raise NoConnector.at(
            "/connector",
            f"{sets[0].count(short)} of {short.id} are needed, {short.free(job.today):g} are on hand",
        )
    return found


def _enough(job: Job, c: StockConnector, count: int) -> bool:
    free = c.free(job.today)
    return free is None or free >= count


def _one(job: Job, part_id: str) -> Set:
    part = next((c for c in job.joint.stock.connectors if c.id == part_id), None)
    if part is None:
        raise InputError.at("/connector/part_id", f"{part_id} is not in stock")
    for a, b in zip(job.a.cores, job.b.cores, strict=True):
        if why := _why_not(job, part, a, b, kind=None):
            raise InputError.at(
                "/connector/part_id",
                f"{part.id} {why}: core {a.name}, {mm2(a.area_mm2):g} to {mm2(b.area_mm2):g} mm²",
            )
    return (part,) * len(job.a.cores)


def _why_not(job: Job, c: StockConnector, a: Core, b: Core, kind: str | None) -> str:
    """Why a connector does not join two cores; empty when it does."""
    if c.kind not in KINDS or (
        c.kind != kind if kind else c.kind == "soldered" and job.joint.connector is None
    ):
        return f"is {c.kind}, not {kind or 'in line'}"
    if not (c.suits(a.area_mm2) and c.suits(b.area_mm2)):
        return "does not take the conductors"
    loose = job.rules.number("connector.bore_most")
    for core in (a, b):
        if words := c.takes(core.conductor.greatest_mm, loose):
            return words
    if missing := sorted({a.metal, b.metal} - set(c.metals)):
        return f"is not for {', '.join(missing)}"
    if c.kind == "soldered" and job.build.cold_only:
        return "needs heat"
    if c.voltage_v is not None and c.voltage_v < job.joint.rated_voltage_v:
        return f"is rated {c.voltage_v:g} V"
    if c.free(job.today) == 0:
        return "is not on hand"
    return ""


def _by_figures(given: ConnectorIn) -> StockConnector:
    if given.od_mm is None or given.length_mm is None:
        missing = "od_mm" if given.od_mm is None else "length_mm"
        raise InputError.at(f"/connector/{missing}", "is missing; give part_id, or od_mm and length_mm")
    kind = given.kind or "crimp"
    laps = kind == "soldered"
    insertion = given.insertion_mm
    if insertion is None:
        insertion = given.length_mm if laps else given.length_mm / 2 - 1
    if insertion <= 0 or not at_most(insertion if laps else 2 * insertion, given.length_mm):
        raise InputError.at(
            "/connector/insertion_mm",
            f"must be above 0 and at most {'the length' if laps else 'half the length'}",
        )
    return StockConnector(
        id="connector",
        kind=kind,
        od_mm=given.od_mm,
        length_mm=given.length_mm,
        insertion_mm=insertion,
        growth_mm=given.growth_mm or 0.0,
        metals=["copper", "aluminium"],
    )


def what_to_order(job: Job) -> str:
    """The connector to look for where none in stock joins the cores: its range, bore and metals."""
    cores = [c for e in job.ends for c in e.cores]
    areas, thick = [c.area_mm2 for c in cores], max(c.conductor.greatest_mm for c in cores)
    thin = min(c.conductor.greatest_mm for c in cores)
    widest = job.rules.number("connector.bore_most") * thin
    span = (
        f"{mm2(min(areas)):g} mm²"
        if min(areas) == max(areas)
        else f"{mm2(min(areas)):g} to {mm2(max(areas)):g} mm²"
    )
    bore = (
        f"a bore of {mm(thick):.1f} to {mm(widest):.1f} mm"
        if at_most(thick, widest)
        else "a stepped bore, or bolts"
    )
    metals = {c.metal for c in cores}
    metal = "bimetal, for aluminium and copper" if len(metals) > 1 else f"for {metals.pop()}"
    many = len(job.a.cores)
    kind = f" that need{'' if many > 1 else 's'} no heat" if job.build.cold_only else ""
    return (
        f"Order {many} connector{'s' if many > 1 else ''}{kind} for {span}, {bore}, {metal}, rated"
        f" {job.joint.rated_voltage_v:g} V. One that lies here unlabelled: measure bore and conductor."
    )


def none_pick(job: Job, words: str) -> Pick:
    """The choice of a connector where none serves; `words`: why."""
    pick = connector_pick(job, None)
    return replace(pick, buys=False, advice=f"{capital(words)}. {what_to_order(job)}")


def connector_pick(job: Job, picked: StockConnector | None) -> Pick:
    """Every connector in stock and why it does or does not serve: all cores, and as many as there are."""
    a, b = job.a.cores[0], job.b.cores[0]
    kind = job.joint.connector.kind if job.joint.connector else None
    pairs = list(zip(job.a.cores, job.b.cores, strict=True))
    offers = []
    for c in job.joint.stock.connectors:
        why = next((w for x, y in pairs if (w := _why_not(job, c, x, y, kind=kind))), "")
        if not why and not _enough(job, c, len(pairs)):
            why = f"{len(pairs)} are needed, {c.free(job.today):g} are on hand"
        offers.append(
            Offer(c.id, c.said, not why, why or f"⌀ {mm(c.od_mm):g} mm, {mm(c.length_mm):g} mm long")
        )
    need = f"joins {mm2(a.area_mm2):g} to {mm2(b.area_mm2):g} mm²"
    return Pick("connector", "connector", need, tuple(offers), picked=picked.id if picked else None)
