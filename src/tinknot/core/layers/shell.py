"""The shell put round a joint, filled with resin and cured."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import pi

from tinknot.core.acts import (
    Act,
    Close,
    LayOn,
    Look,
    Mix,
    Place,
    PourIn,
    SlideTo,
    Thing,
    ThreadOn,
    Wait,
)
from tinknot.core.choosing.park import Side
from tinknot.core.drawing.model import Body, Circle
from tinknot.core.drawing.outline import rounded
from tinknot.core.drawing.stage import Lies, Stage
from tinknot.core.facts import Fact, of, over_all, taken_off
from tinknot.core.figures import ends_at, mm, said_mm
from tinknot.core.joint.cable import CableEnd
from tinknot.core.joint.profile import Profile
from tinknot.core.layers import batches
from tinknot.core.layers.contract import (
    Cure,
    Fault,
    Gate,
    Layer,
    Material,
    Mend,
    Minutes,
    Piece,
    Reading,
    Setting,
    Step,
    Threaded,
    Timer,
    pieces_of,
)
from tinknot.core.layers.mends import CUT_OUT, IN_TIME
from tinknot.core.layers.pour import CutShell, Pour
from tinknot.core.layers.surfaces import OFF_MASTIC, abraded, roughened_gate, wiped_again
from tinknot.core.rulebook import RuleBook

_FILL = "Fill to the brim."
MIX = "mix.resin"
FULL = Fact("full")


def _mix_id(k: int) -> str:
    """What the mix of pack `k` is called."""
    return MIX if k == 1 else f"{MIX}.{k}"


TAPE_MM = 0.15  # PVC tape, 19 mm wide (IEC 60454-3-1)


@dataclass(frozen=True)
class ResinShell(Layer):
    """The shell closed round the joint and filled. `persons` mix and pour; `at_once`: all packs were mixed in
    one step, by a plan of before each had its own; `sleeved`: what lies in it is under an outer sleeve;
    `roughened`: its sheaths are roughened already, and only wiped; `spaced`: its spacers stand already."""

    cut: CutShell
    lot: str
    pour: Pour
    ends: tuple[CableEnd, ...]
    sheath_in_mm: tuple[float, float]
    spacers: int
    spacers_said: str
    rules: RuleBook
    park_on: Side = "either"
    persons: int = 1
    at_once: bool = False
    sleeved: bool = False
    roughened: bool = False
    spaced: bool = False

    def closes_mm(self) -> tuple[float, float] | None:
        """Its span."""
        return self.span_mm

    @property
    def span_mm(self) -> tuple[float, float]:
        """What it covers."""
        return self.cut.reach_mm

    def lies(self) -> Lies | None:
        """Over the joint."""
        return Lies(self.span_mm)

    def bodies(self, stage: Stage) -> Iterator[Body]:
        """The resin that fills it, and its wall cut open."""
        bore = self.cut.bore()
        edge = rounded([(s.x_mm, s.greatest_mm / 2) for s in bore.stations])
        yield Body(
            id=f"{self.id}-resin",
            kind="resin",
            layer=self.id,
            depth_mm=stage.depth_mm - 0.1,
            top=edge,
            bottom=[(x, -r) for x, r in edge],
        )
        wall = stage.wall(bore)
        yield Body(id=self.id, kind="shell", layer=self.id, depth_mm=stage.depth_mm, **wall)

    def rings(self, stage: Stage, x: float) -> Iterator[Circle]:
        """Its wall, full of resin."""
        inside = self.cut.bore().at(x).greatest_mm
        yield Circle(kind="shell", layer=self.id, od_mm=stage.over.at(x).greatest_mm, inside_mm=inside)
        yield Circle(kind="resin", layer=self.id, od_mm=inside)

    def apply(self, under: Profile) -> Profile:
        """The shell's outside."""
        bore, wall = self.cut.bore(), self.cut.shell.wall_mm
        a, b = self.span_mm
        over = [s.__class__(s.x_mm, s.greatest_mm + 2 * wall, s.least_mm + 2 * wall) for s in bore.stations]
        return Profile(
            (*under.between(under.start_mm, a).stations, *over, *under.between(b, under.end_mm).stations)
        )

    def threads(self) -> tuple[Threaded, ...]:
        """A tube mould is threaded on; a split one is not."""
        shell = self.cut.shell
        if shell.form == "split":
            return ()
        a, b = self.span_mm
        return (Threaded(self.id, shell.id, "sheath", b - a, end=self.park_on.upper(), order=1),)

    def _cut_words(self, how: str) -> str:
        """Where its ends are cut, after `how`; a plain pipe is taken as it is."""
        stages = self.cut.shell.stages
        if not stages:
            return "ends as they are"
        words = []
        for end, n in zip("AB", self.cut.first_stage, strict=True):
            d = stages[n].inside_diameter_mm if n < len(stages) else self.cut.shell.body_inside_mm
            words.append(f"{end} at the {said_mm(d)} mm stage")
        return how + " and ".join(words)

    def work(self) -> tuple[Step, ...]:
        """Sheaths roughened, shell cut, closed and sealed, resin mixed, poured, topped up, cured."""
        shell, resin, pour = self.cut.shell, self.pour.resin, self.pour
        grit = self.rules["surface.grit"]
        hands = "Gloves and eyes; ventilate." + (
            " Isocyanate: trained people only." if resin.isocyanate else ""
        )
        park: tuple[Step, ...] = ()
        if shell.form == "tube":
            end = self.park_on.upper()
            park = (
                Step(
                    f"park.{self.id}",
                    f"Thread the tube mould on side {end}",
                    "park",
                    "park",
                    needs=(taken_off(end, "sheath"), Fact("clean", Place(end, skin="sheath"))),
                    text=f"{shell.said}, {self._cut_words('ends cut ')}. Slide it well back.",
                    caution="It cannot be put on later.",
                    batch=batches.WHOLE,
                    end=end,
                    part_id=shell.id,
                    acts=(ThreadOn(at=Place(end), thing=self.thing),),
                ),
            )
        surfaces = (
            self._wiped()
            if self.roughened
            else [
                Step(
                    f"surface.{self.id if self.sleeved else 'sheath'}.{e.name}",
                    f"Roughen {'sleeve and ' if self.sleeved else 'the '}sheath on {e.name}",
                    "surface",
                    "build",
                    needs=over_all(),
                    text=f"Degrease, abrade with {grit:g} grit all that will lie in resin, wipe dry.",
                    caution="Solvent away from heat; let it flash off.",
                    batch=batches.SURFACE_SLEEVED if self.sleeved else batches.SURFACE_SHEATH,
                    end=e.name,
                    reading=Reading(
                        (
                            roughened_gate(
                                self.rules,
                                "from the sleeve's edge" if self.sleeved else "from the sheath cut",
                                over,
                            ),
                        )
                    ),
                    acts=abraded(self.rules, self._skin(e.name), over),
                )
                for e, over in zip(self.ends, self.sheath_in_mm, strict=True)
            ]
        )
        return (
            *park,
            *surfaces,
            self._closed(),
            *self._pours(hands),
            Step(
                "inspect.resin",
                "Top up and look",
                "inspect",
                "build",
                needs=(FULL,),
                text=(
                    "It settles: top up from the rest of the pack. Leave some in the pack beside the joint,"
                    " as a coupon."
                ),
                look="Filled to the brim, one colour, no bubbles coming, no leak.",
                fails="A leak or streaks: see faults.",
                photo=True,
                acts=(Look(at=Place(span_mm=self.span_mm), thing=self.thing),),
                focus_mm=self.span_mm,
            ),
            *self._lid(),
            Step(
                f"cure.{self.id}",
                "Let it cure",
                "wait",
                "build",
                needs=(of("closed", f"{self.id}-lid") if self.tube else of("looked", self.id),),
                action="It is cured",
                text="Note its temperature now and then. Do not move or load it before it may be handled.",
                reading=Reading(
                    (
                        Gate(
                            "temperature",
                            "resin or air beside it",
                            "°C",
                            required=False,
                            instrument="thermometer",
                        ),
                    )
                ),
                cure=Cure(
                    tuple((p.temperature_c, p.minutes) for p in resin.clock().law.points),
                    resin.least_temperature_c,
                    FULL,
                    self.rules.number("cure.handle"),
                    full=self.rules.number("cure.energise"),
                    handle_min=pour.handle_min,
                    full_min=pour.full_min,
                ),
                acts=(Wait(at=Place(span_mm=self.span_mm), thing=self.thing, until="cured"),),
                focus_mm=self.span_mm,
            ),
        )

    def _wiped(self) -> list[Step]:
        """Sheaths that are roughened already, wiped just before they are closed in."""
        return [
            wiped_again(
                f"wipe.sheath.{e.name}",
                f"Wipe the roughened sheath on {e.name}",
                self.rules,
                "all that will lie in resin",
                keep_off=OFF_MASTIC,
                at=self._skin(e.name),
                needs=over_all(),
                batch=batches.WIPE_SHEATH,
            )
            for e in self.ends
        ]

    @property
    def thing(self) -> Thing:
        """The shell as it is taken to the work: a tube is open by what its end toward the joint is cut to."""
        shell = self.cut.shell
        bore = self.cut.inside[0 if self.park_on == "b" else -1][1] if self.tube else None
        return Thing(
            self.id,
            "tube mould" if self.tube else "shell",
            bore,
            od_mm=self.cut.bore().greatest() + 2 * shell.wall_mm,
            seals="resin",
            of=shell.said,
        )

    def _skin(self, end: str) -> Place:
        """What of an end lies in the resin."""
        return Place(end, skin="sheath", span_mm=self.span_mm)

    @property
    def spacers_laid(self) -> LayOn:
        """What holds the cores apart, or the sleeve off the wall."""
        within = Place(skin="" if self.sleeved else "core", span_mm=self.span_mm)
        gap = 0.0 if self.sleeved else self.rules.number("resin.core_gap_mm")
        return LayOn(at=within, thing=Thing(f"{self.id}-spacers", "spacers", of="spacer", apart_mm=gap))

    def _closing(self) -> tuple[Act, ...]:
        """Spacers, where none stand already; then the mould over them or the shell round them."""
        seat = Place(span_mm=self.span_mm)
        held: tuple[Act, ...] = () if self.spaced else (self.spacers_laid,)
        on: tuple[Act, ...] = ()
        if self.tube:
            on = (SlideTo(at=seat, thing=self.thing, from_end=self.park_on.upper()),)
        return (*held, *on, Close(at=seat, thing=self.thing))

    @property
    def tube(self) -> bool:
        """Whether it is one tube, open at its upper end until it is full."""
        return self.cut.shell.form == "tube"

    @property
    def _clean(self) -> Fact:
        """All that will lie in the resin made clean."""
        return Fact("clean", Place(skin="sheath", span_mm=self.span_mm))

    @property
    def _lower(self) -> str:
        """The end that a tube comes to first, and stands on."""
        return "A" if self.park_on == "b" else "B"

    @property
    def _built_up(self) -> str:
        """The sheath made as thick as the lower end of a tube, which is as wide as the joint."""
        n = "AB".index(self._lower)
        edge = "the sleeve" if self.sleeved else "the sheath cut"
        return (
            f"Wind tape on {self._lower}'s sheath, {said_mm(self.sheath_in_mm[n])} mm from {edge}, up to"
            f" {mm(self.cut.mouths_mm[n]):g} mm"
        )

    def _build_up_mm(self) -> float:
        """How much tape that takes, mm."""
        n = "AB".index(self._lower)
        bore, od = self.cut.mouths_mm[n], self.ends[n].sheath.least_mm
        return round(pi / 4 * (bore**2 - od**2) / TAPE_MM, -2)

    def _closed(self) -> Step:
        """Round the joint and tight, but for where it is filled."""
        apart = "the spacers in their places" if self.spaced else self.spacers_said
        held = "Sleeve off the wall all round" if self.sleeved else "Cores held apart and off the wall"
        how = (
            f"{apart}. {self._built_up}. Slide the mould over the joint and on to it, tape that end tight,"
            f" and stand it upright, {self._lower} below, the upper end open."
            if self.tube
            else f"{self.cut.shell.said}: {self._cut_words('cut the ends ')}, {apart}, centre it,"
            f" {ends_at(self.sheath_in_mm, 'the sheath cut')}, tape both ends tight."
        )
        return Step(
            "shell.close",
            "Slide the tube mould on and seal its lower end"
            if self.tube
            else "Close the shell round the joint",
            "fit",
            "build",
            needs=(self._clean,),
            text=how,
            look=(
                f"{held}, lower end tight, upright and held so."
                if self.tube
                else f"{held}, ends tight, filling opening on top."
            ),
            part_id="" if self.tube else self.cut.shell.id,
            photo=True,
            focus_mm=self.span_mm,
            acts=self._closing(),
        )

    def _lid(self) -> tuple[Step, ...]:
        """The upper end of a tube mould, closed once it is topped up."""
        if not self.tube:
            return ()
        return (
            Step(
                "shell.lid",
                "Close the upper end of the mould",
                "fit",
                "build",
                needs=(of("looked", self.id),),
                text="Tape it tight over the resin. Leave it upright until it has gelled.",
                look="No resin comes out when it is tapped.",
                focus_mm=self.span_mm,
                acts=(Close(at=Place(span_mm=self.span_mm), thing=Thing(f"{self.id}-lid", "lid")),),
            ),
        )

    @property
    def _how(self) -> str:
        """How a pack goes in."""
        way = "from the open end, down one side" if self.tube else "from one side or by the lower port"
        return f"Slowly, {way}, so that the air gets out."

    def _pours(self, hands: str) -> Iterator[Step]:
        """Each pack mixed and poured by its own clock."""
        pour, shut = self.pour, of("closed", self.id)
        packs = [r for r, _, n in pour.packs for _ in range(n)]
        many = len(packs)
        if self.at_once or many == 1:
            said = ", ".join(f"{n} × {r.said}" for r, _, n in pour.packs)
            yield self._mix(1, "Mix the resin", (shut,), f"{said}. {self._knead(' a pack')}", hands=hands)
            clock = Timer("pot-life", "pot life of the mix", of("mixed", MIX), None, most_min=pour.window_min)
            yield self._pour(
                1,
                "Pour",
                (of("mixed", MIX),),
                f"then it gels. {hands}",
                how=f"{self._how} {_FILL}",
                timers=(clock,),
                last=True,
            )
            return
        for k, r in enumerate(packs, 1):
            of_all, last = f"pack {k} of {many}", k == many
            mixed, before = of("mixed", _mix_id(k)), of("mixed", _mix_id(k - 1))
            poured = of("laid", _mix_id(k - 1))
            alone = "" if self.persons > 1 or k == 1 else " Open it only now that the one before is in."
            waits = shut if k == 1 else before if self.persons > 1 else poured
            text = f"{r.said}.{alone} {self._knead()}"
            yield self._mix(k, f"Mix {of_all}", (waits,), text, hands=hands, part=r.id)
            words = "then it gels" if k == 1 else f"then it gels, and pack {k - 1} under it"
            timers = [Timer("pot-life", f"pot life of pack {k}", mixed, None, most_min=pour.window_min)]
            if k > 1:
                still = f"pack {k - 1} still takes the next"
                timers.append(Timer("under", still, before, None, most_min=pour.window_min))
            yield self._pour(
                k,
                f"Pour {of_all}",
                (mixed, poured) if k > 1 else (mixed,),
                f"{words}. {hands}",
                how=f"{self._how} {_FILL}" if last else self._how,
                timers=tuple(timers),
                last=last,
            )

    def _knead(self, each: str = "") -> str:
        """How two parts become one, in words."""
        return (
            f"Separator out completely; knead {self.pour.mix_min:g} min{each} to one colour, no streaks,"
            " warm to the hand."
        )

    def _mix(
        self, k: int, title: str, needs: tuple[Fact, ...], text: str, hands: str, *, part: str = ""
    ) -> Step:
        """Pack `k` mixed; the first one by the clock of the clean sheath."""
        packs = {r.id: r for r, _, _ in self.pour.packs}
        resin, opened = packs.get(part, self.pour.resin), self.rules.number("surface.open_min")
        name = _mix_id(k)
        return Step(
            name,
            title,
            "mix",
            "build",
            needs=needs,
            text=text,
            caution=hands,
            part_id=part or resin.id,
            tools=("thermometer",),
            focus_mm=self.span_mm,
            reading=Reading(
                (
                    Gate(
                        "resin",
                        "resin in the pack",
                        "°C",
                        least=resin.least_temperature_c,
                        instrument="thermometer",
                    ),
                )
            ),
            timers=(Timer("clean", "sheath clean", self._clean, None, most_min=opened),) if k == 1 else (),
            acts=(
                Mix(
                    thing=Thing(name, "resin", seals="resin", of=resin.said),
                    within_min=self.pour.window_min,
                    minutes=self.pour.mix_min,
                ),
            ),
        )

    def _pour(
        self,
        k: int,
        title: str,
        needs: tuple[Fact, ...],
        then: str,
        *,
        how: str,
        timers: tuple[Timer, ...],
        last: bool,
    ) -> Step:
        return Step(
            "seal.resin" if last else f"pour.resin.{k}",
            title,
            "seal",
            "build",
            needs=needs,
            action="Poured",
            text=how,
            caution=f"{self.pour.window_min:.0f} min from now; {then}",
            focus_mm=self.span_mm,
            timers=timers,
            acts=(
                PourIn(
                    at=Place(span_mm=self.span_mm),
                    thing=Thing(_mix_id(k), "resin", seals="resin", of=self.pour.resin.said),
                    last=last,
                    minutes=self.pour.pour_min / self.pour.pack_count,
                    seals_on=tuple(self._skin(e.name) for e in self.ends),
                ),
            ),
        )

    def consumes(self) -> tuple[Material, ...]:
        """Shell, packs, spacers, tape, abrasive."""
        shell = self.cut.shell
        return (
            Material(shell.said, 1, "piece", shell.on_hand, part_id=shell.id, lot=self.lot),
            *(
                Material(r.said, n, "piece", r.on_hand, part_id=r.id, lot=lot)
                for r, lot, n in self.pour.packs
            ),
            Material("spacer", self.spacers, "piece"),
            *(
                (Material("PVC tape, to build up under the mould", self._build_up_mm(), "mm"),)
                if self.tube
                else ()
            ),
            Material("tape round an end of the shell", 2, "piece"),
            Material("abrasive strip", 2, "piece"),
            Material("degreasing wipe", 4, "piece"),
        )

    def counted(self) -> tuple[Piece, ...]:
        """The shell and its packs."""
        over = self.cut.bore().greatest() + 2 * self.cut.shell.wall_mm
        return pieces_of(self.consumes(), over)

    def minutes(self) -> Minutes:
        """Roughen, close, mix, pour; then the cure."""
        hands = (
            self.rules.number("time.shell_min")
            + sum(n for *_, n in self.pour.packs) * self.pour.mix_min
            + self.pour.pour_min
        )
        return Minutes(hands, self.pour.full_min)

    def faults(self) -> tuple[Fault, ...]:
        """Mixing, filling, curing."""
        return (
            Fault("streaks", "Streaks in the resin", ("not mixed through",), (CUT_OUT,)),
            Fault(
                "underfill",
                "It has sunk below the brim",
                ("air let out late", "not topped up"),
                (Mend("Top up while it is liquid, or with a fresh pack", "mended"), CUT_OUT),
            ),
            Fault(
                "leak",
                "Resin runs out at an end",
                ("end not taped tight", "stage cut too wide"),
                (Mend("Stop the leak, top up", "mended"), CUT_OUT),
            ),
            Fault(
                "surface-late",
                "Something was too late: the mix, or the cleaned sheath",
                ("interrupted work",),
                (Mend("Begin again before it: clean surface, fresh pack", "again"), IN_TIME, CUT_OUT),
                early=True,
            ),
            Fault(
                "cured-cold",
                "It cured too cold and stays soft",
                ("colder than thought",),
                (Mend("Warm it gently, keep noting its temperature", "mended"), CUT_OUT),
            ),
        )

    def tools(self) -> tuple[str, ...]:
        """Mould and mix."""
        return (
            f"abrasive, {self.rules['surface.grit']:g} grit",
            "degreasing wipes",
            "saw for the shell's ends",
            "surface thermometer",
            "gloves and goggles",
        )

    def settings(self) -> tuple[Setting, ...]:
        """The pour."""
        p = self.pour
        return (
            Setting(
                "resin",
                f"mixed {p.mix_min:g} min at {p.resin_c:g} °C, poured within {p.window_min:.0f} min",
                p.resin.said,
            ),
        )
