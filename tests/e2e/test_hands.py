"""Nobody misled: one person builds on a phone, without a connection in the middle, a second one verifies;
instruments only where they are meant; a device that loses its connection at the first visit."""

import json
import re
from datetime import UTC, datetime, timedelta
from io import BytesIO
from uuid import uuid4

import pytest
from playwright.sync_api import Browser, Page, expect
from pypdf import PdfReader

from tests.e2e.pages.joint import JointPage
from tests.e2e.test_at_the_joint import entered, phone, sent, work_of
from tinknot.services.instruments import KINDS

pytestmark = pytest.mark.e2e


def instruments(browser: Browser, site, present: bool) -> None:
    """An admin adds every stand-in, or takes all away."""
    admin = browser.new_context()
    csrf = site.sign_in(admin, "ylva")
    for kind in KINDS:
        done = admin.request.put(
            f"{site.address}/api/v1/instruments/{kind}",
            data={"present": present},
            headers={"X-CSRF-Token": csrf},
        )
        assert done.ok, done.text()
    admin.close()


def planned_again(page: Page, site, ref: str) -> None:
    """By the rules as they are now."""
    session = page.request.get(f"{site.address}/api/v1/session").json()
    version = page.request.get(f"{site.address}/api/v1/joints/{ref}").json()["version"]
    headers = {"X-CSRF-Token": session["csrf"], "If-Match": f'"{version}"'}
    made = page.request.post(f"{site.address}/api/v1/joints/{ref}/plans", headers=headers)
    assert made.ok, made.text()


def wrong(page: Page, words: str) -> None:
    """Something is wrong with the last of the batch."""
    page.get_by_role("button", name="Something is wrong").tap()
    which = page.get_by_role("group", name="Which one is it?")
    if which.count():
        which.get_by_role("button").last.tap()
    page.get_by_label("Something else, in your words").fill(words)
    page.get_by_role("button", name="Note it and stop here").tap()
    expect(page.get_by_role("region", name=f"Stopped: {words}")).to_be_visible()


def test_one_builds_on_a_phone_a_second_verifies(browser, site):
    instruments(browser, site, False)
    context = phone(browser, "allow")
    page = entered(context, site, "runa", "/")
    site.set_rule(page, "surface.flash_min", 0)
    planned_again(page, site, "SK-107")
    site.built(page, "SK-107", "Take both sheaths off and roughen them")
    page.goto(f"{site.address}/joints/SK-107/build")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    joint = JointPage(page, touch=True)
    joint.work("Cut the cores on A")
    sent(page)

    context.set_offline(True)
    page.reload()
    expect(page.get_by_role("heading", name="Cut the cores on A")).to_be_visible()
    wrong(page, "core 4 is too short")
    expect(page.get_by_text("Noted here, not sent yet")).to_be_visible()
    page.reload()  # in the middle of it
    page.get_by_role("button", name="It was reported by mistake: take it back").tap()
    expect(page.get_by_role("heading", name="Cut the cores on A")).to_be_visible()
    joint.work("Cut the cores on B")
    wrong(page, "a burr on core 1")
    page.get_by_role("button", name="It is mended, go on").tap()
    expect(page.get_by_role("heading", name="Cut the cores on B")).to_be_visible()
    joint.work("Everything is threaded on")
    context.set_offline(False)
    sent(page)
    found = work_of(page, site, "SK-107")["progress"]
    assert found["flags"] == []
    assert [m["words"] for m in found["mended"]] == [
        "Taken back by whoever reported it",
        "Put right on the spot, nothing lost",
    ]

    joint.work("Release the joint")
    sent(page)
    joint.station("Sign")
    expect(page.get_by_text("Releasing needs a verifier")).to_be_visible()
    assert not any(s["simulated"] for s in work_of(page, site, "SK-107")["progress"]["steps"])
    context.close()

    desk = browser.new_context(service_workers="block")
    other = entered(desk, site, "eskil", "/joints/SK-107/sign")
    expect(other.get_by_text("No photograph was taken")).to_be_visible()
    other.get_by_role("button", name=re.compile("I have read the record")).click()
    expect(other.get_by_role("heading", name="Released", exact=True)).to_be_visible()
    expect(other.get_by_text("signed at release")).to_be_visible()
    expect(other.get_by_text("it names the day")).to_be_visible()
    record = json.loads(other.request.get(f"{site.address}/api/v1/joints/SK-107/record.json").body())
    kinds = [(e["kind"], e["text"]) for e in record["events"]]
    assert ("fault", "core 4 is too short") in kinds
    pdf = other.request.get(f"{site.address}/api/v1/joints/SK-107/record.pdf").body()
    text = " ".join(p.extract_text() for p in PdfReader(BytesIO(pdf)).pages).replace("\n", " ")
    assert "core 4 is too short. Taken back" in text
    assert "(simulated)" not in text
    other.goto(f"{site.address}/joints/SK-107/measure")
    expect(other.get_by_text("nothing of it can be changed")).to_be_visible()
    expect(other.get_by_role("textbox", name="Sheath of end A", exact=True)).to_be_disabled()
    desk.close()


