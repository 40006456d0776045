"""Stock: parts of every kind with their lots; what is on hand, reserved and used."""

import json
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import count
from math import ceil
from typing import Annotated, Any

from peewee import fn
from pydantic import AfterValidator, Field, WithJsonSchema

from tinknot.core.errors import Conflict, InputError, NotFound
from tinknot.core.formulas.timelaw import kept_days
from tinknot.core.model import Name, Result, Strict, parse
from tinknot.core.parts.stock import KINDS, LIST_OF, MOST_PARTS
from tinknot.core.parts.stocked import MOST_IN_LOT, MOST_ON_HAND
from tinknot.services.clock import now_text
from tinknot.services.days import today
from tinknot.store.database import writing
from tinknot.store.models import Lot, Move, Part


def _kind(name: str) -> str:
    if name not in KINDS:
        raise ValueError(f"must be one of {', '.join(KINDS)}")
    return name


Kind = Annotated[str, AfterValidator(_kind), WithJsonSchema({"type": "string", "enum": [*KINDS]})]
SCRAPPED = "~"  # in the layer of a move: the piece was thrown away, and which one it was
_COUNTED = {"lots", "on_hand", "on_hand_mm"}  # these come from lots, never from the catalogue line


class LotOut(Result):
    """A lot: mm of sleeve, pieces or rolls of the rest, on the shelf and reserved."""

    id: int
    name: str
    quantity: float
    reserved: float
    use_by: str | None
    opened: bool
    place: str


class StockPart(Result):
    """A catalogue line with its lots."""

    part_id: str
    kind: str
    retired: bool
    version: int
    figures: dict[str, Any]
    on_hand: float
    reserved: float
    lots: list[LotOut]


UNMARKED = "unmarked"  # the lot of what came without a lot number


def one_line(text: str) -> str:
    """`text`, where it can be printed on one line of a label. Raises ValueError."""
    if not text.isprintable():
        raise ValueError("must be one line of printable text")
    return text


LONGEST_DAYS = 3650.0  # that anything is said to last
Quantity = Annotated[
    float, Field(ge=0, le=MOST_IN_LOT, description="mm of sleeve, pieces or rolls of the rest")
]


class LotIn(Strict):
    """A delivery or a first count; what came without a lot number goes to the unmarked lot."""

    name: Annotated[Name, AfterValidator(one_line)] = UNMARKED
    quantity: Quantity
    use_by: Annotated[date, Field(strict=False)] | None = None
    opened: bool = False
    place: Annotated[str, Field(max_length=80)] = ""


def _reserved() -> dict[int, float]:
    found: dict[int, float] = {}
    for m in Move.select().where(Move.kind == "reserved"):
        found[m.lot_id] = found.get(m.lot_id, 0.0) + m.quantity
    return found


def _part_out(part: Part, lots: list[Lot], reserved: dict[int, float]) -> StockPart:
    rows = [
        LotOut(
            id=x.id,
            name=x.name,
            quantity=x.quantity,
            reserved=reserved.get(x.id, 0.0),
            use_by=x.use_by,
            opened=x.opened,
            place=x.place,
        )
        for x in lots
    ]
    return StockPart(
        part_id=part.part_id,
        kind=part.kind,
        retired=part.retired,
        version=part.version,
        figures=json.loads(part.data),
        on_hand=sum(r.quantity for r in rows),
        reserved=sum(r.reserved for r in rows),
        lots=rows,
    )


def parts(kind: str | None = None, retired: bool = False) -> list[StockPart]:
    """Catalogue lines, by size; the retired ones only when asked for."""
    query = Part.select().order_by(Part.part_id)
    if kind:
        query = query.where(Part.kind == kind)
    if not retired:
        query = query.where(Part.retired == False)  # noqa: E712 - peewee needs the comparison
    lots: dict[int, list[Lot]] = {}
    for lot in Lot.select().order_by(Lot.name):
        lots.setdefault(lot.part_id, []).append(lot)
    reserved = _reserved()
    found = [_part_out(p, lots.get(p.id, []), reserved) for p in query]
    return sorted(found, key=lambda p: (p.kind, p.figures.get(KINDS[p.kind].part.order, 0), p.part_id))


