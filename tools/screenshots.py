"""One current picture of each main view, made from the demo data: `make screenshots`.

`python tools/screenshots.py NAME …` makes only those; `--out FOLDER` puts them elsewhere.
"""

import sys
import tempfile
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))

from browser import LAUNCH, server
from playwright.sync_api import Page, sync_playwright

DESK, PHONE = (1280, 800), (390, 844)
PASSWORD = "skarn-demo-26"


def fit(page: Page) -> None:
    """Two diameters typed."""
    page.get_by_label("Must pass").fill("21.16")
    page.get_by_label("Must grip").fill("15,4")
    page.get_by_role("region", name="Fit ruler").wait_for()


def measured(page: Page) -> None:
    """A reading nobody should trust."""
    field = page.get_by_label("Insulation of every core").first
    field.fill("53")
    page.get_by_text("far too thick").wait_for()


def pointed(page: Page) -> None:
    """The pointer on the ribbon."""
    slider = page.get_by_role("slider")
    slider.wait_for()
    box = slider.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] * 0.46, box["y"] + 110)


def resin(page: Page) -> None:
    """What is poured."""
    page.get_by_role("tab", name="other parts").click()


# name: (address, size, what to do first, theme)
VIEWS = {
    "board": ("/", DESK, None, "tin"),
    "fit-check": ("/fit", DESK, fit, "tin"),
    "stock": ("/stock", PHONE, None, "tin"),
    "card": ("/joints/SK-107/card", PHONE, None, "tin"),
    "measure": ("/joints/SK-112/measure", DESK, measured, "tin"),
    "choose": ("/joints/SK-107/choose", DESK, pointed, "tin"),
    "cut": ("/joints/SK-123/cut", DESK, None, "tin"),
    "park-phone": ("/joints/SK-104/park", PHONE, None, "tin"),
    "build": ("/joints/SK-104/build", DESK, None, "tin"),
    "build-phone": ("/joints/SK-104/build", PHONE, None, "tin"),
    "build-phone-sunlight": ("/joints/SK-110/build", PHONE, None, "tin-sun"),
    "stopped": ("/joints/SK-128/build", DESK, None, "tin"),
    "prove": ("/joints/SK-106/prove", PHONE, None, "tin"),
    "sign": ("/joints/SK-101/sign", PHONE, None, "tin"),
    "choose-kit-night": ("/joints/SK-116/choose", DESK, None, "tin-night"),
    "choose-resin": ("/joints/SK-105/choose", DESK, resin, "tin"),
    "cure-phone": ("/joints/SK-105/build", PHONE, None, "tin"),
    "kit-sheet": ("/sheets/trace-end-p1", DESK, None, "tin"),
    "cut-flat": ("/joints/SK-116/cut", DESK, None, "tin"),
}


def main() -> None:
    """Take the pictures named, or all."""
    arguments = sys.argv[1:]
    out = Path(__file__).parents[1] / "docs" / "screenshots"
    if "--out" in arguments:
        i = arguments.index("--out")
        out = Path(arguments[i + 1])
        del arguments[i : i + 2]
    out.mkdir(parents=True, exist_ok=True)
    with (
        tempfile.TemporaryDirectory() as folder,
        server("demo", Path(folder) / "data") as address,
        sync_playwright() as p,
    ):
        browser = p.chromium.launch(**LAUNCH)
        door = browser.new_page(viewport={"width": DESK[0], "height": DESK[1]})
        door.goto(address)
        door.get_by_label("Sign-in name").fill("runa")
        door.get_by_label("Password").fill(PASSWORD)
        door.get_by_role("button", name="Sign in").click()
        door.get_by_role("button", name="Runa Vik").wait_for()
        state = door.context.storage_state()
        for name in arguments or VIEWS:
            path, (width, height), first, theme = VIEWS[name]
            context = browser.new_context(
                viewport={"width": width, "height": height}, storage_state=state, service_workers="block"
            )
            context.add_init_script(f"localStorage.setItem('theme', '{theme}')")
            page = context.new_page()
            page.goto(address + path)
            page.wait_for_load_state("networkidle")
            page.get_by_text("Fetching").first.wait_for(state="hidden")
            if first:
                first(page)
            page.wait_for_load_state("networkidle")
            page.get_by_text("Fetching").first.wait_for(state="hidden")
            page.screenshot(path=out / f"{name}.png")
            context.close()
        browser.close()


if __name__ == "__main__":
    main()
