"""Taps without stripping: insulation-piercing connectors, and the cap on the tap's open end."""

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

from tinknot.core.acts import Join, Look, Place, Remove, Shrink, Thing
from tinknot.core.drawing.model import Body, Circle, conductor_kind
from tinknot.core.drawing.outline import height
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import MEASURED, Fact, of, taken_off
from tinknot.core.figures import mm
from tinknot.core.joint.cable import CableEnd, Core
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Cut, Fault, Layer, Material, Mend, Minutes, Reading, Step
from tinknot.core.layers.preparation import distance_gate
from tinknot.core.layers.proofs import read
from tinknot.core.layers.sleeve import Sleeve
from tinknot.core.layers.surfaces import degreased
from tinknot.core.parts.connector import StockConnector
from tinknot.core.rulebook import RuleBook

_OFF = Mend("Take it off, move along the main, a new connector: it is never used twice", "new-part")


@dataclass(frozen=True)
class TapEnd(Layer):
    """The tap made ready: sheath off, where there is one, cores cut square. The main is not stripped."""

    end: CableEnd
    rules: RuleBook

    def cuts(self) -> tuple[Cut, ...]:
        """Sheath from the cable's end; each core square. A covered conductor loses nothing: its insulation is
        all it has (law 14)."""
        if self.covered:
            return ()
        bare, tol = self.rules.number("tap.sheath_mm"), self.rules.number("cut.tolerance_mm")
        return (
            Cut(
                "B",
                "sheath",
                "cable-end",
                bare,
                tolerance_mm=tol,
                caution="Score round, do not cut through; the cores lie right under it.",
                removed_mm=bare,
                kind="sheath",
            ),
            *(
                Cut(
                    "B",
                    f"core {c.name}",
                    "sheath-cut",
                    bare,
                    tolerance_mm=tol,
                    caution="Cut square; do not strip it.",
                    removed_mm=0.0,
                    core=c.name,
                    kind="core",
                )
                for c in self.end.cores
            ),
        )

    @property
    def covered(self) -> bool:
        """Whether nothing but its own insulation lies round each conductor."""
        return self.end.unsheathed or self.end.is_wire

    def _square(self) -> tuple[Step, ...]:
        """Covered conductors, each cut square and nothing else."""
        return tuple(
            Step(
                f"cut.core.B.{c.name}",
                f"Cut conductor {c.name} of the tap square",
                "cut",
                "cut",
                needs=(MEASURED,),
                text="Square and clean at its end: it goes in unstripped. Its insulation stays on.",
                caution="No knife on it: what covers it is the only insulation it has.",
                look="Square, no strand drawn out, its insulation whole.",
                batch=batches.cores("B", "of the tap"),
                end="B",
                core=c.name,
                acts=(Remove(at=Place("B", c.name), what="core", mm=0.0, datum="cable-end"),),
            )
            for c in self.end.cores
        )

    def work(self) -> tuple[Step, ...]:
        """Sheath, then the cores."""
        if self.covered:
            return self._square()
        sheath, *cores = self.cuts()
        return (
            Step(
                "cut.sheath.B",
                "Take the sheath off the tap",
                "cut",
                "cut",
                needs=(MEASURED,),
                text="Mark, score round and flex to part. Lay the cores out.",
                caution=sheath.caution,
                end="B",
                look="No knife mark on any core.",
                reading=Reading((distance_gate(sheath, True, "from the cable end"),)),
                acts=(Remove(at=Place("B"), what="sheath", mm=sheath.distance_mm, datum="cable-end"),),
            ),
            *(
                Step(
                    f"cut.core.B.{c.core}",
                    f"Cut core {c.core} of the tap square",
                    "cut",
                    "cut",
                    needs=(taken_off("B", "sheath"),),
                    text="Square and clean: it goes in unstripped.",
                    caution=c.caution,
                    batch=batches.cores("B", "of the tap"),
                    end="B",
                    core=c.core,
                    reading=Reading((distance_gate(c, True),)),
                    acts=(Remove(at=Place("B", c.core), what="core", mm=c.distance_mm, datum="sheath-cut"),),
                )
                for c in cores
            ),
        )

    def faults(self) -> tuple[Fault, ...]:
        """Knife."""
        if self.covered:
            return ()
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
        return ("core cutter",) if self.covered else ("tape measure", "sheath knife", "core cutter")


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
    first: str = ""  # the core that goes on before all others: neutral, or PEN

    @property
    def drop_mm(self) -> float:
        """How far the tap lies under the main, centre to centre."""
        return (self.main.insulation.greatest_mm + self.tap.insulation.greatest_mm) / 2 + 2

    @property
    def span_mm(self) -> tuple[float, float]:
        """From edge to edge of the connector, along the main."""
        half = self.connector.length_mm / 2
        return self.centre_mm - half, self.centre_mm + half

    def lies(self) -> Lies | None:
        """On its core of the main."""
        return Lies(self.span_mm, self.core)

    def apply(self, under: Profile) -> Profile:
        """The connector round the main's core."""
        return under.covered(*self.span_mm, lambda od: max(od, self.connector.od_mm))

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """The main's core all along the stage, the tap's from a little before the connector, and the
        connector over both."""
        (low, high), (start, end) = stage.span_mm, self.span_mm
        y = height(stage.axis.path, 0.0)

        def piece(kind: str, x1: float, x2: float, under: float, od: float, near: float, **more: str) -> Body:
            middle = y - under
            return Body(
                id=f"{kind}-{self.core}-{x1:.0f}",
                kind=kind,
                core=self.core,
                depth_mm=stage.depth_mm + near,
                top=[(x1, middle + od / 2), (x2, middle + od / 2)],
                bottom=[(x1, middle - od / 2), (x2, middle - od / 2)],
                **more,
            )

        main, tap = self.main, self.tap
        yield piece(
            "insulation",
            low,
            high,
            0,
            od=main.insulation.greatest_mm,
            near=0,
            end="A",
            colour=main.colour or "",
        )
        yield piece(
            "insulation",
            start - 5,
            high,
            self.drop_mm,
            od=tap.insulation.greatest_mm,
            near=0.1,
            end="B",
            colour=tap.colour or "",
        )
        yield piece("connector", start, end, self.drop_mm / 2, od=self.connector.od_mm, near=1, layer=self.id)

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """The connector where it sits, the main's core everywhere, the tap's from the connector on."""
        (start, end), y = self.span_mm, height(stage.axis.path, 0.0)
        if start <= x <= end:
            yield Circle(
                kind="connector",
                layer=self.id,
                core=self.core,
                y_mm=y - self.drop_mm / 2,
                od_mm=self.connector.od_mm,
            )
        for core, under, from_mm in ((self.main, 0.0, stage.span_mm[0]), (self.tap, self.drop_mm, start)):
            if x >= from_mm:
                at = {"core": self.core, "y_mm": y - under}
                colour = core.colour or ""
                yield Circle(kind="insulation", colour=colour, od_mm=core.insulation.greatest_mm, **at)
                yield Circle(kind=conductor_kind(core.metal), od_mm=core.conductor.greatest_mm, **at)

    def _needs(self) -> tuple[Fact, ...]:
        """The tap's core square and its cable read alone, and the neutral on before the others."""
        if self.earthing:
            return (MEASURED,)
        after = (Fact("joined", Place(core=self.first)),) if self.first not in ("", self.core) else ()
        return (taken_off("B", "core", self.core), read("cores apart", "before"), *after)

    def work(self) -> tuple[Step, ...]:
        """Placed, tightened until the head parts, looked at."""
        c = self.connector
        torque = (
            f"to {c.torque_least_nm:g} to {c.torque_most_nm:g} N·m"
            if c.torque_least_nm and c.torque_most_nm
            else "until the head parts"
        )
        what = "earthing connector" if self.earthing else "tap connector"
        near = f"{mm(self.rules.number('tap.between_mm')):g} mm or more from the next one."
        first = " The neutral or PEN goes on first, and comes off last." if self.core == self.first else ""
        return (
            Step(
                f"join.{self.core}",
                f"Fit the {what} on core {self.core}",
                "join",
                "build",
                needs=self._needs(),
                text=(
                    f"On the insulated core, no stripping, {near} Tighten evenly {torque}; its socket points"
                    " down."
                    if self.earthing
                    else f"Main and tap fully into their grooves, no stripping, {near} Tighten evenly"
                    f" {torque}.{first}"
                ),
                caution="Never used twice. Hold the connector, not the main.",
                look=(
                    "Head parted, core seated, socket free."
                    if self.earthing
                    else "Head parted, both cores seated, jaws level."
                ),
                fails="Crooked, slipped or not parted: off with it, a new one beside it.",
                batch=batches.join("Fit the connectors"),
                action="Fitted",
                part_id=c.id,
                acts=(
                    Join(
                        at=Place(core=self.core, span_mm=self.span_mm),
                        thing=Thing(self.id, self.title, od_mm=c.od_mm, metal=True, of=c.said),
                        ends=(
                            Place("A", self.core, "insulation", self.span_mm),
                            *(() if self.earthing else (Place("B", self.core, "insulation"),)),
                        ),
                        how="pierced",
                    ),
                ),
                core=self.core,
                focus_mm=(self.centre_mm - c.length_mm, self.centre_mm + c.length_mm),
            ),
        )

    def consumes(self) -> tuple[Material, ...]:
        """One connector."""
        c = self.connector
        return (Material(c.said, 1, "piece", c.on_hand, part_id=c.id, lot=self.lot),)

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
        """Drivers, and what keeps the hand from a main that is live after all."""
        return ("insulated driver", "core separator", "insulating gloves and mat")


