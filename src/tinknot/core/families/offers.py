"""A choice with every candidate on it, and what to order where nothing serves."""

from collections.abc import Mapping, Sequence
from math import ceil, floor

from tinknot.core.choosing.choose import Rejected
from tinknot.core.choosing.why import decided
from tinknot.core.families.choice import Choice
from tinknot.core.figures import LEAST, MOST, capital, mm
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.layers.sleeve import COLD
from tinknot.core.parts.sleeve import StockSleeve
from tinknot.core.plan.parts import CandidateOut, ChoiceOut, RingOut


def choice_out(choice: Choice, margins: Margins, sleeves: Mapping[str, StockSleeve]) -> ChoiceOut:
    """A choice with every candidate on it: those that fit first, then the rejected, nearest first."""
    w = choice.window
    need, allow = (
        margins.needed_expanded_mm(w.pass_od_mm),
        margins.allowed_recovered_mm(w.seal_od_mm),
    )
    rows = [(r.candidate, r.fit, "", r.cut_length_mm, r.waste_mm) for r in choice.ranked]
    refused = sorted(
        choice.rejected(), key=lambda r: (r.fit.pass_short_by_mm + r.fit.grip_short_by_mm, r.candidate.id)
    )
    rows += [(r.candidate, r.fit, r.reason, None, None) for r in refused]  # type: ignore[misc]  # no cut where refused
    found = [
        CandidateOut(
            part_id=c.id,
            name=sleeves[c.id].name or c.id,
            expanded_id_mm=c.tube.expanded_id_mm,
            recovered_id_mm=c.tube.recovered_id_mm,
            lined=c.lined,
            stiff=sleeves[c.id].stiff,
            verdict=f.verdict if not reason or f.verdict != "fits" else "refused",
            reason=reason,
            comfort=f.comfort,
            pass_short_by_mm=f.pass_short_by_mm,
            grip_short_by_mm=f.grip_short_by_mm,
            cut_length_mm=None if choice.as_it_comes else cut,
            waste_mm=waste,
            on_hand_mm=c.on_hand_mm,
            rings=[RingOut(**vars(x)) for x in choice.rings.get(c.id, ())],
        )
        for c, f, reason, cut, waste in rows
    ]
    return ChoiceOut(
        layer=choice.layer,
        title=choice.title,
        pass_od_mm=w.pass_od_mm,
        seal_od_mm=w.seal_od_mm,
        needed_expanded_mm=need,
        allowed_recovered_mm=allow,
        ratio_needed=need / allow,
        covered_mm=w.profile[-1][0] - w.profile[0][0],
        least_wall_mm=w.least_wall_mm,
        picked=choice.picked.candidate.id if choice.picked else None,
        advice="" if choice.ranked else _advice(choice, refused, need, allow, sleeves=sleeves),
        candidates=found,
        slot=choice.slot,
        layers=list(choice.layers),
        cores=list(choice.cores),
        decided=_decided(choice, sleeves),
        bare_mm=choice.bare_mm,
        of=choice.of,
    )


def _decided(choice: Choice, sleeves: Mapping[str, StockSleeve]) -> str:
    """The rule that decided between the part picked and the best of the others; of one that is not ranked
    first, what would have spoken for that."""
    picked = choice.picked
    other = next((r for r in choice.ranked[:2] if picked and r.candidate.id != picked.candidate.id), None)
    if picked is None or other is None or choice.as_it_comes:
        return ""
    name = sleeves[other.candidate.id].name or other.candidate.id
    if words := decided(picked, other, choice.window):
        return f"Rather than {name}: {words}."
    against = decided(other, picked, choice.window)
    if not against:
        return f"{name} would do as well."
    why = "You settled on it" if choice.wanted else "It suits the whole joint better"
    return f"{why}; by itself {name} comes first: {against}."


def _advice(
    choice: Choice, refused: Sequence[Rejected], need: float, allow: float, sleeves: Mapping[str, StockSleeve]
) -> str:
    """What to order where nothing serves: more of what would fit if it were there, else the sleeve to look
    for, with all it must be; a sleeve that is here and is refused for one of these things does not answer
    to it."""
    w = choice.window
    short = next((r for r in refused if r.fit.verdict == "fits" and r.short), None)
    if short is not None:
        name = sleeves[short.candidate.id].name or short.candidate.id
        return f"Order more of {name}: {short.reason}."
    must = sorted(w.properties - {"lined", COLD}) + (
        [f"rated {w.voltage_v:g} V or more"] if w.voltage_v is not None else []
    )
    fitting = any(r.fit.verdict == "fits" for r in refused)  # the window alone is not what fails
    also = f" {capital('; '.join(choice.besides))}." if choice.besides else ""
    return (
        what_to_order(need, allow, w.need_lined, choice.called)
        + (f" It must be {', '.join(must)}." if must and fitting else "")
        + also
    )


def what_to_order(need_mm: float, allow_mm: float, lined: bool, called: str = "") -> str:
    """The sleeve to look for, limits rounded to the safe side: 22.217 → 22.3, 13.86 → 13.8."""
    step = 10 if allow_mm >= 1 else 1000
    opens, closes = ceil(need_mm * step - 1e-6) / step, floor(allow_mm * step + 1e-6) / step
    ratio = ceil(need_mm / allow_mm * 100 - 1e-6) / 100
    kind = called or ("an adhesive-lined sleeve" if lined else "a sleeve")
    return (
        f"Look for {kind} that opens past {mm(opens, LEAST):g} mm and closes under {mm(closes, MOST):g} mm:"
        f" a ratio of at least {ratio:.2f} to 1."
    )
