"""What joins and lands: grommet, crimps, terminals, the box."""

from collections.abc import Mapping
from dataclasses import dataclass

from tinknot.core.acts import Close, Join, Look, Place, Read, Thing, ThreadOn, Tug
from tinknot.core.joint.leaflet import SAID_WIRE, LeafletLayer, Wire
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Fault, Gate, Mend, Reading, Step, Threaded
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.trace.opening import AtEnd


@dataclass(frozen=True)
class Grommet(AtEnd):
    """The cable taken through its entry: cut at 45° to enter, then square."""

    leaf: LeafletLayer
    part_id: str
    part_said: str
    entry: str = "side"

    def threads(self) -> tuple[Threaded, ...]:
        """On the jacket; it stays there."""
        return (Threaded(self.id, self.part_id, "sheath", 0.0, end=self.end, order=9, title=self.title),)

    def work(self) -> tuple[Step, ...]:
        """In order of the hands."""
        e = self.end
        drip = " The entry is underneath: open the drip hole." if self.entry == "underside" else ""
        return (
            Step(
                f"park.{self.id}",
                self.leaf.title or f"Take end {e} through the {self.part_said}",
                "park",
                "park",
                after=self.after,
                end=e,
                part_id=self.part_id,
                batch=batches.WHOLE,
                text=self.leaf.text
                or f"Cut the end at 45° so that it slips in, push it through, leave the loop outside.{drip}",
                caution=self.leaf.caution or "It cannot be put on later. The square cut comes after.",
                acts=(ThreadOn(at=Place(e), thing=Thing(self.id, self.part_said)),),
            ),
        )


