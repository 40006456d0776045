"""The joint's page and its stations."""

import re

from playwright.sync_api import Locator, Page, expect


class JointPage:
    """Drives one joint through its stations."""

    def __init__(self, page: Page, touch: bool = False) -> None:
        self.page, self.touch = page, touch

    def press(self, target: Locator) -> None:
        """A click, or a touch where the page is on a phone. Only once it can be pressed: the driver scrolls
        to and fro while it waits for that itself, and misses a button that stays at the screen's edge."""
        expect(target).to_be_enabled()
        if self.touch:
            target.tap()
        else:
            target.click()

    def confirm(self) -> None:
        """The one large button of Build."""
        self.press(self.page.locator("main article button.btn-huge"))

    def station(self, name: str) -> None:
        """Open a station."""
        link = self.page.get_by_label("Stations").get_by_role("link", name=re.compile(rf"^\d {name}:"))
        self.press(link)
        expect(link).to_have_attribute("aria-current", "page")

    def saved(self) -> None:
        """Everything typed has reached the server."""
        expect(self.page.get_by_text("saving …")).to_have_count(0)
        self.page.wait_for_function("ref => !localStorage.getItem('draft:' + ref)", arg=self.ref)

    @property
    def ref(self) -> str:
        """The reference in the address."""
        return self.page.url.split("/joints/")[1].split("/")[0]

    def fill_card(self, where: str, volts: str, duty: str) -> None:
        """What must be on a card."""
        self.page.get_by_role("textbox", name="Where").fill(where)
        self.page.get_by_role("textbox", name="Rated voltage").fill(volts)
        self.press(self.page.get_by_text(duty, exact=True))
        self.page.get_by_role("textbox", name="Side A comes from").fill("substation")
        self.page.get_by_role("textbox", name="Side B goes to").fill("pump")
        self.saved()

    def end(self, side: str) -> Locator:
        """The form of an end."""
        return self.page.get_by_role("region", name=f"End {side}")

    def measure(self, cores: int, sheath: str, insulation: str, area: str, free: str) -> None:
        """Both ends alike, typed once and copied."""
        self.press(self.page.get_by_role("button", name=str(cores), exact=True))
        a = self.end("A")
        a.get_by_role("textbox", name="Sheath of end A").fill(sheath)
        a.get_by_label("Free tail").fill(free)
        every = "every core" if cores > 1 else "core 1"
        a.get_by_role("textbox", name=f"Insulation of {every}").fill(insulation)
        a.get_by_role("combobox", name=f"Conductor of {every}").select_option(area)
        self.press(self.page.get_by_role("button", name="End B reads the same"))
        self.end("B").get_by_label("Free tail").fill(free)
        self.saved()

    def type_reading(self, name: str, figures: str) -> None:
        """A figure typed on the number pad."""
        self.open_pad(self.page.get_by_role("button", name=re.compile(f"^{name}: ")).first)
        self.on_the_pad(figures)

    def open_pad(self, of: Locator) -> None:
        """The pad of a reading."""
        self.press(of)
        expect(self.page.get_by_role("dialog")).to_be_visible()

    def on_the_pad(self, figures: str) -> None:
        """Figures on the pad that is open."""
        pad = self.page.get_by_role("dialog")
        for key in figures:
            self.press(pad.get_by_role("button", name=key, exact=True))
        self.press(pad.get_by_role("button", name="Take it"))
        expect(pad).to_have_count(0)

    def take_readings(self) -> None:
        """What the instruments of this step read, each by one touch, and what there is none for typed so
        that it passes; a surface still hot is waited out by hand."""
        still = self.page.get_by_text(re.compile("^Still to read"))
        every = self.page.locator("main article").get_by_role("button", name=re.compile("^Read all"))
        for button in every.all():
            self.press(button)  # what no instrument reads is typed below
            expect(self.page.locator("main article [aria-busy=true]")).to_have_count(0)
        while told := still.all_inner_texts():
            name = told[0].removeprefix("Still to read: ").rstrip(".").split(", ")[0]
            asked = self.page.get_by_role("button", name=re.compile(f"^{re.escape(name)}.*: type it")).first
            words = asked.locator("xpath=..").inner_text()
            least, most = (re.search(rf"at {side} ([\d.]+)", words) for side in ("least", "most"))
            target = re.search(r"([\d.]+) \S+ ±", words)
            much = 100 if "Ω" in words else 1
            value = float(least[1]) * much if least else float(most[1]) / 5 if most else float(target[1])
            asked.focus()  # as a tester types it: on the reading itself
            self.page.keyboard.type(f"{value:g}")
            self.page.keyboard.press("Enter")
            expect(self.page.get_by_text(told[0], exact=True)).to_have_count(0)
        if self.page.get_by_role("button", name=re.compile("^surface: ")).count():
            self.type_reading("surface", "31")

    def work(self, until: str) -> int:
        """Confirm what Build offers, with readings that pass, until the heading named shows. Returns the
        touches besides readings."""
        heading = self.page.get_by_role("heading", level=1)
        for touches in range(60):
            title = heading.first.inner_text()
            if title == until:
                return touches
            self.take_readings()
            self.confirm()
            expect(heading.first).not_to_have_text(title)
        raise AssertionError(f"never came to {until}")
