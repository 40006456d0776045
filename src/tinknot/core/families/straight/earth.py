"""The earth path: strap, clamps and mesh, chosen for the fault it must carry."""

from math import log, sqrt

from tinknot.core.effort import spend
from tinknot.core.errors import InputError
from tinknot.core.families.choice import Offer, Pick
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.metal import mohm_per_m
from tinknot.core.families.straight.base import folds_mm
from tinknot.core.families.straight.cores import Cores
from tinknot.core.figures import mm, mm2
from tinknot.core.formulas.earth import METAL_OHM_MM2_KM, sound_path_mohm, strap_area_mm2
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.bond import EarthBond, strap_words
from tinknot.core.layers.tapes import PlainWrap
from tinknot.core.parts.clamp import StockClamp
from tinknot.core.parts.mesh import StockMesh
from tinknot.core.parts.strap import StockStrap
from tinknot.core.tolerance import at_least

CONTACTS = 6  # of the path over a joint: a lead, a clamp and the strap in it, on both sides


def strap_k(start_c: float, end_c: float) -> float:
    """k of a copper strap in A·√s/mm² from its start to its end temperature, °C.

    k = √(Q·(β + 20)/ρ · ln(1 + (θe − θs)/(β + θs))); for copper β 234.5 and the root before the
    logarithm 226. Source: IEC 60364-5-54, annex A.

    >>> round(strap_k(30, 160)), round(strap_k(70, 160))
    (143, 115)
    """
    return 226 * sqrt(log(1 + (end_c - start_c) / (234.5 + start_c)))


def needed(job: Job) -> bool:
    """Whether there is armour to carry over, or a full metal screen is asked for under resin."""
    return any(e.armour for e in job.ends) or screened(job)


def screened(job: Job) -> bool:
    """A hazardous area asks for a metal screen all round under the resin."""
    return "hazardous" in job.joint.duties and job.casts


def restores(job: Job) -> bool:
    """Armour on both sides is a metal screen too, and is to be one again over the joint."""
    return all(e.armour for e in job.ends) and not job.made.began_without("wrap.mesh")


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
    for e in job.ends:
        if e.armour and e.armour.area_mm2:
            own = (
                e.armour.area_mm2
                * METAL_OHM_MM2_KM["copper"]
                / METAL_OHM_MM2_KM[e.armour.metal]
                / r.number("earth.resistance_factor")
            )
            if own > least:
                least, why = (
                    own,
                    (
                        f"not over {r.number('earth.resistance_factor'):g} times the resistance of the armour"
                        f" on {e.name}"
                    ),
                )
    return least, why


def bond(job: Job, cores: Cores, around_mm: float) -> tuple[EarthBond | None, list[Pick]]:
    """The bond, None where a part of it is missing, and the choices made for it."""
    spend(50 + 2 * len(job.joint.stock.straps) + 2 * len(job.joint.stock.clamps))
    folds = folds_mm(job, cores)
    half = cores.layout.gap_mm / 2
    span = (folds.get("A", (-half, -half))[0], folds.get("B", (half, half))[1])
    least, why = least_area_mm2(job)
    straps = [(s, _strap_fault(job, s, least, span[1] - span[0])) for s in job.joint.stock.straps]
    strap = min((s for s, w in straps if not w), key=lambda s: (s.area_mm2, s.id), default=None)
    offers = tuple(Offer(s.id, s.said, not w, w or strap_words(s, least)) for s, w in straps)
    picks = [
        Pick(
            "earth-bond",
            "earth strap",
            f"at least {mm2(least):.1f} mm²: {why}",
            offers,
            picked=strap.id if strap else None,
            advice=f"Order a strap of at least {mm2(least):.1f} mm².",
        )
    ]
    clamps: dict[str, tuple[StockClamp, str]] = {}
    for e in job.ends:
        if e.armour:
            clamp, pick = _clamp(job, e, strap)
            picks.append(pick)
            if clamp:
                clamps[e.name] = (clamp, clamp.first_lot(job.today))
    mesh = None
    if screened(job) or restores(job):
        mesh, pick = _mesh(job)
        if mesh or screened(job):
            picks.append(pick)
        if mesh is None and screened(job):
            return None, picks
    if strap is None or len(clamps) != len(folds):
        return None, picks
    return (
        EarthBond(
            "earth-bond",
            "earth bond",
            tuple(e for e in job.ends if e.armour),
            folds,
            strap=strap,
            strap_lot=strap.first_lot(job.today),
            clamps=clamps,
            span_mm=span,
            rules=job.rules,
            mesh=mesh,
            mesh_lot=mesh.first_lot(job.today) if mesh else "",
            around_mm=around_mm,
            limit_mohm=_limit_mohm(job, span[1] - span[0]),
        ),
        picks,
    )


