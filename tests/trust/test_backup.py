"""Backup and restore: one archive, looked at first, swapped in whole; what was there is kept."""

import hashlib
import json
import os
import shutil
import sqlite3
import subprocess
import sys
import zipfile
from contextlib import closing
from pathlib import Path

import pytest
from click.testing import CliRunner

from tests.conftest import nightly
from tests.fixtures.databases import lay_out
from tinknot import __version__
from tinknot.cli import main
from tinknot.services import records, safekeeping
from tinknot.services.opening import close_site, open_site
from tinknot.store import lock
from tinknot.store.models import Joint

ROOT = Path(__file__).parents[2]


def tinknot(*arguments: object):
    return CliRunner().invoke(main, [str(a) for a in arguments])


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """A filled data folder, brought to this version."""
    lay_out("ee97242", tmp_path / "data")
    with safekeeping.opened(tmp_path / "data"):
        pass
    return tmp_path / "data"


def state(data: Path) -> str:
    """What a folder holds: every row, and every picture."""
    with closing(sqlite3.connect(data / "tinknot.db")) as connection:
        rows = [
            line
            for line in connection.iterdump()
            if "INSERT INTO" in line and "joint_search" not in line and "VALUES('heads'" not in line
        ]
    photos = sorted(p.name for p in (data / "photos").iterdir())
    return hashlib.sha256("\n".join([*rows, *photos]).encode()).hexdigest()


def retitle(data: Path, title: str) -> None:
    with closing(sqlite3.connect(data / "tinknot.db")) as connection:
        connection.execute("UPDATE joint SET title = ?", (title,))
        connection.commit()


def verdicts(data: Path) -> dict[str, bool]:
    open_site(data / "tinknot.db")
    try:
        return {
            r.ref: records.verdict(r.ref).signed for r in Joint.select() if r.state.startswith("released")
        }
    finally:
        close_site()


def kept_in(data: Path) -> list[Path]:
    return sorted(data.glob("before-restore-*.db"))


def test_one_archive_holds_everything_and_comes_back(folder: Path, tmp_path: Path):
    made = tinknot("backup", tmp_path, "--data", folder)
    assert made.exit_code == 0, made.output
    (archive,) = tmp_path.glob("tinknot-*.zip")
    assert __version__ in archive.name
    assert archive.name[8:12] == "2026" or archive.name[8:11] == "202"
    assert archive.stat().st_mode & 0o777 == 0o600
    with zipfile.ZipFile(archive) as packed:
        assert packed.testzip() is None
        names = packed.namelist()
    assert {n.split("/")[0] for n in names} == {"tinknot.db", "heads.db", "photos", "keys", "manifest.json"}
    assert len([n for n in names if n.startswith("photos/")]) == 40
    other = tmp_path / "elsewhere"
    assert tinknot("restore", archive, "--data", other).exit_code == 0
    assert state(other) == state(folder)
    assert verdicts(other) == dict.fromkeys(("SK-101", "SK-103", "SK-111", "SK-115"), True)
    for file in (*other.glob("*.db*"), *other.glob("keys/*"), *other.glob("photos/*")):
        assert file.stat().st_mode & 0o077 == 0, file
    assert tinknot("backup", archive, "--data", folder).exit_code == 1  # never written over
    assert [p.name for p in tmp_path.iterdir() if p.name.startswith(".")] == []


def test_a_backup_while_a_server_writes_is_consistent(folder: Path, tmp_path: Path):
    with closing(sqlite3.connect(folder / "tinknot.db")) as writing:
        writing.execute("PRAGMA journal_mode=wal")
        writing.execute("UPDATE joint SET title = 'in the log'")
        writing.commit()
        assert (folder / "tinknot.db-wal").stat().st_size
        target = safekeeping.backup(folder, tmp_path / "b.zip").archive
    safekeeping.restore(tmp_path / "o", target) if (tmp_path / "o").mkdir() is None else None
    with closing(sqlite3.connect(tmp_path / "o" / "tinknot.db")) as found:
        assert found.execute("SELECT DISTINCT title FROM joint").fetchall() == [("in the log",)]


def test_every_restore_keeps_what_was_there(folder: Path, tmp_path: Path):
    """Three states, restored over each other; all of them are still there, and the kept ones come back
    too."""
    first = safekeeping.backup(folder, tmp_path / "1.zip").archive
    retitle(folder, "second")
    second = state(folder)
    assert tinknot("restore", first, "--data", folder).exit_code == 0
    (kept,) = kept_in(folder)
    retitle(folder, "third")
    third = state(folder)
    assert tinknot("restore", kept, "--data", folder).exit_code == 0, "the kept copy itself"
    assert state(folder) == second
    assert len(kept_in(folder)) == 2
    newest = next(k for k in kept_in(folder) if k != kept)
    assert tinknot("restore", newest, "--data", folder).exit_code == 0
    assert state(folder) == third
    assert len(kept_in(folder)) == 3
    assert all(k.stat().st_mode & 0o077 == 0 for k in kept_in(folder))


