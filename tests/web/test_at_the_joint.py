"""At the joint, over HTTP: clocks, PINs, pictures, tools, instruments, mending, two devices, the record."""

import base64
import hashlib
import json
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime, timedelta

import pytest

from tests.clock import CLOCK
from tests.web.test_joint import BARREL, event, filled, readings, stocked, work_to
from tinknot.devices.camera import made_up_picture
from tinknot.services import pins, settings
from tinknot.store.database import close

__all__ = ["BARREL", "stocked"]


@pytest.fixture
def planned(stocked):
    """J-1 planned, nothing done."""
    filled(stocked)
    stocked("POST", "/joints/J-1/plans", status=201, If_Match='"2"')
    return stocked


def send(api, body, status: int = 201):
    return api("POST", "/joints/J-1/events", body, status)


def test_a_clock_that_is_wrong_by_an_hour(planned):
    real = CLOCK.on(minutes=10)
    wrong = real + timedelta(hours=1)
    taken = send(
        planned,
        event("isolated", minutes=0)
        | {"client_time": (wrong - timedelta(minutes=5)).isoformat(), "sent_time": wrong.isoformat()},
    )
    at = datetime.fromisoformat(taken["event"]["at"])
    assert abs(at - (real - timedelta(minutes=5))) < timedelta(seconds=5)
    assert taken["event"]["client_time"].startswith(
        (wrong - timedelta(minutes=5)).isoformat()[:16]
    )  # kept as sent


def test_a_second_person_signs_with_a_pin(planned, sign_in):
    admin, eskil = sign_in("ylva"), sign_in("eskil")
    admin("PUT", "/rules/holds.second_person", {"value": ["parked", "released"], "reason": "site practice"})
    planned("POST", "/joints/J-1/plans", status=201, If_Match='"3"')
    assert eskil("PUT", "/session/pin", {"pin": "1234"}, 422)["errors"][0]["path"] == "/pin"
    eskil("PUT", "/session/pin", {"pin": "12"}, 422)
    assert eskil("PUT", "/session/pin", {"pin": "40719263"})["has_pin"]
    work = planned("GET", "/joints/J-1/work")
    assert work["verifiers"] == {"eskil": "Eskil"}
    assert base64.b64decode(work["pin_key"])
    for step in work["plan"]["steps"]:
        if step["id"] == "parked":
            break
        send(planned, event(step["id"], values=readings(step), revision=2))
    assert "second person" in send(planned, event("parked", revision=2))["why"]
    wrong = send(
        planned, event("parked", revision=2, signature={"username": "eskil", "sealed_pin": pins.seal("9999")})
    )
    assert not wrong["counts"]
    assert "was wrong; the hold is open again" in wrong["why"]
    right = send(
        planned,
        event("parked", revision=2, signature={"username": "eskil", "sealed_pin": pins.seal("40719263")}),
    )
    assert right["counts"], right["why"]
    assert right["event"]["actor"] == "Eskil"
    assert right["event"]["facts"].items() >= {"signed": "pin", "device-of": "Runa"}.items()
    assert "40719263" not in json.dumps(planned("GET", "/joints/J-1/record.json").decode())
    nobody = send(planned, event("join.1", revision=2, signature={"username": "runa", "sealed_pin": "x"}))
    assert "no PIN" in nobody["why"]


def test_a_pin_is_locked_after_five_wrong_tries(planned, sign_in):
    sign_in("eskil")("PUT", "/session/pin", {"pin": "40719263"})
    for _ in range(5):
        send(
            planned,
            event("isolated", minutes=0, signature={"username": "eskil", "sealed_pin": pins.seal("0000")}),
        )
    locked = send(
        planned,
        event("isolated", minutes=0, signature={"username": "eskil", "sealed_pin": pins.seal("40719263")}),
    )
    assert "locked" in locked["why"]


