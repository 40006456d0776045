"""Every page on a phone and at 200 % zoom, with long names, 200 joints, inches, open dialogs, in every theme:
nothing wider than the screen, no words cut off, nothing too small to touch or too faint; a bar of one row."""

import sqlite3
from contextlib import closing

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.e2e.test_at_the_joint import entered
from tests.e2e.test_contrast import CONTRAST, SHOW

pytestmark = pytest.mark.e2e

PLACES = ("/", "/fit", "/stock", "/sheets", "/sheets/trace-end-p1", "/sheets/cast-armoured-r22", "/tools")
PLACES += ("/register", "/rules", "/people")
STATIONS = ("card", "measure", "choose", "cut", "park", "build", "prove", "sign")
JOINTS = ("SK-113", "SK-119", "SK-120")  # armoured and staggered, zone cable, a damaged jacket
ROUTES = (*PLACES, *(f"/joints/{j}/{s}" for j in JOINTS for s in STATIONS))
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


@pytest.mark.parametrize(("width", "height"), [(390, 844), (640, 400)], ids=["phone", "200 %"])
def test_nothing_is_too_wide_cut_off_too_small_or_too_faint(browser, site, width: int, height: int):
    crowded(site)
    context = browser.new_context(
        viewport={"width": width, "height": height}, service_workers="block", has_touch=True
    )
    page: Page = entered(context, site, "ylva", "/")
    more_joints(page, site)
    page.evaluate("() => localStorage.setItem('unit', 'inch')")
    faults = []
    for n, path in enumerate(ROUTES):
        page.goto(site.address + path)
        page.wait_for_load_state("networkidle")
        expect(page.get_by_role("main").first).to_be_visible()
        faults += faults_of(page, path)
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
