"""Readings out of a tester's own file: what stands in it, and which reading of a step each would be."""

import csv
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace

from tinknot.core.errors import InputError
from tinknot.core.plan.steps import GateOut

MOST_LINES = 2000
VALUES = {"value", "reading", "result", "resistance", "measurement", "measured", "insulation"}
UNITS = {"unit", "units"}
SCALE = {"": 1.0, "G": 1e9, "M": 1e6, "k": 1e3, "K": 1e3, "m": 1e-3, "µ": 1e-6, "μ": 1e-6, "u": 1e-6}
# what a display shows: perhaps more than its range, a figure with comma or point, a prefix and a unit
READING = re.compile(
    r"^\s*(?P<over>>|≥|over\s)?\s*(?P<figure>-?\d+(?:[.,]\d+)?)\s*(?P<prefix>[GMKkmµμu]?)"
    r"(?P<unit>Ω|\u2126|[Oo]hms?|OHMS?|°?C|V)?\s*$"
)
SAME = {
    "pe": "earth",
    "e": "earth",
    "ground": "earth",
    "gnd": "earth",
    "others": "rest",
    "all": "rest",
    "screen": "shield",
}
IDLE = {"core", "conductor", "to", "the", "and", "of", "wire", "resistance", "insulation"}


@dataclass(frozen=True)
class FileReading:
    """A line of the file: its label and figure as they stand there. `values`: the figure in the unit of each
    gate it could be of, by gate; `gate`: the one it is taken for, empty where nothing says; `guessed`: only
    by its place in the order; `over`: the display showed more than it can."""

    line: int
    label: str
    shown: str
    values: dict[str, float] = field(default_factory=dict)
    gate: str = ""
    guessed: bool = False
    over: bool = False
    why: str = ""


def readings_in(text: str, gates: Sequence[GateOut]) -> list[FileReading]:
    """The readings in a tester's file (CSV with comma, semicolon or tab), each with the gate it is taken for.

    Raises InputError at `/text` for a file without figures or with too many lines.
    """
    lines = [x for x in _table(text) if any(cell.strip() for cell in x[1])]
    if not lines:
        raise InputError.at(
            "/text", "holds no lines; save the readings as CSV on the tester and take that file"
        )
    if len(lines) > MOST_LINES:
        raise InputError.at("/text", f"has more than {MOST_LINES} lines; take the part of this joint")
    found = [r for r in _rows(lines, gates) if r.shown]
    if not any(r.values for r in found):
        raise InputError.at(
            "/text",
            "holds no figure that this step asks for; it needs a column with a name and one with a figure",
        )
    return _in_order(_once(found), gates)


def _table(text: str) -> list[tuple[int, list[str]]]:
    head = text.lstrip("\ufeff").splitlines()[:5]
    mark = max(";\t,", key=lambda m: min((x.count(m) for x in head if x.strip()), default=0))
    reader = csv.reader(text.lstrip("\ufeff").splitlines(), delimiter=mark)
    return [(number, row) for number, row in enumerate(reader, 1)]


def _rows(lines: list[tuple[int, list[str]]], gates: Sequence[GateOut]) -> Iterable[FileReading]:
    head = [c.strip().lower() for c in lines[0][1]]
    value = next((i for i, c in enumerate(head) if set(re.split(r"\W+", c)) & VALUES), None)
    if value is None:
        yield from (_row(number, cells, None, None, gates=gates) for number, cells in lines)
        return
    unit = next((i for i, c in enumerate(head) if c in UNITS), None)
    inside = re.search(r"[\[(]?([GMkmµ]?Ω|°C)[\])]?", lines[0][1][value])
    for number, cells in lines[1:]:
        if value < len(cells):
            said = (
                cells[unit] if unit is not None and unit < len(cells) else inside.group(1) if inside else ""
            )
            yield _row(number, cells, value, said, gates=gates, apart={unit})


def _row(
    number: int,
    cells: list[str],
    value: int | None,
    unit: str | None,
    gates: Sequence[GateOut],
    apart: Iterable[int | None] = (),
) -> FileReading:
    """A line; where no header names the column, the figure is the last cell that reads like one."""
    if value is None:
        value = next((i for i in range(len(cells) - 1, -1, -1) if READING.match(cells[i])), None)
        if value is None:
            return FileReading(number, "", "")
    label = " ".join(c.strip() for i, c in enumerate(cells) if i not in (value, *apart) and c.strip())
    shown = f"{cells[value].strip()} {unit or ''}".strip()
    if not cells[value].strip():
        return FileReading(number, label, "")
    read = READING.match(shown)
    if read is None:
        return FileReading(number, label, shown, why="is no figure; type it by hand")
    values = {g.id: v for g in gates if (v := _in_unit(read, g.unit)) is not None}
    gate = _meant(label, [g for g in gates if g.id in values])
    why = "" if values else "is of another unit than this step asks for"
    return FileReading(number, label, shown, values, gate=gate, over=bool(read["over"]), why=why)


def _in_unit(read: re.Match[str], unit: str) -> float | None:
    """A figure in a gate's unit; None where the two measure different things."""
    figure = float(read["figure"].replace(",", "."))
    kind, wanted = _kind(read["unit"] or ""), _kind(unit[-1:])
    if read["unit"] is None:
        return figure  # the file does not say: as the gate asks
    if kind != wanted:
        return None
    prefix = unit[:-1] if kind == "Ω" else ""
    typed = read["prefix"] if kind == "Ω" else ""
    return float(f"{figure * SCALE[typed] / SCALE[prefix]:.12g}")


def _kind(unit: str) -> str:
    text = unit.lower().strip("°")
    return "Ω" if text.startswith(("ω", "ohm")) else text.upper()


def _tokens(label: str) -> frozenset[str]:
    words = re.findall(r"[a-zäöåæø]+|\d+", label.lower())
    return frozenset(SAME.get(w, w) for w in words) - IDLE


def _meant(label: str, gates: Sequence[GateOut]) -> str:
    """The one gate whose words are the label's, or all stand in it; empty where none or several do."""
    said = _tokens(label)
    same = [g.id for g in gates if _tokens(g.label) == said]
    inside = [g.id for g in gates if _tokens(g.label) and _tokens(g.label) <= said]
    for found in (same, inside):
        if len(found) == 1:
            return found[0]
    return ""


def _once(found: list[FileReading]) -> list[FileReading]:
    """A gate takes one reading: of several for it the last, which a tester saves when it is taken again."""
    last = {r.gate: r.line for r in found if r.gate}
    return [
        r if not r.gate or last[r.gate] == r.line else replace(r, gate="", why="was taken again further down")
        for r in found
    ]


def _in_order(found: list[FileReading], gates: Sequence[GateOut]) -> list[FileReading]:
    """Where no label says anything and there are as many figures as gates, they are taken in their order."""
    figures = [r for r in found if r.values]
    if any(r.gate for r in figures) or len(figures) != len(gates):
        return found
    place = {r.line: g.id for r, g in zip(figures, gates, strict=True) if g.id in r.values}
    return [replace(r, gate=place.get(r.line, ""), guessed=r.line in place) for r in found]
