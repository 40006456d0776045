"""The real server on a new database, and the real browser."""

import json
import os
import shutil
import sqlite3
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path
from uuid import uuid4

import pytest
from filelock import FileLock
from playwright.sync_api import BrowserContext, Error, Page, expect

sys.path.insert(0, str(Path(__file__).parents[2] / "tools"))
from browser import LAUNCH, free_port, start

expect.set_options(timeout=10_000)
PASSWORD = "skarn-demo-26"  # of the whole crew


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item):
    """What stood on the pages of a test that failed is told with it."""
    report = yield
    if report.when == "call" and report.failed and "browser" in item.funcargs:
        for page in [p for context in item.funcargs["browser"].contexts for p in context.pages]:
            try:
                told = page.locator("body").inner_text(timeout=2_000)
            except Error as fault:
                told = str(fault)
            report.sections.append((f"at {page.url}", told))
    return report


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict:
    """Debian's Chromium."""
    return dict(LAUNCH)


@pytest.fixture(scope="session")
def browser_context_args() -> dict:
    """A desk; the service worker only where a test is about it."""
    return {
        "viewport": {"width": 1280, "height": 800},
        "service_workers": "block",
        "reduced_motion": "reduce",
    }


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory) -> Path:
    """The demo's data folder, made once by the real command for all workers."""
    shared = (
        tmp_path_factory.getbasetemp().parent
        if "PYTEST_XDIST_WORKER" in os.environ
        else tmp_path_factory.getbasetemp()
    )
    folder = shared / "demo" / "data"
    with FileLock(shared / "demo.lock"):
        if not folder.exists():
            folder.parent.mkdir()
            process = start("demo", folder, free_port())
            process.terminate()
            process.wait(10)
            for name in ("tinknot.db", "heads.db"):  # one file each, so that nobody changes what others copy
                with closing(sqlite3.connect(folder / name)) as db:
                    db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    return folder


def _passes(gate: dict) -> float:
    """A figure within the limit of a gate."""
    if gate["least"] is not None:
        return gate["least"] * (100 if "Ω" in gate["unit"] else 1)
    return gate["most"] * 0.6 if gate["most"] is not None else gate["target"] or 20.0


