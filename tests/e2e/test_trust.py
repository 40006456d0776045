"""A record that holds, in the real browser: what was changed stops the release, what cannot be read shows
as that, times that cannot be true are asked for again, nothing typed goes away."""

import json
import re
import sqlite3
from contextlib import closing

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import sent

pytestmark = pytest.mark.e2e

YEARS_BACK = """
const real = Date
globalThis.off = 0
class Odd extends real {
  constructor(...a) { if (a.length) super(...a); else super(real.now() - globalThis.off) }
  static now() { return real.now() - globalThis.off }
}
globalThis.Date = Odd
"""


def test_a_reading_changed_on_another_tablet_stops_the_release_until_it_is_put_back(
    sign_in, page: Page, site
):
    sign_in(page, "eskil", "/joints/SK-106/sign")
    release = page.get_by_role("button", name=re.compile("I have read the record"))
    expect(release).to_be_enabled()
    tablet = page.context.browser.new_context(service_workers="block")
    site.sign_in(tablet, "runa")  # whoever changes a reading has measured, and releases nothing
    other = tablet.new_page()
    other.goto(f"{site.address}/joints/SK-106/measure")
    field = other.get_by_role("textbox", name="Sheath of end A", exact=True)
    before = field.input_value()
    field.fill("61,7")
    expect(other.get_by_text("saving …")).to_have_count(0)
    other.wait_for_function("() => !localStorage.getItem('draft:SK-106')")
    release.click()  # this tab does not know yet; the server does
    expect(page.get_by_role("alert")).to_contain_text(
        "It was not taken: SK-106 is not released. Changed since it was planned: End A, sheath OD"
    )
    page.reload()
    told = page.get_by_role("region", name="What stands against the release")
    expect(told).to_contain_text("now 61.7 mm")
    expect(release).to_be_disabled()
    field.fill(before)
    other.wait_for_function("() => !localStorage.getItem('draft:SK-106')")
    expect(other.get_by_text("saving …")).to_have_count(0)
    page.reload()
    expect(told).to_have_count(0)
    release.click()
    expect(page.get_by_role("heading", name="Released", exact=True)).to_be_visible()
    expect(page.get_by_text("signed at release")).to_be_visible()
    expect(page.get_by_text("first scheme")).to_have_count(0)
    tablet.close()


def test_a_joint_of_a_newer_version_is_shown_as_that_and_the_rest_goes_on(sign_in, page: Page, site):
    with closing(sqlite3.connect(site.data / "tinknot.db", timeout=10)) as live:
        newer = json.dumps({"format": 99})
        live.execute(
            "UPDATE planrevision SET plan = ?, created = 'x' WHERE joint_id = (SELECT id FROM joint WHERE ref"
            " = 'SK-108')",
            (newer,),
        )
        live.commit()
    sign_in(page, "runa")
    told = page.get_by_role("region", name="Joints that cannot be read")
    expect(told).to_contain_text("SK-108")
    expect(told).to_contain_text("newer Tin Knot")
    expect(page.get_by_role("link", name=re.compile("SK-108, .*, cannot be read"))).to_be_visible()
    page.get_by_role("link", name=re.compile("SK-108, ")).click()
    page.goto(f"{site.address}/joints/SK-108/build")
    expect(page.get_by_role("alert")).to_contain_text("newer Tin Knot")
    page.goto(f"{site.address}/joints/SK-104/build")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    saved = page.request.get(f"{site.address}/api/v1/joints/SK-108/record.json")
    assert saved.ok  # as it is stored


def test_work_dated_years_back_is_kept_flagged_and_asked_for_again(browser, site):
    """A tablet whose battery was empty: its clock was wrong while it worked, and right again when it sent."""
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True, service_workers="block"
    )
    context.add_init_script(YEARS_BACK)
    page = context.new_page()
    site.sign_in(context, "runa")
    page.goto(f"{site.address}/joints/SK-107/build")
    heading = page.get_by_role("heading", level=1)
    expect(heading).to_have_text("Isolate and prove dead")
    context.set_offline(True)
    page.evaluate("() => { globalThis.off = 5 * 365 * 86400e3 }")
    JointPage(page, touch=True).confirm()
    expect(page.get_by_text("1 not sent yet")).to_be_visible()
    page.evaluate("() => { globalThis.off = 0 }")
    context.set_offline(False)
    sent(page)
    expect(page.get_by_role("region", name="Kept, but not counted")).to_contain_text(
        "before its plan was made"
    )
    expect(heading).to_have_text("Isolate and prove dead")  # asked for again
    JointPage(page, touch=True).confirm()
    expect(heading).not_to_have_text("Isolate and prove dead")
    sent(page)
    found = page.request.get(f"{site.address}/api/v1/joints/SK-107/work").json()
    assert len(found["events"]) == 2
    assert found["progress"]["done"] == 1
    context.close()


def test_what_is_on_hand_without_a_lot_number_is_kept(sign_in, page: Page, site):
    sign_in(page, "runa", "/stock")
    page.get_by_role("button", name="Add a sleeve").click()
    for label, text in (
        ("Part id", "X-33"),
        ("Inside as supplied, at least", "33"),
        ("Inside when free, at most", "8"),
        ("Wall when free", "2,5"),
        ("On hand", "4,8"),
    ):
        page.get_by_label(label, exact=True).fill(text)
    page.get_by_role("button", name="Add to the stock").click()
    expect(page.get_by_role("button", name="Add to the stock")).to_have_count(0)
    page.get_by_label("Find").fill("X-33")
    page.get_by_role("button", name=re.compile("X-33")).first.click()
    expect(page.get_by_text("unmarked", exact=True)).to_be_visible()
    expect(page.get_by_text("4.8 m", exact=True).first).to_be_visible()
    stock = page.request.get(f"{site.address}/api/v1/stock/X-33").json()
    assert stock["on_hand"] == 4800
