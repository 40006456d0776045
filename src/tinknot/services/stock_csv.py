"""Stock in and out as CSV: everything is checked first, the changes are shown, all or nothing is taken."""

import csv
import io
import json
import re
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from tinknot.core.errors import FieldError, InputError
from tinknot.core.model import Result, parse
from tinknot.core.parts.kind import PartFigure
from tinknot.core.parts.stock import KINDS
from tinknot.services.shelf import Shelf, said_of
from tinknot.services.stock import LotIn, LotOut, figures, parts
from tinknot.store.faults import Busy

LOT = ("lot", "quantity", "unit", "use_by", "opened", "place")
LONGEST = 20_000


def columns() -> dict[str, PartFigure]:
    """The figures of all kinds by column; kinds that have a figure of one name write it in one column."""
    found: dict[str, PartFigure] = {}
    for model in KINDS.values():
        for figure in model.part.figures:
            found.setdefault(figure.heading, figure)
    return found


class Change(Result):
    """What one line of the file would do."""

    line: int
    part_id: str
    what: str
    details: list[str]


class LineError(Result):
    """What is wrong with one line; `column` says where."""

    line: int
    column: str
    message: str


class ImportReport(Result):
    """Every change and every fault; nothing is taken while there is a fault."""

    applied: bool
    changes: list[Change]
    unchanged: int
    errors: list[LineError]


def _number(text: str) -> float | int:
    value = float(text.replace(",", ".") if text.count(",") == 1 and "." not in text else text)
    return int(value) if value.is_integer() else value


def _flag(text: str) -> bool:
    word = text.lower()
    if word in ("yes", "true", "1", "y", "x"):
        return True
    if word in ("no", "false", "0", "n"):
        return False
    raise ValueError


RUN = "=+-@\t\r"  # a spreadsheet takes a cell that begins with one of these for a formula


def safe(text: str) -> str:
    """A cell of text that no spreadsheet runs: an apostrophe before what would be a formula, as
    spreadsheets write it."""
    return f"'{text}" if text[:1] in RUN and text else text


def unsafe(text: str) -> str:
    """What was meant by such a cell."""
    return text[1:] if text[:1] == "'" and text[1:2] in RUN and text[1:] else text


def _rows(text: str, names: tuple[str, ...]) -> list[dict[str, float]]:
    return [
        {name: _number(n.strip()) for name, n in zip(names, row.split("="), strict=True)}
        for row in filter(str.strip, text.split("|"))
    ]


def _cell_read(figure: PartFigure, text: str) -> Any:
    """A figure from its cell. Raises ValueError, with what the cell must be."""
    must = "must be a number"
    try:
        match figure.form:
            case "length" | "number":
                return _number(text)
            case "flag":
                must = "must be yes or no"
                return _flag(text)
            case "words":
                return [w.strip() for w in text.split("|") if w.strip()]
            case "pairs" if figure.names:
                two = len(figure.names) == 2
                must = "must be pairs like 20=30|10=45" if two else "must be rows like 40=18=30|20=8=25"
                return _rows(text, figure.names)
    except ValueError:
        raise ValueError(f"{must}, not {text!r}") from None
    return text


def _cell_written(figure: PartFigure, value: Any) -> str:
    """The cell of a figure, as `_cell_read` reads it; text is written so that no spreadsheet runs it."""
    match figure.form:
        case "length" | "number":
            return str(value)
        case "flag":
            return "yes" if value else ""
        case "words":
            return safe("|".join(value))
        case "pairs" if figure.names:
            return "|".join("=".join(f"{x[name]:g}" for name in figure.names) for x in value)
        case _:
            return safe(str(value))


def _read(row: dict[str, str], known: dict[str, PartFigure]) -> tuple[str, dict[str, Any], LotIn | None]:
    faults: list[FieldError] = []
    data: dict[str, Any] = {"id": row.get("id", "")}
    for column, figure in known.items():
        if text := row.get(column, ""):
            try:
                data[figure.key] = _cell_read(figure, text)
            except ValueError as fault:
                faults.append(FieldError(f"/{column}", str(fault)))
    kind = row.get("kind", "")
    if kind not in KINDS:
        faults.append(FieldError("/kind", f"must be one of {', '.join(KINDS)}"))
    if not data["id"]:
        faults.append(FieldError("/id", "is missing"))
    if faults:
        raise InputError(*faults)
    checked = figures(kind, data, "")
    lot = None
    if any(row.get(column) for column in LOT):
        lot = _read_lot(kind, row)
    return kind, checked, lot


