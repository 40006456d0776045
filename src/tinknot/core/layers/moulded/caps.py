"""Caps on spare cores: sealed and kept, each with a moulded part of one mouth."""

from dataclasses import dataclass, replace

from tinknot.core.acts import Look, Place, Shrink, Thing
from tinknot.core.facts import CONNECTED, Fact, of
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Batch,
    Fault,
    Heat,
    Layer,
    Material,
    Mend,
    Minutes,
    Piece,
    Step,
    pieces_of,
)
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.layers.sleeve import flash
from tinknot.core.layers.surfaces import degreased
from tinknot.core.parts.boot import StockBoot
from tinknot.core.rulebook import RuleBook

UNCOUNTED = "cap for a spare core"
CAPPED = Batch("caps", "Cap the spare cores")


@dataclass(frozen=True)
class Caps(Layer):
    """The spare cores of an end capped. `part`: the cap, None where nobody counts them; `gun_c`: what the gun
    is set to, °C."""

    rules: RuleBook
    end: str
    cores: tuple[str, ...]
    part: StockBoot | None
    lot: str
    gun_c: float

    def work(self) -> tuple[Step, ...]:
        """Cut square and cleaned, capped, looked at while hot."""
        names, many = ", ".join(self.cores), len(self.cores) > 1
        said = self.part.said if self.part else "a lined cap"
        thing = Thing(
            self.id,
            "cap",
            shrinks_c=self.part.shrink_c if self.part else None,
            seals="adhesive",
            of=self.part.said if self.part else UNCOUNTED,
        )
        ends = tuple(Place(self.end, c, "insulation") for c in self.cores)
        clean = tuple(Fact("clean", p) for p in ends)
        return (
            Step(
                f"surface.{self.id}",
                f"Make the spare cores ready on {self.end}" if many else f"Make spare core {names} ready",
                "surface",
                "build",
                needs=(CONNECTED,),
                text=f"{names}: cut square, no strand outside, degrease. Let it flash off.",
                caution="Dead at its far end too, and it stays so.",
                batch=batches.SURFACE_CORES,
                acts=tuple(degreased(self.rules, p) for p in ends),
                end=self.end,
                core=self.cores[0],
            ),
            Step(
                f"seal.{self.id}",
                f"Cap the spare cores on {self.end}" if many else f"Cap spare core {names} on {self.end}",
                "seal",
                "build",
                needs=clean,
                text=f"{len(self.cores)} × {said}, pushed on to its end; from the closed end to the mouth.",
                caution="Shield what lies beside it; keep the gun moving.",
                action="Capped",
                batch=CAPPED,
                part_id=self.part.id if self.part else "",
                heat=Heat(gun_c=self.gun_c),
                tools=("heat-gun",),
                timers=(flash(self.rules, clean[-1]),),
                acts=tuple(
                    Shrink(at=replace(p, span_mm=(0.0, 0.0)), thing=thing, seals_on=(p,)) for p in ends
                ),
                end=self.end,
                core=self.cores[0],
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the caps on {self.end}" if many else f"Look at the cap on {self.end}",
                "inspect",
                "build",
                needs=(of("closed", self.id),),
                look="Adhesive all round each mouth, none can be pulled off. Each carries its name.",
                fails="No adhesive seen: heat it once more. Loose: a new one.",
                batch=batches.INSPECT_CORES,
                acts=(Look(thing=thing),),
                end=self.end,
                core=self.cores[0],
            ),
        )

    def consumes(self) -> tuple[Material, ...]:
        """One a core."""
        p, n = self.part, len(self.cores)
        if p is None:
            return (Material(UNCOUNTED, n, "piece"),)
        return (Material(p.said, n, "piece", p.on_hand, part_id=p.id, lot=self.lot),)

    def counted(self) -> tuple[Piece, ...]:
        """Each of them."""
        return pieces_of(self.consumes(), 0.0)

    def from_lot(self) -> str:
        """Their lot."""
        return self.lot

    def minutes(self) -> Minutes:
        """A little for each."""
        return Minutes(self.rules.number("time.mouth_min") / 2 * len(self.cores))

    def faults(self) -> tuple[Fault, ...]:
        """Off, or open."""
        new = Mend("Cut it off with a little of the core and put a new one on", "new-part")
        return (
            Fault(
                "cap-open",
                "No adhesive at the mouth of a cap",
                ("too little heat",),
                (Mend("Heat it once more", "again"), new, CUT_OUT),
            ),
            Fault("cap-off", "A cap comes off", ("core not clean", "too wide for the core"), (new, CUT_OUT)),
        )
