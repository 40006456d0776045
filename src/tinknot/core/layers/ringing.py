"""Cores told apart where their marks are not to be trusted: by one person in one walk there and back, or by
two with a talk set."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from tinknot.core.acts import Bridge, Place, Read, TakeOff
from tinknot.core.facts import Fact, of, taken_off
from tinknot.core.formulas.ringing import ties
from tinknot.core.layers.contract import Fault, Gate, Layer, Mend, Minutes, Reading, Step
from tinknot.core.rulebook import RuleBook

BY_SIZE_NOT = (5, 9)  # numbers of wires that no tying tells apart by the sizes of their groups alone
CORE_MIN = 1.0  # of one core rung out and tagged, min
HERE, FAR = "ties here", "ties at the far end"
NAMED = Fact("named", Place("B"))


@dataclass(frozen=True)
class RingOut(Layer):
    """`cores` cores of side B, of the units named. Each wire gets two numbers: how many hang together in the
    group it is tied in here, and in the one it is tied in at the far end. Where all pairs of numbers differ,
    equal pairs are one wire. `screened`: its screen may be tied along as one wire more."""

    rules: RuleBook
    cores: int
    units: tuple[str, ...]
    by: Literal["walk", "two"]
    screened: bool

    @property
    def wires(self) -> int:
        """How many are tied: a known conductor too, where the cores alone would not do."""
        few = self.cores < 3
        return 3 if few else self.cores + (self.cores in BY_SIZE_NOT)

    @property
    def helped(self) -> str:
        """What is tied along besides the cores, in words; empty where nothing is."""
        more = self.wires - self.cores
        what = "the screen" if self.screened else "one conductor that is known"
        return what + (" and earth" if more > 1 else "") if more else ""

    def pairs(self) -> list[tuple[int, int]]:
        """Each wire's two numbers, in the order of the ties made here."""
        tied = ties(self.wires)
        here = [len(group) for group in tied.first]
        return [(here[g], len(group)) for group in tied.second for g in group]

    def work(self) -> tuple[Step, ...]:
        """Tie here, read and tie there, read here; or core by core."""
        bare = tuple(taken_off("B", "insulation", u) for u in self.units)
        if self.by == "two":
            return (
                Step(
                    "identify.two",
                    "Ring the cores of B out, two people",
                    "identify",
                    "build",
                    needs=bare,
                    text="Core by core: one rings at the far end and names it, the other tags it here.",
                    look="Every core tagged, each name once.",
                    fails="A name twice, or none: ring these again.",
                    action="All tagged",
                    makes=(NAMED,),
                    acts=(Read(what="continuity"),),
                    reading=Reading(tuple(self._gates("core {} is terminal", "no."))),
                ),
            )
        tied = ties(self.wires)
        sizes = [len(g) for g in tied.first]
        also = f" {self.helped.capitalize()} is number {self.wires}." if self.helped else ""
        here = "; ".join(" + ".join(map(str, g)) if len(g) > 1 else f"{g[0]} alone" for g in tied.first)
        there = "; ".join(
            " + ".join(f"one of {sizes[g]}" for g in group)
            if len(group) > 1
            else f"one of {sizes[group[0]]} alone"
            for group in tied.second
        )
        return (
            Step(
                "identify.here",
                "Number the cores of B and tie them here",
                "identify",
                "build",
                needs=bare,
                text=f"Tags 1 to {self.wires}. Tie: {here}.{also}",
                look="Every tie bare on bare, nothing else touches.",
                acts=(Bridge(called=HERE),),
                action="Tied",
            ),
            Step(
                "identify.far",
                "At B's far end: ring out, then tie anew",
                "identify",
                "build",
                needs=(of("bridged", HERE),),
                text=(
                    "Write at each terminal how many hang together with it, itself counted. Then tie by these"
                    f" numbers: {there}. Write the size of that group behind it."
                ),
                look="Every terminal has two numbers.",
                acts=(Bridge(called=FAR),),
                fails="A group of a size that was not tied: a tie is open, begin again.",
                action="Tied",
            ),
            Step(
                "identify.back",
                "Back here: ring out what hangs together now",
                "identify",
                "build",
                needs=(of("bridged", FAR),),
                text=(
                    "Ties off here, and ring: the size of the group each core hangs in now is its second"
                    " number. The same two numbers here and there are one wire; ties off there too."
                ),
                look="Every pair of numbers once here and once there.",
                acts=(TakeOff(called=HERE), TakeOff(called=FAR)),
                fails="A pair twice: ring these cores again.",
                action="All told apart",
                makes=(NAMED,),
                reading=Reading(
                    tuple(self._gates("core {} hangs in a group of", "wires", numbered=True)),
                    pairs=tuple(self.pairs()),
                ),
            ),
        )

    def _gates(self, label: str, unit: str, numbered: bool = False) -> Iterator[Gate]:
        here = {core: len(group) for group in ties(self.wires).first for core in group} if numbered else {}
        for n in range(1, self.cores + 1):
            group = str(here[n]) if numbered else ""
            yield Gate(
                f"map-{n}", label.format(n), unit, least=1.0, required=False, name=f"core {n}", group=group
            )

    def minutes(self) -> Minutes:
        """Two minutes for each."""
        return Minutes(2 * CORE_MIN * self.cores)

    def faults(self) -> tuple[Fault, ...]:
        """What does not add up."""
        again = Mend("Ring these again from the first tie", "again")
        return (
            Fault(
                "contradiction",
                "Two cores have the same two numbers, or one has none",
                ("a tie that is open", "a core that is broken or touches another"),
                (again,),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """To ring and to tag."""
        talk = ("talk set",) if self.by == "two" else ("clips to tie cores",)
        return ("continuity tester", "tags", *talk)
