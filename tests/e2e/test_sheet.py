"""The sheet of a low-voltage kit in the browser: typed, doubted while it is typed, checked, built with."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import nightly
from tests.e2e.test_at_the_joint import entered

pytestmark = [pytest.mark.e2e, nightly]


def test_a_low_voltage_leaflet_is_typed_and_a_joint_takes_it(sign_in, page: Page, browser, site):
    sign_in(page, "runa", "/sheets")
    page.get_by_role("textbox", name="Name on the box").fill("Cast joint 11")
    page.get_by_role("combobox", name="What it makes").select_option(label="straight joint, low voltage")
    page.get_by_role("button", name="Type the leaflet").click()
    doubts = page.get_by_role("region", name="What does not add up")
    expect(doubts).to_contain_text("say which conductors")
    served = page.get_by_role("region", name="Cables served")
    for label, nth, value in (
        ("Conductors from", 0, "4"),
        ("to", 1, "2,5"),
        ("Sheath from", 0, "12"),
        ("to", 2, "36"),
    ):
        served.get_by_role("textbox", name=re.compile(f"^{label}")).nth(nth).fill(value)
    expect(doubts).to_contain_text("must not be under the least")
    served.get_by_role("textbox", name=re.compile("^to")).nth(1).fill("25")
    page.get_by_role("combobox", name="Closed by").select_option("resin")
    page.get_by_role("combobox", name="One more figure").select_option("resin.waste_pct")
    page.get_by_role("region", name="Figures").get_by_role("textbox", name="Here").fill("25")
    page.get_by_role("button", name="One more step").click()
    steps = page.get_by_role("region", name="Steps it adds")
    steps.get_by_role("textbox", name="Step 1").fill("Fit the ring of the shell")
    steps.get_by_role("combobox", name="after").select_option("shell.close")
    page.get_by_role("button", name="One more caution").click()
    page.get_by_role("textbox", name="Caution 1").fill("Bare arms covered.")
    expect(page.get_by_role("heading", name="It adds up")).to_be_visible()
    order = page.get_by_role("region", name="The steps of such a joint").get_by_role("listitem")
    expect(order.filter(has_text="Fit the ring of the shell")).to_have_count(1)
    page.reload()
    expect(page.get_by_role("textbox", name="Caution 1")).to_have_value("Bare arms covered.")

    second = browser.new_context(viewport={"width": 390, "height": 844}, service_workers="block")
    other = entered(second, site, "eskil", "/sheets/cast-joint-11")
    other.get_by_role("button", name="Checked against the leaflet").click()
    expect(other.get_by_text("● checked, revision 1")).to_be_visible()
    wide = other.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
    assert wide <= 0
    second.close()


def test_a_sheet_begins_from_a_usual_kit_or_an_example_and_is_the_sites_own_draft(sign_in, page: Page):
    for begun, rows, doubted in (
        ("end seal by pinched tubes", 9, "is missing"),
        ("End seal P1, pinched tubes", 9, "Parts, rows and windows agree."),
    ):
        sign_in(page, "runa", "/sheets")
        page.get_by_role("textbox", name="Name on the box").fill(f"Own {rows} {begun}")
        page.get_by_role("combobox", name="What it makes").select_option(label=begun)
        page.get_by_role("button", name="Type the leaflet").click()
        expect(page.get_by_role("heading", name=f"Own {rows} {begun}")).to_be_visible()
        expect(page.get_by_text("○ draft, revision 1")).to_be_visible()
        expect(page.get_by_role("region", name="Rows").get_by_role("listitem")).to_have_count(rows)
        expect(page.get_by_role("complementary", name="As drawn and checked")).to_contain_text(doubted)
