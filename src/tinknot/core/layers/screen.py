"""A lead on a cable's screen: the screen laid bare, the lead on it, and what holds it there."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any

from tinknot.core.acts import Act, FoldBack, Join, LayOn, Look, Note, Place, Remove, Thing, ThreadOn, Wipe
from tinknot.core.choosing.park import Side
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage, level
from tinknot.core.facts import COVERED, MEASURED, Fact, of, over_all, taken_off
from tinknot.core.figures import mm, said_mm
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Cut,
    Fault,
    Gate,
    Layer,
    Material,
    Mend,
    Minutes,
    Piece,
    Reading,
    Step,
    Threaded,
    pieces_of,
)
from tinknot.core.layers.cover_sleeve import CoverSleeve
from tinknot.core.layers.mends import END_AGAIN
from tinknot.core.layers.surfaces import rough, roughening
from tinknot.core.parts.clamp import StockClamp
from tinknot.core.parts.ring import StockRing
from tinknot.core.rulebook import RuleBook

Span = tuple[float, float]
SCRAP = Thing("scrap", "scrap of this cable")


def fold_mm(rules: RuleBook, sheath_mm: float) -> float:
    """How far a braid is folded back over a sheath where there is room for it, mm."""
    return max(rules.number("screen.fold_min_mm"), rules.number("screen.fold_per_od") * sheath_mm)


def foil_faults(causes: tuple[str, ...], else_: Mend, **at: Any) -> tuple[Fault, ...]:
    """A foil nicked by degree: patched, wrapped, else what costs more."""
    patch = Mend("Patch it with foil of the same kind, metal to the drain wire", "mended")
    wrap = Mend(f"Wrap foil of the same kind round it, half-lapped, {mm(15)} mm past the tear", "mended")
    return (
        Fault("foil-pinhole", "A pin-hole in the foil", causes, (patch, else_), **at),
        Fault("foil-torn", "The foil is torn", causes, (wrap, else_), **at),
    )


@dataclass(frozen=True)
class BareScreen(Layer):
    """The sheath taken off over the screen. `span_mm`: the screen laid bare, on the joint's axis; `ahead_mm`:
    from the end that is not the sheath's to the cable's end; `window`: sheath lies on both sides of it;
    `foil`: it is foil with a drain wire, not braid; `fold`: its braid is folded back over the sheath;
    `rough_mm`: how far the sheath is roughened behind it for what seals there."""

    rules: RuleBook
    span_mm: Span
    ahead_mm: float
    window: bool
    foil: bool
    fold: bool = False
    rough_mm: float = 0.0

    def cuts(self) -> tuple[Cut, ...]:
        """Rings round the sheath, and where it is cut the screen, all from the cable's end."""
        tol, bare = self.rules.number("cut.strip_tolerance_mm"), self.span_mm[1] - self.span_mm[0]
        deep = "Score the sheath, do not cut through: the screen lies right under it."
        if self.fold:
            ahead = self.ahead_mm
            comb = "Comb it out before it is folded back; no strand across the cut."
            return (
                Cut(
                    "A",
                    "sheath",
                    "cable-end",
                    ahead,
                    tolerance_mm=tol,
                    caution=deep,
                    removed_mm=ahead,
                    kind="sheath",
                ),
                Cut(
                    "A",
                    "braid",
                    "sheath-cut",
                    bare,
                    tolerance_mm=tol,
                    caution=comb,
                    removed_mm=max(0.0, ahead - bare),
                ),
            )
        off = bare if self.window else self.ahead_mm + bare
        far = Cut(
            "A",
            "sheath",
            "cable-end",
            self.ahead_mm + bare,
            tolerance_mm=tol,
            caution=deep,
            removed_mm=off,
            kind="sheath",
        )
        if self.window:
            return (
                far,
                Cut(
                    "A",
                    "sheath, near edge",
                    "cable-end",
                    self.ahead_mm,
                    tolerance_mm=tol,
                    caution=deep,
                    removed_mm=bare,
                ),
            )
        under = "Lift the strands off what lies under them before they are cut."
        return (
            far,
            Cut(
                "A",
                "screen",
                "cable-end",
                self.ahead_mm,
                tolerance_mm=tol,
                caution=under,
                removed_mm=self.ahead_mm,
            ),
        )

    def work(self) -> tuple[Step, ...]:
        """Tried on scrap, wiped, cut, looked at."""
        return (
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
            Step(
                "clean.A",
                "Wipe the cable clean",
                "surface",
                "cut",
                needs=(MEASURED,),
                text="As far back as a part will be slid.",
                batch=batches.CLEAN,
                end="A",
                acts=(Wipe(at=Place("A", skin="sheath")),),
                makes=(of("clean", "cable"),),
            ),
            Step(
                "cut.sheath.A",
                "Lay the screen bare",
                "cut",
                "cut",
                needs=(of("noted", SCRAP.id), of("clean", "cable")),
                text=self._how_bared(),
                caution="Blade away from the hand, and never deeper than on the scrap.",
                end="A",
                acts=self._bared(),
                reading=Reading(
                    (
                        Gate(
                            "bare",
                            "braid folded back" if self.fold else "bare screen",
                            "mm",
                            self.span_mm[1] - self.span_mm[0],
                            tolerance=self.rules.number("cut.strip_tolerance_mm"),
                            required=False,
                            instrument="calliper",
                        ),
                    )
                ),
                focus_mm=self.span_mm,
            ),
            *self._roughened(),
            Step(
                "inspect.screen",
                "Look at the screen",
                "inspect",
                "build",
                needs=(taken_off("A", "sheath"),),
                look=(
                    "Foil whole and bright, its drain wire whole, what lies under it not marked."
                    if self.foil
                    else "Every strand whole, clean and in its place, what lies under it not marked."
                    + (" Folded back evenly all round, no whisker." if self.fold else "")
                ),
                fails="What lies under the screen is cut: cut back and begin again.",
                photo=True,
                pictured="screen",
                acts=(Look(at=Place("A", skin="screen")),),
                focus_mm=self.span_mm,
            ),
        )

    def _roughened(self) -> tuple[Step, ...]:
        """The sheath behind the screen roughened, before a lead lies on it that dust would fall on."""
        if not self.rough_mm:
            return ()
        return (
            roughening(
                "surface.sheath.A",
                "Roughen the sheath on A",
                self.rules,
                self.rough_mm,
                at=Place("A", skin="sheath", span_mm=(self.span_mm[0] - self.rough_mm, self.span_mm[0])),
                flexes=False,
                batch=batches.SURFACE_SHEATH,
                needs=(taken_off("A", "sheath"),),
                label="from the bare screen",
            ),
        )

    def _how_bared(self) -> str:
        """Every cut with its figure, from the cable's end."""
        wide, ahead = self.span_mm[1] - self.span_mm[0], self.ahead_mm
        if self.window:
            return (
                f"Ring the sheath {mm(ahead):g} and {mm(ahead + wide):g} mm from the cable's end, slit it"
                " between them, lift the ring off."
            )
        if self.fold:
            return (
                f"Ring the sheath {mm(ahead):g} mm from the cable's end and draw it off. Comb the braid out,"
                f" trim it to {said_mm(wide)} mm, fold it back over the sheath."
            )
        return (
            f"Ring the sheath {mm(ahead + wide):g} mm from the cable's end and draw it off. Trim the screen"
            f" {mm(ahead):g} mm from the end, no whisker left."
        )

    def _bared(self) -> tuple[Act, ...]:
        """The sheath off, the screen trimmed or folded back."""
        wide = self.span_mm[1] - self.span_mm[0]
        ring = self.ahead_mm if self.fold else self.ahead_mm + wide
        off = Remove(at=Place("A"), what="sheath", mm=ring, datum="cable-end")
        if self.fold:
            return off, FoldBack(at=Place("A", skin="screen"), what="screen", mm=wide)
        return (off,)

    def minutes(self) -> Minutes:
        """Cut and looked at."""
        return Minutes(self.rules.number("time.end_min"))

    def faults(self) -> tuple[Fault, ...]:
        """By degree."""
        cut = ("stripper set too deep", "blade held on too long")
        if not self.foil:
            return (
                Fault("strands-cut", "Strands of the braid are cut", cut, (END_AGAIN,)),
                Fault("under-cut", "What lies under the screen is cut", cut, (END_AGAIN,)),
            )
        return (
            *foil_faults(cut, END_AGAIN),
            Fault("drain-cut", "The drain wire is cut", cut, (END_AGAIN,)),
            Fault("under-cut", "What lies under the screen is cut", cut, (END_AGAIN,)),
        )

    def tools(self) -> tuple[str, ...]:
        """To cut round a sheath."""
        return ("ring stripper with its depth stop", "side cutters")


