"""Dirty hands: a phone with gloves on, no signal, two tablets, a wrong clock, no camera, a second person."""

import re

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.e2e.pages.joint import JointPage
from tinknot.devices.camera import made_up_picture

pytestmark = pytest.mark.e2e
PASSWORD = "skarn-demo-26"
NO_DEVICES = """
Object.defineProperty(navigator, 'vibrate', { value: undefined });
Object.defineProperty(navigator, 'mediaDevices', { value: undefined });
Object.defineProperty(navigator, 'wakeLock', { value: undefined });
"""
ONE_HOUR_FAST = """
const real = Date, off = 3600000
class Fast extends real {
  constructor(...a) { if (a.length) super(...a); else super(real.now() + off) }
  static now() { return real.now() + off }
}
globalThis.Date = Fast
"""


def phone(browser: Browser, workers: str = "block") -> BrowserContext:
    return browser.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True, service_workers=workers
    )


def entered(context: BrowserContext, site, username: str, path: str) -> Page:
    page = context.new_page()
    site.sign_in(context, username)
    page.goto(site.address + path)
    expect(page.get_by_role("link", name="Tin Knot")).to_be_visible()
    return page


def work_of(page: Page, site, ref: str) -> dict:
    return page.request.get(f"{site.address}/api/v1/joints/{ref}/work").json()


# what lies in the outbox of this device; it is there already when the page opens
WAITING = """() => new Promise((done, fail) => {
  const asked = indexedDB.open('tinknot')
  asked.onerror = () => fail(asked.error)
  asked.onsuccess = () => {
    const counted = asked.result.transaction('outbox').objectStore('outbox').count()
    counted.onsuccess = () => { asked.result.close(); done(counted.result === 0) }
  }
})"""


def sent(page: Page) -> None:
    """Everything has reached the server, also what the page has not shown as waiting yet."""
    page.wait_for_function(WAITING, timeout=30_000)
    expect(page.get_by_text("not sent yet")).to_have_count(0)


def reached(page: Page, site, ref: str, step: str) -> None:
    """The server has the event of this step: the sign of what waits may not have shown yet."""
    page.wait_for_function(
        "async ([address, step]) => (await (await fetch(address)).json()).events.some(e => e.step === step)",
        arg=[f"{site.address}/api/v1/joints/{ref}/work", step],
    )
    sent(page)


def test_whole_build_on_a_phone_with_the_network_cut_and_two_reloads(browser, site):
    context = phone(browser, "allow")
    context.add_init_script(NO_DEVICES)
    page = entered(context, site, "runa", "/")
    site.set_rule(page, "surface.flash_min", 0)
    site.built(page, "SK-107", "Take both sheaths off and roughen them")
    page.goto(f"{site.address}/joints/SK-107/build")
    expect(page.get_by_role("heading", name="Take both sheaths off")).to_be_visible()
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    page.reload()
    joint = JointPage(page)
    joint.work("Cut the cores on A")
    sent(page)
    context.set_offline(True)
    joint.work("Strip the cores on A")
    page.reload()
    expect(page.get_by_role("heading", name="Strip the cores on A")).to_be_visible()
    joint.work("Everything is threaded on")
    page.reload()
    expect(page.get_by_role("heading", name="Everything is threaded on")).to_be_visible()
    joint.work("Crimp the cores")
    expect(page.get_by_text(re.compile(r"^\s*\d\d not sent yet"))).to_be_visible()
    context.set_offline(False)
    sent(page)
    found = work_of(page, site, "SK-107")
    assert found["progress"]["flags"] == []
    steps = [e["step"] for e in found["events"]]
    assert len(steps) == len(set(steps))
    assert [e["sequence"] for e in found["events"]] == sorted(e["sequence"] for e in found["events"])
    page.get_by_role("button", name="Something is wrong").tap()
    page.get_by_role("button", name="Nothing is wrong").tap()
    joint.work("Wipe the cores clean")  # what is shrunk from here on waits a minute by the plan's own rule
    sent(page)
    assert work_of(page, site, "SK-107")["progress"]["state"] == "building"
    context.close()


STANDS = """() => {
  window.tops = new Set()
  const look = () => { tops.add(document.querySelector('main').getBoundingClientRect().top + scrollY)
                       requestAnimationFrame(look) }
  look()
}"""


