"""Gates and proofs of a screened cable."""

from dataclasses import dataclass, replace

from tinknot.core.layers.contract import (
    Gate,
    Step,
)
from tinknot.core.layers.procedure import Procedure

Span = tuple[float, float]


@dataclass(frozen=True)
class ScreenedProcedure(Procedure):
    """As every joint's, with the screen proved dead before it is cut, and read from sound screen to sound
    screen after. `screen_uohm`: the most it may read, µΩ; 0 where no braid is made good."""

    screen_uohm: float = 0.0
    elsewhere: bool = False

    def steps(self) -> tuple[Step, ...]:
        """Those of every joint, with its own between them."""
        first = ("gas-test",) if self.hazardous else ("isolated",)
        bridge = " Bridge it across the place before it is cut." if self.elsewhere else ""
        dead = Step(
            "screen-dead",
            "Prove the screen dead",
            "gate",
            "card",
            first,
            layer=self.id,
            text=f"Screen to local earth, AC and DC.{bridge}",
            caution="A screen earthed elsewhere carries that place's voltage when it is cut open.",
            action="It is dead",
        )
        found = [replace(s, needs=("screen-dead",)) if s.hold == "measured" else s for s in super().steps()]
        at = next(n for n, s in enumerate(found) if s.hold == "measured")
        return (*found[:at], dead, *found[at:])

    def _sheath(self) -> tuple[Step, ...]:
        """The screen through the joint."""
        if not self.screen_uohm:
            return super()._sheath()
        return (
            *super()._sheath(),
            Step(
                "test.after.screen",
                "Screen through the joint",
                "test",
                "prove",
                self.outer_done,
                layer=self.id,
                taken="after",
                text="Four wires, from sound screen to sound screen at the cable's ends or test points.",
                gates=(
                    Gate(
                        "screen",
                        "screen to screen",
                        "µΩ",
                        most=round(self.screen_uohm),
                        required=False,
                        instrument="low-ohm-meter",
                    ),
                ),
                tools=("low-ohm-meter",),
            ),
        )
