"""Stock in and out as CSV: everything is checked first, the changes are shown, all or nothing is taken."""

import csv
import io
import json
import re
from pathlib import Path
from typing import Any

from tinknot.core.errors import FieldError, InputError
from tinknot.core.model import Result, parse
from tinknot.core.parts.kind import PartFigure
from tinknot.core.parts.stock import KINDS
from tinknot.services.clock import now_text
from tinknot.services.stock import LotIn, LotOut, figures, new_lot, new_part, parts, room_for
from tinknot.store.database import writing
from tinknot.store.models import Lot, Move, Part

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


def import_csv(text: str, apply: bool, who: str) -> ImportReport:
    """Check a CSV file of parts and lots and, when `apply` and without fault, take it all."""
    text = re.sub(r"\r\n?", "\n", text.removeprefix("\ufeff"))
    try:
        dialect = csv.Sniffer().sniff(text[:4096], ",;\t")
    except csv.Error:
        dialect = csv.excel  # one column or one line: nothing to sniff
    reader = csv.DictReader(io.StringIO(text), dialect=dialect)
    try:
        header, rows = (
            [h.strip() for h in reader.fieldnames or []],
            [(reader.line_num, row) for row in reader],
        )
    except csv.Error as fault:
        unread = LineError(line=max(1, reader.line_num), column="", message=f"cannot be read: {fault}")
        return ImportReport(applied=False, changes=[], unchanged=0, errors=[unread])
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
    changes: list[Change] = []
    todo: list[tuple[int, str, dict[str, Any], LotIn | None]] = []
    known = {p.part_id: p for p in parts(retired=True)}
    seen: dict[str, dict[str, Any]] = {}
    lots: set[tuple[str, str]] = set()
    unchanged = 0
    for line, row in [] if errors else rows:
        if None in row or len(todo) >= LONGEST:
            errors.append(LineError(line=line, column="", message="has more fields than the first line"))
            continue
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
        what, details = _difference(known.get(checked["id"]), kind, checked, lot)
        todo.append((line, kind, checked, lot))
        if details:
            changes.append(Change(line=line, part_id=checked["id"], what=what, details=details))
        else:
            unchanged += 1
    if not todo and not errors:
        errors.append(LineError(line=1, column="", message="the file holds no parts"))
    errors = errors or _take_all(todo, who, apply)
    done = apply and not errors
    return ImportReport(applied=done, changes=changes, unchanged=unchanged, errors=errors)


class _OnlyTried(Exception):
    """Takes back what was written to see whether it can be."""


def _take_all(
    todo: list[tuple[int, str, dict[str, Any], LotIn | None]], who: str, keep: bool
) -> list[LineError]:
    """Take every line, or none where one cannot be taken; returns what is wrong with it. Without `keep` it
    is only tried, so that what is shown is what taking it would say."""
    at = 0
    try:
        with writing():
            for line, kind, checked, lot in todo:
                at = line
                _take(kind, checked, lot, who)
            if not keep:
                raise _OnlyTried
    except _OnlyTried:
        return []
    except InputError as fault:
        return [LineError(line=at, column=e.path.rsplit("/", 1)[-1], message=e.message) for e in fault.errors]
    return []


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
                f"lot {lot.name} {what.replace('_', ' ')}: {new}" for what, new in _said_of(old, lot).items()
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


def _said_of(old: Any, lot: LotIn) -> dict[str, Any]:
    """What a line says of a lot that is there already, and that differs; an empty cell says nothing."""
    use_by = lot.use_by.isoformat() if lot.use_by else None
    told = {"use_by": use_by, "place": lot.place or None, "opened": lot.opened or None}
    return {what: new for what, new in told.items() if new is not None and getattr(old, what) != new}


def _take(kind: str, checked: dict[str, Any], lot: LotIn | None, who: str) -> None:
    row = Part.get_or_none(Part.part_id == checked["id"])
    if row is None:
        row = new_part(kind, checked)
    elif json.loads(row.data) != checked or row.kind != kind:
        row.data, row.kind, row.version = json.dumps(checked), kind, row.version + 1
        row.save()
    if lot is None:
        return
    old = Lot.get_or_none((Lot.part == row) & (Lot.name == lot.name))
    if old is None:
        new_lot(row, lot, who)
        return
    if told := _said_of(old, lot):
        Lot.update(told).where(Lot.id == old.id).execute()
    if old.quantity != lot.quantity:
        room_for(row, lot.quantity - old.quantity)
        Move.create(
            lot=old,
            kind="counted",
            quantity=lot.quantity - old.quantity,
            at=now_text(),
            who=who,
            note="import",
        )
        old.quantity = lot.quantity
        old.save()


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
