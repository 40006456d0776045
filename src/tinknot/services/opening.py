"""Opening a data folder: database, checkpoints, keys, pictures; readable by their owner only."""

from pathlib import Path

from tinknot.services import checkpoints, keys, photos, settings
from tinknot.store import heads
from tinknot.store.database import close, open_database
from tinknot.store.faults import told

HEADS = "heads"  # the setting that names the file of this database's checkpoints
COVERED = "0008_released_means_sound"  # from this migration on every joint has a checkpoint, its plans too


def open_site(database: Path | str) -> None:
    """Open what lies in the folder of `database`; an older one is upgraded. Raises StoreFault,
    NewerDatabase among them, where that cannot be.

    An older one is given its checkpoints before it is upgraded: a start that is ended in between does it
    again, and one that is upgraded without them cannot be."""

    def cover(ran: set[str]) -> None:
        if COVERED not in ran:
            _open_heads(database)
            keys.move_out()
            checkpoints.begin_all()

    open_database(database, cover)
    with told():
        _open_heads(database)
        keys.move_out()
        photos.close_to_others()


def _open_heads(database: Path | str) -> None:
    heads.open_heads(Path(database).parent, settings.get(HEADS) or heads.NAME)


def close_site() -> None:
    """Close this thread's connections; the last one folds the logs into their files."""
    close()
    heads.close()