def amount(kind: str, quantity: float) -> str:
    """A quantity as it is stored, in the unit people count it in."""
    return KINDS[kind].part.count.said(quantity)


def _read_lot(kind: str, row: dict[str, str]) -> LotIn:
    """The lot of a line; without a lot number it is the unmarked one."""
    given: dict[str, Any] = {
        "name": row.get("lot") or None,
        "place": row.get("place") or None,
        "use_by": row.get("use_by") or None,
    }
    units = KINDS[kind].part.count.lists
    unit = row.get("unit") or next(iter(units))
    if unit not in units:
        raise InputError.at("/unit", f"must be {' or '.join(units)} for a {kind}")
    try:
        given["quantity"] = _number(row.get("quantity") or "0") * units[unit]
    except ValueError:
        raise InputError.at("/quantity", f"must be a number, not {row['quantity']!r}") from None
    try:
        given["opened"] = _flag(row["opened"]) if row.get("opened") else False
    except ValueError:
        raise InputError.at("/opened", f"must be yes or no, not {row['opened']!r}") from None
    return parse(LotIn, json.dumps(given))


@dataclass(frozen=True)
class _Line:
    """What one line of the file says."""

    line: int
    kind: str
    checked: dict[str, Any]
    lot: LotIn | None


MOST_TRIES = 5  # of an import that meets others who change the stock meanwhile


def import_csv(text: str, apply: bool, who: str) -> ImportReport:
    """Check a CSV file of parts and lots and, when `apply` and without fault, take it all.

    Everything is worked out beside the stock and written in one short go; where somebody changed the stock
    meanwhile it is worked out again. Raises Busy when that happens every time."""
    lines, errors = _lines(text)
    for _ in range(MOST_TRIES):
        shelf = Shelf.now()
        changes, unchanged, faults = _worked_out(shelf, lines, who)
        faults = errors or faults
        if not lines and not faults:
            faults = [LineError(line=1, column="", message="the file holds no parts")]
        if faults or not apply:
            return ImportReport(applied=False, changes=changes, unchanged=unchanged, errors=faults)
        if shelf.written():
            return ImportReport(applied=True, changes=changes, unchanged=unchanged, errors=[])
    raise Busy("The stock was changed by others again and again while this was worked out; do it again.")


def _lines(text: str) -> tuple[list[_Line], list[LineError]]:
    """The lines of a file, and what is wrong with it whatever the stock holds."""
    text = re.sub(r"\r\n?", "\n", text.removeprefix("\ufeff"))
    try:
        dialect = csv.Sniffer().sniff(text[:4096], ",;\t")
    except csv.Error:
        dialect = csv.excel  # one column or one line: nothing to sniff
    reader = csv.DictReader(io.StringIO(text), dialect=dialect)
    try:
        header = [h.strip() for h in reader.fieldnames or []]
        rows = [(reader.line_num, row) for row in reader]
    except csv.Error as fault:
        return [], [LineError(line=max(1, reader.line_num), column="", message=f"cannot be read: {fault}")]
    figures_in = columns()
    errors = [
        LineError(line=1, column=h, message="is no column of the stock file")
        for h in header
        if h not in ("kind", "id", *figures_in, *LOT)
    ]
    errors += [
        LineError(line=1, column=h, message="this column is missing")
        for h in ("kind", "id")
        if h not in header
    ]
    found: list[_Line] = []
    seen: dict[str, dict[str, Any]] = {}
    lots: set[tuple[str, str]] = set()
    for line, row in [] if errors else rows:
        if None in row:
            errors.append(LineError(line=line, column="", message="has more fields than the first line"))
            continue
        if len(found) >= LONGEST:
            errors.append(
                LineError(line=line, column="", message=f"is more than {LONGEST} lines; part the file")
            )
            break
        cells = {k.strip(): unsafe((v or "").strip()) for k, v in row.items()}
        if not any(cells.values()):
            continue
        try:
            kind, checked, lot = _read(cells, figures_in)
            if checked["id"] in seen and seen[checked["id"]] != checked:
                raise InputError.at("/id", f"{checked['id']} stands above with other figures")
            if lot and (checked["id"], lot.name) in lots:
                raise InputError.at(
                    "/lot", f"lot {lot.name} of {checked['id']} stands above already; one line a lot"
                )
        except InputError as fault:
            errors += [
                LineError(line=line, column=e.path.strip("/"), message=e.message) for e in fault.errors
            ]
            continue
        seen[checked["id"]] = checked
        if lot:
            lots.add((checked["id"], lot.name))
        found.append(_Line(line, kind, checked, lot))
    return found, errors


