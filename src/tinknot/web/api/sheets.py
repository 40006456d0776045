"""Kit sheets: written, looked at, checked by a second person, retired, carried in and out."""

from flask import Blueprint, Response

from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.model import Result
from tinknot.core.sheets.templates import templates
from tinknot.services import sheets
from tinknot.services.sheets import SheetLook, SheetOut
from tinknot.web.http import disposition, endpoint, person

bp = Blueprint("sheets", __name__)


class Sheets(Result):
    """Kit sheets of this site, each in its newest revision; `examples` that ship and `templates` without
    figures, to begin from; `unreadable` says which cannot be read, and why."""

    items: list[KitSheet]
    examples: list[KitSheet]
    templates: list[KitSheet]
    unreadable: list[str]


@endpoint(bp, "GET", "/sheets", out=Sheets)
def listing() -> Sheets:
    """All kit sheets."""
    examples = sorted(sheets.examples().values(), key=lambda s: s.name)
    return Sheets(
        items=sheets.sheets(),
        examples=examples,
        templates=list(templates()),
        unreadable=sheets.unreadable(),
    )


@endpoint(bp, "POST", "/sheets", body=KitSheet, out=SheetOut, role="jointer", status=201, keyed=True)
def take_in(body: KitSheet) -> SheetOut:
    """Import a sheet; it is a draft here."""
    return sheets.take_in(body, person())


@endpoint(bp, "POST", "/sheets/look", body=KitSheet, out=SheetLook, heavy=True)
def look(body: KitSheet) -> SheetLook:
    """What does not add up, and the preparation drawn; nothing is stored."""
    return sheets.look(body)


@endpoint(bp, "GET", "/sheets/<sheet_id>", out=SheetOut)
def show(sheet_id: str) -> SheetOut:
    """A sheet in its newest revision."""
    return sheets.get(sheet_id)


@endpoint(bp, "GET", "/sheets/<sheet_id>/revisions/<int:number>", out=SheetOut)
def revision(sheet_id: str, number: int) -> SheetOut:
    """A sheet as it was in one revision."""
    return sheets.get(sheet_id, number)


@endpoint(bp, "PUT", "/sheets/<sheet_id>", body=KitSheet, out=SheetOut, role="jointer", guarded=True)
def save(sheet_id: str, body: KitSheet, version: int) -> SheetOut:
    """Keep a draft; of a checked or retired sheet it begins a new revision."""
    return sheets.save(sheet_id, body, version, person())


@endpoint(bp, "POST", "/sheets/<sheet_id>/check", out=SheetOut, role="verifier", guarded=True, keyed=True)
def check(sheet_id: str, version: int) -> SheetOut:
    """Mark a draft checked, as a second person."""
    return sheets.check(sheet_id, version, person())


@endpoint(bp, "POST", "/sheets/<sheet_id>/retire", out=SheetOut, role="verifier", guarded=True, keyed=True)
def retire(sheet_id: str, version: int) -> SheetOut:
    """Take a sheet out of use."""
    return sheets.retire(sheet_id, version, person())


@endpoint(bp, "GET", "/sheets/<sheet_id>/file", media="application/octet-stream")
def export(sheet_id: str) -> Response:
    """The sheet as a file."""
    return Response(
        sheets.export(sheet_id),
        mimetype="application/octet-stream",
        headers=disposition("attachment", f"{sheet_id}.sheet.json"),
    )