def _limit_mohm(job: Job, length_mm: float) -> float:
    """Up to what the earth path passes, mΩ: by the armour it stands for, or the protective conductor where
    there is no second one; never more than the rule book has."""
    most = 1000 * job.rules.number("earth.limit_ohm")
    own = []
    for e in job.ends:
        known = mohm_per_m(e)
        name = "armour" if e.armour else next((c.name for c in e.cores if c.colour == "green-yellow"), "")
        if name in known:
            own.append(sound_path_mohm(known[name], length_mm, CONTACTS))
    return most if not own or job.made.began_before else round(min(most, max(own)), 1)


def over_springs(job: Job, bond: EarthBond, under: Profile) -> tuple[list[PlainWrap], list[str]]:
    """Mastic over each spring and the armour it holds, once the path is measured; a warning where there is
    none."""
    ends = [e for e, (c, _) in bond.clamps.items() if c.kind == "spring"]
    ends = [e for e in ends if not job.made.began_without(f"wrap.spring-{e}")]
    tape = job.tape("mastic") or job.tape("self-amalgamating")
    if not ends:
        return [], []
    if job.build.springs == "tape":
        return [], [
            "The springs are only taped over, without mastic: it is too thick for what closes over them."
        ]
    if tape is None:
        return [], ["Springs are to be covered: neither mastic nor self-amalgamating tape is in stock."]
    found = []
    for end in ends:
        found.append(
            PlainWrap(
                f"spring-{end}",
                f"{tape.kind.replace('-', ' ')} over the spring on {end}",
                tape,
                tape.first_lot(job.today),
                span_mm=bond.folds[end],
                passes=1,
                substrate_mm=under.between(*bond.folds[end]).greatest(),
                rules=job.rules,
                text="Over spring, tape and wire ends, as far as the armour lies; no point stands out.",
                end=end,
                with_next=end != ends[-1],
            )
        )
    return found, []


def _strap_fault(job: Job, s: StockStrap, least: float, span: float) -> str:
    if s.free(job.today) == 0:
        return "none on hand in date"
    if not at_least(s.area_mm2, least):
        return f"{mm2(s.area_mm2):g} mm² is {mm2(least - s.area_mm2):.1f} mm² too thin"
    if not at_least(s.length_mm, span):
        return f"{mm(s.length_mm):g} mm is {mm(span - s.length_mm):.0f} mm too short"
    return ""


def _clamp(job: Job, e: CableEnd, strap: StockStrap | None) -> tuple[StockClamp | None, Pick]:
    od = e.folded_mm + (strap.thickness_mm if strap else 0.0)

    judged = [(c, c.not_on(od, job.today)) for c in job.joint.stock.clamps]
    best = min(
        (c for c, w in judged if not w), key=lambda c: (c.kind != "spring", c.od_most_mm, c.id), default=None
    )
    offers = tuple(Offer(c.id, c.said, not w, w or c.range_said) for c, w in judged)
    need = f"{mm(od):.1f} mm over armour and strap"
    return best, Pick(
        f"clamp-{e.name}",
        f"clamp on {e.name}",
        need,
        offers,
        picked=best.id if best else None,
        advice=f"Order a spring or clamp for {mm(od):.1f} mm.",
    )


def _mesh(job: Job) -> tuple[StockMesh | None, Pick]:
    judged = [(m, "none on hand in date" if m.free(job.today) == 0 else "") for m in job.joint.stock.meshes]
    best = min((m for m, w in judged if not w), key=lambda m: m.id, default=None)
    offers = tuple(Offer(m.id, m.said, not w, w or f"{mm(m.width_mm):g} mm wide") for m, w in judged)
    return best, Pick(
        "mesh",
        "metal mesh",
        "a screen all round, from armour to armour"
        if restores(job)
        else "a screen all round under the resin",
        offers,
        picked=best.id if best else None,
        advice="Order metal mesh.",
    )
