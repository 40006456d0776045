"""Files beside the database, for their owner only."""

import os
import tempfile
from pathlib import Path


def write_whole(target: Path, data: bytes) -> None:
    """Write a file whole and durably, or not at all; nothing is left of a write that fails. Several at
    once do not get in each other's way: the last one stays."""
    descriptor, name = tempfile.mkstemp(prefix=f".{target.name[:16]}.", suffix=".part", dir=target.parent)
    part = Path(name)
    try:
        with os.fdopen(descriptor, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        part.replace(target)
        keep_names(target.parent)
    except OSError:
        part.unlink(missing_ok=True)
        raise


def keep_names(folder: Path) -> None:
    """Bring the names in a folder to the disk: until then a power loss may take a new name with its file."""
    directory = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(directory)
    finally:
        os.close(directory)
