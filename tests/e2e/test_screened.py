"""A screened cable joined from its make-up line to the signed record: typed wrong at first, a donor braid
that covers too little, two layers of it taken, worked on a phone and without connection in the middle."""

import json
import re

import pytest
from playwright.sync_api import Browser, Page, Route, expect

from tests.conftest import nightly
from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import entered, phone, sent, work_of

pytestmark = [pytest.mark.e2e, nightly]
READINGS = {
    "Core insulation, diameter": "1,9",
    "Under the screen, diameter": "12,6",
    "Over the braid, diameter": "13,3",
    "A strand of the braid": "0,15",
    "Sheath, diameter": "15,4",
    "What lies under the screen bears for a short time": "150",
    "Straight, clear sheath on side A": "900",
    "Straight, clear sheath on side B": "800",
}


def test_from_a_make_up_line_to_a_signed_record(browser: Browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/")
    site.new_joint(page, "S-1", "Intercom")
    site.set_rule(page, "surface.flash_min", 0)
    page.goto(f"{site.address}/joints/S-1/card")
    joint = JointPage(page)
    page.get_by_role("combobox", name="Kind of joint").select_option(
        label="control, signal or screened cable joined"
    )
    page.get_by_role("textbox", name="Where").fill("Mast 9")
    page.get_by_role("textbox", name="Rated voltage").fill("60")
    page.get_by_text("damp", exact=True).click()
    joint.saved()

    page.get_by_role("link", name="On to Measure").click()
    page.get_by_role("combobox", name="The screen is earthed").select_option("one")
    line = page.get_by_role("textbox", name="Make-up", exact=True)
    line.fill("4 pairs of half a square")
    for name, value in READINGS.items():
        page.get_by_role("textbox", name=name, exact=True).fill(value)
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_text("write it like 12 × 1 mm²").first).to_be_visible()
    joint.station("Measure")
    line.fill("4 x 2 x 0,5, each pair foil and drain, braid over all")
    drawn = page.get_by_role("img", name=re.compile(r"^Make-up: 4 pairs of 0.5 mm²"))
    drawn.click(position={"x": 60, "y": 60})
    one = page.get_by_role("combobox", name="One core is otherwise").first
    expect(one).not_to_have_value("")
    one.select_option("4b")
    page.get_by_role("textbox", name="Core 4b is called").fill("violet")
    page.get_by_role("button", name="Call it so").click()
    expect(line).to_have_value(re.compile(r"braid over all, core 4b is violet$"))
    joint.saved()

    joint.station("Choose")
    expect(page.get_by_text("85 % are asked for").first).to_be_visible()
    page.get_by_role("listitem").filter(has_text="Two layers of donor braid").get_by_role(
        "button", name="Use this way"
    ).click()
    joint.saved()
    expect(page.get_by_text("Read as 4 pairs of 0.5 mm², each pair with foil and drain")).to_be_visible()
    page.get_by_role("button", name="Plan it like this").click()
    page.get_by_role("link", name="Work step by step").click()

    joint.work("Lay the screen back on both sides")
    sent(page)
    context.set_offline(True)
    joint.work("Splice unit 3")
    context.set_offline(False)
    sent(page)
    joint.work("Draw the donor braid over")
    expect(page.get_by_text("Over both folds, then drawn down tight")).to_be_visible()
    joint.work("Release the joint")
    sent(page)
    found = work_of(page, site, "S-1")["progress"]
    assert (found["flags"], found["state"]) == ([], "to release")
    context.close()

    desk = browser.new_context(service_workers="block")
    other = entered(desk, site, "eskil", "/joints/S-1/sign")
    other.get_by_role("button", name=re.compile("I have read the record")).click()
    expect(other.get_by_role("heading", name="Released", exact=True)).to_be_visible()
    record = json.loads(other.request.get(f"{site.address}/api/v1/joints/S-1/record.json").body())
    assert record["draft"]["asked"]["second"] is True
    assert record["draft"]["asked"]["make_up"].endswith("core 4b is violet")
    parts = {p["title"] for p in record["plans"][-1]["plan"]["parts"]} if "plans" in record else set()
    assert not parts or {"sealed splice", "donor braid", "outer sleeve"} <= parts
    desk.close()


