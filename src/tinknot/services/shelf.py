"""The stock as a large change works on it: read once, changed in memory, written in one short go."""

import json
from dataclasses import dataclass, field
from typing import Any

from tinknot.core.parts.stock import MOST_PARTS
from tinknot.core.parts.stocked import MOST_ON_HAND
from tinknot.services.clock import now_text
from tinknot.services.stock import LotIn, new_id, refuse_part_of_a_piece, too_many, too_much
from tinknot.store.database import db, reading, writing
from tinknot.store.models import Lot, Move, Part


@dataclass
class _Part:
    id: int | None  # None: to be made
    kind: str
    data: str
    version: int
    lots: dict[str, "_Lot"] = field(default_factory=dict)

    @property
    def held(self) -> float:
        return sum(x.quantity for x in self.lots.values())


@dataclass
class _Lot:
    id: int | None
    quantity: float
    use_by: str | None
    opened: bool
    place: str


def said_of(old: Any, lot: LotIn) -> dict[str, Any]:
    """What a line says of a lot that is there already, and that differs; an empty cell says nothing."""
    use_by = lot.use_by.isoformat() if lot.use_by else None
    told = {"use_by": use_by, "place": lot.place or None, "opened": lot.opened or None}
    return {what: new for what, new in told.items() if new is not None and getattr(old, what) != new}


class Shelf:
    """Parts and lots as they were at one moment, what was changed of them in memory, and the mark by which it
    is known whether the stock is still what it was."""

    def __init__(self, mark: tuple[Any, ...], parts: dict[str, _Part], kinds: dict[str, int]) -> None:
        self._mark, self._parts, self._kinds = mark, parts, kinds
        self._changed: set[str] = set()
        self._moves: list[tuple[str, str, str, float, str]] = []  # part, lot, kind, quantity, who

    @classmethod
    def now(cls) -> "Shelf":
        """The stock at this moment."""
        with reading():
            mark = _mark()
            found = {p.part_id: _Part(p.id, p.kind, p.data, p.version) for p in Part.select().iterator()}
            by_id = {p.id: p for p in found.values()}
            for x in Lot.select().iterator():
                by_id[x.part_id].lots[x.name] = _Lot(x.id, x.quantity, x.use_by, x.opened, place=x.place)
            sql = "SELECT kind, COUNT(*) FROM part WHERE NOT retired GROUP BY kind"
            return cls(mark, found, dict(db.execute_sql(sql).fetchall()))

    def take(self, kind: str, checked: dict[str, Any], lot: LotIn | None, who: str) -> None:
        """A part with these figures, and what is found of a lot of it. Raises InputError at the field."""
        part = self._part(kind, checked)
        if lot is None:
            return
        held = part.lots.get(lot.name)
        if held is None:
            refuse_part_of_a_piece(kind, checked, lot.quantity, lot.opened)
        more = lot.quantity - (held.quantity if held else 0.0)
        if more and part.held + more > MOST_ON_HAND:
            raise too_much(checked["id"])
        if held is None:
            use_by = lot.use_by.isoformat() if lot.use_by else None
            part.lots[lot.name] = _Lot(None, lot.quantity, use_by, lot.opened, place=lot.place)
            self._moves.append((checked["id"], lot.name, "received", lot.quantity, who))
        else:
            told = said_of(held, lot)
            for what, new in told.items():
                setattr(held, what, new)
            held.quantity = lot.quantity
            if more:
                self._moves.append((checked["id"], lot.name, "counted", more, who))
            if not told and not more:
                return
        self._changed.add(checked["id"])

    def _part(self, kind: str, checked: dict[str, Any]) -> _Part:
        """The part of these figures: as it is, changed to them, or new."""
        data = json.dumps(checked)
        found = self._parts.get(checked["id"])
        if found is None:
            if self._kinds.get(kind, 0) >= MOST_PARTS:
                raise too_many()
            found = self._parts[new_id(checked["id"])] = _Part(None, kind, data, 1)
            self._kinds[kind] = self._kinds.get(kind, 0) + 1
            self._changed.add(checked["id"])
        elif json.loads(found.data) != checked or found.kind != kind:
            found.data, found.kind = data, kind
            self._changed.add(checked["id"])
        return found

    def written(self) -> bool:
        """Write all that was changed, or nothing: false when somebody changed the stock meanwhile."""
        at = now_text()
        with writing():
            if _mark() != self._mark:
                return False
            changed = [(name, self._parts[name]) for name in sorted(self._changed)]
            new = [
                {"part_id": name, "kind": p.kind, "data": p.data, "retired": False, "version": 1}
                for name, p in changed
                if p.id is None
            ]
            _insert(Part, new)
            for _, p in changed:
                if p.id is not None:
                    fields = {Part.data: p.data, Part.kind: p.kind, Part.version: p.version + 1}
                    Part.update(fields).where(Part.id == p.id).execute()
            ids = dict(db.execute_sql("SELECT part_id, id FROM part").fetchall())
            _insert(
                Lot,
                [
                    _row(x, name, ids[part])
                    for part, p in changed
                    for name, x in p.lots.items()
                    if x.id is None
                ],
            )
            for _, p in changed:
                for x in p.lots.values():
                    if x.id is not None:
                        fields = {f: getattr(x, f) for f in ("quantity", "use_by", "opened", "place")}
                        Lot.update(fields).where(Lot.id == x.id).execute()
            lots = {(part, name): i for i, part, name in db.execute_sql("SELECT id, part_id, name FROM lot")}
            moves = [
                {
                    "lot": lots[ids[part], lot],
                    "kind": kind,
                    "quantity": quantity,
                    "at": at,
                    "who": who,
                    "note": "import" if kind == "counted" else "",
                    "layer": "",
                }
                for part, lot, kind, quantity, who in self._moves
            ]
            _insert(Move, moves)
        return True


def _row(lot: _Lot, name: str, part: int) -> dict[str, Any]:
    return {
        "part": part,
        "name": name,
        "quantity": lot.quantity,
        "use_by": lot.use_by,
        "opened": lot.opened,
        "place": lot.place,
    }


def _insert(model: type[Part] | type[Lot] | type[Move], rows: list[dict[str, Any]]) -> None:
    """All rows by one statement; each names every column that has no default in the table."""
    if not rows:
        return
    columns = {model._meta.fields[name].column_name: name for name in rows[0]}
    marks = ", ".join("?" * len(columns))
    sql = f'INSERT INTO "{model._meta.table_name}" ({", ".join(columns)}) VALUES ({marks})'
    db.connection().executemany(sql, [tuple(row[name] for name in columns.values()) for row in rows])


def _mark() -> tuple[Any, ...]:
    """Another one after every change of parts and lots: each raises a version, or is a move."""
    sql = (
        "SELECT (SELECT MAX(id) FROM move), (SELECT COUNT(*) FROM part), (SELECT SUM(version) FROM part),"
        " (SELECT COUNT(*) FROM lot), (SELECT SUM(quantity) FROM lot)"
    )
    found: tuple[Any, ...] = db.execute_sql(sql).fetchone()
    return found
