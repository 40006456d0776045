"""The solder sleeve on a fold, chosen."""

from dataclasses import replace

from tinknot.core.choosing.choose import Window
from tinknot.core.families.choice import Choice, choice_of_whole
from tinknot.core.families.recipe import AskingRecipe
from tinknot.core.families.screened.file import ScreenedFile
from tinknot.core.families.screened.solution import ScreenedSolution
from tinknot.core.figures import mm
from tinknot.core.layers.screen import fold_mm
from tinknot.core.parts.solder_sleeve import StockSolderSleeve
from tinknot.core.tolerance import at_most


def solder_choice(
    job: AskingRecipe[ScreenedFile, ScreenedSolution], side: int, sheath: float, braid_mm: float
) -> tuple[Choice, StockSolderSleeve | None]:
    """Every solder sleeve over fold and donor braid on one side."""
    name, fold = "AB"[side], fold_mm(job.rules, sheath)
    thick = sheath + 2 * braid_mm + 2 * max((d.braid.thickness_mm for d in job.joint.stock.donors), default=0)
    front = job.joint.inside_od_mm
    window = Window(
        thick, min(sheath, front), ((0.0, sheath), (1.0, sheath)), need_lined=True, squareness_mm=0
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
    )
    half = min(fold, part.fold_room_mm) / 2 if part else fold / 2
    return replace(choice, bare_mm=(-half, half)), part
