"""Power joints in the browser: cast, cured, tapped, armoured; new parts and other ways, by touch."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import nightly
from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import entered, phone, sent, work_of

pytestmark = [pytest.mark.e2e, nightly]


def test_a_cure_is_followed_on_a_phone_and_locks_what_comes_next(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/joints/SK-105/build")
    cure = page.get_by_role("region", name="Cure")
    expect(cure.get_by_text("Test and energise from")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Wait "))).to_be_disabled()
    before = work_of(page, site, "SK-105")["progress"]["cures"][0]
    cure.get_by_role("button", name="resin or air beside it: type it").click()
    pad = page.get_by_role("dialog")
    for key in "19":
        pad.get_by_role("button", name=key, exact=True).click()
    pad.get_by_role("button", name="Take it").click()
    context.set_offline(True)
    cure.get_by_role("button", name="Note this temperature").click()
    expect(cure.get_by_text("1 noted here, not sent yet")).to_be_visible()
    context.set_offline(False)
    sent(page)
    expect(cure.get_by_text("if it stays at 19 °C. Locked until then.")).to_be_visible()
    after = work_of(page, site, "SK-105")["progress"]["cures"][0]
    assert after["full_at"] < before["full_at"]
    assert after["fraction"] > before["fraction"]
    page.goto(site.address + "/joints/SK-105/prove")
    expect(page.get_by_text(re.compile("Still open: Let it cure")).first).to_be_visible()
    context.close()


def test_too_cold_says_so_instead_of_a_time(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/joints/SK-105/build")
    cure = page.get_by_role("region", name="Cure")
    cure.get_by_role("button", name="resin or air beside it: type it").click()
    pad = page.get_by_role("dialog")
    for key in ("7", "Below or above zero"):
        pad.get_by_role("button", name=key, exact=True).click()
    pad.get_by_role("button", name="Take it").click()
    cure.get_by_role("button", name="Note this temperature").click()
    expect(cure.get_by_text("It does not cure at this temperature")).to_be_visible()
    expect(page.get_by_role("button", name="Too cold to cure")).to_be_disabled()
    context.close()


def test_how_it_is_built_is_one_touch_and_what_does_not_fit_has_a_remedy(sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-107/choose")
    joint = JointPage(page)
    page.get_by_label("Closed by").select_option("resin")
    joint.saved()
    page.get_by_role("tab", name=re.compile("other parts")).click()
    resin = page.get_by_role("region", name="Resin")
    expect(resin.get_by_text("to pour after mixing")).to_be_visible()
    expect(page.get_by_text("Split shell 44", exact=True)).to_be_visible()
    resin.get_by_label("Packs when mixed").fill("60")
    joint.saved()
    expect(page.get_by_text(re.compile("a cooler pack")).first).to_be_visible()
    way = page.get_by_role("listitem").filter(has_text="Bring the packs to 20 °C before mixing")
    way.get_by_text("Parts, lengths, what to thread on").click()
    expect(way.get_by_text(re.compile("Cores on A / B: 1: "))).to_be_visible()
    way.get_by_role("button", name="Use this way").click()
    joint.saved()
    expect(resin.get_by_label("Packs when mixed")).to_have_value("20")
    page.get_by_role("button", name=re.compile("^Plan (it like this|again)")).click()
    expect(page.get_by_role("heading", name="Cut", exact=True)).to_be_visible()


def test_staggers_are_compared_and_one_is_taken(sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-107/choose")
    rows = page.get_by_role("region", name="In line or staggered").get_by_role("listitem")
    expect(rows).to_have_count(4)
    expect(rows.filter(has_text="recommended")).to_have_count(1)
    rows.filter(has_text="2 steps").get_by_role("button", name="Take it").click()
    JointPage(page).saved()
    expect(page.get_by_text("Staggered in 2 steps")).to_be_visible()
    expect(rows.filter(has_text="2 steps")).to_contain_text("now")


def test_an_armoured_end_is_measured_and_a_sheet_fills_in_its_figures(sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-107/measure")
    joint = JointPage(page)
    a = joint.end("A")
    a.get_by_role("checkbox", name="armoured").check()
    expect(
        page.get_by_label("Stations").get_by_role("link", name=re.compile("armour is not measured yet"))
    ).to_be_visible()
    a.get_by_role("textbox", name="Bedding of end A").fill("13,2")
    a.get_by_role("textbox", name="Wire or tape").fill("0.9")
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_role("tab", name="inner sleeve")).to_be_visible()
    page.get_by_role("tab", name="other parts").click()
    expect(page.get_by_role("region", name="earth strap", exact=True)).to_contain_text(
        "the least of the rule book"
    )
    joint.station("Card")
    page.get_by_label("Earth fault current").fill("2000")
    page.get_by_label("Figures from a kit sheet").select_option(
        label="Armoured heat-shrink joint H7, 4 to 25 mm², revision 1"
    )
    joint.saved()
    joint.station("Choose")
    page.get_by_role("tab", name="other parts").click()
    expect(page.get_by_role("region", name="earth strap", exact=True)).to_contain_text(
        "2000 A for 0.4 s at k 115"
    )
    page.get_by_role("button", name=re.compile("^Plan again")).click()
    expect(page.get_by_role("img", name="Core lengths on A, to scale")).to_contain_text("bedding 55")
    template = page.get_by_role("link", name="Template A, 1:1")
    assert (
        page.request.get(
            template.get_attribute("href").replace("/api", page.url.split("/joints")[0] + "/api", 1)
        ).body()[:4]
        == b"%PDF"
    )


def test_a_tap_typed_by_a_user_is_planned_and_built(sign_in, page: Page):
    sign_in(page, "runa")
    page.get_by_role("button", name="New joint").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("What it is").fill("Tap for the kiosk")
    dialog.get_by_role("button", name="Make it").click()
    page.get_by_label("Kind of joint").select_option("tap-lv")
    joint = JointPage(page)
    joint.fill_card("Mast 4", "400", "sunlight")
    joint.station("Measure")
    joint.measure(1, "20", "15", "50", free="500")
    b = joint.end("B")
    b.get_by_role("textbox", name="Insulation of core 1").fill("5,8")
    b.get_by_role("combobox", name="Conductor").select_option("6")
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_text("12 → 4, cut 45 mm")).to_be_visible()
    page.get_by_role("button", name="Plan it like this").click()
    page.get_by_role("link", name="Work step by step").click()
    joint.work("Fit the tap connector on core 1")
    JointPage(page).confirm()
    expect(page.get_by_role("heading", name="Fit the tap connector on core 1")).to_have_count(0)
    joint.work("Cap the open end of core 1")


def test_a_resin_is_added_to_the_stock_with_its_data_sheet(sign_in, page: Page):
    sign_in(page, "runa", "/stock")
    page.get_by_role("tab", name=re.compile("^Resins")).click()
    page.get_by_role("button", name="Add a resin").click()
    page.get_by_label("Part id").fill("R-200")
    page.get_by_label("Name", exact=True).fill("Small pack")
    page.get_by_label("A pack holds").fill("200")
    page.get_by_label("Lowest temperature").fill("5")
    page.get_by_label("Pot life").fill("5 = 60, 20 = 20")
    page.get_by_label("Full cure").fill("5 = 900, 20 = 1200")
    page.get_by_role("button", name="Add to the stock").click()
    expect(page.get_by_text("hotter must not be slower")).to_be_visible()
    page.get_by_label("Full cure").fill("5 = 1200, 20 = 300")
    page.get_by_role("button", name="Add to the stock").click()
    expect(page.get_by_role("button", name=re.compile("Small pack"))).to_contain_text(
        "from 5 °C, mixed 2 min"
    )
