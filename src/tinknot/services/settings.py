"""Values of the site by name: its rules, its address, which keys are its own."""

import json
from typing import Any

from tinknot.store.database import db, writing
from tinknot.store.models import Setting


def get(key: str) -> Any:
    """A stored value, or None. Written out: it is asked for with every event."""
    found = db.execute_sql("SELECT value FROM setting WHERE key = ?", (key,)).fetchone()
    return json.loads(found[0]) if found else None


def put(key: str, value: Any) -> None:
    """Store a value."""
    with writing():
        Setting.insert(key=key, value=json.dumps(value)).on_conflict_replace().execute()


def drop(key: str) -> None:
    """Forget a value."""
    with writing():
        Setting.delete().where(Setting.key == key).execute()