def part(part_id: str) -> StockPart:
    """One catalogue line. Raises NotFound."""
    row = _row(part_id)
    return _part_out(row, list(row.lots.order_by(Lot.name)), _reserved())


def _row(part_id: str) -> Part:
    row = Part.get_or_none(Part.part_id == part_id)
    if row is None:
        raise NotFound(f"There is no part {part_id} in stock.")
    return row


def figures(kind: str, data: dict[str, Any], path: str = "/figures") -> dict[str, Any]:
    """Checked figures of a part. Raises InputError at the field."""
    given = {k: v for k, v in data.items() if v is not None}
    for key in _COUNTED & given.keys():
        raise InputError.at(f"{path}/{key}", "comes from the lots; add or count a lot")
    try:
        model = parse(KINDS[kind], given)
        model.check("")
    except InputError as fault:
        raise fault.under(path) from None
    return model.model_dump(mode="json", exclude_none=True, exclude=_COUNTED)


def new_id(part_id: str) -> str:
    """An id that a new part may have: it is printed on labels and stands in addresses. Raises InputError."""
    if not part_id.isprintable() or part_id != part_id.strip():
        raise InputError.at(
            "/figures/id", "must be one line of printable text, without a space at either end"
        )
    if "/" in part_id or "\\" in part_id or set(part_id) <= {"."}:
        raise InputError.at(
            "/figures/id", "must have no / or \\ in it, and more than dots; write a dash instead"
        )
    return part_id


def _whole(row: Part, quantity: float, opened: bool = False) -> None:
    """`refuse_part_of_a_piece` of a part in stock."""
    refuse_part_of_a_piece(row.kind, json.loads(row.data), quantity, opened)


def refuse_part_of_a_piece(kind: str, data: dict[str, Any], quantity: float, opened: bool) -> None:
    """Raises InputError at `/quantity` for a part of a piece, other than of one that is opened and lasts."""
    if opened and data.get("opened_days"):
        return
    if KINDS[kind].part.count.whole and not float(quantity).is_integer():
        raise InputError.at("/quantity", "must be a whole number of pieces")


def too_much(part_id: str) -> InputError:
    """What is said where a part's lots would add up to more than a plan can hold."""
    return InputError.at(
        "/quantity", f"would make more than {MOST_ON_HAND:g} of {part_id} in all; is the unit right?"
    )


def too_many() -> InputError:
    """What is said where there would be more parts of a kind than a plan can hold."""
    return InputError.at(
        "/figures/id", f"would be more than {MOST_PARTS} parts of this kind; retire some first"
    )


def room_for(row: Part, more: float) -> None:
    """Raises InputError at `/quantity` when a part's lots would add up to more than a plan can hold."""
    held = Lot.select(fn.SUM(Lot.quantity)).where(Lot.part == row).scalar() or 0.0
    if held + more > MOST_ON_HAND:
        raise too_much(row.part_id)


def new_part(kind: str, checked: dict[str, Any]) -> Part:
    """Write a new catalogue line. Called inside a transaction. Raises InputError at `/figures/id`."""
    if Part.select().where((Part.kind == kind) & (Part.retired == False)).count() >= MOST_PARTS:  # noqa: E712 - peewee needs the comparison
        raise too_many()
    return Part.create(part_id=new_id(checked["id"]), kind=kind, data=json.dumps(checked))


def add_part(kind: Kind, data: dict[str, Any], who: str, lot: LotIn | None = None) -> StockPart:
    """A new catalogue line, with its first lot when given."""
    checked = figures(kind, data)
    with writing():
        if Part.select().where(Part.part_id == checked["id"]).exists():
            raise Conflict(f"There is a part {checked['id']} already; edit that one or choose another id.")
        row = new_part(kind, checked)
        if lot:
            try:
                new_lot(row, lot, who)
            except InputError as fault:
                raise fault.under("/lot") from None
    return part(checked["id"])


