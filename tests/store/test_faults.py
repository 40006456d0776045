"""What errors of SQLite and of the file system mean, and files that are written whole or not at all."""

import errno
import os
import sqlite3
import threading
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from pathlib import Path

import pytest
from peewee import OperationalError

from tinknot.store import database, faults, files, heads, lock, snapshot


def test_a_write_that_fails_leaves_neither_file_nor_part(tmp_path: Path, monkeypatch):
    def no_room(_descriptor):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(os, "fsync", no_room)
    with pytest.raises(faults.DiskFull), faults.told():
        files.write_whole(tmp_path / "a", b"x")
    assert list(tmp_path.iterdir()) == []


@pytest.mark.parametrize(
    ("number", "kind"),
    [
        (errno.ENOSPC, faults.DiskFull),
        (errno.EDQUOT, faults.DiskFull),
        (errno.EROFS, faults.ReadOnly),
        (errno.EACCES, faults.ReadOnly),
        (errno.ENOENT, None),
    ],
)
def test_what_errors_of_the_file_system_mean(number: int, kind):
    found = faults.fault_of(OSError(number, "x"))
    assert type(found) is kind if kind else found is None


def test_errors_without_a_meaning_stay_what_they_are(tmp_path: Path):
    database.open_database(tmp_path / "x.db")
    with pytest.raises(OperationalError, match="no such table"), faults.told():
        database.db.execute_sql("SELECT * FROM nowhere")
    assert faults.fault_of(ValueError("x")) is None
    database.close()


def test_a_writer_that_holds_on_is_told_as_busy(tmp_path: Path):
    database.open_database(tmp_path / "x.db")
    database.db.execute_sql("PRAGMA busy_timeout = 20")
    with closing(sqlite3.connect(tmp_path / "x.db", isolation_level=None)) as other:
        other.execute("BEGIN IMMEDIATE")
        with pytest.raises(faults.Busy, match="do it again"), database.writing():
            pass
    with database.writing():
        pass
    database.close()


def test_what_is_no_database_is_told(tmp_path: Path):
    (tmp_path / "x.db").write_text("words " * 400)
    with pytest.raises(faults.Damaged, match="no database"):
        database.open_database(tmp_path / "x.db")
    assert (tmp_path / "x.db").read_text() == "words " * 400


def test_writers_of_one_file_do_not_get_in_each_others_way(tmp_path: Path):
    def write(number: int) -> None:
        files.write_whole(tmp_path / "a", bytes([number]) * 10_000)

    with ThreadPoolExecutor(8) as pool:
        list(pool.map(write, range(40)))
    assert [p.name for p in tmp_path.iterdir()] == ["a"]
    assert len(set((tmp_path / "a").read_bytes())) == 1
    assert (tmp_path / "a").stat().st_mode & 0o777 == 0o600


def test_a_lock_is_one_holders_at_a_time_and_free_again(tmp_path: Path):
    held = threading.Event()

    with lock.holding(tmp_path):
        with pytest.raises(lock.InUse, match="Another Tin Knot"), lock.holding(tmp_path):
            held.set()
        assert not held.is_set()
    with lock.holding(tmp_path):
        held.set()
    assert held.is_set()


def test_checkpoints_go_forward_only(tmp_path: Path):
    heads.open_heads(tmp_path)
    assert heads.head(1) is None
    first, plans = (5, "five", 1, "p1", "s5"), (5, "five", 2, "p2", "s6")
    heads.keep(1, first)
    heads.keep(1, (4, "four", 1, "p1", "s4"))
    heads.keep(2, (1, "one", 0, "", "s1"), durably=True)
    assert heads.head(1) == first
    heads.keep(1, plans)
    heads.keep(1, (5, "five", 1, "p1", "s7"))
    assert heads.head(1) == plans
    assert heads.head(2) == (1, "one", 0, "", "s1")
    assert (tmp_path / heads.NAME).stat().st_mode & 0o077 == 0
    heads.close()


def test_a_copy_holds_what_lies_in_the_log_and_is_never_written_over(tmp_path: Path):
    with closing(sqlite3.connect(tmp_path / "a.db")) as made:
        made.execute("PRAGMA journal_mode=wal")
        made.execute("CREATE TABLE t (x)")
        made.execute("INSERT INTO t VALUES (7)")
        made.commit()
        snapshot.copy_to(tmp_path / "a.db", tmp_path / "b.db")
        made.execute("BEGIN")
        made.execute("SELECT * FROM t").fetchone()
        with pytest.raises(FileExistsError):
            snapshot.copy_to(tmp_path / "a.db", tmp_path / "b.db")
    with closing(sqlite3.connect(tmp_path / "b.db")) as found:
        assert found.execute("SELECT x FROM t").fetchone() == (7,)
    assert (tmp_path / "b.db").stat().st_mode & 0o777 == 0o600


def test_a_foreign_database_is_told_before_anything_else(tmp_path: Path):
    for name, make in (
        ("other", "CREATE TABLE recipe (name)"),
        ("alike", "CREATE TABLE joint (id); CREATE TABLE schema_migration (id, name, applied)"),
    ):
        with closing(sqlite3.connect(tmp_path / name)) as made:
            made.executescript(make)
        assert snapshot.upgraded_fault(tmp_path / name), name
    assert snapshot.upgraded_fault(tmp_path / "other") == "it is a database, but none of Tin Knot"


def test_chains_that_are_not_whole_are_named(tmp_path: Path):
    with closing(sqlite3.connect(tmp_path / "x.db")) as made:
        made.executescript(
            "CREATE TABLE joint (id, ref); CREATE TABLE eventrow (joint_id, number, body, hash);"
            "INSERT INTO joint VALUES (1, 'J-1'), (2, 'J-2'), (3, 'J-3');"
            "INSERT INTO eventrow VALUES (1, 1, '{\"number\": 1}', 'x'), (2, 1, 'no json', 'x');"
        )
    assert list(snapshot.chain_faults(tmp_path / "x.db")) == [
        "the events of J-1 are not whole, from event 1 on",
        "the events of J-2 are not whole",
    ]
