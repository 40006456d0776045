"""Kit sheets that people write; drafts, checked by a second person, retired. What ships are examples to begin
from."""

import json
from functools import lru_cache
from importlib.resources import files

from tinknot.core.errors import Conflict, InputError, NotAllowed, NotFound, Unreadable
from tinknot.core.families.trace.section import preview
from tinknot.core.files.numbers import SHEET
from tinknot.core.joint.kitsheet import TRACE_ENDS, KitSheet
from tinknot.core.model import Result, parse
from tinknot.core.plan.trace import PreparedEnd
from tinknot.core.planning.leafletplay import sheet_breaks
from tinknot.core.planning.sample import StepName, sheet_steps
from tinknot.core.sheets import Doubt, doubts
from tinknot.services.accounts import Person
from tinknot.services.clock import now_text
from tinknot.services.site import rule_book
from tinknot.store.database import writing
from tinknot.store.models import KitSheetRow


class SheetLook(Result):
    """What does not add up in a sheet, its ends drawn, and the steps its own may stand between; `breaks`:
    which rows cannot be done where they stand."""

    doubts: list[Doubt]
    prepared: list[PreparedEnd]
    steps: list[StepName]
    breaks: list[Doubt]


class SheetOut(Result):
    """A sheet as it stands: `version` guards edits, `example` came with the application and nobody here has
    taken it over; older revisions."""

    sheet: KitSheet
    version: int
    example: bool
    updated: str
    revisions: list[int]
    doubts: list[Doubt]
    prepared: list[PreparedEnd]
    steps: list[StepName]
    breaks: list[Doubt]


@lru_cache(maxsize=1)
def examples() -> dict[str, KitSheet]:
    """What ships, by id: drafts that nobody has checked, to begin from."""
    found = {}
    for entry in sorted(files(__name__).iterdir(), key=lambda e: e.name):
        if entry.name.endswith(".json"):
            sheet = parse(KitSheet, entry.read_text(encoding="utf-8"))
            sheet.check()
            found[sheet.id] = sheet
    return found


@lru_cache(maxsize=256)
def _from_text(text: str) -> KitSheet:
    return SHEET.read(KitSheet, text)


def _rows(sheet_id: str) -> list[KitSheetRow]:
    return list(
        KitSheetRow.select().where(KitSheetRow.sheet_id == sheet_id).order_by(KitSheetRow.revision.desc())
    )


def _of_row(row: KitSheetRow) -> KitSheet:
    return _from_text(row.body)


def _revisions(sheet_id: str) -> list[KitSheet]:
    """All revisions, newest first; of what nobody here has taken over the example."""
    own, example = [_of_row(r) for r in _rows(sheet_id)], examples().get(sheet_id)
    return own or ([example] if example else [])


def sheets() -> list[KitSheet]:
    """All sheets of this site in their newest revision, by name; the retired ones last. Those that cannot be
    read are told by `unreadable`."""
    return _all()[0]


def unreadable() -> list[str]:
    """The sheets that cannot be read, each with why."""
    return _all()[1]


def _all() -> tuple[list[KitSheet], list[str]]:
    ids = {r.sheet_id for r in KitSheetRow.select(KitSheetRow.sheet_id).distinct()}
    found, faults = [], []
    for sheet_id in sorted(ids):
        try:
            found.append(_revisions(sheet_id)[0])
        except Unreadable as fault:
            faults.append(f"{sheet_id}: {fault}")
    return sorted(found, key=lambda s: (s.state == "retired", s.name)), faults


def sheet(sheet_id: str) -> KitSheet:
    """The sheet that work is planned with: the newest checked revision, else the draft; a retired one says
    so. Raises InputError at `/sheet` when there is none."""
    found = _revisions(sheet_id)
    if not found:
        raise InputError.at("/sheet", f"{sheet_id} is no kit sheet here; choose one of the list")
    if found[0].state == "retired":
        return found[0]
    return next((s for s in found if s.state == "checked"), found[0])


def look(given: KitSheet) -> SheetLook:
    """What would not add up, and the drawing; nothing is stored."""
    steps, found = _tried(given)
    return SheetLook(doubts=found, prepared=_drawn(given), steps=steps, breaks=_played(given, found))


def _played(given: KitSheet, found: list[Doubt]) -> list[Doubt]:
    """The rows of a leaflet that a law of the work stops, once its figures agree."""
    return [] if found or given.recipe not in TRACE_ENDS else sheet_breaks(given, rule_book())


def _tried(given: KitSheet) -> tuple[list[StepName], list[Doubt]]:
    """The steps of such a joint, and everything that does not add up; that of a low-voltage joint is tried on
    a sample cable as soon as its figures agree."""
    rules = rule_book()
    found = doubts(given, rules)
    if given.recipe in TRACE_ENDS or any(not d.path.startswith("/steps") for d in found):
        return [], found
    steps, more = sheet_steps(given, rules)
    return steps, [*found, *more]


def _drawn(given: KitSheet) -> list[PreparedEnd]:
    try:
        return preview(given)
    except InputError:  # a figure that is no length yet; the doubts say so
        return []


def get(sheet_id: str, revision: int | None = None) -> SheetOut:
    """A revision of a sheet, the newest when none is named. Raises NotFound."""
    found = _revisions(sheet_id)
    one = next((s for s in found if revision in (None, s.revision)), None)
    if one is None:
        raise NotFound(f"There is no kit sheet {sheet_id}.")
    row = next((r for r in _rows(sheet_id) if r.revision == one.revision), None)
    steps, found_doubts = _tried(one)
    return SheetOut(
        sheet=one,
        version=row.version if row else 0,
        example=row is None,
        updated=row.updated if row else "",
        revisions=[s.revision for s in found],
        doubts=found_doubts,
        prepared=_drawn(one),
        steps=steps,
        breaks=_played(one, found_doubts),
    )