def test_many_wrong_pins_at_once_are_no_more_tries_than_one_after_the_other(app, sign_in, monkeypatch):
    sign_in("eskil")("PUT", "/session/pin", {"pin": "40719263"})
    looked: list[str] = []

    def held(hashed: str, pin: str) -> bool:
        looked.append(pin)
        return False

    monkeypatch.setattr(pins, "secret_holds", held)
    given = [pins.Signature(username="eskil", sealed_pin=pins.seal(f"{n:08}")) for n in range(10)]

    def attempt(signature: pins.Signature) -> str:
        why = pins.signer(signature)[1]
        close()
        return why

    with ThreadPoolExecutor(10) as pool:
        said = list(pool.map(attempt, given))
    assert len(looked) == pins.MOST_MISSES
    assert sum("locked" in why for why in said) == 10 - pins.MOST_MISSES


def test_a_right_pin_forgets_the_misses_before_it(planned, sign_in):
    sign_in("eskil")("PUT", "/session/pin", {"pin": "40719263"})
    for _ in range(3):
        for pin in ("0000", "0001", "0002", "0003"):
            assert pins.signer(pins.Signature(username="eskil", sealed_pin=pins.seal(pin)))[0] is None
        who, why = pins.signer(pins.Signature(username="eskil", sealed_pin=pins.seal("40719263")))
        assert who, why


def test_the_second_person_at_the_release_cannot_be_dropped(sign_in):
    body = {"value": ["parked"], "reason": "quicker"}
    answer = sign_in("ylva")("PUT", "/rules/holds.second_person", body, 422)
    assert answer["errors"][0]["path"] == "/value"
    assert "released" in answer["errors"][0]["message"]


def test_a_release_is_never_signed_by_pin(planned, sign_in):
    sign_in("eskil")("PUT", "/session/pin", {"pin": "40719263"})
    work_to(planned, "label")
    body = event("released", signature={"username": "eskil", "sealed_pin": pins.seal("40719263")})
    assert "own sign-in" in send(planned, body, 403)["detail"]


def test_pictures_are_kept_by_their_hash_and_found_when_altered(planned, app):
    data = made_up_picture("Pit 4", "x")
    digest = hashlib.sha256(data).hexdigest()
    client, headers = planned.client, {"X-CSRF-Token": planned.csrf}
    assert send(planned, event("isolated", "photo", photo=digest), 422)["errors"][0]["path"] == "/photo"

    def put(name: str, body: bytes, kind: str = "image/jpeg"):
        return client.put(f"/api/v1/photos/{name}", data=body, content_type=kind, headers=headers)

    assert put(digest, data).status_code == put(digest, data).status_code == 204
    assert put(digest, data + b"x").status_code == 422
    assert put(digest, b"no picture").status_code == 422
    assert put("../../etc", data).status_code in (404, 405)
    assert put("zz", data).status_code == 422
    assert put(digest, data, "text/plain").status_code == 415
    assert client.get(f"/api/v1/photos/{digest}").data == data
    planned("GET", f"/photos/{'0' * 64}", status=404)
    taken = send(planned, event("isolated", "photo", photo=digest))
    assert taken["progress"]["photos"] == {"isolated": [digest]}
    assert planned("GET", "/joints/J-1/verdict")["intact"]
    path = next(app.config["DATABASE"].parent.glob(f"photos/{digest}"))
    path.write_bytes(data[:-1] + bytes([data[-1] ^ 1]))
    assert "picture" in planned("GET", "/joints/J-1/verdict")["words"]
    path.unlink()
    assert "missing" in planned("GET", "/joints/J-1/verdict")["words"]


def test_tools_out_of_calibration_do_not_count(planned):
    soon, past = (CLOCK.moment.date() + timedelta(days=9)).isoformat(), "2025-01-01"
    good = planned("POST", "/tools", {"name": "CT-2", "kind": "crimp-tool", "due": soon}, 201)
    old = planned("POST", "/tools", {"name": "CT-1", "kind": "crimp-tool", "due": past}, 201)
    assert (good["good"], good["days_left"], old["good"]) == (True, 9, False)
    planned("POST", "/tools", {"name": "CT-1", "kind": "crimp-tool"}, 409)
    planned("POST", "/tools", {"name": "X", "kind": "hammer"}, 422)
    work_to(planned, "parked")
    assert "due for calibration" in send(planned, event("join.1", tools={"crimp-tool": "CT-1"}))["why"]
    assert send(planned, event("join.1", tools={"crimp-tool": "CT-2"}))["counts"]
    assert (
        send(planned, event("join.2", tools={"crimp-tool": "CT-9"}), 422)["errors"][0]["path"]
        == "/tools/crimp-tool"
    )
    planned("PATCH", f"/tools/{old['id']}", {"due": soon})
    planned("PATCH", f"/tools/{good['id']}", {"retired": True})
    assert [t["name"] for t in planned("GET", "/tools")["items"]] == ["CT-1"]
    planned("PATCH", "/tools/99", {"retired": True}, 404)


