"""Answers kept for repeated requests, so that a write sent twice is done once."""

from tinknot.store.database import writing
from tinknot.store.models import Repeat


def kept(key: str) -> tuple[int, str] | None:
    """Status and body of the first answer, if there was one."""
    row = Repeat.get_or_none(Repeat.key == key)
    return (row.status, row.body) if row else None


def keep(key: str, status: int, body: str) -> None:
    """Remember an answer; the first one stays."""
    with writing():
        Repeat.insert(key=key, status=status, body=body).on_conflict_ignore().execute()
