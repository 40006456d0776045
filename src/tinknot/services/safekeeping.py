"""Backup and restore: one archive with the database, its checkpoints, its pictures and its keys."""

import json
import os
import secrets
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from hashlib import sha256
from pathlib import Path
from typing import IO

from tinknot import __version__
from tinknot.core.errors import TinKnotError
from tinknot.services import checkpoints, keys, opening, photos, settings
from tinknot.services.clock import now
from tinknot.store import heads, snapshot
from tinknot.store.faults import Busy, StoreFault, told
from tinknot.store.files import keep_names

DATABASE = "tinknot.db"
MANIFEST = "manifest.json"
FORMAT = "tinknot-backup"
VERSION = 1
CHUNK = 1 << 20
MOST_MANIFEST = 64 << 20  # bytes: some 500,000 pictures
HEADS = "heads.db"  # what the checkpoints are called in an archive
ABANDONED_S = 24 * 3600  # a half-made backup that no process owns is swept when it is so old


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


@dataclass
class BackedUp:
    """Where a backup lies, and what of the data it saved is damaged, in words."""

    archive: Path
    remarks: list[str]


def backup(folder: Path, target: Path) -> BackedUp:
    """An archive (ZIP) of the data in `folder`, while it is in use or not, and what is wrong with what it
    holds: what is damaged is saved as it is, and said. In a folder, or where `target` names one, it is named
    with date and version. It is for its owner only: keys lie in it.

    The checkpoints are copied first, then the database, then the pictures: a checkpoint may lag, and what the
    copy names is there. Written piece by piece, whole or not at all. Raises StoreFault, and TinKnotError for
    a target that exists."""
    if target.is_dir():
        target /= default_name()
    if target.exists():
        raise TinKnotError(f"{target} exists; choose another name.")
    _sweep_backups(target.parent)
    mine = f".backup-{os.getpid()}-"
    with told(), tempfile.TemporaryDirectory(prefix=mine, dir=target.parent) as work:
        copy = Path(work) / DATABASE
        if (checkpoints_file := folder / _heads_name(folder / DATABASE)).is_file():
            snapshot.copy_to(checkpoints_file, Path(work) / HEADS)
        snapshot.copy_to(folder / DATABASE, copy)
        remarks = _look_at(folder, Path(work))
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
    return BackedUp(target, remarks)


def _heads_name(database: Path) -> str:
    """The file of a database's checkpoints; the usual one where the database cannot say."""
    try:
        return snapshot.setting_of(database, opening.HEADS) or heads.NAME
    except sqlite3.Error:
        return heads.NAME


def _sweep_backups(place: Path) -> None:
    """Remove what backups that were killed left half-made beside their target."""
    for left in place.glob(".backup-*"):
        owner = left.name.split("-")[1]
        if owner.isdecimal():
            dead = not _runs(int(owner))
        else:  # of an earlier version, which did not say whose it is
            dead = now().timestamp() - left.stat().st_mtime > ABANDONED_S
        if dead:
            shutil.rmtree(left, ignore_errors=True)


