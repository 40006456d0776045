"""A single insulated wire or a covered conductor: there is no sheath to cut, and one sleeve is insulation and
seal in one."""

from dataclasses import dataclass, replace
from typing import ClassVar

from tinknot.core.acts import Place, Remove, Wipe
from tinknot.core.facts import CONNECTED, MEASURED, Fact, taken_off
from tinknot.core.figures import mm, said_mm
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Cut, Material, Minutes, Reading, Step
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.preparation import Preparation, strip_gate
from tinknot.core.layers.sleeve import Closing
from tinknot.core.layers.surfaces import degreased


@dataclass(frozen=True)
class WireEnd(Preparation):
    """One end of a wire: cut square and stripped."""

    def cuts(self) -> tuple[Cut, ...]:
        """The insulation, from the square-cut end."""
        (core,) = self.end.cores
        strip = self.strip_mm[core.name]
        return (
            Cut(
                self.end.name,
                "insulation",
                "cable-end",
                strip,
                tolerance_mm=self.rules.number("cut.strip_tolerance_mm"),
                caution="Do not nick the strands: score the insulation and pull.",
                removed_mm=strip,
                core=core.name,
                kind="insulation",
            ),
        )

    def work(self) -> tuple[Step, ...]:
        """Cut square, wiped where the sleeve is threaded, stripped."""
        e, (core,), (cut,) = self.end.name, self.end.cores, self.cuts()
        clean = (
            Step(
                f"clean.{e}",
                f"Wipe the wire clean on {e}",
                "surface",
                "cut",
                needs=(MEASURED,),
                text=f"Dirt, water and grease off its last {said_mm(self.threaded_mm + cut.distance_mm)} mm.",
                batch=batches.ENDS,
                acts=(Wipe(at=Place(e, skin="sheath")),),
                end=e,
                focus_mm=self.focus_mm,
            ),
        )
        off = self.rules.number("cut.spare_mm")
        round_it = " Round the sector with the rounding die." if core.sector else ""
        return (
            *(clean if self.threaded_mm else ()),
            Step(
                f"cut.square.{e}",
                f"Cut end {e} square",
                "cut",
                "cut",
                needs=(MEASURED,),
                text=f"Its last {mm(off):g} mm off, square across, all strands to one length.",
                batch=batches.ENDS,
                acts=(Remove(at=Place(e, core.name), what="core", mm=off, datum="cable-end"),),
                end=e,
                focus_mm=self.focus_mm,
            ),
            Step(
                f"strip.{e}.{core.name}",
                f"Strip the wire on {e}",
                "cut",
                "cut",
                needs=(taken_off(e, "core", core.name),),
                text=f"Score the insulation all round, pull it off.{round_it} Keep the lay of the strands.",
                caution=cut.caution,
                look="No strand cut or nicked.",
                fails="A nicked or missing strand: cut back and strip again.",
                batch=batches.STRIP_WIRES,
                core=core.name,
                spreads=True,
                reading=Reading((strip_gate(cut),)),
                acts=(
                    Remove(at=Place(e, core.name), what="insulation", mm=cut.distance_mm, datum="core-end"),
                ),
                end=e,
                focus_mm=self.focus_mm,
            ),
        )

    def minutes(self) -> Minutes:
        """Counted with its connector."""
        return Minutes()

    def tools(self) -> tuple[str, ...]:
        """Knife work."""
        more = ("rounding die",) if any(c.sector for c in self.end.cores) else ()
        return ("tape measure", "core cutter", "insulation stripper", *more)


@dataclass(frozen=True)
class WireSleeve(CoverSleeve):
    """The one sleeve over a joined wire."""

    skin: ClassVar[str] = "wire"
    edge: ClassVar[str] = "the insulation's edge"

    def closing(self) -> Closing:
        """Nothing beside it has to be shielded but the insulation."""
        own = super().closing()
        caution = "Keep the gun moving: thin insulation creeps back."
        return replace(own, caution=caution) if self.hot else own

    def _surfaces(self) -> tuple[Step, ...]:
        """Wiped: thin insulation is not roughened."""
        return (
            Step(
                f"surface.{self.id}",
                "Wipe the wire clean",
                "surface",
                "build",
                needs=self._beneath,
                text=(
                    "Degrease connector and insulation where the sleeve will lie, what is left of flux"
                    " too. Let it flash off."
                ),
                focus_mm=self.span_mm,
                acts=tuple(
                    degreased(self.rules, Place(e.name, skin="sheath", span_mm=self.span_mm))
                    for e in self.ends
                ),
            ),
        )

    @property
    def _beneath(self) -> tuple[Fact, ...]:
        """The connector, looked at: there is nothing else."""
        return CONNECTED, Fact("ready")

    def _park_needs(self, end: str) -> tuple[Fact, ...]:
        """The end is cut square and clean."""
        return taken_off(end, "core"), Fact("clean", Place(end, skin="sheath"))

    def consumes(self) -> tuple[Material, ...]:
        """Its cut length and a wipe."""
        own = [m for m in super().consumes() if m.part_id]
        return (*own, Material("degreasing wipe", 2, "piece"))
