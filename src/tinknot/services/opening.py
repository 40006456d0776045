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
    NewerDatabase among them, where that cannot be."""
    before = open_database(database)
    with told():
        heads.open_heads(Path(database).parent, settings.get(HEADS) or heads.NAME)
        keys.move_out()
        if before and COVERED not in before:
            checkpoints.begin_all()
        photos.close_to_others()


def close_site() -> None:
    """Close this thread's connections; the last one folds the logs into their files."""
    close()
    heads.close()
