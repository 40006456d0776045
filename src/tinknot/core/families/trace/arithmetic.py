"""Arithmetic of a heat-trace cable: what its bends, loops, circuit and connection points allow."""

from math import pi
from typing import Any

from tinknot.core.choosing.park import Parking
from tinknot.core.errors import InputError
from tinknot.core.families.trace.circuit import (
    ZoneCut,
    bend_radius_mm,
    circuit_check,
    cold_tail_mm,
    loop_fits,
    node_cut,
    zone_cut,
)
from tinknot.core.families.trace.section import prepared_end
from tinknot.core.families.trace.stack import TraceStack
from tinknot.core.figures import LEAST, mm, said_mm
from tinknot.core.formulas.slack import fixings, slack, trace_length_m
from tinknot.core.plan.trace import CircuitOut, LoopOut, TraceOut, ZoneCutOut
from tinknot.core.tolerance import at_most


def arithmetic(recipe: TraceStack) -> TraceOut:
    """Bends, loops, lengths, breaker and zone cut; `stops` are reasons why it is not built like this."""
    joint, leaflet, c = recipe.joint, recipe.leaflet, recipe.joint.circuit
    stops: list[str] = []
    least = None
    try:
        least = bend_radius_mm(leaflet.bend, joint.ambient_c)
    except InputError as fault:
        stops.append(f"Temperature {fault.errors[0].message}.")
    loops = [_loop(recipe, e, least) for e in recipe.ends]
    stops += [x.words for x in loops if x.radius_mm is not None and not loop_fits(x.radius_mm, least)]
    zone = _zone(recipe, stops)
    tail = zone is None and recipe.zone(recipe.ends[-1])
    questions: list[str] = []
    check = _circuit(recipe, stops, questions)
    ends_mm = [
        (recipe.side(e).loop_mm or 0.0) + c.connection_mm + recipe.opened[e].jacket_mm for e in recipe.ends
    ]
    return TraceOut(
        construction=recipe.cables["A"].construction,
        recipe=recipe.sheet.recipe,
        test_v=recipe.test_v(),
        bend_radius_mm=least,
        loops=loops,
        cable_m=(
            None
            if c.run_m is None
            else trace_length_m(c.run_m, c.spiral_extra, ends_mm, [a.each_mm * a.count for a in c.allowances])
        ),
        fixings=(
            None if c.run_m is None or c.fixing_spacing_mm is None else fixings(c.run_m, c.fixing_spacing_mm)
        ),
        fixing_tape=leaflet.fixing_tape,
        zone=zone,
        cold_tail_mm=cold_tail_mm(c.felt_mm) if tail and c.felt_mm is not None else None,
        circuit=check,
        prepared=[prepared_end(leaflet, e, recipe.opened[e], recipe.cables[e]) for e in recipe.ends],
        stops=stops,
        node_cuts=_node_cuts(recipe, stops),
        questions=questions,
    )


def _circuit(recipe: TraceStack, stops: list[str], questions: list[str]) -> CircuitOut | None:
    """The whole circuit after the work against its breaker at the coldest start; what is not known for it is
    a question, never a silence."""
    c, limits = recipe.joint.circuit, recipe.leaflet.circuit
    if c.breaker_a is None and c.circuit_m is None:
        return None
    if c.breaker_a is None or c.circuit_m is None:
        missing = "its breaker" if c.breaker_a is None else "how long all of it is that heats"
        questions.append(f"The circuit is not judged: nobody entered {missing}.")
        return None
    start_c = c.start_c if c.start_c is not None else recipe.joint.ambient_c
    if c.start_c is None:
        questions.append(
            f"At how many °C is the circuit started at the coldest? It is judged at today's {start_c:g} °C."
        )
    found = circuit_check(limits, c.circuit_m + c.added_m, c.breaker_a, start_c)
    if found is None:
        questions.append(
            f"The circuit is not judged: the sheet says nothing of a start at {start_c:g} °C on"
            f" {c.breaker_a:g} A. Ask for the cable's table before it is energised."
        )
        return None
    bad = [f"Circuit: {w}." for w in found.why_not]
    stops += bad
    words = (
        " ".join(bad)
        or f"{found.length_m:g} m of {found.most_m:g} m, starts with {found.start_up_a:.1f} A on"
        f" {found.breaker_a:g} A."
    )
    return CircuitOut(
        length_m=found.length_m,
        most_m=found.most_m,
        start_up_a=found.start_up_a,
        breaker_a=found.breaker_a,
        words=words,
    )


