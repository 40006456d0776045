"""A full disk, a folder that cannot be written to: clear words, nothing half-written, nothing left lying
about."""

import contextlib
import errno
import hashlib
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest
from click.testing import CliRunner

from tests.web.conftest import PASSWORD, Api
from tests.web.test_joint import event
from tinknot.cli import main
from tinknot.devices.camera import made_up_picture
from tinknot.devices.printer import TrayPrinter
from tinknot.services import accounts
from tinknot.services.opening import close_site
from tinknot.store import database
from tinknot.store.models import EventRow, Joint, Line
from tinknot.web.app import create_app


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A disk of 2 MB of its own; where this machine lets nobody mount one, the tests that need it are
    skipped."""
    place = tmp_path / "disk"
    place.mkdir()
    mounted = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", "size=2m", "tmpfs", place], capture_output=True, check=False
    )
    if mounted.returncode:
        pytest.skip("no disk can be mounted here")
    yield place
    close_site()
    subprocess.run(["umount", "-l", place], check=True)


def fill(place: Path) -> None:
    with (place / "filler").open("wb", buffering=0) as file, contextlib.suppress(OSError):
        while True:
            file.write(b"x" * 4096)


def test_a_full_disk_is_told_and_work_goes_on_when_there_is_room(small_disk: Path):
    app = create_app({"DATABASE": small_disk / "t.db", "SECRET_KEY": "t", "RATE_LIMIT": False})
    accounts.add_person("ylva", "Ylva", "admin", PASSWORD)
    api = Api(app.test_client(), "ylva")
    api("POST", "/joints", {"ref": "J-1"}, 201)
    fill(small_disk)
    statuses = {
        api.client.post(
            "/api/v1/lines", json={"name": f"L{i}", "length_m": 5}, headers={"X-CSRF-Token": api.csrf}
        ).status_code
        for i in range(40)
    }
    assert statuses <= {201, 507}
    assert 507 in statuses
    data = made_up_picture("pit", "x")
    name = hashlib.sha256(data).hexdigest()
    told = api.client.put(
        f"/api/v1/photos/{name}", data=data, content_type="image/jpeg", headers={"X-CSRF-Token": api.csrf}
    )
    assert told.status_code == 507
    assert told.mimetype == "application/problem+json"
    assert "free some space" in told.json["detail"]
    assert list((small_disk / "photos").iterdir()) == []
    assert api("GET", "/joints/J-1")["ref"] == "J-1"
    (small_disk / "filler").unlink()
    kept = Line.select().count()
    api("POST", "/lines", {"name": "after", "length_m": 5}, 201)
    assert Line.select().count() == kept + 1


def test_a_backup_onto_a_full_disk_leaves_nothing(small_disk: Path, tmp_path: Path):
    create_app({"DATABASE": tmp_path / "tinknot.db", "SECRET_KEY": "t"})
    fill(small_disk)
    found = CliRunner().invoke(main, ["backup", str(small_disk), "--data", str(tmp_path)])
    assert found.exit_code == 1
    assert "disk" in found.output
    assert "full" in found.output
    assert [p.name for p in small_disk.iterdir()] == ["filler"]


def test_a_folder_that_cannot_be_written_to(small_disk: Path):
    create_app({"DATABASE": small_disk / "tinknot.db", "SECRET_KEY": "t"})
    close_site()
    subprocess.run(["mount", "-o", "remount,ro", small_disk], check=True)
    for command in ("serve", "demo"):
        found = CliRunner().invoke(main, [command, "--data", str(small_disk)])
        assert (found.exit_code, found.exception and type(found.exception)) == (1, SystemExit)
        assert "cannot be written to" in found.output
    assert (
        "cannot be written to"
        in CliRunner().invoke(main, ["restore", str(small_disk / "x"), "--data", str(small_disk)]).output
    )


def test_a_database_that_takes_no_more(planned, app):
    """SQLite's own word for a full disk, in the middle of an event and of a plan."""
    pages = database.db.execute_sql("PRAGMA page_count").fetchone()[0]
    database.db.execute_sql(f"PRAGMA max_page_count = {pages}")
    events, version = EventRow.select().count(), Joint.get().version
    full = [
        planned.client.post(
            "/api/v1/joints/J-1/events",
            json=event("", "note", text="x" * 1900),
            headers={"X-CSRF-Token": planned.csrf},
        )
        for _ in range(12)
    ]
    assert full[-1].status_code == 507
    assert EventRow.select().count() == events + sum(a.status_code == 201 for a in full)
    planned("POST", "/joints/J-1/plans", status=507, If_Match=f'"{version}"')
    assert Joint.get().version == version  # nothing half-written
    database.db.execute_sql("PRAGMA max_page_count = 1000000")
    planned("POST", "/joints/J-1/events", event("", "note", text="room again"), 201)
    assert planned("GET", "/joints/J-1/verdict")["intact"]


def test_a_label_that_cannot_be_printed_leaves_no_half(tmp_path: Path, monkeypatch):
    printer = TrayPrinter(tmp_path / "tray")
    assert printer.put("J-1", b"page") == "J-1-1.pdf"
    real = Path.open

    class Full:
        def __init__(self, file):
            self.file = file

        def __enter__(self):
            return self

        def __exit__(self, *_):
            self.file.close()

        def write(self, _data):
            raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(Path, "open", lambda self, mode="r": Full(real(self, mode)))
    with pytest.raises(OSError, match="space"):
        printer.put("J-1", b"page")
    monkeypatch.undo()
    assert [p.name for p in (tmp_path / "tray").iterdir()] == ["J-1-1.pdf"]
