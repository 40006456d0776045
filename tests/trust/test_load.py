"""What one person can make the server do: work is bounded and counted, few heavy questions run at once, a
large import and large pictures keep nobody else waiting."""

import copy
import hashlib
import io
import json
import threading
import time
import tracemalloc
from pathlib import Path

import pytest
from PIL import Image

from tests.lan import plainly_served
from tests.web.test_joint import event, filled
from tinknot.core import effort
from tinknot.core.errors import TooMuchWork
from tinknot.core.families.file import file_of
from tinknot.core.planning.solve import look_at, plan_joint
from tinknot.core.rulebook import RuleBook
from tinknot.services import heavy, photos, stock_csv
from tinknot.store import database
from tinknot.web.app import Answering

EXAMPLES = Path(__file__).parents[2] / "examples"


def multiplied(name: str, times: int) -> dict:
    """An example whose stock is multiplied, every part a little other."""
    body = json.loads((EXAMPLES / f"{name}.json").read_text())
    for kind, parts in body["stock"].items():
        more = []
        for n in range(times):
            for part in parts:
                other = copy.deepcopy(part) | {"id": f"{part['id']}-{n}"}
                for figure in ("expanded_id_mm", "recovered_id_mm"):
                    if figure in other:
                        other[figure] = round(other[figure] * (1 + 0.0007 * n), 4)
                more.append(other)
        body["stock"][kind] = more
    return body


@pytest.mark.parametrize("name", ["armoured-in-line", "cast-in-tube", "five-core-staggered"])
def test_a_file_with_sixty_times_the_stock_ends_in_words(runa, monkeypatch, name: str):
    monkeypatch.setattr(heavy, "MOST_WORK", 60_000)  # of 2,000,000: the same bound, reached sooner
    refused = runa("POST", "/calc/plan", multiplied(name, 60), 422)
    assert refused["type"] == "tinknot:too-much-work"
    assert "more work than one request may take" in refused["detail"]


def test_the_same_question_takes_the_same_work_and_every_example_far_less_than_the_bound():
    def cost(name: str) -> int:
        joint = file_of(json.dumps(multiplied(name, 1)))
        with effort.at_most(heavy.MOST_WORK):
            plan_joint(joint)
            return heavy.MOST_WORK - effort._meter.get().left

    first = cost("cast-in-tube")  # what is kept for the next time costs once
    assert 0 < cost("cast-in-tube") == cost("cast-in-tube") <= first < heavy.MOST_WORK / 20
    with pytest.raises(TooMuchWork), effort.at_most(10):
        plan_joint(file_of(json.dumps(multiplied("four-core-buried", 1))))


def test_other_ways_end_where_the_work_does_and_say_so():
    joint = file_of(json.dumps(multiplied("armoured-in-line", 1)))
    whole = look_at(joint, RuleBook.of())
    assert not whole.unfinished
    with effort.at_most(heavy.MOST_WORK):
        look_at(joint, RuleBook.of())
        cost = heavy.MOST_WORK - effort._meter.get().left
    with effort.at_most(cost * 7 // 10):
        found = look_at(joint, RuleBook.of())
    assert found.unfinished
    assert found.plan == whole.plan
    assert len(found.ways) < len(whole.ways)


def test_two_questions_of_one_person_run_and_the_third_is_told_to_wait():
    go, running = threading.Event(), threading.Barrier(3)

    def works() -> None:
        with heavy.turn("#1"):
            running.wait(5)
            go.wait(5)

    threads = [threading.Thread(target=works) for _ in range(2)]
    for t in threads:
        t.start()
    running.wait(5)
    with pytest.raises(heavy.TooMany, match="Two of your questions"), heavy.turn("#1"):
        pass
    waited = []

    def waits() -> None:
        with heavy.turn("#2"):
            waited.append(True)

    other = threading.Thread(target=waits)
    other.start()
    time.sleep(0.05)
    assert not waited
    go.set()
    for t in (*threads, other):
        t.join(5)
    assert waited == [True]
    with heavy.turn("#1"):
        pass  # what is over counts no more


def test_a_large_import_holds_the_lock_for_a_moment_only(stocked, monkeypatch):
    """What takes long is worked out beside the stock; others write meanwhile."""
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    rows = [line.split(",") for line in stock_csv.export_csv().splitlines()]
    header = rows[0]
    found = dict(zip(header, next(r for r in rows if r[0] == "sleeve"), strict=True))
    lines = [",".join(header)]
    for n in range(1500):
        row = found | {"id": f"bulk-{n}", "lot": f"l{n}", "kind": "sleeve"}
        lines.append(",".join(row[h] for h in header))
    text = "\n".join(lines)
    held: list[float] = []
    real = database._transaction

    from contextlib import contextmanager

    @contextmanager
    def timed(lock: str):
        with real(lock):
            begun = time.thread_time()
            yield
            if lock == "IMMEDIATE":
                held.append(time.thread_time() - begun)

    monkeypatch.setattr(database, "_transaction", timed)
    begun = time.thread_time()
    report = stocked("POST", "/stock-import", {"text": text, "apply": True}, Idempotency_Key="k1")
    whole = time.thread_time() - begun
    assert report["applied"], report["errors"][:2]
    assert max(held) < whole / 3, "most of it is worked out without the lock"
    again = stocked("POST", "/stock-import", {"text": text, "apply": True}, Idempotency_Key="k1")
    assert again == report
    assert stocked("GET", "/stock/bulk-7")["lots"][0]["quantity"] > 0
    held.clear()
    stocked("POST", "/stock-import", {"text": text + "\n", "apply": False})
    assert held == [], "a preview takes no lock"
    assert stocked("POST", "/joints/J-1/events", event("isolated"), 201)["counts"]


def test_an_import_meets_somebody_elses_count(stocked, monkeypatch):
    """What was worked out on a stock that is no more is worked out again, not written over it."""
    from tinknot.services.shelf import Shelf

    text = stock_csv.export_csv()
    header = text.splitlines()[0]
    changed = text.replace(",6000,", ",5000,")
    assert header in changed
    real, times = Shelf.written, []

    def counted_meanwhile(shelf: Shelf) -> bool:
        if not times:
            times.append(1)
            lot = stocked("GET", "/stock/outer-28")["lots"][0]["id"]
            stocked("POST", f"/stock/outer-28/lots/{lot}/count", {"quantity": 4321})
        return real(shelf)

    monkeypatch.setattr(Shelf, "written", counted_meanwhile)
    report = stocked("POST", "/stock-import", {"text": changed, "apply": True})
    assert report["applied"]
    told = next(c for c in report["changes"] if c["part_id"] == "outer-28")
    assert "4.321 m" in " ".join(told["details"]) or "4321" in " ".join(told["details"])


def picture(width: int, height: int, kind: str = "JPEG") -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (width, height), (90, 110, 130)).save(out, kind)
    return out.getvalue()


