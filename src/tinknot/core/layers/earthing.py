"""A line earthed for work: proved dead at the place, the lead on the earth first, then on every core, and
taken off the other way round."""

from dataclasses import dataclass

from tinknot.core.acts import Bridge, Look, Place, Read
from tinknot.core.facts import CONNECTED, of
from tinknot.core.layers.contract import Fault, Layer, Material, Mend, Minutes, Step
from tinknot.core.rulebook import RuleBook

EARTH_END, LINE_END = "earthing lead, earth end", "earthing lead, line end"


@dataclass(frozen=True)
class EarthingLead(Layer):
    """The earthing and short-circuiting lead on its connectors; `cores` are earthed. EN 50110-1."""

    cores: tuple[str, ...]
    rules: RuleBook

    def work(self) -> tuple[Step, ...]:
        """Proved, earthed, joined to the cores."""
        return (
            Step(
                "earth.dead",
                "Prove every core dead at this place",
                "test",
                "build",
                needs=(CONNECTED,),
                text=(
                    f"At the connector of each core ({', '.join(self.cores)}) with the voltage tester, proved"
                    " before and after. From here on nothing waits."
                ),
                caution="A reading, or a doubt: stop. Induction from a line beside it reads too.",
                acts=tuple(
                    Read(
                        what="voltage",
                        between=(Place("A", c, "conductor"),),
                        leads=(Place("A", c, "connector"),),
                    )
                    for c in self.cores
                ),
            ),
            Step(
                "earth.clamp",
                "Clamp the lead to earth",
                "bond",
                "build",
                needs=(of("read", "voltage"),),
                text="The earth end first, on bright metal or the driven rod, tight by hand and tool.",
                caution="Never the line end first: the free end would be live.",
                acts=(Bridge(called=EARTH_END, stays=True),),
            ),
            Step(
                "earth.cores",
                "Join the lead to every core",
                "bond",
                "build",
                needs=(of("bridged", EARTH_END),),
                text="One connector after the other, with the insulating stick; short-circuited and earthed.",
                caution="Insulating gloves and face shield; the body is no path.",
                photo=True,
                acts=(
                    Bridge(
                        called=LINE_END,
                        stays=True,
                        ends=tuple(Place("A", c, "connector") for c in self.cores),
                    ),
                ),
            ),
            Step(
                "earth.look",
                "Look at the earthing from where the work is",
                "inspect",
                "build",
                needs=(of("bridged", LINE_END),),
                look="Every core joined, the clamp on metal, the lead seen from the place of work.",
                fails="Any core not joined: stop, prove dead again.",
                acts=tuple(Look(at=Place("A", c, "connector")) for c in self.cores),
            ),
        )

    def minutes(self) -> Minutes:
        """Proved and clamped."""
        return Minutes(self.rules.number("time.tap_min"))

    def consumes(self) -> tuple[Material, ...]:
        """The lead; it is taken off again."""
        return (Material("earthing and short-circuiting lead, for the line's fault current", 1, "piece"),)

    def tools(self) -> tuple[str, ...]:
        """For live working distance."""
        return ("insulating stick", "insulating gloves and face shield", "wire brush")

    def faults(self) -> tuple[Fault, ...]:
        """Something reads, or a clamp slips."""
        off = Mend("Take it off line end first, prove dead, begin again", "again")
        return (
            Fault("reads", "A core that should be dead reads", ("back-feed", "induction"), (off,)),
            Fault("slips", "A clamp turns or slips", ("paint or rust under it",), (off,)),
        )
