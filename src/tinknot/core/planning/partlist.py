"""The parts of a plan, each with its reason and what was not taken; a choice with every candidate on it."""

from collections.abc import Mapping, Sequence
from math import ceil, floor

from tinknot.core.choosing.choose import Ranked, Rejected
from tinknot.core.choosing.fitting import COMFORT
from tinknot.core.formulas.sleeve import Margins
from tinknot.core.joint.parts import StockIn, StockSleeve
from tinknot.core.layers.bond import EarthBond
from tinknot.core.layers.connectors import Connector
from tinknot.core.layers.contract import Layer
from tinknot.core.layers.preparation import said_mm
from tinknot.core.layers.shell import ResinShell
from tinknot.core.layers.sleeves import COLD, Sleeve
from tinknot.core.layers.tapes import TapeWrap
from tinknot.core.layers.taps import Piercing
from tinknot.core.planning.plan import CandidateOut, ChoiceOut, PartOut, Refusal
from tinknot.core.recipes.job import Job
from tinknot.core.recipes.solution import Choice, Solution


def rolls_of(stock: StockIn) -> dict[str, float]:
    """Length of a roll of what is wound, mm by part."""
    return {t.id: t.roll_mm for t in stock.tapes} | {m.id: m.roll_mm for m in stock.meshes}


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
            cut_length_mm=cut,
            waste_mm=waste,
            on_hand_mm=c.on_hand_mm,
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
        advice="" if choice.ranked else _advice(choice, refused, need, allow, sleeves),
        candidates=found,
    )


def _advice(
    choice: Choice, refused: Sequence[Rejected], need: float, allow: float, sleeves: Mapping[str, StockSleeve]
) -> str:
    """What to order where nothing serves: more of what would fit if it were there, else the sleeve to look
    for, with all it must be; a sleeve that is here and is refused for one of these things does not answer
    to it."""
    w = choice.window
    short = next((r for r in refused if r.fit.verdict == "fits" and r.reason.endswith("needed")), None)
    if short is not None:
        name = sleeves[short.candidate.id].name or short.candidate.id
        return f"Order more of {name}: {short.reason}."
    must = sorted(w.properties - {"lined", COLD}) + (
        [f"rated {w.voltage_v:g} V or more"] if w.voltage_v is not None else []
    )
    fitting = any(r.fit.verdict == "fits" for r in refused)  # the window alone is not what fails
    return what_to_order(need, allow, w.need_lined) + (
        f" It must be {', '.join(must)}." if must and fitting else ""
    )


def what_to_order(need_mm: float, allow_mm: float, lined: bool) -> str:
    """The sleeve to look for, limits rounded to the safe side: 22.217 → 22.3, 13.86 → 13.8."""
    step = 10 if allow_mm >= 1 else 1000
    opens, closes = ceil(need_mm * step - 1e-6) / step, floor(allow_mm * step + 1e-6) / step
    ratio = ceil(need_mm / allow_mm * 100 - 1e-6) / 100
    kind = "an adhesive-lined sleeve" if lined else "a sleeve"
    return (
        f"Look for {kind} that opens past {opens:g} mm and closes under {closes:g} mm: a ratio of at least"
        f" {ratio:.2f} to 1."
    )


def _reason(r: Ranked, layer: str) -> str:
    c, f = r.candidate, r.fit
    opens, closes = (
        c.tube.expanded_id_mm - f.needed_expanded_mm,
        f.allowed_recovered_mm - c.tube.recovered_id_mm,
    )
    grips = (
        "held by springs at both ends"
        if layer == "barrier"
        else f"closes {closes:.1f} inside what it must grip"
    )
    words = [f"Opens {opens:.1f} past what it must pass, {grips}."]
    if c.stock_length_mm:
        words.append(
            f"Pieces of {said_mm(c.stock_length_mm)}"
            + (f", {said_mm(r.waste_mm)} wasted." if r.waste_mm else ".")
        )
    elif c.on_hand_mm is not None:
        words.append(f"{c.on_hand_mm / 1000:.1f} m on hand.")
    if r.wall_short_mm > 0:
        words.append(
            f"Its wall is {r.wall_mm:.2f} at the thickest place, the layer it replaces"
            f" {r.wall_mm + r.wall_short_mm:.2f}."
        )
    if f.comfort < COMFORT:
        words.append("It only just fits: measure again.")
    return " ".join(words)