@dataclass(frozen=True)
class Lead(Layer):
    """The lead on the bare screen. `bare_mm`: how much of its conductor is bare; `span_mm`: where it lies
    along the cable, as far as it is drawn; `over`: the stretches it runs over with the diameter of cable and
    lead together there (from, to, mm); `od_mm`, `conductor_mm`: how thick it is and its bare strands are;
    `ready`: it comes in a sleeve."""

    rules: RuleBook
    bare_mm: float
    span_mm: Span
    bare_span_mm: Span
    over: tuple[tuple[float, float, float], ...]
    od_mm: float
    conductor_mm: float
    exit: str
    ready: bool

    def apply(self, under: Profile) -> Profile:
        """Cable and lead as one thing, by the girth of the tight string round both."""
        for a, b, od in self.over:
            under = under.covered(a, b, lambda _, od=od: od)  # type: ignore[misc]
        return under

    def work(self) -> tuple[Step, ...]:
        """Stripped and laid; one that comes in a sleeve is only led out of the way."""
        way = "toward the cable's end" if self.exit == "front" else "back along the sheath"
        if self.ready:
            return (
                Step(
                    "lay.lead",
                    "Lay the sleeve's lead",
                    "screen",
                    "build",
                    needs=(COVERED, rough("A")),
                    text=f"It leaves {way}. No pull on it while it is soldered.",
                    action="It lies right",
                    acts=(Note(at=Place("A")),),
                    focus_mm=self.bare_span_mm,
                ),
            )
        return (
            Step(
                "cut.lead",
                "Strip the lead",
                "cut",
                "cut",
                needs=(MEASURED,),
                text="Twist it back in its own lay. No strand cut, none left out.",
                acts=(Note(at=Place("A")),),
                makes=(of("made", self.id),),
                reading=Reading(
                    (
                        Gate(
                            "strip",
                            "bare conductor",
                            "mm",
                            self.bare_mm,
                            tolerance=self.rules.number("cut.strip_tolerance_mm"),
                            required=False,
                            instrument="calliper",
                        ),
                    )
                ),
                focus_mm=self.bare_span_mm,
            ),
            Step(
                "lay.lead",
                "Lay the lead on the screen",
                "screen",
                "build",
                needs=(of("made", self.id), COVERED, rough("A")),
                text=f"Its bare part flat on the bare screen, nothing bare past the edges. It leaves {way}.",
                action="It lies right",
                acts=(
                    LayOn(at=Place("A", span_mm=self.bare_span_mm), thing=Thing(self.id, "lead", of="lead")),
                ),
                focus_mm=self.bare_span_mm,
            ),
        )

    def lies(self) -> Lies:
        """Along the cable."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """In front of the cable: insulated where it leaves, bare on the screen."""
        for kind, (a, b), od in (
            ("lead", self.span_mm, self.od_mm),
            ("lead-bare", self.bare_span_mm, self.conductor_mm),
        ):
            yield level(kind, (a, b), od, id=f"{self.id}-{kind}", layer=self.id, depth_mm=stage.depth_mm)

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Beside the cable, where it touches it."""
        bare = self.bare_span_mm[0] <= x <= self.bare_span_mm[1]
        od = self.conductor_mm if bare else self.od_mm
        yield Circle(
            kind="lead-bare" if bare else "lead",
            layer=self.id,
            y_mm=(stage.under.at(x).greatest_mm + od) / 2,
            od_mm=od,
        )

    def minutes(self) -> Minutes:
        """Stripped and laid."""
        return Minutes(self.rules.number("time.screen_min") / 2)

    def consumes(self) -> tuple[Material, ...]:
        """A lead of one's own."""
        return () if self.ready else (Material("lead", 1, "piece"),)