def test_the_signal_is_lost_at_the_first_visit(browser, site):
    context = phone(browser, "allow")
    page = context.new_page()
    page.goto(f"{site.address}/joints/SK-104/build")
    page.get_by_label("Sign-in name").fill("runa")
    page.get_by_label("Password").fill("skarn-demo-26")
    page.get_by_role("button", name="Sign in").tap()
    expect(page.get_by_role("heading", name="Crimp the cores")).to_be_visible()
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    context.set_offline(True)
    page.reload()
    expect(page.get_by_role("heading", name="Crimp the cores")).to_be_visible()
    page.get_by_role("button", name="Crimped: both").tap()
    expect(page.get_by_role("heading", name="Look at every connector")).to_be_visible()
    page.goto(f"{site.address}/")
    expect(page.get_by_role("link", name=re.compile("^SK-104"))).to_have_count(
        0
    )  # never seen here, so not kept
    expect(page.get_by_role("alert")).to_contain_text("No connection")
    page.goto(f"{site.address}/joints/SK-104/cut")
    expect(page.get_by_role("heading", level=1).first).to_be_visible()
    context.set_offline(False)
    page.goto(f"{site.address}/joints/SK-104/build")
    sent(page)
    context.close()


def test_instruments_only_where_they_are_meant(browser, site, sign_in, page: Page):
    sign_in(page, "runa", "/joints/SK-104/build")
    page.get_by_role("button", name="Crimped: both").click()
    expect(page.get_by_role("heading", name="Look at every connector")).to_be_visible()
    every = page.get_by_role("button", name="Read all 4 from the simulated low-resistance meter")
    expect(every).to_be_visible()
    joint = JointPage(page)
    joint.type_reading("connector 1", "9999")
    page.get_by_role("button", name="Read all 3 from the simulated low-resistance meter").click()
    expect(
        page.get_by_text("Simulated: the simulated low-resistance meter made this figure up.")
    ).to_have_count(3)
    expect(page.get_by_role("button", name="connector 1: 9999 µΩ")).to_be_visible()  # what was typed stays
    expect(page.get_by_text("connector 1 does not pass")).to_be_visible()
    instruments(browser, site, False)
    page.goto(f"{site.address}/joints/SK-104/build")
    expect(page.get_by_role("heading", name="Look at every connector")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("from the simulated"))).to_have_count(0)
    sign_in(page, "ylva", "/tools")
    page.get_by_role("button", name="Add a simulated insulation tester").click()
    expect(page.get_by_role("button", name="Take away insulation tester")).to_be_visible()


def test_two_tabs_and_two_tablets_at_one_fault(browser, site):
    """Both see it, one takes it back, the other learns of it; a third who did not report it cannot."""
    first, second = phone(browser), phone(browser)
    one, two = (entered(c, site, "runa", "/joints/SK-104/build") for c in (first, second))
    tab = first.new_page()
    tab.goto(f"{site.address}/joints/SK-104/build")
    wrong(one, "the barrel is bent")
    sent(one)
    for page in (two, tab):
        page.reload()
        expect(page.get_by_role("region", name="Stopped: the barrel is bent")).to_be_visible()
    third = phone(browser)
    admin = entered(third, site, "ylva", "/joints/SK-104/build")
    expect(admin.get_by_role("region", name="Stopped: the barrel is bent")).to_be_visible()
    expect(admin.get_by_role("button", name=re.compile("take it back"))).to_have_count(0)
    two.get_by_role("button", name=re.compile("take it back")).tap()
    expect(two.get_by_role("heading", name="Crimp the cores")).to_be_visible()
    sent(two)
    tab.get_by_role("button", name=re.compile("take it back")).tap()  # this tab does not know yet
    expect(tab.get_by_text("This fault is not open any more").first).to_be_visible()
    expect(tab.get_by_role("heading", name="Crimp the cores")).to_be_visible()
    for context in (first, second, third):
        context.close()