def edit_part(part_id: str, data: dict[str, Any], version: int) -> StockPart:
    """Change a line's figures. Raises Conflict when somebody else changed it since `version`."""
    checked = figures(_row(part_id).kind, data)
    if checked["id"] != part_id:
        raise InputError.at(
            "/figures/id", f"must stay {part_id}: plans and records name it; retire it and add another"
        )
    with writing():
        row = _row(part_id)
        _unchanged(row, version)
        row.data, row.version = json.dumps(checked), version + 1
        row.save(only=[Part.data, Part.version])
    return part(part_id)


def retire_part(part_id: str, retired: bool, version: int) -> StockPart:
    """Take a line out of choosing, or back in; its records stay. Raises Conflict when somebody else changed
    it since `version`."""
    with writing():
        row = _row(part_id)
        _unchanged(row, version)
        row.retired, row.version = retired, version + 1
        row.save(only=[Part.retired, Part.version])
    return part(part_id)


def _unchanged(row: Part, version: int) -> None:
    """Raises Conflict when the part, or a count of it, was changed since `version`. Inside the transaction
    that writes."""
    if row.version != version:
        raise Conflict(
            f"{row.part_id} was changed by somebody else. Look at it again; what you typed is still here."
        )


def new_lot(row: Part, lot: LotIn, who: str) -> None:
    """Book a lot in; called inside a transaction. Raises InputError at `/quantity`."""
    _whole(row, lot.quantity, lot.opened)
    room_for(row, lot.quantity)
    made = Lot.create(
        part=row,
        name=lot.name,
        quantity=lot.quantity,
        use_by=lot.use_by.isoformat() if lot.use_by else None,
        opened=lot.opened,
        place=lot.place,
    )
    Move.create(lot=made, kind="received", quantity=lot.quantity, at=now_text(), who=who)


def add_lot(part_id: str, lot: LotIn, who: str) -> StockPart:
    """A delivery."""
    with writing():
        row = _row(part_id)
        if Lot.select().where((Lot.part == row) & (Lot.name == lot.name)).exists():
            raise Conflict(f"{part_id} has a lot {lot.name} already; count that one.")
        new_lot(row, lot, who)
        Part.update(version=Part.version + 1).where(Part.id == row.id).execute()
    return part(part_id)


@dataclass(frozen=True)
class Found:
    """What was found of a lot: how much, whether one of it is `opened` now, and at how many °C that is kept
    (None at room temperature)."""

    quantity: float
    opened: bool | None = None
    stored_c: float | None = None
    note: str = ""


def count_lot(part_id: str, lot_id: int, found: Found, version: int, who: str) -> StockPart:
    """What was really found on the shelf; the difference is booked. Of several of which one is opened, that
    one is kept apart with a date of its own. Raises Conflict when the part was changed or counted since
    `version`."""
    with writing():
        row = _row(part_id)
        lot = Lot.get_or_none((Lot.id == lot_id) & (Lot.part == row))
        if lot is None:
            raise NotFound(f"{part_id} has no such lot.")
        _unchanged(row, version)
        _whole(row, found.quantity, lot.opened if found.opened is None else found.opened)
        row.version = version + 1
        row.save(only=[Part.version])
        room_for(row, found.quantity - lot.quantity)
        _booked(lot, found.quantity, who, found.note)
        if found.opened and not lot.opened:
            lot = _opened(row, lot, found, who)
        elif found.opened is not None:
            lot.opened = found.opened
        lot.save()
    return part(part_id)


def _booked(lot: Lot, quantity: float, who: str, note: str) -> None:
    """A count written down; called inside a transaction."""
    Move.create(lot=lot, kind="counted", quantity=quantity - lot.quantity, at=now_text(), who=who, note=note)
    lot.quantity = quantity


def _opened(row: Part, lot: Lot, found: Found, who: str) -> Lot:
    """The lot with what is opened of it today: one of several is kept apart from those that are closed, if
    being opened shortens its life."""
    until = _opened_until(row, lot.use_by, found.stored_c)
    if found.quantity > 1 and until != lot.use_by:
        names = {x.name for x in Lot.select().where(Lot.part == row)}
        name = next(n for i in count(1) if (n := f"{lot.name}-o{i}") not in names)
        closed = ceil(found.quantity) - 1.0
        _booked(lot, closed, who, f"one opened, kept apart as {name}")
        lot.save()
        lot = Lot.create(part=row, name=name, quantity=0.0, use_by=lot.use_by, place=lot.place)
        _booked(lot, found.quantity - closed, who, found.note)
    lot.use_by, lot.opened = until, True
    return lot


