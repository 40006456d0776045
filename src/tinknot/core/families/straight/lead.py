"""The earth lead: where armour or mesh meets a cable without armour, the strap is joined to that cable's
protective conductor before the core is insulated, and comes out to where it is clamped."""

from math import log, pi, sqrt

from tinknot.core.choosing.place import Stagger
from tinknot.core.errors import InputError
from tinknot.core.families.choice import Pick, pick_of
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.metal import lead_mm2
from tinknot.core.families.recipe import overlap_mm
from tinknot.core.figures import mm, mm2
from tinknot.core.formulas.earth import METAL_OHM_MM2_KM, sound_path_mohm, strap_area_mm2
from tinknot.core.layers.bond import strap_words
from tinknot.core.layers.lead import EarthLead
from tinknot.core.parts.strap import StockStrap
from tinknot.core.tolerance import at_least

STRANDS = 0.75  # of the circle round a strap pressed together, what its strands fill
CONTACTS = 4  # of the path over the lead: two test leads, the connector on both conductors
BEGUN = "join.earth-lead"


def strap_k(start_c: float, end_c: float) -> float:
    """k of a copper strap in A·√s/mm² from its start to its end temperature, °C.

    k = √(Q·(β + 20)/ρ · ln(1 + (θe − θs)/(β + θs))); for copper β 234.5 and the root before the
    logarithm 226. Source: IEC 60364-5-54, annex A.

    >>> round(strap_k(30, 160)), round(strap_k(70, 160))
    (143, 115)
    """
    return 226 * sqrt(log(1 + (end_c - start_c) / (234.5 + start_c)))


def screened(job: Job) -> bool:
    """A hazardous area asks for a metal screen all round under the resin."""
    return "hazardous" in job.joint.duties and job.casts


def needed(job: Job) -> bool:
    """Whether there is armour or lead to carry over, or a full metal screen is asked for under resin."""
    return any(e.metal for e in job.ends) or screened(job)


def leads_on(job: Job) -> str:
    """The end whose protective conductor takes the strap: the one without armour or lead, of two such ends B;
    empty where metal goes on to metal, nothing is bonded, or the work began by earlier rules."""
    bare = [e.name for e in job.ends if not e.metal]
    return bare[-1] if bare and needed(job) and not job.made.began_without(BEGUN) else ""


def protective(job: Job, end: str) -> int | None:
    """Which core of an end is the protective conductor; None where none is told."""
    return next((n for n, c in enumerate(job.end(end).cores) if c.protective), None)


def short_of_room_mm(job: Job, layout: Stagger, taken_mm: float, end: str, core: int) -> float:
    """How much more core in front of the sheath on `end` the lead needs, mm, where the core's own insulation
    takes half of `taken_mm` on that side of its connector."""
    cut = layout.cores[core]
    room = (cut.cut_a_mm if end == "A" else cut.cut_b_mm) - taken_mm / 2
    return max(0.0, _takes_mm(job, core, end) + job.rules.number("stagger.between_mm") - room)


def _over_mm(job: Job, end: str, core: int) -> float:
    """Insulation restored on both sides of the lead's connector, mm each."""
    return overlap_mm(job.rules, "core", job.end(end).cores[core].insulation.greatest_mm)


def _bare_mm(job: Job) -> float:
    return job.rules.number("earth.lead_connector_mm") + 2 * job.rules.number("cut.strip_extra_mm")


def _takes_mm(job: Job, core: int, end: str) -> float:
    return _bare_mm(job) + 2 * _over_mm(job, end, core)


def lead(job: Job, core: int, end: str, half_gap_mm: float) -> EarthLead | None:
    """The lead on a core, next to the sheath cut of an end, `half_gap_mm` from the middle; its strap reaches
    over what is folded back on the other one. None where no strap serves."""
    r, own = job.rules, job.end(end).cores[core]
    out = 1 if end == "B" else -1
    bare, takes = _bare_mm(job), _takes_mm(job, core, end)
    middle = out * (half_gap_mm - takes / 2)
    strap = strap_pick(job, abs(middle) + half_gap_mm + r.number("armour.fold_mm"))[1]
    if strap is None:
        return None
    pressed = sqrt(4 * strap.area_mm2 / (pi * STRANDS))
    metre = METAL_OHM_MM2_KM["copper"] / strap.area_mm2
    return EarthLead(
        "earth-lead",
        "earth lead",
        core=own.name,
        end=end,
        strap=strap,
        span_mm=(middle - bare / 2, middle + bare / 2),
        bare_mm=(takes - bare) / 2,
        od_mm=own.conductor.greatest_mm + pressed + 2 * r.number("earth.lead_wall_mm"),
        over_mm=_over_mm(job, end, core),
        limit_mohm=round(sound_path_mohm(metre, strap.length_mm, CONTACTS), 1),
        rules=r,
    )


def least_area_mm2(job: Job) -> tuple[float, str]:
    """Least strap section in mm², and why: the fault, the armour's own resistance, or the least of the
    rule book."""
    r = job.rules
    least, why = r.number("earth.least_mm2"), "the least of the rule book"
    fault = job.build.earth
    if fault:
        k = strap_k(r.number("earth.start_c"), r.number("earth.end_c"))
        try:
            carried = strap_area_mm2(fault.fault_current_a, fault.clearing_time_s, k)
        except InputError as err:
            raise err.under("/build/earth") from None
        if carried > least:
            least, why = carried, f"{fault.fault_current_a:g} A for {fault.clearing_time_s:g} s at k {k:.0f}"
    times = r.number("earth.resistance_factor")
    for e in job.ends:
        metals = [("armour", e.armour.area_mm2, e.armour.metal)] if e.armour and e.armour.area_mm2 else []
        metals += [("lead sheath", lead_mm2(e.lead), "lead")] if e.lead else []
        for said, area, metal in metals:
            own = area * METAL_OHM_MM2_KM["copper"] / METAL_OHM_MM2_KM[metal] / times
            if own > least:
                least, why = own, f"not over {times:g} times the resistance of the {said} on {e.name}"
    return least, why


def strap_pick(job: Job, length_mm: float) -> tuple[Pick, StockStrap | None]:
    """The thinnest strap that carries the fault over a length, mm, and why each other one does not serve."""
    least, why = least_area_mm2(job)

    def fault(s: StockStrap) -> str:
        if s.free(job.today) == 0:
            return "none on hand in date"
        if not at_least(s.area_mm2, least):
            return f"{mm2(s.area_mm2):g} mm² is {mm2(least - s.area_mm2):.1f} mm² too thin"
        if not at_least(s.length_mm, length_mm):
            return f"{mm(s.length_mm):g} mm is {mm(length_mm - s.length_mm):.0f} mm too short"
        return ""

    return pick_of(
        "earth-bond",
        "earth strap",
        f"at least {mm2(least):.1f} mm²: {why}",
        f"Order a strap of at least {mm2(least):.1f} mm².",
        parts=job.joint.stock.straps,
        fault=fault,
        worth=lambda s: (s.area_mm2, s.id),
        said=lambda s: strap_words(s, least),
    )


def nothing_to_earth(job: Job, end: str) -> Pick:
    """That a cable has no protective conductor, and what to do."""
    return Pick(
        "earth-lead",
        f"earth on {end}",
        f"a protective conductor on {end}, which has no armour",
        (),
        picked=None,
        advice=(
            f"Name the green-yellow core of both ends under Measure. If the cable on {end} has none, it"
            " cannot carry the earth on: lay a protective conductor beside it, by local rules, and take it to"
            " a cable that has one."
        ),
        buys=False,
    )
