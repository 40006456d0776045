"""Photographs, stored by the hash of their content beside the database."""

import hashlib
import re
from pathlib import Path

from tinknot.core.errors import InputError, NotFound
from tinknot.store.database import db
from tinknot.store.faults import told
from tinknot.store.files import write_whole

MOST_BYTES = 4 * 1024 * 1024
_KINDS = ((b"\xff\xd8\xff", "image/jpeg"), (b"\x89PNG\r\n\x1a\n", "image/png"), (b"RIFF", "image/webp"))


def _path(digest: str) -> Path:
    """Where a picture lies. Raises NotFound for what is no SHA-256."""
    if not re.fullmatch("[0-9a-f]{64}", digest):
        raise NotFound("A picture is named by the 64 hexadecimal digits of its SHA-256.")
    return folder() / digest


def folder() -> Path:
    """Where they lie."""
    return Path(db.database).parent / "photos"


def close_to_others() -> None:
    """Pictures that an earlier version left readable for everybody are for their owner only."""
    if not folder().is_dir() or not folder().stat().st_mode & 0o077:
        return
    for path in folder().iterdir():
        path.chmod(0o600)
    folder().chmod(0o700)


def _kind(data: bytes) -> str | None:
    found = next((kind for magic, kind in _KINDS if data.startswith(magic)), None)
    return None if found == "image/webp" and data[8:12] != b"WEBP" else found


def keep(data: bytes, digest: str) -> None:
    """Store a picture under its SHA-256, whole or not at all; the same one again changes nothing.

    Raises InputError when it is no picture, too large, or its bytes do not match `digest`.
    """
    if len(data) > MOST_BYTES:
        raise InputError.at("", f"is over {MOST_BYTES // 1024 // 1024} MB; make the picture smaller")
    if _kind(data) is None:
        raise InputError.at("", "is no JPEG, PNG or WebP picture")
    if hashlib.sha256(data).hexdigest() != digest:
        raise InputError.at("/digest", "does not belong to these bytes; send the picture again")
    target = _path(digest)
    if target.exists():
        return
    with told():
        folder().mkdir(mode=0o700, exist_ok=True)
        write_whole(target, data)


def load(digest: str) -> tuple[bytes, str]:
    """A picture and its media type. Raises NotFound."""
    path = _path(digest)
    if not path.is_file():
        raise NotFound("There is no such picture here.")
    data = path.read_bytes()
    return data, _kind(data) or "application/octet-stream"


def state(digest: str) -> str:
    """Whether the picture is here and unaltered: '', or what is wrong."""
    return fault_of(folder(), digest)


def fault_of(folder: Path, digest: str) -> str:
    """What is wrong with a picture in a folder: empty, or in words."""
    if not re.fullmatch("[0-9a-f]{64}", digest):
        return "has no name that a picture can have"
    path = folder / digest
    if not path.is_file():
        return "is missing"
    return "" if hashlib.sha256(path.read_bytes()).hexdigest() == digest else "was altered"
