"""What joins and lands: grommet, crimps and connectors, terminals."""

from collections.abc import Mapping
from dataclasses import dataclass

from tinknot.core.acts import Join, Look, Note, Place, Read, Thing, ThreadOn, Tug
from tinknot.core.joint.leaflet import SAID_WIRE, LeafletLayer, Wire
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Fault, Gate, Mend, Reading, Step, Threaded
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.trace.boxing import screwed, tightened
from tinknot.core.layers.trace.opening import SAID, AtEnd


@dataclass(frozen=True)
class Grommet(AtEnd):
    """The cable taken through its entry: cut at 45° to enter, then square."""

    leaf: LeafletLayer
    part_id: str
    part_said: str
    entry: str = "side"
    squared: bool = False  # its end is cut square already, and stays so

    def threads(self) -> tuple[Threaded, ...]:
        """On the jacket; it stays there. Over an end that is laid open nothing is threaded far."""
        if self.squared:
            return ()
        return (Threaded(self.id, self.part_id, "sheath", 0.0, end=self.end, order=9, title=self.title),)

    def work(self) -> tuple[Step, ...]:
        """In order of the hands."""
        e = self.end
        drip = " The entry is underneath: open the drip hole." if self.entry == "underside" else ""
        thing = Thing(self.id, self.part_said)
        slips = "" if self.squared else "Cut the end at 45° so that it slips in, push"
        return (
            Step(
                f"park.{self.id}",
                self.leaf.title or f"Take end {e} through the {self.part_said}",
                "fit" if self.squared else "park",
                "build" if self.squared else "park",
                after=self.after,
                end=e,
                part_id=self.part_id,
                batch=None if self.squared else batches.WHOLE,
                text=self.leaf.text or f"{slips or 'Push'} it through, leave the loop outside.{drip}",
                caution=self.leaf.caution
                or f"It cannot be put on later.{'' if self.squared else ' The square cut comes after.'}",
                action="Through" if self.squared else "",
                acts=(Note(at=Place(e)) if self.squared else ThreadOn(at=Place(e), thing=thing),),
            ),
        )


@dataclass(frozen=True)
class BusCrimps(AtEnd):
    """Bus wires, braid or both joined through a splice or tee of `ends`, or to the supply at one end, each by
    a crimp or, `twisted`, by a twist-on connector of its own."""

    leaf: LeafletLayer
    part_said: str
    joins: tuple[Wire, ...]
    ends: tuple[str, ...]
    roots: Mapping[str, tuple[float, float]]  # by end, where the braid comes out from under the jacket, mm
    twisted: bool = False

    def work(self) -> tuple[Step, ...]:
        """One crimp a wire; the braid's, where it is joined by itself, read and looked at before the next
        part covers it."""
        joins = self._joins()
        through = self.joins == ("braid",) and len(self.ends) > 1
        return (*joins, self._braid_read()) if through else joins

    def _joins(self) -> tuple[Step, ...]:
        into = " and ".join(self.ends) if len(self.ends) > 1 else f"{self.ends[0]} and its supply wire"
        how = (
            "Strands side by side, twist it on until it bites, tug" if self.twisted else "Press, tug, cap it"
        )
        caution = (
            "Only where the local rules allow them, of the size of both wires; all strands inside."
            if self.twisted
            else "Right tool and die for the barrel; all strands inside."
        )
        what = "connector" if self.twisted else "crimp"
        return tuple(
            Step(
                f"join.{j}",
                f"{'Join' if self.twisted else 'Crimp'} {SAID_WIRE[j]}",
                "join",
                "build",
                after=self.after,
                core=j,
                batch=batches.CRIMPS,
                action="Joined" if self.twisted else "Crimped",
                focus_mm=self.focus_mm,
                text=(f"{self.leaf.text} Tug it." if self.leaf.text else "")
                or f"{SAID_WIRE[j].capitalize()} of {into} into one {what} ({self.part_said}). {how}.",
                caution=self.leaf.caution or caution,
                tools=() if self.twisted else ("crimp-tool",),
                acts=(
                    Join(
                        at=Place(core=j),
                        thing=Thing(f"{self.id}-{j}", SAID_WIRE[j], metal=True),
                        ends=tuple(
                            self._braid(e) if j == "braid" else Place(e, j, "conductor") for e in self.ends
                        ),
                        how="clamped" if self.twisted else "crimped",
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
        return () if self.twisted else ("crimp tool and die",)


@dataclass(frozen=True)
class Terminals(AtEnd):
    """Bus wires and pigtail landed: screwed to a printed torque or as tight as a hand makes it, or held by
    springs; `landed`: what else is landed by a row of its own, the supply's wires."""

    leaf: LeafletLayer
    supply: bool = False

    def work(self) -> tuple[Step, ...]:
        """Landed, tightened, tugged."""
        x, e = self.leaf, self.end
        what = ("line", "neutral", "earth") if self.supply else ("bus-1", "bus-2", "braid")
        gates = tuple(g for w in what for g in screwed(x, f"torque-{w}", f"terminal {SAID.get(w, w)}"))
        which = "Supply wires" if self.supply else "Bus wires"
        goes = (
            "each beside its bus wire, earth to earth"
            if self.supply
            else "to line and neutral, pigtail to earth"
        )
        held = "Push each in to its stop." if x.spring else tightened(x) or "Tighten each firmly."
        join = Join(
            at=Place(e),
            thing=Thing(self.id, "terminals", metal=True),
            ends=(*(Place(e, w, "conductor") for w in ("bus-1", "bus-2")), Place(e, skin="screen")),
            how="clamped" if x.spring else "bolted",
        )
        return (
            Step(
                f"supply.{self.id}" if self.supply else f"land.{e}",
                x.title
                or (f"Land the supply wires at {e}" if self.supply else f"Land end {e} on the terminals"),
                "join",
                "build",
                after=self.after,
                end=e,
                focus_mm=self.focus_mm,
                text=x.text or f"{which} {goes}. {held.rstrip('.')}, then tug each.",
                caution=x.caution
                or (
                    "The supply stays locked off until the release."
                    if self.supply
                    else "No stray strand; the braid stays clear of the live terminals."
                ),
                look="Every wire holds, no bare copper stands out of a terminal.",
                fails="One comes out: strip it anew and land it again.",
                acts=(Note(at=Place(e)),) if self.supply else (join, *(Tug(at=p) for p in join.ends)),
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
        """Torque, where one is printed."""
        return ("torque driver",) if self.leaf.torque_most_nm is not None else ("screwdriver",)
