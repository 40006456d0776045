"""Heat trace in the browser: a leaflet nobody knew is typed, checked and built with; kits, loops, no
signal."""

import re
from copy import deepcopy
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.conftest import nightly
from tests.e2e.pages.joint import JointPage
from tests.e2e.pages.sheet import SheetPage
from tests.e2e.test_at_the_joint import entered, phone, sent, work_of
from tests.leaflets import LEAFLETS
from tests.trace import read

pytestmark = [pytest.mark.e2e, nightly]


def cut(layer: str, mm: float, inch: str | None = None) -> dict[str, Any]:
    return {"kind": "cut", "layer": layer, "length": {"mm": mm, "inch": inch}}


def tube(name: str, opens: float, closes: float, long: float) -> dict[str, Any]:
    sizes = {"opens": {"mm": opens}, "closes": {"mm": closes}, "length": {"mm": long}}
    return {"name": name, **sizes, "wall_mm": 1.2}


def measured(page: Page) -> None:
    """A flat cable typed, in what the trade has at hand: comma, point, inches."""
    figures = (
        ("Outer jacket, width", "12,4", "5.8"),
        ("Inner jacket, width", "10.2", "4"),
        ("Matrix, width", "8.6", "2.6"),
    )
    for layer, width, thickness in figures:
        row = page.get_by_role("textbox", name=layer)
        row.fill(width)
        of = layer.split(",")[0].lower()
        page.get_by_role("textbox", name=f"thickness of the {of}").fill(thickness)
    page.get_by_role("textbox", name="Bus wires").fill("1.25")
    page.get_by_role("textbox", name="each across").fill("0.055 in")
    page.get_by_role("textbox", name="Loop at A").fill("350")
    page.get_by_role("textbox", name="drawn with radius").fill("80")


def checked(browser, site, sheet: str) -> None:
    """A second person holds it against the leaflet."""
    second = browser.new_context(viewport={"width": 1280, "height": 800}, service_workers="block")
    other = entered(second, site, "eskil", f"/sheets/{sheet}")
    other.get_by_role("button", name="Checked against the leaflet").click()
    expect(other.get_by_text("● checked, revision 1")).to_be_visible()
    second.close()


def planned(page: Page, site, sheet: str, remakes: str = "") -> None:
    """A connection measured, planned by this sheet and worked to its release."""
    page.goto(site.address + "/")
    page.get_by_role("button", name="New joint").click()
    page.get_by_label("What it is").fill("Gutter heater, end")
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("heading", name="What and where")).to_be_visible()
    joint = JointPage(page)
    page.get_by_role("combobox", name="Kind of joint").select_option("heat-trace")
    page.get_by_role("textbox", name="Where").fill("Upper station, gutter")
    page.get_by_role("textbox", name="Rated voltage").fill("230")
    page.get_by_role("textbox", name="Temperature there").fill("4")
    joint.saved()
    joint.station("Measure")
    measured(page)
    joint.saved()
    joint.station("Choose")
    row = page.get_by_role("listitem").filter(has_text=sheet)
    zone = page.get_by_role("listitem").filter(has_text="Zone cable set Z8")
    expect(zone).to_contain_text("Does not serve: it serves zone cable, this is self-regulating")
    row.get_by_role("button", name="Take it").click()
    joint.saved()
    if remakes:
        expect(page.get_by_role("region", name="The cable's arithmetic")).to_contain_text(remakes)
    page.get_by_role("button", name="Plan it like this").click()
    expect(page.get_by_role("heading", name="Cut", exact=True)).to_be_visible()
    joint.station("Build")
    joint.work("Sealed and proved")
    found = work_of(page, site, joint.ref)
    assert not found["progress"]["faults"]
    assert found["plan"]["sheet"] == f"{sheet}, revision 1"
    joint.work("Release it")


