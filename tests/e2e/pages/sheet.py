"""The page of one kit sheet."""

import re

from playwright.sync_api import Locator, Page, expect


class SheetPage:
    """Types a leaflet as an electrician would."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def serves(self, kind: str, figures: dict[int, str]) -> None:
        """The cables served: a kind, and limits by their place in the row."""
        region = self.page.get_by_role("region", name="Cables served")
        region.get_by_role("checkbox", name=kind).check()
        for place, value in figures.items():
            region.get_by_role("textbox").nth(place).fill(value)

    def _newest(self, region: Locator) -> Locator:
        """The row just added, also when others come after it."""
        return region.get_by_role("listitem").nth(region.get_by_role("listitem").count() - 1)

    def part(self, what: str, name: str) -> Locator:
        """One more part; its row."""
        region = self.page.get_by_role("region", name="Parts")
        region.get_by_role("button", name="One more part").click()
        row = self._newest(region)
        row.get_by_role("combobox", name="What").select_option(label=what)
        row.get_by_role("textbox", name="Name").fill(name)
        return row

    def tube(self, name: str, opens: str, closes: str, long: str) -> Locator:
        """A lined shrink tube, mm."""
        row = self.part("shrink tube", name)
        for words, value in (("opens to", opens), ("closes to", closes), ("long", long)):
            row.get_by_role("textbox", name=re.compile(f"{words}, mm$")).fill(value)
        row.get_by_role("textbox", name="Wall").fill("1.2")
        row.get_by_role("textbox", name="Shrinks at").fill("120")
        row.get_by_role("checkbox", name="adhesive").check()
        return row

    def cut(self, layer: str, mm: str, inch: str = "") -> Locator:
        """One more cut; its row."""
        region = self.page.get_by_role("region", name="Cuts")
        region.get_by_role("button", name="One more cut").click()
        row = self._newest(region)
        row.get_by_role("combobox", name="Layer").select_option(label=layer)
        row.get_by_role("textbox", name=re.compile("length, mm$")).fill(mm)
        if inch:
            row.get_by_role("textbox", name=re.compile("length, inch$")).fill(inch)
        return row

    def layer(self, what: str, part: str = "", reach: str = "", datum: str = "") -> Locator:
        """One more layer; its row."""
        region = self.page.get_by_role("region", name="Layers")
        region.get_by_role("button", name="One more layer").click()
        row = self._newest(region)
        row.get_by_role("combobox", name="What").select_option(label=what)
        if part:
            row.get_by_role("combobox", name="Part").select_option(part)
        if reach:
            row.get_by_role("textbox", name=re.compile("reaches onto, mm$")).fill(reach)
        if datum:
            row.get_by_role("combobox", name="the", exact=True).select_option(label=datum)
        return row

    def adds_up(self) -> None:
        """Nothing is doubted any more, and it is kept."""
        expect(self.page.get_by_role("heading", name="It adds up")).to_be_visible()
        expect(self.page.get_by_text("saving …")).to_have_count(0)
