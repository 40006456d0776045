"""The earth path: strap, clamps and mesh, chosen for the fault it must carry."""

from tinknot.core.effort import spend
from tinknot.core.families.choice import Offer, Pick
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.metal import mohm_per_m
from tinknot.core.families.stack import Stack
from tinknot.core.families.straight.base import holds, wound_once
from tinknot.core.families.straight.cores import Cores
from tinknot.core.families.straight.lead import (
    leads_on,
    nothing_to_earth,
    protective,
    screened,
    strap_pick,
)
from tinknot.core.figures import mm
from tinknot.core.formulas.earth import sound_path_mohm
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.bond import EarthBond, Hold, mesh_grows_mm
from tinknot.core.layers.lead import StrapLaid
from tinknot.core.layers.tapes import PlainWrap
from tinknot.core.parts.clamp import StockClamp
from tinknot.core.parts.mesh import StockMesh
from tinknot.core.parts.strap import StockStrap

CONTACTS = 6  # of the path over a joint: a lead, a clamp and the strap in it, on both sides


def restores(job: Job) -> bool:
    """Armour or lead on both sides is a metal screen too, and is to be one again over the joint."""
    return all(e.metal for e in job.ends) and not job.made.began_without("wrap.mesh")


def bond(
    job: Job, cores: Cores, around_mm: float, inside_mm: tuple[float, float] | None
) -> tuple[EarthBond | None, list[Pick]]:
    """The bond, None where a part of it is missing, and the choices made for it. `inside_mm`: what lies under
    the inner sleeve, mm on the joint's axis; None without one."""
    spend(50 + 2 * len(job.joint.stock.straps) + 2 * len(job.joint.stock.clamps))
    held, half = holds(job, cores), cores.layout.gap_mm / 2
    span = (
        min((h.span_mm[0] for h in held if h.end == "A"), default=-half),
        max((h.span_mm[1] for h in held if h.end == "B"), default=half),
    )
    end, lead = leads_on(job), cores.lead
    comes_out_mm = (
        (sum(lead.span_mm) / 2 if inside_mm is None else inside_mm["AB".index(lead.out)]) if lead else 0.0
    )
    if end and protective(job, end) is None:
        return None, [nothing_to_earth(job, end)]
    pick, strap = strap_pick(job, span[1] - span[0])
    picks = [pick]
    mesh = None
    if screened(job) or restores(job):
        mesh, pick = _mesh(job)
        if mesh or screened(job):
            picks.append(pick)
    clamps: dict[str, tuple[StockClamp, str]] = {}
    for h in held:
        clamp, pick = _clamp(job, h, strap, mesh)
        picks.append(pick)
        if clamp:
            clamps[h.key] = (clamp, clamp.first_lot(job.today))
    lacking = (mesh is None and screened(job)) or (end != "" and lead is None)
    if strap is None or lacking or len(clamps) != len(held):
        return None, picks
    return (
        EarthBond(
            "earth-bond",
            "earth bond",
            held,
            strap=strap,
            strap_lot=strap.first_lot(job.today),
            clamps=clamps,
            span_mm=span,
            rules=job.rules,
            mesh=mesh,
            mesh_lot=mesh.first_lot(job.today) if mesh else "",
            around_mm=around_mm,
            limit_mohm=_limit_mohm(job, span[1] - span[0]),
            lead=lead,
            lead_mm=comes_out_mm,
        ),
        picks,
    )


