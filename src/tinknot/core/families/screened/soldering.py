"""What holds the donor braid on the folds, and the solder sleeve on each, for the donor that is taken."""

from dataclasses import dataclass, replace

from tinknot.core.choosing.choose import Window
from tinknot.core.families.choice import Choice, choice_of_whole
from tinknot.core.families.screened.file import Fixing
from tinknot.core.families.screened.job import ScreenedJob
from tinknot.core.figures import mm
from tinknot.core.joint.profile import Profile
from tinknot.core.layers.screen import fold_mm
from tinknot.core.layers.screened.screens import DonorBraid
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.rulebook import RuleBook
from tinknot.core.tolerance import at_most

Chosen = tuple[Choice, StockSolderSleeve | None]


@dataclass(frozen=True)
class Holding:
    """What holds the donor braid: how, and the solder sleeves looked at for it, side by side."""

    fixed: Fixing
    solder: tuple[Chosen, ...] = ()

    def fold_mm(self, rules: RuleBook, sheath: float, side: int) -> float:
        """How far the braid is folded back over a sheath, mm: no longer than there is room for in the solder
        sleeve that goes over it."""
        most = fold_mm(rules, sheath)
        part = self.solder[side][1] if self.fixed == "solder" and self.solder else None
        return most if part is None else min(most, part.fold_room_mm)


def held_by(job: ScreenedJob, donor: DonorBraid | None, over: Profile, half_mm: float) -> Holding:
    """As asked for, else by solder where it may be and fits on both sides. `over`: the joint with the donor
    drawn over it, `half_mm` from its middle to the sheath cuts."""
    asked = job.joint.fixed
    if job.joint.cold_only or asked in ("spring", "ring"):
        return Holding(asked or "spring")
    thick = (
        donor.thick_mm if donor else max((d.braid.thickness_mm for d in job.joint.stock.donors), default=0)
    )
    most = max((s.length_mm - s.solder_at_mm for s in job.joint.stock.solder_sleeves), default=0.0)
    found = []
    for side, sign in enumerate((-1, 1)):
        cut, inner = sign * half_mm, sign * max(0.0, half_mm - most)
        front = over.between(min(cut, inner), max(cut, inner)).least()
        found.append(solder_choice(job, side, job.sheath[side], job.braid_mm + thick, front_mm=front))
    return Holding(asked or ("solder" if all(part for _, part in found) else "spring"), tuple(found))


def solder_choice(job: ScreenedJob, side: int, sheath: float, on_mm: float, front_mm: float) -> Chosen:
    """Every solder sleeve over fold and donor braid on one side, which together are `on_mm` thick; its wide
    mouth closes on the sheath, the other on what lies `front_mm` thick in front of it."""
    name, fold = "AB"[side], fold_mm(job.rules, sheath)
    thick = sheath + 2 * on_mm
    window = Window(
        thick, min(sheath, front_mm), ((0.0, sheath), (1.0, sheath)), need_lined=True, squareness_mm=0
    )
    parts = job.joint.stock.solder_sleeves

    def against(s: StockSolderSleeve) -> str:
        if s.lead_mm2 is not None:
            return "has a lead in it"
        if not at_most(s.melts_c, job.joint.bears_c):
            return f"melts at {s.melts_c:g} °C, what lies under the screen bears {job.joint.bears_c:g} °C"
        if not at_most(s.solder_mm, min(fold, s.fold_room_mm)):
            own = min(fold, s.fold_room_mm)
            return f"its ring of solder is {mm(s.solder_mm):g} mm wide, the fold {mm(own):.1f} mm"
        return s.too_short_for_fold(job.rules.number("screen.fold_min_mm"))

    choice, part = choice_of_whole(
        f"solder-{name}",
        f"solder sleeve on {name}",
        window,
        parts,
        margins=job.margins,
        against=against,
        today=job.today,
        properties=job.properties,
        rings={s.id: s.rings for s in parts},
        called="a solder sleeve without a lead",
        besides=(
            f"its solder melts at {job.joint.bears_c:g} °C or less: more than that the cores do not bear",
            f"it has room for {mm(job.rules.number('screen.fold_min_mm')):g} mm of fold",
        ),
    )
    half = min(fold, part.fold_room_mm) / 2 if part else fold / 2
    return replace(choice, bare_mm=(-half, half)), part
