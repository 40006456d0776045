"""A single insulated wire joined: one sleeve, no sheath, few steps."""

from tinknot.core.choosing.place import CoreCut, Stagger
from tinknot.core.families.lowvoltage.connectors import Set
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.straight.cores import Cores, Groups, half_mm, made_and_cooled, strip_mm
from tinknot.core.families.straight.covers import OUTER, Cover, sealed_mm
from tinknot.core.families.straight.work import Kind
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.connectors import connector_layer
from tinknot.core.layers.wire import WireEnd, WireSleeve
from tinknot.core.parts.sleeve import SleeveForm

CLOSURES = (None, "sleeve", "wrap-around")
WAYS = ("parts", "connector", "closure", "gland")  # worth changing


def is_wire(job: Job) -> bool:
    """Whether both ends are a single insulated wire that a sleeve closes."""
    plain = job.build.fire is None and job.build.core_insulation is None and not job.build.end_wraps
    return all(e.is_wire for e in job.ends) and plain and job.build.closure in CLOSURES


def _one_sleeve(job: Job) -> list[Cover]:
    form: SleeveForm = "wrap-around" if job.build.closure == "wrap-around" else "tube"
    return [Cover(OUTER, "sleeve", form, sealed_mm, slot="outer_sleeve", closes=True)]


def _joined(job: Job, steps: int, connectors: Set, groups: Groups) -> Cores:
    """Stripped, joined; lengths are measured from the ends of the insulation."""
    (connector,), (a,), (b,) = connectors, job.a.cores, job.b.cores
    strip, half = strip_mm(job, connector), half_mm(job, connector)
    layer = connector_layer(
        connector,
        a.name,
        connector.first_lot(job.today),
        0.0,
        rules=job.rules,
        metals=(a.metal, b.metal),
        partner=b.partner,
        cool_min=job.cool_min(connector.od_mm, a.area_mm2),
        alone=True,
        area_mm2=min(a.area_mm2, b.area_mm2),
    )
    bare = Profile.of_stretches(
        [
            (-half, 0.0, a.conductor.greatest_mm, a.conductor.least_mm),
            (0.0, half, b.conductor.greatest_mm, b.conductor.least_mm),
        ]
    )
    return Cores(
        Stagger(2 * half, (CoreCut(0, half, strip, strip),)),
        False,
        (layer,),
        (layer, *made_and_cooled(job, [layer])),
        tracks=(layer.apply(bare),),
        choices=(),
        picks=(),
        complete=True,
        crutch_mm=(-half, half),
    )


WIRE = Kind(
    _one_sleeve,
    WireEnd,
    WireSleeve,
    groups=lambda job, connectors: [],  # no sleeve is for a core alone
    join=_joined,
    wall_mm=lambda e: e.cores[0].insulation_wall_mm,
    covered=False,
    skin="insulation",
    ways=WAYS,
)
