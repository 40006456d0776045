"""Every page on a phone and at 200 % zoom: nothing wider than the screen or too small to touch, a bar of one
row."""

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.test_at_the_joint import entered

pytestmark = pytest.mark.e2e

PLACES = ("/", "/fit", "/stock", "/sheets", "/sheets/trace-end-p1", "/sheets/cast-armoured-r22", "/tools")
PLACES += ("/register", "/rules", "/people")
STATIONS = ("card", "measure", "choose", "cut", "park", "build", "prove", "sign")
JOINTS = ("SK-113", "SK-119", "SK-120")  # armoured and staggered, zone cable, a damaged jacket

WIDE = """() => {
  const most = document.documentElement.clientWidth
  const slides = (e) => {
    for (let a = e.parentElement; a; a = a.parentElement)
      if (['auto', 'scroll'].includes(getComputedStyle(a).overflowX)) return true
    return false
  }
  const found = [...document.querySelectorAll('header *, main *')].filter((e) => {
    const r = e.getBoundingClientRect()
    return r.width && !e.closest('svg') && !slides(e) && (r.right > most + 1 || r.left < -1)
  })
  if (document.documentElement.scrollWidth > most) found.push(document.body)
  return found.slice(0, 3).map((e) => `${e.tagName} ${e.className} ${e.textContent.slice(0, 30)}`)
}"""
SMALL = """() => [...document.querySelectorAll('main button, main select, main .input, main summary')]
  .filter((e) => !e.closest('dialog:not([open])'))
  .filter((e) => { const r = e.getBoundingClientRect(); return r.height && r.height < 43.5 })
  .slice(0, 3)
  .map((e) => `${e.tagName} ${e.textContent.trim().slice(0, 30)} ${e.getBoundingClientRect().height}`)"""


@pytest.mark.parametrize(("width", "height"), [(390, 844), (640, 400)], ids=["phone", "200 %"])
def test_nothing_is_wider_than_the_screen_or_too_small_to_touch(browser, site, width: int, height: int):
    context = browser.new_context(
        viewport={"width": width, "height": height}, service_workers="block", has_touch=True
    )
    page: Page = entered(context, site, "ylva", "/")
    faults = []
    for path in (*PLACES, *(f"/joints/{j}/{s}" for j in JOINTS for s in STATIONS)):
        page.goto(site.address + path)
        page.wait_for_load_state("networkidle")
        expect(page.get_by_role("main").first).to_be_visible()
        faults += [(path, "wide", x) for x in page.evaluate(WIDE)]
        faults += [(path, "small", x) for x in page.evaluate(SMALL)]
        bar = page.get_by_role("banner").bounding_box()
        assert bar is not None
        if not path.startswith("/joints") and bar["height"] > 70:
            faults.append((path, "bar", bar["height"]))
    context.close()
    assert faults == []


def test_the_first_screen_has_new_joint_and_what_waits_and_the_menu_leads_everywhere(browser, site):
    context = browser.new_context(viewport={"width": 390, "height": 844}, service_workers="block")
    page = entered(context, site, "runa", "/")
    first = page.get_by_role("complementary").get_by_role("link").first
    for seen in (page.get_by_role("button", name="New joint"), first):
        expect(seen).to_be_in_viewport()
    first.click()
    expect(page.get_by_role("navigation", name="Stations")).to_be_visible()
    page.get_by_role("button", name="Menu").click()
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Stock").click()
    expect(page.get_by_role("heading", name="Stock")).to_be_visible()
    context.close()
