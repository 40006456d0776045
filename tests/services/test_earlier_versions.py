"""Data folders that earlier commits wrote open in this version: every joint reads, every release verifies,
and what was stored stays as it was."""

import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from tests.conftest import FULL
from tests.fixtures.databases import COMMITS, FORMAT_2, FORMAT_3, lay_out
from tinknot.services import (
    accounts,
    board,
    building,
    checkpoints,
    joints,
    keys,
    opening,
    planning,
    records,
    sheets,
)
from tinknot.store.models import EventRow, Joint

STORED = (
    "SELECT number, file, plan, made, differences FROM planrevision ORDER BY id",
    "SELECT event_id, body, hash FROM eventrow ORDER BY id",
    "SELECT ref, draft, signed_hash, signed_content, signature FROM joint ORDER BY id",
    "SELECT sheet_id, body FROM kit_sheet ORDER BY id",
)


def stored(database: Path) -> list[list[tuple]]:
    with closing(sqlite3.connect(database)) as connection:
        return [connection.execute(sql).fetchall() for sql in STORED]


def kept_of(database: Path, before: list[list[tuple]]) -> list[list[tuple]]:
    """What is stored now, but for sheets that shipped as checked and are the site's own now."""
    now = stored(database)
    return [*now[:-1], now[-1][: len(before[-1])]]


@pytest.fixture(scope="module", params=COMMITS if FULL else COMMITS[:1])
def folder(request, tmp_path_factory):
    """The folder, opened by this version; what was stored before is kept beside it."""
    path = tmp_path_factory.mktemp("old") / "data"
    database = lay_out(request.param, path)
    before = stored(database)
    opening.open_site(database)
    yield path, before
    opening.close_site()


def test_every_joint_is_on_the_board_and_reads(folder):
    shown = board.board()
    assert sum(s.count for s in shown.states) == 20
    assert shown.unreadable.items == []
    for row in Joint.select():
        assert joints.get(row.ref).ref == row.ref
        if row.revision:
            work = building.work(row.ref)
            assert work.progress.total == len(work.plan.steps)
            assert len(planning.revisions(row.ref)) == row.revision


def test_every_release_verifies_and_says_what_its_signature_covers(folder):
    released = [r.ref for r in Joint.select() if r.state.startswith("released")]
    assert released == ["SK-101", "SK-103", "SK-111", "SK-115"]
    for ref in released:
        found = records.verdict(ref)
        assert (found.intact, found.signed) == (True, True), found.words
        assert "first scheme" in found.words
        assert records.record_pdf(ref).startswith(b"%PDF")
    for row in Joint.select().where(Joint.revision > 0):
        assert records.verdict(row.ref).intact


def test_states_are_what_they_were(folder):
    """Rules that are new do not judge work that was taken under the old ones."""
    for row in Joint.select():
        if row.revision:
            assert planning.progress_of(row).state == row.state, row.ref
    assert planning.revisions("SK-113")[1].differences
    assert building.work("SK-109").progress.mended


def test_sheets_that_people_wrote_are_read(folder):
    found = {s.id: s for s in sheets.sheets()}
    assert found["trace-end-own"].state == "checked"
    assert found["trace-end-draft"].state == "draft"
    assert sheets.unreadable() == []
    taken = found["trace-end-p1"]  # it shipped as checked; no joint that goes by it is stopped
    assert (taken.state, taken.revision, taken.author) == ("checked", 1, "an earlier version of Tin Knot")
    assert taken.checked_by == ""


def test_half_built_joints_can_be_planned_again_and_built_on(folder):
    """Heat trace among them, whose plans the version before could not read."""
    for ref in ("SK-104", "SK-113", "SK-116", "SK-119"):
        assert planning.look(ref).plan.verdict == "planned", ref
        assert planning.departures_of(joints.row_of(ref)) == [], ref


def test_what_was_stored_is_not_rewritten(folder):
    path, before = folder
    assert kept_of(path / "tinknot.db", before) == before


def test_keys_have_left_the_database(folder):
    path, _ = folder
    with closing(sqlite3.connect(path / "tinknot.db")) as connection:
        names = {name for (name,) in connection.execute("SELECT key FROM setting")}
    assert not names & {"site-key", "pin-key"}
    assert keys.site_key() is not None
    for file in [*path.glob("*.db*"), *path.glob("keys/*"), *path.glob("photos/*")]:
        assert file.stat().st_mode & 0o077 == 0, file
    secret = keys.site_key().private_bytes_raw().hex().encode()
    for file in path.glob("tinknot.db*"):
        assert secret not in file.read_bytes(), file