def test_the_lot_that_was_taken_is_the_one_used_up(planned):
    planned("POST", "/stock/outer-28/lots", {"name": "other", "quantity": 5000, "use_by": "2030-01-01"}, 201)
    for step in planned("GET", "/joints/J-1/work")["plan"]["steps"]:
        if step["id"] == "park.outer-sleeve":
            break
        send(planned, event(step["id"], values=readings(step)))
    assert send(planned, event("park.outer-sleeve", lot="nowhere"), 422)["errors"][0]["path"] == "/lot"
    assert send(planned, event("park.outer-sleeve", lot="other"))["counts"]
    lots = {x["name"]: x["quantity"] for x in planned("GET", "/stock/outer-28")["lots"]}
    assert lots["lot-outer-28"] == 6000
    assert lots["other"] < 5000
    planned("GET", "/stock/none", status=404)


def test_instruments_read_the_joint_and_may_misbehave(planned, sign_in):
    def read(step: str, gate: str, status: int = 200, turn: int = 1):
        return planned("POST", "/joints/J-1/reading", {"step": step, "gate": gate, "turn": turn}, status)

    first = read("test.before.insulation", "core-1")
    assert first == read("test.before.insulation", "core-1")
    assert first != read("test.before.insulation", "core-1", turn=2)
    assert first["unit"] == "MΩ"
    assert first["value"] > 100
    sealed = read("test.after.insulation", "core-1")["value"]
    assert 0.7 < sealed / first["value"] < 1.1
    assert 0 < read("test.before.continuity", "core-1")["value"] < 0.5
    assert 40 < read("cut.core.A.1", "distance")["value"] < 52
    assert abs(read("cool.outer-sleeve", "temperature")["value"] - 12) < 2  # nothing was heated yet
    read("parked", "none", 404)
    admin = sign_in("ylva")
    admin("PUT", "/instruments/misbehaviour", {"kind": "insulation-tester", "fault": "battery"}, 204)
    assert "type the reading" in read("test.before.insulation", "core-1", 422)["detail"]
    admin("PUT", "/instruments/misbehaviour", {"kind": "insulation-tester"}, 204)
    admin("PUT", "/instruments/misbehaviour", {"kind": "printer", "fault": "timeout"}, 204)
    assert "print again" in planned("POST", "/joints/J-1/label", status=422)["detail"]
    admin("PUT", "/instruments/misbehaviour", {"kind": "printer"}, 204)
    assert planned("POST", "/joints/J-1/label", status=201)["name"] == "J-1-label-1.pdf"
    assert planned("POST", "/joints/J-1/label", status=201)["name"] == "J-1-label-2.pdf"
    admin("PUT", "/instruments/misbehaviour", {"kind": "hammer", "fault": "timeout"}, 422)
    admin("PUT", "/instruments/misbehaviour", {"kind": "tape", "fault": "melted"}, 422)


def test_a_hot_joint_reads_hot(planned):
    work_to(planned, "inspect.outer-sleeve")
    now = CLOCK.on(hours=9)
    send(planned, event("cool.outer-sleeve", "note"))
    read = planned("POST", "/joints/J-1/reading", {"step": "cool.outer-sleeve", "gate": "temperature"})
    seal = planned("GET", "/joints/J-1/work")["progress"]["steps"]
    since = next(s["at"] for s in seal if s["id"] == "seal.outer-sleeve")
    assert datetime.fromisoformat(since) < now
    assert read["value"] < 40  # shrunk months ago by the test's clock