def test_a_folder_copied_after_a_power_cut_brings_its_log_along(folder: Path, tmp_path: Path):
    copied = tmp_path / "copied"
    with closing(sqlite3.connect(folder / "tinknot.db")) as writing:
        writing.execute("PRAGMA wal_autocheckpoint=0")
        writing.execute("UPDATE joint SET title = 'only in the log'")
        writing.commit()
        shutil.copytree(folder, copied)
    for source, other in ((copied, tmp_path / "a"), (copied / "tinknot.db", tmp_path / "b")):
        found = tinknot("restore", source, "--data", other)
        assert found.exit_code == 0, found.output
        with closing(sqlite3.connect(other / "tinknot.db")) as reading:
            assert reading.execute("SELECT DISTINCT title FROM joint").fetchall() == [("only in the log",)]
        assert len(list((other / "photos").iterdir())) == 40


def test_the_folders_own_database_is_left_where_it_is(folder: Path):
    before = state(folder)
    found = tinknot("restore", folder / "tinknot.db", "--data", folder)
    assert found.exit_code == 1
    assert "in use itself" in found.output
    assert (state(folder), kept_in(folder)) == (before, [])


def spoil(archive: Path, name: str, body: bytes) -> Path:
    """The archive with one file in it replaced; its sums stay as they were unless it is the manifest."""
    target = archive.with_name("spoiled.zip")
    with zipfile.ZipFile(archive) as old, zipfile.ZipFile(target, "w") as new:
        for entry in old.namelist():
            new.writestr(entry, body if entry == name else old.read(entry))
    return target


def foreign(tmp_path: Path) -> dict[str, Path]:
    """Sources of every kind that must be refused."""
    found = {n: tmp_path / n for n in ("text", "other.db", "newer.db", "empty.db", "cut.zip", "other.zip")}
    found["text"].write_text("no database")
    with closing(sqlite3.connect(found["other.db"])) as made:
        made.execute("CREATE TABLE recipe (name TEXT)")
        made.commit()
    found["empty.db"].touch()
    shutil.copy(lay_out("ee97242", tmp_path / "n"), found["newer.db"])
    with closing(sqlite3.connect(found["newer.db"])) as newer:
        newer.execute("INSERT INTO schema_migration(name, applied) VALUES ('9999_future', '2030-01-01')")
        newer.commit()
    with zipfile.ZipFile(found["other.zip"], "w") as packed:
        packed.writestr("photo.txt", "x")
    return found


def test_what_is_no_backup_is_refused_and_nothing_is_changed(folder: Path, tmp_path: Path):
    before = state(folder)
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    sources = foreign(tmp_path)
    sources["cut.zip"].write_bytes(archive.read_bytes()[:-3000])
    sources["spoiled database"] = spoil(archive, "tinknot.db", b"x" * 9000).rename(tmp_path / "s1.zip")
    head = json.loads(zipfile.ZipFile(archive).read("manifest.json"))
    sources["newer archive"] = spoil(
        archive, "manifest.json", json.dumps(head | {"version": 99}).encode()
    ).rename(tmp_path / "s2.zip")
    outside = head | {"sha256": head["sha256"] | {"../../outside": "0"}}
    sources["leads outside"] = spoil(archive, "manifest.json", json.dumps(outside).encode()).rename(
        tmp_path / "s3.zip"
    )
    sources["missing"] = tmp_path / "missing.zip"
    for name, source in sources.items():
        found = tinknot("restore", source, "--data", folder)
        assert found.exit_code == 1, name
        assert "Nothing was changed" in found.output, (name, found.output)
        assert "Traceback" not in found.output
        assert (state(folder), kept_in(folder)) == (before, []), name
        assert list(folder.glob(".restore-*")) == [], name


@pytest.mark.parametrize("what", ["picture", "chain", "key"])
def test_what_is_not_whole_is_refused_unless_it_is_wanted_anyway(folder: Path, tmp_path: Path, what: str):
    source = tmp_path / "copy"
    shutil.copytree(folder, source)
    if what == "picture":
        next((source / "photos").iterdir()).unlink()
    elif what == "chain":
        with closing(sqlite3.connect(source / "tinknot.db")) as connection:
            connection.execute("DELETE FROM eventrow WHERE number = 5 AND joint_id = 1")
            connection.commit()
    else:
        shutil.rmtree(source / "keys")
    other = tmp_path / "other"
    refused = tinknot("restore", source, "--data", other)
    assert refused.exit_code == 1
    assert "is not whole" in refused.output
    assert not (other / "tinknot.db").exists()
    taken = tinknot("restore", source, "--anyway", "--data", other)
    assert taken.exit_code == 0, taken.output
    assert "Not whole" in taken.output
    assert (other / "tinknot.db").exists()


