"""A damaged jacket repaired on a phone: graded too deep at first, planned, worked without connection."""

import re

import pytest
from playwright.sync_api import Browser, expect

from tests.conftest import nightly
from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import entered, phone, sent, work_of

pytestmark = [pytest.mark.e2e, nightly]


def test_a_cut_jacket_is_repaired_on_a_phone(browser: Browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/")
    site.new_joint(page, "R-1", "Chafed at the gate")
    site.set_rule(page, "surface.flash_min", 0)
    page.goto(f"{site.address}/joints/R-1/card")
    joint = JointPage(page)
    page.get_by_role("combobox", name="Kind of joint").select_option(
        label="jacket repair: sheath damaged, cores whole"
    )
    expect(page.get_by_text("often the smaller harm")).to_be_visible()
    expect(page.get_by_label("Side A comes from")).to_have_count(0)
    page.get_by_role("textbox", name="Where").fill("Walkway gate")
    page.get_by_role("textbox", name="Rated voltage").fill("400")
    page.get_by_text("damp", exact=True).click()
    joint.saved()

    page.get_by_role("link", name="On to Measure").click()
    expect(page.get_by_role("heading", name="The damage")).to_be_visible()
    expect(page.get_by_text("how deep it goes is not entered yet")).to_be_visible()
    page.get_by_role("combobox", name="How deep it goes").select_option(
        label="a core or screen is seen or hurt"
    )
    expect(page.get_by_role("textbox", name="Jacket, thickness")).to_have_count(0)
    page.get_by_role("textbox", name="Damaged length along the cable").fill("50")
    page.get_by_role("textbox", name="Jacket, diameter", exact=True).fill("245")  # the comma was forgotten
    page.get_by_role("combobox", name="Jacket made of").select_option("pvc")
    page.get_by_role("textbox", name="Straight, clear cable").fill("30")
    joint.saved()
    expect(page.get_by_text("245 mm, unlikely much")).to_be_visible()
    page.get_by_role("textbox", name="Jacket, diameter", exact=True).fill("24,5")
    joint.saved()

    joint.station("Choose")
    expect(page.get_by_text("A core or screen is seen or hurt").first).to_be_visible()
    expect(page.get_by_text("Make a straight joint of it")).to_be_visible()
    expect(page.get_by_role("button", name="Plan it like this")).to_have_count(0)
    joint.station("Measure")
    page.get_by_role("combobox", name="How deep it goes").select_option("cut")
    page.get_by_role("textbox", name="Jacket, thickness").fill("1,8")
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_text("undo the next fixing").first).to_be_visible()
    joint.station("Measure")
    page.get_by_role("textbox", name="Straight, clear cable").fill("180")
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_text("60 → 12, cut ")).to_be_visible()
    page.get_by_role("button", name="Plan it like this").click()
    expect(page.get_by_role("heading", name="No length to cut")).to_be_visible()
    page.get_by_role("link", name="Work step by step").click()

    joint.work("Dress the damaged place")
    sent(page)
    context.set_offline(True)
    joint.work("Wind mastic into the hole")
    expect(page.get_by_role("img", name="Section of the joint, to scale").first).to_be_visible()
    context.set_offline(False)
    sent(page)
    joint.work("Release the repair")
    sent(page)
    found = work_of(page, site, "R-1")["progress"]
    assert found["flags"] == []
    assert found["state"] == "to release"
    joint.station("Prove")
    expect(page.get_by_text(re.compile("after sealing")).first).to_be_visible()
    context.close()
