"""From an empty installation to a first plan: few clicks, few fields; and a whole joint by keys alone."""

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.conftest import nightly
from tests.e2e.pages.joint import JointPage

pytestmark = pytest.mark.e2e
MOST_CLICKS = 20
MOST_FIELDS = 20  # of them three are the first account


class Hand:
    """One hand on the page; it counts what it does."""

    def __init__(self, page: Page) -> None:
        self.page, self.clicks, self.fields = page, 0, 0

    def click(self, target: Locator) -> None:
        """A click or touch."""
        target.click()
        self.clicks += 1

    def fill(self, target: Locator, text: str) -> None:
        """Something typed."""
        target.fill(text)
        self.fields += 1

    def pick(self, target: Locator, option: str) -> None:
        """One of a list."""
        target.select_option(option)
        self.fields += 1


@pytest.mark.parametrize("width", [pytest.param(1280, marks=nightly), 390], ids=["desk", "phone"])
def test_from_empty_to_a_first_plan_in_few_clicks_and_fields(empty_site, browser, width: int):
    context = browser.new_context(viewport={"width": width, "height": 844}, service_workers="block")
    page = context.new_page()
    hand = Hand(page)
    page.goto(empty_site.address)
    hand.fill(page.get_by_label("Your name"), "Ylva Storm")
    hand.fill(page.get_by_label("Sign-in name"), "ylva")
    hand.fill(page.get_by_label("Password"), "a-long-password")
    hand.click(page.get_by_role("button", name="Make the account"))
    hand.click(page.get_by_role("link", name="Fill the stock"))
    hand.click(page.get_by_role("button", name="Look at the starter stock"))
    expect(page.get_by_text("they are nobody’s catalogue")).to_be_visible()
    hand.click(page.get_by_role("button", name=re.compile(r"^Take all \d+ changes")))
    expect(page.get_by_text(re.compile("^Taken: "))).to_be_visible()
    hand.click(page.get_by_role("link", name="Tin Knot"))
    hand.click(page.get_by_role("button", name="New joint"))
    hand.fill(page.get_by_label("What it is"), "Feeder to the pump")
    hand.click(page.get_by_role("button", name="Make it"))
    hand.fill(page.get_by_role("textbox", name="Where"), "Pit 4")
    hand.fill(page.get_by_role("textbox", name="Rated voltage"), "400")
    hand.click(page.get_by_text("buried", exact=True))
    hand.fill(page.get_by_role("textbox", name="Side A comes from"), "substation")
    hand.fill(page.get_by_role("textbox", name="Side B goes to"), "pump")
    joint = JointPage(page)
    joint.saved()
    joint.station("Measure")
    hand.clicks += 1
    hand.click(page.get_by_role("button", name="3", exact=True))
    a, b = joint.end("A"), joint.end("B")
    hand.fill(a.get_by_role("textbox", name="Sheath of end A"), "13.1")
    hand.fill(a.get_by_label("Free tail"), "600")
    hand.fill(a.get_by_role("textbox", name="Insulation of every core"), "4.3")
    hand.pick(a.get_by_role("combobox", name="Conductor of every core"), "4")
    hand.click(page.get_by_role("button", name="End B reads the same"))
    hand.fill(b.get_by_label("Free tail"), "600")
    joint.saved()
    hand.click(page.get_by_role("link", name="On to Choose"))
    expect(page.get_by_role("button", name="Plan it like this")).to_be_visible()
    hand.click(page.get_by_role("button", name="Plan it like this"))
    expect(page.get_by_role("heading", name="Cut", exact=True)).to_be_visible()
    assert hand.clicks <= MOST_CLICKS
    assert hand.fields <= MOST_FIELDS
    context.close()


