"""An earth strap joined to a protective conductor: its own connector under the core's insulation, and the
strap laid along the cores to where it is clamped."""

from collections.abc import Iterator
from dataclasses import dataclass

from tinknot.core.acts import Join, LayOn, Look, Place, Read, Remove, Thing, Tug
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import Fact, of, over_all
from tinknot.core.figures import said_mm
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.contract import Fault, Gate, Layer, Material, Mend, Minutes, Reading, Step
from tinknot.core.layers.mends import CUT_OUT
from tinknot.core.parts.strap import StockStrap
from tinknot.core.rulebook import RuleBook

CONNECTOR = "connector for the strap, to the protective conductor"


@dataclass(frozen=True)
class EarthLead(Layer):
    """The strap's end on `core` of `end`, which has no armour. `span_mm`: conductor laid bare, mm on the
    joint's axis; `bare_mm`: from the sheath cut to it; `od_mm`: over the connector that takes both;
    `over_mm`: insulation restored on both sides; `limit_mohm`: up to what it passes to the strap's free
    end."""

    core: str
    end: str
    strap: StockStrap
    span_mm: tuple[float, float]
    bare_mm: float
    od_mm: float
    over_mm: float
    limit_mohm: float
    rules: RuleBook

    @property
    def wide_mm(self) -> float:
        """Conductor laid bare, mm."""
        return self.span_mm[1] - self.span_mm[0]

    @property
    def out(self) -> str:
        """The end where the strap comes out and is clamped."""
        return "A" if self.end == "B" else "B"

    @property
    def covered_mm(self) -> tuple[float, float]:
        """Where its insulation lies, mm."""
        return self.span_mm[0] - self.over_mm, self.span_mm[1] + self.over_mm

    def apply(self, under: Profile) -> Profile:
        """The connector on the core."""
        return under.covered(*self.span_mm, lambda od: max(od, self.od_mm))

    def lies(self) -> Lies | None:
        """On its core."""
        return Lies(self.span_mm, self.core)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """The connector on its core."""
        yield Body(
            id=self.id,
            kind="connector",
            core=self.core,
            end=self.end,
            layer=self.id,
            depth_mm=stage.depth_mm,
            **stage.band(*self.span_mm, self.od_mm),
        )

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Round its core."""
        yield stage.ring("connector", self.id, x, self.core)

    def work(self) -> tuple[Step, ...]:
        """Laid bare, joined, pulled, looked at and read, before the core is insulated."""
        core, end = self.core, self.end
        metal = Place(end, core, "conductor", self.span_mm)
        thing = Thing(self.id, "connector of the earth strap", od_mm=self.od_mm, metal=True, of=CONNECTOR)
        return (
            Step(
                "strip.earth-lead",
                f"Lay core {core} bare for the earth strap",
                "cut",
                "build",
                needs=(Fact("ready", Place(core=core)),),
                text=(
                    f"On {end}, ring the insulation of core {core} off over {said_mm(self.wide_mm)} mm, from"
                    f" {said_mm(self.bare_mm)} mm to {said_mm(self.bare_mm + self.wide_mm)} mm from the"
                    " sheath cut. The conductor is not cut."
                ),
                caution="Do not nick a strand: score the insulation, slit the ring and peel it off.",
                look="Bright all round, no strand cut.",
                action="Bare",
                core=core,
                end=end,
                focus_mm=self.covered_mm,
                acts=(
                    Remove(
                        at=Place(end, core, "insulation", self.span_mm),
                        what="insulation",
                        mm=self.wide_mm,
                        datum="sheath-cut",
                    ),
                ),
            ),
            Step(
                "join.earth-lead",
                f"Join the earth strap to core {core}",
                "join",
                "build",
                needs=(Fact("rung", Place(end, core)),),
                text=(
                    f"{self.strap.said}: its end beside the bare conductor on {end}, pressed by the connector"
                    " of its own, for both sections. Lay the rest along the cores, away from"
                    f" {end}. Then measure from the strap's free end to the conductor."
                ),
                look="No strand outside, the press full. Pulled by hand, the strap holds.",
                fails="It turns or slips: cut the connector off the strap and press a new one.",
                tools=("crimp-tool", "low-ohm-meter"),
                action="Joined",
                part_id=self.strap.id,
                core=core,
                end=end,
                focus_mm=self.covered_mm,
                acts=(
                    Join(
                        at=Place(core=core, span_mm=self.span_mm), thing=thing, ends=(metal,), how="crimped"
                    ),
                    Tug(at=Place(core=core, span_mm=self.span_mm)),
                    Look(at=Place(core=core, span_mm=self.span_mm), thing=thing),
                    Read(what="resistance", between=(metal,), leads=(metal,), most_mohm=self.limit_mohm),
                ),
                reading=Reading(
                    (
                        Gate(
                            "lead",
                            "strap to protective conductor",
                            "Ω",
                            most=round(self.limit_mohm / 1000, 5),
                            instrument="low-ohm-meter",
                        ),
                    )
                ),
            ),
        )

    def consumes(self) -> tuple[Material, ...]:
        """Its connector; the strap is the earth bond's."""
        return (Material(CONNECTOR, 1, "piece"),)

    def minutes(self) -> Minutes:
        """As one more core."""
        return Minutes(self.rules.number("time.core_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Strands cut, a bad press."""
        return (
            Fault(
                "lead-nicked",
                "Strands of the protective conductor are cut",
                ("scored too deep",),
                (CUT_OUT,),
            ),
            Fault(
                "lead-loose",
                "The strap turns in its connector or reads high",
                ("wrong size", "strands outside"),
                (Mend("Cut the connector off the strap, press a new one, measure again", "again"), CUT_OUT),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """The press and a meter."""
        return ("crimp tool, in calibration", "low-ohm meter")


@dataclass(frozen=True)
class StrapLaid(Layer):
    """The strap laid flat along the cores, under the sleeve that closes over them. `span_mm`: from its
    connector to where it comes out, mm on the joint's axis."""

    strap: StockStrap
    span_mm: tuple[float, float]
    end: str  # the one it comes out on

    def apply(self, under: Profile) -> Profile:
        """On one side."""
        return under.covered(*self.span_mm, lambda od: od + self.strap.thickness_mm)

    def work(self) -> tuple[Step, ...]:
        """Laid."""
        thing = Thing(self.id, "earth strap", adds_mm=self.strap.thickness_mm)
        return (
            Step(
                "lay.earth-lead",
                f"Lay the strap flat along the cores to {self.end}",
                "fit",
                "build",
                needs=(*over_all(), of("bonded", "earth-lead")),
                text=(
                    f"Flat and without a twist, held with one turn of tape; it comes out on {self.end}, where"
                    " it is clamped. What closes over the cores closes over it."
                ),
                look="No strand stands up, no loop under what closes over it.",
                action="It lies flat",
                focus_mm=self.span_mm,
                acts=(LayOn(at=Place(span_mm=self.span_mm), thing=thing),),
            ),
        )

    def lies(self) -> Lies | None:
        """Along the cores."""
        return Lies(self.span_mm)

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Over a part of the way round."""
        yield stage.ring("strap", self.id, x).model_copy(update={"width_mm": self.strap.width_mm})

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Along one side."""
        wall = stage.wall()
        under, thick = wall["bottom"], self.strap.thickness_mm
        over = {"top": [(x, r + thick) for x, r in under], "bottom": under}
        at = {"id": self.id, "kind": "strap", "layer": self.id, "depth_mm": stage.depth_mm}
        yield Body.model_validate(at | over)

    def solids(self) -> tuple[tuple[tuple[float, float], float], ...]:
        """Its copper."""
        return ((self.span_mm, self.strap.area_mm2),)