def test_mending_over_http_uses_stock_again_and_replans(planned):
    work_to(planned, "join.4")
    fault = send(planned, event("join.4", "fault", choice="over-crimped"))
    assert fault["progress"]["state"] == "stopped"
    ways = planned("GET", f"/joints/J-1/faults/{fault['event']['id']}/mends")["items"]
    assert [w["kind"] for w in ways] == ["remake"]
    assert len(ways[0]["again"]) == 4
    planned("GET", "/joints/J-1/faults/none/mends", status=404)
    before = planned("GET", "/stock/b6")["on_hand"]
    done = send(planned, event("join.4", "remedy", about=fault["event"]["id"], choice="remake"))
    assert done["progress"]["attempt"] == 1
    assert planned("GET", "/stock/b6")["on_hand"] == before  # the four that were crimped stay used up
    work_to_again(planned, "join.4")
    assert planned("GET", "/stock/b6")["on_hand"] == before - 4


def work_to_again(api, last: str):
    """Goes on from where the joint stands."""
    found = api("GET", "/joints/J-1/work")
    done = {s["id"] for s in found["progress"]["steps"] if s["state"] == "done"}
    for step in found["plan"]["steps"]:
        if step["id"] not in done:
            taken = send(api, event(step["id"], values=readings(step)))
            assert taken["counts"], taken["why"]
        if step["id"] == last:
            return


def test_a_core_cut_too_short_is_planned_again(planned):
    work_to(planned, "cut.sheath.B")
    send(planned, event("cut.core.A.1", "reading", values={"distance": 40}))
    found = planned("POST", "/joints/J-1/plans", status=201, If_Match='"3"')
    assert any(d.startswith("Cut sheath on A") for d in found["differences"])
    states = {s["id"]: s["state"] for s in planned("GET", "/joints/J-1/work")["progress"]["steps"]}
    assert (states["cut.sheath.A"], states["cut.sheath.B"]) == ("again", "done")


def test_a_joint_with_a_deviation_is_released_with_a_limit_only(planned, sign_in):
    work_to(planned, "before-closing")
    send(planned, event("surface.sheath.A"))
    send(planned, event("surface.sheath.B", values={"roughened": 30}, text="the clamp begins there"))
    work_to_again(planned, "label")
    assert planned("GET", "/joints/J-1/work")["judgement"]["verdict"] == "limit"
    eskil = sign_in("eskil")
    assert eskil("POST", "/joints/J-1/events", event("released"), 422)["errors"][0]["path"] == "/text"
    done = eskil("POST", "/joints/J-1/events", event("released", text="no pull, no flex"), 201)
    assert done["progress"]["state"] == "released with a limit"
    assert planned("GET", "/joints/J-1")["state"] == "released with a limit"
    assert planned("GET", "/joints/J-1/verdict")["signed"]


def test_a_permit_that_ran_out_stops_the_heat(planned):
    card = planned("GET", "/joints/J-1")["draft"]["card"]
    planned("PATCH", "/joints/J-1", {"card": card | {"permit_until": "2026-01-01T10:00:00Z"}}, If_Match='"3"')
    work_to(planned, "surface.core-sleeve-4")
    assert "permit has run out" in send(planned, event("seal.core-sleeve-1"))["why"]


def test_paper(planned):
    for name in ("card.pdf", "label.pdf", "record.pdf"):
        assert planned("GET", f"/joints/J-1/{name}").startswith(b"%PDF")
    lot = planned("GET", "/stock/outer-28")["lots"][0]
    assert planned("GET", f"/stock/outer-28/lots/{lot['id']}/label.pdf").startswith(b"%PDF")
    planned("GET", "/stock/outer-28/lots/999/label.pdf", status=404)
    planned("POST", "/joints", {"ref": "J-2"}, 201)
    planned("GET", "/joints/J-2/card.pdf", status=404)


def test_the_pin_key_is_the_sites_own_and_stays(app):
    assert pins.public_key() == pins.public_key()
    assert settings.get("pin-key") is None
    (file,) = (app.config["DATABASE"].parent / "keys").glob("pin-key-*.pem")
    assert "PRIVATE" in file.read_text()
    assert file.stat().st_mode & 0o077 == 0
