"""The sleeve that covers the whole joint, or one end of another."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import ClassVar

from tinknot.core.acts import Act, Close, LayOn, Look, Place, Shrink, SlideTo, ThreadOn
from tinknot.core.choosing.choose import Window
from tinknot.core.choosing.park import Side
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import Fact, of, over_all, taken_off
from tinknot.core.figures import ends_at, mm, said_mm
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import Fault, Material, Mend, Minutes, Reading, Step, Threaded, Timer
from tinknot.core.layers.mends import CUT_OUT, IN_TIME, not_threaded
from tinknot.core.layers.sleeve import CLOSED, Closing, Sleeve
from tinknot.core.layers.surfaces import (
    OFF_MASTIC,
    abraded,
    degreased,
    roughened_gate,
    scratches,
    wiped_again,
)

_PIECE = Mend("Seal that end with a wrap-around piece over it, under Choose, and plan again", "mended")


@dataclass(frozen=True)
class CoverSleeve(Sleeve):
    """A sleeve over the whole joint or one end of it: inner, outer, fire barrier, end piece. It waits on a
    cable's sheath unless it wraps around. `seals`: it is the one that keeps water out; `closes`: it closes
    the joint; `over`: the one end it lies on; `drawn`: the kind of body it is drawn as; `flexes`: the joint
    moves, and lies neither buried nor immersed; `open_ends`: those of A and B that it need not close on,
    because a piece over them does; `roughened`: its sheaths are roughened already, and only wiped now;
    `edges_mm`: where the sheath of A and of B ends, on the axis."""

    ends: tuple[CableEnd, ...] = ()
    overlap_mm: tuple[float, ...] = ()
    park_on: Side = "either"
    park_order: int = 1
    seals: bool = True
    over: str = ""
    closes: bool = False
    drawn: str = "outer-sleeve"
    flexes: bool = False
    open_ends: str = ""
    roughened: bool = False
    edges_mm: tuple[float, float] | None = None

    skin: ClassVar[str] = "sheath"  # what it seals on
    edge: ClassVar[str] = "the sheath cut"  # from where its place is measured
    past: ClassVar[str] = "behind"  # it, on what it seals on

    def lies(self) -> Lies | None:
        """Over the joint."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """Its wall, cut open."""
        wall = stage.wall(least_bore_mm=self.tube.recovered_id_mm)
        yield Body(id=self.id, kind=self.drawn, layer=self.id, depth_mm=stage.depth_mm, **wall)

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Its wall all round."""
        yield stage.ring(self.drawn, self.id, x, least_bore_mm=self.tube.recovered_id_mm)

    def waits_on(self, wanted: Side) -> Side:
        """The tail it may wait on: its own end's, for the one that closes the joint where it is `wanted`,
        else either."""
        if self.over and not self.wraps:
            return "a" if self.over == "A" else "b"
        return wanted if self.closes else "either"

    def closes_mm(self) -> tuple[float, float] | None:
        """Its span."""
        return self.span_mm

    @property
    def wraps(self) -> bool:
        """Whether it goes round instead of over an end."""
        return self.part is not None and self.part.form == "wrap-around"

    def threads(self) -> tuple[Threaded, ...]:
        """On the sheath."""
        if self.wraps:
            return ()
        part = self.part.id if self.part else ""
        return (
            Threaded(
                self.id, part, "sheath", self.cut_length_mm, end=self.park_on.upper(), order=self.park_order
            ),
        )

    def requires(self, under: Profile, path: Profile) -> Window | None:
        """What is held otherwise need not grip, only lie on the thickest place; an end that a piece over it
        closes is not gripped either."""
        window = super().requires(under, path)
        seat = under.between(*self.span_mm)
        if window is not None and self.seals and self.open_ends:
            last = -1 if "A" in self.open_ends else 0
            return replace(window, seal_od_mm=seat.stations[last].gripped_mm)
        if self.voltage_v is not None or self.seals or window is None:
            return window
        return replace(window, seal_od_mm=seat.greatest())

    def _park(self) -> tuple[Step, ...]:
        end = self.park_on.upper()
        return (
            ()
            if self.wraps
            else (
                Step(
                    f"park.{self.id}",
                    f"Thread the {self.title} on side {end}",
                    "park",
                    "park",
                    needs=self._park_needs(end),
                    text=(
                        f"{self.part_name}, cut {mm(self.cut_length_mm)} mm, over the clean {self.skin}."
                        " Slide it well back."
                    ),
                    caution="It cannot be put on later.",
                    batch=batches.WHOLE,
                    end=end,
                    part_id=self.part.id if self.part else "",
                    acts=(ThreadOn(at=Place(end), thing=self.thing),),
                ),
            )
        )

    def _edges(self) -> tuple[Place, ...]:
        """The sheaths its adhesive meets."""
        if not (self.seals and self.thing.seals):
            return ()
        span = self.span_mm
        return tuple(
            Place(e.name, skin="sheath", span_mm=span) for e in self.ends if e.name not in self.open_ends
        )

    def _closes(self) -> tuple[Act, ...]:
        """Slid to its seat or wrapped round it, and closed."""
        seat, thing = Place(span_mm=self.span_mm), self.thing
        if self.wraps:
            on: tuple[Act, ...] = (LayOn(at=seat, thing=thing),)
        else:
            on = (SlideTo(at=seat, thing=thing, from_end=self.park_on.upper()),)
        if self.part is not None and self.part.form == "barrier":
            return (*on, Close(at=seat, thing=thing))
        return (*on, Shrink(at=seat, thing=thing, hot=self.hot, seals_on=self._edges()))

    def _park_needs(self, end: str) -> tuple[Fact, ...]:
        """What must be so before it is threaded on an end."""
        return taken_off(end, "sheath"), Fact("clean", Place(end, skin="sheath"))

    @property
    def _beneath(self) -> tuple[Fact, ...]:
        """What must be so of what lies inside before it is begun."""
        return over_all()

    def _surfaces(self) -> tuple[Step, ...]:
        if not self.seals:
            return (
                Step(
                    f"surface.{self.id}",
                    f"Wipe clean for the {self.title}",
                    "surface",
                    "build",
                    needs=self._beneath,
                    text=f"Degrease what it will lie on. {OFF_MASTIC} Let it flash off.",
                    focus_mm=self.span_mm,
                    acts=(degreased(self.rules, Place(span_mm=self.span_mm)),),
                ),
            )
        if self.roughened:
            return tuple(self._wiped_on(e.name) for e in self.ends if e.name not in self.open_ends)
        beyond, grit = self.rules.number("surface.beyond_mm"), self.rules["surface.grit"]
        prefix = "surface.sheath" if self.closes else f"surface.{self.id}"
        return tuple(
            Step(
                f"{prefix}.{e.name}",
                f"Roughen the sheath on {e.name}",
                "surface",
                "build",
                needs=self._beneath,
                text=(
                    f"Degrease, abrade with {grit:g} grit, {scratches(self.flexes)}, wipe dry. Mark"
                    f" {said_mm(over)} mm for the sleeve's edge."
                ),
                caution="Solvent away from heat; let it flash off.",
                batch=batches.SURFACE_SHEATH,
                end=e.name,
                reading=Reading((roughened_gate(self.rules, "from the sheath cut", over + beyond),)),
                acts=abraded(self.rules, Place(e.name, skin="sheath", span_mm=self.span_mm), over + beyond),
            )
            for e, over in zip(self.ends, self.overlap_mm, strict=True)
            if e.name not in self.open_ends
        )

    def _wiped_on(self, end: str) -> Step:
        """The roughened sheath wiped just before it is closed."""
        return wiped_again(
            f"wipe.{'sheath' if self.closes else self.id}.{end}",
            f"Wipe the roughened sheath on {end}",
            self.rules,
            "all that the adhesive will lie on",
            keep_off=OFF_MASTIC,
            at=Place(end, skin="sheath", span_mm=self.span_mm),
            needs=self._beneath,
            batch=batches.WIPE_SHEATH,
        )

    def _closed(self) -> Closing:
        lined = self.part is not None and self.part.lined
        if self.part is not None and self.part.form == "barrier":
            return Closing(
                f"Slide it over the joint{self._centred}. Fix both ends with springs, tuck every edge in."
            )
        own = self.closing()
        if not self.hot:
            return replace(own, text=f"Centre it{self._centred}. {own.text}")
        text = (
            f"Wrap it{self._centred}, close the rail to the stop, warm {self._warmed} on both sides. Heat the"
            " side away from the rail first, the middle, then the ends."
            if self.wraps
            else f"Pre-warm {self._warmed} on both sides, centre it{self._centred}. {own.text}"
        )
        caution = (
            "Keep the gun moving; stop heating an end once the adhesive shows." if lined else own.caution
        )
        return replace(own, text=text, caution=caution)

    @property
    def _past_mm(self) -> tuple[float, float]:
        """How far behind the edges on A and on B its ends come before it is closed; below 0 in front of
        them."""
        assert self.edges_mm
        more = max(0.0, (self.cut_length_mm - (self.span_mm[1] - self.span_mm[0])) / 2)
        return self.edges_mm[0] - self.span_mm[0] + more, self.span_mm[1] + more - self.edges_mm[1]

    @property
    def _inside(self) -> bool:
        """Whether it lies between the edges, on what comes out of them."""
        return self.edges_mm is not None and max(self._past_mm) < 0

    @property
    def _warmed(self) -> str:
        """Where it is warm first, in words."""
        return "where it will seal" if self._inside else f"the {self.skin}"

    @property
    def _centred(self) -> str:
        """Where its ends come, in words."""
        return f", {ends_at(self._past_mm, self.edge, self.past)}" if self.edges_mm else ""

    @property
    def _closed_at(self) -> str:
        """Where it lies tight, in words."""
        if not self.open_ends:
            return "both ends"
        left = "".join(e for e in "AB" if e not in self.open_ends)
        return f"end {left}" if left else "the thickest place; its ends are closed next"

    def _cleaned(self, end: str = "") -> Fact:
        """What it lies on made clean, on an end or on all of them."""
        return Fact("clean", Place(end, span_mm=self.span_mm))

    def work(self) -> tuple[Step, ...]:
        """Threaded, surfaces made ready, slid over, closed, looked at, left to cool."""
        surfaces = self._surfaces()
        lined = self.part is not None and self.part.lined
        tight = "smooth, no cold spot" if self.hot else "smooth and even"
        bead = (
            f"Adhesive seen all the way round at {self._closed_at}; {tight}."
            if lined and self.open_ends != "AB"
            else f"{tight.capitalize()}, tight at {self._closed_at}."
        )
        opened, closing = self.rules.number("surface.open_min"), self._closed()
        clean = self._cleaned()
        return (
            *self._park(),
            *surfaces,
            Step(
                f"seal.{self.id}",
                f"{self.verb} the {self.title}",
                "seal",
                "build",
                needs=(clean,),
                action=CLOSED[self.verb],
                timers=(
                    *self.flash_off(clean),
                    *(
                        Timer(
                            f"open-{s.end}",
                            f"sheath {s.end} clean",
                            self._cleaned(s.end),
                            None,
                            most_min=opened,
                        )
                        for s in surfaces
                        if s.end
                    ),
                ),
                part_id=self.part.id if self.wraps and self.part else "",
                acts=self._closes(),
                focus_mm=self.span_mm,
                text=closing.text,
                caution=closing.caution,
                heat=closing.heat,
                tools=closing.tools,
            ),
            Step(
                f"inspect.{self.id}",
                f"Look at the {self.title}",
                "inspect",
                "build",
                needs=(of("closed", self.id),),
                batch=self.look,
                pictured="own",
                look=bead,
                fails=(
                    "No bead at an end: reheat that end; if none comes, remake it."
                    if lined and self.hot
                    else "Gaping, torn or askew: see faults."
                ),
                photo=self.seals,
                acts=(Look(at=Place(span_mm=self.span_mm), thing=self.thing),),
                focus_mm=self.span_mm,
            ),
            *self.cool_steps(focus_mm=self.span_mm),
        )

    def consumes(self) -> tuple[Material, ...]:
        """Sleeve, abrasive, wipes; a barrier's springs."""
        if self.part is not None and self.part.form == "barrier":
            return (*super().consumes(), Material("constant-force spring, stainless", 2, "piece"))
        if not self.seals:
            return super().consumes()
        return (
            *super().consumes(),
            Material("abrasive strip", 1, "piece"),
            Material("degreasing wipe", 3, "piece"),
        )

    def minutes(self) -> Minutes:
        """Abrade, slide, close, cool."""
        return Minutes(
            self.rules.number("time.outer_min" if self.closes else "time.cover_min"),
            self.cool_min if self.hot else 0.0,
        )

    def faults(self) -> tuple[Fault, ...]:
        """Closing and sealing; forgotten, something that closes round the joint may take its place."""
        around = Mend(
            "Close it with a wrap-around, or cast it: settle that under Choose, plan anew, then go on",
            "mended",
            planned=True,
        )
        missing = (not_threaded(self.title, around),) if self.closes and self.threads() else ()
        return (*self._closing_faults(), *missing)

    def _closing_faults(self) -> tuple[Fault, ...]:
        if not self.seals:
            return super().faults()
        gap = [
            replace(f, mends=(_PIECE, *f.mends)) if f.id == "unrecovered-gap" else f for f in super().faults()
        ]
        return (
            *gap,
            *(
                (
                    Fault(
                        "no-bead",
                        "No adhesive at one end",
                        ("end left cold", "sheath not clean"),
                        (Mend("Reheat that end", "again"), _PIECE, CUT_OUT),
                    ),
                    Fault(
                        "air-trapped",
                        "A bubble under the sleeve",
                        ("ends heated before the middle",),
                        (Mend("Reheat from the middle", "again"), CUT_OUT),
                    ),
                )
                if self.hot
                else ()
            ),
            Fault(
                "surface-late",
                "The cleaned sheath lay open too long",
                ("interrupted work",),
                (
                    Mend(
                        "Wipe it clean again; roughen again what was soiled"
                        if self.roughened
                        else "Clean and roughen again, then go on",
                        "again",
                    ),
                    IN_TIME,
                    CUT_OUT,
                ),
                early=True,
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """Heat and surface."""
        return (
            (*super().tools(), f"abrasive, {self.rules['surface.grit']:g} grit", "degreasing wipes")
            if self.seals
            else super().tools()
        )
