"""The kit itself: received against its packing list, used up by the work."""

from dataclasses import dataclass

from tinknot.core.acts import Note
from tinknot.core.layers.contract import Fault, Layer, Material, Mend, Step


@dataclass(frozen=True)
class Kit(Layer):
    """One box of a kit. `part_id` empty where none is in stock; `on_hand` None where nobody counts them;
    `packing`: its parts in words."""

    part_id: str
    lot: str
    on_hand: float | None
    packing: str

    def consumes(self) -> tuple[Material, ...]:
        """One box."""
        return (Material(self.title, 1, "piece", self.on_hand, part_id=self.part_id, lot=self.lot),)

    def faults(self) -> tuple[Fault, ...]:
        """What a box can come with."""
        another = Mend("Note it with a picture, take another box, scan its lot", "again")
        return (
            Fault(
                "kit-damaged",
                "A part is damaged or has been wet",
                ("stored in the open", "box crushed"),
                (another,),
            ),
            Fault(
                "kit-short",
                "A part of the packing list is missing",
                ("opened before",),
                (another, Mend("The part was found or fetched", "mended", stays=True)),
            ),
            Fault("kit-wrong", "It is a kit for another cable", ("boxes mixed up",), (another,)),
        )

    def work(self) -> tuple[Step, ...]:
        """Laid out, looked through, dated."""
        return (
            Step(
                "receive",
                "Lay the kit out against its packing list",
                "fit",
                "card",
                after=("isolated",),
                action="All there",
                part_id=self.part_id,
                text=self.packing,
                look="All there, nothing damaged, in date, kept dry; it is the kit for this cable.",
                fails="Missing, damaged or past its date: note it with a picture and take another kit.",
                acts=(Note(),),
                photo=True,
            ),
        )
