"""A cable end laid open: sheath off, cores to length, conductors bare."""

from dataclasses import dataclass

from tinknot.core.acts import OUTSIDE_IN, FoldBack, Place, Remove, Skin, Wipe
from tinknot.core.facts import MEASURED, Fact, taken_off
from tinknot.core.figures import mm, said_mm
from tinknot.core.joint.cable import CableEnd, Round
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Batch,
    Cut,
    CutKind,
    Fault,
    Gate,
    Layer,
    Material,
    Mend,
    Minutes,
    Reading,
    Step,
)
from tinknot.core.layers.surfaces import rough, roughening
from tinknot.core.rulebook import RuleBook


def distance_gate(cut: Cut, accept: bool, label: str = "from the sheath cut") -> Gate:
    """How far a cut lies from its datum, mm; `accept`: off its tolerance it may stay, with a reason."""
    return Gate(
        "distance",
        label,
        "mm",
        cut.distance_mm,
        tolerance=cut.tolerance_mm,
        required=False,
        accept=accept,
        instrument="tape",
    )


def _inside(end: CableEnd, what: Skin) -> str:
    """The next layer of a cable inside of one, in words."""
    there = {"bedding": end.armour, "armour": end.armour, "lead-sheath": end.lead, "inner-sheath": end.lead}
    said = {"lead-sheath": "lead", "inner-sheath": "inner sheath"}
    inner = OUTSIDE_IN[OUTSIDE_IN.index(what) + 1 :]
    return next((said.get(x, x) for x in inner if there[x]), "cores")


def _lies_under(end: CableEnd, what: Skin) -> str:
    """That the next layer inside of one lies right under it, in words."""
    inside = _inside(end, what)
    lies = {"armour": "armour lies", "cores": "the cores lie"}.get(inside, f"the {inside} lies")
    return f"{lies} right under it."


def strip_gate(cut: Cut) -> Gate:
    """The bare conductor to read, mm."""
    return Gate(
        "strip",
        "bare conductor",
        "mm",
        cut.removed_mm,
        tolerance=cut.tolerance_mm,
        required=False,
        instrument="calliper",
    )


@dataclass(frozen=True)
class Bared:
    """A layer of a cable left standing in front of its sheath cut: what it is, its outside, and from where
    to where, mm from the sheath cut."""

    what: CutKind
    outside: Round
    from_mm: float
    to_mm: float

    @property
    def said(self) -> str:
        """In words."""
        return self.what.replace("-", " ")


def bared(end: CableEnd, rules: RuleBook) -> tuple[Bared, ...]:
    """What is left standing between sheath cut and crutch, from the sheath on: bedding, lead, inner sheath;
    nothing where the cores come out of the sheath."""
    deep = rules.number("armour.bedding_mm")
    layers: list[tuple[CutKind, Round, float]] = []
    if end.armour:
        layers.append(
            ("bedding", end.armour.bedding, rules.number("lead_sheath.bedding_mm") if end.lead else deep)
        )
    if end.lead:
        layers.append(("lead-sheath", end.lead.outside, rules.number("lead_sheath.bare_mm")))
        layers.append(("inner-sheath", end.lead.inner, deep))
    found, at = list[Bared](), 0.0
    for what, outside, wide in layers:
        found.append(Bared(what, outside, at, at + wide))
        at += wide
    return tuple(found)