@dataclass(frozen=True)
class BusCrimps(AtEnd):
    """Bus wires, braid or both joined through a splice or tee of `ends`, each under its own cap."""

    leaf: LeafletLayer
    part_said: str
    joins: tuple[Wire, ...]
    ends: tuple[str, ...]
    roots: Mapping[str, tuple[float, float]]  # by end, where the braid comes out from under the jacket, mm

    def work(self) -> tuple[Step, ...]:
        """One crimp a wire; the braid's, where it is joined by itself, read and looked at before the next
        part covers it."""
        joins = self._joins()
        return (*joins, self._braid_read()) if self.joins == ("braid",) else joins

    def _joins(self) -> tuple[Step, ...]:
        return tuple(
            Step(
                f"join.{j}",
                f"Crimp {SAID_WIRE[j]}",
                "join",
                "build",
                after=self.after,
                core=j,
                batch=batches.CRIMPS,
                action="Crimped",
                focus_mm=self.focus_mm,
                text=(f"{self.leaf.text} Tug it." if self.leaf.text else "")
                or f"{SAID_WIRE[j].capitalize()} of {' and '.join(self.ends)} into one crimp of"
                f" {self.part_said}. "
                "Press, tug, cap it.",
                caution=self.leaf.caution or "Right tool and die for the barrel; all strands inside.",
                tools=("crimp-tool",),
                acts=(
                    Join(
                        at=Place(core=j),
                        thing=Thing(f"{self.id}-{j}", SAID_WIRE[j], metal=True),
                        ends=tuple(
                            self._braid(e) if j == "braid" else Place(e, j, "conductor") for e in self.ends
                        ),
                        how="crimped",
                    ),
                    Tug(at=self._braid(self.ends[0]) if j == "braid" else Place(core=j)),
                ),
            )
            for j in self.joins
        )

    def _braid(self, end: str) -> Place:
        return Place(end, skin="screen", span_mm=self.roots[end])

    def _braid_read(self) -> Step:
        limit = self.rules.number("continuity.limit_ohm")
        return Step(
            "test.braid.through",
            "Read the braid across its join",
            "test",
            "build",
            after=tuple(s.id for s in self._joins()),
            text="From braid to braid, side to side. Null the leads first.",
            look="Smooth and flat over the inner seal: no strand stands out to pierce what goes over it.",
            fails="Above the limit or a strand out: a new crimp, trim and tape it down.",
            reading=Reading((Gate("core-braid", "braid", "Ω", most=limit, instrument="low-ohm-meter"),)),
            tools=("low-ohm-meter",),
            acts=(
                Read(what="continuity", between=tuple(map(self._braid, self.ends))),
                *(Look(at=self._braid(e)) for e in self.ends),
            ),
            focus_mm=self.focus_mm,
        )

    def faults(self) -> tuple[Fault, ...]:
        """Crimps."""
        return (
            Fault(
                "crimp-loose",
                "A wire comes out when tugged",
                ("wrong die", "not fully in"),
                (Mend("Cut the crimp off, take a new one", "again"), END_AGAIN),
            ),
            Fault(
                "strand-outside",
                "A strand stands outside the crimp",
                ("not twisted",),
                (Mend("Cut the crimp off, take a new one", "again"),),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """Press."""
        return ("crimp tool and die",)


@dataclass(frozen=True)
class Terminals(AtEnd):
    """Bus wires and pigtail landed; the torque is read."""

    leaf: LeafletLayer

    def work(self) -> tuple[Step, ...]:
        """Landed, tightened, tugged."""
        least, most = self.leaf.torque_least_nm or 0.0, self.leaf.torque_most_nm or 0.0
        middle = (least + most) / 2
        gates = tuple(
            Gate(
                f"torque-{w}",
                f"terminal {s}",
                "N·m",
                middle,
                tolerance=max((most - least) / 2, 1e-6),
                instrument="torque-driver",
            )
            for w, s in (("bus-1", "bus wire 1"), ("bus-2", "bus wire 2"), ("braid", "braid"))
        )
        return (
            Step(
                f"land.{self.end}",
                self.leaf.title or f"Land end {self.end} on the terminals",
                "join",
                "build",
                after=self.after,
                end=self.end,
                focus_mm=self.focus_mm,
                text=self.leaf.text
                or "Bus wires to line and neutral, pigtail to earth. "
                f"Tighten to {least:g} to {most:g} N·m, then tug each.",
                caution=self.leaf.caution or "No stray strand; the braid stays clear of the live terminals.",
                acts=(
                    Join(
                        at=Place(self.end),
                        thing=Thing(self.id, "terminals", metal=True),
                        ends=(
                            *(Place(self.end, w, "conductor") for w in ("bus-1", "bus-2")),
                            Place(self.end, skin="screen"),
                        ),
                        how="bolted",
                    ),
                ),
                reading=Reading(gates),
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Screws."""
        return (
            Fault(
                "torque",
                "The torque is not reached, or the thread is gone",
                ("wrong driver", "strand under the head"),
                (Mend("Take it out, new screw or terminal, again", "again"),),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """Torque."""
        return ("torque driver",)


@dataclass(frozen=True)
class Box(AtEnd):
    """The box closed: turned so that it drains, gasket seen, lid tightened."""

    leaf: LeafletLayer
    entry: str = "side"

    def work(self) -> tuple[Step, ...]:
        """Turned, closed."""
        least, most = self.leaf.torque_least_nm or 0.0, self.leaf.torque_most_nm or 0.0
        screws = Gate(
            "torque",
            "lid screws",
            "N·m",
            (least + most) / 2,
            tolerance=max((most - least) / 2, 1e-6),
            instrument="torque-driver",
        )
        drain = {
            "underside": "Entry underneath: drip hole open.",
            "top": "Entry on top: turn the box or seal the entry twice; water must not stand on it.",
        }.get(self.entry, "Entry at the side: loop hangs lower than the entry.")
        return (
            Step(
                f"turn.{self.id}",
                f"Turn the box at {self.end} so that it drains",
                "inspect",
                "build",
                after=self.after,
                end=self.end,
                look=f"{drain} Water runs off, none runs in along the cable.",
                fails="Turn it again before the lid goes on.",
                acts=(Look(at=Place(self.end)),),
            ),
            Step(
                f"lid.{self.id}",
                self.leaf.title or f"Close the lid at {self.end}",
                "fit",
                "build",
                after=(f"turn.{self.id}",),
                end=self.end,
                text=self.leaf.text
                or "Gasket clean and in its groove, cable not pinched, "
                + ("screws crosswise." if self.screwed else "latched all round."),
                caution=self.leaf.caution,
                look="Gasket even all round.",
                acts=(Close(at=Place(self.end), thing=Thing(self.id, "lid")),),
                reading=Reading((screws,) if self.screwed else ()),
            ),
        )

    @property
    def screwed(self) -> bool:
        """Whether screws close it; else a hand, a latch or a quarter turn."""
        return self.leaf.torque_most_nm is not None

    def tools(self) -> tuple[str, ...]:
        """Torque, where it is screwed."""
        return ("torque driver",) if self.screwed else ()
