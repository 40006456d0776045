"""Stock: catalogue lines, lots, import and export."""

from typing import Annotated, Any

from flask import Blueprint, Response
from pydantic import Field

from tinknot.core.model import Result, Strict
from tinknot.core.parts.kind import PartFigure
from tinknot.core.parts.stock import KINDS
from tinknot.services import stock, stock_csv
from tinknot.services.stock import Kind, LotIn, Quantity, StockPart
from tinknot.services.stock_csv import ImportReport
from tinknot.web.http import endpoint, person

bp = Blueprint("stock", __name__)


class Parts(Result):
    items: list[StockPart]


class PartKindOut(Result):
    """A kind of part: how it is called, what is filled in of it, what its list shows, what it is counted in.

    One of `unit` is `stored` as quantities are sent: sleeve is counted in m and sent in mm. `size` and
    `facts` are text with figures in braces; a fact with a figure that is not there is left out.
    """

    name: str
    heading: str
    figures: list[PartFigure]
    size: str
    facts: list[str]
    unit: str
    stored: float


class PartKinds(Result):
    items: list[PartKindOut]


class StockQuery(Strict):
    kind: Kind | None = None
    retired: Annotated[str, Field(pattern="^(yes|no)$")] = "no"


class PartIn(Strict):
    """A part; `figures` are those of the joint file's stock (its schema), `lot` the first lot."""

    kind: Kind
    figures: dict[str, Any]
    lot: LotIn | None = None


class Figures(Strict):
    figures: dict[str, Any]


class Retire(Strict):
    retired: bool


class Count(Strict):
    quantity: Quantity
    opened: bool | None = None
    stored_c: Annotated[float, Field(ge=-40, le=40, description="°C")] | None = None
    note: Annotated[str, Field(max_length=200)] = ""


class CsvIn(Strict):
    text: Annotated[str, Field(max_length=5_000_000)]
    apply: bool = False


@endpoint(bp, "GET", "/part-kinds", out=PartKinds)
def kinds() -> PartKinds:
    """Every kind of part, in the order of the stock's lists."""
    return PartKinds(
        items=[
            PartKindOut(
                name=kind.name,
                heading=kind.heading,
                figures=list(kind.figures),
                size=kind.size,
                facts=list(kind.facts),
                unit=kind.count.unit,
                stored=kind.count.stored,
            )
            for kind in (model.part for model in KINDS.values())
        ]
    )


@endpoint(bp, "GET", "/stock", out=Parts, query=StockQuery)
def listing(query: StockQuery) -> Parts:
    """Parts with their lots."""
    return Parts(items=stock.parts(query.kind, query.retired == "yes"))


@endpoint(bp, "POST", "/stock", body=PartIn, out=StockPart, role="jointer", status=201, keyed=True)
def add(body: PartIn) -> StockPart:
    """Add a part, with its first lot when given."""
    return stock.add_part(body.kind, body.figures, person().name, body.lot)


@endpoint(bp, "GET", "/stock/<part_id>", out=StockPart)
def one(part_id: str) -> StockPart:
    """One part with its lots."""
    return stock.part(part_id)


@endpoint(bp, "PUT", "/stock/<part_id>", body=Figures, out=StockPart, role="jointer", guarded=True)
def edit(part_id: str, body: Figures, version: int) -> StockPart:
    """Change a part's figures."""
    return stock.edit_part(part_id, body.figures, version)


@endpoint(
    bp,
    "POST",
    "/stock/<part_id>/retired",
    body=Retire,
    out=StockPart,
    role="jointer",
    keyed=True,
    guarded=True,
)
def retire(part_id: str, body: Retire, version: int) -> StockPart:
    """Take a part out of choosing, or back in."""
    return stock.retire_part(part_id, body.retired, version)


@endpoint(
    bp, "POST", "/stock/<part_id>/lots", body=LotIn, out=StockPart, role="jointer", status=201, keyed=True
)
def receive(part_id: str, body: LotIn) -> StockPart:
    """Book a delivery in."""
    return stock.add_lot(part_id, body, person().name)


@endpoint(
    bp,
    "POST",
    "/stock/<part_id>/lots/<int:lot_id>/count",
    body=Count,
    out=StockPart,
    role="jointer",
    keyed=True,
    guarded=True,
)
def count(part_id: str, lot_id: int, body: Count, version: int) -> StockPart:
    """Put down what was found on the shelf."""
    found = stock.Found(body.quantity, body.opened, body.stored_c, body.note)
    return stock.count_lot(part_id, lot_id, found, version, who=person().name)


@endpoint(bp, "POST", "/stock-import", body=CsvIn, out=ImportReport, role="jointer", keyed=True, slow=True)
def load(body: CsvIn) -> ImportReport:
    """Check a CSV of parts and lots; take all of it, or nothing."""
    return stock_csv.import_csv(body.text, body.apply, person().name)


class Starter(Result):
    """A list of parts to begin with, as the import takes it."""

    text: str


@endpoint(bp, "GET", "/stock-starter", out=Starter)
def starter() -> Starter:
    """Invented everyday sizes to begin with; taken through the import, edited there, or left."""
    return Starter(text=stock_csv.starter())


@endpoint(bp, "GET", "/stock.csv", media="text/csv")
def save() -> Response:
    """The stock as CSV."""
    return Response(
        stock_csv.export_csv(),
        mimetype="text/csv",
        headers={"Content-Disposition": "attachment; filename=stock.csv"},
    )