def test_a_leaflet_nobody_knew_is_typed_checked_and_built_with(sign_in, page: Page, browser, site):
    site.set_rule(page, "surface.flash_min", 0)
    site.set_rule(page, "trace.pinch_s", 1)
    sign_in(page, "runa", "/sheets")
    page.get_by_role("textbox", name="Name on the box").fill("Brattfoss end 9")
    page.get_by_role("combobox", name="What it makes").select_option(label="end seal")
    page.get_by_role("button", name="Type the leaflet").click()
    expect(page.get_by_role("heading", name="Does not add up yet")).to_be_visible()
    sheet = SheetPage(page)
    sheet.serves(["self-regulating"], {0: "11", 1: "13", 2: "5", 3: "6.2", 4: "1", 5: "1.5", 6: "300"})
    sheet.part("shrink tube with adhesive", tube("inner tube", 15, 4.4, 66))
    sheet.part("shrink tube with adhesive", tube("outer tube", 20, 6, 120))
    sheet.part("tape", {"name": "glass tape"})
    outer = sheet.row(cut("outer-jacket", 46, '2 1/2"'))
    sheet.row({"kind": "braid-fold", "part": "C"})
    inner = sheet.row(cut("inner-jacket", 52))
    sheet.row({"kind": "strip-core", "length": {"mm": 18}})
    sheet.row(cut("bus-1", 7))
    doubts = page.get_by_role("region", name="What does not add up")
    expect(doubts).to_contain_text('46 mm and 2 1/2" are not the same')
    expect(doubts).to_contain_text("6 mm past the outer-jacket cut")
    outer.get_by_role("textbox", name=re.compile("length, inch$")).fill('1 13/16"')
    inner.get_by_role("textbox", name=re.compile("length, mm$")).fill("23")
    expect(
        page.get_by_role("img", name=re.compile("End A.*outer jacket 46 mm, inner jacket 23 mm"))
    ).to_be_visible()
    pinched = {"kind": "tube", "pinched": True}
    sheet.row(pinched | {"part": "A", "reach": {"mm": 18}, "datum": "inner-jacket-cut"})
    sheet.row(pinched | {"part": "B", "reach": {"mm": 26}})
    expect(doubts).to_contain_text("one bus wire is cut shorter, each taped alone")
    sheet.row({"kind": "bus-stagger", "part": "C"})
    for place in (8, 7):  # before both tubes
        page.get_by_role("button", name=f"row {place} up").click()
    sheet.adds_up()
    expect(page.get_by_role("button", name="Checked against the leaflet")).to_have_count(0)
    page.reload()
    sheet.adds_up()  # nothing of it was lost

    checked(browser, site, "brattfoss-end-9")
    planned(page, site, "Brattfoss end 9", remakes="3 remakes left")  # (350 − 150) / (46 + 10)


