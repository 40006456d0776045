"""Opening a data folder: database, checkpoints, keys, pictures; readable by their owner only."""

from pathlib import Path

from tinknot.services import keys, photos
from tinknot.store import heads
from tinknot.store.database import close, open_database
from tinknot.store.faults import told


def open_site(database: Path | str) -> None:
    """Open what lies in the folder of `database`; an older one is upgraded. Raises StoreFault,
    NewerDatabase among them, where that cannot be."""
    open_database(database)
    with told():
        heads.open_heads(Path(database).parent)
        keys.move_out()
        photos.close_to_others()


def close_site() -> None:
    """Close this thread's connections; the last one folds the logs into their files."""
    close()
    heads.close()
