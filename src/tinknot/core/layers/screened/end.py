"""One end of a screened cable laid open."""

from collections.abc import Mapping
from dataclasses import dataclass

from tinknot.core.acts import FoldBack, Mark, Note, Place, Remove, Wipe
from tinknot.core.facts import MEASURED, Fact, of, taken_off
from tinknot.core.figures import said_mm
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Batch,
    Cut,
    Fault,
    Layer,
    Mend,
    Minutes,
    Step,
)
from tinknot.core.layers.screen import SCRAP
from tinknot.core.layers.screened.units import core_or_unit
from tinknot.core.layers.surfaces import rough, roughening
from tinknot.core.rulebook import RuleBook

Span = tuple[float, float]


@dataclass(frozen=True)
class ScreenedEnd(Layer):
    """One end laid open. `cut_mm`: each core's length from the sheath cut, by unit and core; `strip_mm`: bare
    conductor of each unit's cores; `fold_mm`: braid folded back over the sheath, 0 where there is none;
    `foil`: foil over all is kept and folded aside; `wires`: it is single wires without a sheath, measured
    from a mark round all of them; `alone`: it has a sheath and the other end has none, or the other way
    round; `rough_mm`: how far from the sheath cut it is roughened before its screen lies open, 0 where
    nothing seals on it; `flexes`: it moves."""

    end: str
    rules: RuleBook
    cut_mm: Mapping[str, Mapping[str, float]]
    strip_mm: Mapping[str, float]
    fold_mm: float
    foil: bool
    span_mm: Span
    wires: bool = False
    alone: bool = False
    rough_mm: float = 0.0
    flexes: bool = False

    @property
    def longest_mm(self) -> float:
        """The longest core, from the sheath cut."""
        return max(mm for unit in self.cut_mm.values() for mm in unit.values())

    def cuts(self) -> tuple[Cut, ...]:
        """The sheath from the cable's end, every core from the sheath cut."""
        tol, spare = self.rules.number("cut.tolerance_mm"), self.rules.number("cut.spare_mm")
        fold = self.fold_mm + 5 if self.fold_mm else 0.0  # combed out and trimmed to length
        off = max(self.longest_mm + spare, fold)
        under = "Score the sheath, do not cut through: the screen lies right under it."
        mark = "A mark round all wires together: every length is measured from it."
        found = [
            Cut(
                self.end,
                "sheath",
                "cable-end",
                off,
                tolerance_mm=tol,
                caution=under,
                removed_mm=off,
                kind="sheath",
            )
        ]
        if self.wires:
            found = [Cut(self.end, "mark", "cable-end", off, tolerance_mm=tol, caution=mark, removed_mm=0.0)]
        if self.fold_mm:
            found.append(
                Cut(
                    self.end,
                    "braid",
                    "sheath-cut",
                    self.fold_mm,
                    tolerance_mm=tol,
                    caution="Comb it out before it is folded back; no strand across the cut.",
                    removed_mm=max(0.0, off - self.fold_mm),
                )
            )
        for unit in self.cut_mm.values():
            found += [
                Cut(
                    self.end,
                    f"core {name}",
                    "sheath-cut",
                    mm,
                    tolerance_mm=tol,
                    caution="Square, and of its own length: units stand apart.",
                    removed_mm=off - mm,
                    core=name,
                    kind="core",
                )
                for name, mm in unit.items()
            ]
        return tuple(found)

    def work(self) -> tuple[Step, ...]:
        """Tried on scrap, sheath off, screen laid back once all is threaded, units to their lengths."""
        e, off = self.end, self.cuts()[0].distance_mm
        what = "cores" if all(len(cores) == 1 for cores in self.cut_mm.values()) else "units"
        scrap = (
            Step(
                "cut.scrap",
                "Set the stripper on a scrap of this cable",
                "cut",
                "cut",
                needs=(MEASURED,),
                text="The depth is right when the sheath comes off and no strand is marked.",
                action="Depth is set",
                acts=(Note(thing=SCRAP),),
            ),
        )
        side = "B" if e == "A" else "A"
        apart = len({round(mm, 1) for unit in self.cut_mm.values() for mm in unit.values()}) > 1
        other = f". A long one here meets a short one on {side}." if apart else "."
        lay = [
            *(
                [f"Comb the braid out, fold {said_mm(self.fold_mm)} mm over the sheath, trim every whisker."]
                if self.fold_mm
                else []
            ),
            *(["Fold the foil aside and keep it."] if self.foil else []),
        ]
        return (
            *(scrap if e == "A" else ()),
            Step(
                f"clean.{e}",
                f"Wipe the cable clean on {e}",
                "surface",
                "cut",
                needs=(MEASURED,),
                text="As far back as parts will be slid.",
                batch=batches.CLEAN,
                acts=(Wipe(at=Place(e, skin="sheath")),),
                end=e,
            ),
            Step(
                f"cut.sheath.{e}",
                f"Mark the wires of {e} together" if self.wires else f"Take the sheath off on {e}",
                "cut",
                "cut",
                needs=(of("noted", SCRAP.id), Fact("clean", Place(e, skin="sheath"))),
                text=(
                    f"Dress them side by side, even at their ends, a mark round all of them {said_mm(off)} mm"
                    " from their ends."
                    if self.wires
                    else (
                        f"Ring it {said_mm(off)} mm from the cable's end, flex it at the ring until it parts."
                    )
                ),
                caution="" if self.wires else "Never deeper than on the scrap.",
                batch=self._sheaths,
                acts=(
                    Mark(at=Place(e))
                    if self.wires
                    else Remove(at=Place(e), what="sheath", mm=off, datum="cable-end"),
                ),
                end=e,
            ),
            *self._roughened(),
            *(
                (
                    Step(
                        f"fold.{e}",
                        f"Lay the screen back on {e}",
                        "screen",
                        "cut",
                        needs=(taken_off(e, "sheath"), rough(e)),
                        text=" ".join(lay),
                        action="Folded back",
                        spreads=True,
                        batch=Batch("fold-screen", "Lay the screen back on both sides"),
                        acts=(FoldBack(at=Place(e, skin="screen"), what="screen", mm=self.fold_mm),),
                        focus_mm=self.span_mm,
                        end=e,
                    ),
                )
                if lay
                else ()
            ),
            *(
                step
                for unit, cores in self.cut_mm.items()
                for step in (
                    Step(
                        f"cut.core.{e}.{unit}",
                        f"Cut {core_or_unit(unit, tuple(cores))} on {e}",
                        "cut",
                        "cut",
                        needs=(Fact("folded", Place(e, skin="screen")) if lay else taken_off(e, "sheath"),),
                        text=", ".join(f"{name}: {said_mm(mm)} mm" for name, mm in cores.items())
                        + f" from the {'mark' if self.wires else 'sheath cut'}{other}",
                        batch=Batch(f"units-{e}", f"Cut the {what} on {e}", batches.SQUARE),
                        core=unit,
                        spreads=True,
                        acts=(
                            Remove(
                                at=Place(e, unit),
                                what="core",
                                mm=max(cores.values()),
                                datum="sheath-cut",
                            ),
                        ),
                        end=e,
                    ),
                    Step(
                        f"strip.{e}.{unit}",
                        f"Strip {core_or_unit(unit, tuple(cores))} on {e}",
                        "cut",
                        "cut",
                        needs=(taken_off(e, "core", unit), rough(e)),
                        text=f"{said_mm(self.strip_mm[unit])} mm bare, no strand cut. Tried on scrap first.",
                        batch=Batch(f"strip-units-{e}", f"Strip the {what} on {e}"),
                        core=unit,
                        acts=(
                            Remove(
                                at=Place(e, unit),
                                what="insulation",
                                mm=self.strip_mm[unit],
                                datum="core-end",
                            ),
                        ),
                        end=e,
                    ),
                )
            ),
        )

    @property
    def _sheaths(self) -> Batch | None:
        """What both sheaths are worked in."""
        if self.alone:
            return None
        return batches.SHEATHS_ROUGHENED if self.rough_mm else batches.SHEATHS

    def _roughened(self) -> tuple[Step, ...]:
        """The sheath roughened for what seals there, before screen and conductors lie open."""
        if not self.rough_mm:
            return ()
        e, far = self.end, self.span_mm[0] if self.end == "A" else self.span_mm[1]
        cut = far + self.fold_mm if e == "A" else far - self.fold_mm
        span = (cut - self.rough_mm, cut) if e == "A" else (cut, cut + self.rough_mm)
        return (
            roughening(
                f"surface.sheath.{e}",
                f"Roughen the sheath on {e}",
                self.rules,
                self.rough_mm,
                at=Place(e, skin="sheath", span_mm=span),
                flexes=self.flexes,
                batch=self._sheaths,
                needs=(taken_off(e, "sheath"),),
            ),
        )

    def minutes(self) -> Minutes:
        """Laid open."""
        return Minutes(self.rules.number("time.end_min"))

    def faults(self) -> tuple[Fault, ...]:
        """What a blade does."""
        again = Mend("Cut this end back and lay it open anew", "end-again")
        cut = ("stripper set too deep",)
        return (
            Fault("strands-cut", "Strands of the screen are cut", cut, (again,)),
            Fault("nicked", "Insulation is marked or cut", cut, (again,)),
            Fault(
                "too-short",
                "A core was cut too short",
                ("measured from the wrong edge",),
                (again,),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """To cut and to strip."""
        return ("ring stripper with its depth stop", "stripper for fine cores")