def test_a_loop_too_tight_for_the_day_is_caught_and_mended_by_one_touch(sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-117/measure")
    joint = JointPage(page)
    page.get_by_role("textbox", name="drawn with radius").fill("35")
    joint.saved()
    joint.station("Choose")
    expect(page.get_by_text("at -4 °C the cable bends to 50 mm at the tightest").first).to_be_visible()
    page.get_by_role("listitem").filter(has_text="Lay the loop with 50 mm").get_by_role(
        "button", name="Use this way"
    ).click()
    joint.saved()
    expect(page.get_by_text("the cable bends to 50 mm at the tightest")).to_have_count(0)
    joint.station("Measure")
    expect(page.get_by_role("textbox", name="drawn with radius")).to_have_value("50")


def test_a_splice_goes_on_without_signal_to_its_pinch_and_tests(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/joints/SK-116/build")
    site.set_rule(page, "surface.flash_min", 0)
    joint = JointPage(page)
    expect(page.get_by_role("heading", name="Crimp the wires, each for itself")).to_be_visible()
    context.set_offline(True)
    joint.work("Continuity through it")
    expect(page.get_by_text(re.compile("not sent yet")).first).to_be_visible()
    context.set_offline(False)
    sent(page)
    done = {s["id"] for s in work_of(page, site, "SK-116")["progress"]["steps"] if s["state"] == "done"}
    assert {"join.bus-1", "join.bus-2", "connectors"} <= done
    context.close()


def test_a_spiral_of_more_than_the_whole_run_is_asked_about(sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-117/measure")
    page.get_by_role("textbox", name="Spiral, more cable").fill("1,1")
    page.get_by_role("button", name="It is 0.1").click()
    JointPage(page).saved()
    expect(page.get_by_role("textbox", name="Spiral, more cable")).to_have_value("0.1")
    expect(page.get_by_text("would be 110 % more cable")).to_have_count(0)


def test_a_checked_sheet_is_revised_as_a_draft_and_the_old_one_stays_in_use(sign_in, page: Page, site):
    sign_in(page, "runa", "/sheets/trace-end-p1")
    page.get_by_role("textbox", name="Leaflet or approval").fill("leaflet of the new box")
    expect(page.get_by_text("○ draft, revision 2")).to_be_visible()
    expect(page.get_by_text("A second person checks it.")).to_be_visible()
    page.goto(site.address + "/joints/SK-115/choose")
    expect(page.get_by_text("end seal, revision 2, draft")).to_be_visible()
    page.goto(site.address + "/sheets")
    expect(page.get_by_role("link", name=re.compile("End seal P1.*draft"))).to_be_visible()


def test_two_people_on_one_sheet_lose_nothing(sign_in, page: Page, browser, site):
    sign_in(page, "runa", "/sheets/trace-end-m2")
    second = browser.new_context(viewport={"width": 1280, "height": 800}, service_workers="block")
    other = entered(second, site, "eskil", "/sheets/trace-end-m2")
    expect(other.get_by_role("textbox", name="Leaflet or approval")).to_be_visible()
    page.get_by_role("textbox", name="Leaflet or approval").fill("as Runa reads it")
    expect(page.get_by_text("○ draft, revision 2")).to_be_visible()
    other.get_by_role("textbox", name="Leaflet or approval").fill("as Eskil reads it")
    expect(other.get_by_text("was changed by somebody else")).to_be_visible()
    other.reload()  # what was typed is still there, and still overwrites nobody silently
    expect(other.get_by_role("textbox", name="Leaflet or approval")).to_have_value("as Eskil reads it")
    other.get_by_role("button", name="Keep what I typed").click()
    expect(other.get_by_text("was changed by somebody else")).to_have_count(0)
    expect(other.get_by_text("saving …")).to_have_count(0)
    page.reload()
    expect(page.get_by_role("textbox", name="Leaflet or approval")).to_have_value("as Eskil reads it")
    expect(
        other.get_by_role("button", name="Checked against the leaflet")
    ).to_be_disabled()  # he wrote of it too
    second.close()


def test_the_board_shows_the_loops_and_leads_to_them(sign_in, page: Page):
    sign_in(page, "runa", "/")
    loops = page.get_by_role("region", name="Loops")
    expect(loops.get_by_role("listitem").first).to_contain_text("no remake left")
    loops.get_by_role("link").first.click()
    expect(page.get_by_role("region", name="The cable's arithmetic")).to_be_visible()


@pytest.mark.parametrize(
    ("name", "narrow"), [("own-power-tubes-and-feed-through", False), ("own-end-pinched", True)]
)
def test_a_leaflet_is_typed_row_by_row_and_built_to_the_record(
    page: Page, browser, site, name: str, narrow: bool
):
    """By six touches a row at most, one of them on a phone; what is kept is the leaflet, and nothing else."""
    given = deepcopy(LEAFLETS[name])
    for x in given["leaflet"]["layers"]:
        x |= {"hold_s": 1} if "hold_s" in x else {}
    site.set_rule(page, "surface.flash_min", 0)
    size = {"width": 390, "height": 844} if narrow else {"width": 1280, "height": 800}
    context = browser.new_context(viewport=size, has_touch=narrow, service_workers="block")
    own = entered(context, site, "runa", "/sheets")
    own.get_by_role("textbox", name="Name on the box").fill(given["name"])
    made = own.get_by_role("combobox", name="What it makes")
    made.select_option(given["recipe"])
    own.get_by_role("button", name="Type the leaflet").click()
    sheet = SheetPage(own)
    sheet.leaflet(given)
    sheet.adds_up()
    assert own.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth") <= 0
    kept = read(own.request.get(f"{site.address}/api/v1/sheets/{name}").json()["sheet"]).leaflet
    typed = read(given).leaflet
    assert kept is not None
    assert typed is not None
    assert [x.model_copy(update={"id": ""}) for x in kept.layers] == [
        x.model_copy(update={"id": "", "datum": x.datum or y.datum})
        for x, y in zip(typed.layers, kept.layers, strict=True)
    ]
    assert kept.parts == typed.parts
    checked(browser, site, name)
    planned(own, site, given["name"])
    context.close()
