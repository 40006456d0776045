"""Power loss, simulated: every write and sync of the database is recorded through a layer over SQLite's file
system, then the disk is put together as it may be found afterwards, and opened.

`python -m bench.power 500` opens 500 such disks. Whatever a file had been given before its last sync is
there; of what came after it any part may be missing: single writes, cuts, deletions, in any combination.
No acknowledged event may be lost, the database must open, every chain must be whole."""

import json
import random
import shutil
import sqlite3
import sys
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

import apsw
from peewee import SqliteDatabase
from playhouse.apsw_ext import APSWDatabase

from bench.site import JOINT, prepare
from tinknot.core.work.events import EventIn, broken_link
from tinknot.services import accounts, building
from tinknot.store import database, heads
from tinknot.store.database import PRAGMAS, db

NAME = "recording"


@dataclass
class Recording:
    """What happened to the files, in order: (file, what, where, bytes); and after how much of it each
    event had been acknowledged."""

    done: list[tuple[str, str, int, bytes]] = field(default_factory=list)
    told: list[tuple[int, str]] = field(default_factory=list)


class RecordedFile(apsw.VFSFile):
    """A file whose writes, cuts and syncs are taken note of."""

    def __init__(self, recording: Recording, inner: str, name: Any, flags: list[int]) -> None:
        super().__init__(inner, name, flags)
        path = name.filename() if isinstance(name, apsw.URIFilename) else name
        self.recording, self.name = recording, Path(str(path)).name

    def xWrite(self, data: bytes, offset: int) -> None:
        super().xWrite(data, offset)
        self.recording.done.append((self.name, "write", offset, bytes(data)))

    def xTruncate(self, size: int) -> None:
        super().xTruncate(size)
        self.recording.done.append((self.name, "cut", size, b""))

    def xSync(self, flags: int) -> None:
        super().xSync(flags)
        self.recording.done.append((self.name, "sync", 0, b""))


class RecordingVFS(apsw.VFS):
    """SQLite's own file system with an ear to it."""

    def __init__(self, recording: Recording) -> None:
        self.recording, self.inner = recording, apsw.vfs_names()[0]
        super().__init__(NAME, self.inner)

    def xOpen(self, name: Any, flags: list[int]) -> RecordedFile:
        return RecordedFile(self.recording, self.inner, name, flags)

    def xDelete(self, path: str, sync_directory: bool) -> None:
        super().xDelete(path, sync_directory)
        self.recording.done.append((Path(path).name, "delete", int(sync_directory), b""))


@contextmanager
def recorded(path: Path, pragmas: dict[str, Any]) -> Iterator[Recording]:
    """The application's own connection, to `path`, over the recording layer."""
    recording = Recording()
    layer = RecordingVFS(recording)
    db.__class__, db._modules = APSWDatabase, {}
    db.init(str(path), pragmas=pragmas, vfs=NAME)
    db.connect()
    try:
        yield recording
    finally:
        db.close()
        db.__class__ = SqliteDatabase
        db.connect_params.pop("vfs")
        layer.unregister()


def work(folder: Path, events: int, pragmas: dict[str, Any]) -> Recording:
    """Events taken one after the other, with checkpoints of the log between them."""
    heads.open_heads(folder)
    with recorded(folder / "tinknot.db", pragmas) as recording:
        who = accounts.everybody()[0]
        for number in range(events):
            given = EventIn(
                id=uuid4(), kind="note", revision=1, text="x" * 200, client_time=datetime.now(UTC)
            )
            building.take(JOINT, given, who)
            recording.told.append((len(recording.done), str(given.id)))
            if number % 17 == 11:
                db.execute_sql("PRAGMA wal_checkpoint(PASSIVE)")
            if number % 40 == 31:
                database.fold_log()
    heads.close()
    return recording


def survives(
    recording: Recording, until: int, pick: random.Random
) -> dict[str, list[tuple[str, int, bytes]]]:
    """What of the first `until` operations is on the disk: everything up to each file's last sync, of the
    rest as much as chance leaves."""
    synced: dict[str, int] = {}
    for place, (name, what, where, _) in enumerate(recording.done[:until]):
        if what == "sync" or (what == "delete" and where):
            synced[name] = place
    share = pick.choice((0.0, 0.2, 0.5, 0.8, 1.0))
    left: dict[str, list[tuple[str, int, bytes]]] = {}
    for place, (name, what, where, data) in enumerate(recording.done[:until]):
        if place <= synced.get(name, -1) or pick.random() < share:
            left.setdefault(name, []).append((what, where, data))
    return left


def put_together(base: Path, target: Path, left: dict[str, list[tuple[str, int, bytes]]]) -> None:
    """The disk as it is found: the files as they were at first, and what survived over them."""
    shutil.copytree(base, target, ignore=shutil.ignore_patterns("photos", "keys", "heads.db*"))
    for name, operations in left.items():
        path = target / name
        content = bytearray(path.read_bytes()) if path.exists() else bytearray()
        there = path.exists()
        for what, where, data in operations:
            if what == "write":
                there = True
                content.extend(b"\0" * max(0, where + len(data) - len(content)))
                content[where : where + len(data)] = data
            elif what == "cut":
                del content[where:]
            elif what == "delete":
                content, there = bytearray(), False
        if there:
            path.write_bytes(bytes(content))
        else:
            path.unlink(missing_ok=True)


def look(folder: Path, acknowledged: set[str]) -> tuple[bool, int, bool]:
    """Whether it opens and is whole, how many acknowledged events are not there, whether the chain is
    broken."""
    try:
        with closing(sqlite3.connect(folder / "tinknot.db")) as connection:
            whole = connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            rows = connection.execute("SELECT event_id, body, hash FROM eventrow ORDER BY number").fetchall()
    except sqlite3.DatabaseError:
        return False, len(acknowledged), True
    broken = broken_link((json.loads(body), digest) for _, body, digest in rows) is not None
    return whole, len(acknowledged - {e for e, _, _ in rows}), broken


def run(states: int, seed: int = 1, events: int = 120, **pragmas: Any) -> dict[str, Any]:
    """What `states` disks after a power loss held; `pragmas` are set besides the application's own."""
    pick = random.Random(seed)
    unopened = lost = broken = 0
    with tempfile.TemporaryDirectory() as place:
        base, copy = Path(place) / "data", Path(place) / "base"
        prepare(base)
        shutil.copytree(base, copy)
        recording = work(base, events, PRAGMAS | pragmas)
        for number in range(states):
            until = pick.randrange(len(recording.done) + 1)
            acknowledged = {event for at, event in recording.told if at <= until}
            found = Path(place) / f"found-{number}"
            put_together(copy, found, survives(recording, until, pick))
            whole, missing, torn = look(found, acknowledged)
            unopened, lost, broken = unopened + (not whole), lost + missing, broken + torn
            shutil.rmtree(found)
    syncs = sum(what == "sync" for _, what, _, _ in recording.done)
    return {
        "states": states,
        "operations": len(recording.done),
        "syncs": syncs,
        "events": events,
        "acknowledged_lost": lost,
        "unopened": unopened,
        "chains_broken": broken,
    }


if __name__ == "__main__":
    result = run(int(sys.argv[1]) if len(sys.argv) > 1 else 500)
    print(json.dumps(result, indent=2))
    sys.exit(any(result[k] for k in ("acknowledged_lost", "unopened", "chains_broken")))