def led_out(job: Job, cores: Cores, inside_mm: tuple[float, float], s: Stack) -> Stack:
    """The strap laid along the cores under the sleeve that closes over them, with mastic under and over it
    where it comes out; nothing where armour goes on to armour."""
    lead = cores.lead
    if lead is None:
        return s
    half, (a, b), out = cores.layout.gap_mm / 2, inside_mm, lead.out
    span = (-half, lead.span_mm[1]) if out == "A" else (lead.span_mm[0], half)
    s = s.on(StrapLaid("strap", "earth strap", lead.strap, span, end=out))
    tape = job.filler
    if tape is None:
        return s.warned("The strap is to come out through mastic: none is in stock, and no tape for it.")
    wide = job.rules.number("tape.mastic_over_mm")
    mouth = (a, min(a + wide, cores.crutch_mm[0])) if out == "A" else (max(b - wide, cores.crutch_mm[1]), b)
    return s.on(
        wound_once(
            job,
            "strap-out",
            tape,
            mouth,
            where="round the strap where it comes out",
            over=s.outside,
            text="Under the strap and over it, pressed into its strands: what closes here closes on it.",
        )
    )


def _limit_mohm(job: Job, length_mm: float) -> float:
    """Up to what the earth path passes, mΩ: by the armour it stands for, or the protective conductor where
    there is no second one; never more than the rule book has."""
    most = 1000 * job.rules.number("earth.limit_ohm")
    own = []
    for e in job.ends:
        known = mohm_per_m(e)
        core = next((c.name for c in e.cores if c.protective), "")
        name = e.metal.replace(" ", "-") or core
        if name in known:
            own.append(sound_path_mohm(known[name], length_mm, CONTACTS))
    return most if not own or job.made.began_before else round(min(most, max(own)), 1)


def over_springs(job: Job, bond: EarthBond, under: Profile) -> tuple[list[PlainWrap], list[str]]:
    """Mastic over each spring and the metal it holds, once the path is measured; a warning where there is
    none."""
    held = [h for h in bond.holds if bond.clamps[h.key][0].kind == "spring"]
    held = [h for h in held if not job.made.began_without(f"wrap.spring-{h.key}")]
    tape = job.filler
    if not held:
        return [], []
    if job.build.springs == "tape":
        return [], [
            "The springs are only taped over, without mastic: it is too thick for what closes over them."
        ]
    if tape is None:
        return [], ["Springs are to be covered: neither mastic nor self-amalgamating tape is in stock."]
    found = []
    for h in held:
        words = (
            "Over spring and tape, as far as the lead lies bare, and on to the inner sheath."
            if h.skin == "lead-sheath"
            else "Over spring, tape and wire ends, as far as the"
            f" {'mesh' if h.skin == 'screen' else 'armour'} lies; no point stands out."
        )
        found.append(
            wound_once(
                job,
                f"spring-{h.key}",
                tape,
                h.span_mm,
                where=f"over the spring on {h.said}",
                over=under,
                text=words,
                end=h.end,
                batch=batches.SPRINGS,
                with_next=h is not held[-1],
            )
        )
    return found, []


def _clamp(
    job: Job, h: Hold, strap: StockStrap | None, mesh: StockMesh | None
) -> tuple[StockClamp | None, Pick]:
    e = job.end(h.end)
    on = e.lead.outside.greatest_mm if h.skin == "lead-sheath" and e.lead else e.folded_mm
    od = on + (strap.thickness_mm if strap else 0.0)
    if h.skin == "screen" and mesh:
        od += mesh_grows_mm(mesh)

    judged = [(c, c.not_on(od, job.today)) for c in job.joint.stock.clamps]
    best = min(
        (c for c, w in judged if not w), key=lambda c: (c.kind != "spring", c.od_most_mm, c.id), default=None
    )
    offers = tuple(Offer(c.id, c.said, not w, w or c.range_said) for c, w in judged)
    lies = {"armour": "armour", "lead-sheath": "lead"}.get(h.skin, "sheath, mesh")
    need = f"{mm(od):.1f} mm over {lies} and strap"
    return best, Pick(
        f"clamp-{h.key}",
        f"clamp on {h.said}",
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
        f"a screen all round, from {job.a.metal} to {job.b.metal}"
        if restores(job)
        else "a screen all round under the resin, earthed by a lead to the protective conductor",
        offers,
        picked=best.id if best else None,
        advice="Order metal mesh.",
    )