def _node_cuts(recipe: TraceStack, stops: list[str]) -> list[ZoneCutOut]:
    """Where to cut a zone cable at a splice, a tee and the far end, as far as a point was felt there."""
    found: list[ZoneCutOut] = []
    for end in (e for e in recipe.ends if recipe.zone(e) and e != recipe.fed):
        felt = recipe.side(end).felt_mm
        if felt is None:
            continue
        node_mm = recipe.cables[end].node_mm
        assert node_mm is not None
        try:
            z = node_cut(felt, node_mm, recipe.opened[end].jacket_mm)
        except InputError as fault:
            stops.append(f"Connection point at {end} {fault.errors[0].message}.")
            continue
        take = f"cut {said_mm(z.cut_mm)} mm off" if z.cut_mm > 0.05 else "cut nothing off"
        words = (
            f"End {end}: {take}, then the nearest connection point lies just behind what is laid open;"
            f" {said_mm(z.cold_mm)} mm stay cold. {_nicked(node_mm)}"
        )
        loop = recipe.side(end).loop_mm
        if loop is not None and not at_most(z.cut_mm, loop):
            words += " That is more than its loop gives: leave it longer and cold, or splice a piece in."
        drawn = _drawn(felt, node_mm, z, recipe.opened[end].jacket_mm, pipe=0.0)
        found.append(ZoneCutOut(end=end, words=words, **vars(z), **drawn))
    if recipe.joined and len(found) > 1:
        cold = sum(z.cold_mm for z in found[:2])
        last = found[-1]
        found[-1] = last.model_copy(update={"words": f"{last.words} Across the splice {said_mm(cold)} mm."})
    return found


def _nicked(node_mm: float) -> str:
    """What a nick costs: the end moves on to the next point, and what lies before that heats no more."""
    return (
        f"A nick that moves this end on to the next point costs up to {said_mm(node_mm)} mm of heating cable."
    )


def per_remake_mm(recipe: TraceStack, end: str) -> float:
    """Cable a remake of this end uses, mm: as the sheet says, else what its cuts take and a square cut."""
    given = recipe.leaflet.per_remake
    if given is not None and given.given and given.value_mm > 0:
        return given.value_mm
    return recipe.opened[end].jacket_mm + recipe.rules.number("trace.spare_mm")


def _loop(recipe: TraceStack, end: str, least: float | None) -> LoopOut:
    side, leaflet = recipe.side(end), recipe.leaflet
    keep = (
        leaflet.least_loop.value_mm
        if leaflet.least_loop and leaflet.least_loop.given
        else recipe.rules.number("trace.least_loop_mm")
    )
    each = per_remake_mm(recipe, end)
    left = slack(side.loop_mm, keep, each) if side.loop_mm is not None else None
    words = ""
    if left is not None and side.loop_mm is not None:
        n = left.remakes_left
        words = (
            f"Loop at {end}: {said_mm(side.loop_mm)} mm, {n} {'remake' if n == 1 else 'remakes'} left before"
            " a splice is needed."
        )
    if side.loop_radius_mm is not None and not loop_fits(side.loop_radius_mm, least):
        words = (
            f"Loop at {end}: drawn with {mm(side.loop_radius_mm):g} mm, at {recipe.joint.ambient_c:g} °C the"
            f" cable bends to {mm(least):g} mm at the tightest."
        )
    return LoopOut(
        end=end,
        loop_mm=side.loop_mm,
        radius_mm=side.loop_radius_mm,
        least_radius_mm=least,
        per_remake_mm=each,
        least_loop_mm=keep,
        remakes_left=left.remakes_left if left else None,
        left_after_mm=left.left_after_mm if left else None,
        words=words,
    )