def test_pictures_that_are_here_already_count(folder: Path, tmp_path: Path):
    """A database file of before there were archives comes back on the machine it was made on."""
    plain = tmp_path / "snapshot.db"
    with closing(sqlite3.connect(folder / "tinknot.db")) as source, closing(sqlite3.connect(plain)) as target:
        source.backup(target)
    before = state(folder)
    retitle(folder, "later")
    assert tinknot("restore", plain, "--data", folder).exit_code == 0
    assert state(folder) == before
    assert verdicts(folder)["SK-101"]


def test_a_picture_that_was_altered_comes_back(folder: Path, tmp_path: Path):
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    altered = next((folder / "photos").iterdir())
    before = altered.read_bytes()
    altered.write_bytes(before[:-1])
    assert tinknot("restore", archive, "--data", folder).exit_code == 0
    assert altered.read_bytes() == before


def test_a_restore_is_a_new_beginning_for_checkpoints(folder: Path, tmp_path: Path):
    """Older data put in place by the site itself are no tampering."""
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    with safekeeping.opened(folder):
        from tinknot.store import heads

        for row in Joint.select():
            heads.keep(row.id, (999, "0" * 64, 9, "", ""))
    assert tinknot("restore", archive, "--data", folder).exit_code == 0
    with safekeeping.opened(folder):
        assert all(records.verdict(r.ref).intact for r in Joint.select() if r.revision)


def test_one_at_a_time_on_a_folder(folder: Path, tmp_path: Path):
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    with lock.holding(folder):
        for command in (["restore", archive], ["serve", "--port", "0"], ["demo", "--port", "0"]):
            found = tinknot(*command, "--data", folder)
            assert found.exit_code == 1
            assert "Another Tin Knot is running" in found.output
        assert tinknot("backup", tmp_path / "while.zip", "--data", folder).exit_code == 0
    assert kept_in(folder) == []


def test_a_server_that_was_killed_holds_nothing(folder: Path):
    code = (
        "from tinknot.store.lock import holding; from pathlib import Path\nwith"
        f" holding(Path({str(folder)!r})): print('held', flush=True); input()"
    )
    child = subprocess.Popen([sys.executable, "-c", code], stdin=subprocess.PIPE, stdout=subprocess.PIPE)
    assert child.stdout.readline() == b"held\n"
    with pytest.raises(lock.InUse), lock.holding(folder):
        pass
    child.kill()
    child.communicate()
    with lock.holding(folder):
        assert (folder / lock.NAME).stat().st_mode & 0o077 == 0


@pytest.mark.parametrize("at", ["copy_to", "_look_at", "_add_missing", "_keep"])
def test_a_restore_that_breaks_off_leaves_the_old_data(folder: Path, tmp_path: Path, monkeypatch, at: str):
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    retitle(folder, "now")
    before = state(folder)
    place = safekeeping.snapshot if at == "copy_to" else safekeeping

    def break_off(*_):
        raise KeyboardInterrupt

    monkeypatch.setattr(place, at, break_off)
    source = folder.parent / "copy"
    shutil.copytree(folder, source)
    with pytest.raises(KeyboardInterrupt):
        safekeeping.restore(folder, source if at == "copy_to" else archive)
    monkeypatch.undo()
    assert state(folder) == before
    assert os.listdir(folder) == [n for n in os.listdir(folder) if not n.startswith(".restore")]
    assert tinknot("restore", archive, "--data", folder).exit_code == 0


# --- broken machines and half restores
# ------------------------------------------------------------------------


def test_a_database_whose_header_is_broken_is_restored_over_and_kept(folder: Path, tmp_path: Path):
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    before = state(folder)
    live = folder / "tinknot.db"
    live.write_bytes(b"\0" * 100 + live.read_bytes()[100:])
    found = tinknot("restore", archive, "--data", folder)
    assert found.exit_code == 0, found.output
    assert state(folder) == before
    assert kept_in(folder)[0].read_bytes()[:100] == b"\0" * 100


