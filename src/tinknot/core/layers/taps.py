"""Taps without stripping: insulation-piercing connectors, and the cap on the tap's open end."""

from dataclasses import dataclass
from typing import Any

from tinknot.core.joint.cable import CableEnd, Core
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Cut, Fault, Gate, Layer, Material, Mend, Minutes, Step
from tinknot.core.layers.sleeves import Sleeve
from tinknot.core.parts.connector import StockConnector
from tinknot.core.rulebook import RuleBook

_OFF = Mend("Take it off, move along the main, a new connector: it is never used twice", "new-part")


@dataclass(frozen=True)
class TapEnd(Layer):
    """The tap made ready: sheath off, cores cut square. The main is not stripped."""

    end: CableEnd
    rules: RuleBook

    def cuts(self) -> tuple[Cut, ...]:
        """Sheath from the cable's end; each core square."""
        bare, tol = self.rules.number("tap.sheath_mm"), self.rules.number("cut.tolerance_mm")
        return (
            Cut(
                "B",
                "sheath",
                "cable-end",
                bare,
                tol,
                "Score round, do not cut through; the cores lie right under it.",
                bare,
            ),
            *(
                Cut(
                    "B",
                    f"core {c.name}",
                    "sheath-cut",
                    bare,
                    tol,
                    "Cut square; do not strip it.",
                    0.0,
                    c.name,
                )
                for c in self.end.cores
            ),
        )

    def steps(self) -> tuple[Step, ...]:
        """Sheath, then the cores."""
        sheath, *cores = self.cuts()
        return (
            Step(
                "cut.sheath.B",
                "Take the sheath off the tap",
                "cut",
                "cut",
                ("measured",),
                text="Mark, score round and flex to part. Lay the cores out.",
                caution=sheath.caution,
                end="B",
                layer=self.id,
                look="No knife mark on any core.",
                gates=(
                    Gate(
                        "distance",
                        "from the cable end",
                        "mm",
                        sheath.distance_mm,
                        sheath.tolerance_mm,
                        required=False,
                        accept=True,
                        instrument="tape",
                    ),
                ),
            ),
            *(
                Step(
                    f"cut.core.B.{c.core}",
                    f"Cut core {c.core} of the tap square",
                    "cut",
                    "cut",
                    ("cut.sheath.B",),
                    text="Square and clean: it goes in unstripped.",
                    caution=c.caution,
                    batch=batches.cores("B"),
                    end="B",
                    core=c.core,
                    layer=self.id,
                    gates=(
                        Gate(
                            "distance",
                            "from the sheath cut",
                            "mm",
                            c.distance_mm,
                            c.tolerance_mm,
                            required=False,
                            accept=True,
                            instrument="tape",
                        ),
                    ),
                )
                for c in cores
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Knife."""
        mend = Mend("Cut the tap's end back and prepare it again", "end-again")
        return (
            Fault(
                "knife-through",
                "A core's insulation is cut where the sheath came off",
                ("scored too deep",),
                (mend,),
            ),
        )

    def minutes(self) -> Minutes:
        """Sheath off."""
        return Minutes(self.rules.number("time.end_min"))

    def tools(self) -> tuple[str, ...]:
        """Knife work."""
        return ("tape measure", "sheath knife", "core cutter")


@dataclass(frozen=True)
class Piercing(Layer):
    """A connector that bites through both insulations, at `centre_mm` along the main."""

    core: str
    connector: StockConnector
    lot: str
    centre_mm: float
    main: Core
    tap: Core
    rules: RuleBook
    earthing: bool = False

    def steps(self) -> tuple[Step, ...]:
        """Placed, tightened until the head parts, looked at."""
        c = self.connector
        torque = (
            f"to {c.torque_least_nm:g} to {c.torque_most_nm:g} N·m"
            if c.torque_least_nm and c.torque_most_nm
            else "until the head parts"
        )
        at: dict[str, Any] = {
            "core": self.core,
            "layer": self.id,
            "focus_mm": (self.centre_mm - c.length_mm, self.centre_mm + c.length_mm),
        }
        what = "earthing connector" if self.earthing else "tap connector"
        needs = ("measured",) if self.earthing else (f"cut.core.B.{self.core}",)
        return (
            Step(
                f"join.{self.core}",
                f"Fit the {what} on core {self.core}",
                "join",
                "build",
                needs,
                text=f"Main and tap fully into their grooves, no stripping. Tighten evenly {torque}.",
                caution="Never used twice. Hold the connector, not the main.",
                look="Head parted, both cores seated, jaws level.",
                fails="Crooked, slipped or not parted: off with it, a new one beside it.",
                batch=batches.join("Fit the connectors"),
                action="Fitted",
                part_id=c.id,
                **at,
            ),
        )

    def consumes(self) -> tuple[Material, ...]:
        """One connector."""
        c = self.connector
        return (Material(c.said, 1, "piece", c.on_hand, c.id, self.lot),)

    def minutes(self) -> Minutes:
        """Place and tighten."""
        return Minutes(self.rules.number("time.tap_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Torque, seat."""
        return (
            Fault(
                "head-not-parted",
                "The head did not part",
                ("driver too weak", "bolt tilted"),
                (Mend("Tighten again with the right driver", "again"), _OFF),
            ),
            Fault("crooked", "It sits crooked or has slipped", ("cores not in their grooves",), (_OFF,)),
        )

    def tools(self) -> tuple[str, ...]:
        """Drivers."""
        return ("insulated driver", "core separator")


@dataclass(frozen=True)
class EndCap(Sleeve):
    """A sleeve with one closed end on the tap's open end; its part is chosen like any sleeve."""

    core: str = ""

    def apply(self, under: Profile) -> Profile:
        """The cap is a thing of its own: nothing comes over it."""
        return under

    def steps(self) -> tuple[Step, ...]:
        """Wiped, shrunk from its closed end, looked at."""
        at: dict[str, Any] = {"core": self.core, "layer": self.id, "focus_mm": self.span_mm}
        closing = self.seal_words()
        if self.hot:
            closing["text"] = "Push it on to its stop. Heat the closed end first, then toward the cable."
        return (
            Step(
                f"surface.{self.id}",
                f"Wipe the end of core {self.core}",
                "surface",
                "build",
                (f"join.{self.core}",),
                text="Degrease the tap's open end. Let it flash off.",
                batch=batches.SURFACE_CORES,
                **at,
            ),
            Step(
                f"seal.{self.id}",
                f"Cap the open end of core {self.core}",
                "seal",
                "build",
                (f"surface.{self.id}",),
                batch=batches.seal_cores("Cap the open ends"),
                action="Capped",
                part_id=self.part.id if self.part else "",
                timers=self.flash_off(f"surface.{self.id}"),
                **at,
                **closing,
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the cap of core {self.core}",
                "inspect",
                "build",
                (f"seal.{self.id}",),
                look="Tight all round, down to its stop.",
                fails="Loose or split: a new cap.",
                batch=batches.INSPECT_CORES,
                **at,
            ),
        )
