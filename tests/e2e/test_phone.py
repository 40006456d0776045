"""Every page on a phone and at 200 % zoom, with long names, 200 joints, inches, open dialogs, in every theme:
nothing wider than the screen, no words cut off, nothing too small to touch or too faint; a bar of one row."""

import re
import sqlite3
from contextlib import closing

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.conftest import FULL, nightly
from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import entered
from tests.e2e.test_contrast import CONTRAST, SHOW

pytestmark = pytest.mark.e2e

PLACES = ("/", "/fit", "/stock", "/sheets", "/sheets/trace-end-p1", "/sheets/cast-armoured-r22", "/tools")
PLACES += ("/register", "/rules", "/people")
STATIONS = ("card", "measure", "choose", "cut", "park", "build", "prove", "sign")
JOINTS = ("SK-113", "SK-119", "SK-120")  # armoured and staggered, zone cable, a damaged jacket
ROUTES = (*PLACES, *(f"/joints/{j}/{s}" for j in JOINTS for s in STATIONS))
PHONE = (390, 844)
THEMES = ("tin", "tin-night", "tin-sun")
LONG = "Feeder to the lower station’s snow-melting and lamp distribution, upper cutting, north side"
DIALOGS = (("/", "New joint"), ("/joints/SK-104/build", "Something is wrong"), ("/", "Menu"))

WIDE = """() => {
  const most = document.documentElement.clientWidth
  const slides = (e) => {
    for (let a = e.parentElement; a; a = a.parentElement)
      if (['auto', 'scroll'].includes(getComputedStyle(a).overflowX)) return true
    return false
  }
  const found = [...document.querySelectorAll('header *, main *, dialog[open] *')].filter((e) => {
    const r = e.getBoundingClientRect()
    return r.width && !e.closest('svg') && !slides(e) && (r.right > most + 1 || r.left < -1)
  })
  if (document.documentElement.scrollWidth > most) found.push(document.body)
  return found.slice(0, 3).map((e) => `${e.tagName} ${e.className} ${e.textContent.slice(0, 30)}`)
}"""
SMALL = """() => {
  const inWords = (a) => getComputedStyle(a).display === 'inline' &&
    [...a.parentElement.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())
  const touched = 'main button, main select, main .input, main summary, main a, aside a'
  return [...document.querySelectorAll(touched)]
    .filter((e) => !e.closest('dialog:not([open])') && !(e.tagName === 'A' && inWords(e)))
    .filter((e) => { const r = e.getBoundingClientRect(); return r.height && r.height < 43.5 })
    .slice(0, 3)
    .map((e) => `${e.tagName} ${e.textContent.trim().slice(0, 30)} ${e.getBoundingClientRect().height}`)
}"""
CUT_OFF = """() => {
  const seen = (e) => e.getClientRects().length && getComputedStyle(e).visibility !== 'hidden'
  const found = []
  for (const e of document.querySelectorAll('header *, main *, aside *')) {
    if (e.closest('svg, dialog:not([open]), .sr-only') || !seen(e)) continue
    if (![...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim())) continue
    const style = getComputedStyle(e)
    if (e.clientWidth <= 1) continue // said to the ear only
    const clips = ['hidden', 'clip'].includes(style.overflowX) && style.textOverflow !== 'ellipsis'
    if (clips && e.scrollWidth > e.clientWidth + 1) found.push(e)
  }
  for (const t of document.querySelectorAll('main svg text, header svg text')) {
    const svg = t.ownerSVGElement
    if (!seen(svg) || getComputedStyle(svg).overflowX === 'visible' || !t.textContent.trim()) continue
    const a = t.getBoundingClientRect(), b = svg.getBoundingClientRect()
    if (a.width && (a.left < b.left - 1.5 || a.right > b.right + 1.5)) found.push(t)
  }
  return found.slice(0, 3).map((e) => `${e.tagName} ${e.textContent.trim().slice(0, 40)}`)
}"""


def crowded(site) -> None:
    """200 joints more, and long names wherever somebody types one."""
    with closing(sqlite3.connect(site.data / "tinknot.db", timeout=10)) as database:
        database.execute("UPDATE joint SET title = ? WHERE ref IN ('SK-113', 'SK-119', 'SK-120')", (LONG,))
        database.execute("UPDATE line SET name = ? WHERE id = (SELECT min(id) FROM line)", (LONG,))
        database.commit()


def more_joints(page: Page, site, many: int = 200) -> None:
    """As somebody would make them."""
    session = page.request.get(f"{site.address}/api/v1/session").json()
    lines = page.request.get(f"{site.address}/api/v1/lines").json()["items"]
    for n in range(many):
        body = {"title": f"{LONG} {n}", "line_id": lines[n % len(lines)]["id"], "at_m": n % 40}
        made = page.request.post(
            f"{site.address}/api/v1/joints",
            data=body,
            headers={"X-CSRF-Token": session["csrf"], "Idempotency-Key": f"crowd-{n:08d}"},
        )
        assert made.ok, made.text()


def faults_of(page: Page, path: str) -> list[tuple]:
    """What is wrong with the page as it is now."""
    return [
        (path, kind, x)
        for kind, look in (("wide", WIDE), ("small", SMALL), ("cut off", CUT_OFF))
        for x in page.evaluate(look)
    ]


