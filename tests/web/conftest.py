"""An application on a new database for each test, and people to sign in as."""

import json
import re
import shutil
import sqlite3
from collections.abc import Callable
from contextlib import closing
from datetime import datetime
from pathlib import Path
from typing import Any, ClassVar

import pytest
from flask.testing import FlaskClient

from tests.clock import CLOCK
from tinknot.services import accounts, instruments, keys, opening, sheets
from tinknot.services import board as boards
from tinknot.store.database import db
from tinknot.store.snapshot import copy_to
from tinknot.web.app import create_app

PASSWORD = "a-long-password"


class Api:
    """A signed-in client that speaks JSON and sends its CSRF token."""

    def __init__(self, client: FlaskClient, username: str | None) -> None:
        self.client, self.csrf = client, ""
        if username:
            answer = client.post("/api/v1/session", json={"username": username, "password": PASSWORD})
            assert answer.status_code == 200, answer.text
            self.csrf, self.mark = answer.json["csrf"], answer.json["mark"]

    def __call__(self, method: str, path: str, body: Any = None, status: int = 200, **headers: str) -> Any:
        if method == "POST" and "If_Match" not in headers and (looked := self._looked_at(path)):
            headers = headers | {"If_Match": looked}
        sent = {"X-CSRF-Token": self.csrf} | {k.replace("_", "-"): v for k, v in headers.items()}
        if method == "POST" and path.endswith("/events") and isinstance(body, dict):
            body = {"by": self.mark} | body  # as a page says whose it is
        data = None if body is None else body if isinstance(body, (bytes, str)) else json.dumps(body)
        answer = self.client.open(
            "/api/v1" + path,
            method=method,
            data=data,
            content_type="application/json" if data is not None else None,
            headers=sent,
        )
        assert answer.status_code == status, f"{method} {path}: {answer.status_code} {answer.text}"
        return answer.json if answer.mimetype.endswith("json") and answer.data else answer.data

    def _looked_at(self, path: str) -> str:
        """The version of what a page shows when it offers to retire, to count or to reset; empty
        elsewhere."""
        if found := re.fullmatch(r"(/stock/[^/]+)/(retired|lots/\d+/count)", path):
            shown = self.client.get(f"/api/v1{found[1]}")
            return f'"{shown.json["version"]}"' if shown.status_code == 200 else '"0"'
        if found := re.fullmatch(r"/people/(\d+)/password", path):
            people = self.client.get("/api/v1/people").json.get("items", [])
            return next((f'"{p["version"]}"' for p in people if p["id"] == int(found[1])), '"0"')
        return '"0"' if path == "/site/writing" else ""


@pytest.fixture(scope="session")
def populated(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with one person of each role, the examples taken over and checked, its keys beside it: all
    take their time, so they are made once."""
    path = tmp_path_factory.mktemp("people") / "t.db"
    create_app({"DATABASE": path, "SECRET_KEY": "test"})
    people = {
        username: accounts.add_person(username, name, role, PASSWORD)
        for username, name, role in (
            ("vera", "Vera", "viewer"),
            ("runa", "Runa", "jointer"),
            ("eskil", "Eskil", "verifier"),
            ("ylva", "Ylva", "admin"),
        )
    }
    for example in sheets.examples().values():
        kept = sheets.save(example.id, example, 0, people["ylva"])
        sheets.check(example.id, kept.version, people["eskil"])
    keys.pin_key(), keys.site_key()
    copy_to(path, path.with_name("people.db"))
    return path.with_name("people.db")


@pytest.fixture(autouse=True)
def _at_the_joints_own_time(moving_clock) -> None:
    """Joints are built by a clock that the tests move."""


@pytest.fixture(scope="session")
def application(populated: Path):
    """The application; each test opens a site of its own in it."""
    return create_app({"DATABASE": populated, "SECRET_KEY": "test", "RATE_LIMIT": False})


@pytest.fixture
def app(tmp_path: Path, populated: Path, application):
    shutil.copy(populated, tmp_path / "t.db")
    shutil.copytree(populated.with_name("keys"), tmp_path / "keys")
    opening.open_site(tmp_path / "t.db")
    application.config.update(DATABASE=tmp_path / "t.db", RATE_LIMIT=False)
    return application


@pytest.fixture
def sign_in(app):
    """Sign in as somebody; None stays outside."""
    return lambda username: Api(app.test_client(), username)


@pytest.fixture
def runa(sign_in) -> Api:
    return sign_in("runa")


class Stages:
    """A site brought to a stage: made over HTTP the first time in a session, put back as it was from then on,
    with the moment it had come to. Who is signed in stays."""

    made: ClassVar[dict[str, tuple[Path, datetime]]] = {}

    def __init__(self, data: Path, kept: Path) -> None:
        self.data, self.kept = data, kept

    def bring(self, name: str, make: Callable[[], Any]) -> None:
        """To the stage called `name`, by `make` where nobody was there yet."""
        if name not in self.made:
            make()
            kept = self.kept / name
            shutil.copytree(self.data, kept, ignore=shutil.ignore_patterns("*.db*"))
            for database in self.data.glob("*.db"):
                copy_to(database, kept / database.name)
            self.made[name] = kept, CLOCK.moment
            return
        kept, CLOCK.moment = self.made[name]
        shutil.copytree(kept, self.data, ignore=shutil.ignore_patterns("*.db"), dirs_exist_ok=True)
        for saved in kept.glob("*.db"):
            _put_back(saved, self.data / saved.name)


def _put_back(saved: Path, target: Path) -> None:
    with closing(sqlite3.connect(saved)) as source, closing(sqlite3.connect(target)) as live:
        has = live.execute("SELECT 1 FROM sqlite_master WHERE name = 'sign_in'").fetchone()
        signed_in = live.execute("SELECT * FROM sign_in").fetchall() if has else []
        source.backup(live)
        if signed_in:
            live.executemany("INSERT OR REPLACE INTO sign_in VALUES (?, ?, ?)", signed_in)
        live.commit()


@pytest.fixture
def stages(app, tmp_path: Path, tmp_path_factory: pytest.TempPathFactory) -> Stages:
    """What brings the site of this test to a stage."""
    return Stages(tmp_path, tmp_path_factory.mktemp("stage"))


@pytest.fixture
def instrumented(sign_in) -> None:
    """An admin has added every instrument's stand-in."""
    admin = sign_in("ylva")
    for kind in instruments.KINDS:
        admin("PUT", f"/instruments/{kind}", {"present": True})


@pytest.fixture
def statements(monkeypatch):
    """How many statements a board made anew asks the database."""

    def asked(api: Api, path: str) -> int:
        count = 0
        real = db.execute_sql

        def counting(*args: object, **more: object) -> object:
            nonlocal count
            count += 1
            return real(*args, **more)

        boards._board.cache_clear()
        boards._waits.cache_clear()
        with monkeypatch.context() as m:
            m.setattr(db, "execute_sql", counting)
            api("GET", path)
        return count

    return asked