@dataclass(frozen=True)
class Held(Layer):
    """What is joined to a screen held without heat, by a constant-force spring or a crimp ring; `joins`:
    both, in words. `on_mm`: their diameter together; `on`: the end it lies on, of a joint with two; `order`:
    how near to the joint a ring waits."""

    rules: RuleBook
    part: StockClamp | StockRing
    lot: str
    span_mm: Span
    on_mm: float
    joins: str = "screen and lead"
    on: str = ""
    order: int = 1

    @property
    def ring(self) -> bool:
        """Whether it is pressed, and so must be threaded."""
        return isinstance(self.part, StockRing)

    def apply(self, under: Profile) -> Profile:
        """Its thickness all round."""
        return under.covered(*self.span_mm, lambda od: od + 2 * self.part.thickness_mm)

    def threads(self) -> tuple[Threaded, ...]:
        """A ring goes over the cable's end."""
        if not self.ring:
            return ()
        return (
            Threaded(
                self.id, self.part.id, "sheath", self.part.width_mm, end=self.on or "A", order=self.order
            ),
        )

    def waits_on(self, wanted: Side) -> Side:
        """On its own end."""
        return "b" if self.on == "B" else "a"

    def work(self) -> tuple[Step, ...]:
        """On, and looked at."""
        said = self.part.said
        park: tuple[Step, ...] = ()
        die = f", die {self.part.die}" if isinstance(self.part, StockRing) and self.part.die else ""
        if self.ring:
            park = (
                Step(
                    f"park.{self.id}",
                    f"Thread the {self.title}",
                    "park",
                    "park",
                    needs=(taken_off(self.on or "A", "sheath"),),
                    text=f"{said}. Slide it well back.",
                    caution="It cannot be put on later.",
                    batch=batches.WHOLE,
                    end=self.on or "A",
                    part_id=self.part.id,
                    acts=(ThreadOn(at=Place(self.on or "A"), thing=Thing(self.id, self.title, of=said)),),
                ),
            )
        return (
            *park,
            Step(
                f"bond.{self.id}",
                f"Press the {self.title}" if self.ring else f"Wind the {self.title} over {self.joins}",
                "bond",
                "build",
                needs=(Fact("ready", Place(self.on, span_mm=self.span_mm)),),
                text=(
                    f"{said}{die}: over {self.joins}, pressed once, square."
                    if self.ring
                    else f"{said}: tight round {self.joins}, one turn after the other. Tape its tail."
                ),
                action="Pressed" if self.ring else "Wound and taped",
                part_id=self.part.id,
                acts=(
                    Join(
                        at=Place(self.on, span_mm=self.span_mm),
                        thing=Thing(
                            self.id, self.title, adds_mm=2 * self.part.thickness_mm, metal=True, of=said
                        ),
                        ends=(Place(self.on or "A", skin="screen"),),
                        how="clamped",
                    ),
                ),
                focus_mm=self.span_mm,
                end=self.on,
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the {self.title}",
                "inspect",
                "build",
                needs=(of("joined", self.id),),
                look="Tight all round on bright metal, nothing can be pulled out, no point stands out.",
                fails="It turns or slips: off with it, clean, and again.",
                photo=True,
                pictured="own",
                acts=(Look(at=Place(self.on, span_mm=self.span_mm), thing=Thing(self.id, self.title)),),
                focus_mm=self.span_mm,
                end=self.on,
            ),
        )

    def lies(self) -> Lies:
        """Over the bare screen."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """All round."""
        od = stage.over.between(*self.span_mm).greatest()
        yield level("clamp", self.span_mm, od, id=self.id, layer=self.id, depth_mm=stage.depth_mm)

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """All round."""
        yield stage.ring("clamp", self.id, x)

    def consumes(self) -> tuple[Material, ...]:
        """One, and the tape over a spring."""
        found = [Material(self.part.said, 1, "piece", self.part.on_hand, part_id=self.part.id, lot=self.lot)]
        return tuple(found if self.ring else [*found, Material("tape over a spring", 1, "piece")])

    def counted(self) -> tuple[Piece, ...]:
        """One."""
        return pieces_of(self.consumes(), 0.0)

    def minutes(self) -> Minutes:
        """Put on and looked at."""
        return Minutes(self.rules.number("time.screen_min"))

    def faults(self) -> tuple[Fault, ...]:
        """Contact."""
        again = Mend("Off with it, clean to bright metal, and again", "again")
        return (
            Fault(
                "lead-loose",
                "It turns, or the lead slips",
                ("dirt under it", "wrong size"),
                (again, END_AGAIN),
            ),
            Fault(
                "whisker",
                "A strand stands out",
                ("not tucked in",),
                (Mend("Tuck it in or trim it", "mended"), END_AGAIN),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """To press or to wind."""
        return ("crimp tool with the ring's die",) if self.ring else ("pliers",)


@dataclass(frozen=True)
class ScreenCover(CoverSleeve):
    """A sleeve over what is done to a screen."""

    def _park_needs(self, end: str) -> tuple[Fact, ...]:
        return (taken_off(end, "sheath"),)

    @property
    def _beneath(self) -> tuple[Fact, ...]:
        """A piece over one end waits for what lies there only."""
        return over_all(self.span_mm, self.over) if self.over else over_all()

    def work(self) -> tuple[Step, ...]:
        """A piece over one end is made there from its first step to its last."""
        return tuple(replace(s, end=s.end or self.over) for s in super().work())
