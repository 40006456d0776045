"""What joins one core to its partner: crimped, bolted or soldered."""

from abc import abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, ClassVar, Literal

from tinknot.core.acts import Join, Place, Thing, Tug
from tinknot.core.drawing.model import Body, Circle, conductor_kind
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import COUNTED, taken_off
from tinknot.core.figures import MOST, mm, said_mm
from tinknot.core.joint.profile import Profile, Station
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    NO_READING,
    Fault,
    Gate,
    Heat,
    Layer,
    Material,
    Mend,
    Minutes,
    Reading,
    Setting,
    Step,
    ToolKind,
)
from tinknot.core.parts.connector import Metal, StockConnector
from tinknot.core.rulebook import RuleBook

_CUT_OUT = Mend("Cut the joint out and start again: all cores lose the same length", "remake")
_SWAPPED = Fault("wrong-core", "Two cores are swapped", ("names not read at both ends",), (_CUT_OUT,))
JOINED = {"Crimp": "Crimped", "Bolt": "Bolted", "Solder": "Soldered"}  # what is confirmed, by what was done
_OUTSIDE = Fault(
    "strand-outside",
    "A strand lies outside the barrel",
    ("conductor not rounded", "strip too long"),
    (_CUT_OUT,),
)


@dataclass(frozen=True)
class How:
    """What is special about a kind of connector: what is done, how it looks when it is right and when not,
    its tools and figures."""

    text: str
    look: str
    fails: str
    tools: tuple[ToolKind, ...] = ()
    reading: Reading = NO_READING


@dataclass(frozen=True)
class Connector(Layer):
    """A connector over both conductors of `core`, centred at `centre_mm` on the joint's axis. `metals`: of
    the conductors on A and on B; `partner`: the core's name on B where it differs."""

    core: str
    connector: StockConnector
    lot: str
    centre_mm: float
    rules: RuleBook
    metals: tuple[Metal, Metal] = ("copper", "copper")
    partner: str = ""
    cool_min: float = 0.0  # after it was soldered, before anything touches it
    alone: bool = False  # the only core there is
    area_mm2: float = 0.0  # of the thinner conductor, which gives way first

    verb: ClassVar[str]
    joined: ClassVar[Literal["crimped", "bolted", "soldered"]]
    uses: ClassVar[tuple[str, ...]] = ()
    heated: ClassVar[bool] = False

    @property
    def aluminium(self) -> bool:
        """Whether a conductor of aluminium is joined."""
        return "aluminium" in self.metals

    @property
    def half_mm(self) -> float:
        """Half its length once made: a crimped barrel grows by `growth_mm` a side."""
        return self.connector.length_mm / 2 + self.connector.growth_mm

    @property
    def strip_mm(self) -> float:
        """Bare conductor it asks for: insertion + growth + what may show."""
        return (
            self.connector.insertion_mm + self.connector.growth_mm + self.rules.number("cut.strip_extra_mm")
        )

    def apply(self, under: Profile) -> Profile:
        """The track with the connector in place of the bare conductors."""
        a, b = self.centre_mm - self.half_mm, self.centre_mm + self.half_mm
        od = self.connector.od_mm
        inside = (Station(a, od, od), Station(b, od, od))
        return Profile(
            (*under.between(under.start_mm, a).stations, *inside, *under.between(b, under.end_mm).stations)
        )

    @property
    def seat_mm(self) -> tuple[float, float]:
        """From edge to edge of it, mm on the joint's axis."""
        return self.centre_mm - self.half_mm, self.centre_mm + self.half_mm

    def lies(self) -> Lies | None:
        """On its core."""
        return Lies(self.seat_mm, self.core)

    @property
    def bare_mm(self) -> float:
        """How far from its middle the conductor is bare."""
        return self.half_mm + self.rules.number("cut.strip_extra_mm")

    def marks(self) -> int:
        """Presses or bolts on one side."""
        return 0

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """The connector, both conductors in it, its presses or bolts; `stage.under` has the bare
        conductors."""
        c, od, number = self.centre_mm, self.connector.od_mm, 2  # after the insulation on both sides

        def piece(kind: str, x1: float, x2: float, od: float, end: str = "") -> Body:
            nonlocal number
            number += 1
            return Body(
                id=f"{kind}-{self.core}-{number}",
                kind=kind,
                core=self.core,
                end=end,
                layer=self.id,
                depth_mm=stage.depth_mm,
                **stage.band(x1, x2, od),
            )

        yield piece("connector", c - self.half_mm, c + self.half_mm, od)
        pitch = self.connector.insertion_mm / (self.marks() + 1)
        reach, width = self.half_mm - self.connector.growth_mm, min(5.0, pitch * 0.6)
        for end, side, metal in (("A", -1, self.metals[0]), ("B", 1, self.metals[1])):
            x1, x2 = sorted((c, c + side * self.bare_mm))
            kind = conductor_kind(metal)
            yield piece(kind, x1, x2, stage.under.at((x1 + x2) / 2).greatest_mm, end=end)
            for n in range(1, self.marks() + 1):
                at = c + side * (reach - pitch * n)
                yield piece("press", at - width / 2, at + width / 2, od * 0.8, end=end)

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """The connector."""
        if abs(x - self.centre_mm) < self.half_mm:
            at = stage.axis.at(x) or {}
            yield Circle(kind="connector", layer=self.id, core=self.core, od_mm=self.connector.od_mm, **at)

    def work(self) -> tuple[Step, ...]:
        """Joined only when every parked part is on."""
        to = f"core {self.core}" if self.partner in ("", self.core) else f"core {self.core} to {self.partner}"
        to = "both conductors" if self.alone else to
        how = self.how()
        brush = "Aluminium: brush it bright, compound at once. " if self.aluminium else ""
        return (
            Step(
                f"join.{self.core}",
                f"{self.verb} {to}",
                "join",
                "build",
                needs=(COUNTED, *(taken_off(e, "insulation", self.core) for e in "AB")),
                caution="" if self.alone else "Core to the same core: look at the names once more.",
                batch=batches.join(f"{self.verb} the cores"),
                action=JOINED[self.verb],
                core=self.core,
                part_id=self.connector.id,
                heat=Heat() if self.heated else None,
                focus_mm=(self.centre_mm - 2 * self.half_mm, self.centre_mm + 2 * self.half_mm),
                acts=(
                    Join(
                        at=Place(core=self.core, span_mm=self.seat_mm),
                        thing=Thing(
                            self.id,
                            self.title,
                            od_mm=self.connector.od_mm,
                            metal=True,
                            of=self.connector.said,
                        ),
                        ends=(
                            Place("A", self.core, "conductor", self.seat_mm),
                            Place("B", self.core, "conductor", self.seat_mm),
                        ),
                        how=self.joined,
                        uses=self.uses,
                    ),
                    *((Tug(at=Place(core=self.core)),) if self.joined == "crimped" else ()),
                ),
                text=brush + how.text,
                look=how.look,
                fails=how.fails,
                tools=how.tools,
                reading=how.reading,
            ),
        )

    @abstractmethod
    def how(self) -> How:
        """What is special about this kind."""

    def consumes(self) -> tuple[Material, ...]:
        """One connector; contact compound on aluminium."""
        c = self.connector
        compound = (Material("contact compound", 1, "piece"),) if self.aluminium else ()
        return (Material(c.said, 1, "piece", c.on_hand, part_id=c.id, lot=self.lot), *compound)

    def minutes(self) -> Minutes:
        """Cut, strip, park, join and insulate one core."""
        return Minutes(self.rules.number("time.core_min"))