@dataclass(frozen=True)
class EndCap(Sleeve):
    """A sleeve with one closed end on the tap's open end; its part is chosen like any sleeve."""

    core: str = ""
    heat_caution: str = field(default="Keep the gun moving. Shield the main and its covering.", kw_only=True)

    def apply(self, under: Profile) -> Profile:
        """The cap is a thing of its own: nothing comes over it."""
        return under

    def lies(self) -> Lies | None:
        """On the tap's open end."""
        return Lies(self.span_mm, self.core)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Over the end that stands out of the connector."""
        y, edge = height(stage.axis.path, 0.0), self.span_mm[1]
        r = self.tube.od_mm(stage.under.greatest()) / 2
        x1, x2 = edge - 8, edge - 0.5
        yield Body(
            id=f"end-cap-{self.core}-{x1:.0f}",
            kind="end-cap",
            core=self.core,
            layer=self.id,
            depth_mm=stage.depth_mm,
            top=[(x1, y + r), (x2, y + r)],
            bottom=[(x1, y - r), (x2, y - r)],
        )

    def work(self) -> tuple[Step, ...]:
        """Wiped, shrunk from its closed end, looked at."""
        closing = self.closing()
        clean = Fact("clean", Place("B", self.core, "insulation", self.span_mm))
        own = "Heat the closed end first, then toward the cable." if self.hot else closing.text
        closing = replace(closing, text=f"Push it on to its stop. {own}")
        return (
            Step(
                f"surface.{self.id}",
                f"Wipe the end of core {self.core}",
                "surface",
                "build",
                needs=(Fact("joined", Place(core=self.core)),),
                text="Degrease the tap's open end. Let it flash off.",
                batch=batches.SURFACE_CORES,
                acts=(degreased(self.rules, Place("B", self.core, "insulation", self.span_mm)),),
                core=self.core,
                focus_mm=self.span_mm,
            ),
            Step(
                f"seal.{self.id}",
                f"Cap the open end of core {self.core}",
                "seal",
                "build",
                needs=(clean,),
                batch=batches.seal_cores("Cap the open ends"),
                action="Capped",
                part_id=self.part.id if self.part else "",
                acts=(
                    Shrink(
                        at=Place("B", self.core, "insulation", self.span_mm),
                        thing=self.thing,
                        hot=self.hot,
                        seals_on=(Place("B", self.core, "insulation", self.span_mm),)
                        if self.thing.seals
                        else (),
                    ),
                ),
                timers=self.flash_off(clean),
                core=self.core,
                focus_mm=self.span_mm,
                text=closing.text,
                caution=closing.caution,
                heat=closing.heat,
                tools=closing.tools,
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the cap of core {self.core}",
                "inspect",
                "build",
                needs=(of("closed", self.id),),
                look="Tight all round, down to its stop.",
                fails="Loose or split: a new cap.",
                batch=batches.INSPECT_CORES if self.hot else batches.LOOK_CORES,
                acts=(Look(at=Place("B", self.core, span_mm=self.span_mm), thing=self.thing),),
                core=self.core,
                focus_mm=self.span_mm,
            ),
        )
