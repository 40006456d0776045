"""Where a moulded part lies on its fitting, cable and legs, and what each of its mouths must do there."""

from dataclasses import dataclass
from functools import cached_property

from tinknot.core.families.moulded.job import MouldedJob
from tinknot.core.figures import mm
from tinknot.core.joint.cable import Round
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.moulded.seat import Course, Mouth, Seat
from tinknot.core.parts.boot import StockBoot
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_least

BEYOND_MM = 60.0  # of cable, fitting or leg drawn beyond a part
RIM_MM = 3.0  # of a fitting behind its groove, over which the lip slides
FAN_DEG = 14.0  # between two legs as they are drawn
MOUTHS = {"fitting": 2, "straight": 2, "cap": 1}  # how many a part must have, by the job


@dataclass(frozen=True)
class Place:
    """What a part goes on. x = 0 where its first mouth begins, toward its legs, mm; the fitting or the main
    cable lies on the negative side. `legs`: what the legs are called, where not by their numbers;
    `heights_mm`: how far above the joint's axis each goes on along it, where they do not fan out; `trunk`:
    what the main mouth lies on."""

    joint: MouldedJob
    rules: RuleBook
    legs: tuple[str, ...] = ()
    heights_mm: tuple[float, ...] = ()
    trunk: str = "the cable"

    @cached_property
    def cable(self) -> Round:
        """The cable, as read at two places round it."""
        return Round.of(self.joint.cable_od_mm, self.joint.cable_od_across_mm)

    @property
    def mouths(self) -> int:
        """How many mouths a part must have."""
        return 1 + int(self.joint.legs or 0) if self.joint.job == "breakout" else MOUTHS[self.joint.job]

    @property
    def band_mm(self) -> float:
        """Adhesive on sound jacket at a mouth, at least, mm."""
        return self.rules.number("boot.band_mm")

    @property
    def after_fitting(self) -> bool:
        """Whether the fitting is built on once the part is threaded."""
        return self.joint.job == "fitting" and self.joint.landed == "no"

    # --- where it lies ----------------------------------------------------------------------------------

    def seat(self, part: StockBoot) -> Seat:
        """The part in its place."""
        mouths = {
            "fitting": self._on_fitting,
            "breakout": self._on_legs,
            "straight": self._on_step,
            "cap": self._on_end,
        }[self.joint.job](part)
        first = part.openings[0].straight_mm
        corner = first + part.body_mm / 2
        end = max(m.span_mm[1] for m in mouths)
        return Seat(
            tuple(mouths), corner, float(part.angle), end if len(mouths) > 1 else first + part.body_mm
        )

    def _on_fitting(self, part: StockBoot) -> list[Mouth]:
        j, first, leg = self.joint, *part.openings
        fitting, groove = j.fitting_od_mm or 0.0, j.groove_od_mm
        rear = (j.groove_mm or first.straight_mm / 2) + RIM_MM
        sheath_at = max(j.to_sheath_mm or 0.0, rear + 1)
        begins = first.straight_mm + part.body_mm
        end = begins + leg.straight_mm
        between = j.between_od_mm or self.cable.greatest_mm
        stretches = [(-BEYOND_MM / 2, 0.0, fitting, fitting)]
        if groove is not None and j.groove_mm is not None:
            stretches.append((0.0, j.groove_mm, groove, groove))
            stretches.append((j.groove_mm, rear, fitting, fitting))
        else:
            stretches.append((0.0, rear, fitting, fitting))
        far = max(end, sheath_at) + BEYOND_MM / (2 if part.angle != "0" else 1)
        stretches.append((rear, sheath_at, between, between))
        stretches.append((sheath_at, far, self.cable.greatest_mm, self.cable.least_mm))
        under = Profile.of_stretches(stretches)
        course = Course(first.straight_mm + part.body_mm / 2, float(part.angle))
        cable = self.cable.greatest_mm
        seals = groove if groove is not None else fitting
        band = (0.0, min(first.straight_mm, self.band_mm))
        return [
            Mouth(
                0,
                "the fitting's mouth",
                "the fitting",
                max(fitting, cable),
                seals_mm=seals,
                span_mm=(0.0, first.straight_mm),
                band_mm=band,
                under=under,
                course=course,
                tape_mm=j.groove_mm,
                fitting=True,
            ),
            Mouth(
                1,
                "the cable's mouth",
                "the cable",
                cable,
                seals_mm=self.cable.least_mm,
                span_mm=(begins, end),
                band_mm=(min(max(begins, sheath_at), end), end),
                under=under,
                course=course,
            ),
        ]

    def _on_legs(self, part: StockBoot) -> list[Mouth]:
        """The main mouth to the sheath's end; legs matched to mouths by their thickness."""
        j, first = self.joint, part.openings[0]
        ends, cable = first.straight_mm, self.cable
        ods = j.leg_ods_mm
        by_mouth = sorted(range(1, len(part.openings)), key=lambda i: (-part.openings[i].expanded_id_mm, i))
        by_leg = sorted(range(len(ods)), key=lambda k: (-ods[k], k))
        reach = ends + part.body_mm + max(o.straight_mm for o in part.openings[1:]) + BEYOND_MM
        stacked, heights = -sum(ods) / 2, []
        for od in ods:
            heights.append(stacked + od / 2)
            stacked += od
        thick, before = j.before_od_mm or 0.0, j.before_mm or 0.0
        sound = max(0.0, ends - before)  # as far as the jacket is what the main mouth lies on
        trunk = [(-BEYOND_MM - before, ends - before, cable.greatest_mm, cable.least_mm)]
        if before:
            trunk.append((ends - before, ends, thick, thick))
        room = (cable.greatest_mm - min(ods)) / 2
        squeeze = min(1.0, room / max(abs(h) for h in heights)) if any(heights) and room > 0 else 1.0
        fan = FAN_DEG
        if self.heights_mm:
            heights, squeeze, fan = list(self.heights_mm), 1.0, 0.0
        legs = []
        for opening, k in zip(by_mouth, by_leg, strict=True):
            o, od = part.openings[opening], ods[k]
            begins = ends + part.body_mm
            under = Profile.of_stretches([*trunk, (ends, reach, od, od)])
            turn = (k - (len(ods) - 1) / 2) * fan
            jacket = ends + (j.crutch_mm or 0.0)
            span = (begins, begins + o.straight_mm)
            band = (min(max(begins, jacket), span[1]), span[1])
            course = Course(ends, turn, heights[k] * squeeze)
            name = self.legs[k] if self.legs else f"leg {k + 1}"
            legs.append(
                Mouth(
                    opening,
                    name,
                    name,
                    od,
                    seals_mm=od,
                    span_mm=span,
                    band_mm=band,
                    under=under,
                    course=course,
                )
            )
        main = Mouth(
            0,
            "the main mouth",
            self.trunk,
            max(cable.greatest_mm, thick, *ods),
            seals_mm=cable.least_mm,
            span_mm=(0.0, ends),
            band_mm=(0.0, sound),
            under=legs[0].under,
        )
        return [main, *sorted(legs, key=lambda m: m.name)]

    def _on_step(self, part: StockBoot) -> list[Mouth]:
        j, first, second = self.joint, *part.openings
        length = first.straight_mm + part.body_mm + second.straight_mm
        between = j.between_mm or 0.0
        a = (length - between) / 2
        b = a + between
        here, most = self.cable, j.between_od_mm or 0.0
        other = Round.of(j.other_od_mm, None) if j.other_od_mm else here
        under = Profile.of_stretches(
            [
                (min(0.0, a) - BEYOND_MM, a, here.greatest_mm, here.least_mm),
                *([(a, b, most, most)] if between else []),
                (b, max(length, b) + BEYOND_MM, other.greatest_mm, other.least_mm),
            ]
        )
        begins = length - second.straight_mm
        return [
            Mouth(
                0,
                "the mouth on this side",
                "this side's jacket",
                here.greatest_mm,
                seals_mm=here.least_mm,
                span_mm=(0.0, first.straight_mm),
                band_mm=(0.0, max(0.0, min(first.straight_mm, a))),
                under=under,
            ),
            Mouth(
                1,
                "the mouth on the far side",
                "the far side's jacket",
                max(here.greatest_mm, most, other.greatest_mm),
                seals_mm=other.least_mm,
                span_mm=(begins, length),
                band_mm=(min(max(begins, b), length), length),
                under=under,
            ),
        ]

    def _on_end(self, part: StockBoot) -> list[Mouth]:
        first, c = part.openings[0].straight_mm, self.cable
        under = Profile.of_stretches([(-BEYOND_MM, first, c.greatest_mm, c.least_mm)])
        return [
            Mouth(
                0,
                "its mouth",
                "the cable's end",
                c.greatest_mm,
                seals_mm=c.least_mm,
                span_mm=(0.0, first),
                band_mm=(0.0, first),
                under=under,
            )
        ]

    # --- what speaks against a part ---------------------------------------------------------------------

    def over_fitting(self, part: StockBoot, needed_mm: float) -> bool:
        """Whether every mouth of a part passes the fitting, which opens `needed_mm` and more."""
        return all(at_least(o.expanded_id_mm, needed_mm) for o in part.openings)

    def against(self, part: StockBoot, seat: Seat | None, properties: frozenset[str]) -> str:
        """What besides its mouths speaks against a part in its seat, None where it has not as many mouths as
        are needed; empty where nothing does."""
        j, mouths = self.joint, len(part.openings)
        if seat is None:
            return f"has {mouths} mouth{'s' if mouths > 1 else ''}, {self.mouths} are needed"
        if lacks := sorted(properties - {*part.properties, "lined"}):
            return f"is not {', '.join(lacks)}"
        if j.job == "fitting" and part.angle != j.angle:
            return f"is bent by {part.angle}°, {j.angle}° are asked for"
        if j.job == "fitting" and j.groove_mm is not None and part.lip_mm is None:
            return "has no lip for the groove"
        if j.groove_mm is not None and part.lip_mm is not None and not at_least(j.groove_mm, part.lip_mm):
            return f"its lip is {mm(part.lip_mm):g} mm wide, the groove {mm(j.groove_mm):g} mm"
        if j.landed == "both" and part.form == "closed":
            return "is closed, and both ends are landed"
        if j.landed == "here" and j.job in ("breakout", "cap") and part.form == "closed":
            return "is closed, and what it goes over is landed"
        for m in seat.mouths:
            if not m.fitting and not at_least(m.adhesive_mm, self.band_mm):
                return (
                    f"reaches {mm(m.adhesive_mm):.3g} mm onto {m.on}, {mm(self.band_mm):g} mm are"
                    " needed for adhesive"
                )
        return ""