class Crimp(Connector):
    """A pressed barrel."""

    verb = "Crimp"
    joined = "crimped"

    def marks(self) -> int:
        """Its presses."""
        return self.connector.presses

    def how(self) -> How:
        """Die and presses."""
        c = self.connector
        die = f" with die {c.die}" if c.die else ""
        press = "1 press" if c.presses == 1 else f"{c.presses} presses"
        return How(
            f"Push both conductors in until they stop. Crimp{die}, {press} each side, from the middle"
            f" outward.{self._pull()}",
            f"Conductor seen at the sight hole, at most {mm(1, MOST)} mm bare outside, full press marks."
            " Pulled by hand,"
            " it holds.",
            "Strand outside, barrel cracked or short of a press: cut it out.",
            ("crimp-tool",),
        )

    def _pull(self) -> str:
        """What a good crimp holds: a share of its conductor's section, up to a most."""
        metal = "aluminium" if self.aluminium else "copper"
        force = self.area_mm2 * self.rules.number(f"crimp.pull_{metal}_n_per_mm2")
        force = min(force, self.rules.number("crimp.pull_most_n"))
        return f" A good one on scrap holds {force:.0f} N." if force else ""

    def faults(self) -> tuple[Fault, ...]:
        """Seating, die, core map."""
        return (
            Fault(
                "sight-window-empty",
                "No conductor at the sight hole",
                ("strip too short", "pulled back while crimping"),
                (_CUT_OUT,),
            ),
            Fault("over-crimped", "Barrel cracked or flattened", ("wrong die", "pressed twice"), (_CUT_OUT,)),
            _OUTSIDE,
            Fault(
                "under-pressed",
                "A press is missing or shallow",
                ("tool let go too early",),
                (Mend("Press once more in the same place with the right die", "again"), _CUT_OUT),
            ),
            _SWAPPED,
        )

    def tools(self) -> tuple[str, ...]:
        """The press."""
        return ("crimp tool, in calibration",)

    def settings(self) -> tuple[Setting, ...]:
        """Its die."""
        c = self.connector
        return (Setting("crimp tool", f"die {c.die}, {c.presses} a side", c.said),) if c.die else ()