@pytest.mark.parametrize("what", ["empty", "another key", "no key at all"])
def test_a_key_file_that_is_spoiled_is_told_and_mended_by_a_good_archive(
    folder: Path, tmp_path: Path, what: str
):
    good = safekeeping.backup(folder, tmp_path / "good.zip").archive
    key = next((folder / "keys").glob("site-key-*.pem"))
    whole = key.read_bytes()
    if what == "empty":
        key.write_bytes(b"")
    elif what == "another key":
        from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey
        from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat

        other = Ed25519PrivateKey.generate()
        key.write_bytes(other.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption()))
    else:
        key.write_text("no key")
    copy = tmp_path / "copy"
    shutil.copytree(folder, copy)
    other_folder = tmp_path / "other"
    refused = tinknot("restore", copy, "--data", other_folder)
    assert refused.exit_code == 1
    assert "its key site-key-" in refused.output
    assert "Traceback" not in refused.output
    assert not (other_folder / "tinknot.db").exists()
    saved = tinknot("backup", tmp_path / "damaged.zip", "--data", folder)
    assert saved.exit_code == 2
    assert "Damaged: its key" in saved.output
    mended = tinknot("restore", good, "--data", folder)
    assert mended.exit_code == 0, mended.output
    assert key.read_bytes() == whole
    assert verdicts(folder)["SK-101"]


def test_of_an_archive_with_a_damaged_picture_the_rest_comes_back(folder: Path, tmp_path: Path):
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    with zipfile.ZipFile(archive) as packed:
        name = next(n for n in packed.namelist() if n.startswith("photos/"))
    spoiled = spoil(archive, name, b"no picture")
    other = tmp_path / "other"
    refused = tinknot("restore", spoiled, "--data", other)
    assert refused.exit_code == 1
    assert "is damaged in the archive" in refused.output
    taken = tinknot("restore", spoiled, "--anyway", "--data", other)
    assert taken.exit_code == 0, taken.output
    assert f"the picture {name[7:19]}" in taken.output
    assert len(list((other / "photos").iterdir())) == 39


def intact(data: Path) -> set[bool]:
    with safekeeping.opened(data):
        return {records.verdict(r.ref).intact for r in Joint.select() if r.revision}


@pytest.mark.parametrize(
    "at", [*(pytest.param(x, marks=nightly) for x in ("_add_missing", "_swap")), "sweep"]
)
def test_a_restore_that_is_ended_anywhere_leaves_no_false_altered(
    folder: Path, tmp_path: Path, monkeypatch, at: str
):
    """Whatever was put in place, database and checkpoints belong together."""
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    with safekeeping.opened(folder):
        from tinknot.services import accounts, joints

        joints.create(joints.JointNew(ref="LATER-1", title="after the backup"), accounts.everybody()[0])
    real, times = getattr(safekeeping, at), []

    def ends(*given, **more):
        times.append(1)
        if at == "_swap":
            real(*given, **more)
        if at != "sweep" or len(times) == 2:  # the second is after the swap
            raise KeyboardInterrupt
        return real(*given, **more)

    monkeypatch.setattr(safekeeping, at, ends)
    with pytest.raises(KeyboardInterrupt):
        safekeeping.restore(folder, archive)
    monkeypatch.undo()
    assert intact(folder) == {True}
    safekeeping.sweep(folder)
    assert intact(folder) == {True}
    assert len(list(folder.glob("heads*.db"))) == 1


def test_checkpoints_come_along_so_that_what_was_altered_before_stays_found(folder: Path, tmp_path: Path):
    with closing(sqlite3.connect(folder / "tinknot.db")) as connection:
        ref, last = connection.execute(
            "SELECT j.ref, MAX(e.id) FROM eventrow e JOIN joint j ON j.id = e.joint_id"
            " WHERE j.state = 'building' GROUP BY j.ref"
        ).fetchone()
        connection.execute("DELETE FROM eventrow WHERE id = ?", (last,))
        connection.commit()
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    other = tmp_path / "other"
    assert tinknot("restore", archive, "--data", other).exit_code == 0
    with safekeeping.opened(other):
        assert "not all of them are there" in records.verdict(ref).words


def test_leavings_of_a_killed_backup_are_swept_and_those_of_a_running_one_are_not(
    folder: Path, tmp_path: Path
):
    gone = subprocess.Popen([sys.executable, "-c", "pass"])
    gone.wait()
    killed, running = tmp_path / f".backup-{gone.pid}-x", tmp_path / f".backup-{os.getpid()}-x"
    for left in (killed, running):
        left.mkdir()
        (left / "tinknot.db").write_bytes(b"x")
    safekeeping.backup(folder, tmp_path)
    assert not killed.exists()
    assert running.exists()


def test_a_list_of_files_without_end_is_not_read(folder: Path, tmp_path: Path, monkeypatch):
    archive = safekeeping.backup(folder, tmp_path / "b.zip").archive
    monkeypatch.setattr(safekeeping, "MOST_MANIFEST", 1000)
    refused = tinknot("restore", archive, "--data", tmp_path / "other")
    assert refused.exit_code == 1
    assert "too long" in refused.output


def test_a_backup_of_nothing_says_so(tmp_path: Path):
    found = tinknot("backup", tmp_path / "b.zip", "--data", tmp_path / "none")
    assert found.exit_code == 1
    assert not (tmp_path / "none").exists()