def remakes_now(loop: LoopOut, lost_mm: float) -> int | None:
    """Remakes an end still allows after `lost_mm` of its loop are gone; None where no loop was measured."""
    if loop.loop_mm is None:
        return None
    return slack(max(0.0, loop.loop_mm - lost_mm), loop.least_loop_mm, loop.per_remake_mm).remakes_left


def _zone(recipe: TraceStack, stops: list[str]) -> ZoneCutOut | None:
    """Where to cut a zone cable at its fed end."""
    c, leaflet = recipe.joint.circuit, recipe.leaflet
    if not recipe.fed or not recipe.zone(recipe.fed) or c.felt_mm is None:
        return None
    lead = leaflet.lead.value_mm if leaflet.lead and leaflet.lead.given else recipe.opened["A"].jacket_mm
    lead += recipe.joint.ends.A.loop_mm or 0.0
    most = leaflet.node_most.value_mm if leaflet.node_most and leaflet.node_most.given else 0.0
    node_mm = recipe.cables["A"].node_mm
    assert node_mm is not None
    try:
        z = zone_cut(c.felt_mm, node_mm, lead, most, opened_mm=recipe.opened["A"].jacket_mm)
    except InputError as fault:
        stops.append(f"First connection point {fault.errors[0].message}.")
        return None
    where = (
        f"{said_mm(z.onto_pipe_mm)} mm onto the pipe"
        if z.onto_pipe_mm > 1e-9
        else "right at the pipe's entry"
    )
    first = f"Cut {said_mm(z.cut_mm)} mm off; the" if z.cut_mm else "Cut nothing off; the"
    rest = (
        " What lies before it stays cold."
        if not z.early_mm
        else f" A point before it stays in the lead: {said_mm(z.early_mm)} mm before the pipe heat too. Make"
        " the lead or its loop shorter, or lay that stretch where it may get warm, never in the box."
    )
    words = (
        f"{first} first connection point of the pipe lies {said_mm(z.node_at_mm)} mm from the end,"
        f" {where}.{rest} {_nicked(node_mm)}"
    )
    drawn = _drawn(c.felt_mm, node_mm, z, recipe.opened["A"].jacket_mm, pipe=z.cut_mm + lead)
    return ZoneCutOut(words=words, **vars(z), **drawn)


def _drawn(felt: float, node_mm: float, z: ZoneCut, opened: float, pipe: float) -> dict[str, Any]:
    """What the drawing of a cut needs besides: every connection point as far as it is shown, a good half of a
    stretch past the one it is cut for; `pipe`: where the pipe begins, mm from the present end."""
    shown = z.cut_mm + z.node_at_mm + 0.6 * node_mm
    count = int((shown - felt) // node_mm) + 1
    return {
        "points_mm": [felt + k * node_mm for k in range(count)],
        "pipe_from_mm": pipe,
        "opened_mm": opened,
        "shown_mm": shown,
    }


def warned(trace: TraceOut, parking: Parking | None) -> list[str]:
    """What to mind although it is built like this: loops, room on the tail, what stays cold."""
    words = [x.words for x in trace.loops if x.remakes_left == 0]
    for x in trace.loops:
        turn = (x.loop_mm or 0.0) / (2 * pi)  # laid as one full turn
        if x.loop_mm and x.radius_mm is None and x.least_radius_mm is not None and turn < x.least_radius_mm:
            words.append(
                f"Loop at {x.end}: {said_mm(x.loop_mm)} mm laid as one turn would bend to {mm(turn):.0f} mm,"
                f" {mm(x.least_radius_mm, LEAST):g} mm is the least today: lay it as a wave."
            )
    if parking and not parking.fits:
        words.append("No room to park what must be threaded on: leave more free cable behind the end.")
    if trace.zone and trace.zone.cut_mm:
        words.append(trace.zone.words)
    words += [z.words for z in trace.node_cuts]
    return words + trace.questions
