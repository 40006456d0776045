"""A surface made ready for what seals on it: degreased, roughened, wiped once more before it is closed."""

from dataclasses import replace

from tinknot.core.acts import Act, Place, Roughen, Wipe
from tinknot.core.facts import Fact
from tinknot.core.figures import said_mm
from tinknot.core.layers.contract import Batch, Gate, Reading, Step
from tinknot.core.rulebook import RuleBook


def rough(end: str) -> Fact:
    """The sheath of an end roughened, so far as it is to be."""
    return Fact("rough", Place(end, skin="sheath"))


def degreased(rules: RuleBook, at: Place) -> Wipe:
    """A surface wiped with solvent, which flashes off."""
    return Wipe(at=at, solvent=True, flash_min=rules.number("surface.flash_min"))


def abraded(rules: RuleBook, at: Place, reach_mm: float) -> tuple[Act, ...]:
    """A surface degreased, roughened `reach_mm` far and wiped dry."""
    return degreased(rules, at), Roughen(at=at, mm=reach_mm), Wipe(at=at)


def scratches(flexes: bool) -> str:
    """Which way the scratches run on a cable, and why: `flexes` is one that moves."""
    if flexes:
        return "along the cable: a scratch round it would crack where it bends"
    return "finishing round the cable: a long scratch is a leak path"


def roughened_gate(rules: RuleBook, label: str, reach_mm: float) -> Gate:
    """How far a surface is roughened, mm, `label` saying from where."""
    return Gate(
        "roughened",
        label,
        "mm",
        reach_mm,
        tolerance=5.0,
        required=False,
        accept="roughened" in rules.names("tolerance.accept"),
        instrument="tape",
    )


DUST = "Before anything lies open: its dust conducts and keeps water."


def roughening(
    step: str,
    title: str,
    rules: RuleBook,
    reach_mm: float,
    *,
    at: Place,
    flexes: bool,
    batch: Batch | None,
    needs: tuple[Fact, ...],
    label: str = "from the sheath cut",
    caution: str = DUST,
) -> Step:
    """A sheath degreased, roughened `reach_mm` from its mark and wiped dry, before something lies open that
    its dust would fall on; it is wiped once more when it is closed."""
    how = f"abrade {said_mm(reach_mm)} mm with {rules['surface.grit']:g} grit, {scratches(flexes)}"
    return Step(
        step,
        title,
        "surface",
        "cut",
        needs=needs,
        text=f"Degrease, {how}, wipe dry, blow it clean.",
        caution=caution,
        batch=batch,
        end=at.end,
        reading=Reading((roughened_gate(rules, label, reach_mm),)),
        acts=abraded(rules, at, reach_mm),
        makes=(Fact("rough", replace(at, span_mm=None)),),
    )


OFF_MASTIC = "Keep off what is laid already: a wipe takes it off."


def wiped_again(
    step: str,
    title: str,
    rules: RuleBook,
    what: str,
    *,
    at: Place,
    needs: tuple[Fact, ...],
    batch: Batch,
    makes: tuple[Fact, ...] = (),
    keep_off: str = "",
) -> Step:
    """What was roughened early, in words, wiped just before it is closed; `keep_off`: what is not wiped, as a
    sentence."""
    return Step(
        step,
        title,
        "surface",
        "build",
        needs=needs,
        text=" ".join(
            s for s in (f"Degrease {what}, with a fresh cloth.", keep_off, "Let it flash off.") if s
        ),
        caution="Solvent away from heat.",
        batch=batch,
        end=at.end,
        acts=(degreased(rules, at),),
        makes=makes,
    )