def _worked_out(shelf: Shelf, lines: list[_Line], who: str) -> tuple[list[Change], int, list[LineError]]:
    """What the lines would change, how many change nothing, and the first that cannot be taken. The shelf is
    changed in memory only, so that what is shown is what taking it would say."""
    changes, unchanged = [], 0
    known = {p.part_id: p for p in parts(retired=True)}
    for x in lines:
        what, details = _difference(known.get(x.checked["id"]), x.kind, x.checked, x.lot)
        if details:
            changes.append(Change(line=x.line, part_id=x.checked["id"], what=what, details=details))
        else:
            unchanged += 1
    for x in lines:
        try:
            shelf.take(x.kind, x.checked, x.lot, who)
        except InputError as fault:
            told = [
                LineError(line=x.line, column=e.path.rsplit("/", 1)[-1], message=e.message)
                for e in fault.errors
            ]
            return changes, unchanged, told
    return changes, unchanged, []


def _difference(was: Any, kind: str, checked: dict[str, Any], lot: LotIn | None) -> tuple[str, list[str]]:
    details = []
    if was is None:
        details = [
            f"{_called(kind, k)} {_figure(kind, k, v)}"
            for k, v in checked.items()
            if k not in ("id", "kind") and v not in (None, [], False)
        ]
    else:
        keys = sorted(was.figures.keys() | checked.keys())
        details = [
            f"{_called(kind, k)}: {_figure(kind, k, was.figures.get(k))} → {_figure(kind, k, checked.get(k))}"
            for k in keys
            if was.figures.get(k) != checked.get(k)
        ]
        if was.kind != kind:
            details.append(f"kind: {was.kind} → {kind}")
    if lot:
        old = next((x for x in was.lots if x.name == lot.name), None) if was else None
        if old is None:
            details.append(f"new lot {lot.name}: {amount(kind, lot.quantity)}")
        else:
            if old.quantity != lot.quantity:
                details.append(
                    f"lot {lot.name} counted: {amount(kind, old.quantity)} → {amount(kind, lot.quantity)}"
                )
            details += [
                f"lot {lot.name} {what.replace('_', ' ')}: {new}" for what, new in said_of(old, lot).items()
            ]
    return ("new" if was is None else "changed"), details


def _named(kind: str, key: str) -> PartFigure | None:
    return next((f for f in KINDS[kind].part.figures if f.key == key), None)


def _called(kind: str, key: str) -> str:
    """A figure by the name people read."""
    named = _named(kind, key)
    return named.label if named else key.replace("_", " ")


def _figure(kind: str, key: str, value: Any) -> str:
    """A figure's value with its unit."""
    named = _named(kind, key)
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        rows = (v.values() if isinstance(v, dict) else v for v in value)
        said = (r if isinstance(r, str) else " = ".join(f"{x:g}" for x in r) for r in rows)
        return ", ".join(said) or "none"
    figure = f"{value:g}" if isinstance(value, (int, float)) else str(value)
    return f"{figure} {named.unit}".strip() if named else figure


def export_csv() -> str:
    """The stock as CSV, one line a lot, in the columns the import reads."""
    out = io.StringIO()
    writer = csv.DictWriter(out, ("kind", "id", *columns(), *LOT), lineterminator="\n")
    writer.writeheader()
    for p in parts(retired=False):
        count = KINDS[p.kind].part.count
        base = {"kind": p.kind, "id": safe(p.part_id)}
        base |= {
            f.heading: _cell_written(f, p.figures[f.key])
            for f in KINDS[p.kind].part.figures
            if p.figures.get(f.key) is not None
        }
        lots: list[LotOut | None] = [*p.lots] or [None]
        for lot in lots:
            row = dict(base)
            if lot:
                row |= {
                    "lot": safe(lot.name),
                    "quantity": f"{lot.quantity / count.stored:.10g}",
                    "unit": count.unit,
                    "use_by": lot.use_by or "",
                    "opened": "yes" if lot.opened else "",
                    "place": safe(lot.place),
                }
            writer.writerow(row)
    return out.getvalue()


def starter() -> str:
    """A list of invented everyday sizes that a new site may begin with, as CSV."""
    return (Path(__file__).parent / "starter.csv").read_text()
