"""A phone that an earlier build filled is given the new one in a moment of signal, and opened down the
shaft."""

import json
import lzma
import uuid
from datetime import UTC, datetime
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.e2e.conftest import Server
from tests.e2e.test_at_the_joint import phone, sent
from tests.fixtures.databases import FORMAT_2, HERE, lay_out

# what the build of 657ddfe kept of a joint half built: work and session beside what was typed, answers in
# the cache of its worker, events not sent in its own database
FILL = """async ({ session, work, joint, board, event }) => {
  localStorage.setItem('session', JSON.stringify(session))
  localStorage.setItem(`work:${work.ref}`, JSON.stringify(work))
  localStorage.setItem('sequence', '7')
  const reads = await caches.open('reads')
  const put = (path, body) => reads.put(path, new Response(JSON.stringify(body)))
  await put(`/api/v1/joints/${work.ref}`, joint)
  await put(`/api/v1/joints/${work.ref}/work`, work)
  await put('/api/v1/board', board)
  await new Promise((done, fail) => {
    const asked = indexedDB.open('tinknot', 2)
    asked.onerror = () => fail(asked.error)
    asked.onupgradeneeded = () => {
      const keys = { keyPath: 'key', autoIncrement: true }
      for (const box of ['outbox', 'refused'])
        asked.result.createObjectStore(box, keys).createIndex('owner', 'owner')
    }
    asked.onsuccess = () => {
      const change = asked.result.transaction('outbox', 'readwrite')
      change.objectStore('outbox').add({ owner: session.username, actor: session.name, ref: work.ref, event })
      change.oncomplete = () => { asked.result.close(); done() }
    }
  })
}"""
WORKER = """() => navigator.serviceWorker.register('/sw.js', { scope: '/' })
  .then(() => navigator.serviceWorker.ready).then(() => true)"""


@pytest.fixture
def earlier_site(tmp_path: Path):
    """A server of this version on the data folder that the earlier one wrote."""
    lay_out(FORMAT_2, tmp_path / "data")
    server = Server(tmp_path / "data")
    yield server
    server.kill()


def test_a_phone_that_an_earlier_build_filled_opens_offline_and_sends(browser, earlier_site):
    held = json.loads(lzma.decompress((HERE / f"{FORMAT_2}-phone.json.xz").read_bytes()))
    first, second = held["work"]["progress"]["next"]
    event = {
        "id": str(uuid.uuid4()),
        "kind": "done",
        "step": first,
        "revision": held["work"]["number"],
        "device": "oldphone",
        "sequence": 7,
        "client_time": datetime.now(UTC).isoformat(),
    }
    context = phone(browser, "allow")
    earlier_site.sign_in(context, "runa")
    page = context.new_page()
    page.goto(f"{earlier_site.address}/knot.svg")  # the new build comes in, but is not opened yet
    assert page.evaluate(WORKER)
    page.evaluate(FILL, held | {"event": event})
    context.set_offline(True)

    page.goto(earlier_site.address)
    expect(page.get_by_text("19 joints")).to_be_visible()
    page.get_by_role("link", name="SK-108").first.tap()
    expect(page.get_by_role("heading", name="Look at the sleeve on core 5")).to_be_visible()
    expect(page.get_by_text("1 not sent yet")).to_be_visible()
    page.get_by_role("button", name="Done", exact=True).tap()
    expect(page.get_by_text("2 not sent yet")).to_be_visible()
    page.reload()
    expect(page.get_by_text("2 not sent yet")).to_be_visible()
    context.set_offline(False)
    sent(page)

    found = page.request.get(f"{earlier_site.address}/api/v1/joints/SK-108/work").json()
    done = {s["id"] for s in found["progress"]["steps"] if s["state"] == "done"}
    assert {first, second} <= done
    flags = found["progress"]["flags"]  # taken, and told to be of a build that did not say whose it is
    assert flags
    assert all(f["counts"] and "earlier version" in f["why"] for f in flags)
    assert [e["id"] for e in found["events"]].count(event["id"]) == 1
    assert page.evaluate("() => caches.has('reads')") is False
    context.close()
