"""A new installation: first admin, stock, joint, and on to the signed record by a second person."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.pages.joint import JointPage

pytestmark = pytest.mark.e2e
COLUMNS = (
    "kind,id,name,expanded_id_mm,recovered_id_mm,recovered_wall_mm,longitudinal_change_pct,lined,"
    "od_mm,length_mm,insertion_mm,growth_mm,area_least_mm2,area_most_mm2,lot,quantity"
)
LIST = f"""{COLUMNS}
sleeve,core-9.5,Thin 9.5,9.5,4.6,0.9,-6,no,,,,,,,L1,6000
sleeve,outer-22,Dual 22,22,7,2.4,-8,yes,,,,,,,L2,6000
sleeve,outer-28,Dual 28,28,9,2.6,-8,yes,,,,,,,L3,6400
connector,b6,Barrel 6,,,,,,7.6,38,18,1,4,6,L4,12
"""


def test_from_first_start_to_signed_record(empty_site, page: Page, browser: Browser):
    page.goto(empty_site.address)
    page.get_by_label("Your name").fill("Ylva Storm")
    page.get_by_label("Sign-in name").fill("ylva")
    page.get_by_label("Password").fill("a-long-password")
    page.get_by_role("button", name="Make the account").click()
    expect(page.get_by_role("heading", name="The bench is empty")).to_be_visible()

    page.get_by_role("link", name="Fill the stock").click()
    page.get_by_role("button", name="Import a list", exact=True).click()
    paste = page.get_by_label("Or paste the list here")
    paste.fill(LIST.replace("28,9,2.6", "28,nine,2.6"))
    page.get_by_role("button", name="Check it").click()
    expect(page.get_by_text("Line 4")).to_be_visible()
    expect(page.get_by_text("must be a number, not 'nine'")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Take all"))).to_have_count(0)
    paste.fill(LIST)
    page.get_by_role("button", name="Check it").click()
    page.get_by_role("button", name="Take all 4 changes").click()
    expect(page.get_by_text("Taken: 4 changes.")).to_be_visible()

    page.goto(empty_site.address)
    page.get_by_role("button", name="New joint").click()
    page.get_by_label("What it is").fill("Pump feeder")
    page.get_by_role("button", name="Make it").click()
    joint = JointPage(page)
    joint.fill_card("Pit 4", "400", "buried")
    joint.station("Measure")
    joint.measure(4, "15.4", "5,3", "6", free="600")
    joint.station("Choose")
    expect(page.get_by_text("28 → 9, cut 238 mm")).to_be_visible()
    expect(page.get_by_text("0.22 mm short to pass")).to_be_visible()
    page.get_by_role("tab", name="sleeves on cores").click()
    expect(page.get_by_text("9.5 → 4.6, cut 67 mm")).to_be_visible()
    empty_site.set_rule(page, "surface.flash_min", 0, username="ylva", password="a-long-password")
    page.get_by_role("button", name="Plan it like this").click()
    expect(page.get_by_role("heading", name="Cut", exact=True)).to_be_visible()

    joint.station("Build")
    touches = joint.work("Everything is threaded on")
    joint.station("Park")
    expect(page.get_by_role("heading", name="Everything is threaded on")).to_be_visible()
    page.get_by_role("checkbox").last.click()
    expect(page.get_by_role("heading", name="1 of 5 parts not threaded yet")).to_be_visible()
    expect(page.get_by_text("Joining stays locked. Missing: sleeve on core 4")).to_be_visible()
    expect(page.get_by_role("button", name="Sign: everything is threaded on")).to_be_disabled()
    page.get_by_role("checkbox").first.click()  # what lies behind all others was not on: neither are they
    expect(page.get_by_role("heading", name="5 of 5 parts not threaded yet")).to_be_visible()
    expect(page.get_by_role("checkbox").last).to_be_disabled()
    page.get_by_role("checkbox").first.click()
    expect(
        page.get_by_text("first: Cut core 1 on B").first
    ).to_be_visible()  # cut by it, so cut again after it
    joint.station("Build")
    joint.work("Everything is threaded on")  # touches that a mistake costs are not counted
    joint.station("Park")
    expect(page.get_by_role("heading", name="Everything is threaded on")).to_be_visible()
    page.get_by_role("button", name="Sign: everything is threaded on").click()
    joint.station("Build")
    touches += joint.work("Release the joint")
    assert touches + 1 <= 25  # the signature under Park is one more
    joint.station("Sign")
    expect(page.get_by_text("a second person reads the record")).to_be_visible()

    add_verifier(page, empty_site.address)
    other = browser.new_context(service_workers="block").new_page()
    other.goto(f"{empty_site.address}/joints/{joint.ref if 'joints' in page.url else 'J-101'}/sign")
    other.get_by_label("Sign-in name").fill("eskil")
    other.get_by_label("Password").fill("first-password")
    other.get_by_role("button", name="Sign in").click()
    other.get_by_label("Password you were given").fill("first-password")
    other.get_by_label("New password").fill("second-password")
    other.get_by_role("button", name="Change the password").click()
    other.get_by_role("button", name=re.compile("I have read the record")).click()
    expect(other.get_by_role("heading", name="Released")).to_be_visible()
    expect(other.get_by_text("signed at release")).to_be_visible()
    answer = other.request.get(f"{empty_site.address}/api/v1/joints/J-101/record.pdf")
    assert answer.body().startswith(b"%PDF")


def add_verifier(page: Page, address: str) -> None:
    page.goto(f"{address}/people")
    page.get_by_label("Name", exact=True).fill("Eskil Moe")
    page.get_by_label("Sign-in name").fill("eskil")
    page.get_by_label("First password").fill("first-password")
    page.get_by_label("Role", exact=True).select_option("verifier")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("combobox", name="Role of Eskil Moe")).to_be_visible()
