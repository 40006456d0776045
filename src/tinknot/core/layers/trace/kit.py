"""The kit itself: received against its packing list, used up by the work."""

from dataclasses import dataclass

from tinknot.core.acts import Note
from tinknot.core.layers.contract import Fault, Layer, Material, Mend, Step
from tinknot.core.layers.trace.opening import told


@dataclass(frozen=True)
class Kit(Layer):
    """One box of a kit. `part_id` empty where none is in stock; `on_hand` None where nobody counts them;
    `packing`: its parts in words; `besides`: what is not in the box."""

    part_id: str
    lot: str
    on_hand: float | None
    packing: str
    besides: tuple[Material, ...] = ()

    def consumes(self) -> tuple[Material, ...]:
        """One box, and what its leaflet says is not in it."""
        box = Material(self.title, 1, "piece", self.on_hand, part_id=self.part_id, lot=self.lot)
        return (box, *self.besides)

    def _besides(self) -> str:
        names = ", ".join(f"{m.quantity:g} × {m.what}" for m in self.besides)
        return f"Not in the box, have it at hand besides: {names}." if names else ""

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
                text=told(self.packing, self._besides()),
                look="All there, nothing damaged, in date, kept dry; it is the kit for this cable.",
                fails="Missing, damaged or past its date: note it with a picture and take another kit.",
                acts=(Note(),),
                photo=True,
            ),
        )