def _runs(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True


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
    if (held := copy.with_name(HEADS)).is_file():
        yield HEADS, held
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

    Everything is laid out beside the data, looked at and opened there first: form, version, tables, chains of
    events, pictures, keys, checkpoints. Pictures, keys and checkpoints are added; the database, which names
    its checkpoints, then takes the place of the former one in a single step, and the former one, broken or
    not, is kept under a name with the time. Chains, pictures and keys that are not whole refuse it too,
    unless `anyway` says so: then what is whole is restored. The caller holds the folder's lock. Raises
    NotRestored and StoreFault; nothing is changed then."""
    sweep(folder)
    with told(), tempfile.TemporaryDirectory(prefix=".restore-", dir=folder) as work:
        staged = Path(work)
        remarks = _lay_out(folder, source, staged, anyway)
        remarks += _look_at(folder, staged)
        if remarks and not anyway:
            raise NotRestored(
                f"{source} is not whole: {'; '.join(remarks[:5])}. Nothing was changed. With --anyway it is"
                " restored as it is."
            )
        _lend_keys(folder / "keys", staged / "keys")
        name = _settle(staged, forget_keys=anyway)
        added = _add_missing(staged / "photos", folder / "photos", photos.fault_of)
        _add_missing(staged / "keys", folder / "keys", keys.fault_of)
        (staged / name).replace(folder / name)
        kept = _swap(folder, staged / DATABASE)
    sweep(folder)
    return Restored(kept, added, remarks)


def sweep(folder: Path) -> None:
    """Remove what writes and restores that were killed left half-done, and checkpoints of databases that are
    not here any more. The caller holds the folder's lock."""
    for left in folder.glob(".restore-*"):
        shutil.rmtree(left, ignore_errors=True)
    current = _heads_name(folder / DATABASE) if (folder / DATABASE).exists() else heads.NAME
    for file in folder.glob("heads*.db*"):
        if not file.name.startswith(current):
            file.unlink(missing_ok=True)
    for place in (folder, folder / "photos", folder / "keys"):
        for part in place.glob(".*.part"):
            part.unlink(missing_ok=True)


def _lay_out(folder: Path, source: Path, staged: Path, anyway: bool) -> list[str]:
    """Database, checkpoints, pictures and keys of the source in a folder of their own; returns which pictures
    are damaged and so left out. Raises NotRestored."""
    whole = source.is_dir()
    if source.is_dir():
        source = source / DATABASE
    if not source.is_file():
        raise NotRestored(f"{source} is not there. Nothing was changed.")
    if source.resolve() == (folder / DATABASE).resolve():
        raise NotRestored(f"{source} is the database in use itself. Nothing was changed.")
    left_out: list[str] = []
    if zipfile.is_zipfile(source):
        left_out = _unpack(source, staged, anyway)
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
        if whole and (held := source.parent / _heads_name(source)).is_file():
            snapshot.copy_to(held, staged / HEADS)
    if fault := snapshot.upgraded_fault(staged / DATABASE):
        raise NotRestored(f"{source} is no backup that can be used: {fault}. Nothing was changed.")
    return left_out


def _unpack(source: Path, staged: Path, anyway: bool) -> list[str]:
    """An archive's files, each checked against its sum; where `anyway` is wanted a damaged picture is left
    out, and returned in words. Raises NotRestored."""
    left_out = []
    try:
        with zipfile.ZipFile(source) as archive:
            if archive.getinfo(MANIFEST).file_size > MOST_MANIFEST:
                raise NotRestored(f"{source} has a list of files that is too long. Nothing was changed.")
            head = json.loads(archive.read(MANIFEST))
            if head["format"] != FORMAT:
                raise NotRestored(f"{source} is no backup of Tin Knot. Nothing was changed.")
            if head["version"] > VERSION:
                raise NotRestored(
                    f"{source} was made by a newer Tin Knot ({head['application']}). Nothing was changed."
                )
            for name, held in head["sha256"].items():
                target = staged / name
                if name not in (DATABASE, HEADS) and (
                    target.parent.parent != staged or target.parent.name not in ("keys", "photos")
                ):
                    raise NotRestored(
                        f"{source} holds {name}, which is no part of a backup. Nothing was changed."
                    )
                target.parent.mkdir(mode=0o700, exist_ok=True)
                if _poured(archive, name, target) == held:
                    continue
                if target.parent.name == "photos":
                    target.unlink(missing_ok=True)
                    left_out.append(f"the picture {target.name[:12]} is damaged in the archive")
                else:
                    raise NotRestored(f"{source} is damaged at {name}. Nothing was changed.")
    except (zipfile.BadZipFile, KeyError, ValueError, TypeError, AttributeError, EOFError) as fault:
        raise NotRestored(f"{source} is no backup that can be used: {fault}. Nothing was changed.") from None
    return left_out


def _poured(archive: zipfile.ZipFile, name: str, target: Path) -> str:
    """Unpack a file of an archive; returns its SHA-256, nothing where it cannot be read to its end."""
    with target.open("xb") as out:
        target.chmod(0o600)
        try:
            with archive.open(name) as packed:
                return _pour(packed, out)
        except (zipfile.BadZipFile, zlib.error, EOFError):
            return ""


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
        file = keys.file_name(name, held) if held else ""
        faults = [keys.fault_of(f / "keys", file) for f in (staged, folder)] if file else []
        if faults and all(faults):
            found.append(f"its key {file} {next((w for w in faults if w != keys.GONE), keys.GONE)}")
    return found


def _lend_keys(ours: Path, staged: Path) -> None:
    """Keys that are here and that the source lacks: a copy of the database is signed with them too."""
    staged.mkdir(mode=0o700, exist_ok=True)
    for path in ours.glob("[!.]*") if ours.is_dir() else ():
        if keys.fault_of(staged, path.name) and not keys.fault_of(ours, path.name):
            shutil.copyfile(path, staged / path.name)


def _add_missing(source: Path, target: Path, fault_of: Callable[[Path, str], str]) -> int:
    """Add the files that are not there yet, each whole; returns how many. Their names say what they hold,
    so one that is there stays, unless it is not what its name says (`fault_of`)."""
    if not source.is_dir():
        return 0
    target.mkdir(mode=0o700, exist_ok=True)
    added = 0
    for path in sorted(source.iterdir()):
        if fault_of(target, path.name) and not fault_of(source, path.name):
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
        whole = True
        try:
            snapshot.fold_log(live)
        except Busy:
            raise
        except StoreFault:  # broken: this is when a restore is needed most; what there is of it is kept
            whole = False
        kept = _keep(live)
        for suffix in () if whole else ("-wal", "-shm"):
            if (beside := live.with_name(live.name + suffix)).exists():
                beside.replace(kept.with_name(kept.name + suffix))
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
            shutil.copyfile(live, kept)
            kept.chmod(0o600)
        return kept
    raise NotRestored("Too many restores in this second; try again.")


def _settle(staged: Path, forget_keys: bool) -> str:
    """Open what is about to be put in place, where it is staged; its checkpoints come along, or begin anew
    where it has none: it is older than those that were kept. Returns the name of their file, which the
    database says."""
    name = f"heads-{secrets.token_hex(8)}.db"
    if (staged / HEADS).exists():
        (staged / HEADS).replace(staged / name)
    opening.open_site(staged / DATABASE)
    try:
        settings.put(opening.HEADS, name)
        heads.open_heads(staged, name)
        if forget_keys:
            keys.forget_missing()
        if not heads.any_kept():
            checkpoints.begin_all()
        heads.fold_log()
    finally:
        opening.close_site()
    return name


@contextmanager
def opened(folder: Path) -> Iterator[None]:
    """The data of a folder, open as long as it is needed."""
    opening.open_site(folder / DATABASE)
    try:
        yield
    finally:
        opening.close_site()
