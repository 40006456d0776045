"""A plan as text for people: the order of the work, cuts as running distances."""

from collections.abc import Iterator

from tinknot.core.plan.plan import Plan
from tinknot.core.plan.steps import DATUMS
from tinknot.core.plan.trace import TraceOut


def plan_text(plan: Plan) -> str:
    """The whole plan, as it would be read at the bench."""
    return "\n".join(_lines(plan)) + "\n"


def _trace(t: TraceOut) -> Iterator[str]:
    """The cable's arithmetic."""
    yield ""
    if t.cable_m is not None:
        yield f"Cable to order {t.cable_m:.2f} m" + (
            f", {t.fixings} fixings." if t.fixings is not None else "."
        )
    if t.bend_radius_mm is not None:
        yield f"Bends no tighter than {t.bend_radius_mm:g} mm at this temperature."
    yield from (x.words for x in t.loops if x.words)
    yield from (x.words for x in (t.zone, *t.node_cuts, t.circuit) if x)
    if t.cold_tail_mm is not None:
        yield f"{t.cold_tail_mm:g} mm beyond the last connection point stay cold."
    yield f"Insulation tested at {t.test_v:g} V DC."


def _lines(plan: Plan) -> Iterator[str]:
    yield from ("! " + s for s in plan.safety)
    yield ""
    if plan.verdict == "planned":
        between = "" if plan.gap_mm is None else f", {plan.gap_mm:.1f} mm between the cuts"
        yield (
            f"Joint {plan.joint_length_mm:.0f} mm long, {plan.greatest_diameter_mm:.1f} mm at its"
            f" thickest{between}."
        )
        yield f"{plan.minutes.hands:.0f} min of hands, {plan.minutes.waiting:.0f} min of waiting."
    else:
        yield "Nothing fits."
    yield from _chosen(plan)
    yield from _worked_out(plan)
    yield from _work(plan)
    if plan.remedies:
        yield "\nWhat would help"
        yield from (f"  {r.title}: {r.why}" for r in plan.remedies)
    if plan.warnings:
        yield "\nMind"
        yield from (f"  {w}" for w in plan.warnings)


def _chosen(plan: Plan) -> Iterator[str]:
    for choice in plan.choices:
        yield (
            f"\n{choice.title}: must open past {choice.needed_expanded_mm:.2f}, close under"
            f" {choice.allowed_recovered_mm:.2f} (ratio {choice.ratio_needed:.2f})"
        )
        for c in choice.candidates:
            mark = ">" if c.part_id == choice.picked else " "
            fits = "fits, as it comes" if c.verdict == "fits" and not c.reason else c.reason
            what = f"fits, cut {c.cut_length_mm} mm" if c.cut_length_mm is not None else fits
            yield f" {mark} {c.name}: {c.expanded_id_mm:g} -> {c.recovered_id_mm:g}, {what}"
        if choice.advice:
            yield f"   {choice.advice}"
    for pick in plan.picks:
        yield f"\n{pick.title}: {pick.need}"
        yield from (f" {'>' if o.id == pick.picked else ' '} {o.name}: {o.reason}" for o in pick.offers)


def _worked_out(plan: Plan) -> Iterator[str]:
    if plan.resin:
        r = plan.resin
        packs = " + ".join(f"{p.count} x {p.part_id}" for p in r.packs)
        yield (
            f"\nResin: {r.required_ml:.0f} ml into {r.net_ml:.0f} ml, {packs}; mixed at {r.resin_c:g} °C,"
            f" poured within {r.pour_window_min:.0f} min."
        )
        yield (
            f"  To handle after {r.handle_min / 60:.1f} h, to test and energise after"
            f" {r.full_min / 60:.1f} h."
        )
    if plan.trace:
        yield from _trace(plan.trace)
    if plan.insert:
        yield f"\n{plan.insert.words}"
    if plan.chosen_together:
        yield f"\n{plan.chosen_together}"


def _work(plan: Plan) -> Iterator[str]:
    if plan.cuts:
        yield "\nCuts"
        yield from (
            f"  {c.end}  {c.layer:14} {c.distance_mm:7.1f} ± {c.tolerance_mm:g} from the {DATUMS[c.datum]}."
            f" {c.caution}"
            for c in plan.cuts
        )
    if plan.park:
        yield "\nPark, first threaded first"
        yield from (f"  {end}  {e.layer} on {e.track}, {e.length_mm:g} mm" for end, e in plan.park.parts())
    if plan.steps:
        yield "\nSteps"
        for number, s in enumerate(plan.steps, 1):
            yield f"{number:4}. {s.title}" + (f"   [hold: {s.hold}]" if s.hold else "")
    if plan.materials:
        yield "\nMaterials"
        yield from (
            f"  {m.quantity:g} {m.unit}  {m.what}"
            + (f"  ({m.in_stock:g} on hand)" if m.in_stock is not None else "")
            for m in plan.materials
        )
