"""A crimped barrel on one core."""

from dataclasses import dataclass

from tinknot.core.joint.file import StockConnector
from tinknot.core.joint.profile import Profile, Station
from tinknot.core.layers.contract import Fault, Layer, Material, Mend, Minutes, Setting, Step
from tinknot.core.rulebook import RuleBook

_CUT_OUT = Mend("Cut the joint out and start again: all cores lose the same length", "remake")


@dataclass(frozen=True)
class Crimp(Layer):
    """A barrel over both conductors of `core`, centred at `centre_mm` on the joint's axis."""

    core: str
    connector: StockConnector
    lot: str
    centre_mm: float
    rules: RuleBook

    @property
    def half_mm(self) -> float:
        """Half its length once crimped: it grows by `growth_mm` a side."""
        return self.connector.length_mm / 2 + self.connector.growth_mm

    @property
    def strip_mm(self) -> float:
        """Bare conductor it asks for: insertion + growth + what may show."""
        return (
            self.connector.insertion_mm + self.connector.growth_mm + self.rules.number("cut.strip_extra_mm")
        )

    def apply(self, under: Profile) -> Profile:
        """The track with the barrel in place of the bare conductors."""
        a, b = self.centre_mm - self.half_mm, self.centre_mm + self.half_mm
        inside = (
            Station(a, self.connector.od_mm, self.connector.od_mm),
            Station(b, self.connector.od_mm, self.connector.od_mm),
        )
        return Profile(
            (*under.between(under.start_mm, a).stations, *inside, *under.between(b, under.end_mm).stations)
        )

    def steps(self) -> tuple[Step, ...]:
        """Crimped only when every parked part is on."""
        c = self.connector
        die = f" with die {c.die}" if c.die else ""
        press = "1 press" if c.presses == 1 else f"{c.presses} presses"
        return (
            Step(
                f"join.{self.core}", f"Crimp core {self.core}", "join", "build",
                ("parked", f"strip.A.{self.core}", f"strip.B.{self.core}"),
                text=f"Push both conductors in until they stop. Crimp{die}, {press} each side, from the middle outward.",
                caution="Core to the same core: look at the names once more.",
                look="Conductor seen at the sight hole, at most 1 mm bare outside, full press marks.",
                fails="Strand outside, barrel cracked or short of a press: cut it out.",
                batch="join", core=self.core, layer=self.id, part_id=c.id, tools=("crimp-tool",),
                focus_mm=(self.centre_mm - 2 * self.half_mm, self.centre_mm + 2 * self.half_mm),
            ),
        )  # fmt: skip

    def consumes(self) -> tuple[Material, ...]:
        """One barrel."""
        return (
            Material(
                self.connector.name or self.connector.id,
                1,
                "piece",
                self.connector.on_hand,
                self.connector.id,
                self.lot,
            ),
        )

    def minutes(self) -> Minutes:
        """Cut, strip, park, crimp and sleeve one core."""
        return Minutes(self.rules.number("time.core_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Seating, die, core map."""
        return (
            Fault("sight-window-empty", "No conductor at the sight hole", ("strip too short", "pulled back while crimping"),
                  (_CUT_OUT,)),
            Fault("over-crimped", "Barrel cracked or flattened", ("wrong die", "pressed twice"), (_CUT_OUT,)),
            Fault("strand-outside", "A strand lies outside the barrel", ("conductor not rounded", "strip too long"), (_CUT_OUT,)),
            Fault("under-pressed", "A press is missing or shallow", ("tool let go too early",),
                  (Mend("Press once more in the same place with the right die", "again"), _CUT_OUT)),
            Fault("wrong-core", "Two cores are swapped", ("names not read at both ends",), (_CUT_OUT,)),
            Fault("not-parked", "A part that belongs on the cable was forgotten", ("joined before it was threaded",), (_CUT_OUT,)),
        )  # fmt: skip

    def tools(self) -> tuple[str, ...]:
        """The press."""
        return ("crimp tool, in calibration",)

    def settings(self) -> tuple[Setting, ...]:
        """Its die."""
        return (
            (
                Setting(
                    "crimp tool",
                    f"die {self.connector.die}, {self.connector.presses} a side",
                    self.connector.name or self.connector.id,
                ),
            )
            if self.connector.die
            else ()
        )