def parts_of(job: Job, solution: Solution, brief: bool) -> list[PartOut]:
    """Every part of a solution; `brief` leaves out what was not taken."""
    found: list[PartOut] = []
    for core, connector in zip(
        job.b.cores, solution.connectors, strict=True
    ):  # under A's names; a tap's may be fewer
        main = job.a.core(core.name)
        layer = next(
            (x for x in solution.layers if isinstance(x, (Connector, Piercing)) and x.core == core.name), None
        )
        found.append(
            PartOut(
                layer=layer.id if layer else f"{connector.kind}-{core.name}",
                title=f"connector on core {core.name}",
                part_id=connector.id,
                name=connector.said,
                lot=connector.first_lot(job.today),
                cut_length_mm=None,
                pass_od_mm=None,
                seal_od_mm=None,
                od_after_mm=connector.od_mm,
                reason=f"Takes {main.area_mm2:g} to {core.area_mm2:g} mm².",
                rejected=[],
            )
        )
    by_layer = {x.id: x for x in solution.layers if isinstance(x, Sleeve)}
    for choice in solution.choices:
        r = choice.picked
        if r is None:
            continue
        part, w = job.sleeves[r.candidate.id], choice.window
        rejected = [] if brief else choice.rejected()
        at = w.wall_od_mm or w.seal_od_mm
        for layer_id in [f"{choice.layer.rsplit('-', 1)[0]}-{c}" for c in choice.cores] or [choice.layer]:
            sleeve = by_layer.get(layer_id)
            found.append(
                PartOut(
                    layer=layer_id,
                    title=sleeve.title if sleeve else choice.title,
                    part_id=part.id,
                    name=part.name or part.id,
                    lot=sleeve.lot if sleeve else "",
                    cut_length_mm=r.cut_length_mm,
                    pass_od_mm=w.pass_od_mm,
                    seal_od_mm=w.seal_od_mm,
                    od_after_mm=r.candidate.tube.od_mm(at),
                    reason=_reason(r, choice.layer),
                    rejected=[Refusal(part_id=x.candidate.id, reason=x.reason) for x in rejected],
                    expanded_id_mm=part.expanded_id_mm,
                    recovered_id_mm=part.recovered_id_mm,
                    wall_mm=r.candidate.tube.wall_mm(at),
                )
            )
    return found + [p for x in solution.layers for p in _counted(job, solution, x)]


def _counted(job: Job, solution: Solution, layer: Layer) -> list[PartOut]:
    """Parts of a layer that are counted in pieces or wound off a roll."""
    if not isinstance(layer, (TapeWrap, EarthBond, ResinShell)):
        return []
    offers = {o.id: o.reason for p in solution.picks for o in p.offers if o.serves}
    rejected = {
        p.picked: [Refusal(part_id=o.id, reason=o.reason) for o in p.offers if not o.serves]
        for p in solution.picks
    }
    after = (
        layer.wound.od_after_mm
        if isinstance(layer, TapeWrap)
        else (
            layer.cut.bore().greatest() + 2 * layer.cut.shell.wall_mm
            if isinstance(layer, ResinShell)
            else 0.0
        )
    )
    rolls = rolls_of(job.joint.stock)
    found = []
    for m in layer.consumes():
        if not m.part_id:
            continue
        pieces = m.quantity if m.unit == "piece" else m.quantity / rolls[m.part_id]
        found.append(
            PartOut(
                layer=layer.id,
                title=layer.title,
                part_id=m.part_id,
                name=m.what,
                lot=m.lot,
                cut_length_mm=None,
                pass_od_mm=None,
                seal_od_mm=None,
                od_after_mm=after,
                reason=offers.get(m.part_id, ""),
                rejected=rejected.get(m.part_id, []),
                quantity=pieces,
            )
        )
    return found
