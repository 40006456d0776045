"""What comes before resin where a mesh lies in it: the cores held apart, and read against the mesh."""

from dataclasses import dataclass

from tinknot.core.acts import LayOn, Place, Read
from tinknot.core.facts import over_all
from tinknot.core.layers.contract import Fault, Gate, Layer, Mend, Reading, Step
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.layers.proofs import EARTH_AND_REST, Proofs


@dataclass(frozen=True)
class CoresApart(Layer):
    """Spacers set before a mesh is wound over them, which closes the way to them (law 2). `said`: how many
    and where; `laid`: by the shell whose they are."""

    said: str
    laid: LayOn

    def work(self) -> tuple[Step, ...]:
        """Set."""
        return (
            Step(
                "place.spacers",
                "Hold the cores apart",
                "fit",
                "build",
                needs=over_all(),
                text=f"{self.said}. Nothing reaches them once the mesh is on.",
                look="No core touches another one; what holds them cannot slip out.",
                action="They are apart",
                focus_mm=self.laid.at.span_mm,
                acts=(self.laid,),
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Slipped."""
        return (
            Fault(
                "spacer-slipped",
                "A spacer does not hold",
                ("cores spread too little", "too few of them"),
                (Mend("Set it again", "again"),),
            ),
        )


@dataclass(frozen=True)
class MeshRead(Layer):
    """Cores read against the mesh while it can still be opened (law 7)."""

    proofs: Proofs

    def work(self) -> tuple[Step, ...]:
        """All of them together."""
        least = self.proofs.rules.number("insulation.limit_mohm")
        gate = Gate("mesh", "cores to mesh", "MΩ", least=least, instrument="insulation-tester")
        return (
            Step(
                "test.mesh",
                f"Cores to the mesh at {self.proofs.insulation_v:g} V DC",
                "test",
                "build",
                needs=over_all(),
                text="All cores against the mesh, far ends off and apart. Under resin nothing is mended.",
                caution="Discharge after every reading.",
                reading=Reading((gate,)),
                tools=("insulation-tester",),
                acts=(Read(what="insulation", between=(Place(skin="conductor"), *EARTH_AND_REST)),),
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Low."""
        return (
            Fault(
                "mesh-low",
                "The cores read low to the mesh",
                ("a wire of the mesh through the insulation", "a core against the mesh", "damp"),
                (Mend("Open the mesh there, insulate, wind it again, measure again", "again"), CUT_OUT),
            ),
        )
