"""A ground lead put on a screen on a phone: a second earth at first, a sleeve too hot for its cable, worked
without connection."""

import pytest
from playwright.sync_api import Browser, expect

from tests.conftest import nightly
from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import entered, phone, sent, work_of

pytestmark = [pytest.mark.e2e, nightly]
READINGS = {
    "Sheath, diameter": "6,3",
    "Over the bare screen, diameter": "4,7",
    "Under the screen, diameter": "3,9",
    "What lies under the screen bears for a short time": "110",
    "From the cable's end to the bare screen": "60",
    "Straight, clear sheath behind it": "180",
    "Lead, section": "0,75",
    "Lead, length": "150",
}


def test_a_lead_is_put_on_a_screen_on_a_phone(browser: Browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/")
    site.new_joint(page, "G-1", "Sensor counts wrong")
    site.set_rule(page, "surface.flash_min", 0)
    page.goto(f"{site.address}/joints/G-1/card")
    joint = JointPage(page)
    page.get_by_role("combobox", name="Kind of joint").select_option(label="ground lead on a screen")
    expect(page.get_by_text("may carry voltage")).to_be_visible()
    page.get_by_role("textbox", name="Where").fill("Niche 3")
    page.get_by_role("textbox", name="Rated voltage").fill("24")
    joint.saved()

    page.get_by_role("link", name="On to Measure").click()
    for name, option in (
        ("Where the screen is laid bare", "end"),
        ("Screen made of", "braid"),
        ("The lead is", "wire"),
        ("The lead leaves", "rear"),
        ("The screen is earthed", "far"),
    ):
        page.get_by_role("combobox", name=name, exact=True).select_option(option)
    page.get_by_role("textbox", name="Lead, over its insulation").fill("1,9")
    for name, value in READINGS.items():
        page.get_by_role("textbox", name=name, exact=True).fill(value)
    joint.saved()

    joint.station("Choose")
    expect(page.get_by_text("would be a second earth").first).to_be_visible()
    expect(page.get_by_text("Ask whoever owns the circuit")).to_be_visible()
    joint.station("Measure")
    page.get_by_role("combobox", name="The screen is earthed").select_option("here")
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_text("No solder sleeve in stock fits").first).to_be_visible()  # 110 °C is too little
    joint.station("Measure")
    page.get_by_role("textbox", name="bears for a short time").fill("150")
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_text("9.2 → 2.9, as it comes")).to_be_visible()
    expect(page.get_by_role("figure", name="over 10 mm bare screen")).to_be_visible()
    page.get_by_role("button", name="Plan it like this").click()
    page.get_by_role("link", name="Work step by step").click()

    joint.work("Lay the screen bare")
    sent(page)
    context.set_offline(True)
    joint.work("Solder and shrink the solder sleeve")
    context.set_offline(False)
    sent(page)
    joint.work("Release it")
    sent(page)
    found = work_of(page, site, "G-1")["progress"]
    assert found["flags"] == []
    assert found["state"] == "to release"
    context.close()