@dataclass(frozen=True)
class Preparation(Layer):
    """What is taken off one end. `core_cut_mm`: each core's length from the sheath cut, and
    `strip_mm`, its bare conductor, both in mm; `focus_mm` is the stretch of the joint to show."""

    end: CableEnd
    core_cut_mm: dict[str, float]
    strip_mm: dict[str, float]
    rules: RuleBook
    focus_mm: tuple[float, float]
    setback_mm: float = 0.0  # the sheath cut moved back by as much, because a core was cut too short
    threaded_mm: float = 0.0  # what of its tail is taken by parts that go over the whole cable
    rough_mm: tuple[float, float] | None = None  # from where to where its sheath is roughened, on the axis
    flexes: bool = False  # it moves, and lies neither buried nor immersed

    def cuts(self) -> tuple[Cut, ...]:
        """Running distances from the sheath cut; the sheath itself from the square-cut cable end."""
        tol, spare = self.rules.number("cut.tolerance_mm"), self.rules.number("cut.spare_mm")
        sheath = max(self.core_cut_mm.values()) + spare + self.setback_mm
        found = [
            Cut(
                self.end.name,
                "sheath",
                "cable-end",
                sheath,
                tolerance_mm=tol,
                caution=f"Score round, do not cut through. Flex to part; {_lies_under(self.end, 'sheath')}",
                removed_mm=sheath,
                kind="sheath",
            )
        ]
        rough = self.rules.number("armour.tolerance_mm")
        if self.end.armour:
            fold = self.rules.number("armour.fold_mm")
            found.append(
                Cut(
                    self.end.name,
                    "armour",
                    "sheath-cut",
                    fold,
                    tolerance_mm=rough,
                    caution="Saw or snip wire by wire; never into the bedding.",
                    removed_mm=sheath - fold,
                    kind="armour",
                )
            )
        found += [
            Cut(
                self.end.name,
                x.said,
                "sheath-cut",
                x.to_mm,
                tolerance_mm=rough,
                caution=(
                    "Half its wall, never through; no knife on lead that is bent or pulled."
                    if x.what == "lead-sheath"
                    else f"Score round, do not cut through; {_lies_under(self.end, x.what)}"
                ),
                removed_mm=sheath - x.to_mm,
                kind=x.what,
            )
            for x in bared(self.end, self.rules)
        ]
        for core in self.end.cores:
            at = self.core_cut_mm[core.name]
            found += [
                Cut(
                    self.end.name,
                    f"core {core.name}",
                    "sheath-cut",
                    at,
                    tolerance_mm=tol,
                    caution="Cut square, one core at a time.",
                    removed_mm=0.0,
                    core=core.name,
                    kind="core",
                ),
                Cut(
                    self.end.name,
                    f"insulation {core.name}",
                    "sheath-cut",
                    at - self.strip_mm[core.name],
                    tolerance_mm=self.rules.number("cut.strip_tolerance_mm"),
                    caution="Do not nick the strands: score the insulation and pull.",
                    removed_mm=self.strip_mm[core.name],
                    core=core.name,
                    kind="insulation",
                ),
            ]
        return tuple(found)

    def work(self) -> tuple[Step, ...]:
        """Wiped where something is threaded over all of it, sheath off, armour folded back, then the cores
        in any order, each stripped after it is cut."""
        e = self.end.name
        sheath, *rest = self.cuts()
        standing = bared(self.end, self.rules)
        root = taken_off(e, standing[-1].what if standing else "sheath")
        sectors = {c.name for c in self.end.cores if c.sector}
        accept = "distance" in self.rules.names("tolerance.accept")
        moved = f"sheath cut {said_mm(self.setback_mm)} mm further back" if self.setback_mm else ""
        under = _inside(self.end, "sheath")
        title = (
            f"Take the sheath off end {e}"
            if not moved
            else f"Take the sheath {said_mm(self.setback_mm)} mm further back on end {e}"
        )
        clean = (
            Step(
                f"clean.{e}",
                f"Wipe the cable clean on {e}",
                "surface",
                "cut",
                needs=(MEASURED,),
                text=(
                    f"Dirt, water and pulling grease off the last {said_mm(sheath.distance_mm)} mm and the"
                    f" {said_mm(self.threaded_mm)} mm behind them."
                ),
                caution="What is threaded on slides over it and takes the dirt along under its adhesive.",
                end=e,
                batch=self._sheaths,
                acts=(Wipe(at=Place(e, skin="sheath")),),
            ),
        )
        steps = [
            *(clean if self.threaded_mm else ()),
            Step(
                f"cut.sheath.{e}",
                title,
                "cut",
                "cut",
                needs=(MEASURED,),
                text="Cut the end square, mark the sheath cut with a tape, score round and flex to part.",
                caution=sheath.caution,
                look=f"No knife mark on {'any core' if under == 'cores' else f'the {under}'}.",
                end=e,
                batch=self._sheaths,
                basis=moved,
                reading=Reading((distance_gate(sheath, accept, "from the cable end"),)),
                focus_mm=self.focus_mm,
                acts=(Remove(at=Place(e), what="sheath", mm=sheath.distance_mm, datum="cable-end"),),
            ),
        ]
        steps += self._roughened()
        open_ = taken_off(e, "sheath")
        for cut in rest:
            core, kind = cut.core, cut.kind
            if kind in OUTSIDE_IN:
                steps.append(self._layer_cut(cut, kind, open_, accept, moved=moved))
                open_ = taken_off(e, kind)
                if kind == "armour":
                    steps.append(self._fold())
                    open_ = Fact("folded", Place(e, skin="armour"))
            elif cut.kind == "core":
                steps.append(
                    Step(
                        f"cut.core.{e}.{core}",
                        f"Cut core {core} on {e} square",
                        "cut",
                        "cut",
                        needs=(root,),
                        text=f"Measured from the sheath cut.{self._which(cut)}",
                        caution=cut.caution,
                        reading=Reading((distance_gate(cut, accept),), recut=True),
                        spreads=True,
                        batch=batches.cores(e),
                        end=e,
                        core=core,
                        basis=moved,
                        focus_mm=self.focus_mm,
                        acts=(
                            Remove(at=Place(e, core), what="core", mm=cut.distance_mm, datum="sheath-cut"),
                        ),
                    )
                )
            else:
                steps.append(
                    Step(
                        f"strip.{e}.{core}",
                        f"Strip core {core} on {e}",
                        "cut",
                        "cut",
                        needs=(taken_off(e, "core", core), rough(e)),
                        text="Score the insulation all round and pull it off. "
                        + (
                            "Round the sector with the rounding die."
                            if core in sectors
                            else "Keep the lay of the strands."
                        )
                        + " Try it in its connector: as far in as it goes, no more bare than the plan says;"
                        " trim again, never guess.",
                        caution=cut.caution,
                        look="No strand cut or nicked.",
                        fails="A nicked or missing strand: cut back and strip again.",
                        batch=batches.strip(e),
                        end=e,
                        core=core,
                        reading=Reading((strip_gate(cut),)),
                        focus_mm=self.focus_mm,
                        acts=(
                            Remove(at=Place(e, core), what="insulation", mm=cut.removed_mm, datum="core-end"),
                        ),
                    )
                )
        return tuple(steps)

    def _layer_cut(self, cut: Cut, what: Skin, after: Fact, accept: bool, moved: str) -> Step:
        """Armour, bedding, lead or inner sheath cut, once what lies over it is off."""
        e = self.end.name
        text = "Measured from the sheath cut, toward the cable's end."
        lead = what == "lead-sheath"
        if lead:
            text += (
                " Score it all round, bend it to and fro until it parts, draw it off straight; open its edge"
                " a little with a smooth tool. Rub the lead bright from edge to edge."
            )
        elif _inside(self.end, what) == "cores":
            text += " Take the fillers out."
        caution = cut.caution + (" Gloves; wash your hands before eating or smoking." if lead else "")
        seen = f"No mark on the {_inside(self.end, what)}."
        return Step(
            f"cut.{what}.{e}",
            f"Cut the {cut.layer} on {e}",
            "cut",
            "cut",
            needs=(after,),
            text=text,
            caution=caution,
            look=f"{seen} Bright all round, its edge turned outward." if lead else seen,
            batch=batches.armour(e) if what in ("armour", "bedding") else batches.lead(e),
            end=e,
            basis=moved,
            reading=Reading((distance_gate(cut, accept),)),
            focus_mm=self.focus_mm,
            acts=(
                Remove(at=Place(e), what=what, mm=cut.distance_mm, datum="sheath-cut"),
                *((Wipe(at=Place(e, skin="lead-sheath")),) if lead else ()),
            ),
        )

    @property
    def _sheaths(self) -> Batch:
        """What the sheaths are worked in: off, and roughened where something seals on them."""
        if self.rough_mm is None:
            return batches.SHEATHS
        if not self.setback_mm:
            return batches.SHEATHS_ROUGHENED
        e, back = self.end.name, said_mm(self.setback_mm)
        return Batch(f"sheath-{e}", f"Take the sheath {back} mm further back on end {e}, roughen it")

    def _roughened(self) -> tuple[Step, ...]:
        """The sheath roughened for what seals there, before bare copper, mesh or mastic lies open."""
        if self.rough_mm is None:
            return ()
        e, on = self.end.name, Place(self.end.name, skin="sheath", span_mm=self.rough_mm)
        return (
            roughening(
                f"surface.sheath.{e}",
                f"Roughen the sheath on {e}",
                self.rules,
                self.rough_mm[1] - self.rough_mm[0],
                at=on,
                flexes=self.flexes,
                batch=self._sheaths,
                needs=(taken_off(e, "sheath"),),
            ),
        )

    def _fold(self) -> Step:
        """The armour bent back, once all that goes over it whole is threaded on."""
        e, far = self.end.name, self.rules.number("armour.fold_mm")
        return Step(
            f"fold.{e}",
            f"Bend the armour back on {e}",
            "armour",
            "cut",
            needs=(taken_off(e, "armour"),),
            text=(
                f"Support ring under it, wires bent back over the sheath in their lay, {mm(far):g} mm"
                " long and"
                " cleaned bright."
            ),
            caution="No wire may touch a core; gloves.",
            end=e,
            batch=batches.FOLD,
            focus_mm=self.focus_mm,
            spreads=True,
            acts=(
                FoldBack(at=Place(e, skin="armour"), what="armour", mm=far),
                Wipe(at=Place(e, skin="armour")),
            ),
        )

    def consumes(self) -> tuple[Material, ...]:
        """What the armour is bent over."""
        return (Material("support ring", 1, "piece"),) if self.end.armour else ()

    def _which(self, cut: Cut) -> str:
        """Whether a core is one of the long or of the short ones of this end, where there are both."""
        short, long = min(self.core_cut_mm.values()), max(self.core_cut_mm.values())
        if long - short < 0.5:
            return ""
        which = "long" if cut.distance_mm >= (short + long) / 2 else "short"
        return f" Core {cut.core} is {'a' if len(self.core_cut_mm) > 2 else 'the'} {which} one here."

    def minutes(self) -> Minutes:
        """Sheath off and cleaned."""
        return Minutes(self.rules.number("time.end_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Knife and length."""
        return (
            Fault(
                "knife-through",
                "A core's insulation is cut where the sheath came off",
                ("scored too deep", "blade turned in"),
                (Mend("Cut the end back behind the mark and prepare it again", "end-again"),),
            ),
            Fault(
                "nicked-strand",
                "A strand is nicked or missing",
                ("stripper a size too small",),
                (
                    Mend("Cut the end back and prepare it again", "end-again"),
                    Mend(
                        "Within the site's limit for stranded conductors: noted, it stays",
                        "mended",
                        stays=True,
                    ),
                ),
            ),
            Fault(
                "cut-short",
                "A core was cut too short",
                ("measured from the wrong mark", "sides mixed up"),
                (
                    Mend(
                        "Type its length as measured and plan again: the sheath goes further back",
                        "again",
                        stays=True,
                    ),
                    Mend("Cut the end back and prepare it again", "end-again"),
                ),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """Knife work."""
        more: tuple[str, ...] = ("hacksaw or wire snips",) if self.end.armour else ()
        more += ("lead knife, wire brush and smooth opening tool",) if self.end.lead else ()
        more += ("rounding die",) if any(c.sector for c in self.end.cores) else ()
        return ("tape measure", "sheath knife", "core cutter", "insulation stripper", *more)
