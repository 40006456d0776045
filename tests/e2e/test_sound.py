"""Released means sound, in the real browser: a jointer's own fault stops the verifier's release; what a phone
down the shaft saw before the release stands on the released joint when it comes up; a proof is read, or its
absence is signed."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import entered, phone, sent, work_of
from tests.e2e.test_hands import walk, wrong

pytestmark = pytest.mark.e2e
READY = "SK-106"


def test_the_jointers_own_fault_stops_the_verifiers_release(browser, sign_in, page: Page, site):
    shaft = phone(browser)
    hands = entered(shaft, site, "runa", f"/joints/{READY}/build")
    wrong(hands, "the sleeve is split at A")
    sent(hands)
    sign_in(page, "eskil", f"/joints/{READY}/sign")
    told = page.get_by_role("region", name="What stands against the release")
    expect(told).to_contain_text("the sleeve is split at A")
    expect(told).to_contain_text("Runa")
    release = page.get_by_role("button", name=re.compile("I have read the record"))
    expect(release).to_be_disabled()
    hands.get_by_role("button", name=re.compile("take it back")).tap()
    sent(hands)
    page.reload()
    expect(told).to_have_count(0)
    expect(release).to_be_enabled()
    shaft.close()


def test_a_late_fault_from_a_phone_that_was_offline_stands_on_the_released_joint(
    browser, sign_in, page: Page, site
):
    shaft = phone(browser)
    hands = entered(shaft, site, "runa", f"/joints/{READY}/build")
    expect(hands.get_by_role("button", name="Something is wrong")).to_be_visible()
    shaft.set_offline(True)
    wrong(hands, "water runs out of end B")
    sign_in(page, "eskil", f"/joints/{READY}/sign")
    page.get_by_role("button", name=re.compile("I have read the record")).click()
    expect(page.get_by_role("heading", name="Released", exact=True)).to_be_visible()
    shaft.set_offline(False)
    sent(hands)
    found = work_of(hands, site, READY)["progress"]
    assert found["state"].startswith("released")
    assert found["flags"][0]["late"]
    page.reload()
    late = page.get_by_role("region", name="Told after the release")
    expect(late).to_contain_text("before the release, sent after it: a fault was seen")
    expect(late).to_contain_text("water runs out of end B")
    page.goto(site.address)
    board = page.get_by_role("region", name="Told after the release")
    expect(board).to_contain_text("water runs out of end B")
    board.get_by_role("link").click()
    page.get_by_role("button", name="Seen, leave it").click()
    expect(late).to_have_count(0)
    page.goto(site.address)
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    expect(board).to_have_count(0)
    shaft.close()


def test_a_proof_that_cannot_be_read_is_signed_for(browser, site):
    shaft = phone(browser)
    page = entered(shaft, site, "runa", "/")
    ref = next(
        j["ref"]
        for j in page.request.get(f"{site.address}/api/v1/joints?limit=100").json()["items"]
        if j["state"] == "planned"
        and any(g["excuse"] for s in work_of(page, site, j["ref"])["plan"]["steps"] for g in s["gates"])
    )
    walk(page, site, ref, lambda s: any(g["excuse"] for g in s["gates"]))
    page.goto(f"{site.address}/joints/{ref}/build")
    confirm = page.locator("main article button.btn-huge")
    expect(confirm).to_be_disabled()
    for asked in (
        page.get_by_text(re.compile("^Still to read")).inner_text().split(": ")[1].rstrip(".").split(", ")
    ):
        if asked != "braid to pipe":
            JointPage(page).type_reading(asked, "900")
    page.get_by_role("button", name="braid to pipe: cannot be read, because …").tap()
    page.get_by_role("button", name="… its far end cannot be reached").tap()
    expect(page.get_by_text("It stands so in the record, with your name.")).to_be_visible()
    title = page.get_by_role("heading", level=1).first.inner_text()
    confirm.tap()
    expect(page.get_by_role("heading", level=1).first).not_to_have_text(title)
    sent(page)
    notes = work_of(page, site, ref)["judgement"]["notes"]
    assert any("its far end cannot be reached" in n for n in notes)
    shaft.close()
