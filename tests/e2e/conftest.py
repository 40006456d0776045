"""The real server on a new database, and the real browser."""

import shutil
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

sys.path.insert(0, str(Path(__file__).parents[2] / "tools"))
from browser import LAUNCH, free_port, start

expect.set_options(timeout=10_000)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict:
    """Debian's Chromium."""
    return dict(LAUNCH)


@pytest.fixture(scope="session")
def browser_context_args() -> dict:
    """A desk; the service worker only where a test is about it."""
    return {"viewport": {"width": 1280, "height": 800}, "service_workers": "block"}


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory) -> Path:
    """The demo's data folder, made once by the real command."""
    folder = tmp_path_factory.mktemp("demo") / "data"
    process = start("demo", folder, free_port())
    process.terminate()
    process.wait(10)
    return folder


class Server:
    """A server that a test may kill and start again."""

    def __init__(self, data: Path) -> None:
        self.data, self.port = data, free_port()
        self.process = start("serve", data, self.port)

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def set_rule(
        self, page: Page, key: str, value: object, username: str = "ylva", password: str = "skarn-demo-26"
    ) -> None:
        """A site's own rule, set by an admin outside the page under test."""
        admin = page.context.browser.new_context()
        csrf = admin.request.post(
            f"{self.address}/api/v1/session", data={"username": username, "password": password}
        ).json()["csrf"]
        done = admin.request.put(
            f"{self.address}/api/v1/rules/{key}", data={"value": value, "reason": "for the test"}, headers={"X-CSRF-Token": csrf}
        )  # fmt: skip
        assert done.ok, done.text()
        admin.close()

    def kill(self) -> None:
        """As a power cut does."""
        self.process.kill()
        self.process.wait(10)

    def restart(self) -> None:
        """On the same port and data."""
        self.process = start("serve", self.data, self.port)


@pytest.fixture
def site(tmp_path: Path, demo_data: Path) -> Iterator[Server]:
    """The demo site, fresh for each test."""
    shutil.copytree(demo_data, tmp_path / "data")
    server = Server(tmp_path / "data")
    yield server
    server.kill()


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
        page.goto(site.address + path)
        page.get_by_label("Sign-in name").fill(username)
        page.get_by_label("Password").fill("skarn-demo-26")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_label("Sign-in name")).to_have_count(0)
        expect(page.get_by_role("link", name="Tin Knot")).to_be_visible()
        return page

    return enter
