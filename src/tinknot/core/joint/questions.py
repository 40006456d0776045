"""Readings nobody should trust are questioned at once, in words, beside the field; kept as typed."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from tinknot.core.figures import mm, mm2
from tinknot.core.formulas.bundle import bundle
from tinknot.core.formulas.conductor import conductor

OVAL = 1.25  # two readings at 90° further apart than this ratio
THICK_WALL_MM = 3.5  # insulation of a low-voltage core is thinner than this and 1.2 × its conductor


@dataclass(frozen=True)
class Question:
    """A doubt about one field, and the value that would remove it, if one suggests itself."""

    path: str
    message: str
    suggestion_mm: float | None = None


def questions(ends: Mapping[str, Any]) -> list[Question]:
    """Doubts about the ends of a draft; anything may still be missing in it."""
    found: list[Question] = []
    for name in ("A", "B"):
        found += _end(f"/ends/{name}", ends.get(name) or {})
    found += _unlike(ends.get("A") or {}, ends.get("B") or {})
    return found


def _number(value: Any) -> float | None:
    return (
        float(value)
        if isinstance(value, (int, float)) and not isinstance(value, bool) and value > 0
        else None
    )


def _shifted(value: float, low: float, high: float) -> float | None:
    """The same figures with the point moved, if that makes sense of them."""
    return next((round(value * f, 4) for f in (0.1, 10, 0.01) if low <= value * f <= high), None)


def _asks(words: str, unlikely: float, likely: float | None) -> tuple[str, float | None]:
    return (f"{words} {mm(likely):g} mm?" if likely else f"{words} Read it again.", likely)


def _oval(path: str, first: float | None, across: float | None) -> Iterator[Question]:
    if first and across and max(first, across) > OVAL * min(first, across):
        yield Question(
            path,
            f"The two readings, {mm(first):g} and {mm(across):g} mm, are far apart. Is the cable flat, or"
            " one of them wrong?",
        )


def _end(path: str, end: Mapping[str, Any]) -> list[Question]:
    found: list[Question] = []
    sheath = _number(end.get("sheath_od_mm"))
    if not end.get("flat"):
        found += _oval(f"{path}/sheath_od_across_mm", sheath, _number(end.get("sheath_od_across_mm")))
    ods: list[float] = []
    cores = end.get("cores") or []
    for i, core in enumerate(cores):
        here = f"{path}/cores/{i}/insulation_od_mm"
        od, area = _number(core.get("insulation_od_mm")), _number(core.get("area_mm2"))
        found += _oval(
            f"{path}/cores/{i}/insulation_od_across_mm", od, _number(core.get("insulation_od_across_mm"))
        )
        if od is None:
            continue
        name = core.get("name") or str(i + 1)
        if area and area <= 1000:
            doubt = _core(here, name, od, area, flexibility=core.get("class"))
            if doubt:
                found.append(doubt)
                continue
        ods.append(od)
    wire = len(cores) == 1 and sheath in ods  # its insulation is its outside
    if sheath and ods and not wire:
        found += _sheath(f"{path}/sheath_od_mm", sheath, ods, len(ods) == len(cores))
    return found


def _core(path: str, name: str, od: float, area: float, flexibility: Any) -> Question | None:
    size = conductor(area, flexibility if flexibility in (1, 2, 5) else 2)
    low, high = size.least_mm + 0.2, size.greatest_mm + 2 * max(THICK_WALL_MM, 1.2 * size.greatest_mm)
    if low <= od <= high:
        return None
    than = (
        f"thinner than its {mm2(area):g} mm² conductor"
        if od < low
        else f"far too thick for {mm2(area):g} mm²"
    )
    words, likely = _asks(f"Core {name} reads {mm(od):g} mm, {than}.", od, _shifted(od, low, high))
    return Question(path, words, likely)


def _sheath(path: str, sheath: float, ods: list[float], trusted: bool) -> Iterator[Question]:
    """`ods`: of the cores that are read and not doubted; `trusted`: those are all there are."""
    round_cores = bundle(ods).enclosing_diameter_mm
    if sheath <= max(ods) and (trusted or sheath < min(ods)):
        words, likely = _asks(
            f"The sheath reads {mm(sheath):g} mm, thinner than a core of {mm(max(ods)):g} mm.",
            sheath,
            _shifted(sheath, round_cores, 2 * round_cores),
        )
        yield Question(path, words, likely)
    elif trusted and sheath < round_cores * 0.97:
        yield Question(
            path,
            f"{len(ods)} cores of this size make a bundle of {mm(round_cores):.1f} mm; it cannot lie in a"
            f" sheath of {mm(sheath):g} mm. Read the sheath and the cores again.",
        )
    elif trusted and sheath > 3 * round_cores + 6:
        words, likely = _asks(
            f"The sheath reads {mm(sheath):g} mm round cores that need only {mm(round_cores):.1f} mm.",
            sheath,
            _shifted(sheath, round_cores, 2 * round_cores),
        )
        yield Question(path, words, likely)


def _unlike(a: Mapping[str, Any], b: Mapping[str, Any]) -> Iterator[Question]:
    x, y = _number(a.get("sheath_od_mm")), _number(b.get("sheath_od_mm"))
    if x and y and max(x, y) > 2 * min(x, y):
        yield Question(
            "/ends/B/sheath_od_mm",
            f"End A reads {mm(x):g} mm and end B {mm(y):g} mm: more than twice. Is it the right cable?",
        )
