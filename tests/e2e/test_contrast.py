"""Every view in every theme, looked at by axe: names, roles, contrast (WCAG 2.2 A and AA)."""

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page

from tests.conftest import FULL

VIEWS = (
    "/",
    "/fit",
    "/joints/SK-107/choose",
    "/joints/SK-104/build",
    "/joints/SK-104/park",
    "/joints/SK-109/build",
    "/joints/SK-106/prove",
    "/joints/SK-103/sign",
    "/tools",
    "/joints/SK-112/measure",
    "/joints/SK-105/choose?layer=shell",
    "/joints/SK-105/build",
    "/joints/SK-113/cut",
    "/joints/SK-102/choose",
    "/joints/SK-110/card",
    "/stock",
    "/sheets",
    "/sheets/trace-set-e4",
    "/joints/SK-116/choose",
    "/joints/SK-119/measure",
    "/joints/SK-119/cut",
)
SHOW = """async theme => {
    document.documentElement.dataset.theme = theme
    await new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))
    const moving = document.getAnimations().filter(a => a instanceof CSSTransition)
    await Promise.allSettled(moving.map(a => a.finished))
}"""
EVERYTHING = {"runOnly": ["wcag2a", "wcag2aa"]}
CONTRAST = {"runOnly": {"type": "rule", "values": ["color-contrast"]}}  # all that a theme can change


@pytest.mark.parametrize("path", VIEWS if FULL else VIEWS[::8])
def test_contrast_and_names(sign_in, page: Page, path: str):
    sign_in(page, "runa", path)
    page.wait_for_load_state("networkidle")
    for theme, looked_for in (("tin", EVERYTHING), ("tin-night", CONTRAST), ("tin-sun", CONTRAST)):
        page.evaluate(SHOW, theme)
        found = Axe().run(page, options=looked_for)
        assert found.violations_count == 0, f"{path}, {theme}: {found.generate_report()}"


NAMES = """() => [...document.querySelectorAll('main input, main select, main textarea')]
  .filter((e) => !e.closest('dialog:not([open])') && e.getClientRects().length)
  .map((e) => e.getAttribute('aria-label') ||
    [...(e.labels || [])].map((l) => l.textContent.trim()).join(' '))"""


MEASURED = ("SK-112", "SK-113", "SK-118", "SK-119", "SK-120", "SK-102")


@pytest.mark.parametrize("ref", MEASURED if FULL else MEASURED[::3])
def test_every_field_is_named_with_its_core_and_end(sign_in, page: Page, ref: str):
    """No two fields of a measuring page sound alike to whoever listens to it."""
    sign_in(page, "runa", f"/joints/{ref}/measure")
    page.wait_for_load_state("networkidle")
    names = page.evaluate(NAMES)
    assert len(names) > 5
    assert all(names)
    assert [n for n in set(names) if names.count(n) > 1] == []