class Keys:
    """Nothing but the keyboard."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def reach(self, target: Locator) -> None:
        """Tab until it has the focus. Fails when it is never reached."""
        handle = target.element_handle()
        for _ in range(250):
            if self.page.evaluate("e => e === document.activeElement", handle):
                return
            self.page.keyboard.press("Tab")
        raise AssertionError(f"the keyboard never comes to {target}")

    def press(self, target: Locator, key: str = "Enter") -> None:
        """A button or link, by its key."""
        self.reach(target)
        self.page.keyboard.press(key)

    def type(self, target: Locator, text: str) -> None:
        """Into a field."""
        self.reach(target)
        self.page.keyboard.press("ControlOrMeta+A")
        self.page.keyboard.type(text)

    def readings(self) -> None:
        """Figures that pass, typed as a calliper or tester types them: on the reading itself, then Enter."""
        article = self.page.locator("main article")
        while (asked := article.locator("[data-reading]", has_text="type it")).count():
            first = asked.first
            words = first.locator("xpath=..").inner_text()
            least, most = (re.search(rf"at {side} ([\d.]+)", words) for side in ("least", "most"))
            target = re.search(r"([\d.]+) \S+ ±", words)
            if not (least or most or target):
                return
            value = float(least[1]) * 100 if least else float(most[1]) / 5 if most else float(target[1])
            before = asked.count()
            self.reach(first)
            self.page.keyboard.type(f"{value:g}")
            self.page.keyboard.press("Enter")
            expect(article.locator("[data-reading]", has_text="type it")).to_have_count(before - 1)


@nightly
def test_a_joint_is_planned_and_built_by_the_keyboard_alone(sign_in, page: Page, site):
    sign_in(page, "runa")
    site.set_rule(page, "surface.flash_min", 0)
    keys, joint = Keys(page), JointPage(page)
    keys.press(page.get_by_role("button", name="New joint"))
    keys.type(page.get_by_label("What it is"), "Lamp feed")
    keys.press(page.get_by_role("button", name="Make it"))
    keys.type(page.get_by_role("textbox", name="Where"), "Post 9")
    keys.type(page.get_by_role("textbox", name="Rated voltage"), "230")
    keys.press(page.get_by_role("checkbox", name="buried"), "Space")
    keys.type(page.get_by_role("textbox", name="Side A comes from"), "post 8")
    keys.type(page.get_by_role("textbox", name="Side B goes to"), "post 10")
    joint.saved()
    page.evaluate("() => document.activeElement.blur()")
    page.keyboard.press("2")  # the second station
    keys.press(page.get_by_role("button", name="1", exact=True))
    a = joint.end("A")
    keys.type(a.get_by_role("textbox", name="Sheath of end A"), "10.4")
    page.keyboard.press("Enter")  # as a calliper that types: on to the reading at 90°
    expect(a.get_by_role("textbox", name="at 90° of end A, sheath")).to_be_focused()
    keys.type(a.get_by_label("Free tail"), "600")
    keys.type(a.get_by_role("textbox", name="Insulation of core 1"), "5.3")
    keys.reach(a.get_by_role("combobox", name="Conductor of core 1"))
    page.keyboard.type("6 mm")
    keys.press(page.get_by_role("button", name="End B reads the same"))
    keys.type(joint.end("B").get_by_label("Free tail"), "600")
    joint.saved()
    keys.press(page.get_by_role("link", name="On to Choose"))
    plan = page.get_by_role("button", name="Plan it like this")
    expect(plan).to_be_enabled()
    keys.press(plan)
    expect(page.get_by_role("heading", name="Cut", exact=True)).to_be_visible()
    page.evaluate("() => document.activeElement.blur()")
    page.keyboard.press("6")
    heading = page.get_by_role("heading", level=1).first
    confirm = page.locator("main article button.btn-huge")
    for _ in range(60):
        title = heading.inner_text()
        if title == "Release the joint":
            break
        keys.readings()
        expect(confirm).to_be_enabled()
        keys.press(confirm)
        expect(heading).not_to_have_text(title)
    else:
        raise AssertionError("never came to the release")
    keys.press(page.get_by_role("link", name="To Sign"))
    expect(page.get_by_text("a second person reads the record")).to_be_visible()
