"""A marker sleeve: the core's identity where its colour changes."""

from dataclasses import dataclass

from tinknot.core.layers import batches
from tinknot.core.layers.contract import Layer, Material, Step, Threaded
from tinknot.core.rulebook import RuleBook

LENGTH_MM = 15.0


@dataclass(frozen=True)
class MarkerSleeve(Layer):
    """The colour or number of end A's core, put on the core of end B that it is joined to."""

    core: str
    colour: str
    rules: RuleBook

    def threads(self) -> tuple[Threaded, ...]:
        """On the core, on side B."""
        return (Threaded(self.id, "marker sleeve", self.core, LENGTH_MM, "B", 2),)

    def steps(self) -> tuple[Step, ...]:
        """Threaded on the core before it is joined."""
        what = f"{self.colour}, " if self.colour else ""
        return (
            Step(
                f"park.{self.id}",
                f"Thread the marker of core {self.core}, side B",
                "park",
                "park",
                (f"strip.B.{self.core}",),
                text=f"Marker {what}core {self.core}, as on side A.",
                caution="Green-yellow is never re-marked.",
                batch=batches.PARK,
                core=self.core,
                end="B",
                layer=self.id,
            ),
        )

    def consumes(self) -> tuple[Material, ...]:
        """One marker."""
        return (Material("marker sleeve", 1, "piece"),)