def save(sheet_id: str, given: KitSheet, version: int, who: Person) -> SheetOut:
    """Keep a draft: a new sheet, the draft as it goes on, or a new revision of one that is checked or
    retired.

    Raises InputError for another id, Conflict when somebody else changed it since `version` (0: a new
    sheet, or an example that is taken over)."""
    if given.id != sheet_id:
        raise InputError.at("/id", f"must stay {sheet_id}: plans name it; import it under another id instead")
    with writing():
        found, rows = _revisions(sheet_id), _rows(sheet_id)
        head = found[0] if found else None
        row = rows[0] if rows and head and rows[0].revision == head.revision else None
        if (row.version if row else 0) != version:
            raise Conflict(
                f"{sheet_id} was changed by somebody else. Look at it again; what you typed is still here."
            )
        if row is not None and row.state == "draft":
            authors = sorted({*json.loads(row.authors), who.name})
            ids = sorted({*json.loads(row.author_ids), who.id})
            body = _stamped(given, row.revision, "draft", authors, checked_by="")
            KitSheetRow.update(
                body=body,
                authors=json.dumps(authors),
                author_ids=json.dumps(ids),
                version=version + 1,
                updated=now_text(),
            ).where(KitSheetRow.id == row.id).execute()
        else:
            number = head.revision + 1 if head and rows else 1
            body = _stamped(given, number, "draft", [who.name], checked_by="")
            KitSheetRow.create(
                sheet_id=sheet_id,
                revision=number,
                state="draft",
                body=body,
                authors=json.dumps([who.name]),
                author_ids=json.dumps([who.id]),
                version=1,
                updated=now_text(),
            )
    return get(sheet_id)


def _stamped(given: KitSheet, revision: int, state: str, authors: list[str], checked_by: str) -> str:
    """The sheet as JSON with what only the service may say: revision, state, who wrote and checked it."""
    return given.model_copy(
        update={
            "revision": revision,
            "state": state,
            "author": ", ".join(authors)[:80],
            "checked_by": checked_by,
        }
    ).model_dump_json(exclude_none=True)


def take_in(given: KitSheet, who: Person) -> SheetOut:
    """Import: a draft here, whatever it was where it comes from. Raises Conflict while a draft of it is
    open."""
    found = _revisions(given.id)
    if _rows(given.id) and found[0].state == "draft":
        raise Conflict(f"There is a draft of {given.id} already; check it or retire it first.")
    return save(given.id, given, get(given.id).version if found else 0, who)


def check(sheet_id: str, version: int, who: Person) -> SheetOut:
    """A second person marks a draft checked. Raises NotAllowed for one's own sheet or one that is no draft,
    InputError with everything that does not add up."""
    row = _draft(sheet_id, version)
    if who.id in json.loads(row.author_ids):
        raise NotAllowed(
            "Whoever wrote a sheet cannot check it; a second person reads it against the leaflet."
        )
    given = _of_row(row)
    if found := _tried(given)[1]:
        fault = InputError.at(found[0].path, found[0].message)
        for d in found[1:]:
            fault = InputError(*fault.errors, *InputError.at(d.path, d.message).errors)
        raise fault
    with writing():
        row = _draft(sheet_id, version)
        body = _stamped(given, row.revision, "checked", json.loads(row.authors), checked_by=who.name)
        KitSheetRow.update(state="checked", body=body, version=version + 1, updated=now_text()).where(
            KitSheetRow.id == row.id
        ).execute()
    return get(sheet_id)


def _draft(sheet_id: str, version: int) -> KitSheetRow:
    rows = _rows(sheet_id)
    if not rows and sheet_id not in examples():
        raise NotFound(f"There is no kit sheet {sheet_id}.")
    if rows and rows[0].version != version:
        raise Conflict(f"{sheet_id} was changed in the meantime; read it again before you check it.")
    if not rows or rows[0].state != "draft":
        raise NotAllowed(f"{sheet_id} is no draft.")
    return rows[0]


def retire(sheet_id: str, version: int, who: Person) -> SheetOut:
    """Out of use; joints planned with it keep it. Raises NotFound, Conflict."""
    with writing():
        found = _revisions(sheet_id)
        if not found:
            raise NotFound(f"There is no kit sheet {sheet_id}.")
        now = found[0]
        row = next((r for r in _rows(sheet_id) if r.revision == now.revision), None)
        if (row.version if row else 0) != version:
            raise Conflict(f"{sheet_id} was changed in the meantime; look at it again.")
        authors = [now.author] if now.author else [who.name]
        body = _stamped(now, now.revision, "retired", authors, checked_by=now.checked_by)
        if row is None:
            KitSheetRow.create(
                sheet_id=sheet_id,
                revision=now.revision,
                state="retired",
                body=body,
                authors=json.dumps([who.name]),
                author_ids=json.dumps([who.id]),
                version=1,
                updated=now_text(),
            )
        else:
            KitSheetRow.update(state="retired", body=body, version=version + 1, updated=now_text()).where(
                KitSheetRow.id == row.id
            ).execute()
    return get(sheet_id)


def export(sheet_id: str) -> str:
    """The newest revision as a JSON file."""
    return get(sheet_id).sheet.model_dump_json(exclude_none=True, indent=1)
