"""Backup and restore: one archive with the database, its pictures and its keys."""

import json
import os
import shutil
import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from hashlib import sha256
from pathlib import Path
from typing import IO

from tinknot import __version__
from tinknot.core.errors import TinKnotError
from tinknot.services import checkpoints, keys, opening, photos
from tinknot.services.clock import now
from tinknot.store import heads, snapshot
from tinknot.store.faults import told
from tinknot.store.files import keep_names

DATABASE = "tinknot.db"
MANIFEST = "manifest.json"
FORMAT = "tinknot-backup"
VERSION = 1
CHUNK = 1 << 20


class NotRestored(TinKnotError):
    """A source cannot be restored; nothing was changed."""

    title = "Nothing was restored"


@dataclass
class Restored:
    """What a restore did: where the former database is kept, and what is said about it."""

    kept: Path | None
    pictures: int
    remarks: list[str] = field(default_factory=list)


def _stamp() -> str:
    return now().strftime("%Y-%m-%dT%H%M%SZ")


def default_name() -> str:
    """The name of a backup made now: date, time and version."""
    return f"tinknot-{_stamp()}-{__version__}.zip"


def backup(folder: Path, target: Path) -> Path:
    """An archive (ZIP) of the data in `folder`, while it is in use or not; returns where it lies. In a
    folder, or where `target` names one, it is named with date and version. It is for its owner only: keys lie
    in it.

    The database is copied first, then the pictures: what the copy names is there. Written piece by piece,
    whole or not at all. Raises StoreFault, and TinKnotError for a target that exists."""
    if target.is_dir():
        target /= default_name()
    if target.exists():
        raise TinKnotError(f"{target} exists; choose another name.")
    with told(), tempfile.TemporaryDirectory(prefix=".backup-", dir=target.parent) as work:
        copy = Path(work) / DATABASE
        snapshot.copy_to(folder / DATABASE, copy)
        part = Path(work) / "archive"
        with os.fdopen(os.open(part, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as out:
            with zipfile.ZipFile(out, "w") as archive:
                sums = {name: _add(archive, name, path) for name, path in _files(folder, copy)}
                head = {
                    "format": FORMAT,
                    "version": VERSION,
                    "made": now().isoformat(),
                    "application": __version__,
                }
                archive.writestr(MANIFEST, json.dumps(head | {"sha256": sums}, indent=1))
            out.flush()
            os.fsync(out.fileno())
        _name(part, target)
    return target


def _name(part: Path, target: Path) -> None:
    """Give a finished file its name. A link never overwrites what somebody else put there meanwhile; a
    disk that has no links, such as a stick's, gets it moved."""
    try:
        os.link(part, target)
    except FileExistsError:
        raise TinKnotError(f"{target} exists; choose another name.") from None
    except OSError:
        part.rename(target)


def _files(folder: Path, copy: Path) -> Iterator[tuple[str, Path]]:
    yield DATABASE, copy
    for kind in ("keys", "photos"):
        for path in sorted((folder / kind).glob("[!.]*")) if (folder / kind).is_dir() else ():
            yield f"{kind}/{path.name}", path


def _add(archive: zipfile.ZipFile, name: str, path: Path) -> str:
    """Stream a file into the archive; returns its SHA-256."""
    entry = zipfile.ZipInfo(name, now().timetuple()[:6])
    entry.compress_type = zipfile.ZIP_STORED if name.startswith("photos/") else zipfile.ZIP_DEFLATED
    entry.external_attr = 0o600 << 16
    with path.open("rb") as source, archive.open(entry, "w", force_zip64=True) as out:
        return _pour(source, out)


def _pour(source: IO[bytes], out: IO[bytes]) -> str:
    digest = sha256()
    while piece := source.read(CHUNK):
        digest.update(piece)
        out.write(piece)
    return digest.hexdigest()


def restore(folder: Path, source: Path, anyway: bool = False) -> Restored:
    """Put what `source` holds in place of the data in `folder`: an archive of `backup`, a database file with
    what lies beside it, or another data folder.

    Everything is laid out beside the data and looked at first: form, version, tables, chains of events,
    pictures, keys. Pictures and keys are added; the database then takes the place of the former one in a
    single step, and the former one is kept under a name with the time. Chains, pictures and keys that are
    not whole refuse it too, unless `anyway` says so. The caller holds the folder's lock. Raises
    NotRestored and StoreFault; nothing is changed then."""
    sweep(folder)
    with told(), tempfile.TemporaryDirectory(prefix=".restore-", dir=folder) as work:
        staged = Path(work)
        _lay_out(folder, source, staged)
        remarks = _look_at(folder, staged)
        if remarks and not anyway:
            raise NotRestored(
                f"{source} is not whole: {'; '.join(remarks[:5])}. Nothing was changed. With --anyway it is"
                " restored as it is."
            )
        added = _add_missing(staged / "photos", folder / "photos")
        _add_missing(staged / "keys", folder / "keys")
        kept = _swap(folder, staged / DATABASE)
    _settle(folder, forget_keys=anyway)
    return Restored(kept, added, remarks)


def sweep(folder: Path) -> None:
    """Remove what writes and restores that were killed left half-done. The caller holds the folder's lock."""
    for left in folder.glob(".restore-*"):
        shutil.rmtree(left, ignore_errors=True)
    for place in (folder, folder / "photos", folder / "keys"):
        for part in place.glob(".*.part"):
            part.unlink(missing_ok=True)


def _lay_out(folder: Path, source: Path, staged: Path) -> None:
    """Database, pictures and keys of the source in a folder of their own. Raises NotRestored."""
    if source.is_dir():
        source = source / DATABASE
    if not source.is_file():
        raise NotRestored(f"{source} is not there. Nothing was changed.")
    if source.resolve() == (folder / DATABASE).resolve():
        raise NotRestored(f"{source} is the database in use itself. Nothing was changed.")
    if zipfile.is_zipfile(source):
        _unpack(source, staged)
    else:
        try:
            snapshot.copy_to(source, staged / DATABASE)
        except TinKnotError as told_so:
            raise NotRestored(
                f"{source} is no backup that can be used: {told_so} Nothing was changed."
            ) from None
        for kind in ("keys", "photos"):
            if source.parent.resolve() != folder.resolve() and (source.parent / kind).is_dir():
                shutil.copytree(source.parent / kind, staged / kind)
    if fault := snapshot.upgraded_fault(staged / DATABASE):
        raise NotRestored(f"{source} is no backup that can be used: {fault}. Nothing was changed.")


def _unpack(source: Path, staged: Path) -> None:
    """An archive's files, each checked against its sum. Raises NotRestored."""
    try:
        with zipfile.ZipFile(source) as archive:
            head = json.loads(archive.read(MANIFEST))
            if head["format"] != FORMAT:
                raise NotRestored(f"{source} is no backup of Tin Knot. Nothing was changed.")
            if head["version"] > VERSION:
                raise NotRestored(
                    f"{source} was made by a newer Tin Knot ({head['application']}). Nothing was changed."
                )
            for name, held in head["sha256"].items():
                target = staged / name
                if name != DATABASE and (
                    target.parent.parent != staged or target.parent.name not in ("keys", "photos")
                ):
                    raise NotRestored(
                        f"{source} holds {name}, which is no part of a backup. Nothing was changed."
                    )
                target.parent.mkdir(mode=0o700, exist_ok=True)
                with archive.open(name) as packed, target.open("xb") as out:
                    target.chmod(0o600)
                    if _pour(packed, out) != held:
                        raise NotRestored(f"{source} is damaged at {name}. Nothing was changed.")
    except (zipfile.BadZipFile, KeyError, ValueError, TypeError, AttributeError, EOFError) as fault:
        raise NotRestored(f"{source} is no backup that can be used: {fault}. Nothing was changed.") from None


def _look_at(folder: Path, staged: Path) -> list[str]:
    """What of a staged copy is not whole, in words."""
    copy = staged / DATABASE
    found = list(snapshot.chain_faults(copy))
    gone = []
    for digest in sorted(snapshot.photos_named(copy)):
        fault = photos.fault_of(staged / "photos", digest)
        if fault == "is missing":
            fault = photos.fault_of(folder / "photos", digest)
        if fault:
            gone.append(f"the picture {digest[:12]} {fault}")
    found += gone[:3] + ([f"{len(gone) - 3} more pictures like that"] if len(gone) > 3 else [])
    for name in (keys.SITE, keys.PIN):
        held = snapshot.setting_of(copy, f"{name}-id")
        if held and not any((f / "keys" / keys.file_name(name, held)).is_file() for f in (staged, folder)):
            found.append(f"its key {keys.file_name(name, held)} is missing")
    return found


def _add_missing(source: Path, target: Path) -> int:
    """Add the files that are not there yet, each whole; returns how many. Their names say what they hold,
    so one that is there stays, but for a picture that is not what its name says."""
    if not source.is_dir():
        return 0
    target.mkdir(mode=0o700, exist_ok=True)
    added = 0
    for path in sorted(source.iterdir()):
        there = (target / path.name).exists()
        if not there or (target.name == "photos" and photos.fault_of(target, path.name)):
            path.chmod(0o600)
            with path.open("rb") as file:
                os.fsync(file.fileno())
            path.rename(target / path.name)
            added += 1
    keep_names(target)
    return added


def _swap(folder: Path, copy: Path) -> Path | None:
    """Put the copy in the place of the database, which is kept under a name with the time; returns that
    name."""
    live, kept = folder / DATABASE, None
    if live.exists():
        snapshot.fold_log(live)
        kept = _keep(live)
    for suffix in ("-wal", "-shm"):
        live.with_name(live.name + suffix).unlink(missing_ok=True)
    copy.replace(live)
    keep_names(folder)
    return kept


def _keep(live: Path) -> Path:
    """A second name for the database that is about to go, which nothing overwrites."""
    stamp = _stamp()
    for number in range(1, 1000):
        more = f"-{number}" if number > 1 else ""
        kept = live.with_name(f"before-restore-{stamp}{more}.db")
        try:
            os.link(live, kept)
        except FileExistsError:
            continue
        except OSError:  # a disk without links
            snapshot.copy_to(live, kept)
        return kept
    raise NotRestored("Too many restores in this second; try again.")


def _settle(folder: Path, forget_keys: bool) -> None:
    """Open what was put in place: its checkpoints begin anew, since it is older than those that were kept."""
    for suffix in ("", "-wal", "-shm"):
        (folder / f"{heads.NAME}{suffix}").unlink(missing_ok=True)
    opening.open_site(folder / DATABASE)
    try:
        if forget_keys:
            keys.forget_missing()
        checkpoints.begin()
    finally:
        opening.close_site()


@contextmanager
def opened(folder: Path) -> Iterator[None]:
    """The data of a folder, open as long as it is needed."""
    opening.open_site(folder / DATABASE)
    try:
        yield
    finally:
        opening.close_site()