def _opened_until(row: Part, use_by: str | None, stored_c: float | None) -> str | None:
    """Until when a lot is good that is opened today: what is opened lasts as long as its sheet says, longer
    where it is kept cold, and never longer than it would have closed."""
    days = json.loads(row.data).get("opened_days")
    if not days:
        return use_by
    lasts = float(days) if stored_c is None else kept_days(float(days), stored_c)
    until = (today() + timedelta(days=min(lasts, LONGEST_DAYS))).isoformat()
    return min(until, use_by) if use_by else until


def for_planning(joint_id: int | None = None) -> dict[str, Any]:
    """The stock as a joint file holds it: what is on hand less what other joints have reserved. What this
    joint itself has reserved or built in counts as there, or planning it again would take other parts than
    those it holds; what a remake has thrown away does not."""
    mine: dict[int, float] = {}
    if joint_id is not None:
        own = (Move.joint == joint_id) & Move.kind.in_(("reserved", "consumed")) & Move.lot.is_null(False)
        for m in Move.select().where(own):
            if SCRAPPED not in m.layer:
                mine[m.lot_id] = mine.get(m.lot_id, 0.0) + m.quantity
    out: dict[str, list[dict[str, Any]]] = {listed: [] for listed in LIST_OF.values()}
    for p in parts():
        on_hand = KINDS[p.kind].part.count.on_hand
        free = {x.name: max(0.0, x.quantity - x.reserved + mine.get(x.id, 0.0)) for x in p.lots}
        lots = [{"id": x.name, "opened": x.opened, "use_by": x.use_by, on_hand: free[x.name]} for x in p.lots]
        entry = p.figures | {"lots": lots, on_hand: sum(free.values())}
        out[LIST_OF[p.kind]].append(entry)
    return out


def sync_joint(joint_id: int, kind: str, wanted: dict[tuple[str, str, str], float], who: str) -> None:
    """Make the joint's `kind` moves (reserved or consumed) equal to `wanted`, by (layer, part, lot name).

    Consumption and its return change what is on the shelf. Called inside a transaction.
    """
    have: dict[tuple[str, int], float] = {}
    for m in Move.select().where((Move.joint == joint_id) & (Move.kind == kind) & Move.lot.is_null(False)):
        have[(m.layer, m.lot_id)] = have.get((m.layer, m.lot_id), 0.0) + m.quantity
    named = {part_id for _, part_id, _ in wanted}
    lots = {
        (lot.part.part_id, lot.name): lot.id
        for lot in (Lot.select(Lot, Part).join(Part).where(Part.part_id.in_(named)) if named else ())
    }
    target: dict[tuple[str, int], float] = {}
    for (layer, part_id, lot_name), quantity in wanted.items():
        lot_id = lots.get((part_id, lot_name))
        if lot_id is not None:
            target[(layer, lot_id)] = target.get((layer, lot_id), 0.0) + quantity
    for key in have.keys() | target.keys():
        difference = target.get(key, 0.0) - have.get(key, 0.0)
        if abs(difference) < 1e-9:
            continue
        layer, lot_id = key
        Move.create(
            lot=lot_id, joint=joint_id, layer=layer, kind=kind, quantity=difference, at=now_text(), who=who
        )
        if kind == "consumed":
            Lot.update(quantity=Lot.quantity - difference).where(Lot.id == lot_id).execute()


def lot_facts(part_id: str, lot: str) -> dict[str, str]:
    """The date of a lot that is taken. Raises InputError when the part has no such lot."""
    row = Lot.get_or_none((Lot.part == _row(part_id)) & (Lot.name == lot))
    if row is None:
        raise InputError.at("/lot", f"{part_id} has no lot {lot}")
    return {"lot-use-by": row.use_by} if row.use_by else {}
