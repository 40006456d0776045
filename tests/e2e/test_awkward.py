"""The awkward cases: other units, nothing fits, both tabs open, no connection, a killed server, keys only."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import sent

pytestmark = pytest.mark.e2e


def test_fit_check_in_mm_and_inch(sign_in, page: Page):
    sign_in(page, "runa", "/fit")
    page.get_by_label("Must pass").fill("21.159")
    page.get_by_label("Must grip").fill("15,4")
    expect(page.get_by_text("must open past 22.3")).to_be_visible()
    expect(page.get_by_text("0.22 mm short to pass")).to_be_visible()
    page.get_by_role("button", name="inch").click()
    expect(page.get_by_label("Must grip")).to_have_value("0.6063")
    page.get_by_label("Must pass").fill("7/8")
    expect(page.get_by_text("must open past 0.92")).to_be_visible()
    page.get_by_label("Must pass").fill("20 mm")
    expect(page.get_by_text("must open past 0.83")).to_be_visible()
    page.get_by_label("Must pass").fill("abc")
    expect(page.get_by_text("Write it like 0.21 or 7/32")).to_be_visible()


def test_nothing_fits_then_a_remedy(sign_in, page: Page, site):
    sign_in(page, "runa", "/stock")
    for part in ("S-28", "S-33", "S-40", "S-55", "S-75", "L-35", "L-52", "Z-27", "Z-40"):
        page.get_by_role("button", name=re.compile(rf"\b{part}\b")).click()
        page.get_by_role("button", name="Retire", exact=True).click()
        expect(page.get_by_role("button", name=re.compile(rf"\b{part}\b"))).to_have_count(0)
    page.goto(f"{site.address}/joints/SK-112/measure")
    joint = JointPage(page)
    page.get_by_role("button", name="End B reads the same").click()
    joint.end("B").get_by_label("Free tail").fill("600")
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_text("Nothing in stock fits")).to_be_visible()
    expect(page.get_by_text("Look for an adhesive-lined sleeve that opens past").first).to_be_visible()
    expect(page.get_by_text(re.compile("mm short to pass")).first).to_be_visible()
    way = page.get_by_role("listitem").filter(has_text="Stagger the connectors in 2 steps")
    way.get_by_role("button", name="Use this way").click()
    expect(page.get_by_role("button", name="Plan it like this")).to_be_visible()


def test_a_doubtful_reading_is_asked_about_and_kept(sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-112/measure")
    field = page.get_by_label("Insulation of every core").first
    field.fill("53")
    expect(page.get_by_text("Core 1 reads 53 mm, far too thick for 6 mm². 5.3 mm?")).to_be_visible()
    expect(field).to_have_value("53")
    page.get_by_role("button", name="It is 5.3 mm").click()
    expect(field).to_have_value("5.3")
    expect(page.get_by_text("far too thick")).to_have_count(0)


def test_two_tabs_editing(sign_in, page: Page, site):
    sign_in(page, "runa", "/joints/SK-112/card")
    other = page.context.new_page()
    other.goto(f"{site.address}/joints/SK-112/card")
    expect(other.get_by_role("textbox", name="Why", exact=True)).to_be_visible()
    page.get_by_role("textbox", name="Why", exact=True).fill("from the first tab")
    JointPage(page).saved()
    other.get_by_role("textbox", name="Where", exact=True).fill("from the second tab")
    expect(other.get_by_text("Changed elsewhere in the meantime.")).to_be_visible()
    expect(other.get_by_role("textbox", name="Where", exact=True)).to_have_value("from the second tab")
    other.reload()  # still there, and still asked about before it overwrites anything
    expect(other.get_by_text("Changed elsewhere in the meantime.")).to_be_visible()
    expect(other.get_by_role("textbox", name="Where", exact=True)).to_have_value("from the second tab")
    other.get_by_role("button", name="Take theirs").click()
    expect(other.get_by_role("textbox", name="Why", exact=True)).to_have_value("from the first tab")


def test_steps_go_on_without_a_connection_and_are_sent_once(sign_in, page: Page, site):
    sign_in(page, "runa", "/joints/SK-107/build")
    expect(page.get_by_role("heading", name="Isolate and prove dead")).to_be_visible()
    page.context.set_offline(True)
    joint = JointPage(page)
    joint.work("Strip the cores on A")
    expect(page.get_by_text(re.compile(r"\d+ not sent yet"))).to_be_visible()
    page.context.set_offline(False)
    sent(page)
    work = page.request.get(f"{site.address}/api/v1/joints/SK-107/work").json()
    steps = [e["step"] for e in work["events"]]
    assert len(steps) == len(set(steps)) == 11
    assert work["progress"]["flags"] == []


def test_server_killed_in_the_middle_of_a_build(sign_in, page: Page, site):
    sign_in(page, "runa", "/joints/SK-104/build")
    expect(page.get_by_role("heading", name="Crimp the cores")).to_be_visible()
    site.kill()
    page.get_by_role("button", name="Crimped: both").click()
    expect(page.get_by_text("2 not sent yet")).to_be_visible()
    expect(page.get_by_role("heading", name="Look at every connector")).to_be_visible()
    site.restart()
    sent(page)
    page.reload()
    expect(page.get_by_role("heading", name="Look at every connector")).to_be_visible()
    assert page.request.get(f"{site.address}/api/v1/joints/SK-104/verdict").json()["intact"]


def test_a_fault_stops_the_joint_and_the_joint_is_cut_out(sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-104/build")
    page.get_by_role("button", name="Something is wrong").click()
    barrel = page.get_by_role("listitem").filter(has_text="Barrel cracked")
    expect(barrel).to_be_hidden()  # first, which of the batch it is
    page.get_by_role("group", name="Which one is it?").get_by_role("button").last.click()
    page.get_by_role("listitem").filter(has_text="Barrel cracked").get_by_role(
        "button", name="This is it"
    ).click()
    stopped = page.get_by_role("region", name="Stopped: Barrel cracked or flattened")
    expect(stopped.get_by_text("of cable lost on A")).to_be_visible()
    expect(stopped.get_by_text("again: 2 × ")).to_be_visible()
    stopped.get_by_role("button", name="Do this").click()
    expect(page.get_by_role("heading", name="Take both sheaths off")).to_be_visible()
    expect(page.get_by_text("attempt 2")).to_be_visible()


def test_keys_alone(sign_in, page: Page):
    sign_in(page, "runa")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Shortcuts")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Shortcuts")).to_be_hidden()
    page.keyboard.press("u")
    expect(page.get_by_role("button", name="inch")).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("u")
    page.locator("[data-knot]").first.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Stations")).to_be_visible()
    page.keyboard.press("4")
    expect(page.get_by_role("heading", name=re.compile("^(Cut|No length to cut)$"))).to_be_visible()
    page.keyboard.press("3")
    slider = page.get_by_role("slider")
    slider.focus()
    before = slider.get_attribute("aria-valuenow")
    page.keyboard.press("ArrowRight")
    expect(slider).not_to_have_attribute("aria-valuenow", before or "")


def test_viewer_sees_but_cannot_work(sign_in, page: Page):
    sign_in(page, "odd", "/joints/SK-104/build")
    expect(page.get_by_role("heading", name="Crimp the cores")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Crimped"))).to_have_count(0)


def test_opens_and_goes_on_offline_after_a_reload(browser, site):
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    page = context.new_page()
    page.goto(site.address + "/joints/SK-107/build")
    page.get_by_label("Sign-in name").fill("runa")
    page.get_by_label("Password").fill("skarn-demo-26")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Isolate and prove dead")).to_be_visible()
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    expect(page.get_by_role("heading", name="Isolate and prove dead")).to_be_visible()
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    page.reload()
    expect(page.get_by_role("heading", name="Isolate and prove dead")).to_be_visible()
    site.kill()
    page.get_by_role("button", name="Sign this hold").click()
    expect(page.get_by_role("heading", name="Check the readings")).to_be_visible()
    page.reload()
    expect(page.get_by_role("heading", name="Check the readings")).to_be_visible()
    site.restart()
    page.wait_for_function(
        "async address => (await (await fetch(address)).json()).events.length === 1",
        arg=site.address + "/api/v1/joints/SK-107/work",
        timeout=30_000,
    )
    context.close()