class Server:
    """A server that a test may kill and start again, and whose data are put back between tests."""

    def __init__(self, data: Path) -> None:
        self.data, self.port = data, free_port()
        self.process = start("serve", data, self.port)
        self.cookies: dict[str, list] = {}

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def sign_in(self, context: BrowserContext, username: str, password: str = PASSWORD) -> str:
        """Sign a browser in; once over HTTP, from then on by the cookie of that time. Returns the CSRF
        token."""
        if username not in self.cookies:
            answer = context.request.post(
                f"{self.address}/api/v1/session", data={"username": username, "password": password}
            )
            assert answer.ok, answer.text()
            self.cookies[username] = context.cookies()
        context.add_cookies(self.cookies[username])
        session = context.request.get(f"{self.address}/api/v1/session").json()
        if not session["signed_in"]:  # a test signed this one out
            del self.cookies[username]
            return self.sign_in(context, username, password)
        return session["csrf"]

    def new_joint(self, page: Page, ref: str, title: str) -> None:
        """A joint with nothing but its name, made by whoever is signed in on the page."""
        csrf = page.request.get(f"{self.address}/api/v1/session").json()["csrf"]
        made = page.request.post(
            f"{self.address}/api/v1/joints",
            data={"ref": ref, "title": title},
            headers={"X-CSRF-Token": csrf},
        )
        assert made.ok, made.text()

    def built(self, page: Page, ref: str, until: str) -> None:
        """What the page's own person does up to the step or batch of that title, sent as a device sends it:
        the page begins from a joint in the middle of its work."""
        asked = page.request
        session = asked.get(f"{self.address}/api/v1/session").json()
        work = asked.get(f"{self.address}/api/v1/joints/{ref}/work").json()
        done = {s["id"] for s in work["progress"]["steps"] if s["state"] == "done"}
        for n, step in enumerate(work["plan"]["steps"]):
            if until in (step["title"], step["batch_title"]):
                return
            if step["id"] in done:
                continue
            event = {
                "id": str(uuid4()),
                "kind": "done",
                "step": step["id"],
                "revision": work["number"],
                "by": session["mark"],
                "sign_in": session["sign_in"],
                "device": "test",
                "sequence": n,
                "client_time": datetime.now(UTC).isoformat(),
                "values": {g["id"]: _passes(g) for g in step["gates"] if g["required"] or g["unit"] == "°C"},
            }
            sent = asked.post(
                f"{self.address}/api/v1/joints/{ref}/events",
                data=event,
                headers={"X-CSRF-Token": session["csrf"]},
            )
            assert sent.ok, sent.text()
            assert sent.json()["counts"], sent.json()["why"]
        raise AssertionError(f"there is no {until}")

    def set_rule(
        self, page: Page, key: str, value: object, username: str = "ylva", password: str = PASSWORD
    ) -> None:
        """A site's own rule, set by an admin outside the page under test."""
        admin = page.context.browser.new_context()
        csrf = self.sign_in(admin, username, password)
        version = admin.request.get(f"{self.address}/api/v1/rules").json()["version"]
        done = admin.request.put(
            f"{self.address}/api/v1/rules/{key}",
            data={"value": value, "reason": "for the test"},
            headers={"X-CSRF-Token": csrf, "If-Match": f'"{version}"'},
        )
        assert done.ok, done.text()
        admin.close()

    def kill(self) -> None:
        """As a power cut does."""
        self.process.kill()
        self.process.wait(10)

    def restart(self) -> None:
        """On the same port and data."""
        self.process = start("serve", self.data, self.port)

    def quiet(self) -> None:
        """Nothing is under way any more: what a page of the test before had sent when it was closed would
        else be written into the data of this one."""
        deadline = time.monotonic() + 30
        while time.monotonic() < deadline:
            with urllib.request.urlopen(f"{self.address}/healthz", timeout=30) as answer:
                if json.load(answer)["answering"] == 1:
                    return
            time.sleep(0.05)
        raise AssertionError("the server is still answering")

    def put_back(self, original: Path) -> None:
        """The data as they were, while the server runs on; one that was killed is started again."""
        if self.process.poll() is None:
            self.quiet()
        with (
            closing(sqlite3.connect(f"file:{original / 'tinknot.db'}?immutable=1", uri=True)) as source,
            closing(sqlite3.connect(self.data / "tinknot.db", timeout=10)) as live,
        ):
            signed_in = live.execute("SELECT * FROM sign_in").fetchall()  # the browsers' cookies stay good
            source.backup(live)
            live.executemany("INSERT OR REPLACE INTO sign_in VALUES (?, ?, ?)", signed_in)
            live.commit()
        with (
            closing(sqlite3.connect(f"file:{original / 'heads.db'}?immutable=1", uri=True)) as source,
            closing(sqlite3.connect(self.data / "heads.db", timeout=10)) as heads,
        ):
            source.backup(heads)
        for photo in (self.data / "photos").iterdir():
            if not (original / "photos" / photo.name).exists():
                photo.unlink()
        if self.process.poll() is not None:
            self.restart()


@pytest.fixture(scope="session")
def running(tmp_path_factory, demo_data: Path) -> Iterator[Server]:
    """One server of the demo site for all tests of a worker."""
    data = tmp_path_factory.mktemp("site") / "data"
    shutil.copytree(demo_data, data)
    server = Server(data)
    yield server
    server.kill()


@pytest.fixture
def site(running: Server, demo_data: Path) -> Server:
    """The demo site, as if fresh for each test."""
    running.put_back(demo_data)
    return running


@pytest.fixture
def empty_site(tmp_path: Path) -> Iterator[Server]:
    """A new installation."""
    server = Server(tmp_path / "data")
    yield server
    server.kill()


@pytest.fixture
def sign_in(site: Server):
    """Sign a page in as one of the demo's crew and open an address."""

    def enter(page: Page, username: str, path: str = "/") -> Page:
        page.goto("about:blank")  # else an answer that is on its way brings the cookie of who was here before
        site.sign_in(page.context, username)
        page.goto(site.address + path)
        expect(page.get_by_role("link", name="Tin Knot")).to_be_visible()
        return page

    return enter