def test_a_split_pair_is_named_on_the_phone_without_connection(browser: Browser, site):
    """SK-123 rung through: one core of a pair joined to another pair's, typed, named, and put right."""
    context = phone(browser)
    page = entered(context, site, "runa", "/joints/SK-123/build")
    joint = JointPage(page)
    joint.work("Ring every core through to its own terminal")
    sent(page)
    context.set_offline(True)
    page.get_by_text("may be left out").click()
    joint.type_reading("core 1b rings at", "3")
    joint.type_reading("core 2a rings at", "2")
    expect(page.get_by_text("Unit 1 is split (core 1b is joined to core 2a)")).to_be_visible()
    expect(page.locator("main article button.btn-huge")).to_be_disabled()
    joint.type_reading("core 1b rings at", "1")
    joint.type_reading("core 1a rings at", "2")
    joint.type_reading("core 2a rings at", "3")
    expect(page.get_by_text("its polarity is wrong")).to_be_visible()
    for core, own in (("1a", "1"), ("1b", "2")):
        joint.type_reading(f"core {core} rings at", own)
    JointPage(page).confirm()
    expect(page.get_by_role("heading", name="Ring every core through to its own terminal")).to_have_count(0)
    context.set_offline(False)
    sent(page)
    assert work_of(page, site, "SK-123")["progress"]["flags"] == []
    context.close()


def test_cores_get_their_tags_after_one_walk_without_connection(browser: Browser, site):
    """SK-125, numbers here and colours there: two cores with the same numbers are named, then each gets its
    tag."""
    context = phone(browser)
    page = entered(context, site, "runa", "/joints/SK-125/build")
    joint = JointPage(page)
    joint.work("Back here: ring out what hangs together now")
    sent(page)
    step = next(s for s in work_of(page, site, "SK-125")["plan"]["steps"] if s["id"] == "identify.back")
    context.set_offline(True)
    group = next(
        g["group"] for g in step["gates"] if len({b for a, b in step["pairs"] if str(a) == g["group"]}) > 1
    )
    one, two = [g["name"] for g in step["gates"] if g["group"] == group][:2]
    first, second = sorted({b for a, b in step["pairs"] if str(a) == group})[:2]
    joint.type_reading(f"{one} hangs in a group of", str(first))
    joint.type_reading(f"{two} hangs in a group of", str(first))
    expect(page.get_by_text(f"{one} and {two} both have the numbers {group} and {first}")).to_be_visible()
    expect(page.get_by_role("region", name="Tags")).to_have_count(0)
    joint.type_reading(f"{two} hangs in a group of", str(second))
    tags = page.get_by_role("region", name="Tags").get_by_role("listitem")
    expect(tags).to_have_text([f"{one}: {group} · {first}", f"{two}: {group} · {second}"])
    context.close()


def test_a_way_of_before_the_last_answer_cannot_be_taken(sign_in, page: Page, site):
    """It would write the older answers back; it waits until it is worked out anew."""
    sign_in(page, "runa", "/joints/SK-125/choose")
    joint = JointPage(page)
    way = page.get_by_role("listitem").filter(has_text="Cores joined by soldered hooks")
    use = way.get_by_role("button", name="Use this way")
    expect(use).to_be_enabled()
    joint.station("Measure")
    held: list[Route] = []
    page.route("**/look", lambda asked: held.append(asked))
    page.get_by_role("textbox", name="Straight, clear sheath on side A").fill("1111")
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_role("button", name="Working it out …")).to_be_disabled()
    expect(use).to_be_disabled()
    for asked in held:
        asked.continue_()
    page.unroute("**/look")
    use.click()
    joint.saved()
    draft = page.request.get(f"{site.address}/api/v1/joints/SK-125").json()["draft"]
    assert (draft["asked"]["splice"], draft["asked"]["free_a_mm"]) == ("hook", 1111)
