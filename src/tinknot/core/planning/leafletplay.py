"""A leaflet played on a sample cable while it is typed: which of its rows a law of the work stops, and after
which row it would go."""

from collections.abc import Iterator, Sequence
from typing import Any

from tinknot.core.errors import InputError
from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.joint.tracefile import TraceFile
from tinknot.core.layers.contract import Step
from tinknot.core.model import parse
from tinknot.core.planning.playing import staged
from tinknot.core.rulebook import RuleBook
from tinknot.core.sheets import Doubt
from tinknot.core.world.found import Found
from tinknot.core.world.laws import Broken
from tinknot.core.world.play import play

WIDTH_MM, THICKNESS_MM, BUS_MM2 = (
    12.0,
    5.6,
    1.25,
)  # of the sample, where the sheet does not say what it serves
IN_MM = (0.0, 2.2, 3.8), (0.0, 1.9, 3.2)  # how much narrower and thinner each layer is than the outer jacket


def sheet_breaks(sheet: KitSheet, rules: RuleBook) -> list[Doubt]:
    """What the rows of a leaflet break on a cable in the middle of what it serves, each at its row; nothing
    where such a joint cannot be planned."""
    try:
        ready = staged(sample_trace(sheet), rules)
    except InputError:
        return []
    if ready is None or sheet.leaflet is None:
        return []
    steps, found = ready.steps, ready.found
    typed = list(sheet.leaflet.layers)
    leaves = {x.id: leaf for x in ready.layers if (leaf := getattr(x, "leaf", None)) in typed}
    rows = {s.id: typed.index(leaves[s.layer]) for s in steps if s.layer in leaves}
    before = play(steps, found)
    told = {(rows[b.step], b.words): b for b in reversed(before) if b.step in rows}
    return [
        Doubt(
            path=f"/leaflet/layers/{row}",
            message=f"{words} {_mend(b, len(before), steps, rows, found=found)}",
        )
        for (row, words), b in sorted(told.items(), key=lambda x: x[0])
    ]


def _mend(b: Broken, before: int, steps: Sequence[Step], rows: dict[str, int], found: Found) -> str:
    """Where the row would go so that fewer than `before` are broken and this is not, else what the law says
    of it."""
    for other, order in _moved(steps, rows, rows[b.step]):
        after = play(order, found)
        if len(after) < before and (b.law, b.step) not in {(x.law, x.step) for x in after}:
            return f"Put it after layer {other + 1}."
    return b.mend


def _moved(steps: Sequence[Step], rows: dict[str, int], row: int) -> Iterator[tuple[int, list[Step]]]:
    """The steps with those of a row behind each other row."""
    mine = [s for s in steps if rows.get(s.id) == row]
    rest = [s for s in steps if rows.get(s.id) != row]
    for other in sorted(set(rows.values()) - {row}):
        at = 1 + max(n for n, s in enumerate(rest) if rows.get(s.id) == other)
        yield other, [*rest[:at], *mine, *rest[at:]]


def sample_trace(sheet: KitSheet) -> TraceFile:
    """A connection of the sheet's recipe on a flat cable in the middle of what it serves. Raises
    InputError."""
    s = sheet.serves
    wide = _middle(s.width_least_mm, s.width_most_mm, WIDTH_MM)
    thick = _middle(s.thickness_least_mm, s.thickness_most_mm, THICKNESS_MM)
    names = ("outer_jacket", "inner_jacket", "core")
    construction = s.constructions[0] if s.constructions else "self-regulating"
    cable: dict[str, Any] = {
        "construction": construction,
        "braid_mm": 0.4,
        "bus_area_mm2": _middle(s.bus_least_mm2, s.bus_most_mm2, BUS_MM2),
        "bus_od_mm": min(1.4, (thick - IN_MM[1][2]) / 2),
    }
    for n, name in enumerate(names):
        cable[name] = {"width_mm": wide - IN_MM[0][n], "thickness_mm": thick - IN_MM[1][n]}
    if construction == "zone":
        cable["node_mm"] = 900
    body = {
        "format": "tinknot-joint",
        "version": 1,
        "family": "heat-trace",
        "rated_voltage_v": min(230.0, s.voltage_most_v or 230.0),
        "ambient_c": 15,
        "cable": cable,
        "ends": {"A": {"loop_mm": 900}, "B": {"loop_mm": 900}, "C": {"loop_mm": 900}},
    }
    found = parse(TraceFile, body)
    found.check()
    return found.model_copy(update={"sheet": sheet.model_copy(update={"state": "checked"})})


def _middle(low: float | None, high: float | None, usual: float) -> float:
    """The middle of what is served; the usual size where the sheet does not say."""
    if low is None and high is None:
        return usual
    return ((low if low is not None else high or 0.0) + (high if high is not None else low or 0.0)) / 2
