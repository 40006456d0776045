"""A single insulated wire joined: one sleeve, no sheath, few steps."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from tinknot.core.choosing.place import CoreCut, Stagger
from tinknot.core.drawing.model import Section
from tinknot.core.families.contract import Way
from tinknot.core.families.lowvoltage.job import Job
from tinknot.core.families.lowvoltage.recipe import CableSolution
from tinknot.core.families.straight.cores import Cores, Groups, half_mm, made_and_cooled, strip_mm
from tinknot.core.families.straight.covers import OUTER, Cover, Other, sealed_mm
from tinknot.core.families.straight.recipe import StraightRecipe
from tinknot.core.families.straight.section import section
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.connectors import connector_layer
from tinknot.core.layers.wire import WireEnd, WireSleeve
from tinknot.core.parts.connector import StockConnector

CLOSURES = (None, "sleeve", "wrap-around")


def is_wire(job: Job) -> bool:
    """Whether both ends are a single insulated wire that a sleeve closes."""
    plain = job.build.fire is None and job.build.core_insulation is None and not job.build.end_wraps
    return all(e.is_wire for e in job.ends) and plain and job.build.closure in CLOSURES


class WireRecipe(StraightRecipe):
    """One joint file of a wire, worked through."""

    end_layer = WireEnd
    covered = False
    sleeve_layer = WireSleeve

    def inside_out(self) -> list[Cover | Other]:
        """One sleeve."""
        form = "wrap-around" if self.job.build.closure == "wrap-around" else "tube"
        return [Cover(OUTER, "sleeve", form, sealed_mm, slot="outer_sleeve", closes=True)]  # type: ignore[arg-type]

    def groups_of(self, connectors: Sequence[StockConnector]) -> Groups:
        """No sleeve is for a core alone."""
        return []

    def joined(
        self, steps: int, connectors: Sequence[StockConnector], groups: Groups, picks: Sequence[str]
    ) -> Cores:
        """Stripped, joined; lengths are measured from the ends of the insulation."""
        job, (connector,) = self.job, connectors
        rules, (a,), (b,) = job.rules, job.a.cores, job.b.cores
        strip, half = strip_mm(job, connector), half_mm(job, connector)
        layer = connector_layer(
            connector,
            a.name,
            connector.first_lot(job.today),
            0.0,
            rules,
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
            (layer.apply(bare),),
            (),
            (),
            True,
            (-half, half),
        )

    def replaced_wall_mm(self, e: CableEnd) -> float:
        """The insulation's."""
        return e.cores[0].insulation_wall_mm

    def ways(self, s: CableSolution) -> Iterator[Way]:
        """Other connectors, and a sleeve that wraps round."""
        other = ("let-choose", f"steps-{self.joint.stagger_steps}-", "closure-wrap", "closure-sleeve")
        return (w for w in super().ways(s) if w.id.startswith(other))

    @property
    def skin(self) -> str:
        """What its outside is called."""
        return "insulation"

    def draw(self, s: CableSolution) -> Section | None:
        """Along the wire; its dimensions speak of the insulation."""
        return section(replace(s, skin="insulation")) if s.inner else None
