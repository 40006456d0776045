"""Photographs, stored by the hash of their content beside the database. What is kept is the picture alone,
encoded anew: where and when it was taken, by which device, and whatever else a file can carry is gone."""

import hashlib
import re
from io import BytesIO
from pathlib import Path
from threading import Lock

from PIL import Image, ImageOps, UnidentifiedImageError

from tinknot.core.errors import InputError, NotFound
from tinknot.store.database import db, writing
from tinknot.store.faults import told
from tinknot.store.files import write_whole
from tinknot.store.models import Picture

MOST_BYTES = 4 * 1024 * 1024
MOST_PIXELS = 64_000_000  # of a JPEG, as phones take them: it is read smaller than it is
MOST_PLAIN = 20_000_000  # of other pictures, which are read whole
MOST_SIDE = 2560  # larger ones are made smaller; an A4 print shows no more
_FORMATS = ("JPEG", "PNG", "WEBP")
_KINDS = ((b"\xff\xd8\xff", "image/jpeg"), (b"\x89PNG\r\n\x1a\n", "image/png"), (b"RIFF", "image/webp"))


_one_at_a_time = Lock()  # a picture of a few MB is a hundred times as much when it is looked at


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
    """Keep a picture that is sent under its SHA-256, whole or not at all; the same one again changes nothing.

    Raises InputError when it is no picture, too large, or its bytes do not match `digest`.
    """
    if len(data) > MOST_BYTES:
        raise InputError.at("", f"is over {MOST_BYTES // 1024 // 1024} MB; make the picture smaller")
    if hashlib.sha256(data).hexdigest() != digest:
        raise InputError.at("/digest", "does not belong to these bytes; send the picture again")
    if not state(kept_as(digest)):
        return
    plain = _plain(data)
    name = hashlib.sha256(plain).hexdigest()
    with told():
        folder().mkdir(mode=0o700, exist_ok=True)
        if not _path(name).exists():
            write_whole(_path(name), plain)
    with writing():
        Picture.insert(sent=digest, kept=name).on_conflict_replace().execute()


def kept_as(digest: str) -> str:
    """The name under which a picture that was sent is kept; its own for those of before pictures were
    encoded anew."""
    row = Picture.get_or_none(Picture.sent == digest)
    return row.kept if row else digest


def _plain(data: bytes) -> bytes:
    """The picture alone, upright, as JPEG. Raises InputError for what is no picture, or has too many
    points."""
    try:
        with _one_at_a_time, Image.open(BytesIO(data), formats=_FORMATS) as opened:
            most = MOST_PIXELS if opened.format == "JPEG" else MOST_PLAIN
            if opened.width * opened.height > most:
                raise InputError.at("", f"has over {most // 10**6} million points; make the picture smaller")
            opened.draft(
                "RGB", (MOST_SIDE, MOST_SIDE)
            )  # a large JPEG is decoded at a half, a quarter, an eighth
            opened.thumbnail((MOST_SIDE, MOST_SIDE))
            upright = ImageOps.exif_transpose(opened).convert("RGB")
    except (Image.DecompressionBombError, Image.DecompressionBombWarning):
        raise InputError.at(
            "", f"has over {MOST_PIXELS // 10**6} million points; make the picture smaller"
        ) from None
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError):
        raise InputError.at(
            "", "is no JPEG, PNG or WebP picture, or only part of one; take it again"
        ) from None
    out = BytesIO()
    Image.frombytes("RGB", upright.size, upright.tobytes()).save(out, "JPEG", quality=85)
    return out.getvalue()


def load(digest: str) -> tuple[bytes, str]:
    """A picture and its media type. Raises NotFound."""
    path = _path(digest)
    if not path.is_file():
        path = _path(kept_as(digest))
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