def walk(page: Page, site, ref: str, stop) -> None:
    """The steps of a joint up to the one where `stop` says so, confirmed over HTTP, each at a time that
    can be true."""
    address = f"{site.address}/api/v1/joints/{ref}"
    session = page.request.get(f"{site.address}/api/v1/session").json()
    found = page.request.get(f"{address}/work").json()
    now = datetime.now(UTC)
    at = now - timedelta(hours=2)
    tools = {t["kind"]: t["name"] for t in found["tools"] if t["good"]}
    for number, step in enumerate(found["plan"]["steps"]):
        if stop(step):
            return
        at += timedelta(minutes=1.2 + max((t["least_min"] or 0 for t in step["timers"]), default=0))
        values = {
            g["id"]: (
                g["most"] / 2
                if g["most"] is not None
                else g["least"] * 200
                if g["least"] is not None
                else g["target"]
            )
            for g in step["gates"]
            if g["required"]
        }
        body = {
            "id": str(uuid4()),
            "kind": "done",
            "step": step["id"],
            "revision": found["number"],
            "values": values,
            "sequence": number,
            "tools": {k: tools[k] for k in step["tools"]},
            "by": session["mark"],
            "client_time": at.isoformat(),
            "sent_time": datetime.now(UTC).isoformat(),
        }
        taken = page.request.post(f"{address}/events", data=body, headers={"X-CSRF-Token": session["csrf"]})
        assert taken.ok, taken.text()
        assert taken.json()["counts"], taken.json()["why"]


def test_three_torques_are_three_fields(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/")
    walk(page, site, "SK-117", lambda s: sum(g["unit"] == "N·m" for g in s["gates"]) > 1)
    page.goto(f"{site.address}/joints/SK-117/build")
    expect(page.get_by_text("1.4 N·m ± 0.2 N·m")).to_have_count(3)
    expect(page.get_by_role("button", name="3 readings to go")).to_be_disabled()
    joint = JointPage(page)
    joint.type_reading("terminal bus wire 1", "1,4")
    joint.type_reading("terminal bus wire 2", "1,5")
    expect(page.get_by_text("Still to read: terminal braid.")).to_be_visible()
    page.reload()  # nothing typed is lost
    expect(page.get_by_role("button", name="terminal bus wire 2: 1.5 N·m")).to_be_visible()
    joint.type_reading("terminal braid", "2,4")
    expect(
        page.get_by_role("region", name=re.compile("terminal braid: outside the tolerance"))
    ).to_be_visible()
    page.get_by_role("button", name="Do it again").tap()
    joint.type_reading("terminal braid", "1,4")
    title = page.get_by_role("heading", level=1).first.inner_text()
    JointPage(page, touch=True).confirm()
    expect(page.get_by_role("heading", level=1).first).not_to_have_text(title)
    sent(page)
    assert work_of(page, site, "SK-117")["progress"]["flags"] == []
    context.close()


def test_insulation_far_under_its_trend_warns_where_it_is_read(browser, site):
    context = phone(browser)
    page = entered(context, site, "runa", "/")
    walk(page, site, "SK-107", lambda s: s["id"] == "test.after.insulation")
    page.goto(f"{site.address}/joints/SK-107/build")
    expect(page.get_by_text("before closing 200 MΩ").first).to_be_visible()
    joint = JointPage(page)
    joint.type_reading("core 1 to the rest", "60")
    expect(page.get_by_text("Far under what it was")).to_have_count(0)
    joint.type_reading("core 2 to the rest", "9")
    expect(page.get_by_role("alert")).to_contain_text("Far under what it was before closing (200 MΩ)")
    page.get_by_role("button", name=re.compile("^core 3 to the rest: type it")).tap()
    pad = page.get_by_role("dialog")
    for key in ("9", "9", "9", "MΩ", "over", "Take it"):
        pad.get_by_role("button", name=key, exact=True).tap()
    expect(page.get_by_role("button", name="core 3 to the rest: over 999 MΩ")).to_be_visible()
    context.close()