def test_large_pictures_are_looked_at_one_at_a_time_and_smaller(app):
    data = picture(7000, 7000)
    tracemalloc.start()
    failures: list[BaseException] = []

    def keep(n: int) -> None:
        try:
            body = data + bytes([n])
            photos.keep(body, hashlib.sha256(body).hexdigest())
        except BaseException as fault:  # noqa: BLE001 - told by the test
            failures.append(fault)

    threads = [threading.Thread(target=keep, args=(n,)) for n in range(6)]
    for t in threads:
        t.start()
    for t in threads:
        t.join(60)
    _, peak = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert failures == []
    assert peak < 200e6
    (kept,) = photos.folder().iterdir()
    with Image.open(kept) as found:
        assert max(found.size) <= photos.MOST_SIDE


@pytest.mark.parametrize(
    ("size", "kind", "taken"), [((8064, 6048), "JPEG", True), ((7000, 7000), "PNG", False)]
)
def test_a_phones_picture_passes_and_a_plain_one_of_its_size_does_not(runa, size, kind: str, taken: bool):
    data = picture(*size, kind)
    answer = runa.client.put(
        f"/api/v1/photos/{hashlib.sha256(data).hexdigest()}",
        data=data,
        content_type=f"image/{kind.lower()}",
        headers={"X-CSRF-Token": runa.csrf},
    )
    assert answer.status_code == (204 if taken else 422), answer.text


def test_a_hundred_half_open_requests_keep_nobody_out(tmp_path):
    """Of the plain server and of the pairing page."""
    import socket
    import urllib.request

    with plainly_served(tmp_path / "d") as port:
        silent = [socket.create_connection(("127.0.0.1", port), 5) for _ in range(120)]
        for s in silent:
            s.sendall(b"GET / HTTP/1.1\r\nHost: localhost\r\n")
        begun = time.monotonic()
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/healthz", timeout=10) as answer:
            assert answer.status == 200
        assert time.monotonic() - begun < 10
        for s in silent:
            s.close()


def test_a_sign_of_life_tells_what_is_still_under_way(app):
    """Also what goes wrong ends, and nothing is counted twice."""
    inside, go = threading.Event(), threading.Event()

    def slow(environ, start):
        inside.set()
        assert go.wait(10)
        raise RuntimeError("spoilt on purpose")

    def asked():
        with pytest.raises(RuntimeError):
            answering({}, None)

    answering = Answering(slow)
    one = threading.Thread(target=asked)
    one.start()
    assert inside.wait(10)
    assert answering.now == 1
    go.set()
    one.join()
    assert answering.now == 0
    assert app.test_client().get("/healthz").get_json() == {"status": "ok", "answering": 1}