def test_nothing_moves_under_the_hand_while_it_is_sent(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/joints/SK-104/build")
    page.get_by_role("button", name="Crimped: both").wait_for()
    page.evaluate(STANDS)
    page.get_by_role("button", name="Crimped: both").tap()
    expect(page.get_by_role("heading", name="Look at every connector")).to_be_visible()
    sent(page)
    context.set_offline(True)
    page.get_by_role("button", name="Sign this hold").tap()
    expect(page.get_by_text("1 not sent yet")).to_be_visible()
    context.set_offline(False)
    sent(page)
    assert len(page.evaluate("() => [...tops]")) == 1  # else a finger on its way meets another button
    context.close()


def test_pictures_wait_offline_and_arrive_whole(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/joints/SK-104/build")
    page.get_by_role("button", name="Crimped: both").tap()
    expect(page.get_by_role("heading", name="Look at every connector")).to_be_visible()
    reached(page, site, "SK-104", "join.4")
    context.set_offline(True)
    page.locator("input[type=file]").set_input_files(
        {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": made_up_picture("connectors", "test")}
    )
    expect(page.get_by_alt_text("not sent yet")).to_be_visible()
    expect(page.get_by_text("1 not sent yet")).to_be_visible()
    context.set_offline(False)
    sent(page)
    expect(page.get_by_alt_text(re.compile("of this step"))).to_be_visible()
    found = work_of(page, site, "SK-104")
    digest = found["progress"]["photos"]["connectors"][-1]
    assert page.request.get(f"{site.address}/api/v1/photos/{digest}").body()[:3] == b"\xff\xd8\xff"
    assert page.request.get(f"{site.address}/api/v1/joints/SK-104/verdict").json()["intact"]
    context.close()


def test_a_picture_that_is_none_is_told(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/joints/SK-109/build")
    page.get_by_role("button", name="Do this").first.tap()
    page.get_by_role("button", name=re.compile("Shrunk")).tap()
    expect(page.get_by_role("heading", name="Look at the outer sleeve")).to_be_visible()
    page.locator("input[type=file]").set_input_files(
        {"name": "a.jpg", "mimeType": "image/jpeg", "buffer": b"not a picture"}
    )
    kept = page.get_by_role("region", name="Kept, but not counted")
    expect(kept.get_by_text("was not taken: is no JPEG, PNG or WebP picture")).to_be_visible()
    kept.get_by_role("button", name="Seen", exact=True).tap()
    expect(page.get_by_text("was not taken")).to_have_count(0)
    context.close()


def test_two_tablets_on_one_joint(browser, site):
    one, two = phone(browser), phone(browser)
    first = entered(one, site, "runa", "/joints/SK-104/build")
    second = entered(two, site, "eskil", "/joints/SK-104/build")
    expect(second.get_by_role("heading", name="Crimp the cores")).to_be_visible()
    two.set_offline(True)
    first.get_by_role("button", name="Crimped: both").tap()
    expect(first.get_by_role("heading", name="Look at every connector")).to_be_visible()
    sent(first)
    second.get_by_role("button", name="Crimped: both").tap()
    expect(second.get_by_role("heading", name="Look at every connector")).to_be_visible()
    two.set_offline(False)
    sent(second)
    note = second.get_by_role("region", name="Kept, but not counted")
    expect(note.get_by_text("Confirmed already by Runa Vik")).to_have_count(2)
    note.get_by_role("button", name="Seen, leave it").first.tap()
    expect(note.get_by_text("Confirmed already by Runa Vik")).to_have_count(1)
    found = work_of(second, site, "SK-104")
    assert (
        len([e for e in found["events"] if e["step"] == "join.3" and e["kind"] == "done"]) == 2
    )  # nothing is lost
    one.close()
    two.close()


def test_a_tablet_whose_clock_is_an_hour_fast(browser, site):
    context = phone(browser)
    context.add_init_script(ONE_HOUR_FAST)
    page = entered(context, site, "runa", "/joints/SK-109/build")
    page.get_by_role("button", name="Do this").first.tap()
    page.get_by_role("button", name=re.compile("Shrunk")).tap()
    timer = page.get_by_role("listitem").filter(has_text="cooling").get_by_role("timer")
    expect(timer).to_have_text(re.compile(r"^1\d:\d\d$"))  # not over, and not an hour to go
    sent(page)
    found = work_of(page, site, "SK-109")
    last = found["events"][-1]
    assert last["at"] <= found["now"]
    assert last["client_time"] > found["now"]
    context.close()


def test_waiting_counts_down_and_a_reading_ends_it(sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-109/build")
    page.get_by_role("button", name="Do this").first.click()
    page.get_by_role("button", name=re.compile("Shrunk")).click()
    expect(page.get_by_role("button", name=re.compile(r"^Wait 1\d:\d\d"))).to_be_disabled()
    page.get_by_role("checkbox", name="Let it cool").uncheck()  # what is looked at need not wait
    page.get_by_role("button", name="Looked at, good").click()
    expect(page.get_by_role("heading", name="Let it cool", exact=True)).to_be_visible()
    page.reload()
    expect(page.get_by_role("button", name=re.compile(r"^Wait 1\d:\d\d"))).to_be_disabled()
    page.get_by_role("button", name="surface from the simulated thermometer").click()
    expect(page.get_by_text("surface does not pass: at most 40 °C")).to_be_visible()
    JointPage(page).type_reading("surface", "38,5")
    page.get_by_role("button", name="It is cool").click()
    expect(page.get_by_role("heading", name="Continuity, core by core")).to_be_visible()


def test_a_core_cut_too_short_is_planned_again_at_the_joint(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/")
    site.built(page, "SK-107", "Cut the cores on A")
    page.goto(f"{site.address}/joints/SK-107/build")
    joint = JointPage(page, touch=True)
    joint.type_reading("Cut core 1 on A square, as measured", "40")
    expect(page.get_by_role("button", name="A figure is off: say what to do")).to_be_disabled()
    page.get_by_role("button", name="It may stay, because").tap()
    page.get_by_role("button", name="… the verifier has seen it").tap()
    expect(page.get_by_role("button", name="Cut: all 4")).to_be_enabled()
    page.get_by_role("button", name="Change that").tap()
    page.reload()
    expect(page.get_by_text("40 mm for 46 mm")).to_be_visible()  # typed, not confirmed, not lost
    page.get_by_role("button", name="Plan again with it").tap()
    expect(page.get_by_text("Revision 2.")).to_be_visible()
    expect(page.get_by_text(re.compile("Cut sheath on A: .* → "))).to_be_visible()
    expect(page.get_by_role("heading", name=re.compile("further back on end A"))).to_be_visible()
    context.close()


def test_a_verifier_signs_on_the_jointers_tablet_without_signal(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/joints/SK-104/build")
    site.set_rule(page, "holds.second_person", ["connectors", "released"])
    csrf = page.request.get(f"{site.address}/api/v1/session").json()["csrf"]
    version = page.request.get(f"{site.address}/api/v1/joints/SK-104").headers["etag"]
    planned = page.request.post(
        f"{site.address}/api/v1/joints/SK-104/plans", headers={"X-CSRF-Token": csrf, "If-Match": version}
    )
    assert planned.ok, planned.text()
    page.reload()
    page.get_by_role("button", name=re.compile("Crimped")).tap()
    expect(page.get_by_role("heading", name="Look at every connector")).to_be_visible()
    sent(page)
    context.set_offline(True)
    page.get_by_role("button", name="The second person signs").tap()
    pad = page.get_by_role("dialog", name="A second person signs")
    pad.get_by_role("button", name="Eskil Moe").tap()
    for key in "4071":
        pad.get_by_role("button", name=key, exact=True).tap()
    pad.get_by_role("button", name="Sign", exact=True).tap()
    expect(page.get_by_role("heading", name="Wipe the cores clean")).to_be_visible()
    kept = page.evaluate(
        """() => new Promise(done => { const o = indexedDB.open('tinknot'); o.onsuccess = () => {
        const q = o.result.transaction('outbox').objectStore('outbox').getAll()
        q.onsuccess = () => done(JSON.stringify(q.result)) } })"""
    )
    assert "sealed_pin" in kept
    assert "4071" not in kept.replace(re.search(r'"sealed_pin":"([^"]+)"', kept)[1], "")
    context.set_offline(False)
    sent(page)
    event = next(e for e in work_of(page, site, "SK-104")["events"] if e["step"] == "connectors")
    assert (event["actor"], event["facts"]["signed"], event["facts"]["device-of"]) == (
        "Eskil Moe",
        "pin",
        "Runa Vik",
    )
    context.close()


def test_keys_alone_through_a_build(sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-107/build")

    def press_on(name: str | re.Pattern) -> None:
        button = page.get_by_role("button", name=name)
        expect(button).to_be_enabled()
        for _ in range(60):
            page.keyboard.press("Tab")
            if button.evaluate("b => b === document.activeElement"):
                page.keyboard.press("Enter")
                return
        raise AssertionError(f"{name} is not reached by Tab")

    press_on("Sign this hold")
    expect(page.get_by_role("heading", name="Check the readings")).to_be_visible()
    press_on("Sign this hold")
    expect(page.get_by_role("heading", name="Take both sheaths off")).to_be_visible()
    press_on(re.compile("^Take the sheath off end A, as measured"))
    page.keyboard.type("2 1/16in")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name=re.compile("as measured: 52.4 mm"))).to_be_visible()
    press_on("Lock the touches")
    lock = page.get_by_role("dialog", name="Locked")
    page.keyboard.press("Escape")
    expect(lock).to_be_visible()
    page.keyboard.down("Enter")
    expect(lock).to_have_count(0)
    page.keyboard.up("Enter")


@pytest.mark.parametrize("path", ["SK-104", "SK-105", "SK-107", "SK-109"])
def test_targets_are_large_enough_for_gloves(browser, site, path: str):
    context = phone(browser)
    page = entered(context, site, "runa", f"/joints/{path}/build")
    expect(page.locator("main button").first).to_be_visible()
    page.wait_for_load_state("networkidle")
    small = page.evaluate(
        """() => [...document.querySelectorAll('main button, main a, main label')].filter(e => e.offsetParent)
        .map(e => [e.innerText || e.ariaLabel, e.getBoundingClientRect()])
        .filter(([, r]) => r.width < 48 || r.height < 48)
        .map(([n, r]) => `${n}: ${Math.round(r.width)} x ${Math.round(r.height)}`)"""
    )
    assert small == []
    assert page.evaluate("() => document.documentElement.scrollWidth") <= 390
    context.close()


def test_steps_are_read_aloud_until_it_is_switched_off(browser, site):
    context = phone(browser)
    context.add_init_script("speechSynthesis.speak = u => (window.said ??= []).push(u.text)")
    page = entered(context, site, "runa", "/joints/SK-107/build")
    page.get_by_role("button", name="Read aloud").tap()
    page.wait_for_function("() => window.said?.at(-1)?.startsWith('Isolate and prove dead.')")
    page.get_by_role("button", name="Sign this hold").tap()
    page.wait_for_function("() => window.said?.at(-1)?.startsWith('Check the readings')")
    page.reload()
    page.wait_for_function("() => window.said?.length === 1")
    page.get_by_role("button", name="Reads aloud").tap()
    expect(page.get_by_role("button", name="Read aloud")).to_have_attribute("aria-pressed", "false")
    context.close()


WAITING = """
ServiceWorkerContainer.prototype.register = async () => ({
  waiting: { scriptURL: location.origin + '/sw.js', state: 'installed', addEventListener() {},
             postMessage(m) { window.posted = m } },
  installing: null, active: null, addEventListener() {}, update() {},
})
"""


def test_a_new_version_waits_until_the_build_is_left(browser, site):
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    context.add_init_script(WAITING)
    page = entered(context, site, "runa", "/joints/SK-104/build")
    expect(page.get_by_role("heading", level=1).first).to_be_visible()
    expect(page.get_by_text("A new version is here.")).to_have_count(0)
    page.get_by_role("link", name="Tin Knot").click()
    expect(page.get_by_text("A new version is here.")).to_be_visible()
    page.get_by_role("button", name="Change to it").click()
    page.wait_for_function("() => window.posted?.type === 'SKIP_WAITING'")
    context.close()
