"""A whole journey in the browser with every id, title and batch called something that says nothing: the page
must not read anything off them."""

import json
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, Route, expect

from tests.conftest import nightly
from tests.core.test_nonsense import WORDS, called
from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import entered, phone, sent, work_of
from tests.e2e.test_hands import instruments, planned_again

pytestmark = [pytest.mark.e2e, nightly]
REF = "SK-107"
IDS = {"step", "layer", "layers", "needs", "locked_by", "next", "layers_done", "since", "after", "batch"}
KEYED = {"builds", "again", "photos", "lots"}  # by step or layer
SHOWN = {"title", "batch_title"}  # words that tell steps apart; all others are the same word
KEPT = {"label"}  # what a figure is called: the hands of this test read it


OUTLINES = """all => all.map(e => e.getAttribute('d')
  ?? ['x', 'y', 'width', 'height'].map(a => e.getAttribute(a)).join())"""


class Renamed:
    """Between a page and its server: what the page is told is called otherwise, what it sends is called
    again as the server knows it."""

    def __init__(self, work: dict[str, Any]) -> None:
        plan = work["plan"]
        names = {s["id"] for s in plan["steps"]} | {s["layer"] for s in plan["steps"]}
        names |= {p["layer"] for p in plan["parts"]} | {b["layer"] for b in plan["section"]["bodies"]}
        self.true = {called(n): n for n in names}
        assert len(self.true) == len(names)

    def told(self, value: Any, key: str = "") -> Any:
        """What the page sees."""
        if isinstance(value, dict):
            return {(called(k) if key in KEYED else k): self.told(v, k) for k, v in value.items()}
        if isinstance(value, list):
            return [self.told(v, "needs" if key in KEYED else key) for v in value]
        if not isinstance(value, str):
            return value
        if key in SHOWN:
            return called(value)
        if key in WORDS - KEPT:
            return "x" if value else ""
        known = key in IDS or (key == "id" and called(value) in self.true)
        return called(value) if known else value

    def work(self, route: Route) -> None:
        """The joint's work."""
        answer = route.fetch()
        route.fulfill(response=answer, json=self.told(answer.json()))

    def event(self, route: Route) -> None:
        """An event on its way, and what became of it."""
        given = json.loads(route.request.post_data or "{}")
        given["step"] = self.true.get(given["step"], given["step"])
        answer = route.fetch(post_data=json.dumps(given))
        route.fulfill(response=answer, json=self.told(answer.json()))


def drawn(page: Page, site) -> list[str]:
    """The drawings at Cut: the section along the joint, and the cores of each end."""
    page.goto(f"{site.address}/joints/{REF}/cut")
    expect(page.get_by_role("heading", name="Cut", exact=True)).to_be_visible()
    return page.locator("svg path, svg rect").evaluate_all(OUTLINES)


def test_a_whole_journey_is_the_same_whatever_things_are_called(browser: Browser, site):
    instruments(browser, site, False)
    context = phone(browser)
    page = entered(context, site, "runa", "/")
    site.set_rule(page, "surface.flash_min", 0)
    planned_again(page, site, REF)
    usual = drawn(page, site)
    assert len(usual) > 20
    other = Renamed(work_of(page, site, REF))
    page.route(f"**/api/v1/joints/{REF}/work", other.work)
    page.route(f"**/api/v1/joints/{REF}/events", other.event)
    assert drawn(page, site) == usual

    joint = JointPage(page)
    joint.station("Build")
    expect(page.get_by_role("heading", level=1)).to_have_text(called("Isolate and prove dead"))
    joint.work(called("Release the joint"))
    sent(page)
    progress = work_of(page, site, REF)["progress"]
    assert progress["flags"] == []
    assert progress["done"] == progress["total"] - 1
    page.unroute_all(behavior="ignoreErrors")  # the page may ask for its work while it is closed
    context.close()