class ShearBolt(Connector):
    """A bolted connector: shear heads part at their torque, or a torque window is kept."""

    verb = "Bolt"
    joined = "bolted"

    def marks(self) -> int:
        """Its bolts."""
        return self.connector.bolts

    @property
    def window(self) -> tuple[float, float] | None:
        """Its torque window in N·m; None where the heads part by themselves."""
        low, high = self.connector.torque_least_nm, self.connector.torque_most_nm
        return (low or 0.0, high or (low or 0.0) * 1.2) if low or high else None

    def how(self) -> How:
        """Bolts."""
        stop = (
            "until every head parts"
            if self.window is None
            else f"to {self.window[0]:g} to {self.window[1]:g} N·m"
        )
        gates = (
            ()
            if self.window is None
            else (
                Gate(
                    "torque",
                    "last bolt",
                    "N·m",
                    (self.window[0] + self.window[1]) / 2,
                    tolerance=(self.window[1] - self.window[0]) / 2,
                    instrument="torque-driver",
                ),
            )
        )
        return How(
            f"Seat both conductors fully. Tighten the bolts in turn, evenly, {stop}; dress sharp stubs and"
            " tape them.",
            (
                "Heads parted level, conductor at the sight hole, nothing sharp."
                if self.window is None
                else "All bolts at their torque, conductor at the sight hole."
            ),
            "A head that did not part, or parted crooked: cut it out.",
            reading=Reading(gates),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Torque, seating, core map."""
        return (
            Fault(
                "head-not-parted",
                "A shear head did not part",
                ("driver too weak", "bolt tilted"),
                (Mend("Hold the body and tighten again with the right driver", "again"), _CUT_OUT),
            ),
            Fault(
                "wrong-torque",
                "A bolt is over or under its torque",
                ("driver not set",),
                (Mend("Loosen all bolts, seat the conductors, tighten again", "again"), _CUT_OUT),
            ),
            Fault(
                "sight-window-empty",
                "No conductor at the sight hole",
                ("strip too short", "pushed back while tightening"),
                (_CUT_OUT,),
            ),
            _OUTSIDE,
            _SWAPPED,
        )

    def tools(self) -> tuple[str, ...]:
        """Drivers."""
        return (
            "torque driver" if self.window else "hexagon driver for shear bolts",
            "holding wrench",
            "file",
        )


class Soldered(Connector):
    """A lap splice with solder: both conductors lie side by side over its length."""

    verb = "Solder"
    joined = "soldered"
    uses = ("solder", "rosin flux")
    heated = True

    def how(self) -> How:
        """Wetting."""
        return How(
            "Pull first, solder after: nothing may strain it. Lay the conductors side by side over"
            f" {said_mm(self.connector.length_mm)} mm, bound or hooked so that they hold without solder, heat"
            " until the solder flows through.",
            "Wetted all round, the strands' outline seen, no spike, insulation not crept back.",
            "Dull, blobbed or spiked: cut it out.",
            ("heat-gun",),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Wetting, core map."""
        return (
            Fault(
                "not-wetted",
                "Solder stands on the conductor and does not flow",
                ("strands dark", "too cold"),
                (Mend("Clean, flux and heat it once more", "again"), _CUT_OUT),
            ),
            Fault(
                "spike",
                "A spike of solder stands out",
                ("iron pulled away cold",),
                (Mend("Heat it again and dress it", "again"), _CUT_OUT),
            ),
            _SWAPPED,
        )

    def tools(self) -> tuple[str, ...]:
        """Heat."""
        return ("soldering iron or hot air", "heat shield", *self.uses)


KINDS: dict[str, tuple[type[Connector], str]] = {
    "crimp": (Crimp, "crimp"),
    "mechanical": (ShearBolt, "bolted"),
    "soldered": (Soldered, "soldered"),
}


def connector_layer(
    connector: StockConnector, core: str, lot: str, centre_mm: float, rules: RuleBook, **more: Any
) -> Connector:
    """The layer of a connector of any kind that joins in line."""
    kind, word = KINDS[connector.kind]
    return kind(
        f"{word}-{core}",
        f"connector on core {core}",
        core,
        connector,
        lot=lot,
        centre_mm=centre_mm,
        rules=rules,
        **more,
    )


def butt_mm(connector: StockConnector, rules: RuleBook) -> float:
    """Gap between the conductors' ends in mm; below 0 where they lie side by side."""
    return -connector.insertion_mm if connector.kind == "soldered" else rules.number("stagger.butt_gap_mm")