@pytest.mark.parametrize(
    ("width", "height"), [PHONE, pytest.param(640, 400, marks=nightly)], ids=["phone", "200 %"]
)
def test_nothing_is_too_wide_cut_off_too_small_or_too_faint(browser, site, width: int, height: int):
    crowded(site)
    context = browser.new_context(
        viewport={"width": width, "height": height}, service_workers="block", has_touch=True
    )
    page: Page = entered(context, site, "ylva", "/")
    more_joints(page, site)
    page.evaluate("() => localStorage.setItem('unit', 'inch')")
    faults = []
    for n, path in enumerate(ROUTES if FULL else ROUTES[::6]):
        page.goto(site.address + path)
        page.wait_for_load_state("networkidle")
        expect(page.get_by_role("main").first).to_be_visible()
        faults += faults_of(page, path)
        if width == PHONE[0]:  # colours are the same at every width
            theme = THEMES[n % len(THEMES)]
            page.evaluate(SHOW, theme)
            faint = Axe().run(page, options=CONTRAST)
            if faint.violations_count:
                faults.append((path, theme, faint.generate_report()[:400]))
        bar = page.get_by_role("banner").bounding_box()
        assert bar is not None
        if not path.startswith("/joints") and bar["height"] > 70:
            faults.append((path, "bar", bar["height"]))
    for path, name in DIALOGS:
        page.goto(site.address + path)
        page.wait_for_load_state("networkidle")
        button = page.get_by_role("button", name=name, exact=True)
        if not button.is_visible():
            continue  # the menu's button is there only where the bar has no room for its places
        button.click()
        expect(page.get_by_role("dialog")).to_be_visible()
        faults += faults_of(page, f"{path}, {name}")
    context.close()
    assert faults == [], "\n".join(str(f)[:300] for f in faults)


def test_the_first_screen_has_new_joint_and_what_waits_and_the_menu_leads_everywhere(browser, site):
    context = browser.new_context(viewport={"width": 390, "height": 844}, service_workers="block")
    page = entered(context, site, "runa", "/")
    more_joints(page, site)
    page.reload()
    first = page.get_by_role("complementary").get_by_role("link").first
    for seen in (page.get_by_role("button", name="New joint"), first):
        expect(seen).to_be_in_viewport()
    first.click()
    expect(page.get_by_role("navigation", name="Stations")).to_be_visible()
    page.get_by_role("button", name="Menu").click()
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Stock").click()
    expect(page.get_by_role("heading", name="Stock")).to_be_visible()
    context.close()


def hands(context, page: Page):
    """Fingers on the screen: where they are, in px; none lets go."""
    screen = context.new_cdp_session(page)

    def at(*places: tuple[float, float], kind: str = "touchMove") -> None:
        points = [{"x": x, "y": y, "id": n} for n, (x, y) in enumerate(places)]
        screen.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})

    return at


def test_the_ribbon_is_stretched_by_two_fingers_and_slid_by_one(browser, site):
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, service_workers="block", has_touch=True
    )
    page = entered(context, site, "runa", "/joints/SK-113/choose")
    ribbon = page.get_by_role("slider", name="Place along the joint")
    box = ribbon.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    whole = page.get_by_role("button", name="Whole joint")
    at = hands(context, page)
    expect(whole).to_have_count(0)
    before = ribbon.screenshot()
    at((x - 20, y), (x + 20, y), kind="touchStart")
    at((x - 50, y), (x + 50, y))
    at((x - 80, y), (x + 80, y))
    at(kind="touchEnd")
    expect(whole).to_be_visible()
    stretched = ribbon.screenshot()
    assert stretched != before
    at((x, y), kind="touchStart")
    at((x - 40, y))
    at((x - 90, y))
    at(kind="touchEnd")
    assert ribbon.screenshot() != stretched
    now = ribbon.get_attribute("aria-valuenow")
    ribbon.tap(position={"x": 20, "y": 110})  # a touch that stays says where
    expect(ribbon).not_to_have_attribute("aria-valuenow", now or "")
    whole.tap()
    expect(whole).to_have_count(0)
    ribbon.focus()
    page.keyboard.press("+")
    expect(whole).to_be_visible()
    context.close()


@nightly
def test_a_joint_typed_on_the_phone_is_planned_built_and_signed_by_touch(browser, site):
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, service_workers="block", has_touch=True
    )
    page = entered(context, site, "runa", "/")
    site.set_rule(page, "surface.flash_min", 0)
    page.get_by_role("button", name="New joint").tap()
    page.get_by_label("What it is").fill("Lamp feed at the platform")
    page.get_by_role("button", name="Make it").tap()
    joint = JointPage(page, touch=True)
    joint.fill_card("Platform, north end", "230", "buried")
    ref = joint.ref
    joint.station("Measure")
    joint.measure(1, "10,4", "5,3", "6", free="600")
    page.get_by_role("link", name="On to Choose").tap()
    page.get_by_role("button", name="Plan it like this").tap()
    expect(page.get_by_role("heading", name="Cut", exact=True)).to_be_visible()
    joint.station("Build")
    joint.work("Release the joint")
    joint.station("Sign")
    expect(page.get_by_text("a second person reads the record")).to_be_visible()
    context.close()
    desk = browser.new_context(service_workers="block")
    other = entered(desk, site, "eskil", f"/joints/{ref}/sign")
    other.get_by_role("button", name=re.compile("I have read the record")).click()
    expect(other.get_by_role("heading", name="Released", exact=True)).to_be_visible()
    desk.close()
