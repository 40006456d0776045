"""Kit sheets that ship with the application: invented leaflets as data, checked when they are read."""

from functools import lru_cache
from importlib.resources import files

from tinknot.core.errors import InputError
from tinknot.core.joint.kitsheet import KitSheet
from tinknot.core.model import parse


@lru_cache(maxsize=1)
def _all() -> dict[str, KitSheet]:
    found = {}
    for entry in sorted(files(__name__).iterdir(), key=lambda e: e.name):
        if entry.name.endswith(".json"):
            sheet = parse(KitSheet, entry.read_text(encoding="utf-8"))
            sheet.check()
            found[sheet.id] = sheet
    return found


def sheets() -> list[KitSheet]:
    """All sheets in their newest revision, by name; the retired ones last."""
    return sorted(_all().values(), key=lambda s: (s.state == "retired", s.name))


def sheet(sheet_id: str) -> KitSheet:
    """One sheet. Raises InputError at `/sheet` when there is none."""
    found = _all().get(sheet_id)
    if found is None:
        raise InputError.at("/sheet", f"{sheet_id} is no kit sheet here; choose one of the list")
    return found
