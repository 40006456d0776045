"""Arithmetic of a heat-trace circuit: bends, where to cut a zone cable, breaker and length."""

from collections.abc import Sequence
from dataclasses import dataclass

from tinknot.core.errors import InputError
from tinknot.core.figures import mm
from tinknot.core.joint.leaflet import BendStep, CircuitLimit
from tinknot.core.tolerance import REL, at_least, at_most, whole_up


def bend_radius_mm(steps: Sequence[BendStep], at_c: float) -> float | None:
    """Least bend radius in mm at an installation temperature: the step with the highest `from_c` not above
    it.

    None where the sheet has no steps. Raises InputError at `/ambient_c` when it is colder than the coldest
    step: then the cable may not be bent at all.

    >>> bend_radius_mm([BendStep(from_c=-20, radius_mm=50), BendStep(from_c=5, radius_mm=25)], 3)
    50.0
    """
    if not steps:
        return None
    warm = [s for s in steps if at_most(s.from_c, at_c)]
    if not warm:
        coldest = min(s.from_c for s in steps)
        raise InputError.at(
            "/ambient_c", f"is {at_c:g} °C; the sheet allows no bending under {coldest:g} °C: warm the cable"
        )
    return max(warm, key=lambda s: s.from_c).radius_mm


@dataclass(frozen=True)
class ZoneCut:
    """Where to cut a zone cable, mm: `cut_mm` off its present end, then the connection point it is cut for
    lies `node_at_mm` from the new end, `onto_pipe_mm` past the pipe's entry. `cold_mm` of the new end stays
    cold; `early_mm` of what lies before the pipe heats, where a point before that one could not be lost."""

    cut_mm: float
    node_at_mm: float
    onto_pipe_mm: float
    cold_mm: float
    early_mm: float = 0.0


def zone_cut(
    felt_mm: float, node_mm: float, lead_mm: float, node_most_mm: float, opened_mm: float = 0.0
) -> ZoneCut:
    """The least to cut off so that a connection point lies on the pipe, at most `node_most_mm` past its
    entry, and none before it that would heat the lead: one in what is cut off or laid open is lost.

    `felt_mm`: first connection point from the present end, `node_mm` between points, `lead_mm` from the
    cable's end to the pipe's entry, `opened_mm` laid open; all mm ≥ 0, `node_mm` > 0. Connection points lie
    at felt + k·node. Physics: a length heats only between two connection points, so what lies before the
    first stays cold.

    >>> zone_cut(250, 900, 400, 150)
    ZoneCut(cut_mm=600, node_at_mm=550, onto_pipe_mm=150, cold_mm=550, early_mm=0.0)
    >>> zone_cut(250, 900, 950, 150, 150)  # 50 more, or the point at 250 would heat the lead
    ZoneCut(cut_mm=100, node_at_mm=1050, onto_pipe_mm=100, cold_mm=1050, early_mm=0.0)
    """
    if felt_mm > node_mm * (1 + 1e-9):
        raise InputError.at(
            "/felt_mm", f"is more than the {mm(node_mm):g} mm between two points: feel for a nearer one"
        )
    k = max(0, whole_up((lead_mm - felt_mm) / node_mm))
    point = felt_mm + k * node_mm
    cut = max(0.0, point - lead_mm - node_most_mm)
    if k:  # there is a point before it
        more = point - node_mm - opened_mm - cut
        if more > 0 and at_most(more, point - cut - lead_mm):
            cut += more
    lost = cut + opened_mm + REL * node_mm
    kept = [p for i in range(k) if (p := felt_mm + i * node_mm) > lost]
    at, first = point - cut, min(kept, default=point) - cut
    return ZoneCut(cut, at, at - lead_mm, first, early_mm=max(0.0, lead_mm - first) if kept else 0.0)


def node_cut(felt_mm: float, node_mm: float, opened_mm: float) -> ZoneCut:
    """Where to cut at a splice, a tee or the far end, so that the nearest connection point lies just behind
    what is laid open there and as little as possible stays cold.

    `felt_mm`: nearest connection point from the present end, `node_mm` between points, `opened_mm` laid open;
    all mm ≥ 0, `node_mm` > 0. A point within what is laid open is lost with it; then the next one counts.
    Raises InputError where a nearer point must be there. Physics: a length heats only between two points.

    >>> node_cut(250, 900, 85), node_cut(50, 900, 85).cold_mm
    (ZoneCut(cut_mm=165, node_at_mm=85, onto_pipe_mm=0.0, cold_mm=85, early_mm=0.0), 85)
    """
    if felt_mm > node_mm * (1 + 1e-9):
        raise InputError.at(
            "/felt_mm", f"is more than the {mm(node_mm):g} mm between two points: feel for a nearer one"
        )
    point = felt_mm + max(0, whole_up((opened_mm - felt_mm) / node_mm)) * node_mm
    return ZoneCut(point - opened_mm, opened_mm, 0.0, opened_mm)


def cold_tail_mm(felt_mm: float) -> float:
    """The piece beyond the last connection point stays cold: as long as the point is felt from the end,
    mm."""
    return felt_mm


@dataclass(frozen=True)
class CircuitCheck:
    """A circuit against the sheet's limit: what it is, what it may be; empty `why_not` when it passes."""

    length_m: float
    most_m: float
    start_up_a: float
    breaker_a: float
    why_not: tuple[str, ...]


def circuit_check(
    limits: Sequence[CircuitLimit], length_m: float, breaker_a: float, start_c: float
) -> CircuitCheck | None:
    """Length in m and start-up current in A after the work against the sheet's row for this breaker.

    Of the rows for the breaker (or the next smaller one) the warmest start not above `start_c` is taken;
    None when the sheet has no row. A colder start draws more."""
    rows = [r for r in limits if at_most(r.breaker_a, breaker_a) and at_most(r.start_c, start_c)]
    if not rows:
        return None
    row = max(rows, key=lambda r: (r.breaker_a, r.start_c))
    current = length_m * row.start_up_a_per_m
    words = []
    if not at_most(length_m, row.most_m):
        words.append(
            f"{length_m:g} m is longer than the {row.most_m:g} m allowed on {row.breaker_a:g} A when started"
            f" at {row.start_c:g} °C"
        )
    if not at_most(current, breaker_a):
        words.append(f"it starts with {current:.1f} A, the breaker is {breaker_a:g} A")
    return CircuitCheck(length_m, row.most_m, current, breaker_a, why_not=tuple(words))


def loop_fits(radius_mm: float, least_mm: float | None) -> bool:
    """Whether a loop drawn with `radius_mm` keeps the least bend radius."""
    return least_mm is None or at_least(radius_mm, least_mm)