def test_work_of_format_2_stays_as_it_was_taken(tmp_path: Path):
    """Before own work was known by numbers alone, and before sign-ins were rows."""
    database = lay_out(FORMAT_2, tmp_path / "data")
    before = stored(database)
    opening.open_site(database)
    try:
        shown = board.board()
        assert sum(s.count for s in shown.states) == 19
        assert [(j.ref, j.limits) for j in shown.limited.items] == [("SK-103", "no pull, no flex")]
        for row in Joint.select().where(Joint.revision > 0):
            assert planning.progress_of(row).state == row.state, row.ref
            assert records.verdict(row.ref).intact
            assert planning.workers_of(row) == {2}, row.ref  # who planned it, found by name
        assert kept_of(database, before) == before
    finally:
        opening.close_site()


def test_work_of_format_3_stays_as_it_was_taken(tmp_path: Path):
    """Before there was one definition of work, before plans had checkpoints, and before a proof was asked
    for."""
    database = lay_out(FORMAT_3, tmp_path / "data")
    before = stored(database)
    opening.open_site(database)
    try:
        assert board.board().late.items == []
        for row in Joint.select().where(Joint.revision > 0):
            assert planning.progress_of(row).state == row.state, row.ref
            assert checkpoints.fault(row) == "", row.ref
            assert building.work(row.ref).altered == ""
        assert kept_of(database, before) == before
        last = EventRow.select().order_by(EventRow.id.desc()).first()
        last.delete_instance()
        assert "not all of them are there" in checkpoints.fault(last.joint)
    finally:
        opening.close_site()


def test_an_upgrade_that_is_ended_before_or_after_its_checkpoints_is_done_again(tmp_path: Path, monkeypatch):
    from tinknot.store import database as store

    database, real = lay_out(FORMAT_3, tmp_path / "data"), store.upgrade

    def ends(*_: object) -> None:
        raise KeyboardInterrupt

    for place, name in ((checkpoints, "begin_all"), (store, "upgrade"), (opening.photos, "close_to_others")):
        monkeypatch.setattr(place, name, ends)
        with pytest.raises(KeyboardInterrupt):
            opening.open_site(database)
        monkeypatch.undo()
        opening.close_site()
    assert store.upgrade is real
    opening.open_site(database)
    try:
        for row in Joint.select().where(Joint.revision > 0):
            assert checkpoints.fault(row) == "", row.ref
    finally:
        opening.close_site()


def test_what_an_earlier_checkpoint_does_not_fit_is_not_signed_over_by_an_upgrade(tmp_path: Path):
    database = lay_out(FORMAT_3, tmp_path / "data")
    with closing(sqlite3.connect(database)) as connection:
        (joint, last) = connection.execute(
            "SELECT joint_id, MAX(id) FROM eventrow GROUP BY joint_id ORDER BY joint_id DESC"
        ).fetchone()
        connection.execute("DELETE FROM eventrow WHERE id = ?", (last,))
        connection.commit()
    opening.open_site(database)
    try:
        assert "checkpoint of this joint is missing" in checkpoints.fault(Joint.get_by_id(joint))
    finally:
        opening.close_site()


HALF_BUILT = ("building", "curing", "stopped", "to prove", "to release")


def test_a_half_built_joint_planned_again_unchanged_asks_no_step_again(tmp_path: Path):
    """Neither the wording of a step nor how the plan came about is part of what the work depends on."""
    opening.open_site(lay_out(COMMITS[-1], tmp_path / "data"))
    runa, tried = accounts.person_named("runa"), 0
    for row in Joint.select().where(Joint.state.in_(HALF_BUILT)):
        before = planning.progress_of(row)
        draft = joints.draft_of(row)
        if draft.sheet and sheets.sheet(draft.sheet).state == "draft":
            continue  # nothing is planned by a draft
        planning.freeze(row.ref, row.version, runa)
        after = planning.progress_of(joints.row_of(row.ref))
        assert [s.id for s in after.steps if s.state == "again"] == [
            s.id for s in before.steps if s.state == "again"
        ], row.ref
        assert after.counted() == before.counted(), row.ref
        tried += 1
    opening.close_site()
    assert tried >= 5
